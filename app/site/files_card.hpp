// SPDX-License-Identifier: GPL-3.0-or-later
// The files of a project: what each is for, whether it is copied in or linked, and whether it is still what was read.
#pragma once

#include "app/shell/desk.hpp"

#include <QFrame>

class QPushButton;
class QTreeWidget;

namespace kp::app {

class FilesCard : public QFrame {
    Q_OBJECT
public:
    explicit FilesCard(Desk& desk);
    void refresh();
    /// Asks for files and takes them in. `copy`: into the project's folder, else linked.
    void add(const QStringList& files, bool copy);

signals:
    void read_again_wanted();
    /// An edit that needs to know which of several modules is the top.
    void top_wanted(const kp::Edit& edit, const std::vector<std::string>& modules);

private:
    void ask_and_add(bool copy);
    void remove_current();
    Desk& desk_;
    QTreeWidget* list_;
    QPushButton *copy_in_, *link_, *remove_, *again_;
};

}  // namespace kp::app
