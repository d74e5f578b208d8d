// SPDX-License-Identifier: GPL-3.0-or-later
// A build is a job on a copy of the project into a folder of its own; runs are kept here while the window is open,
// each with the digests of what it was built from (core/build_flow/stages), which say when a stage is old.
#include "app/log/build_page.hpp"

#include "app/log/build_log.hpp"
#include "app/shell/wrapping.hpp"
#include "app/theme/text.hpp"
#include "core/base/bytes.hpp"
#include "core/base/checksum.hpp"
#include "core/base/text.hpp"
#include "core/inputs/data_folder.hpp"
#include "core/model/timing_words.hpp"
#include "core/inputs/source_list.hpp"
#include "core/base/said.hpp"

#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QSpinBox>
#include <QTabWidget>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace kp::app {

namespace {

QTreeWidget* table(const char* name, const QStringList& heads, std::initializer_list<int> widths) {
    auto* out = new QTreeWidget;
    out->setObjectName(QLatin1String(name));
    out->setHeaderLabels(heads);
    out->setRootIsDecorated(false);
    int column = 0;
    for (const int w : widths) out->setColumnWidth(column++, w);
    wrap_rows(*out);
    return out;
}

QFrame* card(std::initializer_list<std::pair<QWidget*, int>> widgets) {
    auto* frame = new QFrame;
    frame->setProperty("card", true);
    auto* box = new QVBoxLayout(frame);
    box->setContentsMargins(8, 8, 8, 8);
    for (const auto& [w, stretch] : widgets) box->addWidget(w, stretch);
    return frame;
}

/// Three letters of a number, so that folders sort as they were made.
std::string padded(int number) {
    auto text = std::to_string(number);
    return std::string(text.size() < 3 ? 3 - text.size() : 0, '0') + text;
}

QString worst_of(const std::optional<double>& wns) {
    return wns ? q(fixed(*wns, 3)) : QStringLiteral("none");
}

}  // namespace

BuildPage::BuildPage(Desk& desk)
    : desk_(desk),
      seed_(new QSpinBox),
      seeds_(new QSpinBox),
      effort_(new QComboBox),
      copies_(new QComboBox),
      shade_(new QComboBox),
      hold_(new QCheckBox(tr("fix hold"))),
      build_(new QPushButton(tr("Build"))),
      cancel_(new QPushButton(tr("Cancel"))),
      take_(new QPushButton(tr("Use this build"))),
      progress_(new QProgressBar),
      says_(new QLabel),
      cell_(new QLabel),
      list_(table("build.runs", {tr("build"), tr("setup, hold"), tr("wires"), tr("mW"), tr("verdict")},
                  {58, 76, 58, 52})),
      stages_(table("build.stages", {tr("stage"), tr("state"), tr("s"), tr("reason")}, {54, 60, 44})),
      figures_(table("build.figures", {tr("figure"), tr("used"), tr("of"), tr("from")}, {132, 66, 58})),
      messages_(table("build.messages", {tr("since before"), tr("message")}, {92})),
      paths_(table("build.paths", {tr("slack, ns"), tr("from"), tr("to")}, {80, 200})),
      log_(new BuildLog),
      lower_(new QTabWidget),
      die_(new DieView) {
    setObjectName("build");
    build_->setObjectName("build.start");
    build_->setProperty("primary", true);
    cancel_->setObjectName("build.cancel");
    take_->setObjectName("build.take");
    seed_->setObjectName("build.seed");
    seed_->setAccessibleName(tr("First seed"));
    seed_->setPrefix(tr("seed "));
    seed_->setRange(1, 1000000);
    seeds_->setObjectName("build.seeds");
    seeds_->setAccessibleName(tr("How many seeds"));
    seeds_->setRange(1, 20);
    seeds_->setSuffix(tr(" of them"));
    effort_->addItems({tr("quick"), tr("full")});
    effort_->setAccessibleName(tr("Effort of placing"));
    copies_->setObjectName("build.copies");
    copies_->addItem(tr("no copies"), 0);
    for (const int loads : {16, 32, 64, 128}) copies_->addItem(tr("copies above %1 loads").arg(loads), loads);
    copies_->setAccessibleName(tr("Registers that drive more get copies, if the worst slack grows by it"));
    copies_->setToolTip(copies_->accessibleName());
    hold_->setObjectName("build.hold");
    hold_->setToolTip(tr("Look-ups that only delay, where hold fails and setup leaves room"));
    shade_->addItems({tr("cells by kind"), tr("cells by slack"), tr("cells by module")});
    shade_->setObjectName("build.shade");
    shade_->setAccessibleName(tr("What colours say on the die"));
    says_->setObjectName("build.says");
    says_->setWordWrap(true);
    cell_->setObjectName("build.cell");
    cell_->setWordWrap(true);
    cell_->setProperty("role", "second");
    progress_->setRange(0, 1000);
    progress_->setTextVisible(false);
    progress_->setFixedHeight(8);
    lay_out();
    connect_all();
    progress_->hide();
    cancel_->setEnabled(false);
    take_->setEnabled(false);
    says_->setText(
        tr("A stand-in for made-up parts: it maps the source, gives pins to what has none, places, and works delays "
           "and power out."));
}

