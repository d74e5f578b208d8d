// SPDX-License-Identifier: GPL-3.0-or-later
// Shows a Rereading (core/session/watcher) and takes it as one edit; which renames are accepted lives here.
#include "app/site/reread_page.hpp"

#include "app/theme/text.hpp"
#include "app/theme/theme.hpp"
#include "core/base/text.hpp"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QTreeWidget>
#include <QVBoxLayout>

namespace kp::app {

namespace {
constexpr int rename_role = Qt::UserRole;
}  // namespace

RereadPage::RereadPage(Desk& desk)
    : desk_(desk),
      what_(new QLabel),
      list_(new QTreeWidget),
      take_(new QPushButton(tr("Take over"))),
      leave_(new QPushButton(tr("Leave as it is"))) {
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(20, 14, 16, 12);
    auto* heading = new QLabel(tr("What changed on disk"));
    heading->setProperty("role", "heading");
    all->addWidget(heading);
    what_->setWordWrap(true);
    what_->setProperty("role", "second");
    all->addWidget(what_);
    list_->setHeaderHidden(true);
    list_->setRootIsDecorated(false);
    list_->setWordWrap(true);
    list_->setAccessibleName(tr("Changes, renames to be confirmed"));
    list_->setObjectName("reread.list");
    all->addWidget(list_, 1);
    auto* foot = new QHBoxLayout;
    take_->setObjectName("reread.take");
    foot->addWidget(take_);
    foot->addWidget(leave_);
    foot->addStretch(1);
    all->addLayout(foot);
    connect(take_, &QPushButton::clicked, this, &RereadPage::take);
    connect(leave_, &QPushButton::clicked, this, &RereadPage::done);
}

void RereadPage::look() {
    desk_.reread(this, [this](Rereading reading) {
        reading_ = std::move(reading);
        show_reading();
        emit ready();
        take_->setFocus();
    });
}

void RereadPage::show_reading() {
    const auto& s = desk_.session();
    constraints_ = s.watcher().changed_own_files();
    std::erase(constraints_, file_name_of(s.document().path()));
    // Against the ports last accepted, so that a change made while the project was closed is in the same list.
    merge_ = compare_ports(accepted_ports(s.project(), s.world().netlist.ports),
                           group_ports(reading_->world->netlist.ports));
    reading_->merge = merge_;
    list_->clear();
    const auto row = [&](const QString& text) {
        auto* item = new QTreeWidgetItem({text});
        list_->addTopLevelItem(item);
        return item;
    };
    const auto sentences = merge_.sentences();
    const size_t first = merge_.added.size() + merge_.removed.size();
    for (size_t i = 0; i < sentences.size(); ++i) {
        auto* item = row(q(sentences[i]));
        if (i < first || i >= first + merge_.renamed.size()) continue;
        item->setCheckState(0, Qt::Checked);
        item->setData(0, rename_role, static_cast<int>(i - first));
        item->setToolTip(0, tr("Ticked: pegs, attributes, waivers and constraint lines go on under the new name"));
    }
    for (const auto& path : constraints_) {
        auto* item = row(tr("%1 has other text on disk. Ticked: it is taken over, and what was typed here since the "
                            "last save is left.")
                             .arg(q(path)));
        item->setCheckState(0, Qt::Checked);
    }
    if (list_->topLevelItemCount() == 0)
        row(reading_->files.empty() ? tr("Nothing changed.")
                                    : tr("The ports are the same; only what is inside changed."));
    what_->setText(
        reading_->files.empty()
            ? tr("The files are as they were read.")
            : tr("%1. Nothing has been taken over yet. Pegs, attributes, waivers and constraints stay with their "
                 "ports; a ticked rename carries them to the new name, in one step that can be undone.")
                  .arg(q(list_names(reading_->files, 5))));
}

void RereadPage::take() {
    if (!reading_) return;
    std::vector<PortRename> renames;
    std::vector<std::string> texts;
    size_t text = 0;
    for (int i = 0; i < list_->topLevelItemCount(); ++i) {
        const auto* item = list_->topLevelItem(i);
        const auto at = item->data(0, rename_role);
        const bool ticked = item->checkState(0) == Qt::Checked;
        if (at.isValid() && ticked) renames.push_back(merge_.renamed[at.toUInt()]);
        if (!at.isValid() && item->data(0, Qt::CheckStateRole).isValid() && text < constraints_.size()) {
            if (ticked) texts.push_back(constraints_[text]);
            ++text;
        }
    }
    if (desk_.accept(*reading_, renames, texts)) {
        reading_.reset();
        emit done();
    }
}

}  // namespace kp::app
