// SPDX-License-Identifier: GPL-3.0-or-later
// Everything is drawn from what the simulated part says; nothing here knows what sort of part it is but by that.
#include "app/bench/part_face.hpp"

#include "app/theme/text.hpp"

#include <QHelpEvent>
#include <QToolTip>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

namespace kp::app {

namespace {

constexpr double line = 15, wire_wide = 11, wire_high = 14, text_high = 62;
constexpr size_t wires_a_row = 14;

QString name_of(Level level) {
    switch (level) {
        case Level::high: return PartFace::tr("high");
        case Level::low: return PartFace::tr("low");
        case Level::conflict: return PartFace::tr("driver conflict");
        case Level::floating: break;
    }
    return PartFace::tr("floats");
}

/// Segments a to g and the point of one digit, as lines in a box of 1 by 2.
const QLineF segment_lines[8] = {{{0.1, 0}, {0.9, 0}}, {{1, 0.1}, {1, 0.9}}, {{1, 1.1}, {1, 1.9}},
                                 {{0.1, 2}, {0.9, 2}}, {{0, 1.1}, {0, 1.9}}, {{0, 0.1}, {0, 0.9}},
                                 {{0.1, 1}, {0.9, 1}}, {{1.25, 2}, {1.3, 2}}};

}  // namespace

PartFace::PartFace(const board_sim::BoardModel& model, board_sim::SimulatedPart& part) : model_(model), part_(part) {
    setObjectName(QStringLiteral("bench.face.") + q(part.part().ref));
    setAccessibleName(tr("%1 %2").arg(q(part.part().label), q(part.part().ref)));
    look();
    most_words_ = words_.size();
    if (part.part().kind == "lamp" && part.part().terminals[0].current_ma > 0) most_words_ = 2;
}

void PartFace::look() {
    sight_ = part_.look();
    words_ = part_.words();
    QString said = tr("%1 %2").arg(q(part_.part().label), q(part_.part().ref));
    for (const auto& [key, value] : words_) said += QStringLiteral(", %1 %2").arg(q(key), q(value));
    setAccessibleDescription(said);
    update();
}

double PartFace::sight_height() const {
    const auto& kind = part_.part().kind;
    if (kind == "lamp") return 30.0 * std::ceil(static_cast<double>(part_.part().terminals.size()) / 8.0) + 4;
    if (!sight_.digits.empty() || kind == "display") return 54;
    if (sight_.angle) return 92;
    if (kind == "serial") return text_high + 4;
    return 0;
}

double PartFace::wires_top() const {
    return sight_height() + line * static_cast<double>(most_words_) + 3;
}

QSize PartFace::sizeHint() const {
    const auto rows = std::ceil(static_cast<double>(part_.part().terminals.size()) / static_cast<double>(wires_a_row));
    return {160, static_cast<int>(wires_top() + rows * (wire_high + 3) + 2)};
}

QRectF PartFace::wire_place(size_t i, double top) const {
    return {2 + wire_wide * static_cast<double>(i % wires_a_row),
            top + (wire_high + 3) * static_cast<double>(i / wires_a_row), wire_wide - 2, wire_high};
}

void PartFace::draw(QPainter& p) {
    double top = 0;
    top += draw_lamps(p, top);
    top += draw_digits(p, top);
    top += draw_dial(p, top);
    top += draw_text(p, top);
    draw_words(p, sight_height());
    draw_wires(p, wires_top());
}

double PartFace::draw_lamps(QPainter& p, double top) {
    if (part_.part().kind != "lamp") return 0;
    const auto& t = theme();
    const auto n = part_.part().terminals.size();
    const double step = std::min(30.0, (width() - 4) / static_cast<double>(std::min<size_t>(8, n)));
    for (size_t i = 0; i < n; ++i) {
        const QPointF c(2 + step * (static_cast<double>(i % 8) + 0.5), top + 15 + 30 * static_cast<double>(i / 8));
        const double bright = i < sight_.lamps.size() ? sight_.lamps[i] : 0;
        const bool on = bright > 0.03;
        item({c.x() - 10, c.y() - 10, 20, 20}, part_.part().ref + "." + part_.part().terminals[i].name);
        p.setPen(QPen(t.ink, 1.2));
        auto glow = t.lamp;
        glow.setAlphaF(static_cast<float>(0.25 + 0.75 * std::min(1.0, bright)));
        p.setBrush(on ? glow : t.bright);
        p.drawEllipse(c, 8, 8);
        if (on)  // a lit lamp has rays too, so that colour does not stand alone
            for (int k = 0; k < 8; ++k)
                p.drawLine(c + QPointF(10 * std::cos(k * M_PI / 4), 10 * std::sin(k * M_PI / 4)),
                           c + QPointF(12.5 * std::cos(k * M_PI / 4), 12.5 * std::sin(k * M_PI / 4)));
        text(p, {c.x() - 8, c.y() - 7, 16, 14}, Qt::AlignCenter, QString::number(i), words(10.5),
             on ? QColor("#1F2A33") : t.second);
    }
    return sight_height();
}

/// Each digit as the eye sees it: a segment is as bright as the share of time in which it was lit.
double PartFace::draw_digits(QPainter& p, double top) {
    if (sight_.digits.empty()) return 0;
    const auto& t = theme();
    const auto count = sight_.digits.size();
    constexpr double wide = 18;
    for (size_t d = 0; d < count; ++d) {
        const double x = width() - 24 - (wide + 14) * static_cast<double>(d + 1) + 8, y = top + 6;
        for (size_t s = 0; s < 8; ++s) {
            const double bright = std::min(1.0, sight_.digits[d][s] * static_cast<double>(count));
            auto colour = t.hairline;
            if (bright > 0.03) {
                colour = t.stop;
                colour.setAlphaF(static_cast<float>(0.3 + 0.7 * bright));
            }
            p.setPen(QPen(colour, bright > 0.03 ? 3.2 : 1.6, Qt::SolidLine, Qt::RoundCap));
            const auto& l = segment_lines[s];
            p.drawLine(QPointF(x + wide * l.x1(), y + wide * l.y1()), QPointF(x + wide * l.x2(), y + wide * l.y2()));
        }
        item({x - 2, y - 2, wide + 8, 2 * wide + 4}, part_.part().ref + ".digit" + std::to_string(d));
    }
    return sight_height();
}

double PartFace::draw_dial(QPainter& p, double top) {
    if (!sight_.angle) return 0;
    const auto& t = theme();
    const QPointF c(width() / 2.0, top + 45);
    constexpr double r = 40;
    p.setPen(QPen(t.ink, 1.2));
    p.setBrush(t.bright);
    p.drawEllipse(c, r, r);
    item({c.x() - r, c.y() - r, 2 * r, 2 * r}, part_.part().ref + ".dial");
    for (int i = 0; i < 32; ++i) {
        const double a = 2 * M_PI * i / 32, in = r - (i % 8 == 0 ? 9 : 4);
        p.drawLine(c + QPointF(in * std::sin(a), -in * std::cos(a)),
                   c + QPointF((r - 1) * std::sin(a), -(r - 1) * std::cos(a)));
    }
    p.save();
    p.translate(c);
    p.rotate(360.0 * std::fmod(*sight_.angle, 1.0));
    p.setBrush(t.bank(0));
    p.drawPolygon(QPolygonF{{0, -r + 9}, {5, 20}, {-5, 20}});
    p.restore();
    return sight_height();
}

/// The end of what came in over a serial line.
double PartFace::draw_text(QPainter& p, double top) {
    if (part_.part().kind != "serial") return 0;
    const auto& t = theme();
    const QRectF r(1, top + 1, width() - 2.0, text_high);
    draw_sheet(p, r, t.bright, t.hairline);
    const auto per_line = std::max(8, static_cast<int>((r.width() - 12) / 7.2));
    QStringList lines;
    for (const auto& part : q(sight_.text.size() > 2000 ? sight_.text.substr(sight_.text.size() - 2000) : sight_.text)
                                .split(QLatin1Char('\n')))
        for (qsizetype at = 0; at == 0 || at < part.size(); at += per_line) lines << part.mid(at, per_line);
    while (lines.size() > 3) lines.removeFirst();
    for (qsizetype i = 0; i < lines.size(); ++i)
        text(p, {r.left() + 6, r.top() + 4 + 18.0 * static_cast<double>(i), r.width() - 10, 17}, Qt::AlignVCenter,
             lines[i], mono(11.5), t.ink, true);
    return sight_height();
}

double PartFace::draw_words(QPainter& p, double top) {
    const auto& t = theme();
    for (size_t i = 0; i < std::min(words_.size(), most_words_); ++i) {
        const double y = top + line * static_cast<double>(i);
        const double half = width() * 0.5;
        text(p, {2, y, half - 4, line}, Qt::AlignVCenter, q(words_[i].first), words(11), t.second, true);
        text(p, {half, y, half - 2, line}, Qt::AlignVCenter | Qt::AlignRight, q(words_[i].second), mono(11), t.ink,
             true);
    }
    return line * static_cast<double>(most_words_);
}

/// A step for each wire: at the top while it is high, at the bottom while low, dotted in the middle while nobody drives
/// it, crossed while two do.
void PartFace::draw_wires(QPainter& p, double top) {
    const auto& t = theme();
    const auto first = part_.home().first_terminal;
    for (size_t i = 0; i < part_.part().terminals.size(); ++i) {
        const auto number = first + static_cast<std::uint32_t>(i);
        const auto r = wire_place(i, top);
        const auto level = model_.level(number);
        const auto colour = level == Level::conflict                        ? t.stop
                            : model_.pin_of(number).empty()                 ? t.hairline
                            : model_.given(number) != board_sim::Drive::off ? t.select
                                                                            : t.second;
        p.setPen(
            QPen(colour, level == Level::floating ? 1.2 : 2.2, level == Level::floating ? Qt::DotLine : Qt::SolidLine));
        if (level == Level::conflict) {
            p.drawLine(r.topLeft(), r.bottomRight());
            p.drawLine(r.topRight(), r.bottomLeft());
            continue;
        }
        const double y = level == Level::high ? r.top() + 2 : level == Level::low ? r.bottom() - 2 : r.center().y();
        p.drawLine(QPointF(r.left(), y), QPointF(r.right(), y));
    }
}

void PartFace::wheelEvent(QWheelEvent* event) {
    if (!sight_.angle) return event->ignore();
    emit turned(event->angleDelta().y() > 0 ? 1 : -1);
}

bool PartFace::event(QEvent* event) {
    if (event->type() != QEvent::ToolTip) return Canvas::event(event);
    const auto* help = static_cast<QHelpEvent*>(event);
    for (size_t i = 0; i < part_.part().terminals.size(); ++i) {
        if (!wire_place(i, wires_top()).adjusted(-1, -1, 1, 1).contains(help->pos())) continue;
        const auto number = part_.home().first_terminal + static_cast<std::uint32_t>(i);
        const auto& pin = model_.pin_of(number);
        QToolTip::showText(help->globalPos(),
                           tr("%1: %2%3")
                               .arg(q(model_.name_of(number)), name_of(model_.level(number)),
                                    pin.empty() ? tr(", not wired") : tr(", pin %1").arg(q(pin))),
                           this);
        return true;
    }
    QToolTip::hideText();
    return true;
}

}  // namespace kp::app
