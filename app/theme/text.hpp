// SPDX-License-Identifier: GPL-3.0-or-later
// Texts of the core on the screen.
#pragma once

#include "core/base/bytes.hpp"

#include <QString>
#include <string>

namespace kp::app {

/// A text of the core, which is UTF-8.
[[nodiscard]] inline QString q(const std::string& text) {
    return QString::fromStdString(text);
}

/// Bytes of somebody's file, which may be anything: what is not UTF-8 is shown as Latin-1.
[[nodiscard]] inline QString shown_words(const std::string& bytes) {
    return QString::fromStdString(shown_text(bytes));
}

}  // namespace kp::app
