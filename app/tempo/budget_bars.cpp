// SPDX-License-Identifier: GPL-3.0-or-later
// Terms add up from left to right; the scale is that of the longest bar. No state.
#include "app/tempo/budget_bars.hpp"

#include "app/theme/text.hpp"

#include "core/base/text.hpp"

#include <QKeyEvent>
#include <QMouseEvent>
#include <algorithm>

namespace kp::app {

namespace {

QString three_places(double value) {
    return q(fixed(value, 3)).replace(QLatin1Char('-'), QStringLiteral("−"));
}

constexpr double bars_top = 8, row_height = 46, label_width = 118, numbers_width = 132;

}  // namespace

void BudgetBars::show_budget(std::optional<clocks::Budget> budget) {
    budget_ = std::move(budget);
    least_ = most_ = 0;
    double max = 0, min = 0;
    if (budget_)
        for (const auto& t : budget_->terms) {
            max += t.max;
            min += t.min;
            least_ = std::min({least_, max, min});
            most_ = std::max({most_, max, min});
        }
    if (most_ - least_ < 1e-6) most_ = least_ + 1;
    const auto rows = budget_ ? budget_->terms.size() + 1 : 1;
    row_ = std::clamp(row_, 0, budget_ && !budget_->terms.empty() ? static_cast<int>(budget_->terms.size()) - 1 : 0);
    setMinimumHeight(static_cast<int>(2 * bars_top + row_height * static_cast<double>(rows)));
    update();
}

std::string BudgetBars::chosen() const {
    return budget_ && row_ < static_cast<int>(budget_->terms.size()) ? budget_->terms[static_cast<size_t>(row_)].what
                                                                     : std::string();
}

void BudgetBars::choose(int row) {
    const auto last = budget_ ? static_cast<int>(budget_->terms.size()) - 1 : 0;
    row_ = std::clamp(row, 0, std::max(0, last));
    update();
}

QRectF BudgetBars::row_place(size_t row) const {
    return {4, bars_top + row_height * static_cast<double>(row), width() - 8.0, row_height};
}

int BudgetBars::row_at(const QPointF& at) const {
    return static_cast<int>((at.y() - bars_top) / row_height);
}

double BudgetBars::x_of(double value) const {
    const double left = label_width + 10, right = width() - numbers_width - 12;
    return left + (value - least_) / (most_ - least_) * std::max(20.0, right - left);
}

void BudgetBars::draw(QPainter& p) {
    const auto& t = theme();
    p.fillRect(rect(), t.bright);
    if (!budget_) return;
    if (budget_->terms.empty()) {
        paragraph(p, {10, bars_top}, width() - 20,
                  budget_->arrangement == clocks::Arrangement::asynchronous
                      ? tr("No timing given: %1. A number for its partner gives one.").arg(q(budget_->why))
                      : tr("Nothing adds up here yet: %1.").arg(q(budget_->why)),
                  words(), t.second);
        return;
    }
    // The zero of the axis, where data change with the clock's edge.
    p.setPen(QPen(t.hairline, 1));
    p.drawLine(QPointF(x_of(0), bars_top), QPointF(x_of(0), row_place(budget_->terms.size()).bottom()));
    double max = 0, min = 0;
    for (size_t i = 0; i < budget_->terms.size(); ++i) {
        draw_term(p, i, max, min);
        max += budget_->terms[i].max;
        min += budget_->terms[i].min;
    }
    draw_sum(p);
}

void BudgetBars::draw_term(QPainter& p, size_t row, double from_max, double from_min) {
    const auto& t = theme();
    const auto& term = budget_->terms[row];
    const auto r = row_place(row);
    if (static_cast<int>(row) == row_) p.fillRect(r, t.select_fill);
    text(p, {r.left() + 6, r.top() + 3, label_width - 6, 18}, Qt::AlignVCenter, q(term.what), words(12.5), t.ink, true);
    const auto bar = [&](double from, double by, double y, const QColor& color, bool filled) {
        const double a = x_of(std::min(from, from + by)), b = x_of(std::max(from, from + by));
        p.setPen(QPen(color, 1));
        p.setBrush(filled ? QBrush(color) : QBrush(Qt::NoBrush));
        p.drawRect(QRectF(a, y, std::max(1.5, b - a), 7));
    };
    // Filled and outlined, so that colour does not stand alone.
    bar(from_max, term.max, r.top() + 4, t.bank(static_cast<int>(row)), true);
    bar(from_min, term.min, r.top() + 14, t.bank(static_cast<int>(row)), false);
    const double right = r.right() - 6;
    text(p, {right - numbers_width, r.top() + 3, numbers_width / 2 - 4, 18}, Qt::AlignRight | Qt::AlignVCenter,
         three_places(term.max), mono(12), t.ink);
    text(p, {right - numbers_width / 2, r.top() + 3, numbers_width / 2, 18}, Qt::AlignRight | Qt::AlignVCenter,
         three_places(term.min), mono(12), t.ink);
    text(p, {r.left() + 6, r.top() + 24, r.width() - 12, 16}, Qt::AlignVCenter, q(term.from), words(11), t.second,
         true);
}

void BudgetBars::draw_sum(QPainter& p) {
    const auto& t = theme();
    const auto r = row_place(budget_->terms.size());
    p.setPen(QPen(t.ink, 1));
    p.drawLine(r.topLeft(), r.topRight());
    text(p, {r.left() + 6, r.top() + 3, label_width - 6, 18}, Qt::AlignVCenter, tr("together, ns"), words(12.5, true),
         t.ink);
    for (const auto& [value, y, filled] :
         {std::tuple{budget_->max, 4.0, true}, std::tuple{budget_->min, 14.0, false}}) {
        const double a = x_of(std::min(0.0, value)), b = x_of(std::max(0.0, value));
        p.setPen(QPen(t.ink, 1));
        p.setBrush(filled ? QBrush(t.ink) : QBrush(Qt::NoBrush));
        p.drawRect(QRectF(a, r.top() + y, std::max(1.5, b - a), 7));
    }
    const double right = r.right() - 6;
    text(p, {right - numbers_width, r.top() + 3, numbers_width / 2 - 4, 18}, Qt::AlignRight | Qt::AlignVCenter,
         three_places(budget_->max), mono(12, true), t.ink);
    text(p, {right - numbers_width / 2, r.top() + 3, numbers_width / 2, 18}, Qt::AlignRight | Qt::AlignVCenter,
         three_places(budget_->min), mono(12, true), t.ink);
    text(p, {right - numbers_width, r.top() + 24, numbers_width / 2 - 4, 16}, Qt::AlignRight | Qt::AlignVCenter,
         tr("most"), words(11), t.second);
    text(p, {right - numbers_width / 2, r.top() + 24, numbers_width / 2, 16}, Qt::AlignRight | Qt::AlignVCenter,
         tr("least"), words(11), t.second);
}

void BudgetBars::mousePressEvent(QMouseEvent* event) {
    setFocus();
    choose(row_at(event->position()));
}

void BudgetBars::mouseDoubleClickEvent(QMouseEvent* event) {
    choose(row_at(event->position()));
    if (const auto what = chosen(); !what.empty()) emit term_wanted(q(what));
}

void BudgetBars::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Down || event->key() == Qt::Key_Up)
        return choose(row_ + (event->key() == Qt::Key_Down ? 1 : -1));
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter || event->key() == Qt::Key_F2) {
        if (const auto what = chosen(); !what.empty()) emit term_wanted(q(what));
        return;
    }
    Canvas::keyPressEvent(event);
}

}  // namespace kp::app
