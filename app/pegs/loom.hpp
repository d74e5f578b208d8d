// SPDX-License-Identifier: GPL-3.0-or-later
// The plan as threads from ports to terminals.
#pragma once

#include "app/paint/canvas.hpp"
#include "app/pegs/loom_layout.hpp"
#include "app/pegs/port_drag.hpp"

#include <QPixmap>
#include <map>

namespace kp::app {

/// Ports, pins in their banks, board terminals, and a thread through each peg. Drag a port, a bus by its heading, or
/// the rows that are selected to a pin, a terminal, a bank or a board part.
class Loom : public Canvas {
    Q_OBJECT
public:
    explicit Loom(Desk& desk);
    void refresh(const QString& filter);
    void show_selected();
    [[nodiscard]] const LoomLayout& layout_now() const;

signals:
    /// Something off the screen was stepped to.
    void wants_visible(const QRectF& rect);

protected:
    void draw(QPainter& p) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void keyReleaseEvent(QKeyEvent* event) override;

private:
    void draw_still(QPainter& p, const LoomLayout& l);
    void draw_lit(QPainter& p, const LoomLayout& l);
    void draw_threads(QPainter& p, const LoomLayout& l);
    void draw_thread(QPainter& p, const LoomLayout& l, const LoomLayout::PortRow& port, bool lit);
    void draw_port(QPainter& p, const LoomLayout::PortRow& port, bool chosen);
    void draw_pin(QPainter& p, const LoomLayout::PinBox& pin, bool chosen);
    void show_tiles(QPainter& p, const LoomLayout& l);
    void draw_ports(QPainter& p, const LoomLayout& l);
    void draw_bank_sheets(QPainter& p, const LoomLayout& l);
    void draw_banks(QPainter& p, const LoomLayout& l);
    void draw_parts(QPainter& p, const LoomLayout& l);
    void draw_drag(QPainter& p, const LoomLayout& l);
    void press_port(const std::string& port, QMouseEvent* event);
    void step(int by, bool extend);
    Desk& desk_;
    PortDrag drag_;
    QString filter_;
    std::string hovered_;  ///< port under the mouse
    mutable LoomLayout layout_;
    mutable int laid_width_ = -1;
    /// What does not depend on mouse and selection is painted once, in strips of this height.
    static constexpr int strip = 256;
    struct Tile {
        QPixmap map;
        std::vector<DrawnText> texts;
    };
    std::map<int, Tile> tiles_;
    bool tiles_dark_ = false;
};

}  // namespace kp::app
