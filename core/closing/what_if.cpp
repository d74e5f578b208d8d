// SPDX-License-Identifier: GPL-3.0-or-later
// The line is run behind the project's own text, and the kept engine asked with the result; then it goes back to
// where it was.
#include "core/closing/what_if.hpp"

#include "core/format/sdc/read.hpp"
#include "core/session/timekeeper.hpp"

#include <algorithm>

namespace kp {

namespace {
constexpr const char* here = "what if";  // stands for a file in messages

Message busy() {
    return {Severity::stop, Code::busy, "There is no finished analysis to ask; ask again when it stands.", here};
}

void take_figures(const TimingEngine& e, WhatIf& out) {
    out.setup = e.summary(CheckKind::setup);
    out.hold = e.summary(CheckKind::hold);
    out.recovery = e.summary(CheckKind::recovery);
    out.removal = e.summary(CheckKind::removal);
}

}  // namespace

Result<WhatIf> what_if_line(const Snapshot& now, const std::string& line, const std::stop_token& stop,
                            double script_seconds) {
    const auto& world = *now.world;
    const auto limits = script_limits(world, script_seconds);
    auto scripts = analysis_scripts(*now.project, now.grounds->folder);
    scripts.push_back({here, "", line});
    const auto constraints = read_sdc(scripts, world.netlist, *world.index, world.library, limits, stop);
    WhatIf out;
    for (const auto& m : constraints.messages) {
        if (m.file != here) continue;
        if (m.severity == Severity::stop) return m;
        out.messages.push_back(m);
    }
    const bool asked = now.grounds->timekeeper->what_if(
        constraints, [&](const TimingEngine& e) { take_figures(e, out); }, stop);
    if (!asked) return busy();
    return out;
}

Result<WhatIf> what_if_edit(const Snapshot& now, const Edit& edit, const std::function<void(const TimingEngine&)>& more,
                            const std::stop_token& stop, double script_seconds) {
    if (touched(edit).inputs)
        return Message{Severity::stop, Code::what_if, "That would read other files; take it to see what it does.",
                       here};
    Project then = *now.project;
    if (auto status = apply(then, edit); !status) return status.messages();
    const auto& world = *now.world;
    const auto constraints = read_sdc(analysis_scripts(then, now.grounds->folder), world.netlist, *world.index,
                                      world.library, script_limits(world, script_seconds), stop);
    const auto known = [&](const Message& m) {
        const auto& before = now.analysis.constraints().messages;
        return std::any_of(before.begin(), before.end(), [&](const Message& b) { return b.text == m.text; });
    };
    WhatIf out;
    for (const auto& m : constraints.messages) {
        if (known(m)) continue;
        if (m.severity == Severity::stop) return m;
        out.messages.push_back(m);
    }
    const bool asked = now.grounds->timekeeper->what_if(
        constraints, pad_delays(world, then),
        [&](const TimingEngine& e) {
            take_figures(e, out);
            if (more) more(e);
        },
        stop);
    if (!asked) return busy();
    return out;
}

}  // namespace kp
