// SPDX-License-Identifier: GPL-3.0-or-later
// The board has power as soon as there is one; a chip that was not loaded drives nothing. Loading puts the design in,
// and a moved peg wires the running board anew.
#include "app/bench/bench_station.hpp"

#include "app/bench/bench_board.hpp"
#include "app/bench/load_strip.hpp"
#include "app/bench/power_page.hpp"
#include "app/bench/proof_page.hpp"
#include "app/bench/run_bar.hpp"
#include "app/bench/scope_pane.hpp"
#include "app/bench/wires_page.hpp"
#include "app/theme/text.hpp"
#include "core/base/text.hpp"
#include "core/board_sim/currents.hpp"
#include "core/jtag/loading.hpp"
#include "core/build_flow/starter.hpp"
#include "core/model/by_hand.hpp"
#include "core/model/proof_notes.hpp"
#include "core/model/timing_words.hpp"

#include <QComboBox>
#include <QFrame>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QTabWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace kp::app {

BenchStation::BenchStation(Desk& desk, QWidget* parent)
    : Station(desk, parent),
      strip_(new LoadStrip),
      board_(new BenchBoard),
      run_(new RunBar),
      scope_(new ScopePane),
      proof_(new ProofPage(desk)),
      power_(new PowerPage(desk)),
      wires_(new WiresPage(desk)),
      side_(new QTabWidget),
      load_(new QPushButton(tr("Load"))),
      fault_(new QComboBox),
      kept_(new QComboBox) {
    nothing_.constant_net[0] = nothing_.constant_net[1] = no_id;
    lay_out();
    connect_all();
    add_actions();
}

void BenchStation::lay_out() {
    load_->setObjectName("bench.load");
    load_->setProperty("primary", true);
    fault_->setObjectName("bench.fault");
    fault_->setAccessibleName(tr("Cable fault"));
    fault_->setToolTip(tr("Fault of the simulated cable, to see what you would see"));
    fault_->addItems({tr("nothing wrong"), tr("no cable"), tr("another chip"), tr("two devices"), tr("a bit lost"),
                      tr("power goes")});
    kept_->setObjectName("bench.kept");
    kept_->setAccessibleName(tr("Whether the board keeps the image when power goes"));
    kept_->addItems({tr("volatile"), tr("stored")});
    auto* top = new QFrame;
    top->setProperty("card", true);
    auto* top_box = new QHBoxLayout(top);
    top_box->setContentsMargins(4, 2, 10, 2);
    strip_->setFixedHeight(48);
    top_box->addWidget(strip_, 1);
    auto* choices = new QVBoxLayout;
    choices->setSpacing(1);
    choices->addWidget(fault_);
    choices->addWidget(kept_);
    top_box->addLayout(choices);
    top_box->addWidget(load_);
    side_->setObjectName("bench.side");
    side_->addTab(proof_, tr("Proof"));
    side_->addTab(power_, tr("Before power"));
    side_->addTab(wires_, tr("Wires"));
    side_->setFixedWidth(318);
    auto* left = new QVBoxLayout;
    left->setSpacing(8);
    left->addWidget(run_);
    left->addWidget(board_, 3);
    left->addWidget(scope_);
    auto* middle = new QHBoxLayout;
    middle->setSpacing(12);
    middle->addLayout(left, 1);
    middle->addWidget(side_);
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(20, 12, 16, 8);
    all->setSpacing(8);
    all->addWidget(top);
    all->addLayout(middle, 1);
}

void BenchStation::connect_all() {
    connect(load_, &QPushButton::clicked, this, &BenchStation::load);
    connect(run_, &RunBar::passed, this, &BenchStation::look);
    connect(side_, &QTabWidget::currentChanged, this, &BenchStation::look);
    connect(&desk_, &Desk::opened, this, [this] {
        doings_.clear();
        hand_.clear();
        stored_.clear();
        proof_->forget();
        empty_chip();
    });
    connect(&desk_, &Desk::changed, this, &BenchStation::follow_pegs);
}