BuildPage::~BuildPage() {
    jobs_.stop("build");
}

void BuildPage::lay_out() {
    auto* top = new QHBoxLayout;
    for (QWidget* w : std::initializer_list<QWidget*>{build_, seed_, seeds_, effort_, hold_, copies_, cancel_})
        top->addWidget(w);
    top->addStretch(1);
    auto* said = new QHBoxLayout;
    said->addWidget(says_, 1);
    said->addWidget(take_);
    auto* left = new QVBoxLayout;
    left->setSpacing(10);
    left->addWidget(card({{list_, 1}}), 2);
    left->addWidget(card({{stages_, 1}}), 4);
    left->addWidget(card({{figures_, 1}}), 4);
    auto* right = new QVBoxLayout;
    right->setSpacing(10);
    right->addWidget(shade_);
    right->addWidget(die_, 6);
    right->addWidget(cell_);
    lower_->setObjectName("build.lower");
    lower_->addTab(messages_, tr("Messages"));
    lower_->addTab(paths_, tr("Worst paths"));
    lower_->addTab(log_, tr("Log"));
    right->addWidget(lower_, 4);
    auto* both = new QHBoxLayout;
    both->setSpacing(12);
    both->addLayout(left, 5);
    both->addLayout(right, 6);
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(16, 10, 16, 10);
    box->addLayout(top);
    box->addLayout(said);
    box->addWidget(progress_);
    box->addLayout(both, 1);
}

void BuildPage::connect_all() {
    connect(build_, &QPushButton::clicked, this, &BuildPage::start);
    connect(cancel_, &QPushButton::clicked, this, &BuildPage::cancel);
    connect(take_, &QPushButton::clicked, this, &BuildPage::take);
    connect(list_, &QTreeWidget::itemSelectionChanged, this, &BuildPage::show_run);
    connect(shade_, &QComboBox::currentIndexChanged, this,
            [this](int i) { die_->shade_by(static_cast<DieView::Shade>(i)); });
    connect(messages_, &QTreeWidget::itemActivated, this, [this](QTreeWidgetItem* item) { go_to_source(*item); });
    connect(messages_, &QTreeWidget::itemClicked, this, [this](QTreeWidgetItem* item) { go_to_source(*item); });
    connect(log_, &BuildLog::ticked, this, [this] { say_progress(); });
    connect(paths_, &QTreeWidget::currentItemChanged, this,
            [this](QTreeWidgetItem* item) { die_->show_path(item ? item->data(0, Qt::UserRole).toInt() : -1); });
    connect(die_, &DieView::picked, this, [this](int cell) {
        cell_->setText(die_->words_of_cell(cell));
        const auto* run = chosen();
        if (!run || !run->answer || !run->answer->world || !desk_.has_session()) return;
        Selection of{QStringLiteral("cell"), q(run->answer->world->netlist.cell_names[static_cast<size_t>(cell)])};
        of.facts = std::make_shared<const FactSheet>(die_->facts_of_cell(cell, run->number));
        desk_.select(of);
    });
    connect(&desk_, &Desk::opened, this, [this] {
        cancel();
        runs_.clear();
        list_->clear();
        show_run();
    });
}

