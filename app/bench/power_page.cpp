// SPDX-License-Identifier: GPL-3.0-or-later
// Ticks are edits of the project (power_notes), so that they are undone and saved like all else; the page itself
// keeps only what is folded.
#include "app/bench/power_page.hpp"

#include "app/shell/counted.hpp"
#include "app/theme/text.hpp"
#include "app/theme/theme.hpp"
#include "core/model/by_hand.hpp"
#include "core/planning/before_power.hpp"

#include <QLabel>
#include <QListWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace kp::app {

PowerPage::PowerPage(Desk& desk) : desk_(desk), list_(new QListWidget), says_(new QLabel) {
    list_->setObjectName("bench.power");
    list_->setAccessibleName(tr("To check before power is switched on"));
    list_->setWordWrap(true);
    list_->setResizeMode(QListView::Adjust);
    list_->setSpacing(2);
    says_->setWordWrap(true);
    says_->setObjectName("bench.notes");
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 6, 0, 0);
    all->addWidget(says_);
    all->addWidget(list_, 1);
    connect(list_, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
        if (!filling_) ticked(item);
    });
}

void PowerPage::refresh() {
    if (!desk_.has_session()) return;
    const auto& s = desk_.session();
    struct Line {
        std::string text;
        bool done;
    };
    std::vector<Line> lines;
    for (const auto& n : power_notes(s.world().board, s.project())) lines.push_back({n.text, n.done});
    for (auto& text : before_power(s.world().board, s.world().part, s.project()))
        if (std::none_of(lines.begin(), lines.end(), [&](const Line& l) { return l.text == text; }))
            lines.push_back({std::move(text), false});
    filling_ = true;
    const auto row = std::max(0, list_->currentRow());
    list_->clear();
    open_ = 0;
    for (const auto& line : lines) {
        auto* item = new QListWidgetItem(q(line.text), list_);
        item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable);
        item->setCheckState(line.done ? Qt::Checked : Qt::Unchecked);
        if (line.done) item->setForeground(theme().second);
        open_ += !line.done;
    }
    if (row < list_->count()) list_->setCurrentRow(row);
    filling_ = false;
    says_->setText(open_ ? tr("Before power is switched on: %1 to check. Ticks stay with the project and go into the "
                              "handoff.")
                               .arg(counted(open_, "thing"))
                         : tr("Everything is checked before power is switched on."));
}

void PowerPage::ticked(QListWidgetItem* item) {
    const auto text = item->text().toStdString();
    const auto tick = item->checkState() == Qt::Checked ? Tick::done : Tick::open;
    // The list is filled anew by what follows; the item is gone then.
    QMetaObject::invokeMethod(
        this,
        [this, text, tick] {
            const auto& now = desk_.session();
            desk_.apply(Edit{"before power-on: " + text,
                             {set_field(now.project(), "power_notes",
                                        field_text(with_power_note(now.world().board, now.project(), text, tick)))}});
        },
        Qt::QueuedConnection);
}

}  // namespace kp::app
