// SPDX-License-Identifier: GPL-3.0-or-later
// Draws; the steps are those of the last loading, kept in the header's member.
#include "app/bench/load_strip.hpp"

namespace kp::app {

void LoadStrip::draw(QPainter& p) {
    const auto& t = theme();
    text(p, {12, 6, 150, 18}, Qt::AlignVCenter, tr("simulated cable"), words(13, true), t.ink);
    text(p, {12, 26, 196, 18}, Qt::AlignVCenter, tr("this page is a stand-in"), words(11.5), t.second);
    const double left = 190, step = (width() - left) / 5.0;
    for (size_t i = 0; i < steps_.size(); ++i) {
        const double x = left + static_cast<double>(i) * step;
        p.setPen(QPen(steps_[i].good ? t.good : t.stop, 2));
        if (i + 1 < steps_.size()) p.drawLine(QPointF(x + 12, 15), QPointF(x + step - 8, 15));
        if (steps_[i].good) {
            p.setBrush(t.good);
            p.drawEllipse(QPointF(x + 4, 15), 4, 4);
        } else {
            draw_severity(p, {x + 4, 15}, Severity::stop);
        }
        text(p, {x, 25, step - 6, 18}, Qt::AlignVCenter, QString::fromStdString(steps_[i].text), words(11.5),
             steps_[i].good ? t.ink : t.stop, true);
    }
}

}  // namespace kp::app
