// SPDX-License-Identifier: GPL-3.0-or-later
// What something else says of the plan, difference by difference: the board's names, a pin sheet, pins that came back
// from a build, another plan. Each can be taken or left; all that is taken is one edit.
#pragma once

#include "app/shell/desk.hpp"
#include "app/shell/row_sync.hpp"
#include "core/planning/proposals.hpp"

#include <QSet>
#include <QWidget>
#include <optional>
#include <vector>

class QComboBox;
class QLabel;
class QPushButton;
class QTreeWidget;
class QTreeWidgetItem;

namespace kp::app {

class ComparePage : public QWidget {
    Q_OBJECT
public:
    enum class With { names, sheet, clipboard, report, stand_in, project, log, lines, line_pins };
    explicit ComparePage(Desk& desk);
    /// Called when the plan changed: what is shown is worked out again.
    void refresh();
    /// Compares with something else; `what` is a path or the number of a log entry.
    void compare(With with, const QString& what = {});
    /// Compares with a pin sheet that stands in no file.
    void compare_sheet(const QString& sheet, const QString& name);
    /// The same with the pins that a build gave.
    void compare_obtained_pins(const QString& report, const QString& name);
    [[nodiscard]] const std::vector<Proposal>& proposals() const { return proposals_; }
    void take_ticked();
    void take_current();

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void choose(int index);
    void compare_text(With with, const QString& text, const QString& name);
    void fill_sources();
    [[nodiscard]] Result<std::vector<Proposal>> work_out();
    Result<std::vector<Proposal>> with_report();
    Result<std::vector<Proposal>> with_sheet();
    Result<std::vector<Proposal>> with_plan();
    [[nodiscard]] Row row_of(const Proposal& proposal) const;
    void show_rows();
    void take(const std::vector<Proposal>& list);
    [[nodiscard]] std::vector<Proposal> ticked() const;
    void build();
    Desk& desk_;
    QComboBox* source_;
    QLabel *summary_, *note_;
    QTreeWidget* list_;
    QPushButton *take_, *all_, *none_, *keep_;
    With with_ = With::names;
    QString what_;                    ///< path or number
    std::string text_;                ///< of the file, or of the clipboard, as it was when it was chosen
    std::optional<Message> trouble_;  ///< why the file could not be read
    QSet<QString> unticked_;          ///< rows that the user does not want; all others are ticked
    std::vector<Proposal> proposals_;
    QString extra_;  ///< how many are as requested and the like
    bool loading_ = false;
};

}  // namespace kp::app
