// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/say.hpp"

namespace kp::rules {

/// A forwarded clock and the terminals that its data sheet times against it belong together.
void l14(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    for (const auto& part : in.board.parts) {
        for (const auto& clock : part.terminals) {
            const auto clock_at = in.board.at_terminal(part.ref + "." + clock.name);
            const auto* clock_pin = clock_at && clock_at.net ? in.part.pin(clock_at.net->pin) : nullptr;
            if (!clock_pin || clock_pin->region.empty() || in.at_pin(clock_pin->name).empty()) continue;
            std::vector<FindingObject> far;
            std::vector<std::string> names;
            for (const auto& t : part.terminals) {
                if (t.clock != clock.name) continue;
                const auto at = in.board.at_terminal(part.ref + "." + t.name);
                const auto* pin = at && at.net ? in.part.pin(at.net->pin) : nullptr;
                if (!pin || pin->region.empty() || pin->region == clock_pin->region) continue;
                for (const auto& port : in.at_pin(pin->name)) far.push_back({"port", port}), names.push_back(port);
            }
            if (far.empty()) continue;
            const auto& owner = in.at_pin(clock_pin->name)[0];
            auto f = finding(row, list_names(names) + (names.size() == 1 ? " is" : " are") + " timed against " + owner + ", whose pin " + clock_pin->name + " lies in clock region " + clock_pin->region + "; " + (names.size() == 1 ? "its pin lies" : "their pins lie") + " in another, and the clock of a region does not reach there.", {{"terminal", part.ref + "." + clock.name}});
            f.objects.insert(f.objects.end(), far.begin(), far.end());
            f.numbers = {{"ports outside", "", static_cast<double>(far.size())}};
            out.push_back(std::move(f));
        }
    }
}

}  // namespace kp::rules
