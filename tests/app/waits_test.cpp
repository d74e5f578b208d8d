// SPDX-License-Identifier: GPL-3.0-or-later
// The window never waits: on a project of 1,500 ports, some 2,000 balls and 100,000 cells no event of its thread takes
// long, from opening to undoing everything. The project comes from bench-marks/make_large.py. What is measured is told;
// the bound of the test is wide, since a test machine may be busy with something else: docs/performance.md has the
// figures of a quiet one.
#include "app/findings/findings_station.hpp"
#include "core/planning/place.hpp"
#include "core/closing/fix_many.hpp"
#include "tests/app/harness.hpp"
#include "tests/app/watchdog.hpp"

#include <QLineEdit>
#include <QProcess>
#include <QTreeWidget>
#include <Qsci/qsciscintilla.h>
#include <gtest/gtest.h>

#include <random>

namespace kp::app::test {
namespace {

constexpr double wide_ms = 500;  // ten times what the window is made for: a machine of tests may be busy

struct WaitsLarge : Driver {
    WaitsLarge() : Driver(false) {
        QProcess make;
        make.start("python3", {QStringLiteral(KP_SOURCE "/bench-marks/make_large.py"), folder.path() + "/large", "45",
                               "1500", "100000"});
        EXPECT_TRUE(make.waitForFinished(60000));
        EXPECT_EQ(make.exitCode(), 0) << make.readAllStandardError().toStdString();
        (void)WatchedApplication::it().take_longest();
        window.desk().open_later((folder.path() + "/large/large.kpeg").toStdString());
    }
    bool rest() {
        const auto at_rest = [this] {
            return !window.desk().preparing() && !session().stale() && session().jobs().idle();
        };
        return QTest::qWaitFor([&] { return at_rest() && (QCoreApplication::processEvents(), at_rest()); }, 120000);
    }
    template <class Do>
    void event(const std::string& name, Do what) {
        WatchedApplication::it().as_event(name, what);
        QCoreApplication::processEvents();
    }
    void told(const char* stage) {
        const auto longest = WatchedApplication::it().take_longest();
        std::printf("[  waits   ] %-22s %6.1f ms  %s\n", stage, longest.ms, longest.what.c_str());
        EXPECT_LT(longest.ms, wide_ms) << stage << ": " << longest.what;
    }
};

TEST(Waits, NoEventOfTheWindowTakesLong) {
    WaitsLarge d;
    ASSERT_TRUE(QTest::qWaitFor([&] { return d.window.desk().has_session(); }, 120000));
    d.told("opening");
    ASSERT_TRUE(d.rest());
    d.told("analysis fills in");
    for (const int station : {1, 2, 3, 4, 5, 6, 0, 1, 3, 2}) {
        d.event("station " + std::to_string(station), [&] { d.window.show_station(station); });
        d.told(("station " + std::to_string(station)).c_str());
    }
    std::mt19937 random(7);
    const auto& ports = d.session().world().netlist.ports;
    const auto& pins = d.session().world().part.pins;
    auto& desk = d.window.desk();
    for (const int station : {1, 2, 3, 4}) {
        d.event("station", [&] { d.window.show_station(station); });
        for (int i = 0; i < 50; ++i) {
            const auto& port = ports[random() % ports.size()].name;
            d.event("edit", [&] {
                const auto& p = d.session().project();
                const auto at = p.attributes.find(port);
                const auto before = at == p.attributes.end() ? PortAttributes{} : at->second;
                auto after = before;
                switch (i % 4) {
                    case 0: desk.apply(unpeg_edit(p, port)); break;
                    case 1:
                        desk.apply(
                            peg_edit(p, d.session().world().board, port, pins[random() % pins.size()].name, "by hand"));
                        break;
                    case 2:
                        after.note = "note " + std::to_string(i);
                        desk.apply({"note", {AttributeChange{port, before, after}}});
                        break;
                    case 3: desk.apply({"waive", {WaiverChange{{"L11", {port}, "r", "me", ""}, true}}}); break;
                }
            });
        }
        ASSERT_TRUE(d.rest());
        d.told(("50 edits, station " + std::to_string(station)).c_str());
    }
    d.event("station", [&] { d.window.show_station(3); });
    auto* editor = d.find<QsciScintilla>("tempo.editor");
    for (int i = 0; i < 40; ++i) d.event("key", [&] { editor->append(QStringLiteral("#")); });
    ASSERT_TRUE(d.rest());
    d.told("typing");
    d.event("station", [&] { d.window.show_station(2); });
    auto* list = d.find<QTreeWidget>("findings.list");
    for (int i = 0; i < 12; ++i) d.event("next finding", [&] { QTest::keyClick(list, Qt::Key_Down); });
    ASSERT_TRUE(d.rest());
    d.told("findings and previews");
    while (d.session().document().can_undo()) d.event("undo", [&] { desk.undo(); });
    ASSERT_TRUE(d.rest());
    d.told("undo of all");
}

}  // namespace
}  // namespace kp::app::test
