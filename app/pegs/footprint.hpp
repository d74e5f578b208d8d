// SPDX-License-Identifier: GPL-3.0-or-later
// The package from above or below, a mark for each pin.
#pragma once

#include "app/paint/canvas.hpp"
#include "app/paint/footprint_map.hpp"
#include "app/paint/marks.hpp"
#include "app/pegs/port_drag.hpp"
#include "app/pegs/shades.hpp"

#include <QHash>
#include <QPixmap>
#include <optional>
#include <set>
#include <vector>

namespace kp::app {

/// The package with its pins, as it lies on the board or as seen from below, turned and zoomed as wanted. Drag from one
/// pin to another, or from the list of what is adrift.
class Footprint : public Canvas {
    Q_OBJECT
public:
    /// What is drawn besides the pins.
    enum Extra { pairs = 1, bytes = 2, banks = 4, regions = 8, reach = 16 };
    explicit Footprint(Desk& desk);

    /// Takes the plan over as it is now.
    void refresh(const PlanView& plan);
    void set_shade(Shade shade);
    [[nodiscard]] const Shading& shading() const { return shading_; }
    /// Entries of the legend that are not wanted: their pins fade.
    void set_hidden(std::set<QString> names);
    void show_extra(Extra extra, bool on);
    [[nodiscard]] const FootprintLook& look() const { return look_; }
    void set_look(const FootprintLook& look);
    void turn_over();
    void rotate();
    void zoom_by(double factor, const QPointF& around);
    void show_all() { set_look({look_.below, look_.turns, 1, {}}); }
    void zoom_to_selection();
    /// Draws this part instead of the session's; for looking at packages.
    void show_part(const Part* part);
    [[nodiscard]] FootprintMap map_now() const;

    /// The drag of a port that began elsewhere: in the list beside. Places are of this widget.
    void drag_from_outside(const std::string& port, const QPointF& at);
    void drag_to(const QPointF& at, bool round);
    void drag_ends(const QPointF& at);
    [[nodiscard]] bool dragging() const { return drag_.moving(); }

    /// The drawing without selection, `px_per_mm` dots a millimetre; for files and paper.
    void draw_for_file(QPainter& p, double px_per_mm);
    [[nodiscard]] double size_mm() const { return extent_mm(part()); }
    void prepare_for_file() {
        drag_.end();
        hovered_ = -1;
    }

signals:
    void look_changed();

protected:
    void draw(QPainter& p) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    struct PinLook {
        QColor line, fill;
        bool loose = false, faded = false, used = false, wired = false;
        WideEnd wide = WideEnd::above;  ///< of a lead: away from the body
    };
    [[nodiscard]] const Part& part() const { return other_ ? *other_ : desk_.session().world().part; }
    [[nodiscard]] std::string port_at(int pin) const;
    [[nodiscard]] PinLook look_of(size_t pin);
    [[nodiscard]] std::vector<int> chosen_pins() const;
    void step(int dx, int dy);
    void select_pin(int pin);
    void draw_package(QPainter& p, const FootprintMap& m, bool vectors);
    void draw_pins(QPainter& p, const FootprintMap& m, bool vectors);
    void draw_pin(QPainter& p, const Pin& pin, const QRectF& r, const PinLook& look) const;
    void draw_coordinates(QPainter& p, const FootprintMap& m);
    void draw_names(QPainter& p, const FootprintMap& m);
    void draw_ball_names(QPainter& p, const FootprintMap& m);
    void draw_extras(QPainter& p, const FootprintMap& m);
    void draw_groups(QPainter& p, const FootprintMap& m);
    void draw_group_names(QPainter& p, const FootprintMap& m);
    void draw_reach(QPainter& p, const FootprintMap& m);
    void draw_chosen(QPainter& p, const FootprintMap& m);
    Desk& desk_;
    PortDrag drag_;
    PlanView plan_;
    Shade shade_ = Shade::bank;
    Shading shading_;
    std::set<QString> hidden_;
    FootprintLook look_;
    int extras_ = banks;
    int hovered_ = -1;
    std::optional<QPointF> grabbed_;  ///< where the drawing is held while it is moved
    const Part* other_ = nullptr;
    const Part* outlined_ = nullptr;  ///< the part these lines are of
    std::vector<QLineF> bank_lines_, region_lines_;
    QHash<QString, QPixmap> stamps_;  ///< pins that look the same are painted once
    double stamp_size_ = 0;
};

}  // namespace kp::app
