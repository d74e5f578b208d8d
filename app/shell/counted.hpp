// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QString>

namespace kp::app {

/// "1 stop", "3 stops".
[[nodiscard]] inline QString counted(int n, const char* word) {
    return QStringLiteral("%1 %2%3").arg(n).arg(QLatin1String(word), n == 1 ? QString() : QStringLiteral("s"));
}

}  // namespace kp::app
