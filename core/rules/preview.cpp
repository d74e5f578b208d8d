// SPDX-License-Identifier: GPL-3.0-or-later
// Findings are compared as multisets by their identity.
#include "core/rules/preview.hpp"
#include "core/base/said.hpp"

#include <map>

namespace kp {

FindingsChange compare_findings(const std::vector<Finding>& before, const std::vector<Finding>& after) {
    std::map<std::string, int> left;
    for (const auto& f : before)
        if (!f.waived) ++left[f.identity()];
    FindingsChange out;
    for (const auto& f : after)
        if (!f.waived) {
            if (auto& n = left[f.identity()]; n > 0)
                --n;
            else
                out.come.push_back(f);
        }
    for (const auto& f : before)
        if (auto& n = left[f.identity()]; !f.waived && n > 0) {
            --n;
            out.gone.push_back(f);
        }
    return out;
}

std::string codes_of(const std::vector<Finding>& findings) {
    std::map<std::string, int> counts;
    for (const auto& f : findings) ++counts[f.rule];
    std::string out;
    for (const auto& [code, n] : counts) out += (out.empty() ? "" : ", ") + code + (n > 1 ? said(" ({})", n) : "");
    return out;
}

}  // namespace kp
