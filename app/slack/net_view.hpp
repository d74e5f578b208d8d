// SPDX-License-Identifier: GPL-3.0-or-later
// Where a path lies: its cells in a row, what else drives and hears them around, each with what it computes.
#pragma once

#include "app/paint/canvas.hpp"
#include "core/design/surroundings.hpp"

namespace kp::app {

class NetView : public Canvas {
    Q_OBJECT
public:
    explicit NetView(QWidget* parent = nullptr);
    void show_surroundings(Surroundings around);
    [[nodiscard]] int levels() const { return levels_; }
    [[nodiscard]] const Surroundings& shown() const { return around_; }
signals:
    /// More or fewer levels are wanted.
    void levels_wanted(int levels);

protected:
    void draw(QPainter& p) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] QRectF box(const DrawnCell& cell) const;
    [[nodiscard]] int cell_at(const QPointF& at) const;
    void step(int dx, int dy);
    void choose(int cell);
    Surroundings around_;
    int levels_ = 1, chosen_ = -1, hovered_ = -1;
    int first_column_ = 0;
};

}  // namespace kp::app
