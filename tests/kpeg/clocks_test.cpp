// SPDX-License-Identifier: GPL-3.0-or-later
// recipe, budget and the draft as a script sees them.
#include "tests/kpeg/runner.hpp"

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

namespace {

using namespace kpeg_test;

TEST(KpegRecipe, AnswersWithRankedSettings) {
    const auto a = run("recipe --part SKR23-B256-MN --in 25 --want 100,125,150 --best 3 --json -");
    ASSERT_EQ(a.status, 0) << a.err;
    const auto j = nlohmann::json::parse(a.out);
    EXPECT_EQ(j["schema"], "kitepeg.recipe/1");
    ASSERT_EQ(j["solutions"].size(), 3u);
    const auto& s = j["solutions"][0];
    EXPECT_EQ(s["worst_ppm"], 0);
    EXPECT_EQ(s["pll"], "PLL_N") << "of equals the first of the part file";
    EXPECT_EQ(s["detector_mhz"], 25);
    EXPECT_EQ(s["vco_mhz"], 1500);
    EXPECT_EQ(s["outputs"][1]["exact_mhz"], "125");
    EXPECT_GT(j["legal"].get<long long>(), 1000000);
    EXPECT_EQ(j["sdc"].size(), 3u);
    EXPECT_TRUE(j["nearest"].is_null());
}

TEST(KpegRecipe, SaysNoWithTheNearestAndTheLimit) {
    const auto a = run("recipe --part SKR23-B256-MN --in 27 --want 148.5/1.001 --within 0 --json -");
    EXPECT_EQ(a.status, 1) << a.err;
    const auto j = nlohmann::json::parse(a.out);
    EXPECT_TRUE(j["solutions"].empty());
    EXPECT_EQ(j["limit"]["what"], "within");
    EXPECT_EQ(j["limit"]["value"], j["nearest"]["worst_ppm"]);
    const auto none = run("recipe --part SKR23-B256-MN --in 2 --want 100 --json -");
    EXPECT_EQ(none.status, 1);
    EXPECT_EQ(nlohmann::json::parse(none.out)["limit"]["what"], "input");
    EXPECT_TRUE(nlohmann::json::parse(none.out)["nearest"].is_null());
    const auto many = run("recipe --part SKR23-B256-MN --in 25 --want 10,20,30,40,50,60 --json -");
    EXPECT_EQ(many.status, 1);
    EXPECT_EQ(nlohmann::json::parse(many.out)["legal"], 0);
}

TEST(KpegRecipe, RefusesWhatItCannotRead) {
    for (const char* arguments :
         {"--part SKR23-B256-MN --in x --want 100", "--part NONE --in 25 --want 100",
          "--part SKR23-B256-MN --in 25 --want 100 --pll NONE", "--part SKR23-B256-MN --in 25 --want 100 --phase 1,2",
          "--part SKR23-B256-MN --in 25 --want 1,2,3,4,5,6,7,8,9,10,11,12,13,14,15,16,17",
          "--part SKR23-B256-MN --in 25 --want 100 --within -1", "--part SKR23-B256-MN --in 25 --want ''"}) {
        const auto a = run(std::string("recipe ") + arguments + " --json -");
        EXPECT_EQ(a.status, 2) << arguments;
        EXPECT_EQ(std::count(a.err.begin(), a.err.end(), '\n'), 1) << a.err;
    }
}

TEST(KpegBudget, TermsAddUpAndTheTextIsCompared) {
    const auto a = run("budget " KP_SOURCE "/demo/profiler/profiler.kpeg --json -");
    ASSERT_EQ(a.status, 0) << a.err;
    const auto j = nlohmann::json::parse(a.out);
    int timed = 0;
    for (const auto& g : j["groups"]) {
        if (g["arrangement"] == "asynchronous") {
            EXPECT_EQ(g["max"], 0);
            EXPECT_TRUE(g["terms"].empty());
            continue;
        }
        ++timed;
        double max = 0, min = 0;
        for (const auto& t : g["terms"]) {
            max += t["max"].get<double>();
            min += t["min"].get<double>();
        }
        EXPECT_NEAR(max, g["max"], 1e-9) << g["name"];
        EXPECT_NEAR(min, g["min"], 1e-9) << g["name"];
        EXPECT_FALSE(g["sdc"].empty());
    }
    EXPECT_GE(timed, 3);
    const auto one = run("budget " KP_SOURCE "/demo/profiler/profiler.kpeg --group 'U2.rxc in' --json -");
    EXPECT_EQ(nlohmann::json::parse(one.out)["groups"].size(), 1u);
    const auto none = run("budget " KP_SOURCE "/demo/profiler/profiler.kpeg --group 'U2.rxc inn' --json -");
    EXPECT_EQ(none.status, 2);
    EXPECT_NE(none.err.find("Did you mean"), std::string::npos) << none.err;
}

TEST(KpegBudget, ProposesTheClockFirstWhereThereIsNone) {
    const Demo demo("noclock");
    std::ofstream(demo / "clocks.sdc") << "# nothing yet\n";
    std::ofstream(demo / "ports.sdc") << "# nothing yet\n";
    ASSERT_EQ(run("set " + (demo / "vane.kpeg") + " 'budgets=J3 in.partner=6 1' --json -").status, 0);
    const auto a = run("budget " + (demo / "vane.kpeg") + " --group 'J3 in' --json -");
    ASSERT_EQ(a.status, 0) << a.err;
    const auto j = nlohmann::json::parse(a.out);
    ASSERT_EQ(j["groups"].size(), 1u);
    const auto& g = j["groups"][0];
    EXPECT_EQ(g["clock"], "osc_20");
    ASSERT_EQ(g["sdc"].size(), 3u);
    EXPECT_EQ(g["sdc"][0], "create_clock -name osc_20 -period 50 [get_ports osc_20]");
}

TEST(KpegSdc, DraftsWhatTimeThenFindsCovered) {
    const Demo demo("draft");
    auto bare = nlohmann::json::parse(slurp(demo / "vane.kpeg"));
    bare["constraints"] = nlohmann::json::array();
    std::ofstream(demo / "bare.kpeg") << bare.dump();
    const auto a = run("sdc --draft " + (demo / "bare.kpeg") + " --out " + (demo / "draft.sdc") + " --json -");
    ASSERT_EQ(a.status, 0) << a.err;
    const auto t = run("time --netlist " + (demo / "vane.v") + " --lib " KP_SOURCE "/data/cells/skerry.lib --sdf " +
                       (demo / "vane.sdf") + " --sdc " + (demo / "draft.sdc") + " --json -");
    EXPECT_LE(t.status, 1) << t.err;
    const auto j = nlohmann::json::parse(t.out);
    EXPECT_EQ(j["coverage"]["constrained"], j["coverage"]["endpoints"]);
    for (const auto& m : j["messages"]) EXPECT_EQ(m["severity"], "note") << m;
    EXPECT_EQ(run("sdc --draft " + (demo / "vane.kpeg")).status, 2) << "it has to go somewhere";
    EXPECT_EQ(run("sdc --draft " + (demo / "vane.kpeg") + " --out " + (demo / "vane.v")).status, 2)
        << "never over an input";
}

TEST(KpegSdc, WritesTheStandardSubset) {
    const Demo demo("subset");
    const auto file = demo / "odd.sdc";
    std::ofstream(file) << "create_clock -name c -period 50 [get_ports osc_20]\nodd_command -x \\\n  1\n"
                           "# kept\nforeach p {a} { odd_other $p }\nset n 1; odd_third; set m 2\n";
    const auto a =
        run("sdc " + file + " --netlist " + (demo / "vane.v") +
            " --lib " KP_SOURCE "/data/cells/skerry.lib --standard-subset " + (demo / "out.sdc") + " --json -");
    EXPECT_EQ(a.status, 1) << a.err;
    const auto text = slurp(demo / "out.sdc");
    EXPECT_NE(text.find("create_clock -name c -period 50 [get_ports osc_20]\n# not standard SDC: odd_command"),
              std::string::npos)
        << text;
    EXPECT_NE(text.find("\n# kept\n"), std::string::npos);
    const auto again = run("sdc " + (demo / "out.sdc") + " --netlist " + (demo / "vane.v") +
                           " --lib " KP_SOURCE "/data/cells/skerry.lib --json -");
    EXPECT_EQ(again.out.find("not-portable"), std::string::npos) << text << again.out;
    EXPECT_NE(text.find("set m 2"), std::string::npos);
}

}  // namespace
