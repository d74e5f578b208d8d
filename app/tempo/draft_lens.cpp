// SPDX-License-Identifier: GPL-3.0-or-later
// Drafting is a job; lines are ticked here and added in one edit. State: the draft until the session changes, and
// the ticks.
#include "app/tempo/draft_lens.hpp"

#include "app/shell/counted.hpp"
#include "app/theme/text.hpp"
#include "app/theme/theme.hpp"
#include "core/base/text.hpp"
#include "core/model/receiving_file.hpp"
#include "core/model/sdc_words.hpp"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTreeWidget>
#include <QVBoxLayout>

namespace kp::app {

DraftLens::DraftLens(Desk& desk)
    : desk_(desk),
      lines_(new QTreeWidget),
      head_(new QLabel),
      why_(new QLabel),
      make_(new QPushButton(tr("Draft"))),
      take_(new QPushButton(tr("Take what is ticked"))) {
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(14, 8, 14, 6);
    head_->setWordWrap(true);
    box->addWidget(head_);
    lines_->setObjectName("tempo.draft.lines");
    lines_->setAccessibleName(tr("Lines of the draft, each with its reason"));
    lines_->setHeaderLabels({tr("line"), tr("why")});
    lines_->setColumnWidth(0, 560);
    box->addWidget(lines_, 1);
    why_->setWordWrap(true);
    why_->setProperty("role", "second");
    box->addWidget(why_);
    auto* row = new QHBoxLayout;
    make_->setObjectName("tempo.draft.make");
    take_->setObjectName("tempo.draft.take");
    take_->setProperty("primary", true);
    row->addStretch(1);
    row->addWidget(make_);
    row->addWidget(take_);
    box->addLayout(row);
    connect(make_, &QPushButton::clicked, this, &DraftLens::draft);
    connect(take_, &QPushButton::clicked, this, &DraftLens::take);
    connect(lines_, &QTreeWidget::itemChanged, this, [this] {
        if (!filling_) count();
    });
    connect(lines_, &QTreeWidget::currentItemChanged, this,
            [this](const QTreeWidgetItem* item) { why_->setText(item ? item->toolTip(0) : QString()); });
    connect(&desk_, &Desk::opened, this, [this] {
        draft_.reset();
        show_lines();
    });
}

void DraftLens::refresh() {
    if (!draft_) show_lines();
    count();
}

void DraftLens::draft() {
    if (!desk_.has_session()) return;
    make_->setEnabled(false);
    head_->setText(tr("Drafting: clocks, ports, relations, and what is left over …"));
    desk_.later<Result<Draft>>(
        "draft", this,
        [](const std::shared_ptr<const Snapshot>& now, const std::stop_token& stop) {
            return draft_sdc(*now->world, *now->project, now->grounds->folder, now->grounds->options, stop);
        },
        [this, of = desk_.session().revision()](Result<Draft> made) {
            make_->setEnabled(true);
            if (!made) {
                head_->setText(q(made.first().text));
                return;
            }
            of_ = of;
            draft_ = made.take();
            show_lines();
        });
}

void DraftLens::show_lines() {
    filling_ = true;
    lines_->clear();
    const bool empty = !desk_.has_session() || desk_.session().analysis().constraints().commands.empty();
    QTreeWidgetItem* section = nullptr;
    if (draft_)
        for (size_t i = 0; i < draft_->lines.size(); ++i) {
            const auto& line = draft_->lines[i];
            if (!section || section->text(0) != q(line.section)) {
                section = new QTreeWidgetItem(lines_, {q(line.section)});
                section->setFont(0, words(12.5, true));
                section->setFirstColumnSpanned(true);
                section->setExpanded(true);
            }
            const auto why = line.assumed ? tr("assumed: %1").arg(q(line.why)) : q(line.why);
            auto* item = new QTreeWidgetItem(section, {q(line.text), why});
            item->setFont(0, mono(11.5));
            item->setData(0, Qt::UserRole, static_cast<int>(i));
            item->setCheckState(0, empty ? Qt::Checked : Qt::Unchecked);
            item->setToolTip(0, q(line.text) + QLatin1Char('\n') + why);
            item->setToolTip(1, why);
            if (line.assumed) item->setForeground(1, theme().caution);
        }
    filling_ = false;
    count();
}

void DraftLens::count() {
    int ticked = 0, all = 0, assumed = 0;
    for (int s = 0; s < lines_->topLevelItemCount(); ++s)
        for (int i = 0; i < lines_->topLevelItem(s)->childCount(); ++i) {
            ++all;
            ticked += lines_->topLevelItem(s)->child(i)->checkState(0) == Qt::Checked;
        }
    take_->setEnabled(ticked > 0);
    take_->setText(all == 0 ? tr("Take what is ticked") : tr("Take %1 of %2").arg(ticked).arg(all));
    if (!draft_)
        return head_->setText(
            tr("A first constraint text from what is known: clocks of the board and the netlist, delays "
               "from budgets, exceptions with their reasons. Nothing is written before you take it."));
    for (const auto& line : draft_->lines) assumed += line.assumed;
    const auto& c = draft_->coverage;
    QString head =
        tr("With all lines %1 of %2 are constrained.").arg(c.constrained).arg(counted(c.endpoints, "endpoint"));
    if (assumed > 0) head += QLatin1Char(' ') + tr("%1 based on assumptions.").arg(counted(assumed, "line"));
    const auto there =
        desk_.has_session() ? static_cast<int>(desk_.session().analysis().constraints().commands.size()) : 0;
    if (there > 0)
        head += QLatin1Char(' ') + tr("The text has %1 already, so nothing was ticked.").arg(counted(there, "command"));
    head_->setText(head);
}

void DraftLens::take() {
    if (!draft_ || !desk_.has_session()) return;
    std::vector<DraftLine> wanted;
    for (int s = 0; s < lines_->topLevelItemCount(); ++s)
        for (int i = 0; i < lines_->topLevelItem(s)->childCount(); ++i) {
            const auto* item = lines_->topLevelItem(s)->child(i);
            if (item->checkState(0) == Qt::Checked)
                wanted.push_back(draft_->lines[static_cast<size_t>(item->data(0, Qt::UserRole).toInt())]);
        }
    const auto& session = desk_.session();
    const auto* file = receiving_file(session.project(), session.analysis().constraints());
    if (wanted.empty()) return;
    if (!file) return desk_.say(tr("There is no constraint file for new commands yet; make one first."), true);
    const auto text = draft_text(wanted, "first draft");
    const auto insertion = sdc::append_command(file->text, text.substr(0, text.find_last_not_of('\n') + 1));
    desk_.apply(Edit{"take " + kp::counted(wanted.size(), "line") + " of the draft",
                     {TextChange{file->path, insertion.offset, "", insertion.text}}});
}

}  // namespace kp::app
