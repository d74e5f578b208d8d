// SPDX-License-Identifier: GPL-3.0-or-later
// Names in constraints and pegs that the design does not have. The interpreter of SDC already said so in its messages;
// this turns them into findings and its "did you mean" into an edit of that one word. Linear in the messages.
#include "core/rules/say.hpp"
#include "core/base/said.hpp"

namespace kp::rules {

namespace {

const SdcFile* file_of(const RuleInput& in, const std::string& path) {
    for (const auto& file : in.project.constraints)
        if (file.path == path) return &file;
    return nullptr;
}

}  // namespace

void d03(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    for (const auto& m : in.constraints.messages) {
        if (m.severity == Severity::note) continue;
        auto f = finding(row, m.text, {{Subject::constraint, m.file + ":" + std::to_string(m.line)}});
        f.severity = m.severity;
        f.file = m.file;
        f.line = m.line;
        const auto* file = in.with_fixes ? file_of(in, m.file) : nullptr;
        for (const auto& s : m.subjects) {
            if (!file || s.meant.empty()) continue;
            size_t at = 0;
            for (int line = 1; line < m.line && at != std::string::npos; ++line) at = file->text.find('\n', at) + 1;
            if (const auto place = file->text.find(s.name, at); place != std::string::npos)
                f.fixes.push_back({said("write '{}' instead of '{}'", s.meant, s.name),
                                   Edit{"correct " + s.name, {TextChange{m.file, place, s.name, s.meant}}}});
        }
        out.push_back(std::move(f));
    }
}

void d03_peg(const RuleInput& in, const RuleRow& row, const PlannedPort& seat, std::vector<Finding>& out) {
    if (seat.port || !seat.peg) return;
    auto f = finding(row, said("The design has no port {} any more, but it is pegged to pin {}.", seat.name, seat.on),
                     port_and_pin(seat));
    f.severity = Severity::caution;
    f.fixes.push_back({"remove the peg", unpeg_edit(in.project, seat.name)});
    out.push_back(std::move(f));
}

}  // namespace kp::rules
