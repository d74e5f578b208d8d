// SPDX-License-Identifier: GPL-3.0-or-later
// Text and lenses of one set of files. What is typed becomes one edit when it rests or focus leaves (commit_text);
// until then it is newer than the session and nothing writes over it.
#include "app/tempo/tempo_station.hpp"

#include "app/tempo/budget_lens.hpp"
#include "app/tempo/clock_chart.hpp"
#include "app/tempo/command_lens.hpp"
#include "app/tempo/draft_lens.hpp"
#include "app/tempo/find_bar.hpp"
#include "app/shell/ask_files.hpp"
#include "app/tempo/recipe_lens.hpp"
#include "app/shell/counted.hpp"
#include "app/tempo/sdc_editor.hpp"
#include "app/theme/text.hpp"
#include "core/base/bytes.hpp"
#include "core/base/text.hpp"
#include "core/base/names.hpp"
#include "core/base/output.hpp"
#include "core/format/sdc/as_used.hpp"
#include "core/format/sdc/table.hpp"
#include "core/constraints/budget_edits.hpp"
#include "core/constraints/clock_matrix.hpp"
#include "core/constraints/forms.hpp"

#include <QComboBox>
#include <QFormLayout>
#include <QFrame>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QStackedWidget>
#include <QTabBar>
#include <QTableWidget>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <map>
#include <cmath>

