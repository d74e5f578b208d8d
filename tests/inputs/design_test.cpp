// SPDX-License-Identifier: GPL-3.0-or-later
// Designs timed once with their Liberty library, once with Verilog models made from it, once with nothing but the SDF.
#include "core/inputs/design.hpp"

#include "core/base/memory_disk.hpp"
#include "core/format/sdc/read.hpp"
#include "core/format/sdf/read.hpp"
#include "core/timing/engine.hpp"

#include <gtest/gtest.h>

#include <set>

namespace kp {
namespace {

std::string text_of(const BooleanFunction& f) {
    return f.text().value_or("1'bx");
}

const char* check_task(ArcKind kind) {
    switch (kind) {
        case ArcKind::setup_rising:
        case ArcKind::setup_falling: return "$setup";
        case ArcKind::hold_rising:
        case ArcKind::hold_falling: return "$hold";
        case ArcKind::recovery_rising:
        case ArcKind::recovery_falling: return "$recovery";
        default: return "$removal";
    }
}

/// A check as the standard orders its arguments: $hold names the reference first.
std::string check_text(const LibraryCell& c, const LibraryArc& arc) {
    const std::string task = check_task(arc.kind);
    const bool rising = arc.kind == ArcKind::setup_rising || arc.kind == ArcKind::hold_rising ||
                        arc.kind == ArcKind::recovery_rising || arc.kind == ArcKind::removal_rising;
    const auto reference = (rising ? "posedge " : "negedge ") + c.pins[arc.from].name;
    std::string out;
    for (const int edge : {0, 1}) {
        if (arc.constraint[edge].empty()) continue;
        const auto data = (edge == 0 ? "posedge " : "negedge ") + c.pins[arc.to].name;
        out += "  " + task + "(" + (task == "$hold" ? reference + ", " + data : data + ", " + reference) + ", 1.0);\n";
    }
    return out;
}

std::string body_text(const LibraryCell& c) {
    std::string out;
    if (!c.state.empty()) {
        out += "  reg " + c.state + ";\n";
        const auto value = text_of(c.next_state);
        if (c.latch) {
            out += "  always @* if (" + text_of(c.clocked_on) + ") " + c.state + " = " + value + ";\n";
        } else {
            out += "  always @(posedge " + text_of(c.clocked_on);
            if (!c.clear.empty()) out += " or posedge " + text_of(c.clear);
            if (!c.preset.empty()) out += " or posedge " + text_of(c.preset);
            out += ")\n";
            if (!c.clear.empty()) out += "    if (" + text_of(c.clear) + ") " + c.state + " <= 1'b0; else\n";
            if (!c.preset.empty()) out += "    if (" + text_of(c.preset) + ") " + c.state + " <= 1'b1; else\n";
            out += "    " + c.state + " <= " + value + ";\n";
        }
    }
    for (const auto& p : c.pins)
        if (!p.function.empty()) {
            auto f = text_of(p.function);
            if (!c.state_n.empty() && f == c.state_n) f = "!" + c.state;
            out += "  assign " + p.name + " = " + f + ";\n";
        }
    return out;
}

std::string model_text(const LibraryCell& c) {
    std::string out = "module " + c.name + " (", specify;
    for (size_t i = 0; i < c.pins.size(); ++i)
        out += (i ? ", " : "") +
               std::string(c.pins[i].direction == Direction::in    ? "input "
                           : c.pins[i].direction == Direction::out ? "output "
                                                                   : "inout ") +
               c.pins[i].name;
    out += ");\n" + body_text(c);
    for (const auto& arc : c.arcs) {
        const auto &from = c.pins[arc.from].name, &to = c.pins[arc.to].name;
        const auto condition = arc.sdf_cond.empty() ? "" : "if (" + arc.sdf_cond + ") ";
        if (arc.kind == ArcKind::rising_edge || arc.kind == ArcKind::falling_edge)
            specify += "  " + std::string(condition) + "(" +
                       (arc.kind == ArcKind::rising_edge ? "posedge " : "negedge ") + from + " => (" + to +
                       " : 1'b1)) = (0.5, 0.5);\n";
        else if (arc.is_check())
            specify += check_text(c, arc);
        else if (arc.kind != ArcKind::pulse_width)
            specify += "  " + std::string(condition) + "(" + from + " => " + to + ") = (0.5:0.6:0.7, 0.5);\n";
    }
    for (const auto& p : c.pins) {
        if (p.min_pulse[0] > 0) specify += "  $width(posedge " + p.name + ", 0.1);\n";
        if (p.min_pulse[1] > 0) specify += "  $width(negedge " + p.name + ", 0.1);\n";
        if (p.min_period > 0) specify += "  $period(posedge " + p.name + ", 0.1);\n";
    }
    return "`timescale 1ns / 1ps\n`celldefine\n" + out + "  specify\n" + specify +
           "  endspecify\nendmodule\n`endcelldefine\n";
}

using Slacks = std::map<std::pair<std::string, std::string>, double>;

struct Timed {
    Slacks slacks;
    std::vector<CellOrigin> cells;
    std::vector<Message> messages;
};

struct DesignCase {
    const char* name;
    const char* top;
    std::vector<const char*> sdc;
};

class WithoutLibrary : public testing::TestWithParam<DesignCase> {
protected:
    static std::string at(const std::string& file) {
        return std::string(KP_SOURCE "/demo/") + GetParam().name + "/" + file;
    }

