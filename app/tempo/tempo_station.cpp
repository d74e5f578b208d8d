// SPDX-License-Identifier: GPL-3.0-or-later
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
#include "core/base/bytes.hpp"
#include "core/base/text.hpp"
#include "core/base/names.hpp"
#include "core/base/output.hpp"
#include "core/format/sdc/as_used.hpp"
#include "core/format/sdc/table.hpp"
#include "core/session/budget_edits.hpp"
#include "core/session/clock_matrix.hpp"
#include "core/session/forms.hpp"

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
QString q(const std::string& s) {
    return QString::fromStdString(s);
}

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
    receive_ = new QPushButton(tr("receive new lines"));
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

void TempoStation::make_file() {
    if (!desk_.has_session()) return;
    commit_text();
    const auto& files = desk_.session().project().constraints;
    std::string path = "constraints.sdc";
    for (int n = 2; std::any_of(files.begin(), files.end(), [&](const SdcFile& f) { return f.path == path; }) ||
                    real_disk().exists(join_path(desk_.session().document().folder(), path));
         ++n)
        path = "constraints-" + std::to_string(n) + ".sdc";
    Edit edit{"make " + path, {}};
    for (const auto& f : files)
        if (f.target) {
            auto after = f;
            after.target = false;
            edit.changes.push_back(SdcFileChange{f, after});
        }
    SdcFile fresh;
    fresh.path = path;
    fresh.target = true;
    edit.changes.push_back(SdcFileChange{std::nullopt, fresh});
    if (desk_.apply(edit)) files_->setCurrentIndex(files_->count() - 1);
}

void TempoStation::follow_linked() {
    if (!desk_.has_session() || desk_.session().document().looking()) return;
    const auto& budgets = desk_.session().project().budgets;
    if (std::none_of(budgets.begin(), budgets.end(), [](const auto& b) { return b.first.ends_with(".linked"); }))
        return;
    for (const auto& b : budgets_of(desk_.session())) {
        if (!b.linked) continue;
        const std::pair now{b.max, b.min};
        const auto [at, fresh] = followed_.try_emplace(b.name, now);
        if (!fresh && at->second == now) continue;
        at->second = now;
        if (b.agrees() || b.sdc.empty()) continue;
        auto edit = take_budget(desk_.session(), b);
        if (!edit) continue;
        edit.value().edit.title = "let the lines of " + b.name + " follow the board";
        desk_.say(tr("The lines of %1 follow the board: %2 and %3 ns.")
                      .arg(q(b.name), q(fixed(b.max, 3)), q(fixed(b.min, 3))));
        desk_.apply(edit.value().edit);
        return;  // the next one when the text was read again
    }
}

