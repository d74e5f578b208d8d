// SPDX-License-Identifier: GPL-3.0-or-later
// A file that was changed here and by another program: both sides, place by place, and what the choice makes of them.
#pragma once

#include "app/shell/desk.hpp"
#include "core/base/line_merge.hpp"

#include <QWidget>

class QLabel;
class QPlainTextEdit;
class QPushButton;
class QTreeWidget;

namespace kp::app {

class ConflictPage : public QWidget {
    Q_OBJECT
public:
    explicit ConflictPage(Desk& desk);
    /// Looks for the first file that both changed; false when there is none (any more).
    bool look();

signals:
    void done();

private:
    void choose_all(MergeChoice choice);
    /// Of the place that is current: here, on disk, both, and around again.
    void turn();
    void show_choice();
    void take();
    [[nodiscard]] QString text_of(const std::string& lines) const;
    Desk& desk_;
    std::vector<Conflict> conflicts_;
    std::vector<MergePiece> pieces_;
    std::vector<MergeChoice> choices_;
    QLabel *heading_, *what_;
    QTreeWidget* places_;
    QPlainTextEdit* result_;
    QPushButton *mine_, *theirs_, *turn_, *take_, *leave_;
};

}  // namespace kp::app
