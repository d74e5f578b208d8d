// SPDX-License-Identifier: GPL-3.0-or-later
// What changed on disk, shown before any of it is taken.
#pragma once

#include "app/shell/desk.hpp"

#include <QWidget>
#include <optional>

class QLabel;
class QPushButton;
class QTreeWidget;

namespace kp::app {

class RereadPage : public QWidget {
    Q_OBJECT
public:
    explicit RereadPage(Desk& desk);
    /// Reads the inputs beside the open ones and shows the differences when they are read; says why when they do not
    /// read.
    void look();

signals:
    void ready();  ///< there is something to look at
    void done();

private:
    void take();
    void show_reading();
    Desk& desk_;
    std::optional<Rereading> reading_;
    std::vector<std::string> constraints_;
    PortMerge merge_;
    QLabel* what_;
    QTreeWidget* list_;
    QPushButton *take_, *leave_;
};

}  // namespace kp::app
