// SPDX-License-Identifier: GPL-3.0-or-later
// Budgets are asked of core/constraints at every state of the session; terms are fields of the project, lines are
// edits of the text. State: which group is chosen.
#include "app/tempo/budget_lens.hpp"

#include "app/shell/chooser.hpp"
#include "app/shell/counted.hpp"
#include "app/shell/row_sync.hpp"
#include "app/tempo/budget_bars.hpp"
#include "app/theme/text.hpp"
#include "core/base/text.hpp"
#include "core/constraints/budget_edits.hpp"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace kp::app {

namespace {

QString term_number(double value) {
    return q(fixed(value, 3)).replace(QLatin1Char('-'), QStringLiteral("−"));
}

/// How the constraints stand to a budget, in a word.
QString standing(const clocks::Budget& b) {
    if (b.agrees()) return QObject::tr("as written");
    if (b.sdc.empty()) return QObject::tr("needs a clock");
    return b.in_force ? QObject::tr("differs") : b.excluded ? QObject::tr("taken out") : QObject::tr("missing");
}

}  // namespace

BudgetLens::BudgetLens(Desk& desk)
    : desk_(desk),
      groups_(new QTreeWidget),
      bars_(new BudgetBars),
      head_(new QLabel),
      lines_(new QLabel),
      take_(new QPushButton(tr("Write its lines"))),
      take_all_(new QPushButton(tr("Write all"))),
      link_(new QPushButton(tr("Follow the board"))),
      add_(new QPushButton(tr("Add a term…"))) {
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(14, 8, 14, 6);
    groups_->setObjectName("tempo.budgets");
    groups_->setAccessibleName(tr("Groups of ports with a budget"));
    groups_->setHeaderLabels({tr("group"), tr("clock"), tr("most"), tr("least"), tr("text")});
    groups_->setRootIsDecorated(false);
    box->addWidget(groups_, 4);
    head_->setWordWrap(true);
    head_->setProperty("role", "second");
    box->addWidget(head_);
    auto* scroll = new QScrollArea;
    scroll->setWidget(bars_);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    box->addWidget(scroll, 5);
    auto* row = new QHBoxLayout;
    for (auto* b : {add_, link_}) row->addWidget(b);
    row->addStretch(1);
    for (auto* b : {take_all_, take_}) row->addWidget(b);
    box->addLayout(row);
    take_->setProperty("primary", true);
    take_->setObjectName("tempo.budget.take");
    take_all_->setObjectName("tempo.budget.take_all");
    take_all_->setToolTip(tr("Writes the lines of every group whose text is missing or differs"));
    link_->setObjectName("tempo.budget.link");
    link_->setCheckable(true);
    link_->setToolTip(tr("Its lines are written again when the board changes"));
    add_->setObjectName("tempo.budget.add");
    connect(groups_, &QTreeWidget::currentItemChanged, this, [this] {
        if (!filling_) show_group();
    });
    connect(groups_, &QTreeWidget::itemActivated, this, [this] { take(); });
    connect(bars_, &BudgetBars::term_wanted, this, &BudgetLens::ask_term);
    connect(take_, &QPushButton::clicked, this, &BudgetLens::take);
    connect(take_all_, &QPushButton::clicked, this, &BudgetLens::take_all);
    connect(link_, &QPushButton::clicked, this, &BudgetLens::link);
    connect(add_, &QPushButton::clicked, this, [this] { ask_term({}); });
}

const clocks::Budget* BudgetLens::group() const {
    const auto* item = groups_->currentItem();
    const auto at = item ? item->data(0, Qt::UserRole).toInt() : -1;
    return at >= 0 && at < static_cast<int>(list_.size()) ? &list_[static_cast<size_t>(at)] : nullptr;
}

void BudgetLens::refresh() {
    filling_ = true;
    list_ = budgets_of(desk_.session());
    // Promises before what makes none.
    std::stable_partition(list_.begin(), list_.end(),
                          [](const clocks::Budget& b) { return b.arrangement != clocks::Arrangement::asynchronous; });
    std::vector<Row> rows;
    int open = 0;
    for (size_t i = 0; i < list_.size(); ++i) {
        const auto& b = list_[i];
        const bool timed = b.arrangement != clocks::Arrangement::asynchronous;
        const bool agrees = b.agrees();
        open += !agrees && !b.sdc.empty();
        Row row{q(b.name),
                {q(b.name), timed ? (b.clock.empty() ? tr("none yet") : q(b.clock)) : QStringLiteral("—"),
                 timed ? term_number(b.max) : QString(), timed ? term_number(b.min) : QString(), standing(b)}};
        row.dress = [i, agrees, tip = q(list_names(b.ports, 12))](QTreeWidgetItem* item) {
            item->setData(0, Qt::UserRole, static_cast<int>(i));
            item->setToolTip(0, tip);
            for (const int c : {2, 3}) item->setTextAlignment(c, Qt::AlignRight | Qt::AlignVCenter);
            for (const int c : {0, 1, 2, 3}) item->setFont(c, mono(12));
            item->setForeground(4, agrees ? theme().good : theme().caution);
        };
        rows.push_back(std::move(row));
    }
    sync_rows(groups_, rows);
    for (const auto& [column, width] : {std::pair{0, 130}, std::pair{1, 86}, std::pair{2, 70}, std::pair{3, 70}})
        groups_->setColumnWidth(column, width);
    if (!groups_->currentItem()) groups_->setCurrentItem(groups_->topLevelItem(0));
    take_all_->setText(tr("Write all %1").arg(open));
    take_all_->setEnabled(open > 0);
    filling_ = false;
    show_group();
}

