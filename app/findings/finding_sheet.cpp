// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/findings/finding_sheet.hpp"

#include "core/base/text.hpp"
#include "core/rules/rules.hpp"

#include <algorithm>
#include <cmath>

namespace kp::app {

namespace {
QString q(const std::string& s) { return QString::fromStdString(s); }
}

void FindingSheet::show_finding(const Finding* finding, const QString& otherwise) {
    otherwise_ = otherwise;
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
    const auto volts = [](const char* name, double v) { return QStringLiteral("%1 %2 V").arg(QLatin1String(name)).arg(v, 0, 'g', 4); };
    band(left, *voh, most, t.wash_good, volts("VOH", *voh), true);
    band(left, 0, *vol, t.wash_good, volts("VOL", *vol), false);
    band(right, *vih, most, *voh < *vih ? t.wash_stop : t.wash_good, volts("VIH", *vih), true);
    band(right, 0, *vil, *vol > *vil ? t.wash_stop : t.wash_good, volts("VIL", *vil), false);
    p.setPen(QPen(t.stop, 1.4, Qt::DashLine));
    if (*voh < *vih) p.drawLine(QPointF(right - 8, at(*voh)), QPointF(right + column, at(*voh)));
    if (*vol > *vil) p.drawLine(QPointF(right - 8, at(*vol)), QPointF(right + column, at(*vol)));
    text(p, {left, top + high, column, 18}, Qt::AlignHCenter, tr("what drives"), words(11), t.second);
    text(p, {right, top + high, column, 18}, Qt::AlignHCenter, tr("what hears"), words(11), t.second);
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
    const auto with_unit = [&](double v) { return q(shortest(std::round(v * 100) / 100)) + (n.unit.empty() ? QString() : QStringLiteral(" ") + q(n.unit)); };
    text(p, {28, y, 200, 18}, Qt::AlignVCenter, q(n.name), words(12), t.second);
    text(p, {width() - 150.0, y + 22, 142, 18}, Qt::AlignVCenter | Qt::AlignRight, with_unit(n.value), mono(12.5), t.ink);
    text(p, {std::max(28.0, edge - 150), y + 44, 150, 18}, Qt::AlignVCenter | Qt::AlignRight, tr("bears %1").arg(with_unit(*limit)), mono(11), t.second);
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
        const QString says = q(shortest(std::round(n.value * 1e4) / 1e4)) + (n.unit.empty() ? QString() : QStringLiteral(" ") + q(n.unit));
        const double room = width() - 300.0;
        if (largest > 0 && n.unit == finding_->numbers.front().unit) p.fillRect(QRectF(160, y + 5, std::max(1.0, room * std::fabs(n.value) / largest), 10), &n == &finding_->numbers.front() ? t.wash_stop : t.wash_good);
        text(p, {width() - 130.0, y, 122, 20}, Qt::AlignVCenter | Qt::AlignRight, says, mono(12.5), t.ink);
        y += 24;
    }
    return y - top;
}

void FindingSheet::draw(QPainter& p) {
    const auto& t = theme();
    if (!finding_) {
        paragraph(p, {4, 8}, width() - 8, otherwise_, words(), t.second);
        return;
    }
    const auto& f = *finding_;
    draw_severity(p, {12, 18}, f.severity, 11);
    double y = 8 + paragraph(p, {28, 8}, width() - 36, q(f.text), words(14, true), t.ink) + 10;
    double drawn = draw_levels(p, y);
    if (drawn == 0) drawn = draw_limit(p, y);
    if (drawn == 0) drawn = draw_numbers(p, y);
    y += drawn;
    if (!f.objects.empty()) {
        QStringList names;
        for (const auto& o : f.objects) names << tr("%1 %2").arg(q(o.kind), q(o.name));
        y += paragraph(p, {28, y + 2}, width() - 36, names.join(QStringLiteral(" · ")), mono(12), t.ink) + 8;
    }
    QString rule;
    for (const auto& row : rule_table())
        if (f.rule == row.code) rule = q(std::string("Rule ") + row.code + ": " + row.statement);
    y += paragraph(p, {28, y}, width() - 36, rule, words(12), t.second) + 4;
    y += paragraph(p, {28, y}, width() - 36, tr("Source: %1").arg(q(f.source)), words(11.5), t.second) + 4;
    if (f.waived) paragraph(p, {28, y}, width() - 36, tr("Waived by %1 on %2: %3").arg(q(f.waived->who), q(f.waived->date), q(f.waived->reason)), words(12), t.good);
}

}  // namespace kp::app
