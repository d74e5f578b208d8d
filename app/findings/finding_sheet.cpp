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

void FindingSheet::show_finding(const Finding* finding) {
    finding_ = finding ? std::optional<Finding>(*finding) : std::nullopt;
    update();
}

void FindingSheet::draw(QPainter& p) {
    const auto& t = theme();
    if (!finding_) {
        paragraph(p, {4, 8}, width() - 8, tr("Nothing is selected. When the list is empty, every rule is kept."), words(), t.second);
        return;
    }
    const auto& f = *finding_;
    draw_severity(p, {12, 18}, f.severity, 11);
    double y = 8 + paragraph(p, {28, 8}, width() - 36, q(f.text), words(14, true), t.ink) + 10;
    // Numbers of the same unit are drawn as bars on one scale: that is what was compared.
    double largest = 0;
    for (const auto& n : f.numbers) largest = std::max(largest, std::fabs(n.value));
    for (const auto& n : f.numbers) {
        text(p, {28, y, 130, 20}, Qt::AlignVCenter, q(n.name), words(12.5), t.second);
        const QString value = q(shortest(std::round(n.value * 1e4) / 1e4)) + (n.unit.empty() ? QString() : QStringLiteral(" ") + q(n.unit));
        const double room = width() - 300.0;
        if (largest > 0) p.fillRect(QRectF(160, y + 5, std::max(1.0, room * std::fabs(n.value) / largest), 10), &n == &f.numbers.front() ? t.wash_stop : t.wash_good);
        text(p, {width() - 130.0, y, 122, 20}, Qt::AlignVCenter | Qt::AlignRight, value, mono(12.5), t.ink);
        y += 24;
    }
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
