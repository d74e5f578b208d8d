// SPDX-License-Identifier: GPL-3.0-or-later
// What findings are known by, and the number that a user gives to a possible fix.
#include "core/model/finding.hpp"

#include "core/base/said.hpp"

#include "core/model/timing_report.hpp"

namespace kp {

Edit answered(const Fix& fix, const std::string& number) {
    Edit edit = fix.edit;
    const std::string open = number_wanted;
    for (auto& change : edit.changes)
        if (auto* text = std::get_if<TextChange>(&change))
            for (size_t at = 0; (at = text->after.find(open, at)) != std::string::npos; at += number.size())
                text->after.replace(at, open.size(), number);
    return edit;
}

std::string Finding::identity() const {
    std::string out = rule;
    for (const auto& o : objects) out += said("\n{} {}", word_of(o.kind), o.name);
    return out;
}

}  // namespace kp
