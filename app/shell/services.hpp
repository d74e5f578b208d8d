// SPDX-License-Identifier: GPL-3.0-or-later
// What the window does for stations without their knowing it, or each other. Set once, by the window; until then the
// services do nothing.
#pragma once

#include "app/shell/chooser.hpp"

#include <QString>
#include <functional>
#include <vector>

namespace kp::app {

struct Services {
    using Typed = std::function<void(const QString&)>;
    /// Opens the window's one chooser; see Chooser::open.
    std::function<void(const QString& prompt, std::vector<Chooser::Item> items, Typed typed, const QString& begin_with)>
        choose = [](const QString&, std::vector<Chooser::Item>, const Typed&, const QString&) {};
    /// Runs the command with this id, such as "project.open", as if its key had been pressed.
    std::function<void(const QString& id)> run = [](const QString&) {};
};

}  // namespace kp::app