void TempoStation::write_as_used() {
    if (!desk_.has_session()) return;
    commit_text();
    const auto& s = desk_.session();
    const auto path = ask_where_to_save(this, tr("Write the constraints as they are used"),
                                        q(join_path(s.document().folder(), "as-used.sdc")), tr("Constraints (*.sdc)"));
    if (path.isEmpty()) return;
    for (const auto& f : s.project().constraints)
        if (same_file(join_path(s.document().folder(), f.path), path.toStdString()))
            return desk_.say(tr("%1 is a constraint file of this project; choose another name.").arg(q(f.path)), true);
    desk_.later<std::string>(
        "as used", this,
        [](const std::shared_ptr<const Snapshot>& now, const std::stop_token& stop) {
            const auto& w = *now->world;
            return sdc::constraints_as_used(analysis_scripts(*now->project, now->grounds->folder), w.netlist, *w.index,
                                            w.library, script_limits(w, 10), stop)
                .text;
        },
        [this, path](const std::string& text) {
            const auto status = write_output(path.toStdString(), text);
            desk_.say(status ? tr("The constraints as used are in %1.").arg(path) : q(status.first().sentence()),
                      !status);
        });
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

const ListedCommand* TempoStation::command_here() const {
    const auto* f = desk_.has_session() ? file() : nullptr;
    int line = 0, column = 0;
    editor_->getCursorPosition(&line, &column);
    return f ? command_at(listed_, f->path, static_cast<size_t>(editor_->positionFromLineIndex(line, column)))
             : nullptr;
}

void TempoStation::explain() {
    if (!desk_.has_session()) return explains_->clear();
    const auto* c = command_here();
    if (!c) return explains_->setText(tr("The cursor is in no command. Ctrl+Space completes."));
    const auto* row = sdc::find_command(c->name);
    QString text = QStringLiteral("<b>%1</b> ").arg(q(c->name).toHtmlEscaped());
    text +=
        row ? QString::fromUtf8(row->help) + tr(" (SDC 2.1)") : tr("A Tcl command; what it holds is listed with it.");
    if (c->hits)
        text += QLatin1Char(' ') + tr("It hits %1; Ctrl+Shift+L selects them.").arg(counted(*c->hits, "object"));
    explains_->setText(text);
}

void TempoStation::light() {
    const auto* c = command_here();
    if (!c) return desk_.say(tr("The cursor is in no command."), true);
    Selection selection;
    for (const auto& o : c->objects) {
        if (o.kind != ObjectKind::port || o.id >= desk_.session().world().netlist.ports.size()) continue;
        const auto name = q(desk_.session().world().netlist.ports[o.id].name);
        if (selection.empty())
            selection = {QStringLiteral("port"), name};
        else
            selection.also << name;
    }
    if (selection.empty() && c->objects.size() == 1 && c->objects[0].kind == ObjectKind::clock)
        selection = {QStringLiteral("clock"),
                     q(desk_.session().analysis().constraints().clocks[c->objects[0].id].name)};
    if (selection.empty())
        return desk_.say(tr("%1 hits %2, none of them a port.")
                             .arg(q(c->name), counted(static_cast<int>(c->objects.size()), "object")));
    desk_.select(selection);
}

void TempoStation::show_lens(int lens) {
    desk_.go_to(Place::tempo);
    lenses_->setCurrentIndex(lens);
}

QWidget* TempoStation::make_clock_lens() {
    auto* page = new QWidget;
    auto* box = new QVBoxLayout(page);
    box->setContentsMargins(14, 6, 14, 6);
    auto* form = new QFormLayout;
    form->setVerticalSpacing(4);
    box->addLayout(form);
    clock_port_ = new QComboBox;
    clock_port_->setObjectName("tempo.clock.port");
    period_ = new QLineEdit;
    period_->setObjectName("tempo.clock.period");
    duty_ = new QLineEdit;
    duty_->setObjectName("tempo.clock.duty");
    board_clock_ = new QLabel;
    board_clock_->setWordWrap(true);
    board_clock_->setProperty("role", "second");
    auto* take = new QPushButton(tr("Write the clock"));
    take->setObjectName("tempo.clock.write");
    take->setProperty("primary", true);
    form->addRow(tr("source port"), clock_port_);
    form->addRow(tr("period, ns"), period_);
    form->addRow(tr("duty cycle, %"), duty_);
    form->addRow(board_clock_);
    form->addRow(take);
    make_matrix(box);
    connect(clock_port_, &QComboBox::currentTextChanged, this, [this] {
        if (filling_) return;
        for (auto* field : {period_, duty_}) field->setModified(false);  // they speak of another port now
        fill_forms();
    });
    const auto write = [this] {
        if (!desk_.has_session()) return;
        const auto period = to_number(period_->text().toStdString()), duty = to_number(duty_->text().toStdString());
        if (!period || !duty) return desk_.say(tr("Period and duty cycle are numbers, such as 50 and 50."), true);
        write_clock(clock_port_->currentText().toStdString(), *period, *duty);
    };
    connect(take, &QPushButton::clicked, this, write);
    connect(period_, &QLineEdit::returnPressed, this, write);
    return page;
}

/// How the clocks stand to each other, below the form of one.
void TempoStation::make_matrix(QVBoxLayout* box) {
    matrix_ = new QTableWidget;
    matrix_->setObjectName("tempo.matrix");
    matrix_->setAccessibleName(tr("From each clock, by row, to each, by column"));
    matrix_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    matrix_->verticalHeader()->setDefaultSectionSize(22);
    matrix_->setShowGrid(false);
    matrix_->setCornerButtonEnabled(false);
    matrix_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    box->addWidget(matrix_);
    pair_ = new QLabel;
    pair_->setObjectName("tempo.matrix.pair");
    pair_->setWordWrap(true);
    pair_->setProperty("role", "second");
    box->addWidget(pair_);
    box->addStretch(1);
    connect(matrix_, &QTableWidget::currentCellChanged, this, [this](int row, int column) {
        if (filling_ || !desk_.has_session()) return;
        const auto pairs = clock_matrix(desk_.session().analysis());
        const auto at = static_cast<size_t>(row * matrix_->columnCount() + column);
        if (row < 0 || column < 0 || at >= pairs.size()) return;
        const auto& pair = pairs[at];
        const auto& clocks = desk_.session().analysis().constraints().clocks;
        pair_->setText(tr("From %1 to %2: %3.%4")
                           .arg(q(clocks[pair.from].name), q(clocks[pair.to].name), q(words_of(pair)),
                                pair.proposal.empty() ? QString() : tr(" Enter writes: %1").arg(q(pair.proposal))));
        if (!pair.file.empty())
            desk_.select({QStringLiteral("line"), QStringLiteral("%1:%2").arg(q(pair.file)).arg(pair.line)});
    });
    connect(matrix_, &QTableWidget::cellActivated, this, [this](int row, int column) {
        const auto pairs = clock_matrix(desk_.session().analysis());
        const auto at = static_cast<size_t>(row * matrix_->columnCount() + column);
        if (at < pairs.size() && !pairs[at].proposal.empty())
            desk_.apply(add_line(desk_.session(), pairs[at].proposal, "separate two clocks",
                                 desk_.session().analysis().constraints().clocks[pairs[at].to].name));
    });
}

QWidget* TempoStation::make_delay_lens() {
    auto* page = new QWidget;
    auto* box = new QVBoxLayout(page);
    box->setContentsMargins(14, 8, 14, 6);
    delays_ = new QTreeWidget;
    delays_->setObjectName("tempo.delays");
    delays_->setHeaderLabels({tr("port"), tr("earliest, ns"), tr("latest, ns"), tr("defined in")});
    delays_->setRootIsDecorated(false);
    for (const int c : {1, 2}) delays_->headerItem()->setTextAlignment(c, Qt::AlignRight | Qt::AlignVCenter);
    box->addWidget(delays_, 1);
    auto* line = new QHBoxLayout;
    delay_port_ = new QComboBox;
    delay_port_->setObjectName("tempo.delay.port");
    earliest_ = new QLineEdit;
    earliest_->setObjectName("tempo.delay.earliest");
    earliest_->setPlaceholderText(tr("earliest"));
    latest_ = new QLineEdit;
    latest_->setObjectName("tempo.delay.latest");
    latest_->setPlaceholderText(tr("latest"));
    auto* take = new QPushButton(tr("Write"));
    take->setObjectName("tempo.delay.write");
    take->setProperty("primary", true);
    line->addWidget(delay_port_, 3);
    line->addWidget(earliest_, 2);
    line->addWidget(latest_, 2);
    line->addWidget(take);
    box->addLayout(line);
    delay_origin_ = new QLabel;
    delay_origin_->setProperty("role", "second");
    delay_origin_->setWordWrap(true);
    box->addWidget(delay_origin_);
    connect(delays_, &QTreeWidget::currentItemChanged, this, [this](QTreeWidgetItem* item) {
        if (item && !filling_) delay_port_->setCurrentText(item->text(0));
    });
    connect(delay_port_, &QComboBox::currentTextChanged, this, [this] {
        if (filling_) return;
        for (auto* field : {earliest_, latest_}) field->setModified(false);
        fill_forms();
    });
    connect(take, &QPushButton::clicked, this, [this] {
        if (desk_.has_session()) write_delays(true);
    });
    return page;
}

/// A form speaks of the analysis of the text as it is, so it waits for that.
void TempoStation::write_clock(const std::string& port, double period, double duty) {
    desk_.when_analysed([this, port, period, duty] {
        const auto edit = clock_form(desk_.session(), port, period, duty);
        if (!edit) return desk_.say(q(edit.first().text), true);
        for (auto* field : {period_, duty_}) field->setModified(false);
        desk_.apply(edit.value());
    });
}

/// The latest first; the earliest goes into the text that has it, when that was read.
void TempoStation::write_delays(bool late) {
    auto* field = late ? latest_ : earliest_;
    const auto go_on = [this, late] {
        if (late) write_delays(false);
    };
    if (!field->isModified() || field->text().isEmpty()) return go_on();
    const auto value = to_number(field->text().toStdString());
    if (!value) return desk_.say(tr("A delay is a number of ns, such as 4.5."), true);
    desk_.when_analysed([this, field, late, value, go_on, port = delay_port_->currentText().toStdString()] {
        const auto edit = delay_form(desk_.session(), port, late, *value);
        if (!edit) return desk_.say(q(edit.first().text), true);
        field->setModified(false);
        if (desk_.apply(edit.value())) go_on();
    });
}

const SdcFile* TempoStation::file() const {
    const auto& list = desk_.session().project().constraints;
    const int at = files_->currentIndex();
    return at >= 0 && at < static_cast<int>(list.size()) ? &list[static_cast<size_t>(at)] : nullptr;
}

void TempoStation::refresh() {
    filling_ = true;
    const auto& s = desk_.session();
    const auto& list = s.project().constraints;
    while (files_->count() > static_cast<int>(list.size())) files_->removeTab(files_->count() - 1);
    for (int i = 0; i < static_cast<int>(list.size()); ++i) {
        const auto name = q(list[static_cast<size_t>(i)].path);
        if (i >= files_->count()) files_->addTab(name);
        files_->setTabText(i, name);
    }
    editor_->restyle();
    filling_ = false;
    show_file();
    fill_forms();
    fill_coverage();
    refresh_lens();
    chart_->update();
}

void TempoStation::show_file() {
    const auto* f = file();
    if (!f) return;
    filling_ = true;
    const auto text = q(shown_text(f->text));
    const bool other = shown_ != f->path;
    shown_ = f->path;
    editor_->setReadOnly(desk_.session().document().looking());
    receive_->setVisible(!f->target);
    target_->setVisible(f->target);
    target_->setText(tr("receives new commands"));
    // What is being typed is newer than the session, and what could not be taken is not thrown away.
    if (editor_->text() != text && (other || (!typing_.isActive() && !untaken_))) {
        untaken_ = false;
        editor_->setEolMode(f->text.find("\r\n") != std::string::npos ? QsciScintilla::EolWindows
                                                                      : QsciScintilla::EolUnix);
        int line = 0, column = 0;
        editor_->getCursorPosition(&line, &column);
        editor_->setText(text);
        editor_->setCursorPosition(line, column);
    }
    QStringList names;
    for (const auto& port : desk_.session().world().netlist.ports) names << q(port.name);
    for (const auto& clock : desk_.session().analysis().constraints().clocks) names << q(clock.name);
    editor_->offer(names);
    const auto& messages = desk_.session().analysis().constraints().messages;
    editor_->mark(q(f->path), messages);
    QStringList said;
    for (const auto& m : messages)
        if (m.file == f->path && said.size() < 2) said << tr("line %1: %2").arg(m.line).arg(q(m.text));
    trouble_->setText(said.join('\n'));
    trouble_->setVisible(!said.isEmpty());
    trouble_->setStyleSheet(QStringLiteral("color: %1; font-size: 12px;").arg(theme().stop.name()));
    filling_ = false;
    const auto& s = desk_.session();
    listed_ = list_commands(s.project(), s.analysis().constraints(), s.analysis().texts());
    explain();
}

/// The smallest span that differs becomes the edit, so that undo shows what was typed and all other bytes stay as they
/// are.
void TempoStation::commit_text() {
    typing_.stop();
    oldest_.stop();
    if (!desk_.has_session() || !typed_) return;
    typed_ = false;
    // The file that the editor shows, whichever tab is in front by now.
    const auto& list = desk_.session().project().constraints;
    const auto f = std::find_if(list.begin(), list.end(), [this](const SdcFile& c) { return c.path == shown_; });
    if (f == list.end()) return;
    const auto change = change_to_show(f->text, editor_->text().toStdString());
    if (!change) return;
    untaken_ =
        !desk_.apply(Edit{"type in " + f->path, {TextChange{f->path, change->offset, change->before, change->after}}});
}

namespace {
/// What is being typed is newer than what is known.
void show_in(QLineEdit* field, const QString& text) {
    if (!field->isModified() && field->text() != text) field->setText(text);
}
}  // namespace

void TempoStation::fill_forms() {
    filling_ = true;
    fill_port_choices();
    fill_clock_form();
    fill_matrix();
    fill_delays();
    show_wiring();
    filling_ = false;
}

void TempoStation::fill_port_choices() {
    const auto& s = desk_.session();
    const auto& c = s.analysis().constraints();
    const auto& ports = s.world().netlist.ports;
    if (clock_port_->count() > 0 && delay_port_->count() == static_cast<int>(ports.size())) return;
    clock_port_->clear();
    delay_port_->clear();
    QStringList all, inputs;
    for (const auto& port : ports) {
        if (port.direction != Direction::out) inputs << q(port.name);
        all << q(port.name);
    }
    clock_port_->addItems(inputs);
    delay_port_->addItems(all);
    if (!c.clocks.empty() && !c.clocks[0].sources.empty() && c.clocks[0].sources[0].kind == ObjectKind::port)
        clock_port_->setCurrentText(q(ports[c.clocks[0].sources[0].id].name));
}

const Oscillator* TempoStation::oscillator() const {
    const auto* seat = desk_.session().plan().seat(clock_port_->currentText().toStdString());
    return seat && seat->peg ? desk_.session().world().board.oscillator_at_pin(seat->on) : nullptr;
}

void TempoStation::fill_clock_form() {
    const auto& s = desk_.session();
    const auto& ports = s.world().netlist.ports;
    const auto port = clock_port_->currentText().toStdString();
    QString period, duty = QStringLiteral("50");
    for (const auto& clock : s.analysis().constraints().clocks)
        for (const auto& o : clock.sources)
            if (o.kind == ObjectKind::port && ports[o.id].name == port) {
                period = q(shortest(clock.period));
                duty = q(shortest(std::round(1000.0 * (clock.waveform[1] - clock.waveform[0]) / clock.period) / 10));
            }
    if (const auto* from = oscillator(); period.isEmpty() && from) period = q(shortest(1000 / from->mhz));
    show_in(period_, period);
    show_in(duty_, duty);
}

/// What the board says of the two ports that the forms speak of.
void TempoStation::show_wiring() {
    const auto* from = oscillator();
    board_clock_->setText(
        from ? tr("The board's oscillator %1 has %2 MHz: %3 ns, ± %4 ppm, %5.")
                   .arg(q(from->terminal), q(shortest(from->mhz)), q(shortest(1000 / from->mhz)))
                   .arg(from->ppm)
                   .arg(from->knows_duty()
                            ? tr("duty cycle %1 to %2 %").arg(from->duty_percent[0]).arg(from->duty_percent[1])
                            : tr("duty cycle not given"))
             : tr("The board has no oscillator on this port's pin."));
    const auto* seat = desk_.session().plan().seat(delay_port_->currentText().toStdString());
    delay_origin_->setText(
        seat && seat->at
            ? tr("On the board: %1, trace %2 mm.").arg(q(seat->at.net->terminal), q(fixed(seat->at.net->trace_mm, 1)))
            : tr("Not on the board yet."));
}

void TempoStation::fill_matrix() {
    const auto& clocks = desk_.session().analysis().constraints().clocks;
    const auto pairs = clock_matrix(desk_.session().analysis());
    const int n = static_cast<int>(clocks.size());
    matrix_->setRowCount(n);
    matrix_->setColumnCount(n);
    QStringList names;
    for (const auto& c : clocks) names << q(c.name);
    matrix_->setHorizontalHeaderLabels(names);
    matrix_->setVerticalHeaderLabels(names);
    const auto& t = theme();
    for (const auto& p : pairs) {
        // A word or a number in each cell, so that colour does not stand alone.
        QString text;
        QColor ink = t.ink;
        switch (p.kind) {
            case ClockPair::Kind::same:
            case ClockPair::Kind::related: text = q(shortest(std::round((p.capture - p.launch) * 1e3) / 1e3)); break;
            case ClockPair::Kind::synchronised: text = tr("%1 sync").arg(p.synchronised), ink = t.caution; break;
            case ClockPair::Kind::open: text = tr("%1 open").arg(p.open), ink = t.stop; break;
            case ClockPair::Kind::excluded: text = tr("out"), ink = t.second; break;
            case ClockPair::Kind::never: text = QStringLiteral("·"), ink = t.second; break;
        }
        auto* item = new QTableWidgetItem(text);
        item->setForeground(ink);
        item->setFont(mono(12));
        item->setTextAlignment(Qt::AlignCenter);
        item->setToolTip(q(words_of(p)));
        matrix_->setItem(static_cast<int>(p.from), static_cast<int>(p.to), item);
    }
    matrix_->setMaximumHeight(34 + 22 * std::min(n, 24));
    matrix_->setVisible(n > 0);
}

void TempoStation::fill_delays() {
    const auto& c = desk_.session().analysis().constraints();
    const auto& ports = desk_.session().world().netlist.ports;
    struct Sides {
        QString side[2], place;
    };
    std::vector<Sides> sides(ports.size());
    for (const auto& d : c.io_delays) {
        if (d.port >= ports.size()) continue;
        auto& s = sides[d.port];
        if (d.early) s.side[0] = q(fixed(d.value, 3));
        if (d.late) s.side[1] = q(fixed(d.value, 3));
        s.place = QStringLiteral("%1:%2").arg(q(c.files[static_cast<size_t>(d.span.file)])).arg(d.span.line);
    }
    std::vector<Row> rows;
    rows.reserve(ports.size());
    const auto dress = [face = mono(12)](QTreeWidgetItem* item) {
        if (item->font(0) == face) return;
        for (const int column : {1, 2}) item->setTextAlignment(column, Qt::AlignRight | Qt::AlignVCenter);
        for (const int column : {0, 1, 2}) item->setFont(column, face);
    };
    for (size_t i = 0; i < ports.size(); ++i) {
        const auto name = q(ports[i].name);
        rows.push_back({name, {name, sides[i].side[0], sides[i].side[1], sides[i].place}, dress});
        if (delay_port_->currentText() != name) continue;
        show_in(earliest_, sides[i].side[0]);
        show_in(latest_, sides[i].side[1]);
    }
    sync_rows(delays_, rows);
    delays_->setCurrentItem(row_with(delays_, delay_port_->currentText()));
    delays_->header()->setStretchLastSection(true);
    delays_->setColumnWidth(0, 120);
}

void TempoStation::follow(unsigned what) {
    if ((what & ~unsigned{News::plan}) != 0) return refresh();
    show_wiring();
    filling_ = true;
    fill_clock_form();
    filling_ = false;
}

void TempoStation::move_file(int from, int to) {
    const auto& now = desk_.session().project().constraints;
    const auto n = static_cast<int>(now.size());
    if (from < 0 || to < 0 || from >= n || to >= n || from == to) return;
    commit_text();
    Project next = desk_.session().project();
    auto& files = next.constraints;
    const auto moved = files[static_cast<size_t>(from)];
    files.erase(files.begin() + from);
    files.insert(files.begin() + to, moved);
    desk_.apply(
        difference_edit(desk_.session().project(), next, "read " + moved.path + (to < from ? " earlier" : " later")));
}

void TempoStation::receive_here() {
    const auto* here = file();
    if (!here) return;
    commit_text();
    Edit edit{"receive new commands in " + here->path, {}};
    for (const auto& f : desk_.session().project().constraints) {
        auto after = f;
        after.target = f.path == here->path;
        if (after != f) edit.changes.push_back(SdcFileChange{f, after});
    }
    desk_.apply(edit);
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
