// SPDX-License-Identifier: GPL-3.0-or-later
// The lens of Tempo that drafts a first constraint file and lets it be read line by line before it is taken.
#pragma once

#include "app/shell/desk.hpp"
#include "core/constraints/draft.hpp"

#include <QWidget>
#include <optional>

class QLabel;
class QPushButton;
class QTreeWidget;
class QTreeWidgetItem;

namespace kp::app {

class DraftLens : public QWidget {
    Q_OBJECT
public:
    explicit DraftLens(Desk& desk);
    void refresh();
    /// Drafts beside the window, then shows the lines.
    void draft();
    /// Appends the ticked lines to the file that receives new commands, as one edit.
    void take();
    [[nodiscard]] const std::optional<Draft>& shown() const { return draft_; }

private:
    void show_lines();
    void count();
    Desk& desk_;
    std::optional<Draft> draft_;
    unsigned long long of_ = 0;  ///< revision that it was made of
    QTreeWidget* lines_;
    QLabel *head_, *why_;
    QPushButton *make_, *take_;
    bool filling_ = false;
};

}  // namespace kp::app
