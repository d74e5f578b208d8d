// SPDX-License-Identifier: GPL-3.0-or-later
// Notes each text with its rectangle while a test listens, and costs nothing otherwise.
#include "app/paint/canvas.hpp"

#include "app/paint/glyphs.hpp"

#include <QFontMetricsF>
#include <QPaintEvent>

namespace kp::app {

void Canvas::paintEvent(QPaintEvent* event) {
    drawn_.clear();
    items_.clear();
    dirty_ = event->rect();
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    draw(p);
}

void Canvas::draw_bubble(QPainter& p, const QPointF& beside, const QString& says, const QColor& border) {
    const QFontMetricsF f(words(12));
    QRectF box(beside + QPointF(14, 12),
               QSizeF(330, f.boundingRect(QRectF(0, 0, 314, 500), Qt::TextWordWrap, says).height() + 10));
    if (box.right() > width()) box.moveRight(width() - 4);
    if (box.bottom() > height()) box.moveBottom(height() - 4);
    draw_sheet(p, box, theme().sheet, border);
    p.setPen(theme().ink);
    p.setFont(words(12));
    p.drawText(box.adjusted(8, 5, -8, -5), Qt::TextWordWrap, says);
}

void Canvas::text(QPainter& p, const QRectF& rect, int alignment, const QString& what, const QFont& font,
                  const QColor& color, bool may_shorten) {
    const QFontMetricsF m(font);
    const double need = laid_out(what, font).width;
    const bool fits = need <= rect.width() + 1;
    const QString shown = fits || !may_shorten ? what : shortened(what, font, rect.width());
    const auto& glyphs = laid_out(shown, font);
    double x = rect.left(), y = rect.top();
    if (alignment & Qt::AlignRight)
        x = rect.right() - glyphs.width;
    else if (alignment & Qt::AlignHCenter)
        x = rect.center().x() - glyphs.width / 2;
    if (alignment & Qt::AlignBottom)
        y = rect.bottom() - m.height();
    else if (alignment & Qt::AlignVCenter)
        y = rect.center().y() - m.height() / 2;
    p.setFont(font);
    p.setPen(color);
    p.drawStaticText(QPointF(x, y), glyphs.text);
    QRectF real(rect.x(), rect.y() + (rect.height() - m.ascent()) / 2, std::min(need, rect.width()), m.ascent());
    if (alignment & Qt::AlignRight) real.moveRight(rect.right());
    if (alignment & Qt::AlignHCenter) real.moveCenter(QPointF(rect.center().x(), real.center().y()));
    real = p.worldTransform().mapRect(real);  // text may stand upright
    drawn_.push_back({what, real, (!fits && !may_shorten) || real.right() > width() + 1 || real.left() < -1});
}

double Canvas::text_at(QPainter& p, const QPointF& at, const QString& what, const QFont& font, const QColor& color) {
    const QFontMetricsF m(font);
    const double w = m.horizontalAdvance(what);
    p.setFont(font);
    p.setPen(color);
    p.drawText(at, what);
    drawn_.push_back({what, QRectF(at.x(), at.y() - m.ascent() * 0.8, w, m.ascent() * 0.8), at.x() + w > width() + 1});
    return w;
}

double Canvas::paragraph(QPainter& p, const QPointF& top_left, double w, const QString& what, const QFont& font,
                         const QColor& color) {
    const QFontMetricsF m(font);
    const QRectF box = m.boundingRect(QRectF(0, 0, w, 10000), Qt::TextWordWrap, what);
    p.setFont(font);
    p.setPen(color);
    p.drawText(QRectF(top_left, QSizeF(w, box.height())), Qt::TextWordWrap, what);
    drawn_.push_back({what, QRectF(top_left, QSizeF(std::min(w, box.width()), box.height() - 1)),
                      box.width() > w + 1 || top_left.y() + box.height() > height() + 1});
    return box.height();
}

void draw_severity(QPainter& p, const QPointF& c, Severity severity, double size) {
    const double r = size / 2;
    const auto& t = theme();
    p.save();
    p.setBrush(Qt::NoBrush);
    if (severity == Severity::stop) {
        p.setPen(Qt::NoPen);
        p.setBrush(t.stop);
        p.drawRect(QRectF(c.x() - r, c.y() - r, size, size));
    } else if (severity == Severity::caution) {
        p.setPen(QPen(t.caution, 1.4));
        p.drawPolygon(
            QPolygonF{{c.x(), c.y() - r - 1}, {c.x() + r + 1, c.y()}, {c.x(), c.y() + r + 1}, {c.x() - r - 1, c.y()}});
    } else {
        p.setPen(QPen(t.second, 1.4));
        p.drawEllipse(c, r - 0.5, r - 0.5);
    }
    p.restore();
}

void draw_peg(QPainter& p, const QPointF& c, PegMark mark, const QColor& color) {
    p.save();
    if (mark == PegMark::adrift) {
        p.setPen(QPen(theme().stop, 1.2, Qt::DashLine));
        p.setBrush(Qt::NoBrush);
        p.drawEllipse(c, 4.5, 4.5);
    } else {
        const QPolygonF wedge{
            {c.x() - 4, c.y() - 6}, {c.x() + 4, c.y() - 6}, {c.x() + 2, c.y() + 6}, {c.x() - 2, c.y() + 6}};
        p.setPen(QPen(color, 1.2));
        p.setBrush(mark == PegMark::pegged ? QBrush(color) : QBrush(Qt::NoBrush));
        p.drawPolygon(wedge);
    }
    p.restore();
}

void draw_sheet(QPainter& p, const QRectF& rect, const QColor& fill, const QColor& border) {
    p.save();
    p.setPen(QPen(border, 1));
    p.setBrush(fill);
    p.drawRoundedRect(rect.adjusted(0.5, 0.5, -0.5, -0.5), 3, 3);
    p.restore();
}

}  // namespace kp::app
