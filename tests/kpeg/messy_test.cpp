// SPDX-License-Identifier: GPL-3.0-or-later
// What somebody got wrong on a board of their own is seen by kpeg and leaves with the handoff; the window's side of the
// same is tests/app/messy_test.cpp.
#include "tests/kpeg/own_board.hpp"

#include <set>

namespace kpeg_test {
namespace {

/// Rules of a SARIF file that have a result.
std::set<std::string> rules_in(const std::string& sarif) {
    std::set<std::string> out;
    const auto json = Json::parse(slurp(sarif));
    for (const auto& r : json["runs"][0]["results"]) out.insert(r["ruleId"].get<std::string>());
    return out;
}

TEST(KpegMessy, ABoardWithOtherNamesIsInOrderWhenNothingIsWrong) {
    OwnBoard b("messy_good");
    b.match();
    for (const auto& fault : own_board_faults) EXPECT_EQ(b.findings(fault.rule), "") << fault.name;
    EXPECT_EQ(b.kpeg("prove", "").status, 0);
}

TEST(KpegMessy, EachFaultEndsRedInRulesAndHandoff) {
    for (const auto& fault : own_board_faults) {
        OwnBoard b("messy_fault");
        b.match();
        fault.plant(b);
        EXPECT_NE(b.findings(fault.rule), "") << fault.name;
        const auto rules = b.kpeg("rules", "");
        EXPECT_EQ(rules.status, 1) << fault.name;
        const auto held = b.kpeg("handoff", "--out " + (b / "out"));
        bool stops = false;
        const auto found = Json::parse(rules.out);
        for (const auto& f : found["findings"])
            stops |= f["severity"] == "stop" && (!f.contains("waived") || f["waived"].is_null());
        if (stops) EXPECT_EQ(held.status, 1) << fault.name << ": a stop holds the handoff";
        const auto written =
            stops ? b.kpeg("handoff", "--out " + (b / "out") + " --open-stops 'to be looked at'") : held;
        std::string sarif;
        for (const auto& file : std::filesystem::directory_iterator(b / "out"))
            if (file.path().extension() == ".sarif") sarif = file.path().string();
        ASSERT_NE(sarif, "") << fault.name << written.err << written.out.substr(0, 400);
        EXPECT_TRUE(rules_in(sarif).contains(fault.rule)) << fault.name;
    }
}

}  // namespace
}  // namespace kpeg_test
