// SPDX-License-Identifier: GPL-3.0-or-later
// Log: every analysis with its figures, any two compared, any one restored; and the handoff.
#pragma once

#include "app/shell/row_sync.hpp"
#include "app/shell/station.hpp"

class QLabel;
class QLineEdit;
class QPushButton;
class QStackedWidget;
class QTabBar;
class QTreeWidget;

namespace kp::app {

class BuildPage;
class RunChart;

class LogStation : public Station {
    Q_OBJECT
public:
    LogStation(Desk& desk, QWidget* parent);
    void refresh() override;
    [[nodiscard]] unsigned cares() const override { return News::all; }
    [[nodiscard]] KnotState standing() const override;
    [[nodiscard]] QString status() const override;
    /// Writes the bundle; the folder is the project's `handoff` unless another is typed.
    bool write(bool despite_stops);

private:
    void lay_out();
    void connect_all();
    void show_build();
    void show_difference();
    void restore();
    void keep_note();
    void show_note();
    /// Analyses both runs that are chosen, on the inputs as they are now, and lists slacks that differ.
    void compare_slack();
    /// Numbers of the runs that are chosen, oldest first.
    [[nodiscard]] std::vector<int> chosen() const;
    RunChart* chart_;
    BuildPage* build_;
    QTabBar* tabs_;
    QStackedWidget* views_;
    QTreeWidget *runs_, *difference_;
    QLabel *compared_, *gate_;
    QLineEdit *folder_, *note_;
    QPushButton *restore_, *write_, *despite_, *slack_;
    bool chose_ = false;   ///< the user chose runs; else the last two are compared
    std::string written_;  ///< state that was handed off last
};

}  // namespace kp::app
