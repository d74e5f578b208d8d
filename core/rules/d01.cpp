// SPDX-License-Identifier: GPL-3.0-or-later
// Part, board and design agree on what stands on the table. Ordering codes are compared field by field: size and
// package decide where pins are, the other fields only how fast and in what range. When they name the same package,
// the board may still be wrong about single pins and banks; each kind is told once, with all its members.
#include "core/base/text.hpp"
#include "core/rules/say.hpp"

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
                     "The project is for " + project + ", the board " + in.board.name + " carries " + board +
                         (hard ? "." : "; only speed grade or range differ."),
                     {{"part", project}, {"board", in.board.name}});
    f.severity = hard ? Severity::stop : Severity::caution;
    f.fixes.push_back(
        {"take " + board + ", the part on the board", Edit{"take " + board, {FieldChange{"part", project, board}}}});
    out.push_back(std::move(f));
    return !hard;
}

/// Terminals and rails of the board that lead to nothing on this part.
void find_loose_ends(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    std::vector<FindingObject> pins{{"board", in.board.name}}, banks{{"board", in.board.name}};
    std::vector<std::string> wires, rails;
    for (const auto& net : in.board.nets) {
        if (in.part.pin(net.pin)) continue;
        wires.push_back(net.terminal + " to " + net.pin);
        pins.push_back({"terminal", net.terminal});
    }
    for (const auto& rail : in.board.rails) {
        if (in.part.bank(rail.bank)) continue;
        rails.push_back(rail.bank);
        banks.push_back({"bank", rail.bank});
    }
    if (!wires.empty())
        out.push_back(finding(row,
                              "The board wires " + list_names(wires) + ", which " + in.part.name +
                                  (wires.size() == 1 ? " does not have as a pin." : " does not have as pins."),
                              std::move(pins)));
    if (!rails.empty())
        out.push_back(
            finding(row, "The board feeds bank " + list_names(rails) + ", which " + in.part.name + " does not have.",
                    std::move(banks)));
}

}  // namespace

void d01(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    if (in.part.pins.empty()) return;  // no part is chosen, or it could not be read, which is said where it is read
    if (compare_codes(in, row, out)) find_loose_ends(in, row, out);
    const int ports = static_cast<int>(in.ports.size()), pins = in.part.usable_pins();
    if (ports > pins)
        out.push_back(finding(row,
                              "The design has " + counted(ports, "port") + ", " + in.part.name + " has " +
                                  counted(pins, "user pin") + ".",
                              {{"part", in.part.name}}));
}

}  // namespace kp::rules
