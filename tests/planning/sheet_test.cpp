// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/bus_order.hpp"
#include "core/handoff/template.hpp"
#include "core/planning/proposals.hpp"
#include "core/planning/sheet.hpp"
#include "core/planning/ways.hpp"
#include "core/session/session.hpp"

#include "core/inputs/data_folder.hpp"

#include <gtest/gtest.h>
#include <random>

namespace kp {
namespace {

std::unique_ptr<Session> demo(const char* name) {
    auto s = Session::open(real_disk(), std::string(KP_SOURCE "/demo/") + name, KP_SOURCE "/data");
    EXPECT_TRUE(s) << (s ? "" : s.first().sentence());
    return s ? s.take() : nullptr;
}
std::vector<SheetRow> rows(const Session& s, const Project& p) {
    return sheet_rows(s.world().netlist.ports, s.world().part, s.world().board, p);
}

/// The edit that takes all a sheet proposes.
Edit taken(const Session& s, const Project& p, const Sheet& sheet) {
    const auto& w = s.world();
    return take_proposals(p, w.board, proposals_of_sheet(p, w.netlist.ports, w.part, w.board, sheet), "take the sheet");
}

TEST(PinSheet, ComesBackWithoutLoss) {
    const auto s = demo("profiler/profiler.kpeg");
    auto p = s->project();
    p.attributes["tone"].note = "says \"beep\", loudly\nand twice";
    p.attributes["tone"].pad_delay = "3";
    const auto before = rows(*s, p);
    const auto text = write_sheet(before);
    const auto sheet = read_sheet(text, "pins.csv");
    ASSERT_TRUE(sheet) << sheet.first().sentence();
    EXPECT_EQ(sheet.value().rows, before);
    EXPECT_EQ(write_sheet(sheet.value().rows), text);
    EXPECT_TRUE(taken(*s, p, sheet.value()).empty());
}

TEST(PinSheet, AnEmptyCellLeavesAndADashClears) {
    const auto s = demo("profiler/profiler-closed.kpeg");
    const auto& port = s->project().pegs.begin()->first;
    const auto take = [&](const std::string& text) {
        auto p = s->project();
        EXPECT_TRUE(kp::apply(p, taken(*s, p, read_sheet(text, "x").value())));
        return p;
    };
    const auto before = s->project().attributes.at(port).standard;
    ASSERT_FALSE(before.empty());
    EXPECT_EQ(take("port,pin,standard\n" + port + ",,\n").pegs, s->project().pegs);
    EXPECT_EQ(take("port,pin,standard\n" + port + ",,\n").attributes.at(port).standard, before);
    EXPECT_EQ(take("port,pin,standard\n" + port + ",NOWHERE,\n").attributes.at(port).standard, before);
    EXPECT_FALSE(take("port,pin\n" + port + ",-\n").pegs.contains(port));
    EXPECT_TRUE(take("port,standard\n" + port + ",-\n").attributes[port].standard.empty());
}

TEST(PinSheet, AnImportIsOneEditThatGivesTheSheet) {
    const auto s = demo("profiler/profiler-closed.kpeg");
    std::mt19937 random(11);
    for (int round = 0; round < 40; ++round) {
        // Another plan: pins exchanged, some adrift, some attributes.
        Project other = s->project();
        const auto& ports = s->world().netlist.ports;
        for (int k = 0; k < 30; ++k) {
            const auto &a = ports[random() % ports.size()].name, &b = ports[random() % ports.size()].name;
            if (other.pegs.contains(a) && other.pegs.contains(b)) std::swap(other.pegs[a].pin, other.pegs[b].pin);
            if (random() % 8 == 0) other.pegs.erase(a);
            other.attributes[b].slew = random() % 2 ? "fast" : "";
        }
        // An empty cell would say nothing: what shall be cleared is a dash.
        auto written = rows(*s, other);
        for (auto& row : written)
            for (const auto& c : sheet_columns())
                if (c.settable && (row.*c.field).empty()) row.*c.field = sheet_clear;
        const auto sheet = read_sheet(write_sheet(written), "x").take();
        const auto edit = taken(*s, s->project(), sheet);
        Project now = s->project();
        ASSERT_TRUE(kp::apply(now, edit));
        // Where a peg came from and what follows from its pin is as for any peg that is taken.
        for (const auto& d : compare_sheets(rows(*s, now), rows(*s, other)))
            EXPECT_TRUE(d.field != "pin" && d.field != "slew") << d.port << " " << d.field << " " << d.before;
        ASSERT_TRUE(kp::apply(now, edit.inverse()));
        EXPECT_EQ(rows(*s, now), rows(*s, s->project()));
        EXPECT_EQ(compare_sheets(rows(*s, s->project()), rows(*s, other)).empty(), edit.empty());
    }
}

TEST(PinSheet, TellsWhatCannotBeTaken) {
    const auto s = demo("vane/vane.kpeg");
    const auto first = [&](const std::string& text) {
        const auto sheet = read_sheet(text, "x.csv");
        if (!sheet) return sheet.first().sentence();
        const auto& w = s->world();
        for (const auto& p : proposals_of_sheet(s->project(), w.netlist.ports, w.part, w.board, sheet.value()))
            if (!p.refused.empty() || !p.why.empty()) return p.refused;
        return std::string();
    };
    EXPECT_EQ(first("pin,where\n1,2\n"),
              "x.csv:1: The first row has no column 'port'; a pin sheet has at least 'port' and 'pin'.");
    EXPECT_EQ(first("port,pin\ntone,1\ntone,2\n"), "x.csv:3: The port 'tone' is there twice.");
    EXPECT_EQ(first("port,pin\ntune,4\n"), "The design has no port 'tune'. Did you mean 'tone'?");
    EXPECT_EQ(first("port,pin\ntone,999\n"), "The part has no pin '999'.");
    EXPECT_EQ(first("port\tpin\ntone\t113\n"), "");
}

TEST(Ways, RangesBusesSlicesAndParts) {
    const auto s = demo("profiler/profiler-closed.kpeg");
    const auto& w = s->world();
    const auto ports = [&](const char* text) { return find_ports(text, w.netlist.ports); };
    EXPECT_EQ(ports("lamp").value().size(), 8u);
    EXPECT_EQ(ports("lamp").value().front(), "lamp[7]");
    EXPECT_EQ(ports("lamp[0:2]").value(), (std::vector<std::string>{"lamp[0]", "lamp[1]", "lamp[2]"}));
    EXPECT_EQ(ports("tone, lamp[3]").value(), (std::vector<std::string>{"tone", "lamp[3]"}));
    EXPECT_EQ(ports("lump").first().text, "The design has no port 'lump'. Did you mean 'lamp'?");
    EXPECT_FALSE(ports("lamp[9:8]"));
    const auto places = [&](const char* text) { return find_places(text, w.part, w.board); };
    EXPECT_EQ(places("b1..b4").value(), (std::vector<std::string>{"B1", "B2", "B3", "B4"}));
    ASSERT_FALSE(places("d1")) << "a ball and a designator: nobody guesses";
    EXPECT_EQ(places("d1").first().text,
              "'d1' is a pin of the FPGA and a designator of the board (lamps); type 'pin D1' or 'part D1'.");
    EXPECT_EQ(places("pin d1").value(), std::vector<std::string>{"D1"});
    EXPECT_EQ(places("part D1").value().size(), 8u);
    EXPECT_EQ(places("pin d1..d3").value(), (std::vector<std::string>{"D1", "D2", "D3"}));
    EXPECT_EQ(places("lamps").value().size(), 8u) << "a board part stands for its terminals";
    EXPECT_FALSE(places("b1..c4"));
    EXPECT_FALSE(places("nowhere"));
    // Turned round, and back in one undo.
    const auto turned = peg_many(s->project(), w.board, ports("lamp[7:0]").value(), places("lamps").value(), "by hand");
    Project p = s->project();
    ASSERT_TRUE(kp::apply(p, turned.edit));
    EXPECT_EQ(p.pegs.at("lamp[7]").pin, places("lamp0").value()[0]);
    EXPECT_EQ(p.pegs.size(), s->project().pegs.size());
    ASSERT_TRUE(kp::apply(p, turned.edit.inverse()));
    EXPECT_EQ(p.pegs, s->project().pegs);
    // The longer side is told.
    const auto part = peg_many(s->project(), w.board, ports("lamp").value(), {"B1", "B2"}, "by hand");
    EXPECT_EQ(part.ports_left.size(), 6u);
}

TEST(Ways, ABusTurnedRoundOrShiftedAlongItsBoardPart) {
    const auto s = demo("profiler/profiler-closed.kpeg");
    const auto& w = s->world();
    const auto lamps = find_ports("lamp", w.netlist.ports).take();
    const auto pin = [](const Project& p, const char* port) { return p.pegs.at(port).pin; };
    Project p = s->project();
    const auto turned = turn_round(p, w.board, lamps);
    ASSERT_TRUE(turned) << turned.first().text;
    ASSERT_TRUE(kp::apply(p, turned.value().edit));
    EXPECT_EQ(pin(p, "lamp[7]"), pin(s->project(), "lamp[0]"));
    EXPECT_EQ(pin(p, "lamp[3]"), pin(s->project(), "lamp[4]"));
    EXPECT_EQ(p.pegs.size(), s->project().pegs.size());
    // Turned twice is as before.
    ASSERT_TRUE(kp::apply(p, turn_round(p, w.board, lamps).value().edit));
    EXPECT_EQ(pin(p, "lamp[7]"), pin(s->project(), "lamp[7]"));
    // Once on and once back, and eight times on, are as before too.
    ASSERT_TRUE(kp::apply(p, shift_along(p, w.board, lamps, 1).value().edit));
    EXPECT_EQ(pin(p, "lamp[0]"), pin(s->project(), "lamp[1]"));
    EXPECT_EQ(pin(p, "lamp[7]"), pin(s->project(), "lamp[0]"));
    ASSERT_TRUE(kp::apply(p, shift_along(p, w.board, lamps, -1).value().edit));
    EXPECT_EQ(pin(p, "lamp[0]"), pin(s->project(), "lamp[0]"));
    for (int i = 0; i < 8; ++i) ASSERT_TRUE(kp::apply(p, shift_along(p, w.board, lamps, 1).value().edit));
    for (const auto& port : lamps) EXPECT_EQ(p.pegs.at(port).pin, s->project().pegs.at(port).pin);
    // Who is pushed off is told.
    const auto two = shift_along(p, w.board, {"lamp[0]", "lamp[1]"}, 1);
    ASSERT_EQ(two.value().evicted.size(), 1u);
    EXPECT_EQ(two.value().evicted[0].first, "lamp[2]");
    ASSERT_TRUE(kp::apply(p, unpeg_edit(p, "lamp[2]")));
    EXPECT_EQ(turn_round(p, w.board, lamps).first().text, "lamp[2] is adrift; peg the whole bus first.");
    EXPECT_FALSE(shift_along(p, w.board, {"lamp[0]", "tone"}, 1));
    EXPECT_FALSE(turn_round(p, w.board, {"tone"}));
}

TEST(BusOrder, InOrderShiftedReversedMixedAndSpread) {
    const auto s = demo("profiler/profiler-closed.kpeg");
    const auto& w = s->world();
    Project p = s->project();
    const std::vector<PortFacts> facts;
    const auto order = [&](const char* port) {
        const Plan plan(w.part, w.board, w.standards, w.netlist.ports, p, facts);
        return order_of(plan.bus_of(*plan.seat(port)));
    };
    EXPECT_EQ(order("lamp[0]").kind, BusOrder::Kind::in_order);
    EXPECT_EQ(order("lamp[0]").shift, 0);
    EXPECT_EQ(order("lamp[0]").bits.size(), 8u);
    const auto lamps = find_ports("lamp", w.netlist.ports).take();
    ASSERT_TRUE(kp::apply(p, turn_round(p, w.board, lamps).value().edit));
    EXPECT_EQ(order("lamp[0]").kind, BusOrder::Kind::reversed);
    ASSERT_TRUE(kp::apply(p, turn_round(p, w.board, lamps).value().edit));
    ASSERT_TRUE(kp::apply(p, unpeg_edit(p, "lamp[7]")));
    const std::vector<std::string> seven(lamps.begin() + 1, lamps.end());
    ASSERT_TRUE(kp::apply(p, shift_along(p, w.board, seven, 1).value().edit));
    EXPECT_EQ(order("lamp[0]").kind, BusOrder::Kind::in_order);
    EXPECT_EQ(order("lamp[0]").shift, 1);
    ASSERT_TRUE(kp::apply(p, shift_along(p, w.board, seven, 1).value().edit));
    EXPECT_EQ(order("lamp[0]").kind, BusOrder::Kind::mixed) << "one went round the end";
}

TEST(Templates, TheShippedOnesAndTheirMistakes) {
    const auto s = demo("vane/vane.kpeg");
    const TemplateInput input{"vane", "SKR11-Q144-MN", "Tussock", "A", "vane", "now", 2, rows(*s, s->project())};
    const auto shipped = [&](const char* name) {
        return render_template(real_disk().read(std::string(KP_SOURCE "/data/templates/") + name).value(), name, input)
            .take();
    };
    const auto list = shipped("pins.list.mustache");
    EXPECT_TRUE(list.starts_with("# 2 stops are open"));
    EXPECT_NE(list.find("    {tone 112 {LVCMOS 3.3 V}}\n"), std::string::npos) << list;
    EXPECT_NE(shipped("pins.table.mustache").find("112;tone;out;LVCMOS 3.3 V;;;\n"), std::string::npos);
    EXPECT_NE(shipped("pins.header.mustache").find("//   112  tone  out  LVCMOS 3.3 V  -> LS1.tone\n"),
              std::string::npos);
    // One that does not speak of stops gets a remark in front, in its own way of writing remarks.
    EXPECT_EQ(render_template("-- {{project}}\n", "t", input).value(),
              "-- 2 stops are open: this was written all the same.\n-- vane\n");
    TemplateInput clear = input;
    clear.stops = 0;
    EXPECT_EQ(render_template("{{#ports}}{{^pegged}}{{port}}{{/pegged}}{{/ports}}", "t", clear).value(), "");
    EXPECT_EQ(render_template("{{project}} & <{{part}}>", "t", clear).value(), "vane & <SKR11-Q144-MN>")
        << "nothing is escaped";
    const auto broken = render_template("{{#ports}} never closed", "t.mustache", input);
    ASSERT_FALSE(broken);
    EXPECT_TRUE(broken.first().sentence().starts_with("t.mustache: The template cannot be used:"));
    EXPECT_NE(markdown_sheet(input).find("| tone | out | 112 | 4 | LVCMOS 3.3 V |"), std::string::npos);
    EXPECT_NE(html_sheet(input).find("<td>tone</td><td>out</td><td>112</td>"), std::string::npos);
}

}  // namespace
}  // namespace kp
