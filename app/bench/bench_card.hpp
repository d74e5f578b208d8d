// SPDX-License-Identifier: GPL-3.0-or-later
// A board part as a card: its face, and below it what a hand can do, as buttons, dials and lines. All of it takes the
// keyboard.
#pragma once

#include "app/bench/part_face.hpp"

#include <QFrame>
#include <functional>

class QLabel;

namespace kp::app {

class BenchCard : public QFrame {
    Q_OBJECT
public:
    /// `work`: does what the hand asks, by control and value.
    using Work = std::function<void(const std::string& ref, const std::string& control, const std::string& value)>;
    BenchCard(const board_sim::BoardModel& model, board_sim::SimulatedPart& part, Work work);
    /// The face, and what the controls stand at.
    void look();
    /// A sentence under the title on why not to trust what the part shows; empty: none.
    void mark(const QString& why);
    [[nodiscard]] PartFace& face() { return *face_; }
    [[nodiscard]] const BoardPart& part() const { return part_.part(); }

private:
    void add_controls();
    QWidget* row_of_buttons(const std::vector<board_sim::Control>& controls);
    QWidget* dial(const board_sim::Control& control);
    QWidget* choice(const board_sim::Control& control);
    QWidget* typed(const board_sim::Control& control);
    void work(const std::string& control, const std::string& value);
    board_sim::SimulatedPart& part_;
    Work work_;
    PartFace* face_;
    QLabel* mark_;
    std::vector<std::function<void(const board_sim::Control&)>> followers_;  ///< by control: shows what it stands at
};

}  // namespace kp::app
