// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/bench_station.hpp"

#include "app/bench/bench_board.hpp"
#include "core/base/bytes.hpp"
#include "core/base/checksum.hpp"
#include "core/bench/image.hpp"
#include "core/bench/loading.hpp"
#include "core/build/starter.hpp"
#include "core/model/by_hand.hpp"
#include "core/base/text.hpp"
#include "core/plan/place.hpp"

#include <QComboBox>
#include <algorithm>
#include <QElapsedTimer>
#include <QFrame>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTreeWidget>
#include <QVBoxLayout>

namespace kp::app {

namespace {
QString q(const std::string& s) {
    return QString::fromStdString(s);
}

// Board time per tick of the window: 2 ms each 40 ms at 20 MHz, a twentieth of life, so that a slow machine keeps up
// too.
constexpr std::uint64_t cycles_per_tick = 40000;
constexpr int tick_ms = 40;
}  // namespace

/// The steps of loading as a row of knots.
class LoadStrip : public Canvas {
public:
    void show_steps(const std::vector<LoadStep>& steps) {
        steps_ = steps;
        update();
    }

protected:
    void draw(QPainter& p) override {
        const auto& t = theme();
        text(p, {12, 6, 150, 18}, Qt::AlignVCenter, tr("simulated cable"), words(13, true), t.ink);
        text(p, {12, 26, 196, 18}, Qt::AlignVCenter, tr("this page is a stand-in"), words(11.5), t.second);
        const double left = 190, step = (width() - left) / 5.0;
        for (size_t i = 0; i < steps_.size(); ++i) {
            const double x = left + static_cast<double>(i) * step;
            p.setPen(QPen(steps_[i].good ? t.good : t.stop, 2));
            if (i + 1 < steps_.size()) p.drawLine(QPointF(x + 12, 15), QPointF(x + step - 8, 15));
            if (steps_[i].good) {
                p.setBrush(t.good);
                p.drawEllipse(QPointF(x + 4, 15), 4, 4);
            } else {
                draw_severity(p, {x + 4, 15}, Severity::stop);
            }
            text(p, {x, 25, step - 6, 18}, Qt::AlignVCenter, q(steps_[i].text), words(11.5),
                 steps_[i].good ? t.ink : t.stop, true);
        }
    }

private:
    std::vector<LoadStep> steps_;
};

BenchStation::BenchStation(Desk& desk, QWidget* parent)
    : Station(desk, parent),
      strip_(new LoadStrip),
      board_(new BenchBoard(desk)),
      load_(new QPushButton(tr("Load"))),
      compare_(new QPushButton(tr("Try all directions"))),
      swap_(new QPushButton),
      fault_(new QComboBox),
      verdict_(new QLabel),
      hint_(new QLabel),
      notes_(new QLabel),
      table_(new QTreeWidget) {
    load_->setObjectName("bench.load");
    load_->setProperty("primary", true);
    compare_->setObjectName("bench.compare");
    swap_->setObjectName("bench.swap");
    fault_->setObjectName("bench.fault");
    fault_->setAccessibleName(tr("What goes wrong on the cable"));
    fault_->setToolTip(tr("What goes wrong on the simulated cable, to see what you would see"));
    fault_->addItems({tr("nothing wrong"), tr("no cable"), tr("another chip"), tr("two devices"), tr("a bit lost"),
                      tr("power goes")});
    table_->setObjectName("bench.table");
    table_->setHeaderLabels({tr("gray"), tr("expected"), tr("board")});
    table_->setRootIsDecorated(false);
    table_->setUniformRowHeights(true);
    table_->setColumnWidth(0, 74);
    table_->setColumnWidth(1, 98);
    verdict_->setProperty("role", "heading");
    hint_->setWordWrap(true);
    auto* top = new QFrame;
    top->setProperty("card", true);
    auto* top_box = new QHBoxLayout(top);
    top_box->setContentsMargins(4, 2, 12, 2);
    strip_->setFixedHeight(50);
    top_box->addWidget(strip_, 1);
    auto* buttons = new QVBoxLayout;
    buttons->setSpacing(1);
    buttons->addWidget(load_);
    buttons->addWidget(fault_);
    top_box->addLayout(buttons);
    auto* right = new QFrame;
    right->setProperty("card", true);
    right->setFixedWidth(318);
    auto* box = new QVBoxLayout(right);
    box->setContentsMargins(12, 10, 12, 10);
    notes_->setWordWrap(true);
    notes_->setTextFormat(Qt::RichText);  // our own markup round texts that are escaped
    notes_->setObjectName("bench.notes");
    box->addWidget(notes_);
    box->addWidget(compare_);
    box->addWidget(verdict_);
    box->addWidget(table_, 1);
    box->addWidget(hint_);
    box->addWidget(swap_);
    swap_->hide();
    auto* middle = new QHBoxLayout;
    middle->setSpacing(12);
    middle->addWidget(board_, 1);
    middle->addWidget(right);
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(20, 14, 16, 10);
    all->setSpacing(12);
    all->addWidget(top);
    all->addLayout(middle, 1);

    connect_all();
}

void BenchStation::connect_all() {
    clock_.setInterval(tick_ms);
    connect(&clock_, &QTimer::timeout, this, &BenchStation::tick);
    connect(load_, &QPushButton::clicked, this, &BenchStation::load);
    connect(compare_, &QPushButton::clicked, this, &BenchStation::compare_all);
    connect(swap_, &QPushButton::clicked, this, &BenchStation::swap_pair);
    connect(&desk_, &Desk::opened, this, &BenchStation::empty_chip);
    connect(&desk_, &Desk::changed, this, [this] {
        // The pegs are the board's wires: when they move, the running board is wired anew, as they are.
        if (!desk_.has_session() || !bench_) return;
        // Another part or design is another chip: what was loaded is gone.
        if (desk_.session().deriver().world() != world_) return empty_chip();
        if (desk_.session().project().pegs == loaded_pegs_) return;
        start_bench();
        if (!rows_.empty()) compare_all();
    });
    add_action("bench.load", tr("Load the design into the simulated chip"), QKeySequence(QStringLiteral("Ctrl+L")),
               [this] {
                   desk_.go_to(Place::bench);
                   load();
               });
    add_action("bench.starter", tr("Make and open the smallest design for this board"), {}, [this] { make_starter(); });
    add_action("bench.compare", tr("Try all directions of the vane"), {}, [this] {
        desk_.go_to(Place::bench);
        compare_all();
    });
    for (const auto& [id, name, step] : {std::tuple{"bench.left", tr("Turn the vane to the left"), -1},
                                         {"bench.right", tr("Turn the vane to the right"), 1}})
        add_action(id, name, {}, [this, step = step] { board_->turn_vane(step); });
    add_action("bench.keys", tr("Press or release the first key"), {}, [this] {
        for (const auto& part : desk_.session().world().board.parts)
            if (part.kind == "key")
                return board_->press(part.ref + "." + part.terminals[0].name,
                                     !board_->hand().down.contains(part.ref + "." + part.terminals[0].name));
    });
}

/// Blinks a lamp, so that cable, pins and lamp are proved before the real design.
void BenchStation::make_starter() {
    const auto& s = desk_.session();
    const auto starter = build::starter_for(s.world().board, s.project().board, s.world().part);
    if (!starter) return desk_.say(q(starter.first().text), true);
    const auto folder = join_path(s.document().folder(), "starter");
    auto path = join_path(folder, "starter.kpeg");
    if (!real_disk().exists(path)) {
        const auto written = build::write_starter(real_disk(), folder, starter.value());
        if (!written) return desk_.say(q(written.first().sentence()), true);
    }
    desk_.open_later(path);
}

void BenchStation::empty_chip() {
    clock_.stop();
    board_->show_bench(nullptr);
    bench_.reset();
    world_.reset();
    report_ = {};
    rows_.clear();
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
    loaded_digest_ = digest_now();
    const auto& p = desk_.session().project();
    report_ =
        load_through(chain, w.part.idcode, write_image({w.part.idcode, p.part, w.netlist.top, "", loaded_digest_, {}}));
    if (report_.idcode) desk_.note_idcode(report_.idcode);
    strip_->show_steps(report_.steps);
    if (!report_.running) {
        bench_.reset();
        board_->show_bench(nullptr);
        clock_.stop();
        desk_.say(q(report_.why), true);
    } else {
        start_bench();
    }
    refresh();
    desk_.tell(News::document);
}

/// Of what an image is made from beside the netlist: pegs and constraints.
std::string BenchStation::digest_now() const {
    std::string text;
    for (const auto& [port, peg] : desk_.session().project().pegs) text += port + "=" + peg.pin + "\n";
    for (const auto& file : desk_.session().project().constraints) text += file.path + "\n" + file.text;
    return sha256(text);
}

void BenchStation::start_bench() {
    board_->show_bench(nullptr);
    bench_.reset();
    world_ = desk_.session().deriver().world();
    const auto& w = *world_;
    auto made = BoardBench::make(w.netlist, w.library, w.board, desk_.session().project().pegs);
    if (!made) {
        bench_.reset();
        board_->show_bench(nullptr);
        return desk_.say(q(made.first().text), true);
    }
    bench_.emplace(made.take());
    loaded_pegs_ = desk_.session().project().pegs;
    board_->show_bench(&*bench_);
    board_->give_all();
    bench_->mark();
    marked_ = 0;
    clock_.start();
    if (const auto fights = bench_->conflicts(); !fights.empty())
        desk_.say(tr("Drivers would conflict: %1.").arg(q(list_names(fights))), true);
    else if (!bench_->has_clock())
        desk_.say(tr("No clock reaches the design: its clock port is not on the oscillator's pin."), true);
}

void BenchStation::tick() {
    if (!bench_ || !isVisible()) return;
    // A large design takes longer than the tick for its share: then less board time passes, and the window stays quick.
    QElapsedTimer spent;
    spent.start();
    for (std::uint64_t done = 0; done < cycles_per_tick && spent.elapsed() < tick_ms * 2 / 3;
         done += BenchBoard::cycles_per_sample) {
        bench_->run(BenchBoard::cycles_per_sample);
        board_->sample();
    }
    // A new measurement of the tone every quarter of a second of board time or so; until then the old one stands.
    if (bench_->cycles() > marked_ + cycles_per_tick * 250) {
        bench_->mark();
        marked_ = bench_->cycles();
    }
    board_->update();
}

void BenchStation::compare_all() {
    const auto& s = desk_.session();
    const BoardPart *vane = nullptr, *lamps = nullptr;
    for (const auto& part : s.world().board.parts) {
        if (part.kind == "vane") vane = &part;
        if (part.kind == "lamp") lamps = &part;
    }
    if (!vane || !lamps) return desk_.say(tr("This board has no vane and lamps to try."), true);
    PegMap by_name;
    for (const auto& m : match_names(s.world().netlist.ports, s.world().board, {}))
        by_name[m.port] = {m.pin, PegState::loose, "by name"};
    auto rows = compare_directions(s.world().netlist, s.world().library, s.world().board, by_name, s.project().pegs,
                                   *vane, *lamps);
    if (!rows) return desk_.say(q(rows.first().text), true);
    rows_ = rows.take();
    refresh();
}

void BenchStation::refresh() {
    // What the board's maker wants read before power is switched on stands here until the design is loaded.
    QString before;
    if (!report_.running)
        for (const auto& note : power_notes(desk_.session().world().board, desk_.session().project()))
            if (!note.done)
                before += QStringLiteral("<p style='margin:3px 0'>%1</p>").arg(q(note.text).toHtmlEscaped());
    notes_->setText(before.isEmpty() ? QString() : tr("<b>Before power is switched on</b>") + before);
    notes_->setVisible(!before.isEmpty());
    const bool directions = board_->of_kind("vane") && board_->of_kind("lamp");
    for (QWidget* w : {static_cast<QWidget*>(compare_), static_cast<QWidget*>(table_)}) w->setVisible(directions);
    hint_->setVisible(directions);
    notes_->parentWidget()->setVisible(directions || !before.isEmpty());
    strip_->show_steps(report_.steps);
    table_->clear();
    int differ = 0;
    const auto names = [](const std::vector<std::string>& list) {
        return list.empty() ? tr("none") : q(list_names(list));
    };
    for (const auto& row : rows_) {
        auto* item = new QTreeWidgetItem(table_, {q(row.gray), names(row.expected), names(row.observed)});
        for (int c = 0; c < 3; ++c) item->setFont(c, mono(12));
        if (row.agrees()) continue;
        if (++differ == 1) table_->scrollToItem(item, QAbstractItemView::PositionAtCenter);
        for (int c = 0; c < 3; ++c) item->setBackground(c, theme().wash_stop);
        item->setText(2, QStringLiteral("■ ") + item->text(2));
    }
    verdict_->setVisible(!rows_.empty());
    verdict_->setText(tr("%1 agree, %2 differ").arg(static_cast<int>(rows_.size()) - differ).arg(differ));
    verdict_->setStyleSheet(
        QStringLiteral("color: %1; font-size: 13px;").arg((differ ? theme().stop : theme().good).name()));
    swap_->hide();
    swapped_ = {};
    QString text = rows_.empty()
                       ? tr("Sets the vane to each direction and compares the lamps with what the port names ask for.")
                   : differ ? tr("Lamps answer that should not: look at the pegs of the lamps in Findings.")
                            : tr("Every direction lights the lamp its port name asks for.");
    const auto& session = desk_.session();
    if (const auto crossed = crossed_pair(rows_, session.world().board, session.project().pegs)) {
        swapped_ = {crossed->ports[0], crossed->ports[1]};
        text = tr("%1 and %2 answer for each other: %3 and %4 are crossed.")
                   .arg(q(crossed->terminals[0]), q(crossed->terminals[1]), q(swapped_.first), q(swapped_.second));
        swap_->setText(tr("Swap the two pegs"));
        swap_->setVisible(!swapped_.first.empty() && !swapped_.second.empty());
    }
    hint_->setText(text);
    board_->update();
}

void BenchStation::swap_pair() {
    const auto pair = swapped_;
    desk_.apply(swap_edit(desk_.session().project(), pair.first, pair.second));
}

KnotState BenchStation::standing() const {
    if (!report_.running) {
        if (report_.steps.empty() || !report_.idcode) return {tr("Bench"), tr("not loaded"), Standing::open};
        const bool ours = desk_.has_session() && report_.idcode == desk_.session().world().part.idcode;
        return {tr("Bench"), ours ? tr("did not start") : tr("wrong chip"), Standing::stop};
    }
    return {tr("Bench"), tr("running"), bench_ && bench_->conflicts().empty() ? Standing::good : Standing::caution};
}

QString BenchStation::status() const {
    if (!bench_) return tr("the simulated chip is empty");
    if (loaded_digest_ != digest_now())
        return tr("the image is old: pegs or constraints changed since it was made; load it again");
    return tr("simulated %1 ms of board time, %2 cycles, slower than life")
        .arg(q(fixed(bench_->seconds() * 1000, 1)))
        .arg(bench_->cycles());
}

}  // namespace kp::app
