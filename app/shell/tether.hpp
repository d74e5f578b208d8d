// SPDX-License-Identifier: GPL-3.0-or-later
// The strip at the top: a line through seven knots, one per station, solid as far as everything is in order.
#pragma once

#include "app/paint/canvas.hpp"

#include <array>

namespace kp::app {

enum class Standing { good, open, caution, stop };

struct KnotState {
    QString name, standing_text;
    Standing standing = Standing::open;
};

class Tether : public Canvas {
    Q_OBJECT
public:
    explicit Tether(QWidget* parent = nullptr);
    void show_project(const QString& name, const QString& under) {
        name_ = name;
        under_ = under;
        update();
    }
    void show_states(const std::array<KnotState, 7>& states, bool handoff_clear, bool stops) {
        states_ = states;
        clear_ = handoff_clear;
        stops_ = stops;
        update();
    }
    void show_current(int station) {
        current_ = station;
        update();
    }
    [[nodiscard]] int current() const { return current_; }
    [[nodiscard]] const std::array<KnotState, 7>& states() const { return states_; }
    /// The area of a station's knot and words.
    [[nodiscard]] QRectF place(int station) const;
    QSize sizeHint() const override { return {1280, 63}; }

signals:
    void chosen(int station);

protected:
    void draw(QPainter& p) override;
    void mousePressEvent(QMouseEvent* event) override;

private:
    [[nodiscard]] QPointF knot(int station) const;
    void draw_kite(QPainter& p) const;
    QString name_, under_;
    std::array<KnotState, 7> states_;
    int current_ = 0;
    bool clear_ = false, stops_ = false;
};

}  // namespace kp::app