void BenchStation::add_actions() {
    const auto here = [this](auto what) {
        return [this, what] {
            desk_.go_to(Place::bench);
            what();
        };
    };
    add_action("bench.load", tr("Load the design into the simulated chip"), QKeySequence(QStringLiteral("Ctrl+L")),
               here([this] { load(); }));
    add_action("bench.starter", tr("Make and open the smallest design for this board"), {}, [this] { make_starter(); });
    add_action("bench.prove", tr("Prove the pin map on the simulated board"), {}, here([this] {
                   show_side(0);
                   proof_->prove();
               }));
    add_action("bench.pause", tr("Run or pause"), {}, here([this] { run_->runs() ? run_->pause() : run_->run(); }));
    add_action("bench.clock", tr("Step one clock"), {}, here([this] { run_->step(); }));
    add_action("bench.power", tr("Switch the board's power off and on"), {}, here([this] {
                   // What the chip finds in the board's memory when power comes it loads by itself.
                   SimulatedChip chip(desk_.session().world().part.idcode);
                   if (!stored_.empty()) chip.store(stored_);
                   chip.power_off();
                   report_ = {};
                   if (chip.loaded()) report_ = {{{tr("loaded from memory").toStdString(), true}}, 0, true, {}};
                   power_up(chip.loaded());
                   refresh();
                   desk_.tell(News::document);
               }));
    for (const auto& [id, name, step] : {std::tuple{"bench.left", tr("Turn the vane to the left"), -1},
                                         {"bench.right", tr("Turn the vane to the right"), 1}})
        add_action(id, name, {}, [this, step = step] { turn_vane(step); });
    add_action("bench.keys", tr("Press or release the first key"), {}, [this] { press_key(); });
    for (int page = 0; page < 3; ++page)
        add_action(qPrintable(QStringLiteral("bench.side.%1").arg(page)), tr("Bench: %1").arg(side_->tabText(page)), {},
                   here([this, page] { show_side(page); }));
}

void BenchStation::show_side(int page) {
    side_->setCurrentIndex(page);
}

void BenchStation::press_key() {
    bring_up();
    for (const auto& part : desk_.session().world().board.parts) {
        if (part.kind != "key" || part.terminals.empty() || !bench_) continue;
        const auto& name = part.terminals[0].name;
        const auto at = hand_.find({part.ref, name});
        return work(part.ref, name, at != hand_.end() && at->second == "1" ? "0" : "1");
    }
}

void BenchStation::turn_vane(int steps) {
    for (const auto& part : desk_.session().world().board.parts)
        if (part.kind == "vane") return work(part.ref, "position", (steps < 0 ? "" : "+") + std::to_string(steps));
}

void BenchStation::work(const std::string& ref, const std::string& control, const std::string& value) {
    bring_up();
    if (!bench_) return;
    if (const auto status = bench_->set(ref, control, value); !status) return desk_.say(q(status.first().text), true);
    // Steps are kept as where they led to, so that the hand's state can be put back on a board that is wired anew.
    auto stands = value;
    if (const auto* part = bench_->model().acting(ref))
        for (const auto& c : part->controls())
            if (c.name == control && c.kind != board_sim::Control::hold && c.kind != board_sim::Control::type)
                stands = c.value;
    hand_[{ref, control}] = stands;
    doings_.push_back({bench_->model().now(), ref, control, stands});
    proof_->set_doings(doings_, bench_->model().now());
    board_->look();
}

/// Blinks a lamp, so that cable, pins and lamp are proved before the real design.
void BenchStation::make_starter() {
    const auto& s = desk_.session();
    const auto starter = build_flow::starter_for(s.world().board, s.project().board, s.world().part);
    if (!starter) return desk_.say(q(starter.first().text), true);
    const auto folder = join_path(s.document().folder(), "starter");
    auto path = join_path(folder, "starter.kpeg");
    if (!real_disk().exists(path)) {
        const auto written = build_flow::write_starter(real_disk(), folder, starter.value());
        if (!written) return desk_.say(q(written.first().sentence()), true);
    }
    desk_.open_later(path);
}

void BenchStation::empty_chip() {
    report_ = {};
    image_ = {};
    power_later(false);
}

/// Nobody looks: the board is set up when somebody does, so that opening and edits elsewhere do not wait for it.
void BenchStation::power_later(bool with_design) {
    if (isVisible()) {
        power_up(with_design);
        return refresh();
    }
    take_down();
    waits_ = with_design;
}

void BenchStation::bring_up() {
    if (const auto with_design = std::exchange(waits_, std::nullopt)) power_up(*with_design);
}

void BenchStation::follow_pegs() {
    // The pegs are the board's wires: when they move, the running board is wired anew, as they are.
    if (!desk_.has_session()) return;
    if (desk_.session().deriver().world() != world_) {
        // Another part or design is another chip: what was loaded is gone.
        proof_->forget();
        return empty_chip();
    }
    if (!(loaded() || waits_ == true) || desk_.session().project().pegs == loaded_pegs_) return;
    power_later(true);
    if (proof_->answer() && !proof_->working()) proof_->prove();
}

