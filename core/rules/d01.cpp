// SPDX-License-Identifier: GPL-3.0-or-later
// Part, board and design agree on what stands on the table. Ordering codes are compared field by field: size and
// package decide where pins are, the other fields only how fast and in what range. When they name the same package,
// the board may still be wrong about single pins and banks; each kind is told once, with all its members.
#include "core/base/text.hpp"
#include "core/rules/say.hpp"
#include "core/base/said.hpp"

namespace kp::rules {

namespace {

std::string code_of(const DecodedCode& code, const char* name) {
    for (const auto& f : code.fields)
        if (f.name == name) return f.code;
    return {};
}

/// What the codes disagree on; false when board and part name different pins, so that nothing else is worth saying.
bool compare_codes(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    const auto& project = in.project.part;
    const auto& board = in.board.part;
    if (board.empty() || project == board) return true;  // without a board there is nothing to agree with
    const auto p = decode_ordering_code(in.part.ordering, project), b = decode_ordering_code(in.part.ordering, board);
    const bool hard = !p.complete || !b.complete || code_of(p, "size") != code_of(b, "size") ||
                      code_of(p, "package") != code_of(b, "package");
    auto f = finding(row,
                     said("The project is for {}, the board {} carries {}{}", project, in.board.name, board,
                          (hard ? "." : "; only speed grade or range differ.")),
                     {{Subject::part, project}, {Subject::board, in.board.name}});
    f.severity = hard ? Severity::stop : Severity::caution;
    f.fixes.push_back(
        {said("take {}, the part on the board", board), Edit{"take " + board, {FieldChange{"part", project, board}}}});
    out.push_back(std::move(f));
    return !hard;
}

/// Terminals and rails of the board that lead to nothing on this part.
void find_loose_ends(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    std::vector<Subject> pins{{Subject::board, in.board.name}}, banks{{Subject::board, in.board.name}};
    std::vector<std::string> wires, rails;
    for (const auto& net : in.board.nets) {
        if (in.part.pin(net.pin)) continue;
        wires.push_back(net.terminal + " to " + net.pin);
        pins.push_back({Subject::terminal, net.terminal});
    }
    for (const auto& rail : in.board.rails) {
        if (in.part.bank(rail.bank)) continue;
        rails.push_back(rail.bank);
        banks.push_back({Subject::bank, rail.bank});
    }
    if (!wires.empty())
        out.push_back(finding(row,
                              said("The board wires {}, which {}{}", list_names(wires), in.part.name,
                                   (wires.size() == 1 ? " does not have as a pin." : " does not have as pins.")),
                              std::move(pins)));
    if (!rails.empty())
        out.push_back(finding(row,
                              said("The board feeds bank {}, which {} does not have.", list_names(rails), in.part.name),
                              std::move(banks)));
}

}  // namespace

void d01(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    if (in.part.pins.empty()) return;  // no part is chosen, or it could not be read, which is said where it is read
    if (compare_codes(in, row, out)) find_loose_ends(in, row, out);
    const int ports = static_cast<int>(in.ports.size()), pins = in.part.usable_pins();
    if (ports > pins)
        out.push_back(finding(
            row, said("The design has {}, {} has {}.", counted(ports, "port"), in.part.name, counted(pins, "user pin")),
            {{Subject::part, in.part.name}}));
}

}  // namespace kp::rules
