// SPDX-License-Identifier: GPL-3.0-or-later
// Whatever is compared becomes proposals (core/planning); the page only shows and ticks them, and takes the ticked
// ones in one edit. State: what is compared with, the ticks.
#include "app/pegs/compare_page.hpp"

#include "app/shell/counted.hpp"
#include "app/theme/text.hpp"
#include "app/theme/theme.hpp"
#include "app/shell/ask_files.hpp"
#include "core/base/text.hpp"
#include "core/fabric/stand_in_pins.hpp"
#include "core/format/json/project_json.hpp"
#include "core/inputs/new_project.hpp"
#include "core/session/verdict.hpp"
#include "core/base/said.hpp"

#include <QApplication>
#include <QClipboard>
#include <QComboBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace kp::app {

namespace {

/// Rows out of a spreadsheet need no headings: port, pin and perhaps the standard.
std::string with_headings(std::string text) {
    const auto first = lower(text.substr(0, text.find('\n')));
    if (first.find("port") != std::string::npos) return text;
    const char by = delimiter_of(text);
    const auto columns = std::count(first.begin(), first.end(), by) + 1;
    const char* names[] = {"port", "pin", "standard"};
    std::string head;
    for (long i = 0; i < std::min<long>(columns, 3); ++i) head += (i ? std::string(1, by) : std::string()) + names[i];
    return head + "\n" + text;
}

}  // namespace

ComparePage::ComparePage(Desk& desk)
    : desk_(desk),
      source_(new QComboBox),
      summary_(new QLabel),
      note_(new QLabel),
      list_(new QTreeWidget),
      take_(new QPushButton(tr("Take what is ticked"))),
      all_(new QPushButton(tr("Tick all"))),
      none_(new QPushButton(tr("Tick none"))),
      keep_(new QPushButton(tr("Keep the report with the project"))) {
    setObjectName("compare");
    build();
    connect(source_, &QComboBox::activated, this, &ComparePage::choose);
    connect(take_, &QPushButton::clicked, this, &ComparePage::take_ticked);
    for (const auto& [button, state] : {std::pair{all_, Qt::Checked}, {none_, Qt::Unchecked}})
        connect(button, &QPushButton::clicked, this, [this, state = state] {
            for (int i = 0; i < list_->topLevelItemCount(); ++i)
                if (list_->topLevelItem(i)->flags() & Qt::ItemIsUserCheckable)
                    list_->topLevelItem(i)->setCheckState(0, state);
        });
    connect(keep_, &QPushButton::clicked, this, [this] {
        if (!desk_.has_session() || what_.isEmpty()) return;
        const auto& s = desk_.session();
        const auto path = q(path_from(s.document().folder(), what_.toStdString()));
        if (desk_.apply({"keep the pin report " + path.toStdString(),
                         {set_field(s.project(), "pin_report", path.toStdString())}}))
            desk_.say(tr("The Sheet shows what was obtained beside what was requested."));
    });
    connect(list_, &QTreeWidget::currentItemChanged, this, [this](QTreeWidgetItem* item) {
        if (item && !loading_) desk_.select({QStringLiteral("port"), item->text(1), {}});
    });
    connect(list_, &QTreeWidget::itemChanged, this, [this](QTreeWidgetItem* item) {
        if (loading_) return;
        if (item->checkState(0) == Qt::Checked)
            unticked_.remove(row_id(item));
        else
            unticked_.insert(row_id(item));
        take_->setEnabled(!ticked().empty());
    });
}

