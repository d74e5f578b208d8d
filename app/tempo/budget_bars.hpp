// SPDX-License-Identifier: GPL-3.0-or-later
// A budget drawn as bars that add up: each term starts where the one above it ended, its most above and its least
// below.
#pragma once

#include "app/paint/canvas.hpp"
#include "core/clocks/budget.hpp"

#include <optional>

namespace kp::app {

class BudgetBars : public Canvas {
    Q_OBJECT
public:
    BudgetBars() {
        setObjectName("tempo.budget.bars");
        setAccessibleName(tr("The terms of the budget"));
        setFocusPolicy(Qt::StrongFocus);
    }
    void show_budget(std::optional<clocks::Budget> budget);
    /// The term whose row is chosen; empty: none.
    [[nodiscard]] std::string chosen() const;
    void choose(int row);

signals:
    /// A row was opened: Enter, or a double click.
    void term_wanted(const QString& what);

protected:
    void draw(QPainter& p) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] QRectF row_place(size_t row) const;
    [[nodiscard]] int row_at(const QPointF& at) const;
    void draw_term(QPainter& p, size_t row, double from_max, double from_min);
    void draw_sum(QPainter& p);
    [[nodiscard]] double x_of(double ns) const;
    std::optional<clocks::Budget> budget_;
    int row_ = 0;
    double least_ = 0, most_ = 1;  ///< ns at the ends of the bars' axis
};

}  // namespace kp::app
