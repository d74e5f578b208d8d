// SPDX-License-Identifier: GPL-3.0-or-later
// Names are looked up in sets, so that a table of a large package costs its rows.
#include "core/build_flow/pin_rows.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <set>

namespace kp::build_flow {

Status check_rows(const std::vector<PinReportRow>& rows, const std::string& file, const Netlist& netlist,
                  const Part& part, const StandardTable& standards) {
    std::vector<std::string> ports, pins;
    std::set<std::string> buses, used, told;
    for (const auto& p : netlist.ports) {
        ports.push_back(p.name);
        if (p.bus != p.name) buses.insert(p.bus);
    }
    for (const auto& p : part.pins) pins.push_back(p.name);
    const std::set<std::string> known(ports.begin(), ports.end());
    for (const auto& row : rows) {
        const auto wrong = [&](std::string why) -> Status {
            return Message{Severity::stop, Code::pins, std::move(why), file, row.line};
        };
        const auto bus = row.port.substr(0, row.port.find('['));
        if (!known.count(row.port))
            return wrong(buses.count(bus)
                             ? said("'{}' is a bus; give each of its bits a row, such as {}[0].", row.port, bus)
                             : said("The design has no port '{}'.{}", row.port, did_you_mean(row.port, ports)));
        if (!told.insert(row.port).second) return wrong(said("The port {} is there twice.", row.port));
        if (row.pin.empty()) continue;
        if (!part.pin(row.pin)) return wrong(said("The part has no pin '{}'.{}", row.pin, did_you_mean(row.pin, pins)));
        if (!used.insert(row.pin).second) return wrong(said("The pin {} is there twice.", row.pin));
        if (!row.standard.empty() && !standards.find(row.standard))
            return wrong(said("There is no I/O standard '{}'.", row.standard));
    }
    return Done{};
}

}  // namespace kp::build_flow
