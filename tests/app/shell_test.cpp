// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/paint/board_view.hpp"
#include "app/pegs/loom_layout.hpp"
#include "app/site/site_station.hpp"
#include "app/slack/slack_station.hpp"
#include "app/tempo/clock_chart.hpp"
#include "core/planning/place.hpp"
#include "tests/app/harness.hpp"

#include <QLabel>
#include <QTreeWidget>

namespace kp::app {
namespace {

using test::Driver;

QString dump(const FactSheet& sheet) {
    QString out = sheet.title + '|' + sheet.under;
    for (const auto& g : sheet.groups)
        for (const auto& f : g.facts)
            out += '|' + g.title + ':' + f.name + '=' + f.value + (f.origin.isEmpty() ? QString() : '@' + f.origin);
    return out;
}

TEST(Facts, APortKnowsWhereEachValueComesFrom) {
    Driver d;
    const auto text = dump(facts_of(d.session(), {QStringLiteral("port"), QStringLiteral("raw[0]")}));
    EXPECT_TRUE(text.startsWith(QStringLiteral("raw[0]|output · pegged at 81"))) << text.toStdString();
    EXPECT_TRUE(text.contains(QStringLiteral("standard=LVCMOS 2.5 V@from the board")));
    EXPECT_TRUE(text.contains(QStringLiteral("terminal=J2.raw0@header")));
    EXPECT_TRUE(text.contains(QStringLiteral("output delay, max=5.000 ns@ports.sdc:7")));
    EXPECT_TRUE(text.contains(QStringLiteral("JEDEC JESD8-5A.01, from memory")));
}

TEST(Facts, PinsPartsClocksAndNothing) {
    Driver d;
    const auto& s = d.session();
    EXPECT_TRUE(dump(facts_of(s, {QStringLiteral("pin"), QStringLiteral("34")}))
                    .contains(QStringLiteral("HERE:port=rose_n[5]")));
    EXPECT_TRUE(
        dump(facts_of(s, {QStringLiteral("pin"), QStringLiteral("6")})).contains(QStringLiteral("kind=ground@GND")));
    EXPECT_TRUE(
        dump(facts_of(s, {QStringLiteral("terminal"), QStringLiteral("D1.rose2")}))
            .startsWith(QStringLiteral("D1.rose2")) ||
        dump(facts_of(s, {QStringLiteral("terminal"), QStringLiteral("D1.rose2")})).startsWith(QStringLiteral("49")));
    EXPECT_TRUE(dump(facts_of(s, {QStringLiteral("part"), QStringLiteral("Y1")}))
                    .contains(QStringLiteral("frequency=20 MHz@± 50 ppm")));
    EXPECT_TRUE(dump(facts_of(s, {QStringLiteral("clock"), QStringLiteral("osc_20")}))
                    .contains(QStringLiteral("period=40.000 ns@clocks.sdc:2")));
    EXPECT_TRUE(dump(facts_of(s, {})).contains(QStringLiteral("Jumper P1 on 3.3 V.")));
    EXPECT_EQ(facts_of(s, {QStringLiteral("port"), QStringLiteral("gone")}).under,
              QStringLiteral("no port of this design · adrift"));
}

TEST(Site, SaysWhatDoesNotAgreeAndThenThatAllDoes) {
    Driver d;
    ASSERT_EQ(disagreements(d.session()).size(), 1u);  // D04: the period is not the oscillator's
    for (int i = 0; i < 6 && count(d.session().findings()).stops > 0; ++i) {
        d.window.desk().apply(d.session().fixes_of(d.session().findings().front()).at(0).edit);
        ASSERT_TRUE(d.settle());
    }
    EXPECT_TRUE(disagreements(d.session()).empty());
    EXPECT_EQ(d.window.tether().states()[0].standing_text, QStringLiteral("agrees"));
}

TEST(Slack, TheSentenceForEveryOutcome) {
    TimingReport r;
    EXPECT_EQ(summary_sentence(r), QStringLiteral("Nothing is checked."));
    r.setup = {-0.412, -1.0, 3, 12};
    r.hold = {0.061, 0, 0, 12};
    r.coverage.endpoints = 13;
    r.coverage.constrained = 12;
    EXPECT_EQ(summary_sentence(r),
              QStringLiteral("Setup fails by 0.412 ns on 3 of 12 endpoints; hold is met with 0.061 ns to spare on 12 "
                             "endpoints. 1 of 13 endpoints is unconstrained."));
}

TEST(LoomLayout, NothingOverlapsAndEverythingIsThere) {
    Driver d;
    for (const double width : {820.0, 1000.0, 1640.0}) {
        const LoomLayout l(d.session(), width, "");
        EXPECT_EQ(l.ports.size(), 22u);
        EXPECT_EQ(l.terminals.size(), 27u);
        const auto apart = [](const auto& list) {
            for (size_t i = 0; i < list.size(); ++i)
                for (size_t k = 0; k < i; ++k)
                    EXPECT_FALSE(list[i].rect.adjusted(0.5, 0.5, -0.5, -0.5).intersects(list[k].rect)) << i << " " << k;
        };
        apart(l.ports);
        apart(l.pins);
        apart(l.terminals);
        apart(l.banks);
        for (const auto& row : l.ports) EXPECT_EQ(l.port_at(row.rect.center()), &row);
        for (const auto& row : l.terminals) EXPECT_LE(row.rect.right(), width);
    }
    const LoomLayout filtered(d.session(), 900, "gray");
    EXPECT_EQ(filtered.ports.size(), 5u);
}

TEST(BoardMap, KeepsPartsInsideTheOutline) {
    Driver d;
    const auto& b = d.session().world().board;
    const BoardMap m(b, {0, 0, 500, 500});
    for (const auto& part : b.parts) EXPECT_TRUE(m.area.contains(m.rect(part))) << part.ref;
    EXPECT_NEAR(m.area.width() / m.area.height(), b.width_mm / b.height_mm, 1e-9);
}

TEST(Log, TwoRunsAreComparedAndOneIsRestored) {
    Driver d;
    d.window.desk().apply(unpeg_edit(d.session().project(), "tone"));
    ASSERT_TRUE(d.settle());
    d.window.show_station(6);
    auto* runs = d.find<QTreeWidget>("log.runs");
    ASSERT_TRUE(d.wait([&] { return runs->topLevelItemCount() == 2; }));
    auto* difference = d.find<QTreeWidget>("log.difference");
    QStringList said;
    for (int i = 0; i < difference->topLevelItemCount(); ++i)
        said << difference->topLevelItem(i)->text(0) + ' ' + difference->topLevelItem(i)->text(1) + ' ' +
                    difference->topLevelItem(i)->text(2);
    EXPECT_TRUE(said.contains(QStringLiteral("tone pin 112 adrift"))) << said.join('\n').toStdString();
    runs->clearSelection();
    runs->topLevelItem(1)->setSelected(true);
    d.click("log.restore");
    EXPECT_TRUE(d.session().project().pegs.contains("tone"));
}

TEST(Log, OpenStopsHoldTheHandoffUnlessToldOtherwise) {
    Driver d;
    d.window.show_station(6);
    EXPECT_FALSE(d.find<QPushButton>("log.write")->isEnabled());
    d.act("log.handoff");
    EXPECT_FALSE(QFile::exists(d.path("handoff/manifest.json")));
    d.click("log.despite");
    EXPECT_TRUE(QFile::exists(d.path("handoff/manifest.json")));
    QFile report(d.path("handoff/report.html"));
    ASSERT_TRUE(report.open(QIODevice::ReadOnly));
    EXPECT_TRUE(report.readAll().contains("3 stops are open: this bundle was written all the same."));
}

TEST(Recovery, EditsOfAKilledProgramComeBackAtTheNextStart) {
    Driver d;
    d.window.desk().apply(unpeg_edit(d.session().project(), "tone"));
    // Another window opens what the first never saved, as after a crash.
    MainWindow second;
    ASSERT_TRUE(second.desk().open(d.path("vane.kpeg")));
    EXPECT_FALSE(second.desk().session().project().pegs.contains("tone"));
    EXPECT_TRUE(second.findChild<QLabel*>("status")->text().startsWith(
        QStringLiteral("1 edit that had not been saved came back.")));
}

}  // namespace
}  // namespace kp::app
