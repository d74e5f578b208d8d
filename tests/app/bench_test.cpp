// SPDX-License-Identifier: GPL-3.0-or-later
// The Bench through the window: every board with all its parts, loading, time, the hand, scope, proof and wires.
#include "tests/app/harness.hpp"

#include "app/bench/bench_board.hpp"
#include "app/bench/bench_station.hpp"
#include "app/bench/card_layout.hpp"
#include "app/bench/power_page.hpp"
#include "app/bench/proof_page.hpp"
#include "app/bench/run_bar.hpp"
#include "app/bench/scope_pane.hpp"
#include "app/bench/wires_page.hpp"
#include "app/log/build_page.hpp"
#include "app/shell/ask_files.hpp"
#include "core/build_flow/starter.hpp"
#include "core/handoff/bundle.hpp"
#include "core/model/by_hand.hpp"
#include "core/inputs/data_folder.hpp"

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QTreeWidget>
#include <random>

namespace kp::app {
namespace {

using test::Driver;

BenchStation& bench_of(Driver& d) {
    d.window.show_station(5);
    return *static_cast<BenchStation*>(d.window.station_at(5));
}

/// Board time passes at once, as much as is asked for.
void pass(BenchStation& bench, board_sim::Time time) {
    bench.run_bar().pause();
    bench.powered()->run_for(time);
    emit bench.run_bar().passed();
}

TEST(Cards, NeverLieOverEachOther) {
    std::mt19937 random(3);
    for (int round = 0; round < 300; ++round) {
        std::vector<int> heights;
        for (unsigned n = random() % 40; n > 0; --n) heights.push_back(20 + static_cast<int>(random() % 300));
        const int width = 100 + static_cast<int>(random() % 1800);
        const auto laid = lay_out_cards(heights, width, 194, 8);
        for (size_t i = 0; i < laid.places.size(); ++i) {
            EXPECT_GE(laid.places[i].left(), 0);
            EXPECT_LE(laid.places[i].right(), std::max(width, 194));
            EXPECT_LE(laid.places[i].bottom(), laid.height);
            for (size_t k = 0; k < i; ++k) EXPECT_FALSE(laid.places[i].intersects(laid.places[k])) << round;
        }
    }
}

/// What is over each other or cut on the table; empty: nothing.
std::string untidy(BenchBoard& board) {
    QStringList out;
    const auto& cards = board.cards();
    for (size_t i = 0; i < cards.size(); ++i) {
        for (size_t k = 0; k < i; ++k)
            if (cards[i]->geometry().intersects(cards[k]->geometry()))
                out << cards[i]->objectName() + " over " + cards[k]->objectName();
        if (cards[i]->height() < cards[i]->minimumSizeHint().height())
            out << QStringLiteral("%1 is %2 high, wants %3")
                       .arg(cards[i]->objectName())
                       .arg(cards[i]->height())
                       .arg(cards[i]->minimumSizeHint().height());
        cards[i]->face().grab();
        for (const auto& text : cards[i]->face().drawn())
            if (text.cut) out << QStringLiteral("cut: ") + text.text;
        const auto& items = cards[i]->face().items();
        for (size_t a = 0; a < items.size(); ++a)
            for (size_t b = 0; b < a; ++b)
                if (items[a].rect.adjusted(1, 1, -1, -1).intersects(items[b].rect.adjusted(1, 1, -1, -1)))
                    out << QString::fromStdString(items[a].name + " over " + items[b].name);
        for (auto* child : cards[i]->findChildren<QPushButton*>())
            if (child->isVisible() && child->sizeHint().width() > child->width() + 1)
                out << QStringLiteral("button %1 of %2").arg(child->text(), cards[i]->objectName());
    }
    return out.join('\n').toStdString();
}

class EveryDemo : public testing::TestWithParam<const char*> {};

/// Every part of the board has a card, acts, and lies clear of the others, at rest and while it is worked.
TEST_P(EveryDemo, RunsWithAllItsPartsActing) {
    Driver d(false);
    d.window.resize(1280, 800);
    const QString path = QStringLiteral(KP_SOURCE "/demo/") + QLatin1String(GetParam());
    QTemporaryDir copy;
    const QFileInfo info(path);
    for (const auto& file : info.dir().entryInfoList(QDir::Files)) {
        const auto to = copy.filePath(file.fileName());
        QFile::copy(file.filePath(), to);
        QFile::setPermissions(to, QFile::ReadOwner | QFile::WriteOwner);
    }
    ASSERT_TRUE(d.window.desk().open(copy.filePath(info.fileName())));
    auto& bench = bench_of(d);
    QCoreApplication::processEvents();
    size_t expected = 0;
    for (const auto& part : d.session().world().board.parts)
        expected += !part.terminals.empty() && part.kind != "oscillator" && part.kind != "fpga";
    EXPECT_EQ(bench.board().cards().size(), expected);
    EXPECT_EQ(untidy(bench.board()), "") << "at rest";
    d.picture(("bench-rest-" + info.completeBaseName().toStdString()).c_str());
    bench.load();
    if (d.session().world().netlist.cells.empty()) {
        EXPECT_EQ(bench.bench(), nullptr);
        return;
    }
    ASSERT_NE(bench.bench(), nullptr);
    pass(bench, 200 * board_sim::microsecond);
    EXPECT_EQ(untidy(bench.board()), "") << "running";
    // Whatever a hand can do is done; nothing is refused, and what it says of itself is there.
    for (const auto& part : bench.bench()->model().parts()) {
        if (!part) continue;
        for (const auto& c : part->controls()) {
            const std::string value = c.kind == board_sim::Control::choose ? c.choices.back()
                                      : c.kind == board_sim::Control::dial ? "+1"
                                      : c.kind == board_sim::Control::type ? "hello"
                                                                           : "1";
            bench.work(part->part().ref, c.name, value);
            EXPECT_TRUE(d.find<QLabel>("notice.text")->text().isEmpty() || d.find<QLabel>("notice.text")->isHidden() ||
                        !d.find<QLabel>("notice.text")->text().contains("takes no"));
        }
    }
    pass(bench, 200 * board_sim::microsecond);
    EXPECT_EQ(untidy(bench.board()), "") << "after the hand";
    d.picture(("bench-runs-" + info.completeBaseName().toStdString()).c_str());
    for (const auto& [w, h] : {std::pair(1920, 1080), {1100, 740}}) {
        d.window.resize(w, h);
        QCoreApplication::processEvents();
        EXPECT_EQ(untidy(bench.board()), "") << w;
    }
}

INSTANTIATE_TEST_SUITE_P(Demos, EveryDemo,
                         testing::Values("vane/vane.kpeg", "vane/vane-closed.kpeg", "profiler/profiler.kpeg",
                                         "profiler/profiler-closed.kpeg", "linkwatch/linkwatch.kpeg",
                                         "uplink/uplink.kpeg"));

/// The smallest design for each board that ships is built, loaded and blinks its lamp, through the window.
class EveryBoard : public testing::TestWithParam<std::pair<const char*, const char*>> {};

TEST_P(EveryBoard, BlinksItsStarter) {
    const auto [board, code] = GetParam();
    Driver d(false);
    d.window.resize(1280, 800);
    Project ask;
    ask.board = board;
    ask.part = code;
    const auto world = load_world(real_disk(), ask, ".", data_folder());
    ASSERT_TRUE(world.ok()) << world.first().sentence();
    auto starter = build_flow::starter_for(world.value()->board, board, world.value()->part);
    ASSERT_TRUE(starter.ok()) << starter.first().sentence();
    starter.value().project.parameters["BITS"] = "6";  // so that a blink does not take half a second of board time
    const auto path =
        build_flow::write_starter(real_disk(), d.folder.path().toStdString() + "/starter", starter.value());
    ASSERT_TRUE(path.ok()) << path.first().sentence();
    ASSERT_TRUE(d.window.desk().open(path.value()));
    ASSERT_TRUE(d.settle());
    auto* page = d.window.findChild<BuildPage*>(QStringLiteral("build"));
    d.act("build.start");
    ASSERT_TRUE(QTest::qWaitFor([&] { return !page->working() && !page->runs().empty(); }, 60000));
    d.act("build.take");
    ASSERT_TRUE(d.settle());
    auto& bench = bench_of(d);
    d.act("bench.load");
    ASSERT_NE(bench.bench(), nullptr);
    bench.run_bar().pause();
    const auto lamp = bench.bench()->model().terminal(starter.value().blinks);
    bench.bench()->model().record(lamp);
    pass(bench, 100 * board_sim::microsecond);
    const auto& edges = bench.bench()->model().edges(lamp);
    const auto beat =
        board_sim::measure(std::vector<board_sim::Edge>(edges.begin(), edges.end()), 0, board_sim::second);
    EXPECT_NE(board_sim::beat_verdict(bench.bench()->model().clock_hz() / 64, beat).find("as expected"),
              std::string::npos)
        << beat.hz;
    // The other lamp follows its key.
    const auto dot = starter.value().key.find('.');
    const auto ref = starter.value().key.substr(0, dot), name = starter.value().key.substr(dot + 1);
    for (const char* down : {"1", "0"}) {
        bench.work(ref, name, down);
        pass(bench, 3 * board_sim::millisecond);
        EXPECT_EQ(bench.bench()->active(starter.value().follows), *down == '1') << down;
    }
    EXPECT_EQ(untidy(bench.board()), "");
    d.picture(("bench-starter-" + std::string(board)).c_str());
}

INSTANTIATE_TEST_SUITE_P(Boards, EveryBoard,
                         testing::Values(std::pair("tussock", "SKR11-Q144-MN"), std::pair("saltmarsh", "SKR23-B256-MN"),
                                         std::pair("headland", "SKR44L-B529-HW")));

TEST(Bench, APluggedModuleActsLikeTheBoardsOwn) {
    Driver d;
    ASSERT_TRUE(d.window.desk().apply(Edit{"fit", {set_field(d.session().project(), "modules", "lampbar@J2")}}));
    ASSERT_TRUE(d.settle());
    auto& bench = bench_of(d);
    d.act("bench.load");
    ASSERT_NE(bench.bench(), nullptr);
    ASSERT_NE(bench.board().card("J2.M1"), nullptr);
    bench.work("J3", "position", "31");  // gray 10000: the header shows it raw
    pass(bench, 5 * board_sim::millisecond);
    EXPECT_TRUE(bench.bench()->active("J2.M1.bar4"));
    EXPECT_FALSE(bench.bench()->active("J2.M1.bar0"));
}

/// Boards that nobody drew: every card clear of the others, whatever parts there are.
TEST(BenchLayout, RandomBoardsLieClear) {
    static const char* const kinds[] = {"lamp", "key", "rocker",   "header", "serial",  "sounder", "display",
                                        "vane", "bus", "receiver", "driver", "encoder", "thing"};
    for (unsigned seed = 1; seed <= 10; ++seed) {
        std::mt19937 random(seed);
        Board board;
        for (unsigned p = 0; p < 4 + random() % 22; ++p) {
            BoardPart part;
            part.kind = kinds[random() % std::size(kinds)];
            part.ref = "X" + std::to_string(p);
            part.label = std::string(part.kind) + (random() % 3 ? "" : " with quite a long name to it");
            part.x = random() % 150;
            part.y = random() % 100;
            for (unsigned t = 0; t < 1 + random() % 16; ++t) {
                Terminal terminal;
                terminal.name = std::string(part.kind == std::string("display") ? "seg" : "t") + std::to_string(t);
                terminal.direction = static_cast<TerminalDirection>(random() % 3);
                terminal.active_low = random() % 2;
                part.terminals.push_back(terminal);
                BoardNet net;
                net.pin = "P" + std::to_string(p) + "_" + std::to_string(t);
                net.terminal = part.ref + "." + terminal.name;
                board.nets.push_back(net);
            }
            board.parts.push_back(part);
        }
        board.index();
        Netlist nothing;
        nothing.constant_net[0] = nothing.constant_net[1] = no_id;
        auto table = board_sim::BoardModel::make(nothing, {}, board, {});
        ASSERT_TRUE(table.ok());
        BenchBoard view;
        std::map<std::string, std::pair<double, double>> places;
        for (const auto& part : board.parts) places[part.ref] = {part.x, part.y};
        view.show_table(
            &*table.value(), [](auto&&...) {}, places);
        for (const int width : {300, 660, 900, 1500}) {
            view.resize(width, 500);
            view.show();
            QCoreApplication::processEvents();
            table.value()->run_until(table.value()->now() + board_sim::millisecond);
            view.look();
            EXPECT_EQ(untidy(view), "") << seed << " " << width;
        }
        view.show_table(nullptr, {});
    }
}

TEST(Bench, TheRightChipIsLoadedAndWorksAndTheWrongOneIsRefused) {
    Driver d;
    auto& bench = bench_of(d);
    auto* fault = d.find<QComboBox>("bench.fault");
    for (const int wrong : {1, 2, 4, 5}) {  // no cable, another chip, a bit lost, power goes
        fault->setCurrentIndex(wrong);
        d.click("bench.load");
        EXPECT_EQ(bench.bench(), nullptr) << wrong;
        d.picture(("bench-fault-" + std::to_string(wrong)).c_str());
    }
    fault->setCurrentIndex(3);  // two devices: the part is reached behind the other one
    d.click("bench.load");
    EXPECT_NE(bench.bench(), nullptr);
    fault->setCurrentIndex(0);
    d.click("bench.load");
    ASSERT_NE(bench.bench(), nullptr);
    bench.work("J3", "position", "9");
    ASSERT_TRUE(d.wait([&] { return bench.bench()->active("D1.rose2") && !bench.bench()->active("D1.rose0"); }));
    ASSERT_TRUE(d.wait([&] { return bench.bench()->frequency_hz("LS1.tone") > 0; }));
    EXPECT_NEAR(bench.bench()->frequency_hz("LS1.tone"), 610.35, 0.01);
    auto* key = d.find<QPushButton>("bench.S1.hold");
    QTest::mousePress(key, Qt::LeftButton);
    ASSERT_TRUE(d.wait([&] { return bench.bench()->active("S1.hold"); }));
    QTest::mouseRelease(key, Qt::LeftButton);
    pass(bench, 3 * board_sim::millisecond);
    EXPECT_FALSE(bench.bench()->active("S1.hold"));
}

TEST(Bench, AStoredImageComesBackWithPowerAndAVolatileOneDoesNot) {
    Driver d;
    auto& bench = bench_of(d);
    d.act("bench.load");
    ASSERT_NE(bench.bench(), nullptr);
    d.act("bench.power");
    EXPECT_EQ(bench.bench(), nullptr);
    ASSERT_NE(bench.powered(), nullptr);  // power is there, the chip is empty
    pass(bench, 2 * board_sim::millisecond);
    EXPECT_EQ(bench.powered()->level("D1.rose0"), Level::floating);
    d.find<QComboBox>("bench.kept")->setCurrentIndex(1);
    d.act("bench.load");
    d.act("bench.power");
    EXPECT_NE(bench.bench(), nullptr);
}

TEST(Bench, AnotherPartEmptiesTheChip) {
    Driver d;
    auto& bench = bench_of(d);
    d.act("bench.load");
    ASSERT_NE(bench.bench(), nullptr);
    ASSERT_TRUE(d.window.desk().apply(Edit{"part", {FieldChange{"part", "SKR11-Q144-MN", "SKR11-Q144-HN"}}}));
    ASSERT_TRUE(d.settle());
    EXPECT_EQ(bench.bench(), nullptr);
    EXPECT_EQ(d.window.tether().states()[5].standing_text, QStringLiteral("not loaded"));
}

TEST(Bench, TimeStepsRunsToAndStopsAtAWire) {
    Driver d;
    auto& bench = bench_of(d);
    d.act("bench.load");
    bench.run_bar().pause();
    const auto from = bench.bench()->cycles();
    d.click("bench.step");
    d.click("bench.step");
    EXPECT_EQ(bench.bench()->cycles(), from + 2);
    const auto ms = bench.bench()->seconds() * 1e3;
    bench.run_bar().run_to(ms + 1.5);
    ASSERT_TRUE(d.wait([&] { return !bench.run_bar().runs(); }));
    EXPECT_NEAR(bench.bench()->seconds() * 1e3, ms + 1.5, 1e-9);
    bench.run_bar().run_until("LS1.tone", true);
    ASSERT_TRUE(d.wait([&] { return !bench.run_bar().runs(); }));
    EXPECT_GT(bench.bench()->seconds() * 1e3, ms + 1.5);
    const auto edges = bench.bench()->model().edges(bench.bench()->model().terminal("LS1.tone"));
    EXPECT_TRUE(std::any_of(edges.begin(), edges.end(), [](const auto& e) { return e.level == Level::high; }));
    EXPECT_TRUE(d.find<QLabel>("bench.time")->text().contains("paused"));
    bench.run_bar().run();
    ASSERT_TRUE(d.wait(
        [&] { return bench.run_bar().share() > 0 && d.find<QLabel>("bench.time")->text().contains("real time"); }));
}

TEST(Bench, TheScopeMeasuresATone) {
    Driver d;
    auto& bench = bench_of(d);
    d.act("bench.load");
    bench.run_bar().pause();
    auto* first = d.find<QComboBox>("bench.scope.1");
    EXPECT_EQ(first->currentText(), QStringLiteral("LS1.tone"));
    d.find<QComboBox>("bench.scope.span")->setCurrentIndex(7);  // 10 ms
    emit d.find<QComboBox>("bench.scope.span")->activated(7);
    pass(bench, 20 * board_sim::millisecond);
    EXPECT_TRUE(bench.scope().measured().contains("1: 610.35 Hz, 50.0 % high"))
        << bench.scope().measured().toStdString();
    auto& screen = bench.scope().screen();
    QTest::mouseClick(&screen, Qt::LeftButton, {}, QPoint(200, 20));
    QTest::mouseClick(&screen, Qt::RightButton, {}, QPoint(300, 20));
    const auto [a, b] = screen.cursors();
    EXPECT_GT(b, a);
    QTest::keyClick(&screen, Qt::Key_Right);
    EXPECT_GT(screen.cursors()[1], b);
    EXPECT_TRUE(bench.scope().measured().contains("a to b"));
    d.find<QLineEdit>("bench.scope.expected")->setText("1220.7");
    EXPECT_TRUE(bench.scope().measured().contains("toggles at the frequency"))
        << bench.scope().measured().toStdString();
    // Once: it waits, then shows what followed the edge.
    d.click("bench.scope.arm");
    EXPECT_TRUE(bench.scope().scope().waits());
    pass(bench, 30 * board_sim::millisecond);
    EXPECT_FALSE(bench.scope().scope().waits());
    EXPECT_GE(bench.scope().scope().capture().trigger, 0);
}

TEST(Bench, SwappedLampsAreProvedToldAndSwappedBack) {
    Driver d;
    auto& bench = bench_of(d);
    d.window.desk().apply(Edit{
        "mend",
        {PegChange{"rose_n[5]", d.session().project().pegs.at("rose_n[5]"), Peg{"59", PegState::pegged, "by hand"}}}});
    auto pegs = d.session().project().pegs;
    d.window.desk().apply(Edit{"swap",
                               {PegChange{"rose_n[2]", pegs.at("rose_n[2]"), pegs.at("rose_n[3]")},
                                PegChange{"rose_n[3]", pegs.at("rose_n[3]"), pegs.at("rose_n[2]")}}});
    d.click("bench.load");
    d.click("bench.compare");
    ASSERT_TRUE(d.wait([&] { return bench.proof().answer().has_value(); }));
    EXPECT_EQ(bench.proof().answer()->proof.differ, 32u);
    EXPECT_EQ(bench.proof().answer()->count(verification::ProvedOutput::differs), 2u);
    EXPECT_TRUE(d.find<QLabel>("bench.verdict")->text().startsWith(QStringLiteral("2 of 14 outputs differ")));
    d.click("bench.swap");
    EXPECT_EQ(d.session().project().pegs.at("rose_n[2]").pin, pegs.at("rose_n[2]").pin);
    // It is proved again by itself, and the record is kept, found in the handoff, and old when a peg moves.
    ASSERT_TRUE(d.wait([&] { return !bench.proof().working() && bench.proof().answer()->proof.differ == 0; }));
    d.click("bench.keep");
    ASSERT_EQ(d.session().project().proofs.size(), 1u);
    EXPECT_EQ(bench.proof().record(), ProofPage::Record::holds);
    EXPECT_EQ(d.window.tether().states()[5].standing_text, QStringLiteral("proved"));
    EXPECT_NE(checklist(d.session()).find("- [x] All 128 combinations"), std::string::npos) << checklist(d.session());
    const auto at = d.session().project().pegs.at("tone");
    d.window.desk().apply(Edit{"move", {PegChange{"tone", at, Peg{"40", PegState::pegged, "by hand"}}}});
    EXPECT_EQ(bench.proof().record(), ProofPage::Record::old);
    EXPECT_NE(checklist(d.session()).find("no longer holds: the pegs changed since"), std::string::npos);
    d.act("edit.undo");
    EXPECT_EQ(bench.proof().record(), ProofPage::Record::holds);
}

TEST(Bench, WhatTheHandDidIsProvedAgainstTheNames) {
    Driver d;
    auto& bench = bench_of(d);
    d.act("bench.load");
    bench.run_bar().pause();
    auto* given = d.find<QComboBox>("bench.proof.given");
    given->setCurrentIndex(3);
    d.click("bench.compare");
    EXPECT_FALSE(bench.proof().working());  // nothing was done yet
    for (const char* position : {"9", "20", "31"}) {
        bench.work("J3", "position", position);
        pass(bench, 2 * board_sim::millisecond);
    }
    d.click("bench.compare");
    ASSERT_TRUE(d.wait([&] { return bench.proof().answer().has_value(); }));
    EXPECT_EQ(bench.proof().answer()->proof.rows.size(), 4u);
    EXPECT_FALSE(bench.proof().answer()->crossed.empty() && bench.proof().answer()->proof.differ == 0);
}

TEST(Bench, TicksBeforePowerStayWithTheProject) {
    Driver d;
    auto& bench = bench_of(d);
    bench.show_side(1);
    auto* list = d.find<QListWidget>("bench.power");
    ASSERT_GT(list->count(), 3);
    auto* last = list->item(list->count() - 1);
    const auto text = last->text();
    last->setCheckState(Qt::Checked);
    ASSERT_TRUE(d.wait([&] { return !d.session().project().power_notes.empty(); }));
    EXPECT_EQ(d.session().project().power_notes.back(), "[x] " + text.toStdString());
    d.act("edit.undo");
    EXPECT_TRUE(d.session().project().power_notes.empty());
}

TEST(Bench, PinsAreDrivenAndWiresTestedThroughTheBoundary) {
    Driver d;
    auto& bench = bench_of(d);
    bench.show_side(2);
    auto* pins = d.find<QTreeWidget>("bench.pins");
    ASSERT_GT(pins->topLevelItemCount(), 10);
    bench.run_bar().pause();
    bench.show_side(0);
    bench.show_side(2);
    EXPECT_FALSE(pins->topLevelItem(0)->text(3).isEmpty());  // read though time stands still
    for (int i = 0; i < pins->topLevelItemCount(); ++i)
        if (pins->topLevelItem(i)->text(1) == QStringLiteral("D1.rose3")) pins->setCurrentItem(pins->topLevelItem(i));
    d.click("bench.pins.low");
    EXPECT_TRUE(bench.powered()->active("D1.rose3"));  // active low: lit, with an empty chip
    d.click("bench.pins.high");
    EXPECT_FALSE(bench.powered()->active("D1.rose3"));
    d.click("bench.pins.off");
    EXPECT_EQ(bench.powered()->level("D1.rose3"), Level::floating);
    auto* faults = d.find<QComboBox>("bench.wires.faults");
    d.click("bench.wires.test");
    EXPECT_TRUE(bench.wires().found().empty());
    faults->setCurrentIndex(4);
    d.click("bench.wires.test");
    ASSERT_EQ(bench.wires().found().size(), 3u);
    EXPECT_EQ(d.find<QTreeWidget>("bench.wires.results")->topLevelItemCount(), 4);
    // SVF out and in again.
    const auto old = file_questions();
    const auto path = d.path("load.svf");
    file_questions().save = [path](auto&&...) { return path; };
    file_questions().open = [path](auto&&...) { return path; };
    d.click("bench.svf.write");
    ASSERT_TRUE(QFile::exists(path));
    d.click("bench.svf.play");
    EXPECT_GT(d.find<QTreeWidget>("bench.wires.results")->topLevelItemCount(), 3);
    file_questions() = old;
}

TEST(Bench, DriversInConflictAreToldWithTheirCurrent) {
    Driver d;
    auto& bench = bench_of(d);
    const auto key = d.session().project().pegs.at("zero_n");
    const auto lamp = d.session().project().pegs.at("rose_n[5]");
    d.window.desk().apply(Edit{"conflict", {PegChange{"rose_n[5]", lamp, Peg{key.pin, PegState::pegged, "by hand"}}}});
    d.act("bench.load");
    ASSERT_NE(bench.bench(), nullptr);
    auto* says = d.find<QLabel>("bench.conflict");
    bench.work("J3", "position", "22");  // the lamp would be lit: it pulls low against the key's high
    pass(bench, 5 * board_sim::millisecond);
    EXPECT_TRUE(says->isVisible());
    EXPECT_TRUE(says->text().contains("mA")) << says->text().toStdString();
    EXPECT_EQ(d.window.tether().states()[5].standing_text, QStringLiteral("driver conflict"));
    d.picture("bench-conflict");
}

TEST(Bench, APegThatMovesWhileNobodyLooksIsWiredWhenSomebodyDoes) {
    Driver d;
    auto& bench = bench_of(d);
    d.window.desk().apply(Edit{
        "mend",
        {PegChange{"rose_n[5]", d.session().project().pegs.at("rose_n[5]"), Peg{"59", PegState::pegged, "by hand"}}}});
    d.act("bench.load");
    ASSERT_NE(bench.bench(), nullptr);
    EXPECT_EQ(d.window.tether().states()[5].standing_text, QStringLiteral("running"));
    d.window.show_station(1);
    const auto key = d.session().project().pegs.at("zero_n");
    d.window.desk().apply(Edit{"conflict",
                               {PegChange{"rose_n[5]", d.session().project().pegs.at("rose_n[5]"),
                                          Peg{key.pin, PegState::pegged, "by hand"}}}});
    // Nothing is said to be good that was not looked at.
    EXPECT_EQ(d.window.tether().states()[5].standing_text, QStringLiteral("loaded"));
    d.window.show_station(5);
    QCoreApplication::processEvents();
    EXPECT_EQ(d.window.tether().states()[5].standing_text, QStringLiteral("driver conflict"));
    EXPECT_FALSE(bench.board().cards().empty());
}

}  // namespace
}  // namespace kp::app
