// SPDX-License-Identifier: GPL-3.0-or-later
// The corners of the analysis: a line each, in the project, with how each of them stands.
#pragma once

#include "app/shell/desk.hpp"

#include <QWidget>

class QLabel;
class QPlainTextEdit;
class QPushButton;
class QTreeWidget;

namespace kp::app {

class CornerPage : public QWidget {
    Q_OBJECT
public:
    explicit CornerPage(Desk& desk);
    void refresh();

private:
    void take();
    [[nodiscard]] QString written() const;
    Desk& desk_;
    QPlainTextEdit* lines_;
    QTreeWidget* standing_;
    QLabel* says_;
    QPushButton* take_;
    QString shown_;  ///< as the project had it; what the user types since then stays
};

}  // namespace kp::app
