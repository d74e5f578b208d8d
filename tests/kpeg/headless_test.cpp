// SPDX-License-Identifier: GPL-3.0-or-later
// What the window can do and kpeg once could not: waivers, the smallest set of changes, recipes written into a project,
// the review of exceptions, image and SVF of one's own design, the record of a proof, paths that no clock knows.
#include "tests/kpeg/runner.hpp"

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

namespace kpeg_test {
namespace {

using Json = nlohmann::json;

Json parsed(const Answer& a) {
    auto j = Json::parse(a.out, nullptr, false);
    EXPECT_FALSE(j.is_discarded()) << a.err;
    return j;
}

size_t runs_in_log(const std::string& project) {
    return parsed(run("log " + project + " --json -"))["runs"].size();
}

TEST(KpegHeadless, AFindingIsWaivedWithAReasonAndCountsAgain) {
    const Demo d("waive");
    const auto project = d / "vane.kpeg";
    EXPECT_EQ(run("waive " + project + " D06").status, 2) << "a waiver needs a reason";
    EXPECT_EQ(run("waive " + project + " D06 nobody --why x").status, 2);
    EXPECT_EQ(run("waive " + project + " E01 --why x").status, 2) << "there is no such finding";
    const auto before = runs_in_log(project);
    const auto a = run("waive " + project + " d06 tone --why 'an ear hears it' --who tester --json -");
    ASSERT_EQ(a.status, 0) << a.err;
    EXPECT_EQ(parsed(a)["objects"], Json::parse(R"(["tone"])"));
    EXPECT_EQ(runs_in_log(project), before + 1) << "the log has what was done";
    const auto kept = Json::parse(slurp(project));
    ASSERT_EQ(kept["waivers"].size(), 1u);
    EXPECT_EQ(kept["waivers"][0]["who"], "tester");
    EXPECT_EQ(kept["waivers"][0]["reason"], "an ear hears it");
    EXPECT_EQ(run("waive " + project + " D06 tone --why again").status, 2) << "it is waived already";
    EXPECT_EQ(run("waive " + project + " D06 --take-back").status, 0);
    EXPECT_EQ(Json::parse(slurp(project))["waivers"].size(), 0u);
}

TEST(KpegHeadless, TheSmallestSetOfChangesIsListedAndTaken) {
    const Demo d("closing");
    const auto project = d / "vane.kpeg";
    std::ofstream(d / "clocks.sdc") << "create_clock -name osc_20 -period 2 [get_ports osc_20]\n";
    const auto dry = run("fix " + project + " --timing --dry --json -");
    auto j = parsed(dry);
    EXPECT_EQ(j["schema"], "kitepeg.closing/1");
    EXPECT_GT(j["before"].get<int>(), 0);
    EXPECT_EQ(slurp(d / "clocks.sdc"), "create_clock -name osc_20 -period 2 [get_ports osc_20]\n");
    ASSERT_FALSE(j["steps"].empty());
    EXPECT_LT(j["after"].get<int>(), j["before"].get<int>());
    EXPECT_EQ(dry.status, j["after"] == 0 ? 0 : 1);
    const auto taken = parsed(run("fix " + project + " --timing --json -"));
    EXPECT_EQ(taken["after"], j["after"]);
    // What is left is what was foretold.
    EXPECT_EQ(parsed(run("fix " + project + " --timing --dry --json -"))["before"], j["after"]);
}

TEST(KpegHeadless, ImageAndSvfOfTheDesignLoadTheChip) {
    const Demo d("own_image");
    const auto project = d / "vane.kpeg";
    EXPECT_EQ(run("chip " + project + " --json -").status, 2) << "neither to play nor to write";
    const auto a =
        run("chip " + project + " --write-svf " + (d / "l.svf") + " --write-image " + (d / "l.img") + " --json -");
    ASSERT_EQ(a.status, 0) << a.err;
    EXPECT_EQ(parsed(a)["configured"], true) << "what was written was played";
    EXPECT_EQ(parsed(run("chip " + project + " --svf " + (d / "l.svf") + " --json -"))["configured"], true);
    EXPECT_EQ(run("chip " + project + " --svf " + (d / "l.svf") + " --fault other-part --json -").status, 1);
    EXPECT_EQ(
        run("chip " + project + " --svf " + (d / "gone.svf") + " --write-image " + (d / "n.img") + " --json -").status,
        2);
    EXPECT_FALSE(std::filesystem::exists(d / "n.img")) << "what is refused writes nothing";
    EXPECT_EQ(slurp(d / "l.img").substr(0, 4), "KPIM");
    EXPECT_EQ(run("chip " + project + " --write-svf " + project + " --json -").status, 2) << "no input is written over";
}

TEST(KpegHeadless, ExceptionsAreReviewed) {
    const Demo d("review");
    std::ofstream(d / "ports.sdc", std::ios::app) << "set_false_path -to [get_ports tone]\n"
                                                     "set_multicycle_path 2 -setup -from [get_clocks osc_20]\n";
    const auto j = parsed(run("sdc " + (d / "vane.kpeg") + " --review --json -"));
    EXPECT_EQ(j["schema"], "kitepeg.exceptions/1");
    ASSERT_GE(j["exceptions"].size(), 2u);
    for (const auto& e : j["exceptions"]) {
        EXPECT_FALSE(e["words"].get<std::string>().empty());
        EXPECT_GT(e["line"].get<int>(), 0);
    }
    EXPECT_EQ(run("sdc " + (d / "ports.sdc") + " --review --json -").status, 2) << "it takes a project";
}

TEST(KpegHeadless, AProofIsKeptAsARecord) {
    const Demo d("record");
    const auto a = run("prove " + (d / "vane.kpeg") + " --record --json -");
    EXPECT_LE(a.status, 1) << a.err;
    const auto kept = Json::parse(slurp(d / "vane.kpeg"));
    ASSERT_EQ(kept["proofs"].size(), 1u);
    EXPECT_NE(kept["proofs"][0].get<std::string>().find("the netlist as its ports are meant"), std::string::npos);
}

TEST(KpegHeadless, ARecipeIsWrittenForAPllOfTheDesign) {
    const Demo d("recipe");
    EXPECT_EQ(run("recipe --write " + (d / "vane.kpeg") + " --in 20 --want 100 --json -").status, 2)
        << "the design has no PLL";
    EXPECT_EQ(run("recipe --in 20 --want 100 --json -").status, 2) << "neither part nor project";
    namespace fs = std::filesystem;
    for (const auto& file : fs::directory_iterator(KP_SOURCE "/demo/linkwatch"))
        if (file.is_regular_file()) fs::copy_file(file, d / file.path().filename().string());
    for (const auto& file : fs::directory_iterator(d.folder))
        fs::permissions(file, fs::perms::owner_read | fs::perms::owner_write);
    const auto a = run("recipe --write " + (d / "linkwatch.kpeg") + " --in 25 --want 125 --json -");
    EXPECT_EQ(a.status, 0) << a.err;
    EXPECT_NE(slurp(d / "recipes.sdc").find("# recipe "), std::string::npos);
}

TEST(KpegHeadless, PathsThatNoClockKnowsAreFoundFromAndTo) {
    const Demo d("clockless");
    std::ofstream(d / "c.v") << "module c(input a, b, d, output x, y); AND2 g(.A(a), .B(b), .Y(x)); "
                                "AND2 h(.A(b), .B(d), .Y(y)); endmodule\n";
    std::ofstream(d / "c.lib") << R"(library (l) { time_unit : "1ns"; capacitive_load_unit (1, pf);
        cell (AND2) { pin (A) { direction : input; } pin (B) { direction : input; }
          pin (Y) { direction : output; function : "A & B";
            timing () { related_pin : "A"; timing_sense : positive_unate;
              cell_rise (scalar) { values ("1.5"); } cell_fall (scalar) { values ("1.5"); } }
            timing () { related_pin : "B"; timing_sense : positive_unate;
              cell_rise (scalar) { values ("2.0"); } cell_fall (scalar) { values ("2.0"); } } } } })";
    const auto ask = [&](const char* more) {
        return parsed(run("time --netlist " + (d / "c.v") + " --lib " + (d / "c.lib") + " " + more +
                          " --json -"))["unconstrained"];
    };
    EXPECT_EQ(ask("").size(), 2u) << "each end with its worst start";
    const auto one = ask("--from a --to x");
    ASSERT_EQ(one.size(), 1u) << "b is worse, and it was not asked for";
    EXPECT_EQ(one[0]["startpoint"], "a");
    EXPECT_NEAR(one[0]["max_delay"].get<double>(), 1.5, 1e-9);
    EXPECT_EQ(ask("--from a --to y").size(), 0u) << "there is no such way";
    EXPECT_EQ(ask("--to x").size(), 2u);
    EXPECT_EQ(ask("--from b").size(), 2u);
}

TEST(KpegHeadless, AStarterTakesThePartOfItsBoard) {
    const Demo d("starter");
    auto board = Json::parse(slurp(KP_SOURCE "/data/boards/tussock.board.json"));
    std::ofstream(d / "own.board.json") << board.dump();
    board["part"] = "";
    std::ofstream(d / "bare.board.json") << board.dump();
    ASSERT_EQ(run("new " + (d / "a") + " --name a --board " + (d / "own.board.json") + " --starter").status, 0);
    EXPECT_EQ(Json::parse(slurp(d / "a/starter.kpeg"))["part"], "SKR11-Q144-MN");
    ASSERT_EQ(
        run("new " + (d / "b") + " --name b --board " + (d / "bare.board.json") + " --part SKR11-Q144-MN --starter")
            .status,
        0);
    EXPECT_EQ(Json::parse(slurp(d / "b/starter.kpeg"))["part"], "SKR11-Q144-MN");
    // A board is found by its name, also when its file is typed.
    EXPECT_EQ(run("set " + (d / "a/starter.kpeg") + " board=own.board.json").status, 0);
    EXPECT_EQ(Json::parse(slurp(d / "a/starter.kpeg"))["board"], "own");
}

}  // namespace
}  // namespace kpeg_test
