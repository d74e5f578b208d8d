// SPDX-License-Identifier: GPL-3.0-or-later
// The line is run behind the project's own text, and the kept engine asked with the result; then it goes back to
// where it was.
#include "core/session/what_if.hpp"

#include "core/format/sdc/read.hpp"
#include "core/session/timekeeper.hpp"

namespace kp {

namespace {
constexpr const char* here = "what if";  // stands for a file in messages
}

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
        constraints,
        [&](const TimingEngine& e) {
            out.setup = e.summary(CheckKind::setup);
            out.hold = e.summary(CheckKind::hold);
        },
        stop);
    if (!asked)
        return Message{Severity::stop, "busy", "There is no finished analysis to ask; ask again when it stands.",
                       here,           0,      0};
    return out;
}

}  // namespace kp
