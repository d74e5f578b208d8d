// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/handoff/adapter.hpp"
#include "core/hdl/read_ports.hpp"
#include "core/format/sdc/read.hpp"
#include "core/format/sdc/rename.hpp"
#include "core/hdl/verilog/read_netlist.hpp"
#include "core/session/session.hpp"
#include "core/timing/analyse.hpp"

#include <algorithm>
#include <gtest/gtest.h>
#include <random>

namespace kp {
namespace {

std::unique_ptr<Session> project(const std::string& file) {
    return Session::open(real_disk(), KP_SOURCE "/demo/" + file, KP_SOURCE "/data").take();
}

Adapter plan_of(const Session& s, bool turn = true) {
    return plan_adapter(s.world().netlist.ports, s.world().netlist.top, s.world().board, s.project(),
                        s.world().standards, turn);
}

TEST(Adapter, BothLanguagesReadBackAsPlanned) {
    for (const char* file : {"vane/vane.kpeg", "profiler/profiler.kpeg", "profiler/profiler-closed.kpeg"})
        for (const bool turn : {false, true}) {
            const auto s = project(file);
            const auto plan = plan_of(*s, turn);
            for (const auto language : {AdapterLanguage::verilog, AdapterLanguage::vhdl}) {
                const auto status = check_adapter(plan, language, write_adapter(plan, language));
                EXPECT_TRUE(status.ok()) << file << ": " << (status.ok() ? "" : status.first().text);
            }
        }
}

TEST(Adapter, IsReadByThePortReaderWithTheNamesOfTheBoard) {
    const auto s = project("vane/vane.kpeg");
    const auto plan = plan_of(*s);
    const auto text = write_adapter(plan, AdapterLanguage::vhdl);
    const auto ports = read_ports(std::vector<SourceText>{{"a.vhd", text}}, plan.name);
    ASSERT_TRUE(ports.ok()) << ports.first().sentence();
    const auto has = [&](const char* name, const char* direction) {
        return std::any_of(ports.value().ports.begin(), ports.value().ports.end(),
                           [&](const HeaderPort& p) { return p.name == name && p.direction == direction; });
    };
    EXPECT_TRUE(has("D1_rose0", "out"));
    EXPECT_TRUE(has("Y1_osc_20", "in"));
}

TEST(Adapter, TurnsPolarityWhereTheBoardIsLowAndTheNameIsNot) {
    // A lamp that is on when low, at a port that says nothing of it; and one that says so.
    Board board;
    board.name = "b";
    board.parts.push_back({"D1",
                           "lamps",
                           "lamp",
                           "lamps",
                           "",
                           "",
                           0,
                           0,
                           1,
                           1,
                           {{"one", TerminalDirection::reads, true},
                            {"two", TerminalDirection::reads, true},
                            {"three", TerminalDirection::reads, true}}});
    board.nets = {{"1", "D1.one"}, {"2", "D1.two"}, {"3", "D1.three"}};
    Project p;
    p.pegs["lit"] = {"1", PegState::pegged, ""};
    p.pegs["dark_n"] = {"2", PegState::pegged, ""};
    const std::vector<Port> ports{{"lit", "lit", -1, Direction::out, 0},
                                  {"dark_n", "dark_n", -1, Direction::out, 0},
                                  {"open", "open", -1, Direction::out, 0},
                                  {"idle", "idle", -1, Direction::in, 0}};
    const auto a = plan_adapter(ports, "core", board, p, {}, true);
    ASSERT_EQ(a.bits.size(), 4u);
    EXPECT_TRUE(a.bits[0].inverted);
    EXPECT_FALSE(a.bits[1].inverted);
    // The third lamp is used by nobody: dark, and since it is active low that is high.
    ASSERT_EQ(a.ties.size(), 1u);
    EXPECT_EQ(a.ties[0].outside, "D1_three");
    EXPECT_EQ(a.ties[0].level, 1);
    const auto verilog = write_adapter(a, AdapterLanguage::verilog);
    EXPECT_NE(verilog.find("assign D1_one = ~inside_lit;"), std::string::npos) << verilog;
    EXPECT_NE(verilog.find(".idle(1'b0)"), std::string::npos) << verilog;
    const auto vhdl = write_adapter(a, AdapterLanguage::vhdl);
    EXPECT_NE(vhdl.find("D1_one <= not inside_lit;"), std::string::npos) << vhdl;
    // "open" is a word of VHDL and has to be written as an extended name there.
    EXPECT_NE(vhdl.find("\\open\\ => inside_open"), std::string::npos) << vhdl;
    EXPECT_TRUE(check_adapter(a, AdapterLanguage::verilog, verilog).ok());
    EXPECT_TRUE(check_adapter(a, AdapterLanguage::vhdl, vhdl).ok());
    EXPECT_FALSE(plan_adapter(ports, "core", board, p, {}, false).bits[0].inverted);
}

TEST(Adapter, ReadingBackFindsEveryExchange) {
    // Two names exchanged anywhere in the body of the text must not go unnoticed.
    const auto s = project("vane/vane.kpeg");
    const auto plan = plan_of(*s);
    std::mt19937 random(7);
    for (const auto language : {AdapterLanguage::verilog, AdapterLanguage::vhdl}) {
        const auto good = write_adapter(plan, language);
        const auto body = good.find("wrapped");
        ASSERT_NE(body, std::string::npos);
        std::vector<std::string> names;
        for (const auto& bit : plan.bits)
            if (!bit.outside.empty() && !bit.inverted) names.push_back(bit.outside);
        for (int i = 0; i < 60; ++i) {
            const auto& a = names[random() % names.size()];
            const auto& b = names[random() % names.size()];
            const auto place = good.find(a, body);
            if (a == b || place == std::string::npos ||
                std::isalnum(static_cast<unsigned char>(good[place + a.size()])))
                continue;
            std::string bad = good;
            bad.replace(place, a.size(), b);
            EXPECT_FALSE(check_adapter(plan, language, bad).ok()) << a << " → " << b;
        }
        // A tie at the other level, and a port that is gone.
        auto bad = good;
        if (const auto at = bad.find(language == AdapterLanguage::verilog ? "1'b1" : "<= '1'");
            at != std::string::npos) {
            bad[at + (language == AdapterLanguage::verilog ? 3 : 4)] = '0';
            EXPECT_FALSE(check_adapter(plan, language, bad).ok());
        }
        EXPECT_FALSE(check_adapter(plan, language, "").ok());
    }
}

/// Adapter and constraints of one handoff use the same names: design inside adapter, timed with the adapter's
/// constraints, has the same clocks and the same slack at every register as the design timed by itself.
TEST(Adapter, ItsConstraintsTimeItAsTheDesignIsTimed) {
    for (const char* file : {"vane/vane-closed.kpeg", "profiler/profiler-closed.kpeg"}) {
        const auto s = project(file);
        const auto plan = plan_of(*s, false);
        const auto& w = s->world();
        std::string design;
        for (const auto& f : w.files)
            if (f.role == "netlist") design = real_disk().read(f.full).take();
        const auto wrapper = write_adapter(plan, AdapterLanguage::verilog);
        const SourceText texts[] = {{"design.v", design}, {"adapter.v", wrapper}};
        auto netlist = read_netlist(texts, plan.name, w.library);
        ASSERT_TRUE(netlist.ok()) << netlist.first().sentence();
        const auto sdc = adapter_constraints(plan, s->project());
        const NetlistIndex index(netlist.value());
        const auto k = read_sdc({{"adapter.sdc", "", sdc}}, netlist.value(), index, w.library);
        for (const auto& m : k.messages) EXPECT_NE(m.severity, Severity::stop) << m.sentence();
        const auto inside = analyse_timing({netlist.value(), w.library, k, nullptr}, {});
        std::vector<sdc::Script> scripts;
        for (const auto& f : s->project().constraints) scripts.push_back({f.path, "", f.text});
        const auto own = read_sdc(scripts, w.netlist, *w.index, w.library);
        const auto alone = analyse_timing({w.netlist, w.library, own, nullptr}, {});
        ASSERT_EQ(k.clocks.size(), own.clocks.size());
        for (size_t c = 0; c < own.clocks.size(); ++c) EXPECT_EQ(k.clocks[c].name, own.clocks[c].name);
        std::map<std::string, double> slack;
        for (const auto& e : alone.endpoints)
            if (e.endpoint.find('/') != std::string::npos) slack[e.check + " wrapped/" + e.endpoint] = e.slack;
        size_t compared = 0;
        for (const auto& e : inside.endpoints)
            if (const auto at = slack.find(e.check + " " + e.endpoint); at != slack.end()) {
                ++compared;
                EXPECT_NEAR(e.slack, at->second, 1e-6) << e.check << " " << e.endpoint;
            }
        EXPECT_EQ(compared, slack.size()) << file;
        EXPECT_EQ(inside.coverage.constrained, alone.coverage.constrained);
    }
}

TEST(Adapter, ConstraintsAreRenamedBitByBit) {
    const sdc::BitNames bits{{"v[1]", "D1_a"}, {"v[0]", "D1_b"}, {"tone", "LS1_t"}, {"clk", "Y1_c"}};
    const auto renamed = [&](const char* text) { return sdc::wrapped_constraints(text, bits, "wrapped"); };
    EXPECT_EQ(renamed("set_output_delay -clock clk 1 [get_ports v]"),
              "set_output_delay -clock clk 1 [get_ports {D1_a D1_b}]");
    EXPECT_EQ(renamed("set_output_delay -clock clk 1 [get_ports {v[0] tone}]"),
              "set_output_delay -clock clk 1 [get_ports {D1_b LS1_t}]");
    EXPECT_EQ(renamed("set_output_delay -clock clk 1 [get_ports {v[*] x}]"),
              "set_output_delay -clock clk 1 [get_ports {D1_a D1_b x}]");
    EXPECT_EQ(renamed("set_false_path -to tone"), "set_false_path -to LS1_t");
    EXPECT_EQ(renamed("set_false_path -from [get_cells {a_reg b*}] -to [get_pins u/D]"),
              "set_false_path -from [get_cells {wrapped/a_reg wrapped/b*}] -to [get_pins wrapped/u/D]");
    EXPECT_EQ(renamed("create_clock -period 8 [get_ports clk]"), "create_clock -name clk -period 8 [get_ports Y1_c]");
    EXPECT_EQ(renamed("# v stays in a remark\nset v 3"), "# v stays in a remark\nset v 3");
}

}  // namespace
}  // namespace kp