void ComparePage::build() {
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(16, 10, 16, 10);
    all->setSpacing(8);
    auto* top = new QHBoxLayout;
    auto* with = new QLabel(tr("compare the plan with"));
    with->setProperty("role", "second");
    top->addWidget(with);
    source_->setObjectName("compare.source");
    source_->setAccessibleName(tr("What the plan is compared with"));
    source_->setMinimumWidth(250);
    top->addWidget(source_);
    top->addWidget(summary_, 1);
    all->addLayout(top);
    note_->setProperty("role", "second");
    note_->setWordWrap(true);
    all->addWidget(note_);
    list_->setObjectName("compare.list");
    list_->setAccessibleName(tr("Differences; space ticks, Enter takes one"));
    list_->setHeaderLabels({QString(), tr("port"), tr("what"), tr("now"), tr("there"), tr("sure"), tr("why")});
    list_->setRootIsDecorated(false);
    list_->setUniformRowHeights(true);
    list_->setTextElideMode(Qt::ElideMiddle);
    list_->header()->setStretchLastSection(true);
    const int widths[] = {34, 210, 90, 140, 140, 54};
    for (int i = 0; i < 6; ++i) list_->setColumnWidth(i, widths[i]);
    list_->headerItem()->setTextAlignment(5, Qt::AlignRight | Qt::AlignVCenter);
    list_->installEventFilter(this);
    all->addWidget(list_, 1);
    auto* foot = new QHBoxLayout;
    take_->setObjectName("compare.take");
    take_->setProperty("primary", true);
    keep_->setObjectName("compare.keep");
    foot->addWidget(take_);
    foot->addWidget(all_);
    foot->addWidget(none_);
    foot->addStretch(1);
    foot->addWidget(keep_);
    all->addLayout(foot);
}

void ComparePage::fill_sources() {
    source_->clear();
    const auto add = [&](const QString& name, With with, const QString& what = {}) {
        source_->addItem(name, QVariant::fromValue(QStringList{QString::number(static_cast<int>(with)), what}));
    };
    add(tr("the names on the board"), With::names);
    add(tr("a pin sheet…"), With::sheet);
    add(tr("rows on the clipboard"), With::clipboard);
    add(tr("the pins of a build…"), With::report);
    add(tr("a stand-in build (simulated)"), With::stand_in);
    add(tr("another project…"), With::project);
    const auto& entries = desk_.session().log().runs();
    for (size_t i = entries.size(); i-- > 0 && entries.size() - i <= 40;)
        add(tr("run %1: %2").arg(entries[i].number).arg(q(entries[i].title)), With::log,
            QString::number(entries[i].number));
    for (int i = 0; i < source_->count(); ++i) {
        const auto data = source_->itemData(i).toStringList();
        if (data[0].toInt() == static_cast<int>(with_) && (with_ != With::log || data[1] == what_))
            source_->setCurrentIndex(i);
    }
}

void ComparePage::choose(int index) {
    const auto data = source_->itemData(index).toStringList();
    const auto with = static_cast<With>(data[0].toInt());
    QString what = data[1];
    if (with == With::sheet) what = ask_file(this, tr("A pin sheet"), {}, tr("Pin sheets (*.csv *.tsv *.txt)"));
    if (with == With::report) what = ask_file(this, tr("A pin report"), {}, tr("Pin reports (*.csv *.tsv *.txt)"));
    if (with == With::project) what = ask_file(this, tr("Another project"), {}, tr("Kite Peg projects (*.kpeg)"));
    const bool file = with == With::sheet || with == With::report || with == With::project;
    if (file && what.isEmpty()) return refresh();
    compare(with, what);
}

void ComparePage::compare(With with, const QString& what) {
    with_ = with;
    what_ = what;
    unticked_.clear();
    text_.clear();
    trouble_.reset();
    if (with == With::clipboard) text_ = QApplication::clipboard()->text().toStdString();
    // Read once: what is compared with stays what it was when it was chosen.
    if (with == With::sheet || with == With::report || with == With::project) {
        auto read = real_disk().read(what.toStdString());
        if (read)
            text_ = read.take();
        else
            trouble_ = read.first();
    }
    refresh();
    list_->setFocus();
    if (list_->topLevelItemCount() > 0) list_->setCurrentItem(list_->topLevelItem(0));
}

void ComparePage::compare_text(With with, const QString& text, const QString& name) {
    with_ = with;
    what_ = name;
    unticked_.clear();
    trouble_.reset();
    text_ = text.toStdString();
    refresh();
    list_->setFocus();
    if (list_->topLevelItemCount() > 0) list_->setCurrentItem(list_->topLevelItem(0));
}

void ComparePage::compare_sheet(const QString& sheet, const QString& name) {
    compare_text(With::lines, sheet, name);
}

void ComparePage::compare_obtained_pins(const QString& report, const QString& name) {
    compare_text(With::line_pins, report, name);
}