void BudgetLens::show_group() {
    const auto* b = group();
    bars_->show_budget(b ? std::optional(*b) : std::nullopt);
    for (auto* button : {take_, link_, add_}) button->setEnabled(b != nullptr);
    if (!b) return head_->setText(tr("No port takes part in timing yet: a netlist, pegs and clocks come first."));
    take_->setEnabled(!b->sdc.empty() && !b->agrees());
    link_->setChecked(b->linked);
    const auto edges = b->rise && b->fall ? tr(", both edges") : b->fall ? tr(", falling edge") : QString();
    QString head = counted(static_cast<int>(b->ports.size()), "port") + QStringLiteral(" · ") +
                   QLatin1String(clocks::name_of(b->arrangement)) + edges + QStringLiteral(": ") + q(b->why) +
                   QStringLiteral(".");
    if (b->in_force && !b->agrees())
        head += QLatin1Char(' ') +
                tr("The text says %1 and %2 now.").arg(term_number(b->in_force->max), term_number(b->in_force->min));
    if (const auto trouble = clocks::budget_trouble(desk_.session().project()))
        head += QLatin1Char(' ') + q(*trouble) + QLatin1Char(' ') + tr("It is left out here.");
    head_->setText(head);
    head_->setToolTip([&] {
        QString all;
        for (const auto& line : b->sdc) all += q(line) + QLatin1Char('\n');
        return all.trimmed();
    }());
}

void BudgetLens::write(const clocks::Budget& budget, std::function<void()> then) {
    desk_.when_analysed([this, name = budget.name, then = std::move(then)] {
        // The text may have been read again meanwhile; the budget of now is the one to write.
        for (const auto& now : budgets_of(desk_.session())) {
            if (now.name != name || now.agrees()) continue;
            auto edit = take_budget(desk_.session(), now);
            if (!edit) return desk_.say(q(edit.first().text), true);
            if (!edit.value().note.empty()) desk_.say(q(edit.value().note));
            if (desk_.apply(edit.value().edit) && then) then();
            return;
        }
        if (then) then();
    });
}

void BudgetLens::take() {
    if (const auto* b = group(); b && desk_.has_session()) write(*b, {});
}

/// One after the other: the places of the next are known only when the text was read again.
void BudgetLens::take_all() {
    if (!desk_.has_session()) return;
    desk_.when_analysed([this] {
        for (const auto& b : budgets_of(desk_.session()))
            if (!b.agrees() && !b.sdc.empty()) {
                auto edit = take_budget(desk_.session(), b);
                if (!edit) return desk_.say(q(edit.first().text), true);
                if (desk_.apply(edit.value().edit)) take_all();
                return;
            }
    });
}

void BudgetLens::ask_term(const QString& what) {
    const auto* b = group();
    if (!b) return;
    const auto set = [this, name = b->name](const std::string& term, const QString& text) {
        const auto& p = desk_.session().project();
        const auto after = clocks::with_term(p, name, term, text.toStdString());
        if (!after) return desk_.say(tr("A term is one number of ns, or its most and its least: 0.3 -0.1"), true);
        desk_.apply(Edit{term + " of " + name, {set_field(p, "budgets", field_text(*after))}});
    };
    if (what.isEmpty()) {
        std::vector<Chooser::Item> items;
        for (const auto* term : clocks::user_terms) {
            const auto name = QString::fromLatin1(term);
            items.push_back({name, tr("most and least, ns"), [this, name] { ask_term(name); }});
        }
        return desk_.choose(tr("a term of %1").arg(q(b->name)), std::move(items),
                            [this](const QString& name) { ask_term(name); });
    }
    const auto term = what.toStdString();
    QString now;
    for (const auto& t : b->terms)
        if (t.what == term) now = q(shortest(t.max) + (t.min == t.max ? "" : " " + shortest(t.min)));
    std::vector<Chooser::Item> items;
    if (desk_.session().project().budgets.contains(b->name + "." + term))
        items.push_back({tr("take it back"), tr("as the board has it"), [set, term] { set(term, {}); }});
    desk_.choose(
        tr("%1 of %2: most and least, ns").arg(what, q(b->name)), std::move(items),
        [set, term](const QString& text) { set(term, text); }, now);
}

void BudgetLens::link() {
    const auto* b = group();
    if (!b) return;
    const auto& p = desk_.session().project();
    const auto after = clocks::with_term(p, b->name, "linked", b->linked ? "" : "yes");
    if (after)
        desk_.apply(Edit{(b->linked ? "unlink " : "link ") + b->name, {set_field(p, "budgets", field_text(*after))}});
}

}  // namespace kp::app