void BenchStation::load() {
    const auto& w = desk_.session().world();
    if (w.netlist.cells.empty()) {
        // A header says which ports there are and nothing of what they do: there is nothing to load.
        empty_chip();
        report_.steps = {{"no netlist", false}};
        strip_->show_steps(report_.steps);
        desk_.say(tr("Nothing was loaded: the design has no netlist yet, only its ports. Give the netlist in Site."),
                  true);
        refresh();
        desk_.tell(News::document);
        return;
    }
    static const CableFault faults[] = {{CableFault::none, 0},       {CableFault::no_cable, 0},
                                        {CableFault::other_part, 0}, {CableFault::second_device, 0},
                                        {CableFault::bit, 100},      {CableFault::power, 10}};
    const auto& fault = faults[std::clamp(fault_->currentIndex(), 0, 5)];
    // Another chip: same family, another version number in the top four bits (IEEE 1149.1, 12.1).
    SimulatedChip chip(fault.kind == CableFault::other_part ? w.part.idcode ^ 0x00010000u : w.part.idcode);
    ScanChain chain(chip, fault);
    image_ = made_of();
    const auto image = own_image(w.part, desk_.session().project(), w.netlist.top, image_);
    const auto keeping = kept_->currentIndex() == 1 ? Keeping::stored : Keeping::until_power_goes;
    report_ = load_through(chain, w.part.idcode, image, keeping);
    if (report_.idcode) desk_.note_idcode(report_.idcode);
    if (report_.running && keeping == Keeping::stored) stored_ = image;
    strip_->show_steps(report_.steps);
    if (!report_.running) desk_.say(q(report_.why), true);
    doings_.clear();
    power_up(report_.running);
    refresh();
    desk_.tell(News::document);
}

ImageOrigin BenchStation::made_of() const {
    return image_origin(desk_.session().project(), digest_.of(desk_.session()));
}

void BenchStation::take_down() {
    run_->show_bench(nullptr);
    scope_->show_table(nullptr);
    wires_->show_table(nullptr);
    board_->show_table(nullptr, {});
    bench_.reset();
    with_design_ = false;
    waits_.reset();
    // What is to be set up later is of the inputs of now.
    if (desk_.has_session()) {
        world_ = desk_.session().deriver().world();
        loaded_pegs_ = desk_.session().project().pegs;
    }
}

void BenchStation::power_up(bool with_design) {
    take_down();
    if (!desk_.has_session()) return;
    world_ = desk_.session().deriver().world();
    const auto& w = *world_;
    const auto& p = desk_.session().project();
    loaded_attributes_ = p.attributes;
    loaded_pegs_ = p.pegs;
    auto made = BoardBench::make(with_design ? w.netlist : nothing_, w.library, w.board,
                                 with_design ? p.pegs : PegMap{}, {&loaded_attributes_});
    if (!made) {
        desk_.say(q(made.first().text), true);
        made = BoardBench::make(nothing_, w.library, w.board, {}, {});
        with_design = false;
        if (!made) return;
    }
    bench_.emplace(made.take());
    with_design_ = with_design;
    for (const auto& [what, value] : hand_) (void)bench_->set(what.first, what.second, value);
    std::map<std::string, std::pair<double, double>> places;
    for (const auto& part : w.board.parts) places[part.ref] = place_of(part, p);
    board_->show_table(
        &bench_->model(),
        [this](const std::string& ref, const std::string& control, const std::string& value) {
            work(ref, control, value);
        },
        places);
    run_->show_bench(&*bench_);
    scope_->show_table(&bench_->model());
    wires_->show_table(&bench_->model());
    late_of_.reset();
    mark_late();
    if (!with_design) return;
    if (const auto conflicts = bench_->conflicts(); !conflicts.empty())
        desk_.say(tr("Drivers would conflict: %1.").arg(q(list_names(conflicts))), true);
    else if (!bench_->has_clock())
        desk_.say(tr("No clock reaches the design: its clock port is not on the oscillator's pin."), true);
}

