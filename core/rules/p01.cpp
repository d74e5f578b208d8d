// SPDX-License-Identifier: GPL-3.0-or-later
// The answer of the chip at the cable against the part file; nothing is said before somebody asked the chip.
#include "core/rules/say.hpp"
#include "core/base/said.hpp"
#include <cstdio>

namespace kp::rules {

void p01(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    if (!in.idcode_read || in.part.name.empty() || *in.idcode_read == in.part.idcode) return;
    char read[16], wanted[16];
    std::snprintf(read, sizeof read, "0x%08X", *in.idcode_read);
    std::snprintf(wanted, sizeof wanted, "0x%08X", in.part.idcode);
    auto f = finding(row,
                     said("The chip at the cable answers with IDCODE {}, and {} has {}; another part is on the board, "
                          "or the part of the project is wrong.",
                          read, in.part.name, wanted),
                     {{Subject::part, in.part.name}});
    if (in.with_fixes && in.project.part != in.board.part && !in.board.part.empty())
        f.fixes.push_back(
            setting_fix(in, "part", in.board.part, said("take {}, the part on the board", in.board.part)));
    out.push_back(std::move(f));
}

}  // namespace kp::rules
