// SPDX-License-Identifier: GPL-3.0-or-later
// The order of a bus on numbered terminals, as core/planning/bus_order.hpp tells it. A bus over several parts has no
// order and is left alone, and so is one of two bits.
#include "core/planning/bus_order.hpp"
#include "core/planning/ways.hpp"
#include "core/rules/say.hpp"
#include "core/base/said.hpp"

#include <algorithm>

namespace kp::rules {

/// The first bit of a bus answers for all.
void l09(const RuleInput& in, const RuleRow& row, const PlannedPort& seat, std::vector<Finding>& out) {
    const auto& all = in.bus_of(seat);
    if (all.size() < 3 || all.front() != &seat) return;
    const auto order = order_of(all);
    const auto& bits = order.bits;
    const bool reversed = order.kind == BusOrder::Kind::reversed;
    if (bits.size() < 3 || (!reversed && order.kind != BusOrder::Kind::mixed)) return;
    const auto& bus = seat.port->bus;
    const auto& where = order.place;
    auto f = finding(row,
                     "The bits of " + bus + " lie on " + where + std::to_string(bits.front().number) + " … " +
                         where.substr(where.find('.') + 1) + std::to_string(bits.back().number) +
                         (reversed ? " in reversed order" : " out of order") + ": bit " +
                         std::to_string(order.odd.index) + " is on number " + std::to_string(order.odd.number) + ".",
                     {{Subject::bus, bus}});
    for (const auto& bit : bits) f.objects.push_back({Subject::port, bit.port});
    if (in.with_fixes) {
        std::vector<std::string> ports;
        std::vector<std::pair<long long, std::string>> pins;
        for (const auto& bit : bits) {
            ports.push_back(bit.port);
            pins.emplace_back(bit.number, bit.pin);
        }
        std::sort(pins.begin(), pins.end());
        std::vector<std::string> ordered;
        for (const auto& [number, pin] : pins) ordered.push_back(pin);
        f.fixes.push_back({said("put the bits of {} in order", bus),
                           peg_many(in.project, in.board, ports, ordered, "by a fix").edit});
    }
    out.push_back(std::move(f));
}

}  // namespace kp::rules
