// SPDX-License-Identifier: GPL-3.0-or-later
// Names in constraints and pegs that the design does not have. The interpreter of SDC already said so in its messages;
// this turns them into findings and its "did you mean" into an edit of that one word. Linear in the messages.
#include "core/rules/say.hpp"

namespace kp::rules {

namespace {

/// The word between the last pair of single quotes before a "Did you mean", and the proposal after it.
struct Names {
    std::string wrong, right;
};
Names names_in(const std::string& text) {
    Names n;
    const auto hint = text.find("Did you mean '");
    const auto first = text.find('\'');
    const auto second = text.find('\'', first + 1);
    if (first != std::string::npos && second != std::string::npos && first < hint)
        n.wrong = text.substr(first + 1, second - first - 1);
    if (hint != std::string::npos) n.right = text.substr(hint + 14, text.size() - hint - 16);
    return n;
}

const SdcFile* file_of(const RuleInput& in, const std::string& path) {
    for (const auto& file : in.project.constraints)
        if (file.path == path) return &file;
    return nullptr;
}

}  // namespace

void d03(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    for (const auto& m : in.constraints.messages) {
        if (m.severity == Severity::note) continue;
        auto f = finding(row, m.text, {{"constraint", m.file + ":" + std::to_string(m.line)}});
        f.severity = m.severity;
        f.file = m.file;
        f.line = m.line;
        const auto names = names_in(m.text);
        const auto* file = in.with_fixes ? file_of(in, m.file) : nullptr;
        if (file && !names.wrong.empty() && !names.right.empty()) {
            size_t at = 0;
            for (int line = 1; line < m.line && at != std::string::npos; ++line) at = file->text.find('\n', at) + 1;
            if (const auto place = file->text.find(names.wrong, at); place != std::string::npos)
                f.fixes.push_back(
                    {"write '" + names.right + "' instead of '" + names.wrong + "'",
                     Edit{"correct " + names.wrong, {TextChange{m.file, place, names.wrong, names.right}}}});
        }
        out.push_back(std::move(f));
    }
}

void d03_peg(const RuleInput& in, const RuleRow& row, const Seat& seat, std::vector<Finding>& out) {
    if (seat.port || !seat.peg) return;
    auto f = finding(row, "The design has no port " + seat.name + " any more, but it is pegged to pin " + seat.on + ".",
                     port_and_pin(seat));
    f.severity = Severity::caution;
    f.fixes.push_back({"remove the peg", unpeg_edit(in.project, seat.name)});
    out.push_back(std::move(f));
}

}  // namespace kp::rules
