// SPDX-License-Identifier: GPL-3.0-or-later
// A stand-in for a build: every adrift port gets the first pin that the rules do not refuse, in the order of the
// design. A real placer is not pretended.
#include "core/fabric/stand_in_pins.hpp"

#include "core/base/said.hpp"

#include <map>
#include <set>

namespace kp {

std::vector<PinReportRow> stand_in_pins(
    const std::vector<Port>& ports, const Part& part, const Project& project,
    const std::function<bool(const std::string& port, const std::string& pin)>& legal) {
    std::set<std::string> used;
    std::map<std::string, size_t> near;  // bus → position of its last pin, where the next bit is looked for first
    for (const auto& port : ports)
        if (const auto peg = project.pegs.find(port.name); peg != project.pegs.end()) {
            used.insert(peg->second.pin);
            if (const auto at = part.by_name.find(peg->second.pin); at != part.by_name.end())
                near[port.bus] = at->second;
        }
    std::vector<PinReportRow> out;
    for (const auto& port : ports) {
        const auto a = project.attributes.find(port.name);
        PinReportRow row{port.name, "", a == project.attributes.end() ? "" : a->second.standard, 0};
        if (const auto peg = project.pegs.find(port.name); peg != project.pegs.end()) {
            row.pin = peg->second.pin;
        } else {
            const size_t start = near.contains(port.bus) ? near[port.bus] : 0;
            for (size_t i = 0; i < part.pins.size() && row.pin.empty(); ++i) {
                const auto& pin = part.pins[(start + i) % part.pins.size()];
                if (pin.usable() && !used.contains(pin.name) && legal(port.name, pin.name)) {
                    row.pin = pin.name;
                    near[port.bus] = (start + i) % part.pins.size();
                }
            }
            used.insert(row.pin);
        }
        if (!row.pin.empty()) out.push_back(std::move(row));
    }
    return out;
}

}  // namespace kp
