// SPDX-License-Identifier: GPL-3.0-or-later
// All lengths in millimetres until the very end. Sides of a quad flat package are counted against the clock from
// the upper left corner, seen from above (common practice, no source); a ball grid has its rows from the top.
#include "app/paint/footprint_map.hpp"

#include <algorithm>
#include <cmath>
#include <map>

namespace kp::app {

double body_mm(const Part& part) {
    if (part.package.body_mm > 0) return part.package.body_mm;
    return part.package.ball_grid ? std::max(part.package.rows, part.package.columns) + 1.0
                                  : part.package.per_side * 0.5 + 2.5;
}

double pitch_mm(const Part& part) {
    if (part.package.ball_grid) return body_mm(part) / (std::max(part.package.rows, part.package.columns) + 1);
    return body_mm(part) * 10 / 12 / std::max(1, part.package.per_side - 1);
}

namespace {
double lead_mm(const Part& part) {
    return body_mm(part) * 0.08;
}

/// Centre of pin `along` of a side, counted against the clock from the upper left corner: down, right, up, back.
QPointF on_side(int side, double along, double out) {
    switch (side) {
        case 0: return {-out, along};
        case 1: return {along, out};
        case 2: return {out, -along};
        default: return {-along, -out};
    }
}
double along_mm(const Part& part, double slot) {
    return (slot - (part.package.per_side - 1) / 2.0) * pitch_mm(part);
}
}  // namespace

double extent_mm(const Part& part) {
    return body_mm(part) + 2 * (part.package.ball_grid ? 1.15 * pitch_mm(part) : lead_mm(part) * 1.1);
}

QRectF pin_rect_mm(const Part& part, const Pin& pin) {
    const double pitch = pitch_mm(part);
    if (part.package.ball_grid) {
        const double d = pitch * 0.68;
        const QPointF c((pin.column - (part.package.columns - 1) / 2.0) * pitch,
                        (pin.row - (part.package.rows - 1) / 2.0) * pitch);
        return {c.x() - d / 2, c.y() - d / 2, d, d};
    }
    const double half = body_mm(part) / 2, lead = lead_mm(part), thick = pitch * 0.74;
    const auto a = on_side(pin.side, along_mm(part, pin.slot) - thick / 2, half),
               b = on_side(pin.side, along_mm(part, pin.slot) + thick / 2, half + lead);
    return QRectF(a, b).normalized();
}

std::vector<QLineF> outlines_mm(const Part& part, const std::function<const std::string&(const Pin&)>& key) {
    std::vector<QLineF> out;
    const double pitch = pitch_mm(part);
    if (!part.package.ball_grid) {
        const double inside = body_mm(part) / 2 - pitch * 0.6;
        for (size_t i = 0; i < part.pins.size();) {
            size_t end = i + 1;
            const auto& name = key(part.pins[i]);
            while (end < part.pins.size() && part.pins[end].side == part.pins[i].side && key(part.pins[end]) == name)
                ++end;
            if (!name.empty())
                out.emplace_back(on_side(part.pins[i].side, along_mm(part, part.pins[i].slot - 0.4), inside),
                                 on_side(part.pins[i].side, along_mm(part, part.pins[end - 1].slot + 0.4), inside));
            i = end;
        }
        return out;
    }
    std::map<std::pair<int, int>, const std::string*> at;
    for (const auto& pin : part.pins) at[{pin.row, pin.column}] = &key(pin);
    static const std::string none;
    const auto name = [&](int r, int c) -> const std::string& {
        const auto found = at.find({r, c});
        return found == at.end() ? none : *found->second;
    };
    const double x0 = -part.package.columns / 2.0 * pitch, y0 = -part.package.rows / 2.0 * pitch;
    for (int r = 0; r <= part.package.rows; ++r)
        for (int c = 0; c <= part.package.columns; ++c) {
            const double x = x0 + c * pitch, y = y0 + r * pitch;
            if (r < part.package.rows && name(r, c) != name(r, c - 1)) out.emplace_back(x, y, x, y + pitch);
            if (c < part.package.columns && name(r, c) != name(r - 1, c)) out.emplace_back(x, y, x + pitch, y);
        }
    return out;
}

void FootprintMap::lay(const Part& part, const QPointF& centre, const FootprintLook& look) {
    ball_grid = part.package.ball_grid;
    from_below = look.below;
    from_mm = QTransform()
                  .translate(centre.x(), centre.y())
                  .rotate(90.0 * look.turns)
                  .scale(look.below ? -scale : scale, scale);
    pitch = pitch_mm(part) * scale;
    const double half = kp::app::body_mm(part) / 2;
    body = from_mm.mapRect(QRectF(-half, -half, 2 * half, 2 * half));
    pins.reserve(part.pins.size());
    for (const auto& pin : part.pins) pins.push_back(from_mm.mapRect(pin_rect_mm(part, pin)));
}

FootprintMap::FootprintMap(const Part& part, const QRectF& into, const FootprintLook& look)
    : scale(std::min(into.width(), into.height()) / extent_mm(part) * look.zoom) {
    lay(part, into.center() + look.pan, look);
}

FootprintMap::FootprintMap(const Part& part, const QPointF& centre, double px_per_mm, const FootprintLook& look)
    : scale(px_per_mm) {
    lay(part, centre, look);
}

int FootprintMap::at(const QPointF& point) const {
    for (size_t i = 0; i < pins.size(); ++i)
        if (pins[i].adjusted(-1.5, -1.5, 1.5, 1.5).contains(point)) return static_cast<int>(i);
    return -1;
}

}  // namespace kp::app
