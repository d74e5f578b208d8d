// SPDX-License-Identifier: GPL-3.0-or-later
// Rows are the files of the world with the stamp they were read with; taking files in is one edit, told before.
// State: none.
#include "app/site/files_card.hpp"

#include "app/shell/counted.hpp"
#include "app/theme/text.hpp"
#include "app/theme/theme.hpp"
#include "app/shell/ask_files.hpp"
#include "core/inputs/new_project.hpp"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace kp::app {

namespace {
/// The field of the project that a file of this role stands in.
const char* field_of(const std::string& role) {
    return role == "netlist"  ? "netlists"
           : role == "source" ? "sources"
           : role == "cells"  ? "libraries"
           : role == "models" ? "models"
           : role == "delays" ? "delays"
                              : nullptr;
}
}  // namespace

FilesCard::FilesCard(Desk& desk)
    : desk_(desk),
      list_(new QTreeWidget),
      copy_in_(new QPushButton(tr("Copy a file in…"))),
      link_(new QPushButton(tr("Link a file…"))),
      remove_(new QPushButton(tr("Take out"))),
      again_(new QPushButton) {
    setProperty("card", true);
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(14, 8, 10, 8);
    auto* heading = new QLabel(tr("Files"));
    heading->setProperty("role", "heading");
    auto* top = new QHBoxLayout;
    top->addWidget(heading);
    top->addStretch(1);
    top->addWidget(again_);
    all->addLayout(top);
    list_->setColumnCount(3);
    list_->setHeaderHidden(true);
    list_->setRootIsDecorated(false);
    list_->setObjectName("site.files");
    list_->setAccessibleName(tr("Files of the project"));
    list_->header()->setStretchLastSection(true);
    list_->header()->resizeSection(0, 176);
    list_->header()->resizeSection(1, 92);
    all->addWidget(list_, 1);
    auto* foot = new QHBoxLayout;
    for (auto* b : {copy_in_, link_, remove_}) foot->addWidget(b);
    foot->addStretch(1);
    all->addLayout(foot);
    again_->setObjectName("site.again");
    again_->hide();
    remove_->setObjectName("site.takeout");
    copy_in_->setToolTip(tr("The file is copied into the project's folder and goes where the project goes"));
    link_->setToolTip(tr("The file stays where it is; the project names its path"));
    connect(copy_in_, &QPushButton::clicked, this, [this] { ask_and_add(true); });
    connect(link_, &QPushButton::clicked, this, [this] { ask_and_add(false); });
    connect(remove_, &QPushButton::clicked, this, [this] { remove_current(); });
    connect(again_, &QPushButton::clicked, this, [this] { emit read_again_wanted(); });
    connect(list_, &QTreeWidget::currentItemChanged, this, [this](QTreeWidgetItem* now) {
        remove_->setEnabled(now && !now->data(0, Qt::UserRole).toString().isEmpty());
    });
}

