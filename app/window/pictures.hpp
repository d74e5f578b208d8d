// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures of every main view, for the documentation and for whoever looks a change over (--shot).
#pragma once

#include <QString>

namespace kp::app {

class MainWindow;

/// A PNG of each main view into a folder, which is made; false, and a line on standard error, when one could not be
/// written. Works the stations as a person would: presses their commands and waits for what they show.
[[nodiscard]] bool shoot(MainWindow& window, const QString& folder);

}  // namespace kp::app
