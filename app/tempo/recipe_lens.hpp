// SPDX-License-Identifier: GPL-3.0-or-later
// The lens of Tempo that finds settings of PLLs, says which published rates a clock gives without one, and what
// counters make of it.
#pragma once

#include "app/shell/desk.hpp"
#include "core/clocks/pll_search.hpp"

#include <QWidget>
#include <optional>

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QTreeWidget;

namespace kp::app {

class RecipeLens : public QWidget {
    Q_OBJECT
public:
    explicit RecipeLens(Desk& desk);
    void refresh();
    /// Searches beside the window for what the fields say.
    void search();
    /// Writes the setting that is chosen as a recipe of the design's PLL.
    void write();

private:
    void connect_all();
    QWidget* counters();
    void show_answer();
    void show_counters();
    void show_old();
    [[nodiscard]] const PllFacts* cell() const;
    [[nodiscard]] Result<clocks::PllWish> wish() const;
    Desk& desk_;
    std::optional<clocks::PllAnswer> answer_;
    QComboBox* pll_;
    QLineEdit *in_, *want_, *phase_, *within_, *hz_;
    QTreeWidget* settings_;
    QLabel *says_, *old_, *counter_;
    QPushButton *search_, *write_;
    bool filling_ = false;
};

}  // namespace kp::app