Result<std::vector<Proposal>> ComparePage::with_report() {
    const auto& s = desk_.session();
    std::vector<PinReportRow> rows;
    if (with_ == With::stand_in) {
        Trial trial(s.snapshot());
        rows = stand_in_pins(
            s.world().netlist.ports, s.world().part, s.project(),
            [&](const std::string& port, const std::string& pin) { return trial.trouble(port, pin).empty(); });
    } else {
        auto read = read_pin_report(text_, what_.toStdString());
        if (!read) return read.messages();
        rows = read.take();
    }
    int counts[5] = {};
    for (const auto& o : compare_obtained(s.project(), s.world().netlist.ports, rows))
        ++counts[static_cast<int>(o.verdict)];
    QStringList parts;
    for (int i = 0; i < 5; ++i)
        if (counts[i] > 0)
            parts << QStringLiteral("%1 %2").arg(counts[i]).arg(
                QLatin1String(name_of(static_cast<Obtained::Verdict>(i))));
    extra_ = (with_ != With::stand_in ? q(path_from(s.document().folder(), what_.toStdString())) + QStringLiteral(": ")
                                      : QString()) +
             parts.join(QStringLiteral(", "));
    auto out = proposals_of_report(s.project(), s.world().netlist.ports, s.world().part, rows);
    if (with_ == With::stand_in)
        for (auto& p : out) {
            p.origin = "by the solver";
            p.why = "the stand-in put it there: " + p.why;
        }
    return out;
}

Result<std::vector<Proposal>> ComparePage::with_sheet() {
    const auto& s = desk_.session();
    const std::string name = with_ == With::clipboard ? "clipboard" : what_.toStdString();
    const std::string text = with_ == With::clipboard ? with_headings(text_) : text_;
    const auto sheet = read_sheet(text, name);
    if (!sheet) return sheet.messages();
    QStringList notes;
    for (const auto& m : sheet.messages()) notes << q(m.text);
    extra_ = (with_ != With::clipboard ? q(path_from(s.document().folder(), what_.toStdString())) + QStringLiteral("  ")
                                       : QString()) +
             notes.join(' ');
    return proposals_of_sheet(s.project(), s.world().netlist.ports, s.world().part, s.world().board, sheet.value());
}

Result<std::vector<Proposal>> ComparePage::with_plan() {
    const auto& s = desk_.session();
    const auto& w = s.world();
    if (with_ == With::log) {
        const auto entry = s.log().entry(what_.toInt());
        if (!entry) return entry.messages();
        Project other = s.project();
        other.pegs = entry.value().plan.pegs;
        other.attributes = entry.value().plan.attributes;
        return proposals_of_plan(s.project(), w.netlist.ports, w.part, w.board, other,
                                 "from run " + what_.toStdString());
    }
    auto other = read_project(text_, what_.toStdString());
    if (!other) return other.messages();
    extra_ = q(path_from(s.document().folder(), what_.toStdString()));
    if (other.value().project.part != s.project().part)
        extra_ +=
            tr(": that project is for %1; pins of other packages have other names.").arg(q(other.value().project.part));
    return proposals_of_plan(s.project(), w.netlist.ports, w.part, w.board, other.value().project,
                             "from " + other.value().project.name);
}

Result<std::vector<Proposal>> ComparePage::work_out() {
    extra_.clear();
    if (trouble_) return *trouble_;
    const auto& s = desk_.session();
    switch (with_) {
        case With::names: {
            const auto& ports = s.world().netlist.ports;
            return proposals_by_name(ports, s.world().board, s.project(),
                                     clock_rates(ports, s.analysis().design().ports, s.analysis().constraints()));
        }
        case With::sheet:
        case With::lines:
        case With::clipboard: return with_sheet();
        case With::report:
        case With::line_pins:
        case With::stand_in: return with_report();
        case With::project:
        case With::log: break;
    }
    return with_plan();
}

void ComparePage::refresh() {
    if (!desk_.has_session()) return;
    fill_sources();
    auto made = work_out();
    if (!made) {
        proposals_.clear();
        if (extra_ != q(made.first().sentence())) desk_.say(q(made.first().sentence()), true);
        extra_ = q(made.first().sentence());
    } else {
        proposals_ = made.take();
    }
    keep_->setVisible(with_ == With::report && made.ok());
    show_rows();
}

