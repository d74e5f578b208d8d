// SPDX-License-Identifier: GPL-3.0-or-later
// Clock regions: a clock that comes or goes with data reaches only its region, so its ports lie in one.
#include "core/rules/say.hpp"
#include "core/base/said.hpp"

namespace kp::rules {

/// A forwarded clock and the terminals that its data sheet times against it belong together.
void l14(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    for (const auto& group : in.forwarded_clocks()) {
        const auto& clock = *group.clock;
        if (clock.region.empty() || in.at_pin(clock.name).empty()) continue;
        std::vector<Subject> far;
        std::vector<std::string> names;
        for (const auto* pin : group.data)
            if (!pin->region.empty() && pin->region != clock.region)
                for (const auto& port : in.at_pin(pin->name)) {
                    far.push_back({Subject::port, port});
                    names.push_back(port);
                }
        if (far.empty()) continue;
        const bool one = names.size() == 1;
        auto f = finding(row,
                         said("{}{} timed against {}, whose pin {} lies in clock region {}; {} in another, and the "
                              "clock of a region does not reach there.",
                              list_names(names), (one ? " is" : " are"), in.at_pin(clock.name)[0], clock.name,
                              clock.region, (one ? "its pin lies" : "their pins lie")),
                         {{Subject::terminal, group.terminal}});
        f.objects.insert(f.objects.end(), far.begin(), far.end());
        f.numbers = {{"ports outside", "", static_cast<double>(far.size())}};
        out.push_back(std::move(f));
    }
}

}  // namespace kp::rules
