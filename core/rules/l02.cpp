// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/text.hpp"
#include "core/rules/rules.hpp"

#include <map>

namespace kp::rules {

void l02(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    std::map<std::string, std::vector<std::string>> by_pin;
    for (const auto& [port, peg] : in.project.pegs) by_pin[peg.pin].push_back(port);
    for (const auto& [pin, ports] : by_pin) {
        if (ports.size() < 2) continue;
        auto f = finding(row, "Pin " + pin + " holds " + list_names(ports) + "; a pin holds one port.", {{"pin", pin}});
        for (const auto& port : ports) f.objects.push_back({"port", port});
        f.numbers.push_back({"ports on the pin", "", static_cast<double>(ports.size())});
        // The one that belongs here by name stays; the others come first with their better places.
        Project without = in.project;
        for (const auto& port : ports) without.pegs.erase(port);
        const RuleInput free{in.part, in.board, in.standards, in.ports, without, in.constraints, in.coverage};
        std::vector<Fix> rightful;
        for (const auto& port : ports) {
            const auto* p = port_of(in, port);
            const auto place = p ? better_place(in, *p) : std::nullopt;
            if (!place || place->pin == pin) continue;
            const auto ideal = better_place(free, *p);
            (ideal && ideal->pin == pin ? rightful : f.fixes).push_back(move_fix(in, port, *place));
        }
        f.fixes.insert(f.fixes.end(), rightful.begin(), rightful.end());
        out.push_back(std::move(f));
    }
}

}  // namespace kp::rules
