// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/log/build_page.hpp"
#include "app/log/log_station.hpp"
#include "core/verification/prove_project.hpp"
#include "core/model/timing_words.hpp"
#include "tests/app/harness.hpp"

#include <QComboBox>
#include <QCheckBox>
#include <QFile>
#include <QSpinBox>
#include <QTreeWidget>

namespace kp::app::test {
namespace {

/// The closed project of vane, with its source beside it.
struct Vane : Driver {
    Vane() : Driver(false) {
        for (const char* file : {"vane-closed.kpeg", "closed-clocks.sdc", "closed-ports.sdc"}) {
            QFile::remove(path(file));
            QFile::copy(QStringLiteral(KP_SOURCE "/demo/vane/") + QLatin1String(file), path(file));
            QFile::setPermissions(path(file), QFile::ReadOwner | QFile::WriteOwner);
        }
    }
    QByteArray source() const {
        QFile f(QStringLiteral(KP_SOURCE "/demo/vane/vane_hdl.v"));
        EXPECT_TRUE(f.open(QIODevice::ReadOnly));
        return f.readAll();
    }
    void write_source(QByteArray text, std::initializer_list<std::pair<const char*, const char*>> instead = {}) const {
        for (const auto& [was, is] : instead) {
            EXPECT_TRUE(text.contains(was)) << was;
            text.replace(was, is);
        }
        QFile f(path("vane_hdl.v"));
        EXPECT_TRUE(f.open(QIODevice::WriteOnly));
        f.write(text);
    }
    BuildPage& page() { return *window.findChild<BuildPage*>(QStringLiteral("build")); }
    bool build() {
        const auto before = page().runs().size();
        act("build.start");
        return QTest::qWaitFor([&] { return !page().working() && page().runs().size() > before; }, 60000);
    }
    int failing() { return verdict_of(session().analysis().timing()).failing; }
    /// On the bench, every direction against what a Gray code says: the lamp of a direction is its upper three bits.
    bool lamps_agree() {
        ProofAsk ask;
        ask.parts = {"J3", "D1"};
        ask.before = 2 * board_sim::millisecond;
        ask.against = ProofAsk::formula;
        ask.formula_text = "rose_n = ~(8'd1 << {gray[4], gray[4] ^ gray[3], gray[4] ^ gray[3] ^ gray[2]})";
        const auto proved = prove_project(*session().snapshot(), ask);
        EXPECT_TRUE(proved.ok()) << (proved.ok() ? "" : proved.first().sentence());
        return proved.ok() && proved.value().proof.differ == 0;
    }
};

TEST(BuildLoop, AMistakeInTheSourceIsSeenMendedAndHandedOff) {
    Vane d;
    // A wrong bit of the Gray code, and a tone that is worked out in far too long a way.
    d.write_source(d.source(),
                   {{"place_now[i + 1] ^ gray_s2[i]", "place_now[i + 1] ^ gray_s2[i + 1]"},
                    {"tone_q <= count[14]", "tone_q <= slow[14]"},
                    {"  reg  [7:0] lamp = 0;", "  reg  [7:0] lamp = 0;\n  wire [14:0] slow = count ** 27;"}});
    ASSERT_TRUE(d.window.desk().open(d.path("vane-closed.kpeg")));
    auto& desk = d.window.desk();
    ASSERT_TRUE(desk.apply({"take the source in", {set_field(d.session().project(), "sources", "vane_hdl.v")}}));
    ASSERT_TRUE(d.settle());
    ASSERT_TRUE(d.build());
    ASSERT_TRUE(d.page().runs().back().answer) << d.page().runs().back().refused;
    ASSERT_TRUE(d.page().runs().back().answer->built);
    EXPECT_EQ(d.page().runs().back().answer->verdict, build_flow::BuildVerdict::missed);
    d.window.resize(1280, 800);
    d.picture("build-failing");
    d.act("build.take");
    ASSERT_TRUE(d.settle());
    EXPECT_GT(d.failing(), 0);
    EXPECT_FALSE(d.lamps_agree());

    d.write_source(d.source());
    d.page().refresh();
    EXPECT_EQ(d.page().findChild<QTreeWidget*>(QStringLiteral("build.stages"))->topLevelItem(0)->text(1),
              QStringLiteral("old"));
    // The source that changed is read again first, as for everything else that uses it.
    d.act("site.reread");
    ASSERT_TRUE(d.settle());
    d.click("reread.take");
    ASSERT_TRUE(d.settle());
    ASSERT_TRUE(d.build());
    ASSERT_TRUE(d.page().runs().back().answer->built);
    d.act("build.take");
    ASSERT_TRUE(d.settle());
    EXPECT_EQ(d.failing(), 0);
    EXPECT_TRUE(d.lamps_agree());
    d.picture("build");
    auto& log = *static_cast<LogStation*>(d.window.station_at(6));
    EXPECT_TRUE(log.write(false));
    EXPECT_TRUE(QFile::exists(d.path("handoff/manifest.json")));
}

TEST(BuildPage, SeveralSeedsStandBesideEachOtherAndOneCanBeCancelled) {
    Vane d;
    d.write_source(d.source());
    ASSERT_TRUE(d.window.desk().open(d.path("vane-closed.kpeg")));
    d.find<QSpinBox>("build.seeds")->setValue(3);
    d.act("build.start");
    ASSERT_TRUE(QTest::qWaitFor([&] { return !d.page().working(); }, 60000));
    ASSERT_EQ(d.page().runs().size(), 3U);
    EXPECT_EQ(d.page().runs()[2].seed, 3U);
    EXPECT_TRUE(QFile::exists(d.path("build/001/placed.json")));
    EXPECT_TRUE(QFile::exists(d.path("build/003/delays.sdf")));
    d.find<QSpinBox>("build.seeds")->setValue(20);
    d.act("build.start");
    d.act("build.cancel");
    ASSERT_TRUE(QTest::qWaitFor([&] { return !d.page().working(); }, 60000));
    EXPECT_LT(d.page().runs().size(), 23U);
}

TEST(BuildPage, StepsAreTakenOnlyWhenAskedForAndSayWhatTheyDid) {
    Vane d;
    ASSERT_TRUE(d.window.desk().open(d.path("vane-closed.kpeg")));
    ASSERT_TRUE(d.build());
    ASSERT_TRUE(d.page().runs().back().answer);
    EXPECT_TRUE(d.page().runs().back().answer->steps.empty());
    d.find<QCheckBox>("build.hold")->setChecked(true);
    d.find<QComboBox>("build.copies")->setCurrentIndex(1);
    ASSERT_TRUE(d.build());
    const auto& steps = d.page().runs().back().answer->steps;
    ASSERT_EQ(steps.size(), 2U);
    const auto* messages = d.find<QTreeWidget>("build.messages");
    for (const auto& step : steps) {
        const auto found =
            messages->findItems(QString::fromStdString(build_flow::sentence_of(step)), Qt::MatchContains, 1);
        EXPECT_EQ(found.size(), 1) << build_flow::sentence_of(step);
        // Never worse than it was: what is not better is taken back.
        if (step.state == build_flow::StepOutcome::taken) {
            EXPECT_LE(step.after.hold.failing, step.before.hold.failing);
        }
    }
    const auto* stages = d.find<QTreeWidget>("build.stages");
    EXPECT_EQ(stages->topLevelItem(1)->text(3), QStringLiteral("until source or part, pegs change"));
    EXPECT_EQ(steps[1].state, build_flow::StepOutcome::not_needed) << steps[1].why;
    d.picture("build-steps");
}

TEST(BuildPage, ASourceThatCannotBeReadSaysSoAndNothingElseChanges) {
    Vane d;
    d.write_source("module vane(input a, output b);\nassign b = c;\nendmodule\n");
    ASSERT_TRUE(d.window.desk().open(d.path("vane-closed.kpeg")));
    ASSERT_TRUE(
        d.window.desk().apply({"take the source in", {set_field(d.session().project(), "sources", "vane_hdl.v")}}));
    ASSERT_TRUE(d.settle());
    const auto before = d.session().project();
    ASSERT_TRUE(d.build());
    EXPECT_NE(d.page().runs().back().refused.find("vane_hdl.v:2"), std::string::npos) << d.page().runs().back().refused;
    EXPECT_EQ(d.session().project().netlists, before.netlists);
}

}  // namespace
}  // namespace kp::app::test
