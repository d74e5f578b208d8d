// SPDX-License-Identifier: GPL-3.0-or-later
// Each rule: kept, broken, and the boundary between. The project is the demo with its troubles mended.
#include "core/format/json/world_json.hpp"
#include "core/planning/place.hpp"
#include "core/rules/rules.hpp"
#include "core/session/session.hpp"

#include <algorithm>
#include <gtest/gtest.h>
#include <set>

namespace kp {
namespace {

struct Clean {
    std::unique_ptr<Session> session;
    Project project;
    std::shared_ptr<const Analysis> analysis;

    Clean() {
        auto opened = Session::open(real_disk(), KP_SOURCE "/demo/vane/vane.kpeg", KP_SOURCE "/data");
        EXPECT_TRUE(opened.ok()) << (opened.ok() ? "" : opened.first().sentence());
        session = opened.take();
        project = session->project();
        project.pegs["rose_n[5]"].pin = "59";
        replace("-period 40", "-period 50");
        project.constraints[1].text += "set_output_delay -clock osc_20 10 [get_ports tone]\n";
        analyse();
    }
    void replace(const std::string& from, const std::string& to) {
        for (auto& file : project.constraints)
            if (const auto at = file.text.find(from); at != std::string::npos) file.text.replace(at, from.size(), to);
    }
    void analyse() { analysis = kp::analyse(session->world(), project, "", {}); }
    [[nodiscard]] std::vector<Finding> findings() const { return find(session->world(), project, *analysis); }
    /// "L02 stop; …": which rules speak.
    [[nodiscard]] std::string dump() const {
        std::string out;
        for (const auto& f : findings()) out += f.rule + " " + name_of(f.severity) + (f.waived ? " waived" : "") + "; ";
        return out;
    }
    [[nodiscard]] const Finding first(const std::string& rule) const {
        for (const auto& f : findings())
            if (f.rule == rule) return f;
        ADD_FAILURE() << "no " << rule;
        return {};
    }
};

TEST(Rules, TheMendedDemoIsClean) {
    EXPECT_EQ(Clean().dump(), "");
}

TEST(Rules, TheDemoHasItsThreePlantedTroubles) {
    auto opened = Session::open(real_disk(), KP_SOURCE "/demo/vane/vane.kpeg", KP_SOURCE "/data");
    ASSERT_TRUE(opened.ok());
    const auto& s = *opened.value();
    const auto a = analyse(s.world(), s.project(), s.document().folder(), {});
    std::multiset<std::string> rules;
    for (const auto& f : find(s.world(), s.project(), *a)) rules.insert(f.rule);
    EXPECT_EQ(rules, (std::multiset<std::string>{"D04", "D06", "L02", "L08"}));
}

TEST(RuleL01, APinThatIsNoUserPin) {
    Clean c;
    c.project.pegs["tone"].pin = "145";
    EXPECT_EQ(c.first("L01").text, "tone is pegged to pin 145, which SKR11-Q144 does not have. Did you mean '14'?");
    c.project.pegs["tone"].pin = "6";
    EXPECT_EQ(c.first("L01").text, "tone is pegged to pin 6, which is GND and not for users.");
    EXPECT_EQ(c.first("L01").fixes.at(0).text, "move tone to pin 112 (LS1.tone, the names agree)");
    c.project.pegs["tone"].pin = "144";  // the last pin exists, but sets the part up
    EXPECT_EQ(c.first("L01").severity, Severity::stop);
    c.project.pegs["tone"].pin = "143";  // its neighbour is a user pin, though busy at set-up
    EXPECT_EQ(c.dump(), "L05 stop; ");
}

TEST(RuleL02, TwoPortsOnAPin) {
    Clean c;
    c.project.pegs["tone"].pin = "46";
    EXPECT_EQ(c.first("L02").text, "Pin 46 holds rose_n[0] and tone; a pin holds one port.");
    ASSERT_TRUE(apply(c.project, c.first("L02").fixes.at(0).edit).ok());
    EXPECT_EQ(c.dump(), "");
}

TEST(RuleL08, DirectionsAcrossTheWire) {
    Clean c;
    std::swap(c.project.pegs["rose_n[5]"], c.project.pegs["zero_n"]);
    // The output fights with the key; the key's input hears nothing from a lamp.
    EXPECT_EQ(c.dump(), "L08 stop; L08 caution; ");
    Clean d;
    d.project.pegs["hold_n"].pin =
        "1"
        "4";  // free and wired to nothing
    EXPECT_EQ(d.first("L08").text, "The input hold_n sits on pin 14, which the board wires to nothing; it floats.");
    Clean e;
    e.project.pegs["raw[0]"].pin = "87";  // a header terminal goes both ways: legal, though out of its order
    EXPECT_EQ(e.dump(), "L09 caution; ");
}

TEST(RuleL11, APortThatIsAdrift) {
    Clean c;
    c.project.pegs.erase("gray[2]");
    EXPECT_EQ(c.dump(), "L11 stop; ");
    ASSERT_TRUE(apply(c.project, c.first("L11").fixes.at(0).edit).ok());
    EXPECT_EQ(c.project.pegs["gray[2]"].pin, "26");
}

TEST(RuleE01, AStandardNobodyChose) {
    Clean c;
    c.project.attributes.erase("tone");
    EXPECT_EQ(c.first("E01").text, "tone has no I/O standard.");
    EXPECT_EQ(c.first("E01").fixes.at(0).text, "take LVCMOS 3.3 V from the board");
    c.project.attributes["tone"].standard = "LVCMOS 9 V";
    EXPECT_EQ(c.first("E01").text, "The I/O standard 'LVCMOS 9 V' of tone is not in the table of standards.");
}

TEST(RuleE03, OneSupplyPerBank) {
    Clean c;
    c.project.attributes["tone"].standard = "LVCMOS 2.5 V";
    const auto f = c.first("E03");
    EXPECT_EQ(f.text, "tone asks for 2.5 V (LVCMOS 2.5 V), the board gives bank 4 3.3 V.");
    EXPECT_EQ(f.source, "JEDEC JESD8-5A.01");
    EXPECT_EQ(f.numbers.at(0).value, 2.5);
    ASSERT_GE(f.fixes.size(), 2u);  // change it, or move it to a bank of 2.5 V
    EXPECT_EQ(f.fixes[0].text, "choose LVCMOS 3.3 V for tone");
    for (const auto& fix : f.fixes) {
        Project mended = c.project;
        ASSERT_TRUE(apply(mended, fix.edit).ok());
        for (const auto& g : find(c.session->world(), mended, *c.analysis)) EXPECT_NE(g.rule, "E03") << fix.text;
    }
    // An input of 2.5 V may sit in a 3.3 V bank; one of 3.3 V may not sit in a 2.5 V bank.
    Clean d;
    d.project.attributes["hold_n"].standard = "LVCMOS 2.5 V";
    EXPECT_EQ(d.dump(), "");
    // Two standards of one supply may share a bank.
    d.project.attributes["tone"].standard = "LVTTL 3.3 V";
    EXPECT_EQ(d.dump(), "");
}

TEST(RuleD01, PartOfProjectAndBoard) {
    Clean c;
    c.project.part = "SKR11-Q144-HN";
    EXPECT_EQ(c.dump(), "D01 caution; ");
    c.project.part = "SKR23-B256-MN";
    EXPECT_EQ(c.first("D01").severity, Severity::stop);
}

TEST(RuleD03, NamesThatDoNotExist) {
    Clean c;
    c.project.constraints[1].text += "set_output_delay -clock osc_20 1 [get_ports tune]\n";
    c.analyse();
    const auto f = c.first("D03");
    EXPECT_EQ(f.text, "get_ports finds nothing for 'tune'. Did you mean 'tone'?");
    ASSERT_EQ(f.fixes.size(), 1u);
    ASSERT_TRUE(apply(c.project, f.fixes[0].edit).ok());
    c.analyse();
    EXPECT_EQ(c.dump(), "");
    c.project.pegs["old_port"] = {"14", PegState::pegged, "by hand"};
    EXPECT_EQ(c.first("D03").severity, Severity::caution);
}

TEST(RuleD04, PeriodAgainstOscillatorWithItsTolerance) {
    // 20 MHz is 50 ns; 50 ppm of it are 0.0025 ns.
    for (const auto& [period, broken] : {std::pair{"50", false},
                                         {"50.0025", false},
                                         {"50.003", true},
                                         {"49.9975", false},
                                         {"49.997", true},
                                         {"20", true}}) {
        Clean c;
        c.replace("-period 50", std::string("-period ") + period);
        c.analyse();
        EXPECT_EQ(c.dump(), broken ? "D04 stop; " : "") << period;
    }
    // Duty cycle 45 to 55 %: 22.5 ns are inside, 22.4 outside.
    for (const auto& [high, broken] : {std::pair{"22.5", false}, {"22.4", true}, {"27.5", false}, {"27.6", true}}) {
        Clean c;
        c.replace("-period 50", std::string("-period 50 -waveform {0 ") + high + "}");
        c.analyse();
        EXPECT_EQ(c.dump(), broken ? "D04 stop; " : "") << high;
    }
}

TEST(RuleD04, TheFixChangesOneWordOfTheText) {
    Clean c;
    c.replace("-period 50", "-period 40");
    c.analyse();
    const auto before = c.project.constraints[0].text;
    ASSERT_TRUE(apply(c.project, c.first("D04").fixes.at(0).edit).ok());
    auto wanted = before;
    wanted.replace(wanted.find("-period 40"), 10, "-period 50");
    EXPECT_EQ(c.project.constraints[0].text, wanted);
}

TEST(RuleD06, BothDelaysOfEveryPort) {
    Clean c;
    c.replace("set_output_delay -clock osc_20 10 [get_ports tone]",
              "set_output_delay -clock osc_20 -max 10 [get_ports tone]");
    c.analyse();
    EXPECT_EQ(c.first("D06").text, "tone: only -max of its output delay is given.");
    ASSERT_TRUE(apply(c.project, answered(c.first("D06").fixes.at(0), "0.5")).ok());
    c.analyse();
    EXPECT_EQ(c.dump(), "");
}

TEST(Waivers, StayWithTheirFindingAndHideNoOther) {
    Clean c;
    c.project.pegs.erase("gray[2]");
    c.project.pegs.erase("gray[3]");
    c.project.waivers.push_back({"L11", {"gray[2]"}, "comes later", "me", "2026-11-23"});
    EXPECT_EQ(c.dump(), "L11 stop; L11 stop waived; ");
    c.project.pegs["gray[2]"] = {"26", PegState::pegged, "by hand"};
    EXPECT_EQ(c.dump(), "L11 stop; W01 note; ");
}

TEST(RuleTable, EveryRowIsWholeAndNamedOnce) {
    std::set<std::string> codes;
    for (const auto& row : rule_table()) {
        EXPECT_TRUE(codes.insert(row.code).second) << row.code;
        EXPECT_TRUE(row.of_port || row.of_pin || row.of_bank || row.of_plan) << row.code;
        EXPECT_GT(std::string(row.statement).size(), 20u);
        EXPECT_GT(std::string(row.source).size(), 3u);
    }
}

TEST(Standards, LevelsFollowTheirDocuments) {
    auto text = real_disk().read(KP_SOURCE "/data/standards/io.standards.json");
    const auto table = read_standards(text.value(), "io").take();
    // All values from memory, to be compared with the texts: JESD8C.01 (VIH 2.0, VIL 0.8, LVTTL VOH 2.4, VOL 0.4),
    // JESD8-5A.01 (VIH 1.7, VIL 0.7), JESD8-7A, JESD8-11A.01 and JESD8-12A.01 (VIH 0.65 VDD, VIL 0.35 VDD).
    EXPECT_DOUBLE_EQ(table.find("LVCMOS 3.3 V")->vih, 2.0);
    EXPECT_DOUBLE_EQ(table.find("LVTTL 3.3 V")->voh, 2.4);
    EXPECT_DOUBLE_EQ(table.find("LVCMOS 2.5 V")->vil, 0.7);
    for (const auto& [name, vdd] : {std::pair{"LVCMOS 1.8 V", 1.8}, {"LVCMOS 1.5 V", 1.5}, {"LVCMOS 1.2 V", 1.2}}) {
        const auto* s = table.find(name);
        EXPECT_NEAR(s->vih, 0.65 * vdd, 1e-9) << name;
        EXPECT_NEAR(s->vil, 0.35 * vdd, 1e-9) << name;
        EXPECT_NEAR(s->voh, 0.75 * vdd, 1e-9) << name;
        EXPECT_NEAR(s->vol, 0.25 * vdd, 1e-9) << name;
    }
    for (const auto& s : table.rows) {
        // A driver is heard by a receiver of its own kind.
        EXPECT_GT(s.differential ? s.vod[0] : s.voh, s.differential ? s.vid_min : s.vih) << s.name;
        EXPECT_TRUE(s.differential || s.vol < s.vil) << s.name;
        EXPECT_FALSE(s.checked.empty()) << s.name;
    }
}

}  // namespace
}  // namespace kp
