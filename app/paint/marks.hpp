// SPDX-License-Identifier: GPL-3.0-or-later
// Marks of pins, made from one sign, the wedge of a peg: legible at 9 px and told apart without colour. Footprint,
// loom, lanes and legends draw them all here.
#pragma once

#include <QColor>
#include <QPainter>
#include <QRectF>

namespace kp::app {

/// What a user pin can be beside free, pegged or loose.
enum class PinTrait { none, clock, reference, dual_purpose };
/// Pins that are not for users.
enum class FixedPin { configuration, supply, bank_supply, ground, transceiver, not_connected };

/// The wedge within a rectangle: wide above, narrow below; or with its wide end turned to another side.
enum class WideEnd { above, left, below, right };
[[nodiscard]] QPolygonF wedge_in(const QRectF& rect, WideEnd wide = WideEnd::above);

/// A user pin: an outline when free, solid when pegged, pale and dotted when loose; a bar lies on it when wired.
struct UserPin {
    QColor line, fill;
    bool loose = false, wired = false;
    WideEnd wide = WideEnd::above;
};
void draw_user_pin(QPainter& p, const QRectF& rect, const UserPin& look);
/// Inside a user pin: a clock's edge, a level for a reference, a slot where the part uses the pin while it is set up.
void draw_trait(QPainter& p, const QPointF& centre, double size, PinTrait trait, const QColor& color);
/// Configuration: the wedge upside down. Supply: a stem with a bar above, two for a bank's. Ground: a stem that stands
/// on a bar. Transceiver: two slim wedges. Not connected: a dash.
void draw_fixed_pin(QPainter& p, const QPointF& centre, double size, FixedPin kind, const QColor& color);

}  // namespace kp::app
