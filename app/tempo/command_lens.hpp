// SPDX-License-Identifier: GPL-3.0-or-later
// The lenses of Tempo on the text as a whole: all commands by class with what they hit, and the files by use.
#pragma once

#include "app/shell/desk.hpp"
#include "core/constraints/command_list.hpp"

#include <QWidget>
#include <map>
#include <string>
#include <vector>

class QLabel;
class QLineEdit;
class QPushButton;
class QStackedWidget;
class QTreeWidget;
class QTreeWidgetItem;

namespace kp::app {

class CommandFormPage;

class CommandLens : public QWidget {
    Q_OBJECT
public:
    explicit CommandLens(Desk& desk);
    void refresh();
    [[nodiscard]] const std::vector<ListedCommand>& list() const { return list_; }
    /// The form of a command that is there, or of a new one.
    void open_form(const ListedCommand* command);
    /// Times the design without each exception, beside the window, and says what each hides.
    void review();

private:
    void ticked(QTreeWidgetItem* item);
    [[nodiscard]] QString reason_of(const ListedCommand& command) const;
    Desk& desk_;
    std::vector<ListedCommand> list_;
    QStackedWidget* pages_;
    CommandFormPage* form_;
    QTreeWidget* commands_;
    QLineEdit* filter_;
    QLabel* head_;
    std::map<std::string, QString> reviewed_;  ///< by file and text of the command
    bool filling_ = false;
};

}  // namespace kp::app
