// SPDX-License-Identifier: GPL-3.0-or-later
// Before power is switched on: what the board's maker wants seen to, and what follows from the plan, with ticks that
// the project keeps.
#pragma once

#include "app/shell/desk.hpp"

#include <QWidget>

class QLabel;
class QListWidget;
class QListWidgetItem;

namespace kp::app {

class PowerPage : public QWidget {
    Q_OBJECT
public:
    explicit PowerPage(Desk& desk);
    void refresh();

private:
    void ticked(QListWidgetItem* item);
    Desk& desk_;
    QListWidget* list_;
    QLabel* says_;
    int open_ = 0;
    bool filling_ = false;
};

}  // namespace kp::app
