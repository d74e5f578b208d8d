// SPDX-License-Identifier: GPL-3.0-or-later
// A new project on one page. What is typed is kept, so that it can be left half-done.
#pragma once

#include "app/shell/desk.hpp"
#include "core/inputs/new_project.hpp"

#include <QWidget>
#include <optional>

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;
class QVBoxLayout;

namespace kp::app {

class NewPage : public QWidget {
    Q_OBJECT
public:
    explicit NewPage(Desk& desk);
    /// Shows what was left, or an empty page.
    void begin();
    void add_sources(const QStringList& files);

signals:
    void done();

private:
    void name_fields();
    void follow_fields();
    [[nodiscard]] NewProject wanted() const;
    void changed();
    void look();
    void make();
    void keep() const;
    QWidget* form();

    Desk& desk_;
    Catalogue catalogue_;
    QLineEdit *folder_, *name_, *top_;
    QComboBox *part_, *board_;
    QListWidget* sources_;
    QCheckBox* copy_;
    QLabel *part_says_, *ports_say_;
    QVBoxLayout* troubles_;
    QPushButton *make_, *later_;
    std::optional<Result<PortList>> ports_;  ///< of the sources and the top in read_
    std::vector<std::string> read_;
    bool filling_ = false;
};

}  // namespace kp::app
