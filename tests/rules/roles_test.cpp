// SPDX-License-Identifier: GPL-3.0-or-later
// What ports are meant as, and ports that stay open on purpose: in rules, adapter and report.
#include "core/planning/roles.hpp"

#include "core/handoff/adapter.hpp"
#include "core/session/session.hpp"
#include "core/session/analysis.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

PlannedPort seat_of(const Port& port, const PortAttributes& chosen) {
    PlannedPort s;
    s.name = port.name;
    s.port = &port;
    s.chosen = &chosen;
    return s;
}

std::string role_by_name(const std::string& bus) {
    Port port;
    port.name = port.bus = bus;
    const PortAttributes nothing;
    return role_of(seat_of(port, nothing)).role;
}

// Stems of names: common practice, no source.
TEST(Roles, PartsOfTheNameSayWhatAPortIsFor) {
    EXPECT_EQ(role_by_name("sys_clk"), "clock");
    EXPECT_EQ(role_by_name("clk50"), "clock");
    EXPECT_EQ(role_by_name("rst_n"), "reset");
    EXPECT_EQ(role_by_name("LED"), "lamp");
    EXPECT_EQ(role_by_name("uart_tx"), "serial");
    EXPECT_EQ(role_by_name("mem_dq"), "memory");
    EXPECT_EQ(role_by_name("keystone"), "") << "a stem is a whole part of the name";
    EXPECT_EQ(role_by_name("gray"), "");
}

TEST(Roles, WhatWasChosenWinsThenTheNetlistThenTheBoard) {
    Port port;
    port.name = port.bus = "led";
    PortAttributes chosen;
    PortFacts facts;
    auto s = seat_of(port, chosen);
    s.facts = &facts;
    EXPECT_EQ(role_of(s).why, "by its name");
    facts.clocks_registers = true;
    EXPECT_EQ(role_of(s).role, "clock");
    chosen.role = "key";
    EXPECT_EQ(role_of(s).role, "key");
    EXPECT_EQ(role_of(s).why, "chosen");
}

TEST(Sense, IsDeclaredOrComesFromTheName) {
    PortAttributes chosen;
    EXPECT_TRUE(sense_of("reset_n", chosen).low);
    EXPECT_FALSE(sense_of("reset", chosen).low);
    chosen.sense = "low";
    EXPECT_TRUE(sense_of("reset", chosen).low);
    EXPECT_EQ(sense_of("reset", chosen).why, "chosen");
}

struct RolesDemo {
    std::unique_ptr<Session> s = Session::open(real_disk(), KP_SOURCE "/demo/vane/vane-closed.kpeg", KP_SOURCE "/data",
                                               {OpenTo::look, "test", false, {}, ""})
                                     .take();
    [[nodiscard]] std::string texts(const Project& p, const std::string& rule) const {
        const auto analysis = analyse(s->world(), p, s->document().folder(), {});
        std::string out;
        for (const auto& f : find(s->world(), p, *analysis))
            if (f.rule == rule) out += f.text + "\n";
        return out;
    }
};

TEST(OpenOnPurpose, APortThatIsSaidToStayOpenIsAskedForNothing) {
    const RolesDemo d;
    auto p = d.s->project();
    p.pegs.erase("tone");
    EXPECT_EQ(d.texts(p, "L11"), "tone has no pin; it is adrift.\n");
    p.attributes["tone"].open = "not on this board";
    EXPECT_EQ(d.texts(p, "L11"), "");
    EXPECT_EQ(d.texts(p, "D06"), "");
    p.pegs["tone"] = d.s->project().pegs.at("tone");
    EXPECT_NE(d.texts(p, "L11").find("tone is said to stay open (not on this board), and it has pin"),
              std::string::npos);
}

TEST(OpenOnPurpose, TheAdapterHoldsAnInputAsSaid) {
    const RolesDemo d;
    auto p = d.s->project();
    const auto text = [&] {
        const auto a =
            plan_adapter(d.s->world().netlist.ports, "vane", d.s->world().board, p, d.s->world().standards, true);
        const auto verilog = write_adapter(a, AdapterLanguage::verilog);
        for (const auto language : {AdapterLanguage::verilog, AdapterLanguage::vhdl})
            EXPECT_TRUE(check_adapter(a, language, write_adapter(a, language)).ok());
        return verilog;
    };
    p.pegs.erase("hold_n");
    EXPECT_NE(text().find(".hold_n(1'b0)"), std::string::npos);
    p.attributes["hold_n"].open = "no key on this board";
    p.attributes["hold_n"].tie = "1";
    EXPECT_NE(text().find(".hold_n(1'b1)"), std::string::npos);
}

}  // namespace
}  // namespace kp
