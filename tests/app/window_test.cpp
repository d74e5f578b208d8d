// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/pegs/footprint.hpp"
#include "app/pegs/loom.hpp"
#include "app/pegs/pegs_station.hpp"
#include "app/tempo/sdc_editor.hpp"
#include "core/format/json/world_json.hpp"
#include "core/inputs/new_project.hpp"
#include "tests/app/harness.hpp"

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QTabBar>
#include <QTreeView>
#include <QTreeWidget>

namespace kp::app {
namespace {

using test::Driver;

std::string pin_of_port(Driver& d, const char* port) {
    const auto& pegs = d.session().project().pegs;
    const auto at = pegs.find(port);
    return at == pegs.end() ? "" : at->second.pin;
}

/// Words that are cut off anywhere in the window, and words drawn over other words.
QStringList clipped(MainWindow& window) {
    QStringList out;
    window.grab();
    for (auto* canvas : window.findChildren<Canvas*>()) {
        if (!canvas->isVisible()) continue;
        const auto& drawn = canvas->drawn();
        for (size_t i = 0; i < drawn.size(); ++i) {
            if (drawn[i].cut) out << QStringLiteral("cut: ") + drawn[i].text;
            for (size_t k = 0; k < i; ++k)
                if (drawn[i].rect.adjusted(2, 3, -2, -3).intersects(drawn[k].rect.adjusted(2, 3, -2, -3)) &&
                    !drawn[i].text.isEmpty() && !drawn[k].text.isEmpty())
                    out << QStringLiteral("over each other: %1 / %2").arg(drawn[k].text, drawn[i].text);
        }
    }
    for (auto* label : window.findChildren<QLabel*>())
        if (label->isVisible() && !label->wordWrap() && label->objectName() != QLatin1String("status") &&
            !label->text().isEmpty() && label->sizeHint().width() > label->width() + 1)
            out << QStringLiteral("label: ") + label->text();
    for (auto* button : window.findChildren<QPushButton*>())
        if (button->isVisible() && button->sizePolicy().horizontalPolicy() != QSizePolicy::Ignored &&
            button->sizeHint().width() > button->width() + 1)
            out << QStringLiteral("button: ") + button->text();
    return out;
}

TEST(Window, NoWordIsClippedAt1280By800) {
    Driver d;
    d.window.resize(1280, 800);
    for (const bool dark : {false, true}) {
        for (int station = 0; station < 7; ++station) {
            d.window.show_station(station);
            if (station == 5) d.act("bench.load");
            QCoreApplication::processEvents();
            EXPECT_EQ(clipped(d.window).join('\n').toStdString(), "")
                << "station " << station << (dark ? " dark" : " light");
        }
        static_cast<PegsStation*>(d.window.station_at(1))->show_view(1);
        QCoreApplication::processEvents();
        EXPECT_EQ(clipped(d.window).join('\n').toStdString(), "") << "footprint";
        d.act("view.theme");
    }
    use_theme(false);
}

TEST(Window, AnEmptyWindowSaysWhatToDo) {
    Driver d(false);
    for (int station = 0; station < 7; ++station) {
        d.window.show_station(station);
        QCoreApplication::processEvents();  // what was just shown is laid out
        EXPECT_EQ(clipped(d.window).join('\n').toStdString(), "") << station;
    }
}

TEST(Window, StationsByKeysAndTether) {
    Driver d;
    for (int i = 0; i < 7; ++i) {
        d.act(qPrintable(QStringLiteral("station.%1").arg(i + 1)));
        EXPECT_EQ(d.window.station(), i);
    }
    QTest::mouseClick(&d.window.tether(), Qt::LeftButton, {}, d.window.tether().place(2).center().toPoint());
    EXPECT_EQ(d.window.station(), 2);
}

TEST(Window, APaletteEntryRunsItsAction) {
    Driver d;
    d.act("palette");
    auto* line = d.find<QLineEdit>("chooser.line");
    QTest::keyClicks(line, "go to slack");
    QTest::keyClick(line, Qt::Key_Return);
    EXPECT_EQ(d.window.station(), 4);
}

TEST(Window, SearchSelectsAndBackGoesBack) {
    Driver d;
    d.window.desk().select({QStringLiteral("port"), QStringLiteral("tone")});
    d.act("find");
    auto* line = d.find<QLineEdit>("chooser.line");
    QTest::keyClicks(line, "osc_20 clock");
    QTest::keyClick(line, Qt::Key_Return);
    EXPECT_EQ(d.window.desk().selection().kind, QStringLiteral("clock"));
    d.act("go.back");
    EXPECT_EQ(d.window.desk().selection().name, QStringLiteral("tone"));
    d.act("go.forward");
    EXPECT_EQ(d.window.desk().selection().name, QStringLiteral("osc_20"));
}

TEST(Window, EveryActionHasANameAndAnId) {
    Driver d;
    QStringList ids;
    for (auto* a : d.window.findChildren<QAction*>()) {
        if (a->objectName().isEmpty()) continue;
        EXPECT_FALSE(a->text().isEmpty()) << a->objectName().toStdString();
        EXPECT_FALSE(ids.contains(a->objectName())) << a->objectName().toStdString();
        ids << a->objectName();
    }
    EXPECT_GT(ids.size(), 25);
}

/// Drags a port onto a board terminal in the loom, as a hand would.
void drag_to_terminal(Driver& d, const char* port, const char* terminal) {
    d.window.show_station(1);
    auto& loom = static_cast<PegsStation*>(d.window.station_at(1))->loom();
    QCoreApplication::processEvents();
    const auto layout = loom.layout_now();
    QPoint from, to;
    for (const auto& row : layout.ports)
        if (row.port == port) from = row.rect.center().toPoint();
    for (const auto& row : layout.terminals)
        if (row.terminal == terminal) to = row.rect.center().toPoint();
    Driver::drag(&loom, from, to);
}

TEST(Pegs, APortIsDraggedToATerminalInTheLoom) {
    Driver d;
    drag_to_terminal(d, "rose_n[5]", "D1.rose5");
    EXPECT_EQ(pin_of_port(d, "rose_n[5]"), "59");
    d.act("edit.undo");
    EXPECT_EQ(pin_of_port(d, "rose_n[5]"), "34");
    d.act("edit.redo");
    EXPECT_EQ(pin_of_port(d, "rose_n[5]"), "59");
}

TEST(Pegs, RangesAndBusesAreTyped) {
    Driver d;
    auto* line = d.find<QLineEdit>("pegs.place");
    const auto type = [&](const char* text) {
        line->setText(QLatin1String(text));
        QTest::keyClick(line, Qt::Key_Return);
    };
    d.window.show_station(1);
    type("rose_n[7:5]=2..4");
    EXPECT_EQ(d.session().project().pegs.at("rose_n[7]").pin, "2");
    EXPECT_EQ(d.session().project().pegs.at("rose_n[5]").pin, "4");
    d.act("edit.undo");
    EXPECT_EQ(d.session().project().pegs.at("rose_n[7]").pin, "62");
    // From the selected bit on, as many as there are pins.
    d.window.desk().select({QStringLiteral("port"), QStringLiteral("rose_n[1]")});
    type("2..5");
    EXPECT_EQ(d.session().project().pegs.at("rose_n[0]").pin, "3");
    EXPECT_NE(d.find<QLabel>("status")->text().indexOf("no port was left for 4 and 5"), -1)
        << d.find<QLabel>("status")->text().toStdString();
    type("rose_n=rose");
    EXPECT_EQ(d.session().project().pegs.at("rose_n[7]").pin, "46")
        << "the terminals of a part, in the order the hand sees them";
}

TEST(Pegs, APlaceTheRulesRefuseIsRefusedWithTheReason) {
    Driver d;
    drag_to_terminal(d, "tone", "S1.hold");
    EXPECT_EQ(pin_of_port(d, "tone"), "112");
    EXPECT_TRUE(d.find<QLabel>("status")->text().startsWith(QStringLiteral("tone stays where it was. L0")))
        << d.find<QLabel>("status")->text().toStdString();
}

TEST(Pegs, ABallGridIsDrawnWithoutClippedWords) {
    Driver d;
    const auto part = read_part(real_disk().read(KP_SOURCE "/data/parts/skr23-b256.part.json").value(), "b256").take();
    auto& pegs = *static_cast<PegsStation*>(d.window.station_at(1));
    pegs.show_view(1);
    pegs.footprint().show_part(&part);
    QCoreApplication::processEvents();
    EXPECT_EQ(clipped(d.window).join('\n').toStdString(), "");
    if (const auto folder = qEnvironmentVariable("KP_SHOT"); !folder.isEmpty())
        d.window.grab().save(folder + QStringLiteral("/ball-grid.png"));
}

TEST(Tempo, AnEndlessScriptIsStoppedAndTheWindowLives) {
    Driver d;
    d.window.show_station(3);
    d.find<SdcEditor>("tempo.editor")->append("while 1 {}\n");
    ASSERT_TRUE(d.wait([&] { return !d.session().analysis().constraints().messages.empty(); }));
    EXPECT_EQ(d.session().analysis().constraints().messages[0].line, 8);
    d.window.show_station(2);  // ways out are previewed with the endless text; the window answers all the same
    EXPECT_EQ(d.window.station(), 2);
}

TEST(Pegs, APinOrABoardNameIsTyped) {
    Driver d;
    d.act("pegs.type");
    d.window.desk().select({QStringLiteral("port"), QStringLiteral("rose_n[5]")});
    auto* line = d.find<QLineEdit>("pegs.place");
    QTest::keyClicks(line, "lamp5");
    QTest::keyClick(line, Qt::Key_Return);
    EXPECT_EQ(pin_of_port(d, "rose_n[5]"), "59");
    QTest::keyClicks(line, "nowhere");
    QTest::keyClick(line, Qt::Key_Return);
    EXPECT_EQ(pin_of_port(d, "rose_n[5]"), "59");
}

TEST(Story, ThreeTroublesAreMendedByTheirWaysOutAndHandedOff) {
    Driver d;
    d.window.show_station(2);
    EXPECT_EQ(count(d.session().findings()).stops, 3);
    for (int round = 0; round < 6 && count(d.session().findings()).stops + count(d.session().findings()).cautions > 0;
         ++round) {
        // What only the user knows is typed: 2 ns for the sounder.
        if (auto* number = d.window.findChild<QLineEdit*>("findings.number.0")) QTest::keyClicks(number, "2");
        d.click("findings.way.0");
        ASSERT_TRUE(d.settle());
    }
    EXPECT_TRUE(d.session().findings().empty());
    EXPECT_EQ(d.window.tether().states()[2].standing_text, QStringLiteral("clear"));
    EXPECT_EQ(pin_of_port(d, "rose_n[5]"), "59");
    EXPECT_NEAR(d.session().analysis().constraints().clocks.at(0).period, 50, 1e-9);
    d.act("log.handoff");
    EXPECT_TRUE(QFile::exists(d.path("handoff/manifest.json")));
    d.act("project.save");
    // The verdict is the project opened again.
    auto again = Session::open(real_disk(), d.path("vane.kpeg").toStdString(), KP_SOURCE "/data");
    ASSERT_TRUE(again.ok());
    again.value()->analyse_now();
    EXPECT_TRUE(again.value()->findings().empty());
}

TEST(Findings, AWaiverNeedsAReasonAndStaysInTheList) {
    Driver d;
    d.window.show_station(2);
    d.click("findings.waive");
    EXPECT_TRUE(d.session().project().waivers.empty());
    QTest::keyClicks(d.find<QLineEdit>("findings.reason"), "the board is a prototype");
    d.click("findings.waive");
    ASSERT_EQ(d.session().project().waivers.size(), 1u);
    EXPECT_EQ(count(d.session().findings()).waived, 1);
    EXPECT_EQ(count(d.session().findings()).stops, 2);
}

TEST(Tempo, TypedTextBecomesAnEditAndItsFindingsAppear) {
    Driver d;
    d.window.show_station(3);
    auto* editor = d.find<SdcEditor>("tempo.editor");
    editor->append("create_clok -period 5\n");
    ASSERT_TRUE(d.wait([&] { return !d.session().analysis().constraints().messages.empty(); }));
    EXPECT_TRUE(d.find<QLabel>("tempo.trouble")->text().contains("create_clock"));
    ASSERT_TRUE(d.settle());
    d.act("edit.undo");
    ASSERT_TRUE(d.settle());
    EXPECT_FALSE(editor->text().contains("create_clok"));
    EXPECT_TRUE(d.session().analysis().constraints().messages.empty());
}

TEST(Tempo, TheClockFormEditsOneWordOfTheText) {
    Driver d;
    d.window.show_station(3);
    const auto before = d.session().project().constraints[0].text;
    auto* period = d.find<QLineEdit>("tempo.clock.period");
    period->selectAll();
    QTest::keyClicks(period, "50");
    d.click("tempo.clock.write");
    auto wanted = before;
    wanted.replace(wanted.find("-period 40"), 10, "-period 50");
    EXPECT_EQ(d.session().project().constraints[0].text, wanted);
}

TEST(Tempo, AGapIsFilledByItsProposedLine) {
    Driver d;
    d.window.show_station(3);
    d.act("tempo.coverage");
    ASSERT_TRUE(d.settle());
    ASSERT_FALSE(d.session().analysis().timing().coverage.untimed.empty());
    const auto covered = [&] { return d.session().analysis().timing().coverage.untimed.empty(); };
    // The board knows what stands behind the port, so its budget is the proposal …
    d.click("tempo.coverage.add");
    ASSERT_TRUE(d.settle());
    EXPECT_TRUE(covered());
    d.window.desk().undo();
    ASSERT_TRUE(d.settle());
    ASSERT_FALSE(covered());
    // … and a number that is typed comes before it.
    QTest::keyClicks(d.find<QLineEdit>("tempo.coverage.number"), "2");
    d.click("tempo.coverage.add");
    ASSERT_TRUE(d.settle());
    EXPECT_TRUE(covered());
    bool written = false;
    for (const auto& io : d.session().analysis().constraints().io_delays) written |= io.value == 2;
    EXPECT_TRUE(written);
}

TEST(Tempo, OrderAndReceiverOfTheFilesCanBeChangedAndUndone) {
    Driver d;
    d.window.show_station(3);
    const auto before = d.session().project().constraints;
    ASSERT_EQ(before.size(), 2u);
    auto* files = d.find<QTabBar>("tempo.files");
    files->moveTab(0, 1);
    ASSERT_TRUE(d.settle());
    EXPECT_EQ(d.session().project().constraints[0].path, before[1].path);
    EXPECT_EQ(d.session().project().constraints[1], before[0]);
    EXPECT_EQ(d.session().document().done().back().title, "read clocks.sdc later");
    d.act("edit.undo");
    ASSERT_TRUE(d.settle());
    for (size_t i = 0; i < 2; ++i)
        EXPECT_EQ(d.session().project().constraints[i].path + d.session().project().constraints[i].text,
                  before[i].path + before[i].text);
    EXPECT_EQ(d.session().project().constraints, before);
    files->setCurrentIndex(0);
    d.click("tempo.receive");
    EXPECT_TRUE(d.session().project().constraints[0].receives);
    EXPECT_FALSE(d.session().project().constraints[1].receives);
    d.act("edit.undo");
    EXPECT_EQ(d.session().project().constraints, before);
}

/// Two keys lie over two lamps on Saltmarsh: drawn things have places of their own, on every board and at every size.
TEST(Bench, NothingIsDrawnOverAnythingElse) {
    for (const char* project : {"vane/vane.kpeg", "profiler/profiler-closed.kpeg", "linkwatch/linkwatch.kpeg"}) {
        MainWindow window;
        window.show();
        ASSERT_TRUE(window.desk().open(QStringLiteral(KP_SOURCE "/demo/") + QLatin1String(project)));
        for (const QSize size : {QSize(1100, 700), QSize(1280, 800), QSize(1920, 1080)}) {
            window.resize(size);
            window.show_station(5);
            QCoreApplication::processEvents();
            window.grab();
            for (auto* canvas : window.findChildren<Canvas*>()) {
                const auto& items = canvas->items();
                for (size_t i = 0; canvas->isVisible() && i < items.size(); ++i)
                    for (size_t k = 0; k < i; ++k)
                        EXPECT_FALSE(
                            items[i].rect.adjusted(1, 1, -1, -1).intersects(items[k].rect.adjusted(1, 1, -1, -1)))
                            << project << " " << size.width() << ": " << items[i].name << " over " << items[k].name;
            }
        }
    }
}

TEST(Bench, AHeaderAloneIsNotLoaded) {
    QTemporaryDir folder;
    QFile top(folder.path() + "/top.v");
    ASSERT_TRUE(top.open(QFile::WriteOnly));
    top.write("module top(input clk, output led); endmodule\n");
    top.close();
    const auto path = create_project(real_disk(),
                                     {folder.path().toStdString() + "/p",
                                      "only",
                                      "SKR11-Q144-LN",
                                      "tussock",
                                      {top.fileName().toStdString()},
                                      true,
                                      ""},
                                     read_catalogue(real_disk(), "", KP_SOURCE "/data"));
    ASSERT_TRUE(path.ok()) << path.first().sentence();
    Driver d(false);
    ASSERT_TRUE(d.window.desk().open(path.value()));
    d.window.show_station(5);
    d.act("bench.load");
    EXPECT_NE(d.window.tether().states()[5].standing, Standing::good);
    EXPECT_EQ(d.window.tether().states()[5].standing_text, QStringLiteral("not loaded"));
    EXPECT_TRUE(d.find<QLabel>("notice.text")->text().startsWith("Nothing was loaded: the design has no netlist yet"));
}

TEST(Window, FitsOnAScreenOfItsSizeWithItsStatusLine) {
    Driver d;
    for (int station = 0; station < 7; ++station) {
        d.window.show_station(station);
        d.window.resize(1280, 740);  // 800 less a frame and a panel
        QCoreApplication::processEvents();
        EXPECT_LE(d.window.height(), 740) << station;
        auto* status = d.find<QLabel>("status");
        EXPECT_LE(status->mapTo(&d.window, QPoint(0, status->height())).y(), d.window.height()) << station;
    }
}

TEST(Window, EscapeGivesTheKeysBackToThePlan) {
    Driver d;
    d.window.activateWindow();
    d.window.show_station(1);
    auto* place = d.find<QLineEdit>("pegs.place");
    d.window.desk().select({QStringLiteral("port"), QStringLiteral("tone")});
    place->setFocus();
    QTest::keyClicks(place, "34");
    QTest::keyClick(place, Qt::Key_Escape);
    EXPECT_FALSE(place->hasFocus());
    // A pin that somebody holds is asked about, and the swap is offered.
    place->setFocus();
    QTest::keyClick(place, Qt::Key_Return);
    EXPECT_NE(pin_of_port(d, "tone"), "34");
    QCoreApplication::processEvents();
    EXPECT_TRUE(d.find<QPushButton>("notice.yes")->isVisible());
    d.click("notice.yes");
    EXPECT_EQ(pin_of_port(d, "tone"), "34");
}

TEST(Slack, TheSentenceSaysTheFigures) {
    Driver d;
    d.window.show_station(4);
    const auto text = d.find<QLabel>("slack.sentence")->text();
    EXPECT_TRUE(text.startsWith("Setup is met with 23.605 ns to spare on 74 endpoints; hold is met with 0.347 ns"))
        << text.toStdString();
    EXPECT_EQ(d.find<QTreeView>("slack.list")->model()->rowCount(), 74);
}

TEST(Slack, WhatIfIsAnsweredAndEditsNothing) {
    Driver d;
    ASSERT_TRUE(d.settle());
    d.act("slack.whatif.ask");
    const auto revision = d.session().revision();
    auto* line = d.find<QLineEdit>("slack.whatif");
    auto* answer = d.find<QLabel>("slack.answer");
    EXPECT_TRUE(line->hasFocus() || !d.window.isActiveWindow());
    const auto ask = [&](const char* text) {
        line->clear();
        QTest::keyClicks(line, text);
        QTest::keyClick(line, Qt::Key_Return);
        EXPECT_TRUE(d.wait([&] { return answer->isVisible() && !answer->text().startsWith("asking"); }));
        return answer->text();
    };
    EXPECT_TRUE(ask("set_clock_uncertainty 1 [all_clocks]")
                    .startsWith("With this line: setup is met with 22.805 ns to spare on 74 endpoints (\u2212"
                                "0.800 ns); hold fails by 0.603 ns on 22 of 74 endpoints"))
        << answer->text().toStdString();
    d.picture("slack-what-if");
    EXPECT_EQ(ask("set_false_path -to nowhere/D"), "Nothing is named 'nowhere/D'.");
    EXPECT_TRUE(ask("set_max_delay").contains("needs")) << answer->text().toStdString();
    EXPECT_EQ(d.session().revision(), revision);
    QTest::keyClicks(line, "x");
    EXPECT_FALSE(answer->isVisible());
}

TEST(Slack, WithoutAProjectThereIsNothingToAsk) {
    Driver d(false);
    d.window.show_station(4);
    d.picture("slack-empty");
    EXPECT_EQ(d.find<QLabel>("slack.sentence")->text(), "No project is open.");
    EXPECT_FALSE(d.find<QLineEdit>("slack.whatif")->isVisible());
    ASSERT_TRUE(d.window.desk().open(d.path("vane.kpeg")));
    ASSERT_TRUE(d.settle());
    EXPECT_TRUE(d.find<QLineEdit>("slack.whatif")->isVisible());
    // One output of the demo has no delay: the button leads to it.
    d.click("slack.missing");
    EXPECT_TRUE(d.find<QWidget>("tempo.coverage.list")->isVisible());
}

TEST(Site, AWrongOrderingCodeIsSaidAndNothingChanges) {
    Driver d;
    auto* line = d.find<QLineEdit>("site.code");
    line->setText("SKR11-Q145-MN");
    QTest::keyClick(line, Qt::Key_Return);
    EXPECT_EQ(d.session().project().part, "SKR11-Q144-MN");
    EXPECT_FALSE(d.find<QLabel>("status")->text().isEmpty());
}

TEST(Open, ABrokenProjectLeavesTheOpenOneAlone) {
    Driver d;
    QFile file(d.path("broken.kpeg"));
    ASSERT_TRUE(file.open(QIODevice::WriteOnly));
    file.write("{\n \"schema\": \"kitepeg.project/1\",\n \"name\": ");
    file.close();
    EXPECT_FALSE(d.window.desk().open(file.fileName()));
    EXPECT_EQ(d.session().project().name, "vane");
    EXPECT_TRUE(d.find<QLabel>("status")->text().contains("broken.kpeg:3:"));
}

}  // namespace
}  // namespace kp::app
