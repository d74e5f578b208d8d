// SPDX-License-Identifier: GPL-3.0-or-later
// What outlives the window: sizes, theme, last folders. Nothing of a project.
#pragma once

#include <QSettings>

namespace kp::app {

/// What the window remembers between starts, for this user.
[[nodiscard]] inline QSettings settings() {
    return QSettings(QStringLiteral("kite-peg"), QStringLiteral("kite-peg"));
}

}  // namespace kp::app
