// SPDX-License-Identifier: GPL-3.0-or-later
// Counted words on the screen: the helper of core/base/text.hpp as Qt's text.
#pragma once

#include "core/base/text.hpp"

#include <QString>

namespace kp::app {

/// "1 stop", "3 stops"; `many` where it is more than an s at the end.
[[nodiscard]] inline QString counted(long long n, const char* one, const char* many = "") {
    return QString::fromStdString(kp::counted(n, one, many));
}

}  // namespace kp::app
