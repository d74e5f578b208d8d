// SPDX-License-Identifier: GPL-3.0-or-later
// What the hand adds to the board of a project: notes and order of parts, and what to see to before power-on. Each is
// one edit of the project, asked for in one line.
#pragma once

#include "app/shell/desk.hpp"

#include <QWidget>

namespace kp::app {

class BoardByHand {
public:
    explicit BoardByHand(Desk& desk) : desk_(desk) {}
    /// A note beside the part that is selected; an empty line takes it away.
    void note_part();
    /// The terminals of the part that is selected, from left to right as the hand sees them.
    void order_part();
    /// Ticks a note of to check before power is switched on, or writes one.
    void before_power();
    /// Moves a part on the drawing, mm; where the board file has it when `back`.
    static void move_part(Desk& desk, const std::string& ref, double x, double y, bool back = false);

private:
    [[nodiscard]] const BoardPart* selected_part() const;
    void set_text(const char* field, const std::string& ref, const std::string& text, const std::string& title);
    Desk& desk_;
};

}  // namespace kp::app
