// SPDX-License-Identifier: GPL-3.0-or-later
// The lens of Tempo that shows where each I/O delay comes from, and writes it.
#pragma once

#include "app/shell/desk.hpp"
#include "core/clocks/budget.hpp"

#include <QWidget>
#include <vector>

class QLabel;
class QPushButton;
class QTreeWidget;

namespace kp::app {

class BudgetBars;

class BudgetLens : public QWidget {
    Q_OBJECT
public:
    explicit BudgetLens(Desk& desk);
    void refresh();
    /// Writes the lines of the group that is shown, or of all that do not agree, one after the other.
    void take();
    void take_all();
    void ask_term(const QString& what);
    void link();

private:
    void show_group();
    void write(const clocks::Budget& budget, std::function<void()> then);
    [[nodiscard]] const clocks::Budget* group() const;
    Desk& desk_;
    std::vector<clocks::Budget> list_;
    QTreeWidget* groups_;
    BudgetBars* bars_;
    QLabel *head_, *lines_;
    QPushButton *take_, *take_all_, *link_, *add_;
    bool filling_ = false;
};

}  // namespace kp::app
