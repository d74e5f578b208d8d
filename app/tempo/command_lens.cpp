// SPDX-License-Identifier: GPL-3.0-or-later
// Commands come from core/constraints with what they hit; switching one off is an edit of its text. State: the fold
// of classes.
#include "app/tempo/command_lens.hpp"

#include "app/tempo/command_form_page.hpp"
#include "core/constraints/exception_review.hpp"

#include "app/shell/counted.hpp"
#include "app/shell/row_sync.hpp"
#include "app/theme/text.hpp"
#include "app/theme/theme.hpp"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QStackedWidget>
#include <QTimer>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <map>

namespace kp::app {

CommandLens::CommandLens(Desk& desk)
    : desk_(desk),
      pages_(new QStackedWidget),
      form_(new CommandFormPage(desk)),
      commands_(new QTreeWidget),
      filter_(new QLineEdit),
      head_(new QLabel) {
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->addWidget(pages_);
    auto* page = new QWidget;
    pages_->addWidget(page);
    pages_->addWidget(form_);
    connect(form_, &CommandFormPage::done, this, [this] {
        pages_->setCurrentIndex(0);
        commands_->setFocus();
    });
    auto* box = new QVBoxLayout(page);
    box->setContentsMargins(14, 8, 14, 6);
    filter_->setObjectName("tempo.commands.filter");
    filter_->setPlaceholderText(tr("filter by words of the command, its file or its reason"));
    filter_->setAccessibleName(tr("Filter the commands"));
    box->addWidget(filter_);
    commands_->setObjectName("tempo.commands");
    commands_->setAccessibleName(tr("All commands by class; the tick switches one off"));
    commands_->setHeaderLabels({tr("command"), tr("hits"), tr("line"), tr("reason")});
    for (const auto& [column, width] : {std::pair{0, 290}, std::pair{1, 44}, std::pair{2, 110}})
        commands_->setColumnWidth(column, width);
    box->addWidget(commands_, 1);
    head_->setWordWrap(true);
    head_->setProperty("role", "second");
    auto* foot = new QHBoxLayout;
    foot->addWidget(head_, 1);
    auto* fresh = new QPushButton(tr("New command…"));
    fresh->setObjectName("tempo.commands.new");
    foot->addWidget(fresh);
    auto* ask = new QPushButton(tr("Effect of exceptions"));
    ask->setObjectName("tempo.commands.review");
    ask->setToolTip(tr("Times the design once without each exception"));
    foot->addWidget(ask);
    connect(ask, &QPushButton::clicked, this, &CommandLens::review);
    connect(&desk_, &Desk::opened, this, [this] { reviewed_.clear(); });
    box->addLayout(foot);
    connect(fresh, &QPushButton::clicked, this, [this] { open_form(nullptr); });
    connect(commands_, &QTreeWidget::itemActivated, this, [this](QTreeWidgetItem* item) {
        const int at = item->data(0, Qt::UserRole).toInt() - 1;
        if (at >= 0 && at < static_cast<int>(list_.size())) open_form(&list_[static_cast<size_t>(at)]);
    });
    connect(filter_, &QLineEdit::textChanged, this, &CommandLens::refresh);
    connect(commands_, &QTreeWidget::itemChanged, this, [this](QTreeWidgetItem* item, int column) {
        if (!filling_ && column == 0) ticked(item);
    });
    const auto show = [this](const QTreeWidgetItem* item) {
        const int at = item ? item->data(0, Qt::UserRole).toInt() - 1 : -1;
        if (filling_ || at < 0 || at >= static_cast<int>(list_.size())) return;
        const auto& c = list_[static_cast<size_t>(at)];
        desk_.select({QStringLiteral("line"), QStringLiteral("%1:%2").arg(q(c.file)).arg(c.line)});
    };
    connect(commands_, &QTreeWidget::currentItemChanged, this, show);
}

void CommandLens::review() {
    if (!desk_.has_session()) return;
    head_->setText(tr("Timing the design without each exception …"));
    desk_.later<std::vector<ExceptionReview>>(
        "exceptions", this,
        [](const std::shared_ptr<const Snapshot>& now, const std::stop_token& stop) {
            return review_exceptions(*now->world, *now->project, now->grounds->folder, now->grounds->options, 200,
                                     stop);
        },
        [this](const std::vector<ExceptionReview>& rows) {
            reviewed_.clear();
            for (const auto& row : rows) reviewed_[row.command.file + row.command.text] = q(row.words());
            refresh();
            head_->setText(
                tr("What each exception does stands in front of its reason, as the text was when it was asked."));
        });
}

void CommandLens::open_form(const ListedCommand* command) {
    if (!desk_.has_session()) return;
    if (command)
        form_->show_command(*command);
    else
        form_->begin("create_clock");
    if (!command || form_of(desk_.session().project(), *command)) pages_->setCurrentIndex(1);
}

void CommandLens::refresh() {
    if (!desk_.has_session()) return;
    filling_ = true;
    const auto& s = desk_.session();
    list_ = list_commands(s.project(), s.analysis().constraints(), s.analysis().texts());
    std::map<CommandClass, Row> classes;
    std::map<std::string, int> twice;
    int off = 0, idle = 0;
    const auto words_wanted = filter_->text().toLower().split(' ', Qt::SkipEmptyParts);
    for (size_t i = 0; i < list_.size(); ++i) {
        const auto& c = list_[i];
        const auto where = QStringLiteral("%1:%2").arg(q(c.file)).arg(c.line);
        const QString all = (q(c.text) + ' ' + where + ' ' + q(c.reason)).toLower();
        if (!std::all_of(words_wanted.begin(), words_wanted.end(), [&](const QString& w) { return all.contains(w); }))
            continue;
        off += !c.on;
        const bool hits_nothing = c.on && c.hits && *c.hits == 0 && c.in != CommandClass::other;
        idle += hits_nothing;
        const auto id = c.file + c.text + (c.on ? "" : " off") + std::to_string(twice[c.file + c.text]++);
        Row row{q(id),
                {q(c.text), c.on ? (c.hits ? QString::number(*c.hits) : QStringLiteral("…")) : tr("off"), where,
                 reason_of(c)}};
        row.dress = [i, on = c.on, own = c.written_out, hits_nothing, tip = q(c.text)](QTreeWidgetItem* item) {
            item->setData(0, Qt::UserRole, static_cast<int>(i) + 1);
            item->setFont(0, mono(11.5));
            item->setFont(2, mono(11.5));
            item->setToolTip(
                0, own ? tip
                       : tip + QObject::tr(
                                   "\nIn a loop or a procedure: an override behind it changes one of its effects."));
            item->setTextAlignment(1, Qt::AlignRight | Qt::AlignVCenter);
            if (own || !on)
                item->setCheckState(0, on ? Qt::Checked : Qt::Unchecked);
            else
                item->setData(0, Qt::CheckStateRole, {});
            const auto& t = theme();
            for (int k = 0; k < 4; ++k) item->setForeground(k, on ? t.ink : t.second);
            if (hits_nothing) item->setForeground(1, t.caution);
        };
        auto& parent = classes[c.in];
        parent.below.push_back(std::move(row));
    }
    std::vector<Row> rows;
    for (auto& [in, row] : classes) {
        row.id = QLatin1String(name_of(in));
        row.cells = {QLatin1String(name_of(in)), QString::number(row.below.size()), {}, {}};
        row.dress = [](QTreeWidgetItem* item) { item->setFont(0, words(12.5, true)); };
        rows.push_back(std::move(row));
    }
    sync_rows(commands_, rows);
    if (commands_->property("opened").toBool() == false && !rows.empty()) {
        commands_->expandAll();
        commands_->setProperty("opened", true);
    }
    head_->setText(tr("%1, %2 switched off, %3 hit nothing. A tick taken away turns a command into a comment.")
                       .arg(counted(static_cast<int>(list_.size()), "command"))
                       .arg(off)
                       .arg(idle));
    filling_ = false;
}

/// What was found out about it comes before what its comment says.
QString CommandLens::reason_of(const ListedCommand& c) const {
    const auto found = reviewed_.find(c.file + c.text);
    if (found == reviewed_.end() || !c.on) return q(c.reason);
    return c.reason.empty() ? found->second : found->second + QStringLiteral(" · ") + q(c.reason);
}

void CommandLens::ticked(QTreeWidgetItem* item) {
    const int at = item->data(0, Qt::UserRole).toInt() - 1;
    if (at < 0 || at >= static_cast<int>(list_.size())) return;
    const auto& c = list_[static_cast<size_t>(at)];
    if ((item->checkState(0) == Qt::Checked) == c.on) return;
    // The list is made anew by the edit, and the row that is being ticked may go with it.
    QTimer::singleShot(0, this, [this, c] {
        if (!desk_.has_session()) return;
        const auto edit = switch_command(desk_.session().project(), c);
        if (edit.empty() || !desk_.apply(edit)) refresh();
    });
}

}  // namespace kp::app