QString BuildPage::why_old(const BuildRun& run, build_flow::Stage stage) const {
    QStringList why;
    for (const auto input : build_flow::made_of(stage)) {
        const auto k = static_cast<size_t>(input);
        if (run.inputs[k] != now_[k]) why << tr(word_of(input));
    }
    return why.isEmpty() ? QString() : tr("old: %1 changed since").arg(why.join(QStringLiteral(", ")));
}

void BuildPage::refresh() {
    if (!desk_.has_session()) return;
    now_ = build_flow::digests_of(real_disk(), desk_.session().project(), desk_.session().document().folder());
    for (int i = 0; i < list_->topLevelItemCount(); ++i) {
        auto* item = list_->topLevelItem(i);
        const auto& run = runs_[static_cast<size_t>(item->data(0, Qt::UserRole).toInt())];
        const auto old = why_old(run, build_flow::Stage::power);
        const bool built = run.answer && run.answer->built;
        item->setText(4, item->data(4, Qt::UserRole).toString() +
                             (built ? QLatin1Char('\n') + (old.isEmpty() ? tr("up to date") : old) : QString()));
    }
    if (const auto* run = chosen()) show_stages(*run);
}

build_flow::BuildRequest BuildPage::request_for(const BuildRun& run) const {
    const auto& s = desk_.session();
    build_flow::BuildRequest out;
    out.project = s.project();
    out.folder = s.document().folder();
    out.data = data_folder();
    out.out = join_path(out.folder, run.folder);
    out.reach = s.world().reach ? std::optional(*s.world().reach) : std::nullopt;
    out.seed = run.seed;
    out.effort = effort_->currentIndex() == 1 ? 4 : 1;
    out.fix_hold = hold_->isChecked();
    out.most_loads = copies_->currentData().toInt();
    return out;
}

void BuildPage::start() {
    if (!desk_.has_session() || working_) return;
    desk_.settle();
    const auto& s = desk_.session();
    const auto folder = s.document().folder();
    now_ = build_flow::digests_of(real_disk(), desk_.session().project(), desk_.session().document().folder());
    struct Ask {
        build_flow::BuildRequest request;
        BuildRun run;
    };
    std::vector<Ask> asks;
    int number = 0;
    for (const auto& r : runs_) number = std::max(number, r.number);
    auto& disk = real_disk();
    while (disk.kind(join_path(folder, "build/" + padded(number + 1))) != FileKind::none) ++number;
    if (disk.kind(join_path(folder, "build")) == FileKind::none)
        if (auto made = disk.make_folder(join_path(folder, "build")); !made)
            return desk_.say(q(made.first().sentence()), true);
    for (int k = 0; k < seeds_->value(); ++k) {
        Ask a;
        a.run.number = ++number;
        a.run.seed = static_cast<unsigned>(seed_->value() + k);
        a.run.folder = "build/" + padded(number);
        a.run.inputs = now_;
        if (auto made = disk.make_folder(join_path(folder, a.run.folder)); !made)
            return desk_.say(q(made.first().sentence()), true);
        a.request = request_for(a.run);
        asks.push_back(std::move(a));
    }
    working_ = true;
    build_->setEnabled(false);
    cancel_->setEnabled(true);
    progress_->show();
    log_->begin();
    lower_->setCurrentWidget(log_);
    // The page waits for its jobs before it goes, so they may speak to it.
    jobs_.start("build", [this, asks = std::move(asks)](const std::stop_token& stop) mutable {
        for (size_t k = 0; k < asks.size(); ++k) {
            auto& a = asks[k];
            a.request.stop = stop;
            const auto number = a.run.number;
            a.request.progress = [this, number](const std::string& stage, double done, long long length) {
                QMetaObject::invokeMethod(
                    this, [this, number, stage, done, length] { began(number, q(stage), done, length); },
                    Qt::QueuedConnection);
            };
            auto answer = build_flow::build(real_disk(), a.request);
            if (answer)
                a.run.answer = std::make_shared<const build_flow::BuildAnswer>(answer.take());
            else
                a.run.refused = answer.first().sentence();
            const bool last = k + 1 == asks.size() || stop.stop_requested();
            QMetaObject::invokeMethod(
                this, [this, run = a.run, last] { ended(run, last); }, Qt::QueuedConnection);
            if (last) return;
        }
    });
}

