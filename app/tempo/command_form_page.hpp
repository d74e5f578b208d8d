// SPDX-License-Identifier: GPL-3.0-or-later
// A form for any command of the table: a row for each option, a picker of objects, and one edit of one command.
#pragma once

#include "app/shell/desk.hpp"
#include "core/constraints/command_form.hpp"

#include <QWidget>
#include <optional>
#include <vector>

class QCheckBox;
class QComboBox;
class QFormLayout;
class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;
class QScrollArea;

namespace kp::app {

class CommandFormPage : public QWidget {
    Q_OBJECT
public:
    explicit CommandFormPage(Desk& desk);
    /// A command that is there, or a new one of the name that is chosen.
    void show_command(const ListedCommand& command);
    void begin(const std::string& name);
    void write();

signals:
    void done();

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void fill();
    void fill_objects();
    void put_objects();
    [[nodiscard]] CommandForm typed() const;
    [[nodiscard]] ObjectKind picked_kind() const;
    struct Line {
        QCheckBox* given = nullptr;
        QLineEdit* value = nullptr;
    };
    Desk& desk_;
    std::optional<CommandForm> form_;
    std::vector<Line> lines_;
    QLineEdit* target_ = nullptr;  ///< the field that the picker fills
    QComboBox *name_, *kind_;
    QLabel *help_, *count_;
    QWidget* fields_ = nullptr;
    QScrollArea* scroll_;
    QLineEdit* filter_;
    QListWidget* objects_;
    QPushButton *write_, *put_;
    bool filling_ = false;
};

}  // namespace kp::app