void FilesCard::refresh() {
    list_->clear();
    for (auto* b : {copy_in_, link_}) b->setEnabled(desk_.has_session());
    remove_->setEnabled(false);
    if (!desk_.has_session()) return again_->hide();
    const auto& s = desk_.session();
    const auto changed = desk_.changed_on_disk();
    const auto row = [&](const std::string& path, const QString& role, const QString& state, const QString& field,
                         bool trouble) {
        auto* item = new QTreeWidgetItem({q(path), role, state});
        item->setFont(0, mono(12));
        item->setToolTip(0, q(path));
        item->setToolTip(2, state);
        item->setData(0, Qt::UserRole, field);
        item->setForeground(1, theme().second);
        item->setForeground(2, trouble ? theme().caution : theme().second);
        list_->addTopLevelItem(item);
    };
    for (const auto& f : s.world().files) {
        const bool other = std::find(changed.begin(), changed.end(), f.path) != changed.end();
        const bool gone = other && !real_disk().exists(f.full);
        const QString place = f.with_program ? tr("ships with the program")
                              : f.linked()   ? tr("linked")
                                             : tr("copied in");
        row(f.path, q(f.role),
            gone    ? tr("%1 · no longer there").arg(place)
            : other ? tr("%1 · changed on disk").arg(place)
                    : place,
            f.with_program && f.role != "cells" ? QString() : QLatin1String(field_of(f.role) ? field_of(f.role) : ""),
            other);
    }
    for (const auto& f : s.project().constraints) {
        const bool other = std::find(changed.begin(), changed.end(), f.path) != changed.end();
        const QString use = f.receives ? tr("new commands go here") : f.analysis ? tr("in use") : tr("off");
        row(f.path, tr("constraints"), other ? tr("%1 · changed on disk").arg(use) : use, QStringLiteral("constraints"),
            other);
    }
    for (const auto& m : s.project().modules) row(m, tr("module"), tr("fitted"), QStringLiteral("modules"), false);
    again_->setVisible(!changed.empty() || !s.watcher().port_changes().empty());
    again_->setText(changed.empty() ? tr("The ports changed…")
                                    : tr("%1 changed on disk…").arg(counted(static_cast<int>(changed.size()), "file")));
}

void FilesCard::ask_and_add(bool copy) {
    if (!desk_.has_session()) return;
    add(ask_files(this, copy ? tr("Copy files in") : tr("Link files"), {},
                  tr("Design files (*.v *.sv *.vhd *.vhdl *.lib *.sdf *.sdc);;All files (*)")),
        copy);
}

void FilesCard::add(const QStringList& files, bool copy) {
    const auto& s = desk_.session();
    std::vector<std::string> paths;
    for (const auto& file : files) paths.push_back(file.toStdString());
    // Whoever links a file by hand allows it.
    if (!copy && !desk_.allow(paths)) return;
    std::vector<std::string> copied;
    const auto edit =
        add_files(real_disk(), s.project(), s.document().folder(), paths, copy, s.world().library, &copied);
    Project next = s.project();
    if (!edit) return desk_.say(q(edit.first().sentence()), true);
    if (auto status = kp::apply(next, edit.value()); !status) return desk_.say(q(status.first().sentence()), true);
    // Several modules that none other uses: which of them is the design has to be said before it can be read.
    std::vector<std::string> hdl;
    for (const auto& path : next.netlists.empty() ? next.sources : next.netlists)
        hdl.push_back(join_path(s.document().folder(), path));
    if (!hdl.empty()) {
        const auto trial = load_ports(real_disk(), hdl, PortRequest{next.top, next.defines, {}, {}});
        if (!trial && trial.first().code == Code::top)
            return emit top_wanted(edit.value(), module_names(real_disk(), hdl));
    }
    // What was refused leaves nothing behind.
    desk_.apply(edit.value(), {}, [copied] {
        for (const auto& file : copied) static_cast<void>(real_disk().remove(file));
    });
}

void FilesCard::remove_current() {
    auto* item = list_->currentItem();
    if (!item || !desk_.has_session()) return;
    const auto field = item->data(0, Qt::UserRole).toString().toStdString();
    const auto path = item->text(0).toStdString();
    const auto& p = desk_.session().project();
    Edit edit{"take " + path + " out", {}};
    if (field == "constraints") {
        Project next = p;
        std::erase_if(next.constraints, [&](const SdcFile& f) { return f.path == path; });
        edit = difference_edit(p, next, edit.title);  // undo puts it back in its place
    } else if (field == "delays") {
        edit.changes.push_back(set_field(p, field, ""));
    } else {
        auto lines = list_of(field_text(p, field));
        lines.erase(std::remove(lines.begin(), lines.end(), path), lines.end());
        edit.changes.push_back(set_field(p, field, lines_of(lines)));
    }
    desk_.apply(edit);
}

}  // namespace kp::app
