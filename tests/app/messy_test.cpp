// SPDX-License-Identifier: GPL-3.0-or-later
// The window with a board of one's own: what is wrong is red where it is looked at, and holds or marks the handoff.
#include "app/log/log_station.hpp"
#include "tests/app/harness.hpp"
#include "tests/kpeg/own_board.hpp"

#include <QFile>
#include <QTreeWidget>

namespace kp::app::test {
namespace {

/// Lines of the list of Findings that begin with a rule.
int listed(Driver& d, const char* rule) {
    d.window.show_station(number_of(Place::findings));
    const auto* list = d.find<QTreeWidget>("findings.list");
    return static_cast<int>(
        list->findItems(QLatin1String(rule) + QStringLiteral("  "), Qt::MatchStartsWith | Qt::MatchRecursive).size());
}

TEST(Messy, EachFaultIsRedOnThePageAndInTheHandoff) {
    for (const auto& fault : kpeg_test::own_board_faults) {
        kpeg_test::OwnBoard b("messy_page");
        b.match();
        {
            Driver good(false);
            ASSERT_TRUE(good.window.desk().open(b / "own.kpeg"));
            ASSERT_TRUE(good.settle());
            EXPECT_EQ(listed(good, fault.rule), 0) << fault.name;
            good.window.desk().close();
        }
        fault.plant(b);
        Driver d(false);
        ASSERT_TRUE(d.window.desk().open(b / "own.kpeg"));
        ASSERT_TRUE(d.settle());
        std::string all;
        for (const auto& f : d.session().findings()) all += f.rule + " " + f.text + "\n";
        EXPECT_GT(listed(d, fault.rule), 0) << fault.name << "\n" << all;
        const auto standing = d.window.station_at(number_of(Place::findings))->standing().standing;
        EXPECT_TRUE(standing == Standing::stop || standing == Standing::caution) << fault.name;
        d.window.resize(1280, 800);
        d.picture((std::string("messy-") + fault.rule).c_str());
        const bool stops = count(d.session().findings()).stops > 0;
        auto& log = *static_cast<LogStation*>(d.window.station_at(number_of(Place::log)));
        EXPECT_EQ(log.write(false), !stops) << fault.name << ": stops hold the handoff";
        EXPECT_EQ(QFile::exists(QString::fromStdString(b / "handoff/manifest.json")), !stops) << fault.name;
    }
}

TEST(Messy, ALinkOnALaneThatTheBoardWiresElsewhereHoldsTheHandoff) {
    Driver d(false);
    QFile demo(QStringLiteral(KP_SOURCE "/demo/uplink/uplink.kpeg"));
    ASSERT_TRUE(demo.open(QIODevice::ReadOnly));
    auto text = demo.readAll();
    ASSERT_TRUE(text.contains("\"lane0\""));
    text.replace("\"lane0\"", "\"lane1\"");
    QFile own(d.path("uplink.kpeg"));
    ASSERT_TRUE(own.open(QIODevice::WriteOnly));
    own.write(text);
    own.close();
    ASSERT_TRUE(d.window.desk().open(d.path("uplink.kpeg")));
    ASSERT_TRUE(d.settle());
    EXPECT_GT(listed(d, "L16"), 0);
    EXPECT_EQ(d.window.station_at(number_of(Place::findings))->standing().standing, Standing::stop);
    auto& log = *static_cast<LogStation*>(d.window.station_at(number_of(Place::log)));
    EXPECT_FALSE(log.write(false));
    EXPECT_FALSE(QFile::exists(d.path("handoff/manifest.json")));
}

}  // namespace
}  // namespace kp::app::test
