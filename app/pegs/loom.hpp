// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/paint/canvas.hpp"
#include "app/pegs/loom_layout.hpp"
#include "app/pegs/port_drag.hpp"

namespace kp::app {

/// Ports, pins in their banks, board terminals, and a thread through each peg. Drag a port to a pin or terminal.
class Loom : public Canvas {
    Q_OBJECT
public:
    explicit Loom(Desk& desk);
    void refresh(const QString& filter);
    [[nodiscard]] LoomLayout layout_now() const { return LoomLayout(desk_.session(), width(), filter_.toStdString()); }

protected:
    void draw(QPainter& p) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void draw_threads(QPainter& p, const LoomLayout& l);
    void draw_ports(QPainter& p, const LoomLayout& l);
    void draw_bank_sheets(QPainter& p, const LoomLayout& l);
    void draw_banks(QPainter& p, const LoomLayout& l);
    void draw_parts(QPainter& p, const LoomLayout& l);
    void draw_drag(QPainter& p, const LoomLayout& l);
    Desk& desk_;
    PortDrag drag_;
    QString filter_;
};

}  // namespace kp::app
