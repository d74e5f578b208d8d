// SPDX-License-Identifier: GPL-3.0-or-later
// Two ports on a pin. The finding is at the pin, with all its ports, so that it is said once.
#include "core/rules/say.hpp"
#include "core/base/said.hpp"

namespace kp::rules {

void l02(const RuleInput& in, const RuleRow& row, const std::string& pin, std::vector<Finding>& out) {
    const auto& ports = in.at_pin(pin);
    if (ports.size() < 2) return;
    auto f =
        finding(row, said("Pin {} holds {}; a pin holds one port.", pin, list_names(ports)), {{Subject::pin, pin}});
    for (const auto& port : ports) f.objects.push_back({Subject::port, port});
    f.numbers.push_back({"ports on the pin", "", static_cast<double>(ports.size())});
    if (in.with_fixes) {
        // The one that belongs here by name stays; the others come first with their better places.
        std::vector<Fix> rightful;
        for (const auto& port : ports) {
            const auto* seat = in.seat(port);
            const auto place = seat ? better_pin(in, *seat) : std::nullopt;
            if (!place || place->pin == pin) continue;
            const auto ideal = better_pin(in, *seat, ports);
            (ideal && ideal->pin == pin ? rightful : f.fixes).push_back(move_fix(in, port, *place));
        }
        f.fixes.insert(f.fixes.end(), rightful.begin(), rightful.end());
    }
    out.push_back(std::move(f));
}

}  // namespace kp::rules
