// SPDX-License-Identifier: GPL-3.0-or-later
// Places come from line_merge (core/base); the choice of each is kept here until the whole is taken as one edit.
#include "app/shell/conflict_page.hpp"

#include "app/shell/counted.hpp"
#include "app/theme/text.hpp"
#include "app/theme/theme.hpp"
#include "core/base/bytes.hpp"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QShortcut>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace kp::app {

ConflictPage::ConflictPage(Desk& desk)
    : desk_(desk),
      heading_(new QLabel),
      what_(new QLabel),
      places_(new QTreeWidget),
      result_(new QPlainTextEdit),
      mine_(new QPushButton(tr("All as here"))),
      theirs_(new QPushButton(tr("All as on disk"))),
      turn_(new QPushButton(tr("Other side of this place"))),
      take_(new QPushButton(tr("Take this text"))),
      leave_(new QPushButton(tr("Decide later"))) {
    setObjectName("page");
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(20, 14, 16, 12);
    heading_->setProperty("role", "heading");
    heading_->setTextFormat(Qt::PlainText);
    what_->setWordWrap(true);
    what_->setProperty("role", "second");
    what_->setTextFormat(Qt::PlainText);
    all->addWidget(heading_);
    all->addWidget(what_);
    places_->setObjectName("conflict.places");
    places_->setHeaderLabels({tr("taken"), tr("here"), tr("on disk"), tr("before both")});
    places_->setRootIsDecorated(false);
    places_->setUniformRowHeights(false);
    places_->setColumnWidth(0, 90);
    places_->setColumnWidth(1, 380);
    places_->setColumnWidth(2, 380);
    places_->setAccessibleName(tr("Places where both changed the text"));
    all->addWidget(places_, 3);
    auto* after = new QLabel(tr("What that makes; it can be edited"));
    after->setProperty("role", "second");
    all->addWidget(after);
    result_->setObjectName("conflict.result");
    result_->setStyleSheet(QStringLiteral("font-family: \"%1\"; font-size: 12px;").arg(mono().family()));
    result_->setLineWrapMode(QPlainTextEdit::NoWrap);
    result_->setAccessibleName(tr("The merged text"));
    all->addWidget(result_, 4);
    auto* foot = new QHBoxLayout;
    mine_->setObjectName("conflict.mine");
    theirs_->setObjectName("conflict.theirs");
    turn_->setObjectName("conflict.turn");
    take_->setObjectName("conflict.take");
    take_->setProperty("primary", true);
    leave_->setObjectName("conflict.leave");
    for (auto* b : {take_, mine_, theirs_, turn_}) foot->addWidget(b);
    foot->addStretch(1);
    foot->addWidget(leave_);
    all->addLayout(foot);
    connect(mine_, &QPushButton::clicked, this, [this] { choose_all(MergeChoice::mine); });
    connect(theirs_, &QPushButton::clicked, this, [this] { choose_all(MergeChoice::theirs); });
    connect(turn_, &QPushButton::clicked, this, &ConflictPage::turn);
    connect(take_, &QPushButton::clicked, this, &ConflictPage::take);
    connect(leave_, &QPushButton::clicked, this, &ConflictPage::done);
    connect(places_, &QTreeWidget::itemActivated, this, &ConflictPage::turn);
    connect(places_, &QTreeWidget::itemDoubleClicked, this, &ConflictPage::turn);
    auto* space = new QShortcut(Qt::Key_Space, places_);
    space->setContext(Qt::WidgetShortcut);
    connect(space, &QShortcut::activated, this, &ConflictPage::turn);
}

QString ConflictPage::text_of(const std::string& lines) const {
    auto text = q(shown_text(lines));
    while (text.endsWith('\n') || text.endsWith('\r')) text.chop(1);
    return text;
}

