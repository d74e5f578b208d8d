// SPDX-License-Identifier: GPL-3.0-or-later
// What is not timed, and the line that would time it: the lens of Tempo that shows gaps.
#include "app/tempo/tempo_station.hpp"

#include "app/shell/counted.hpp"
#include "app/tempo/sdc_editor.hpp"
#include "app/theme/text.hpp"
#include "core/base/text.hpp"
#include "core/constraints/budget_edits.hpp"
#include "core/constraints/forms.hpp"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <optional>

namespace kp::app {

namespace {
/// The budget that an untimed port is in, when it can be written.
std::optional<clocks::Budget> budget_of(const Session& s, const UntimedObject& u) {
    if (!u.port) return std::nullopt;
    for (auto& b : budgets_of(s))
        if (!b.sdc.empty() && !b.agrees() && std::find(b.ports.begin(), b.ports.end(), u.object) != b.ports.end())
            return b;
    return std::nullopt;
}
}  // namespace

QWidget* TempoStation::make_coverage_lens() {
    auto* page = new QWidget;
    auto* box = new QVBoxLayout(page);
    box->setContentsMargins(14, 8, 14, 6);
    coverage_head_ = new QLabel;
    coverage_head_->setWordWrap(true);
    coverage_ = new QTreeWidget;
    coverage_->setObjectName("tempo.coverage.list");
    coverage_->setHeaderLabels({tr("object"), tr("why it is unconstrained")});
    coverage_->setRootIsDecorated(false);
    gap_ = new QPushButton(tr("Add the proposed line"));
    gap_->setObjectName("tempo.coverage.add");
    gap_->setProperty("primary", true);
    box->addWidget(coverage_head_);
    box->addWidget(coverage_, 1);
    auto* row = new QHBoxLayout;
    gap_asks_ = new QLabel;
    gap_asks_->setWordWrap(true);
    gap_asks_->setProperty("role", "second");
    gap_number_ = new QLineEdit;
    gap_number_->setObjectName("tempo.coverage.number");
    gap_number_->setPlaceholderText(tr("ns"));
    gap_number_->setMaximumWidth(80);
    row->addWidget(gap_asks_, 1);
    row->addWidget(gap_number_);
    row->addWidget(gap_);
    box->addLayout(row);
    connect(gap_, &QPushButton::clicked, this, &TempoStation::take_gap);
    connect(gap_number_, &QLineEdit::returnPressed, this, &TempoStation::take_gap);
    connect(coverage_, &QTreeWidget::currentItemChanged, this, [this](QTreeWidgetItem* item) {
        if (item && item->data(0, Qt::UserRole + 1).toBool() && !filling_)
            desk_.select({QStringLiteral("port"), item->text(0)});
        if (!filling_ && desk_.has_session()) show_gap();
    });
    return page;
}

void TempoStation::fill_coverage() {
    filling_ = true;
    const auto& c = desk_.session().analysis().timing().coverage;
    QString head = tr("%1 of %2 constrained, %3 of them taken out on purpose.")
                       .arg(c.constrained)
                       .arg(counted(c.endpoints, "endpoint"))
                       .arg(c.excluded);
    std::map<std::string, int> without;
    for (const auto& e : c.left_out) ++without[e.why];
    for (const auto& [why, n] : without)
        head += QLatin1Char(' ') + tr("%1 without a check: %2.").arg(counted(n, "pin"), q(why));
    coverage_head_->setText(head);
    std::vector<Row> rows;
    for (size_t i = 0; i < c.untimed.size(); ++i) {
        const auto& u = c.untimed[i];
        if (u.endpoint) continue;  // what stands above it is the cause
        Row row{q(u.object + " " + u.ask),
                {q(u.object), q(u.why) + (u.suggest.empty() ? QString() : QStringLiteral("\n") + q(u.suggest))}};
        row.dress = [i, port = u.port, tip = q(u.suggest)](QTreeWidgetItem* item) {
            item->setData(0, Qt::UserRole, static_cast<int>(i));
            item->setData(0, Qt::UserRole + 1, port);
            item->setFont(0, mono(12));
            item->setToolTip(1, tip);
        };
        rows.push_back(std::move(row));
    }
    sync_rows(coverage_, rows);
    if (!coverage_->currentItem()) coverage_->setCurrentItem(coverage_->topLevelItem(0));
    show_gap();
    filling_ = false;
}

void TempoStation::take_gap() {
    const auto* item = coverage_->currentItem();
    if (!item || !desk_.has_session()) return;
    const auto& list = desk_.session().analysis().timing().coverage.untimed;
    const auto at = static_cast<size_t>(item->data(0, Qt::UserRole).toInt());
    if (at >= list.size() || list[at].suggest.empty()) return;
    const UntimedObject u = list[at];
    // What the board says of the port comes before a number that somebody would have to know.
    if (const auto budget = budget_of(desk_.session(), u); budget && gap_number_->text().trimmed().isEmpty()) {
        auto edit = take_budget(desk_.session(), *budget);
        if (!edit) return desk_.say(q(edit.first().text), true);
        if (!edit.value().note.empty()) desk_.say(q(edit.value().note));
        desk_.apply(edit.value().edit);
        return;
    }
    auto line = u.suggest;
    if (!u.ask.empty()) {
        // Only the user knows this number.
        const auto number = gap_number_->text().trimmed().replace(',', '.').toStdString();
        if (!to_number(number)) {
            gap_number_->setFocus();
            return desk_.say(tr("A number is needed: %1.").arg(q(u.ask)), true);
        }
        line.replace(line.find(number_wanted), std::string_view(number_wanted).size(), number);
    }
    if (desk_.apply(add_line(desk_.session(), line, "add a line for " + u.object, u.clock))) gap_number_->clear();
}

void TempoStation::show_gap() {
    const auto* item = coverage_->currentItem();
    const auto& list = desk_.session().analysis().timing().coverage.untimed;
    const auto at = item ? static_cast<size_t>(item->data(0, Qt::UserRole).toInt()) : list.size();
    const auto* u = at < list.size() ? &list[at] : nullptr;
    const auto budget = u ? budget_of(desk_.session(), *u) : std::nullopt;
    gap_->setEnabled(u && (!u->suggest.empty() || budget));
    gap_number_->setVisible(u && !u->ask.empty());
    gap_number_->setAccessibleName(u ? q(u->ask) : QString());
    gap_number_->setPlaceholderText(budget ? tr("or ns") : tr("ns"));
    gap_->setText(budget ? tr("Write the budget's lines") : tr("Add the proposed line"));
    QString asks = u ? q(u->ask) : QString();
    if (budget) {
        const bool timed = budget->arrangement != clocks::Arrangement::asynchronous;
        asks = q(budget->name) + QStringLiteral(": ") +
               (timed ? tr("%1 and %2 ns against %3, from the board")
                            .arg(q(fixed(budget->max, 3)), q(fixed(budget->min, 3)), q(budget->clock))
                      : tr("taken out, since %1").arg(q(budget->why)));
    }
    gap_asks_->setText(asks);
}

}  // namespace kp::app
