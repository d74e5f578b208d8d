// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pegs/place.hpp"
#include "core/rules/rules.hpp"

namespace kp::rules {

void e01(const RuleInput& in, const RuleRow& row, const std::string& port, std::vector<Finding>& out) {
    const auto found = in.project.pegs.find(port);
    if (found == in.project.pegs.end() || !in.port(port)) return;
    const auto& peg = found->second;
    const auto at = in.project.attributes.find(port);
    const std::string standard = at == in.project.attributes.end() ? "" : at->second.standard;
    if (!standard.empty() && in.standards.find(standard)) return;
    auto f = finding(row, standard.empty() ? "Nobody chose an I/O standard for " + port + "." : "The I/O standard '" + standard + "' of " + port + " is not in the table of standards.", {{"port", port}, {"pin", peg.pin}});
    const auto on_board = in.board.at_pin(peg.pin);
    const auto* pin = in.part.pin(peg.pin);
    const auto rail = pin ? in.board.rail(pin->bank) : std::nullopt;
    if (on_board && !on_board.terminal->standard.empty()) {
        f.fixes.push_back({"take " + on_board.terminal->standard + " from the board", standard_edit(in.project, port, on_board.terminal->standard, "from the board")});
    } else if (rail) {
        for (const auto& s : in.standards.rows)
            if (s.supply == *rail && f.fixes.empty()) f.fixes.push_back({"choose " + s.name + ", which fits the bank's rail", standard_edit(in.project, port, s.name)});
    }
    out.push_back(std::move(f));
}

}  // namespace kp::rules