namespace kp::app {

namespace {
// Typed text becomes an edit after this pause, and at the latest after the other time: a crash loses at most a second.
constexpr int pause_ms = 300, at_latest_ms = 800;
}  // namespace

TempoStation::TempoStation(Desk& desk, QWidget* parent)
    : Station(desk, parent),
      chart_(new ClockChart(desk)),
      files_(new QTabBar),
      lenses_(new QTabBar),
      target_(new QLabel),
      trouble_(new QLabel),
      editor_(new SdcEditor),
      lens_(new QStackedWidget),
      budgets_(new BudgetLens(desk)),
      draft_(new DraftLens(desk)),
      recipes_(new RecipeLens(desk)),
      commands_(new CommandLens(desk)),
      explains_(new QLabel) {
    auto* low = new QHBoxLayout;
    low->setSpacing(12);
    text_card_ = make_text_card();
    low->addWidget(text_card_, 6);
    lens_card_ = make_lens_card();
    low->addWidget(lens_card_, 5);
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(20, 14, 16, 10);
    all->setSpacing(12);
    all->addWidget(chart_, 5);
    all->addLayout(low, 6);
    connect_all();
    make_actions();
}

QWidget* TempoStation::make_text_card() {
    files_->setObjectName("tempo.files");
    editor_->setObjectName("tempo.editor");
    auto* left = new QFrame;
    left->setProperty("card", true);
    auto* left_box = new QVBoxLayout(left);
    left_box->setContentsMargins(2, 2, 2, 4);
    left_box->setSpacing(2);
    auto* head = new QHBoxLayout;
    head->addWidget(files_);
    head->addStretch(1);
    target_->setProperty("role", "second");
    head->addWidget(target_);
    receive_ = new QPushButton(tr("put new commands here"));
    receive_->setObjectName("tempo.receive");
    receive_->setToolTip(
        tr("Forms and fixes write their lines into this file from now on; a line that needs a later file's clock goes "
           "there"));
    receive_->setProperty("flat", true);
    head->addWidget(receive_);
    connect(receive_, &QPushButton::clicked, this, &TempoStation::receive_here);
    text_wide_ = new QPushButton(tr("wide"));
    text_wide_->setProperty("flat", true);
    text_wide_->setToolTip(tr("The text alone (Ctrl+Shift+W)"));
    head->addWidget(text_wide_);
    connect(text_wide_, &QPushButton::clicked, this,
            [this] { show_alone(shows_ == Shows::text ? Shows::both : Shows::text); });
    files_->setMovable(true);
    files_->setToolTip(tr("Read from left to right; drag a file to change the order"));
    connect(files_, &QTabBar::tabMoved, this, [this](int from, int to) {
        if (!filling_) move_file(from, to);
    });
    head->addSpacing(8);
    left_box->addLayout(head);
    left_box->addWidget(editor_, 1);
    explains_->setObjectName("tempo.explains");
    explains_->setWordWrap(true);
    explains_->setProperty("role", "second");
    explains_->setContentsMargins(10, 2, 8, 0);
    find_ = new FindBar(editor_);
    left_box->addWidget(find_);
    left_box->addWidget(explains_);
    trouble_->setWordWrap(true);
    trouble_->setContentsMargins(10, 2, 8, 2);
    trouble_->setObjectName("tempo.trouble");
    left_box->addWidget(trouble_);
    return left;
}

QWidget* TempoStation::make_lens_card() {
    lenses_->setObjectName("tempo.lenses");
    auto* right = new QFrame;
    right->setProperty("card", true);
    auto* right_box = new QVBoxLayout(right);
    right_box->setContentsMargins(2, 2, 2, 6);
    auto* head = new QHBoxLayout;
    head->addWidget(lenses_, 1);
    lens_wide_ = new QPushButton(tr("wide"));
    lens_wide_->setProperty("flat", true);
    lens_wide_->setToolTip(tr("The lens alone (Ctrl+Shift+Y)"));
    head->addWidget(lens_wide_);
    connect(lens_wide_, &QPushButton::clicked, this,
            [this] { show_alone(shows_ == Shows::lens ? Shows::both : Shows::lens); });
    right_box->addLayout(head);
    right_box->addWidget(lens_, 1);
    for (const auto& name :
         {tr("Clocks"), tr("In, out"), tr("Budgets"), tr("Recipes"), tr("Commands"), tr("Coverage"), tr("Draft")})
        lenses_->addTab(name);
    lenses_->setUsesScrollButtons(false);
    lenses_->setExpanding(false);
    lens_->addWidget(make_clock_lens());
    lens_->addWidget(make_delay_lens());
    lens_->addWidget(budgets_);
    lens_->addWidget(recipes_);
    lens_->addWidget(commands_);
    lens_->addWidget(make_coverage_lens());
    lens_->addWidget(draft_);
    return right;
}

void TempoStation::connect_all() {
    typing_.setSingleShot(true);
    oldest_.setSingleShot(true);
    connect(&typing_, &QTimer::timeout, this, &TempoStation::commit_text);
    connect(&oldest_, &QTimer::timeout, this, &TempoStation::commit_text);
    connect(editor_, &QsciScintilla::textChanged, this, [this] {
        if (filling_) return;
        typed_ = true;
        typing_.start(pause_ms);
        if (!oldest_.isActive()) oldest_.start(at_latest_ms);
    });
    connect(files_, &QTabBar::currentChanged, this, [this] {
        if (filling_) return;
        commit_text();  // into the file it was typed in
        show_file();
    });
    desk_.add_typist([this] { commit_text(); });
    connect(chart_, &ClockChart::clock_wanted, this, [this](const QString& name, double period, double duty) {
        const auto& k = desk_.session().analysis().constraints();
        const auto id = k.clock(name.toStdString());
        if (id == no_id || k.clocks[id].sources.empty()) return;
        const auto& port = desk_.session().world().netlist.ports[k.clocks[id].sources[0].id].name;
        write_clock(port, period, duty);
    });
    connect(&desk_, &Desk::analysed, this, &TempoStation::follow_linked);
    connect(lenses_, &QTabBar::currentChanged, this, [this](int lens) {
        lens_->setCurrentIndex(lens);
        refresh_lens();
    });
    connect(editor_, &QsciScintilla::cursorPositionChanged, this, [this] {
        if (!filling_) explain();
    });
    connect(&desk_, &Desk::opened, this, [this] {
        // The text of another project must not be taken for typing.
        typing_.stop();
        oldest_.stop();
        shown_.clear();
        followed_.clear();
        typed_ = untaken_ = false;
    });
    connect(&desk_, &Desk::selected, this, [this](const Selection& s) {
        if (s.kind != QStringLiteral("line") || !desk_.has_session()) return;
        const auto colon = s.name.lastIndexOf(QLatin1Char(':'));
        const auto& list = desk_.session().project().constraints;
        for (size_t i = 0; i < list.size(); ++i)
            if (q(list[i].path) == s.name.left(colon)) files_->setCurrentIndex(static_cast<int>(i));
        editor_->setCursorPosition(s.name.mid(colon + 1).toInt() - 1, 0);
        editor_->ensureCursorVisible();
    });
}

void TempoStation::make_actions() {
    add_action("tempo.edit", tr("Edit the constraint text"), QKeySequence(QStringLiteral("Ctrl+E")), [this] {
        desk_.go_to(Place::tempo);
        editor_->setFocus();
    });
    add_action("tempo.clocks", tr("Clock form"), {}, [this] { show_lens(clock_lens); });
    add_action("tempo.delays", tr("Input and output delay form"), {}, [this] { show_lens(delay_lens); });
    add_action("tempo.budgets", tr("Budgets: where I/O delays come from"), QKeySequence(QStringLiteral("Ctrl+B")),
               [this] { show_lens(budget_lens); });
    add_action("tempo.budget.write", tr("Write the lines of the budget that is shown"), {},
               [this] { budgets_->take(); });
    add_action("tempo.budget.write_all", tr("Write the lines of all budgets"), {}, [this] { budgets_->take_all(); });
    add_action("tempo.recipes", tr("Recipes: PLLs, counters, published rates"), {}, [this] { show_lens(recipe_lens); });
    add_action("tempo.commands", tr("All commands by class"), {}, [this] { show_lens(command_lens); });
    add_action("tempo.exceptions", tr("Effect of each exception"), {}, [this] {
        show_lens(command_lens);
        commands_->review();
    });
    add_action("tempo.form", tr("Form of the command under the cursor"), QKeySequence(QStringLiteral("Ctrl+Shift+O")),
               [this] {
                   const auto* here = command_here();
                   const auto command = here ? std::optional(*here) : std::nullopt;
                   show_lens(command_lens);
                   commands_->open_form(command ? &*command : nullptr);
               });
    add_action("tempo.coverage", tr("Coverage"), {}, [this] { show_lens(coverage_lens); });
    add_action("tempo.draft", tr("Draft a first constraint text"), {}, [this] {
        show_lens(draft_lens);
        show_alone(Shows::lens);  // each line is read with its reason
        draft_->draft();
    });
    add_action("tempo.draft.accept", tr("Take what is ticked of the draft"), {}, [this] { draft_->take(); });
    add_action("tempo.wide", tr("The constraint text alone, as wide as the window"),
               QKeySequence(QStringLiteral("Ctrl+Shift+W")), [this] {
                   desk_.go_to(Place::tempo);
                   show_alone(shows_ == Shows::text ? Shows::both : Shows::text);
               });
    add_action("tempo.wide_lens", tr("The lens alone, as wide as the window"),
               QKeySequence(QStringLiteral("Ctrl+Shift+Y")), [this] {
                   desk_.go_to(Place::tempo);
                   show_alone(shows_ == Shows::lens ? Shows::both : Shows::lens);
               });
    add_action("tempo.light", tr("Select what the command under the cursor hits"),
               QKeySequence(QStringLiteral("Ctrl+Shift+L")), [this] { light(); });
    add_action("tempo.find", tr("Find and replace in the constraint text"), QKeySequence(QStringLiteral("Ctrl+F")),
               [this] {
                   desk_.go_to(Place::tempo);
                   find_->begin();
               });
    add_action("tempo.as_used", tr("Write the constraints as they are used, without Tcl…"), {},
               [this] { write_as_used(); });
    add_action("tempo.file_analysis", tr("Read the file that is shown for analysis, or not"), {},
               [this] { use_file(&SdcFile::analysis); });
    add_action("tempo.file_handoff", tr("Hand the file that is shown over, or not"), {},
               [this] { use_file(&SdcFile::handoff); });
    add_action("tempo.write_out", tr("Write the file that is shown to another place…"), {}, [this] { write_out(); });
    add_action("tempo.new_file", tr("Make a new constraint file"), {}, [this] { make_file(); });
}

void TempoStation::show_alone(Shows what) {
    shows_ = what;
    text_card_->setVisible(what != Shows::lens);
    lens_card_->setVisible(what != Shows::text);
    chart_->setVisible(what == Shows::both);
    text_wide_->setText(what == Shows::text ? tr("narrow") : tr("wide"));
    lens_wide_->setText(what == Shows::lens ? tr("narrow") : tr("wide"));
    if (what == Shows::text) editor_->setFocus();
}

/// The lens that is seen; the others are filled when they are.
void TempoStation::refresh_lens() {
    if (!desk_.has_session()) return;
    switch (lenses_->currentIndex()) {
        case budget_lens: return budgets_->refresh();
        case recipe_lens: return recipes_->refresh();
        case command_lens: return commands_->refresh();
        case draft_lens: return draft_->refresh();
        default: return;
    }
}

void TempoStation::show_lens(int lens) {
    desk_.go_to(Place::tempo);
    lenses_->setCurrentIndex(lens);
}

void TempoStation::refresh() {
    filling_ = true;
    const auto& s = desk_.session();
    const auto& list = s.project().constraints;
    while (files_->count() > static_cast<int>(list.size())) files_->removeTab(files_->count() - 1);
    for (int i = 0; i < static_cast<int>(list.size()); ++i) {
        const auto name = q(list[static_cast<size_t>(i)].path);
        if (i >= files_->count()) files_->addTab(name);
        const auto& f = list[static_cast<size_t>(i)];
        files_->setTabText(i, f.analysis && f.handoff ? name
                              : f.analysis            ? tr("%1 (kept back)").arg(name)
                                                      : tr("%1 (not read)").arg(name));
    }
    editor_->restyle();
    filling_ = false;
    show_file();
    fill_forms();
    fill_coverage();
    refresh_lens();
    chart_->update();
}

void TempoStation::follow(unsigned what) {
    if ((what & ~unsigned{News::plan}) != 0) return refresh();
    show_wiring();
    filling_ = true;
    fill_clock_form();
    filling_ = false;
}

KnotState TempoStation::standing() const {
    const auto& c = desk_.session().analysis().timing().coverage;
    const int percent = c.endpoints == 0 ? 0 : static_cast<int>(std::floor(100.0 * c.constrained / c.endpoints));
    bool text_stop = false;
    for (const auto& m : desk_.session().analysis().constraints().messages) text_stop |= m.severity == Severity::stop;
    for (const auto& f : desk_.session().findings()) text_stop |= f.rule == "D04" && !f.waived;
    return {tr("Tempo"), tr("%1 % constrained").arg(percent),
            text_stop                             ? Standing::stop
            : c.untimed.empty() && percent == 100 ? Standing::good
                                                  : Standing::open};
}

QString TempoStation::status() const {
    const auto& a = desk_.session().analysis();
    return tr("%1, %2, %3 of the text · %4")
        .arg(counted(static_cast<int>(desk_.session().project().constraints.size()), "file"),
             counted(static_cast<int>(a.constraints().commands.size()), "command"),
             counted(static_cast<int>(a.constraints().messages.size()), "finding"),
             counted(static_cast<int>(a.constraints().clocks.size()), "clock"));
}

}  // namespace kp::app
