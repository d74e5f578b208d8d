// SPDX-License-Identifier: GPL-3.0-or-later
// One row a lane, from the links of the project and the lane blocks of the part; costs links times lanes.
#include "core/handoff/lanes_csv.hpp"

#include "core/base/text.hpp"
#include "core/format/csv/csv.hpp"
#include "core/model/lane_link.hpp"
#include "core/model/lane_pins.hpp"

namespace kp {

std::string lanes_csv(const World& world, const Project& project) {
    if (project.links.empty()) return {};
    std::string out = csv_row({"link", "protocol", "state", "block", "lane", "tx_p", "tx_n", "rx_p", "rx_n", "gbps",
                               "clock_mhz", "board_part"});
    static constexpr const char* states[] = {"adrift", "loose", "pegged", "off"};
    for (const auto& line : project.links) {
        const auto link = link_of(line);
        const std::string state = states[static_cast<size_t>(link.state)];
        const auto rate = shortest(link.gbps), clock = shortest(link.clock_mhz);
        if (link.at.empty()) out += csv_row({link.name, link.protocol, state, "", "", "", "", "", "", rate, clock, ""});
        for (const auto& name : link.at) {
            const auto at = lane_of_part(world.part, name);
            const auto* part = at ? wired_to(world.board, *at.lane) : nullptr;
            const auto pin = [&](bool tx, int half) {
                return !at ? std::string() : tx ? at.lane->tx[half] : at.lane->rx[half];
            };
            out += csv_row({link.name, link.protocol, state, at ? at.block->name : "", name, pin(true, 0), pin(true, 1),
                            pin(false, 0), pin(false, 1), rate, clock, part ? part->ref : ""});
        }
    }
    return out;
}

}  // namespace kp
