// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/paint/canvas.hpp"
#include "app/paint/footprint_map.hpp"
#include "app/pegs/port_drag.hpp"

#include <vector>

namespace kp::app {

/// The package with its pins, banks and marks, and the ports that are adrift waiting beside it. Drag a port from the side,
/// or from one pin to another.
class Footprint : public Canvas {
    Q_OBJECT
public:
    enum class Shade { bank, kind, finding };
    explicit Footprint(Desk& desk);
    void set_shade(Shade shade) { shade_ = shade, update(); }
    void turn_over() { below_ = !below_, update(); }
    /// Draws this part instead of the session's; for looking at packages.
    void show_part(const Part* part) { other_ = part, update(); }
    [[nodiscard]] FootprintMap map_now() const;
    /// Where the chip of an adrift port lies at the side; an empty rectangle when it is not shown.
    [[nodiscard]] QRectF tray_place(const std::string& port) const;

protected:
    void draw(QPainter& p) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

private:
    [[nodiscard]] const Part& part() const { return other_ ? *other_ : desk_.session().world().part; }
    [[nodiscard]] double side_left() const { return map_now().body.right() + (part().package.ball_grid ? 28 : 28 + map_now().body.left()); }
    [[nodiscard]] std::string port_at_pin(const std::string& pin) const;
    [[nodiscard]] std::vector<std::string> tray() const;
    [[nodiscard]] double tray_top() const;
    void draw_pin(QPainter& p, const Pin& pin, const QRectF& r);
    void draw_coordinates(QPainter& p, const FootprintMap& m);
    void draw_names(QPainter& p, const FootprintMap& m);
    void draw_pairs(QPainter& p, const FootprintMap& m);
    void draw_side(QPainter& p);
    void draw_legend(QPainter& p, double x, double y);
    Desk& desk_;
    PortDrag drag_;
    Shade shade_ = Shade::bank;
    bool below_ = false;
    const Part* other_ = nullptr;
};

}  // namespace kp::app