/// Who drives against whom now, and what flows. Nothing smokes here; on a real table it would.
QString BenchStation::driver_conflicts() const {
    QStringList out;
    const auto& w = *world_;
    for (const auto& f : bench_->model().driver_conflicts())
        out << q(board_sim::current_of(bench_->model(), f, with_design_ ? w.netlist : nothing_, w.part, w.standards,
                                       loaded_attributes_)
                     .sentence());
    if (out.size() > 3) {
        const auto more = out.size() - 3;
        out = out.mid(0, 3);
        out << tr("and %n more", "", static_cast<int>(more));
    }
    return out.join(QStringLiteral(" "));
}

void BenchStation::mark_late() {
    std::map<std::string, QString> marks;
    const auto& s = desk_.session();
    const auto& w = s.world();
    const auto& report = s.analysis().report;
    if (!bench_) return;
    if (!loaded() || w.netlist.cells.empty() || verdict_of(*report).failing == 0) {
        late_.clear();
    } else if (report != late_of_) {
        const design::Connections connections(w.netlist, w.library);
        late_ = verification::late_registers(connections, *w.index, *report, w.board, loaded_pegs_);
    }
    late_of_ = report;
    for (const auto& late : late_)
        for (const auto& terminal : late.terminals)
            marks.emplace(terminal.substr(0, terminal.find('.')),
                          tr("%1 missed by %2 ns at %3")
                              .arg(q(words_of_check(late.check)), q(fixed(-late.slack, 3)), q(late.endpoint)));
    board_->mark(marks);
}

void BenchStation::look() {
    if (!bench_) return;
    proof_->set_doings(doings_, bench_->model().now());
    if (!isVisible()) return;
    // An eye follows ten pictures a second; what they would cost more is better spent on board time.
    const bool runs = run_->runs();
    if (!runs || !looked_.isValid() || looked_.elapsed() > 100) {
        looked_.start();
        board_->look();
        QStringList said{driver_conflicts(), q(verification::sentence_of(late_))};
        said.removeAll(QString());
        board_->say(said.join(QLatin1Char(' ')));
        wires_->look();
    }
    if (!runs || !scoped_.isValid() || scoped_.elapsed() > 200) {
        scoped_.start();
        scope_->look();
    }
}

void BenchStation::showEvent(QShowEvent* event) {
    Station::showEvent(event);
    if (!desk_.has_session()) return;
    const bool waited = waits_ == true;
    bring_up();
    look();
    if (waited) desk_.tell(News::document);  // now it is known whether drivers conflict
}

void BenchStation::refresh() {
    if (!desk_.has_session()) return;
    if (isVisible()) bring_up();
    strip_->show_steps(report_.steps);
    if (report_.steps.empty()) strip_->show_steps({{tr("nothing is loaded").toStdString(), true}});
    proof_->refresh();
    power_->refresh();
    mark_late();
    look();
}

KnotState BenchStation::standing() const {
    if (!report_.running) {
        if (report_.steps.empty() || !report_.idcode) return {tr("Bench"), tr("not loaded"), Standing::open};
        const bool ours = desk_.has_session() && report_.idcode == desk_.session().world().part.idcode;
        return {tr("Bench"), ours ? tr("did not start") : tr("wrong chip"), Standing::stop};
    }
    if (waits_) return {tr("Bench"), tr("loaded"), Standing::open};  // nobody has looked since the pegs moved
    if (bench_ && !bench_->conflicts().empty()) return {tr("Bench"), tr("driver conflict"), Standing::caution};
    // What was proved holds for values, not for when they come.
    if (bench_ && !late_.empty())
        return {tr("Bench"), tr("%1 missed").arg(q(words_of_check(late_.front().check))), Standing::caution};
    switch (proof_->record()) {
        case ProofPage::Record::holds: return {tr("Bench"), tr("proved"), Standing::good};
        case ProofPage::Record::old: return {tr("Bench"), tr("proof is old"), Standing::caution};
        case ProofPage::Record::nothing: break;
    }
    return {tr("Bench"), tr("running"), Standing::good};
}

QString BenchStation::status() const {
    if (!loaded() && waits_ != true) return tr("the simulated chip is empty");
    if (const auto now = made_of(); now != image_) {
        QStringList what;
        if (now.pegs != image_.pegs) what << tr("pegs");
        if (now.constraints != image_.constraints) what << tr("constraints");
        if (now.netlist != image_.netlist) what << tr("the netlist");
        return tr("the image is old: %1 changed since it was made; load it again").arg(what.join(tr(" and ")));
    }
    return tr("a simulated chip on a simulated board: a stand-in, no hardware was touched");
}

}  // namespace kp::app