Row ComparePage::row_of(const Proposal& p) const {
    const bool pin = p.field == "pin";
    const auto place = [&](const std::string& text) { return text.empty() && pin ? tr("adrift") : q(text); };
    Row row{q(p.port + " " + p.field),
            {QString(), q(p.port), q(p.field).replace('_', ' '), place(p.now), place(p.then),
             p.confidence < 0 ? QString() : QStringLiteral("%1 %").arg(std::lround(p.confidence * 100)),
             q(p.refused.empty() ? p.why : p.refused)}};
    const bool ticked = !unticked_.contains(row.id);
    row.dress = [refused = !p.refused.empty(), ticked](QTreeWidgetItem* item) {
        for (const int c : {1, 3, 4}) item->setFont(c, mono(12));
        item->setTextAlignment(5, Qt::AlignRight | Qt::AlignVCenter);
        for (int c = 1; c < 7; ++c) item->setToolTip(c, item->text(c));
        item->setForeground(6, refused ? theme().stop : theme().ink);
        item->setFlags(refused ? item->flags() & ~Qt::ItemIsUserCheckable : item->flags() | Qt::ItemIsUserCheckable);
        item->setData(0, Qt::CheckStateRole, refused ? QVariant() : QVariant(ticked ? Qt::Checked : Qt::Unchecked));
    };
    return row;
}

void ComparePage::show_rows() {
    loading_ = true;
    std::vector<Row> rows;
    for (const auto& p : proposals_) rows.push_back(row_of(p));
    {
        const QSignalBlocker quiet(list_);
        sync_rows(list_, rows);
    }
    const auto refused =
        std::count_if(proposals_.begin(), proposals_.end(), [](const Proposal& p) { return !p.refused.empty(); });
    QString says =
        proposals_.empty()
            ? (with_ == With::names ? tr("No adrift port has a name that the board knows") : tr("No difference"))
        : with_ == With::names
            ? tr("%1 for ports that are adrift").arg(counted(static_cast<int>(proposals_.size()), "proposal"))
            : counted(static_cast<int>(proposals_.size()), "difference");
    if (refused > 0) says += tr(", %1 of them cannot be taken").arg(refused);
    summary_->setText(says);
    note_->setText(extra_);
    note_->setVisible(!extra_.isEmpty());
    loading_ = false;
    take_->setEnabled(!ticked().empty());
}

std::vector<Proposal> ComparePage::ticked() const {
    std::vector<Proposal> out;
    for (int i = 0; i < list_->topLevelItemCount(); ++i)
        if (list_->topLevelItem(i)->checkState(0) == Qt::Checked && proposals_[static_cast<size_t>(i)].refused.empty())
            out.push_back(proposals_[static_cast<size_t>(i)]);
    return out;
}

void ComparePage::take(const std::vector<Proposal>& list) {
    if (list.empty()) return desk_.say(tr("Nothing is ticked."), true);
    const auto title = list.size() == 1 ? "take " + list[0].field + " " + list[0].then + " for " + list[0].port
                                        : said("take {} proposals", list.size());
    desk_.apply(take_proposals(desk_.session().project(), desk_.session().world().board, list, title));
}

void ComparePage::take_ticked() {
    take(ticked());
}

void ComparePage::take_current() {
    const int at = list_->indexOfTopLevelItem(list_->currentItem());
    if (at < 0) return;
    const auto one = proposals_[static_cast<size_t>(at)];
    if (!one.refused.empty()) return desk_.say(q(one.refused), true);
    take({one});
    if (list_->topLevelItemCount() > 0)
        list_->setCurrentItem(list_->topLevelItem(std::min(at, list_->topLevelItemCount() - 1)));
}

bool ComparePage::eventFilter(QObject* watched, QEvent* event) {
    if (watched == list_ && event->type() == QEvent::KeyPress) {
        auto* key = static_cast<QKeyEvent*>(event);
        if (key->key() != Qt::Key_Return && key->key() != Qt::Key_Enter) return false;
        key->modifiers() & Qt::ControlModifier ? take_ticked() : take_current();
        return true;
    }
    return QWidget::eventFilter(watched, event);
}

}  // namespace kp::app
