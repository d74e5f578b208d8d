// SPDX-License-Identifier: GPL-3.0-or-later
// The face of a board part at the bench: its lamps, digits or hand, what is known of it in words, and its wires.
#pragma once

#include "app/paint/canvas.hpp"
#include "core/board_sim/board_model.hpp"

namespace kp::app {

class PartFace : public Canvas {
    Q_OBJECT
public:
    /// `terminals`: of the part, numbered through.
    PartFace(const board_sim::BoardModel& model, board_sim::SimulatedPart& part);
    /// Looks at the part again; as much of the time has passed as passed.
    void look();
    [[nodiscard]] const board_sim::Sight& sight() const { return sight_; }
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSizeHint() const override { return sizeHint(); }

signals:
    /// A step that the wheel asks of what turns.
    void turned(int steps);

protected:
    void draw(QPainter& p) override;
    void wheelEvent(QWheelEvent* event) override;
    bool event(QEvent* event) override;

private:
    double draw_lamps(QPainter& p, double top);
    double draw_digits(QPainter& p, double top);
    double draw_dial(QPainter& p, double top);
    double draw_text(QPainter& p, double top);
    double draw_words(QPainter& p, double top);
    void draw_wires(QPainter& p, double top);
    [[nodiscard]] QRectF wire_place(size_t i, double top) const;
    [[nodiscard]] double sight_height() const;
    [[nodiscard]] double wires_top() const;

    const board_sim::BoardModel& model_;
    board_sim::SimulatedPart& part_;
    board_sim::Sight sight_;
    board_sim::Words words_;
    size_t most_words_ = 0;
};

}  // namespace kp::app
