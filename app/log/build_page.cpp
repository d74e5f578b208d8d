// SPDX-License-Identifier: GPL-3.0-or-later
// A build is a job on a copy of the project into a folder of its own; runs are kept here while the window is open,
// each with the digests of what it was built from (core/build_flow/stages), which say when a stage is old.
#include "app/log/build_page.hpp"

#include "app/shell/counted.hpp"
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
#include <QSplitter>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <set>

namespace kp::app {

namespace {

QTreeWidget* table(const char* name, const QStringList& heads, std::initializer_list<int> widths) {
    auto* out = new QTreeWidget;
    out->setObjectName(QLatin1String(name));
    out->setHeaderLabels(heads);
    out->setRootIsDecorated(false);
    int column = 0;
    for (const int w : widths) out->setColumnWidth(column++, w);
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
      list_(table(
          "build.runs",
          {tr("build"), tr("seed"), tr("wires"), tr("setup"), tr("hold"), tr("verdict"), tr("mW"), tr("up to date")},
          {42, 40, 50, 58, 50, 50, 48})),
      stages_(table("build.stages", {tr("stage"), tr("state"), tr("s"), tr("reason")}, {70, 92, 52})),
      figures_(table("build.figures", {tr("figure"), tr("used"), tr("of"), tr("from")}, {150, 62, 60})),
      messages_(table("build.messages", {tr("message"), tr("since the build before")}, {300})),
      paths_(table("build.paths", {tr("slack, ns"), tr("from"), tr("to")}, {70, 96})),
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
    left->addWidget(card({{list_, 1}}), 3);
    left->addWidget(card({{stages_, 1}}), 3);
    left->addWidget(card({{figures_, 1}}), 4);
    auto* right = new QVBoxLayout;
    right->setSpacing(10);
    right->addWidget(shade_);
    right->addWidget(die_, 6);
    right->addWidget(cell_);
    auto* low = new QHBoxLayout;
    low->setSpacing(10);
    low->addWidget(card({{paths_, 1}}), 2);
    low->addWidget(card({{messages_, 1}}), 3);
    right->addLayout(low, 3);
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
    connect(paths_, &QTreeWidget::currentItemChanged, this,
            [this](QTreeWidgetItem* item) { die_->show_path(item ? item->data(0, Qt::UserRole).toInt() : -1); });
    connect(die_, &DieView::picked, this, [this](int cell) {
        cell_->setText(die_->words_of_cell(cell));
        const auto* run = chosen();
        if (!run || !run->answer || !run->answer->world) return;
        const auto& pin = run->answer->spots[static_cast<size_t>(cell)].pin;
        if (!pin.empty() && desk_.has_session()) desk_.select({QStringLiteral("pin"), q(pin)});
    });
    connect(&desk_, &Desk::opened, this, [this] {
        cancel();
        runs_.clear();
        list_->clear();
        show_run();
    });
}

namespace {
QString inputs_in_words(build_flow::Stage stage) {
    QStringList out;
    for (const auto input : build_flow::made_of(stage)) out << BuildPage::tr(word_of(input));
    return out.join(BuildPage::tr(" or "));
}
}  // namespace

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
        item->setText(7, !built ? tr("not built") : old.isEmpty() ? tr("yes") : old);
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
    // The page waits for its jobs before it goes, so they may speak to it.
    jobs_.start("build", [this, asks = std::move(asks)](const std::stop_token& stop) mutable {
        for (size_t k = 0; k < asks.size(); ++k) {
            auto& a = asks[k];
            a.request.stop = stop;
            a.request.progress = [this](const std::string& stage, double done, long long length) {
                QMetaObject::invokeMethod(
                    this, [this, stage, done, length] { began(q(stage), done, length); }, Qt::QueuedConnection);
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
    says_->setText(tr("Nothing was built."));
}

void BuildPage::rest() {
    working_ = false;
    build_->setEnabled(true);
    cancel_->setEnabled(false);
    progress_->hide();
}

void BuildPage::began(const QString& stage, double done, long long length) {
    if (!working_) return;
    progress_->setValue(static_cast<int>(done * 1000));
    says_->setText(
        length > 0
            ? tr("%1: %2 % done, wires %3 slot groups long").arg(stage).arg(static_cast<int>(done * 100)).arg(length)
            : tr("%1 …").arg(stage));
}

void BuildPage::ended(BuildRun run, bool last) {
    runs_.push_back(std::move(run));
    const auto& r = runs_.back();
    auto* item = new QTreeWidgetItem;
    item->setData(0, Qt::UserRole, static_cast<int>(runs_.size()) - 1);
    item->setText(0, QString::number(r.number));
    item->setText(1, QString::number(r.seed));
    item->setToolTip(0, tr("kept in %1").arg(q(r.folder)));
    if (r.answer && r.answer->built) {
        const auto& t = *r.answer->timing;
        const auto failing = verdict_of(t).failing;
        item->setText(2, QString::number(r.answer->wirelength));
        item->setText(3, worst_of(t.setup.wns));
        item->setText(4, worst_of(t.hold.wns));
        item->setText(5,
                      q(word_of(r.answer->verdict)) + (failing > 0 ? QStringLiteral(" %1").arg(failing) : QString()));
        item->setText(6, q(fixed(r.answer->power->total_w * 1e3, 1)));
        const bool met = r.answer->verdict == build_flow::BuildVerdict::met;
        item->setForeground(5, met ? theme().good : failing > 0 ? theme().stop : theme().caution);
    } else {
        item->setText(5, tr("not built"));
        item->setForeground(5, theme().stop);
    }
    for (const int c : {2, 3, 4, 5, 6}) {
        item->setTextAlignment(c, Qt::AlignRight | Qt::AlignVCenter);
        item->setFont(c, mono(12));
    }
    list_->insertTopLevelItem(0, item);
    list_->setCurrentItem(item);
    if (!last) return;
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

void BuildPage::show_run() {
    const auto* run = chosen();
    for (auto* t : {stages_, figures_, messages_, paths_}) t->clear();
    cell_->clear();
    take_->setEnabled(run && run->answer && run->answer->built);
    die_->show_build(run ? run->answer : nullptr);
    if (!run) return;
    show_stages(*run);
    const BuildRun* before = nullptr;
    for (const auto& r : runs_)
        if (r.number < run->number && r.answer && (!before || r.number > before->number)) before = &r;
    show_messages(*run, before);
    if (!run->answer) return;
    show_figures(*run->answer);
    if (!run->answer->timing) return;
    const auto& paths = run->answer->timing->paths;
    for (size_t k = 0; k < paths.size(); ++k) {
        auto* item =
            new QTreeWidgetItem(paths_, {q(fixed(paths[k].slack, 3)), q(paths[k].startpoint), q(paths[k].endpoint)});
        item->setData(0, Qt::UserRole, static_cast<int>(k));
        item->setToolTip(2, q(paths[k].check));
        if (paths[k].slack < 0) item->setForeground(0, theme().stop);
    }
}

void BuildPage::show_stages(const BuildRun& run) {
    stages_->clear();
    if (!run.answer) return;
    for (const auto& s : run.answer->stages) {
        const auto old = s.state == build_flow::StageOutcome::done || s.state == build_flow::StageOutcome::kept
                             ? why_old(run, s.stage)
                             : QString();
        const bool holds = old.isEmpty() && s.why.empty() &&
                           (s.state == build_flow::StageOutcome::done || s.state == build_flow::StageOutcome::kept);
        const auto why = holds ? tr("until %1 change").arg(inputs_in_words(s.stage)) : old.isEmpty() ? q(s.why) : old;
        auto* item = new QTreeWidgetItem(
            stages_, {QLatin1String(build_flow::stage_names[static_cast<size_t>(s.stage)]),
                      old.isEmpty() ? q(word_of(s.state)) : tr("old"), q(fixed(s.seconds, 2)), why});
        item->setToolTip(3, item->text(3));
        item->setForeground(1, s.state == build_flow::StageOutcome::failed ? theme().stop
                               : !old.isEmpty()                            ? theme().caution
                               : s.state == build_flow::StageOutcome::done ? theme().good
                                                                           : theme().second);
    }
}

/// What the build says of itself, and the commands that came to nothing.
void BuildPage::show_verdict(const build_flow::BuildAnswer& answer) {
    if (!answer.timing) return;
    const auto& c = answer.timing->coverage;
    const auto& k = answer.constraints;
    auto* verdict = new QTreeWidgetItem(
        figures_, {tr("verdict"), q(word_of(answer.verdict)), QString(),
                   tr("%1 of %2 constrained").arg(c.constrained).arg(counted(c.endpoints, "endpoint"))});
    verdict->setForeground(1, answer.verdict == build_flow::BuildVerdict::met ? theme().good : theme().stop);
    for (const auto& [list, what] :
         {std::pair{&k.refused, tr("  refused")}, std::pair{&k.without_effect, tr("  without effect")}})
        for (const auto& lost : *list)
            (new QTreeWidgetItem(
                 figures_, {what, QStringLiteral("%1:%2").arg(q(lost.file)).arg(lost.line), QString(), q(lost.text)}))
                ->setToolTip(3, q(lost.text));
}

void BuildPage::show_figures(const build_flow::BuildAnswer& answer) {
    show_verdict(answer);
    for (const auto& assumed : answer.assumed) {
        auto* item = new QTreeWidgetItem(figures_, {q(assumed.what), tr("assumed"), QString(), q(assumed.value)});
        item->setToolTip(3, q(assumed.value + "; " + assumed.from));
    }
    for (const auto& u : answer.use) {
        auto name = q(u.resource);
        name.replace(QLatin1Char('_'), QLatin1Char(' '));
        new QTreeWidgetItem(
            figures_,
            {name, QString::number(u.used), QString::number(u.available),
             u.available ? tr("%1 % of the part")
                               .arg(q(fixed(100.0 * static_cast<double>(u.used) / static_cast<double>(u.available), 1)))
                         : QString()});
    }
    for (const auto& m : answer.modules)
        if (answer.modules.size() > 1)
            new QTreeWidgetItem(figures_, {m.path.empty() ? tr("  top itself") : QStringLiteral("  ") + q(m.path),
                                           QString::number(m.logic_cells + m.registers), QString(),
                                           tr("%1 logic, %2 registers").arg(m.logic_cells).arg(m.registers)});
    if (!answer.power) return;
    const auto& p = *answer.power;
    auto* total =
        new QTreeWidgetItem(figures_, {tr("power, mW"), q(fixed(p.total_w * 1e3, 2)), QString(), q(p.dominates)});
    total->setToolTip(3, q(p.dominates));
    new QTreeWidgetItem(figures_, {tr("  static"), q(fixed(p.static_w * 1e3, 2)), QString(), QString()});
    for (const auto& [what, w] : p.groups)
        new QTreeWidgetItem(figures_, {QStringLiteral("  ") + q(what), q(fixed(w * 1e3, 3)), QString(), QString()});
    for (const auto& [bank, w] : p.banks)
        new QTreeWidgetItem(figures_,
                            {tr("    pads of bank %1").arg(q(bank)), q(fixed(w * 1e3, 3)), QString(), QString()});
    if (p.modules.size() > 1)
        for (const auto& [path, w] : p.modules)
            new QTreeWidgetItem(figures_,
                                {path.empty() ? tr("    logic of the top itself") : tr("    in %1").arg(q(path)),
                                 q(fixed(w * 1e3, 3)), QString(), QString()});
    for (const auto& a : p.assumed) {
        auto* item = new QTreeWidgetItem(figures_, {q(a.what), q(a.value), QString(), q(a.from)});
        item->setToolTip(0, q(a.what));
        item->setToolTip(3, q(a.from));
        for (int c = 0; c < 4; ++c) item->setForeground(c, theme().second);
    }
    for (int i = 0; i < figures_->topLevelItemCount(); ++i)
        for (const int c : {1, 2}) {
            figures_->topLevelItem(i)->setTextAlignment(c, Qt::AlignRight | Qt::AlignVCenter);
            figures_->topLevelItem(i)->setFont(c, mono(12));
        }
}

/// Messages of a run: new ones, those that stayed, and what went since the build before.
void BuildPage::show_messages(const BuildRun& run, const BuildRun* before) {
    std::set<std::string> then, now;
    if (before)
        for (const auto& m : before->answer->messages) then.insert(m.sentence());
    const auto add = [&](Severity severity, const std::string& text, const QString& standing) {
        auto* item = new QTreeWidgetItem(messages_, {q(text), standing});
        item->setToolTip(0, q(text));
        item->setForeground(0, severity == Severity::stop      ? theme().stop
                               : severity == Severity::caution ? theme().caution
                                                               : theme().ink);
    };
    if (!run.refused.empty()) add(Severity::stop, run.refused, QString());
    if (!run.answer) return;
    for (const auto severity : {Severity::stop, Severity::caution, Severity::note})
        for (const auto& m : run.answer->messages) {
            if (m.severity != severity || !now.insert(m.sentence()).second) continue;
            add(severity, m.sentence(), !before ? QString() : then.count(m.sentence()) ? tr("remains") : tr("new"));
        }
    for (const auto& gone : then)
        if (!now.count(gone)) add(Severity::note, gone, tr("gone"));
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
