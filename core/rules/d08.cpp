// SPDX-License-Identifier: GPL-3.0-or-later
// Data between unrelated clocks. The pairs are found once in the design facts (core/design/crossings); a pair is open
// where neither two registers in a row nor an exception answers for it. One finding a pair of clocks, not a register.
#include "core/rules/say.hpp"
#include "core/base/text.hpp"
#include "core/model/sdc_words.hpp"
#include "core/base/said.hpp"

namespace kp::rules {

void d08(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    const auto name = [&](std::uint32_t clock) { return in.constraints.clocks[clock].name; };
    for (const auto& c : in.design.crossings) {
        if (c.open == 0) continue;
        auto f = finding(row,
                         said("Data go from {} to {}, which are unrelated clocks, at {} without two registers to "
                              "settle them or an exception that says why not, such as from {} to {}.",
                              name(c.from), name(c.to), counted(c.open, "register"), c.open_from, c.open_to),
                         {{Subject::clock, name(c.from)}, {Subject::clock, name(c.to)}});
        f.numbers = {{"open", "", static_cast<double>(c.open)},
                     {"synchronised", "", static_cast<double>(c.synchronised)}};
        if (in.with_fixes) {
            const auto group = [&](std::uint32_t clock) {
                return said(" -group [get_clocks {}]", sdc::quote(name(clock)));
            };
            if (auto fix = append_fix(in, "set_clock_groups -asynchronous" + group(c.from) + group(c.to),
                                      said("tell {} and {} apart", name(c.from), name(c.to))))
                f.fixes.push_back(std::move(*fix));
        }
        out.push_back(std::move(f));
    }
    for (const auto& b : in.design.buses) {
        auto f = finding(
            row,
            said("The {} of {} go from {} to {}, each through its own two registers; they can arrive in different "
                 "cycles, and the bus then shows a value that never was. Gray code or a handshake would do.",
                 counted(b.bits, "bit"), b.bus, name(b.from), name(b.to)),
            {{Subject::clock, name(b.from)}, {Subject::clock, name(b.to)}, {Subject::bus, b.bus}});
        f.severity = Severity::caution;
        f.numbers = {{"bits", "", static_cast<double>(b.bits)}};
        out.push_back(std::move(f));
    }
}

}  // namespace kp::rules
