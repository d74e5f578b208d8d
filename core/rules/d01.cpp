// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/say.hpp"

namespace kp::rules {

void d01(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    const auto& project = in.project.part;
    const auto& board = in.board.part;
    if (board.empty() || project == board) return;  // without a board there is nothing to agree with
    const auto p = decode_ordering_code(in.part.ordering, project), b = decode_ordering_code(in.part.ordering, board);
    const auto field = [](const DecodedCode& code, const char* name) {
        for (const auto& f : code.fields)
            if (f.name == name) return f.code;
        return std::string();
    };
    const bool hard = !p.complete || !b.complete || field(p, "size") != field(b, "size") ||
                      field(p, "package") != field(b, "package");
    auto f = finding(row,
                     "The project is for " + project + ", the board " + in.board.name + " carries " + board +
                         (hard ? "." : "; only speed grade or range differ."),
                     {{"part", project}, {"board", in.board.name}});
    f.severity = hard ? Severity::stop : Severity::caution;
    f.fixes.push_back(
        {"take " + board + ", the part on the board", Edit{"take " + board, {FieldChange{"part", project, board}}}});
    out.push_back(std::move(f));
}

}  // namespace kp::rules
