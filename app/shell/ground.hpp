// SPDX-License-Identifier: GPL-3.0-or-later
// What a project does not have yet, so that nobody takes silence for agreement.
#pragma once

#include "core/session/session.hpp"

#include <QCoreApplication>
#include <QString>

namespace kp::app {

/// "no part", "no board" or "no design": the first that is missing; empty when all are there.
[[nodiscard]] inline QString missing_ground(const Session& s) {
    const auto say = [](const char* text) { return QCoreApplication::translate("ground", text); };
    if (s.project().part.empty()) return say("no part");
    if (s.project().board.empty()) return say("no board");
    return s.world().netlist.ports.empty() ? say("no design") : QString();
}

}  // namespace kp::app