bool ConflictPage::look() {
    if (!desk_.has_session()) return false;
    conflicts_ = desk_.session().document().conflicts();
    if (conflicts_.empty()) return false;
    const auto& c = conflicts_.front();
    pieces_ = merge_lines(c.base, c.mine, c.theirs);
    choices_.assign(static_cast<size_t>(
                        std::count_if(pieces_.begin(), pieces_.end(), [](const MergePiece& p) { return p.differs; })),
                    MergeChoice::mine);
    heading_->setText(tr("%1 was changed here and by another program")
                          .arg(q(one_line(c.name.empty() ? file_name_of(c.path) : c.name))));
    what_->setText((choices_.empty() ? tr("The changes are in different places, and both are in the text below.")
                                     : tr("%1 where both changed the text. What only one side changed is in the text "
                                          "below already. Space or Enter takes the other side of a place.")
                                           .arg(counted(static_cast<int>(choices_.size()), "place"))) +
                   tr(" Nothing is written before you save, and it can be undone.") +
                   (conflicts_.size() > 1
                        ? tr(" Then %1.").arg(counted(static_cast<int>(conflicts_.size()) - 1, "more file"))
                        : QString()));
    places_->clear();
    for (const auto& p : pieces_) {
        if (!p.differs) continue;
        auto* item = new QTreeWidgetItem(places_, {QString(), text_of(p.mine), text_of(p.theirs), text_of(p.base)});
        for (const int column : {1, 2, 3}) {
            item->setFont(column, mono(12));
            item->setToolTip(column, item->text(column));
            item->setTextAlignment(column, Qt::AlignTop);
        }
        item->setTextAlignment(0, Qt::AlignTop);
    }
    places_->setVisible(!choices_.empty());
    turn_->setVisible(!choices_.empty());
    if (places_->topLevelItemCount() > 0) places_->setCurrentItem(places_->topLevelItem(0));
    show_choice();
    (choices_.empty() ? static_cast<QWidget*>(take_) : places_)->setFocus();
    return true;
}

void ConflictPage::choose_all(MergeChoice choice) {
    // A side as a whole is that side to the byte, also where the other changed something else.
    std::fill(choices_.begin(), choices_.end(), choice);
    show_choice();
    const auto& c = conflicts_.front();
    result_->setPlainText(q(shown_text(choice == MergeChoice::mine ? c.mine : c.theirs)));
}

void ConflictPage::turn() {
    const int at = places_->indexOfTopLevelItem(places_->currentItem());
    if (at < 0 || static_cast<size_t>(at) >= choices_.size()) return;
    auto& choice = choices_[static_cast<size_t>(at)];
    choice = choice == MergeChoice::mine     ? MergeChoice::theirs
             : choice == MergeChoice::theirs ? MergeChoice::both
                                             : MergeChoice::mine;
    show_choice();
}

void ConflictPage::show_choice() {
    for (size_t i = 0; i < choices_.size(); ++i) {
        auto* item = places_->topLevelItem(static_cast<int>(i));
        item->setText(0, choices_[i] == MergeChoice::mine     ? tr("here")
                         : choices_[i] == MergeChoice::theirs ? tr("on disk")
                                                              : tr("both"));
        item->setForeground(0, theme().select);
        const auto fade = [&](int column, bool taken) {
            item->setForeground(column, taken ? theme().ink : theme().second);
        };
        fade(1, choices_[i] != MergeChoice::theirs);
        fade(2, choices_[i] != MergeChoice::mine);
        fade(3, false);
    }
    result_->setPlainText(q(shown_text(merged_text(pieces_, choices_))));
}

void ConflictPage::take() {
    const auto& c = conflicts_.front();
    // Whatever of it is one side's is that side's to the byte; only what was typed here is new.
    const auto shown = result_->toPlainText().toStdString();
    std::string text = merged_text(pieces_, choices_);
    for (const auto* side : {&c.mine, &c.theirs})
        if (q(shown_text(*side)).remove('\r') == q(shown)) text = *side;
    if (q(shown_text(text)).remove('\r') != q(shown))
        if (const auto change = change_to_show(text, shown))
            text.replace(change->offset, change->before.size(), change->after);
    if (!desk_.resolve(c, text)) return;
    if (!look()) emit done();
}

}  // namespace kp::app