void BuildPage::cancel() {
    jobs_.stop("build");
    if (!working_ || !jobs_.idle()) return;
    // It had not begun yet, so nobody will say that it ended.
    rest();
    log_->end(tr("Cancelled"));
    says_->setText(tr("Nothing was built."));
}

void BuildPage::rest() {
    working_ = false;
    build_->setEnabled(true);
    cancel_->setEnabled(false);
    progress_->hide();
    now_runs_.clear();
}

void BuildPage::began(int number, const QString& stage, double done, long long length) {
    if (!working_) return;
    progress_->setValue(static_cast<int>(done * 1000));
    log_->runs(tr("build %1: %2").arg(number).arg(stage));
    now_runs_ = length > 0 ? tr("build %1, %2: %3 % done, wires %4 slot groups long")
                                 .arg(number)
                                 .arg(stage)
                                 .arg(static_cast<int>(done * 100))
                                 .arg(length)
                           : tr("build %1, %2 …").arg(number).arg(stage);
    say_progress();
}

void BuildPage::say_progress() {
    if (working_ && !now_runs_.isEmpty()) says_->setText(tr("%1 s · %2").arg(q(fixed(log_->seconds(), 1)), now_runs_));
}

void BuildPage::ended(BuildRun run, bool last) {
    runs_.push_back(std::move(run));
    const auto& r = runs_.back();
    auto* item = new QTreeWidgetItem;
    item->setData(0, Qt::UserRole, static_cast<int>(runs_.size()) - 1);
    item->setText(0, tr("%1\nseed %2").arg(r.number).arg(r.seed));
    item->setToolTip(0, tr("kept in %1").arg(q(r.folder)));
    QString verdict = tr("not built");
    QColor ink = theme().stop;
    if (r.answer && r.answer->built) {
        const auto& t = *r.answer->timing;
        const auto failing = verdict_of(t).failing;
        item->setText(1, worst_of(t.setup.wns) + QLatin1Char('\n') + worst_of(t.hold.wns));
        item->setText(2, QString::number(r.answer->wirelength));
        item->setText(3, q(fixed(r.answer->power->total_w * 1e3, 1)));
        verdict = q(word_of(r.answer->verdict)) + (failing > 0 ? QStringLiteral(" %1").arg(failing) : QString());
        const bool met = r.answer->verdict == build_flow::BuildVerdict::met;
        ink = met ? theme().good : failing > 0 ? theme().stop : theme().caution;
    }
    item->setText(4, verdict);
    item->setData(4, Qt::UserRole, verdict);
    item->setForeground(4, ink);
    for (const int c : {1, 2, 3}) {
        item->setTextAlignment(c, Qt::AlignRight | Qt::AlignVCenter);
        item->setFont(c, mono(12));
    }
    log_messages(r);
    list_->insertTopLevelItem(0, item);
    list_->setCurrentItem(item);
    if (!last) return;
    log_->end(r.answer && r.answer->built ? tr("Done") : tr("Ended"));
    if (messages_->topLevelItemCount() > 0) lower_->setCurrentWidget(messages_);
    rest();
    if (!r.refused.empty())
        says_->setText(q(r.refused));
    else if (r.answer->built)
        says_->setText(tr("Build %1 is kept in %2.").arg(r.number).arg(q(r.folder)));
    else
        says_->setText(tr("Build %1 failed; the stage that failed says why.").arg(r.number));
    refresh();
}

const BuildRun* BuildPage::chosen() const {
    const auto* item = list_->currentItem();
    return item ? &runs_[static_cast<size_t>(item->data(0, Qt::UserRole).toInt())] : nullptr;
}

void BuildPage::take() {
    const auto* run = chosen();
    if (!run || !run->answer || !run->answer->built) return desk_.say(tr("Choose a build first."), true);
    const auto& p = desk_.session().project();
    Edit edit;
    edit.title = said("use build {}", run->number);
    edit.changes.push_back(set_field(p, "netlists", run->folder + "/netlist.v"));
    edit.changes.push_back(set_field(p, "delays", run->folder + "/delays.sdf"));
    edit.changes.push_back(set_field(p, "pin_report", run->folder + "/pins.csv"));
    if (p.libraries.empty()) edit.changes.push_back(set_field(p, "libraries", "skerry.lib"));
    desk_.apply(edit);
}

}  // namespace kp::app