    static Timed time(std::vector<std::string> libraries, std::vector<std::string> models, bool propagated = true) {
        const auto sdf = at(std::string(GetParam().top) + ".sdf");
        DesignFiles files{
            {at(std::string(GetParam().top) + ".v")}, std::move(libraries), std::move(models), GetParam().top, {}};
        DelayFile delays = read_sdf(real_disk().read(sdf).value(), sdf).take();
        files.delays = [&](DelaySink& sink) {
            for (size_t i = 0; i < delays.size(); ++i) sink.take(delays[i]);
            return std::vector<Message>();
        };
        auto design = load_design(real_disk(), files);
        EXPECT_TRUE(design.ok()) << design.first().sentence();
        if (!design) return {};
        std::vector<sdc::Script> scripts;
        for (const auto* file : GetParam().sdc) scripts.push_back({file, file, real_disk().read(at(file)).value()});
        const auto& [library, netlist, cells] = design.value();
        const NetlistIndex index(netlist);
        const auto constraints = read_sdc(scripts, netlist, index, library, {}, {});
        TimingOptions options;
        options.all_endpoints = true;
        options.propagated = propagated;
        TimingEngine engine({netlist, library, constraints, &delays}, options);
        engine.update();
        Timed out{{}, cells, design.messages()};
        for (const auto& e : engine.report().endpoints) out.slacks[{e.check, e.endpoint}] = e.slack;
        return out;
    }
};

const std::string library_file = KP_SOURCE "/data/cells/skerry.lib";

TEST_P(WithoutLibrary, ModelsGiveTheSameSlacksToATenthOfAPicosecond) {
    const auto library = load_libraries(real_disk(), {library_file}).take();
    std::string text;
    for (const auto& c : library.cells)
        if (c.buses.empty()) text += model_text(c);  // the demos have no memories
    const auto path = testing::TempDir() + "kp_models_" + GetParam().name + ".v";
    ASSERT_TRUE(real_disk().create(path, text).ok());
    const auto with = time({library_file}, {}), models = time({}, {path});
    EXPECT_TRUE(real_disk().remove(path).ok());
    ASSERT_FALSE(with.slacks.empty());
    EXPECT_EQ(with.slacks.size(), models.slacks.size());
    for (const auto& [key, slack] : with.slacks) {
        const auto found = models.slacks.find(key);
        ASSERT_NE(found, models.slacks.end()) << key.first << " " << key.second;
        EXPECT_NEAR(found->second, slack, 1e-4) << key.first << " " << key.second;
    }
    for (const auto& c : models.cells) EXPECT_EQ(c.from, "model") << c.type;
    for (const auto& c : with.cells) EXPECT_EQ(c.from, "liberty") << c.type;
}

TEST_P(WithoutLibrary, TheDelayFileAloneIsNeverOptimisticAndOftenTheSame) {
    Timed alone;
    for (const bool propagated : {true, false}) {
        const auto with = time({library_file}, {}, propagated);
        alone = time({}, {}, propagated);
        ASSERT_FALSE(with.slacks.empty());
        size_t same = 0;
        for (const auto& [key, slack] : with.slacks) {
            const auto found = alone.slacks.find(key);
            ASSERT_NE(found, alone.slacks.end()) << key.first << " " << key.second << " is not checked";
            EXPECT_LE(found->second, slack + 1e-4)
                << key.first << " " << key.second << (propagated ? " propagated" : "");
            same += std::abs(found->second - slack) < 1e-4;
        }
        EXPECT_GT(same, 0u);
        std::cout << GetParam().name << (propagated ? ", propagated: " : ", ideal: ") << same << " of "
                  << with.slacks.size() << " slacks are the same\n";
    }
    std::set<std::string> unknown;
    for (const auto& c : alone.cells) {
        EXPECT_GT(c.count, 0u);
        EXPECT_TRUE(c.from == "sdf" || c.from == "unknown") << c.type << " " << c.from;
        if (c.from == "unknown") unknown.insert(c.type);
    }
    for (const auto& m : alone.messages)
        if (m.code == Code::unknown_cell) {
            EXPECT_NE(m.text.find("Give its Liberty cell or its Verilog model"), std::string::npos);
            unknown.erase(m.text.substr(5, m.text.find(' ', 5) - 5));
        }
    EXPECT_TRUE(unknown.empty()) << *unknown.begin() << " is unknown and nobody says so";
}

INSTANTIATE_TEST_SUITE_P(Demos, WithoutLibrary,
                         testing::Values(DesignCase{"vane", "vane", {"clocks.sdc", "ports.sdc"}},
                                         DesignCase{
                                             "profiler", "profiler", {"profiler-clocks.sdc", "profiler-ports.sdc"}}),
                         [](const auto& info) { return std::string(info.param.name); });

struct DesignSmall {
    MemoryDisk disk;
    DelayFile delays;
    DesignSmall(const std::string& verilog, const std::string& sdf) {
        disk.files["n.v"] = verilog;
        if (!sdf.empty()) delays = read_sdf(sdf, "d.sdf").take();
    }
    Result<Design> load(const std::string& models = "") {
        DesignFiles files{{"n.v"}, {}, {}, "", {}};
        if (!models.empty()) {
            disk.files["m.v"] = models;
            files.models = {"m.v"};
        }
        files.delays = [this](DelaySink& sink) {
            for (size_t i = 0; i < delays.size(); ++i) sink.take(delays[i]);
            return std::vector<Message>();
        };
        return load_design(disk, files);
    }
};

const LibraryArc* arc(const LibraryCell& c, const char* from, const char* to, ArcKind kind) {
    for (const auto& a : c.arcs)
        if (c.pins[a.from].name == from && c.pins[a.to].name == to && a.kind == kind) return &a;
    return nullptr;
}

TEST(CellsFromDelays, PathsAndChecksSayWhatACellIs) {
    DesignSmall s(
        "module m(input d, c, r, output q, y); REG u(.D(d),.C(c),.R(r),.Q(q)); GATE g(.A(q),.Y(y)); endmodule",
        "(DELAYFILE (CELL (CELLTYPE \"REG\") (INSTANCE u) (DELAY (ABSOLUTE (IOPATH (posedge C) Q (1))"
        "(IOPATH R Q (1)))) (TIMINGCHECK (SETUP D (posedge C) (1)) (RECOVERY (posedge R) (posedge C) (1))"
        "(WIDTH (posedge C) (1))))"
        "(CELL (CELLTYPE \"GATE\") (INSTANCE g) (DELAY (ABSOLUTE (IOPATH A Y (1))))))");
    const auto design = s.load();
    ASSERT_TRUE(design) << design.first().sentence();
    const auto& reg = *design.value().library.cell("REG");
    EXPECT_TRUE(arc(reg, "C", "Q", ArcKind::rising_edge));
    EXPECT_FALSE(arc(reg, "C", "Q", ArcKind::falling_edge));
    EXPECT_TRUE(arc(reg, "C", "D", ArcKind::setup_rising));
    EXPECT_TRUE(arc(reg, "C", "R", ArcKind::recovery_rising));
    EXPECT_TRUE(arc(reg, "R", "Q", ArcKind::clear) && arc(reg, "R", "Q", ArcKind::preset)) << "which is not known";
    EXPECT_FALSE(arc(reg, "R", "Q", ArcKind::combinational));
    EXPECT_TRUE(reg.pins[static_cast<size_t>(reg.pin("C"))].clock);
    EXPECT_EQ(reg.pins[static_cast<size_t>(reg.pin("Q"))].direction, Direction::out);
    const auto& gate = *design.value().library.cell("GATE");
    ASSERT_TRUE(arc(gate, "A", "Y", ArcKind::combinational));
    EXPECT_EQ(arc(gate, "A", "Y", ArcKind::combinational)->sense, Sense::non_unate);
    const auto& said = design.messages();
    ASSERT_EQ(said.size(), 1u) << "once for GATE";
    EXPECT_EQ(said[0].code, Code::sense);
    EXPECT_NE(said[0].text.find("set_clock_sense -positive"), std::string::npos) << "and what to do about a clock";
}

TEST(CellsFromDelays, AClockWithoutEdgeLaunchesAtTheEdgeOfItsChecks) {
    DesignSmall s("module m(input d, c, output q); REG u(.D(d),.C(c),.Q(q)); endmodule",
                  "(DELAYFILE (CELL (CELLTYPE \"REG\") (INSTANCE u) (DELAY (ABSOLUTE (IOPATH C Q (1))))"
                  "(TIMINGCHECK (HOLD D (negedge C) (1)))))");
    const auto design = s.load();
    ASSERT_TRUE(design);
    const auto& reg = *design.value().library.cell("REG");
    EXPECT_TRUE(arc(reg, "C", "Q", ArcKind::falling_edge));
    EXPECT_FALSE(arc(reg, "C", "Q", ArcKind::rising_edge));
}

TEST(CellsFromDelays, WiresSayWhoDrives) {
    DesignSmall s("module m(output y); SOURCE u(.Z(w)); GATE g(.A(w),.Y(y)); endmodule",
                  "(DELAYFILE (CELL (CELLTYPE \"m\") (INSTANCE) (DELAY (ABSOLUTE (INTERCONNECT u/Z g/A (1)))))"
                  "(CELL (CELLTYPE \"GATE\") (INSTANCE g) (DELAY (ABSOLUTE (IOPATH A Y (1))))))");
    const auto design = s.load();
    ASSERT_TRUE(design);
    EXPECT_EQ(design.value().library.cell("SOURCE")->pins[0].direction, Direction::out);
    ASSERT_EQ(design.value().cells.size(), 2u);
    EXPECT_EQ(design.value().cells[1].type, "SOURCE");
    EXPECT_EQ(design.value().cells[1].from, "unknown");
}

TEST(CellsFromDelays, PinsByOrderNeedSomebodyWhoKnowsTheOrder) {
    DesignSmall s("module m(input a, output y);\n GATE g(y, a);\nendmodule",
                  "(DELAYFILE (CELL (CELLTYPE \"GATE\") (INSTANCE g) (DELAY (ABSOLUTE (IOPATH A Y (1))))))");
    const auto alone = s.load();
    ASSERT_FALSE(alone.ok());
    EXPECT_EQ(alone.first().sentence(),
              "n.v:2:2: Instance g connects the pins of GATE by order, and nothing says that order; name the pins, or "
              "give the cell's library or model.");
    const auto modelled =
        s.load("module GATE(output Y, input A); assign Y = !A; specify (A => Y) = 1; endspecify endmodule");
    ASSERT_TRUE(modelled) << modelled.first().sentence();
    EXPECT_EQ(modelled.value().cells[0].from, "model");
}

TEST(CellsFromDelays, BusesAreBitsOfTheSameCell) {
    DesignSmall s("module m(input [3:0] a, output [3:0] y); BLOCK b(.A(a), .Y(y)); endmodule",
                  "(DELAYFILE (CELL (CELLTYPE \"BLOCK\") (INSTANCE b) (DELAY (ABSOLUTE (IOPATH A[3] Y[0] (1))))))");
    const auto design = s.load();
    ASSERT_TRUE(design) << design.first().sentence();
    EXPECT_EQ(design.value().netlist.pins.size(), 8u);
    EXPECT_TRUE(arc(*design.value().library.cell("BLOCK"), "A[3]", "Y[0]", ArcKind::combinational));
}

// What the user knows of a clock's cell makes up for the library: two registers behind an unknown buffer.
TEST(CellsFromDelays, AClockWhoseSenseIsSaidHasItsWholePeriod) {
    DesignSmall s(
        "module m(input d, c, output q); BUFF b(.A(c),.Y(k)); REG u(.D(d),.C(k),.Q(w)); REG v(.D(w),.C(k),.Q(q)); "
        "endmodule",
        "(DELAYFILE (CELL (CELLTYPE \"REG\") (INSTANCE *) (DELAY (ABSOLUTE (IOPATH (posedge C) Q (1))))"
        "(TIMINGCHECK (SETUP D (posedge C) (0.5)))) (CELL (CELLTYPE \"BUFF\") (INSTANCE b) (DELAY (ABSOLUTE (IOPATH "
        "A Y (0.2))))))");
    const auto design = s.load();
    ASSERT_TRUE(design) << design.first().sentence();
    const auto& library = design.value().library;
    const auto& netlist = design.value().netlist;
    const NetlistIndex index(netlist);
    const auto slack = [&](const std::string& more) {
        const std::vector<sdc::Script> scripts{{"t", "t", "create_clock -period 10 c\n" + more}};
        const auto constraints = read_sdc(scripts, netlist, index, library, {}, {});
        for (const auto& m : constraints.messages) EXPECT_NE(m.severity, Severity::stop) << m.sentence();
        TimingOptions options;
        options.all_endpoints = true;
        TimingEngine engine({netlist, library, constraints, &s.delays}, options);
        engine.update();
        for (const auto& e : engine.report().endpoints)
            if (e.check == "setup" && e.endpoint == "v/D") return e.slack;
        return 99.0;
    };
    EXPECT_NEAR(slack(""), 5 - 1 - 0.5, 1e-6) << "from either edge to the next of the other";
    EXPECT_NEAR(slack("set_clock_sense -positive [get_pins b/Y]\n"), 10 - 1 - 0.5, 1e-6);
}

}  // namespace
}  // namespace kp
