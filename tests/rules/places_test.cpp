// SPDX-License-Identifier: GPL-3.0-or-later
// Rules of places and levels on the large demo: kept, broken, and the boundary between. Every case starts from the
// closed project, in which nothing is found.
#include "core/format/json/json_text.hpp"
#include "core/handoff/findings_out.hpp"
#include "core/planning/place.hpp"
#include "core/rules/rules.hpp"
#include "core/session/session.hpp"

#include <algorithm>
#include <fstream>
#include <gtest/gtest.h>
#include <sstream>

namespace kp {
namespace {

struct Closed {
    std::unique_ptr<Session> session =
        Session::open(real_disk(), KP_SOURCE "/demo/profiler/profiler-closed.kpeg", KP_SOURCE "/data").take();
    Project project = session->project();
    std::shared_ptr<const Analysis> analysis = analyse(session->world(), project, "", {});
    const World& w = session->world();

    [[nodiscard]] std::vector<Finding> of(const std::string& rule) const {
        auto all = find(w, project, *analysis);
        std::erase_if(all, [&](const Finding& f) { return f.rule != rule; });
        return all;
    }
    void peg(const std::string& port, const std::string& pin) {
        ASSERT_TRUE(apply(project, peg_edit(project, w.board, port, pin, "by hand")).ok());
    }
    void take(const Finding& f, size_t which = 0) {
        ASSERT_LT(which, f.fixes.size()) << f.text;
        ASSERT_TRUE(apply(project, f.fixes[which].edit).ok());
    }
    [[nodiscard]] std::string pin(const std::string& port) const { return project.pegs.at(port).pin; }
    /// A user pin for which `wanted` holds and that nobody uses.
    [[nodiscard]] std::string free_pin(const std::function<bool(const Pin&)>& wanted) const {
        for (const auto& p : w.part.pins)
            if (p.usable() && wanted(p) && std::none_of(project.pegs.begin(), project.pegs.end(), [&](const auto& peg) {
                    return peg.second.pin == p.name;
                }))
                return p.name;
        ADD_FAILURE() << "no such pin";
        return {};
    }
};

TEST(RuleL03, PairsSitOnPairsTheRightWayRound) {
    Closed c;
    EXPECT_TRUE(c.of("L03").empty());
    // Exchanged: each half says so, and one swap mends both.
    ASSERT_TRUE(apply(c.project, swap_edit(c.project, "mem_ck_p", "mem_ck_n")).ok());
    auto found = c.of("L03");
    ASSERT_EQ(found.size(), 2u);
    EXPECT_NE(found[0].text.find("half of its pair and sits on pin"), std::string::npos);
    c.take(found[0]);
    EXPECT_TRUE(c.of("L03").empty());
    // The other half elsewhere.
    const auto home = c.pin("mem_ck_n"), away = c.free_pin([&](const Pin&p) {
        return p.bank == c.w.part.pin(home)->bank && p.kind == PinKind::io && !p.pair_true && !p.pair.empty();
    });
    c.peg("mem_ck_n", away);
    found = c.of("L03");
    ASSERT_GE(found.size(), 1u);
    EXPECT_NE(found[0].text.find("are a pair, but pins"), std::string::npos);
    c.take(found[0]);
    EXPECT_EQ(c.pin("mem_ck_n"), home);
    // Somebody else on the other half: the port there is at home elsewhere.
    c.project.pegs.erase("mem_ck_n");
    c.project.pegs["lamp[0]"].pin = home;
    found = c.of("L03");
    ASSERT_EQ(found.size(), 1u);
    EXPECT_NE(found[0].text.find("and lamp[0] is on it"), std::string::npos);
    // A single-ended port may sit on half a pair.
    c.project.attributes["mem_ck_p"].standard = "SSTL 1.5 V";
    EXPECT_TRUE(c.of("L03").empty());
}

TEST(RuleL05, PinsThatAreBusyAtSetUp) {
    Closed c;
    const auto by_part = c.free_pin([](const Pin& p) { return p.job == "FLASH_CLOCK"; });
    c.project.pegs["lamp[0]"].pin = by_part;
    auto found = c.of("L05");
    ASSERT_EQ(found.size(), 1u);
    EXPECT_EQ(found[0].severity, Severity::stop);
    c.take(found[0]);
    EXPECT_TRUE(c.of("L05").empty());
    // A job that this mode leaves alone, on a wire nobody drives: nothing to say.
    c.project.pegs["lamp[0]"].pin = c.free_pin([](const Pin& p) { return p.job == "FLASH_DATA1"; });
    EXPECT_TRUE(c.of("L05").empty());
}

TEST(RuleL06, AReferencePinWhileTheBankComparesWithIt) {
    Closed c;
    const auto memory = c.w.part.pin(c.pin("mem_dq[0]"))->bank;
    const auto reference = c.free_pin([&](const Pin& p) { return p.reference && p.bank == memory; });
    c.project.pegs["lamp[0]"].pin = reference;
    ASSERT_EQ(c.of("L06").size(), 1u);
    EXPECT_EQ(c.of("L06")[0].numbers[0].value, 0.75);
    // The same pin is a user pin like any other once nobody compares: all memory inputs of the bank are gone.
    for (auto at = c.project.pegs.begin(); at != c.project.pegs.end();) {
        const auto* pin = c.w.part.pin(at->second.pin);
        at = pin && pin->bank == memory && at->first != "lamp[0]" ? c.project.pegs.erase(at) : std::next(at);
    }
    EXPECT_TRUE(c.of("L06").empty());
    // Reference pins of other banks are used by the demo itself, and rightly.
    EXPECT_TRUE(std::any_of(c.session->project().pegs.begin(), c.session->project().pegs.end(),
                            [&](const auto& peg) { return c.w.part.pin(peg.second.pin)->reference; }));
}

TEST(RuleL09, ABusUpsideDownAndShuffled) {
    Closed c;
    EXPECT_TRUE(c.of("L09").empty());
    std::vector<std::string> pins;
    for (int i = 0; i < 8; ++i) pins.push_back(c.pin("lamp[" + std::to_string(i) + "]"));
    for (int i = 0; i < 8; ++i)
        c.project.pegs["lamp[" + std::to_string(i) + "]"].pin = pins[static_cast<size_t>(7 - i)];
    auto found = c.of("L09");
    ASSERT_EQ(found.size(), 1u);
    EXPECT_EQ(found[0].text, "The bits of lamp lie on D1.lamp7 … lamp0 in reversed order: bit 0 is on number 7.");
    c.take(found[0]);
    EXPECT_TRUE(c.of("L09").empty());
    std::swap(c.project.pegs["lamp[2]"].pin, c.project.pegs["lamp[3]"].pin);
    ASSERT_EQ(c.of("L09").size(), 1u);
    EXPECT_NE(c.of("L09")[0].text.find("out of order"), std::string::npos);
    // A slice in order, moved up by one, is in order.
    Closed d;
    for (int i = 0; i < 8; ++i) d.project.pegs.erase("lamp[" + std::to_string(i) + "]");
    for (int i = 0; i < 4; ++i)
        d.project.pegs["lamp[" + std::to_string(i) + "]"] = {pins[static_cast<size_t>(i + 3)], PegState::pegged, ""};
    EXPECT_TRUE(d.of("L09").empty());
}

TEST(RuleE02, AStandardTheBankCannotCarry) {
    Closed c;
    c.project.attributes["lamp[0]"].standard = "SSTL 1.5 V";
    ASSERT_EQ(c.of("E02").size(), 1u);
    c.take(c.of("E02")[0]);
    EXPECT_TRUE(c.of("E02").empty());
    EXPECT_TRUE(c.of("E03").empty()) << "the way out is one that the rail allows as well";
    c.project.attributes["adc_clk_out_p"].standard = "LVDS 2.5 V";
    EXPECT_TRUE(c.of("E02").empty());
}

TEST(RuleE04, OneReferenceVoltageForABank) {
    Closed c;
    EXPECT_TRUE(c.of("E04").empty());
    // No second standard with a reference ships, so one is made for the test.
    auto table = c.w.standards;
    auto other = *table.find("SSTL 1.5 V");
    other.name = "test 0.9 V";
    other.vref = 0.9;
    table.rows.push_back(other);
    c.project.attributes["mem_dq[0]"].standard = "test 0.9 V";
    const RuleInput in(c.w.part, c.w.board, table, c.w.netlist.ports, c.project, c.analysis->constraints(),
                       c.analysis->timing(), c.analysis->design());
    int found = 0, first = 0;
    for (const auto& f : run_rules(in))
        if (f.rule == "E04") {
            ++found;
            first += f.objects[0].name == "mem_dq[0]";
        }
    EXPECT_EQ(first, 1);
    EXPECT_GT(found, 1) << "each input that disagrees says so";
    // Within half a percent of a volt they are one.
    table.rows.back().vref = 0.752;
    const RuleInput near(c.w.part, c.w.board, table, c.w.netlist.ports, c.project, c.analysis->constraints(),
                         c.analysis->timing(), c.analysis->design());
    for (const auto& f : run_rules(near)) EXPECT_NE(f.rule, "E04");
}

TEST(RuleE06, WhatIsChosenHasToExist) {
    Closed c;
    auto& lamp = c.project.attributes["lamp[0]"];
    lamp.drive = "16";
    EXPECT_TRUE(c.of("E06").empty());
    lamp.drive = "17";
    ASSERT_EQ(c.of("E06").size(), 1u);
    EXPECT_EQ(c.of("E06")[0].text, "The drive strength of lamp[0] is set to 17 mA; it can be 2, 4, 8, 12 and 16.");
    c.take(c.of("E06")[0]);
    EXPECT_TRUE(c.of("E06").empty());
    c.project.attributes["lamp[0]"].pull = "up";  // an output
    ASSERT_EQ(c.of("E06").size(), 1u);
    c.project.attributes["lamp[0]"].pull = "";
    c.project.attributes["rocker[0]"].pad_delay = "23";
    EXPECT_TRUE(c.of("E06").empty());
    c.project.attributes["rocker[0]"].pad_delay = "24";
    EXPECT_EQ(c.of("E06").size(), 1u);
    c.project.attributes["rocker[0]"].pad_delay = "";
    // The board pulls rockers down.
    c.project.attributes["rocker[0]"].pull = "down";
    EXPECT_TRUE(c.of("E06").empty());
    c.project.attributes["rocker[0]"].pull = "up";
    ASSERT_EQ(c.of("E06").size(), 1u);
    EXPECT_EQ(c.of("E06")[0].numbers[0].value, 10000);
}

TEST(RuleE07, ALampAndItsResistor) {
    Closed c;
    const auto at = c.w.board.at_pin(c.pin("lamp[0]"));
    ASSERT_TRUE(at && at.terminal->forward_volts > 0 && at.net->series_ohm > 0);
    // By hand: (3.3 V - Vf - 0.4 V) / R.
    const double ma = (3.3 - at.terminal->forward_volts - 0.4) / at.net->series_ohm * 1000;
    ASSERT_GT(ma, 2);
    ASSERT_LT(ma, 4);
    c.project.attributes["lamp[0]"].drive = "4";
    EXPECT_TRUE(c.of("E07").empty());
    c.project.attributes["lamp[0]"].drive = "2";
    ASSERT_EQ(c.of("E07").size(), 1u);
    EXPECT_NEAR(c.of("E07")[0].numbers[0].value, ma, 1e-9);
    c.take(c.of("E07")[0]);
    EXPECT_EQ(c.project.attributes["lamp[0]"].drive, "4");
    EXPECT_TRUE(c.of("E07").empty());
    // Exactly as much as is drawn is enough.
    Board board = c.w.board;
    for (auto& net : board.nets)
        if (net.terminal == at.net->terminal) net.series_ohm = (3.3 - at.terminal->forward_volts - 0.4) / 0.002;
    board.index();
    c.project.attributes["lamp[0]"].drive = "2";
    for (const auto& f : run_rules(RuleInput(c.w.part, board, c.w.standards, c.w.netlist.ports, c.project,
                                             c.analysis->constraints(), c.analysis->timing(), c.analysis->design())))
        if (f.rule == "E07") EXPECT_GT(f.numbers[0].value, 2.0);
}

TEST(RuleDocument, IsWhatTheCodeSays) {
    std::ifstream file(KP_SOURCE "/docs/rules.md");
    std::stringstream text;
    text << file.rdbuf();
    EXPECT_EQ(text.str(), rules_document()) << "write it again: kpeg rules --document > docs/rules.md";
}

TEST(FindingsOut, SarifHasWhatTheStandardAsksFor) {
    // SARIF 2.1.0 (OASIS, 2020): 3.13.2 version, 3.14.6 tool, 3.27.5 ruleId, 3.27.6 ruleIndex, 3.27.10 level, 3.27.11
    // message, 3.35 suppression; from memory.
    Closed c;
    c.peg("lamp[0]", c.pin("lamp[1]"));
    c.project.waivers.push_back(
        {"L02", {c.pin("lamp[1]"), "lamp[0]", "lamp[1]"}, "on \"purpose\" & <so>", "me", "2026-11-23"});
    const auto found = find(c.w, c.project, *c.analysis);
    const auto j = findings_sarif(found, "p.kpeg");
    EXPECT_EQ(j["version"], "2.1.0");
    const auto& run = j["runs"][0];
    const auto& rules = run["tool"]["driver"]["rules"];
    EXPECT_EQ(rules.size(), rule_table().size() + 1);
    ASSERT_EQ(run["results"].size(), found.size());
    int suppressed = 0;
    for (const auto& r : run["results"]) {
        EXPECT_EQ(rules[r["ruleIndex"].get<size_t>()]["id"], r["ruleId"]);
        EXPECT_TRUE(r["level"] == "error" || r["level"] == "warning" || r["level"] == "note");
        EXPECT_FALSE(r["message"]["text"].get<std::string>().empty());
        EXPECT_FALSE(r["locations"][0]["physicalLocation"]["artifactLocation"]["uri"].get<std::string>().empty());
        suppressed += r.contains("suppressions");
    }
    EXPECT_EQ(suppressed, 1);
    const auto junit = findings_junit(found, "p.kpeg");
    EXPECT_NE(junit.find("<skipped message=\"1 waived\"/>"), std::string::npos);
    EXPECT_EQ(junit.find("<so>"), std::string::npos);
}

}  // namespace
}  // namespace kp
