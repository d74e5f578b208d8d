// SPDX-License-Identifier: GPL-3.0-or-later
// One function for each part of the sheet, from top to bottom; each returns where the next begins. State: the
// context it was given.
#include "app/findings/finding_sheet.hpp"

#include "app/theme/text.hpp"

#include "core/base/text.hpp"
#include "core/rules/rules.hpp"

#include <algorithm>
#include <QFontMetricsF>
#include <cmath>
#include <utility>

namespace kp::app {

void FindingSheet::show_finding(const Finding* finding, FindingContext context, const QString& otherwise) {
    otherwise_ = otherwise;
    context_ = std::move(context);
    finding_ = finding ? std::optional<Finding>(*finding) : std::nullopt;
    update();
}

std::optional<double> FindingSheet::value(const char* name) const {
    for (const auto& n : finding_->numbers)
        if (n.name == name) return n.value;
    return std::nullopt;
}

double FindingSheet::draw_levels(QPainter& p, double top) {
    const auto voh = value("VOH"), vih = value("VIH"), vol = value("VOL"), vil = value("VIL");
    if (!voh || !vih || !vol || !vil) return 0;
    const auto& t = theme();
    constexpr double high = 150, column = 110;
    const double most = std::max(*voh, *vih) * 1.15, left = 60, right = left + column + 90;
    const auto at = [&](double v) { return top + 6 + (high - 12) * (1 - v / most); };
    p.setPen(QPen(t.hairline, 1));
    p.drawLine(QPointF(left - 8, at(0)), QPointF(right + column, at(0)));
    text(p, {8, at(0) - 9, 42, 18}, Qt::AlignRight | Qt::AlignVCenter, tr("0 V"), mono(11), t.second);
    // What drives: where its high and its low may lie. What hears: where it takes them for such.
    const auto band = [&](double x, double from, double to, const QColor& fill, const QString& name, bool above) {
        p.fillRect(QRectF(x, at(to), column, at(from) - at(to)), fill);
        const double line = above ? at(from) : at(to);
        p.setPen(QPen(t.ink, 1.4));
        p.drawLine(QPointF(x, line), QPointF(x + column, line));
        text(p, {x + column + 4, line - 9, 84, 18}, Qt::AlignVCenter, name, mono(11), t.ink);
    };
    const auto volts = [](const char* name, double v) {
        return QStringLiteral("%1 %2 V").arg(QLatin1String(name)).arg(v, 0, 'g', 4);
    };
    band(left, *voh, most, t.wash_good, volts("VOH", *voh), true);
    band(left, 0, *vol, t.wash_good, volts("VOL", *vol), false);
    band(right, *vih, most, *voh < *vih ? t.wash_stop : t.wash_good, volts("VIH", *vih), true);
    band(right, 0, *vil, *vol > *vil ? t.wash_stop : t.wash_good, volts("VIL", *vil), false);
    p.setPen(QPen(t.stop, 1.4, Qt::DashLine));
    if (*voh < *vih) p.drawLine(QPointF(right - 8, at(*voh)), QPointF(right + column, at(*voh)));
    if (*vol > *vil) p.drawLine(QPointF(right - 8, at(*vol)), QPointF(right + column, at(*vol)));
    text(p, {left, top + high, column, 18}, Qt::AlignHCenter, tr("driver"), words(11), t.second);
    text(p, {right, top + high, column, 18}, Qt::AlignHCenter, tr("receiver"), words(11), t.second);
    return high + 28;
}

double FindingSheet::draw_limit(QPainter& p, double y) {
    const auto limit = value("limit");
    if (!limit || *limit <= 0 || finding_->numbers.empty()) return 0;
    const auto& t = theme();
    const auto& n = finding_->numbers.front();
    const double room = width() - 190.0, scale = room / std::max(n.value, *limit) * 0.96;
    const QRectF bar(28, y + 22, n.value * scale, 18);
    const double edge = 28 + *limit * scale;
    p.fillRect(QRectF(28, y + 22, *limit * scale, 18), t.hairline);
    p.fillRect(bar, t.wash_good);
    if (bar.right() > edge) p.fillRect(QRectF(edge, bar.top(), bar.right() - edge, bar.height()), t.stop);
    p.setPen(QPen(t.ink, 1.4));
    p.drawLine(QPointF(edge, y + 18), QPointF(edge, y + 44));
    const auto with_unit = [&](double v) {
        return q(shortest(std::round(v * 100) / 100)) + (n.unit.empty() ? QString() : QStringLiteral(" ") + q(n.unit));
    };
    text(p, {28, y, 200, 18}, Qt::AlignVCenter, q(n.name), words(12), t.second);
    text(p, {width() - 150.0, y + 22, 142, 18}, Qt::AlignVCenter | Qt::AlignRight, with_unit(n.value), mono(12.5),
         t.ink);
    text(p, {std::max(28.0, edge - 150), y + 44, 150, 18}, Qt::AlignVCenter | Qt::AlignRight,
         tr("limit %1").arg(with_unit(*limit)), mono(11), t.second);
    return 68;
}

double FindingSheet::draw_numbers(QPainter& p, double top) {
    const auto& t = theme();
    double y = top, largest = 0;
    // Numbers of the same unit are drawn as bars on one scale: that is what was compared.
    for (const auto& n : finding_->numbers)
        if (n.unit == finding_->numbers.front().unit) largest = std::max(largest, std::fabs(n.value));
    for (const auto& n : finding_->numbers) {
        text(p, {28, y, 130, 20}, Qt::AlignVCenter, q(n.name), words(12.5), t.second);
        const QString says = q(shortest(std::round(n.value * 1e4) / 1e4)) +
                             (n.unit.empty() ? QString() : QStringLiteral(" ") + q(n.unit));
        const double room = width() - 300.0;
        if (largest > 0 && n.unit == finding_->numbers.front().unit)
            p.fillRect(QRectF(160, y + 5, std::max(1.0, room * std::fabs(n.value) / largest), 10),
                       &n == &finding_->numbers.front() ? t.wash_stop : t.wash_good);
        text(p, {width() - 130.0, y, 122, 20}, Qt::AlignVCenter | Qt::AlignRight, says, mono(12.5), t.ink);
        y += 24;
    }
    return y - top;
}

/// The command that is meant between its neighbours.
double FindingSheet::draw_lines(QPainter& p, double top) {
    if (context_.lines.empty()) return 0;
    const auto& t = theme();
    constexpr double row = 20;
    text(p, {4, top, width() - 8.0, 18}, Qt::AlignVCenter, context_.file, words(11.5), t.second, true);
    double y = top + 20;
    draw_sheet(p, {4, y, width() - 8.0, row * static_cast<double>(context_.lines.size()) + 8}, t.sheet, t.hairline);
    y += 4;
    for (const auto& line : context_.lines) {
        if (line.here) p.fillRect(QRectF(5, y, width() - 10.0, row), t.wash_caution);
        text(p, {8, y, 40, row}, Qt::AlignRight | Qt::AlignVCenter, QString::number(line.number), mono(11), t.second);
        // Code is cut at its end, not in its middle.
        const auto says = QFontMetricsF(mono(11.5)).elidedText(line.text, Qt::ElideRight, width() - 72.0);
        text(p, {58, y, width() - 70.0, row}, Qt::AlignVCenter, says, mono(11.5), line.here ? t.ink : t.second, true);
        y += row;
    }
    return y + 12 - top;
}

/// Port, pin, bank and terminal in a row, as the wire goes.
double FindingSheet::draw_thread(QPainter& p, double top) {
    if (context_.thread.empty()) return 0;
    const auto& t = theme();
    const double n = 4, gap = 18, w = (width() - 8.0 - gap * (n - 1)) / n, h = 58;
    double x = 4;
    for (size_t i = 0; i < context_.thread.size(); ++i) {
        const auto& knot = context_.thread[i];
        if (i > 0) {
            p.setPen(QPen(t.second, 1.4));
            p.drawLine(QPointF(x - gap, top + h / 2), QPointF(x, top + h / 2));
        }
        draw_sheet(p, {x, top, w, h}, t.bright, t.hairline);
        text(p, {x + 8, top + 3, w - 12, 16}, Qt::AlignVCenter, knot.kind, words(11), t.second, true);
        text(p, {x + 8, top + 19, w - 12, 18}, Qt::AlignVCenter, knot.name, mono(12.5), t.ink, true);
        text(p, {x + 8, top + 38, w - 12, 16}, Qt::AlignVCenter, knot.detail, words(11), t.second, true);
        x += w + gap;
    }
    return h + 12;
}

/// Who else is in the bank, as far as there is room.
double FindingSheet::draw_bank(QPainter& p, double top, double bottom) {
    if (context_.seats.empty() || top + 60 > bottom) return 0;
    const auto& t = theme();
    constexpr double row = 18;
    text(p, {4, top, width() - 8.0, 18}, Qt::AlignVCenter, context_.bank, words(12, true), t.second, true);
    double y = top + 20;
    const auto room = static_cast<size_t>(std::max(1.0, (bottom - y) / row));
    for (size_t i = 0; i < context_.seats.size(); ++i) {
        const auto& seat = context_.seats[i];
        if (i + 1 == room && i + 1 < context_.seats.size()) {
            text(p, {4, y, width() - 8.0, row}, Qt::AlignVCenter, tr("and %1 more").arg(context_.seats.size() - i),
                 words(11.5), t.second);
            return y + row + 6 - top;
        }
        if (seat.here) p.fillRect(QRectF(4, y, width() - 8.0, row), t.wash_caution);
        text(p, {8, y, 62, row}, Qt::AlignVCenter, seat.pin, mono(11.5), t.ink, true);
        text(p, {72, y, width() * 0.5 - 76, row}, Qt::AlignVCenter, seat.port, mono(11.5), t.ink, true);
        text(p, {width() * 0.5, y, width() * 0.5 - 8, row}, Qt::AlignVCenter,
             seat.standard.isEmpty() ? tr("no I/O standard") : seat.standard, words(11.5), t.second, true);
        y += row;
    }
    return y + 6 - top;
}

void FindingSheet::draw(QPainter& p) {
    const auto& t = theme();
    if (!finding_) {
        paragraph(p, {4, 8}, width() - 8, otherwise_, words(), t.second);
        return;
    }
    const auto& f = *finding_;
    QString rule;
    for (const auto& row : rule_table())
        if (f.rule == row.code) rule = q(std::string("Rule ") + row.code + ": " + row.statement);
    double y = 6;
    double drawn = draw_levels(p, y);
    if (drawn == 0) drawn = draw_limit(p, y);
    if (drawn == 0) drawn = draw_numbers(p, y);
    y += drawn > 0 ? drawn + 8 : 0;
    y += draw_thread(p, y);
    y += draw_lines(p, y);
    // The rule and its source stand at the foot; what is between is the bank's.
    y += draw_bank(p, y, height() - 84.0);
    y = std::max(y + 4, height() - 80.0);
    y += paragraph(p, {4, y}, width() - 8, rule, words(12), t.second) + 4;
    y += paragraph(p, {4, y}, width() - 8, tr("Source: %1").arg(q(f.source)), words(11.5), t.second) + 4;
    if (f.waived)
        paragraph(p, {4, y}, width() - 8,
                  tr("Waived by %1 on %2: %3").arg(q(f.waived->who), q(f.waived->date), q(f.waived->reason)), words(12),
                  t.good);
}

}  // namespace kp::app
