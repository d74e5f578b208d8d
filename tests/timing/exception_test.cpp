// SPDX-License-Identifier: GPL-3.0-or-later
// Exceptions on random circuits against a program that walks every path and looks at each exception by itself, written
// without any of the engine's data structures. And delay tables, loads and transitions by hand.
#include "tests/timing/circuit.hpp"

#include <cmath>
#include <functional>
#include <limits>
#include <map>
#include <random>

namespace kp {
namespace {

struct Gate {
    std::string name, kind;
    std::vector<std::string> inputs;
};

/// One pin a path passes, with its edge.
struct ScenePin {
    std::string name;
    bool rise;
};

struct Network {
    std::vector<Gate> gates;
    std::vector<std::pair<std::string, std::string>> ends;  ///< register and the net at its D
    std::string verilog;

    explicit Network(std::mt19937& random) {
        std::vector<std::string> nets;
        verilog = "module m(input clk, input [2:0] d, output [2:0] q);\n";
        for (int i = 0; i < 3; ++i) {
            const auto n = std::to_string(i);
            verilog += "R s" + n + "(.D(d[" + n + "]),.CK(clk),.Q(s" + n + "q));\n";
            nets.push_back("s" + n + "q");
        }
        for (int i = 0; i < 9; ++i) {
            Gate g{"g" + std::to_string(i), random() % 3 == 0 ? "INV" : "AND", {}};
            for (int k = 0; k < (g.kind == "INV" ? 1 : 2); ++k) g.inputs.push_back(nets[random() % nets.size()]);
            verilog += g.kind + " " + g.name + "(.A(" + g.inputs[0] + ")" +
                       (g.inputs.size() > 1 ? ",.B(" + g.inputs[1] + ")" : "") + ",.Y(" + g.name + "y));\n";
            nets.push_back(g.name + "y");
            gates.push_back(g);
        }
        for (int i = 0; i < 3; ++i) {
            const auto net = nets[nets.size() - 1 - random() % 6], n = std::to_string(i);
            ends.emplace_back("e" + n, net);
            verilog += "R e" + n + "(.D(" + net + "),.CK(clk),.Q(q[" + n + "]));\n";
        }
        verilog += "endmodule\n";
    }

    /// Every path to a net: pins from the start on, and its delay.
    void paths(const std::string& net, bool rise,
               const std::function<void(std::vector<ScenePin>, double)>& found) const {
        const Gate* g = nullptr;
        for (const auto& gate : gates)
            if (gate.name + "y" == net) g = &gate;
        if (!g) {
            const auto source = net.substr(0, net.size() - 1);
            found({{source + "/CK", true}, {source + "/Q", rise}}, 0.2);
            return;
        }
        for (size_t k = 0; k < g->inputs.size(); ++k) {
            const bool in = g->kind == "INV" ? !rise : rise;
            const double delay = g->kind == "INV" ? (rise ? 0.5 : 0.7) : k == 0 ? 0.3 : 0.4;
            paths(g->inputs[k], in, [&](std::vector<ScenePin> pins, double before) {
                pins.push_back({g->name + (k == 0 ? "/A" : "/B"), in});
                pins.push_back({g->name + "/Y", rise});
                found(std::move(pins), before + delay);
            });
        }
    }
};

struct Rule {
    enum Kind { false_path, multicycle, max_delay } kind;
    double value;
    std::string from, to;  ///< registers; empty: any
    std::vector<std::string> through;
    [[nodiscard]] std::string text() const {
        std::string s = kind == false_path   ? "set_false_path -setup"
                        : kind == multicycle ? "set_multicycle_path -setup " + std::to_string(static_cast<int>(value))
                                             : "set_max_delay " + std::to_string(value);
        if (!from.empty()) s += " -from [get_cells " + from + "]";
        for (const auto& t : through) s += " -through " + t;
        if (!to.empty()) s += " -to [get_cells " + to + "]";
        return s + "\n";
    }
    [[nodiscard]] bool meets(const std::vector<ScenePin>& pins, const std::string& end) const {
        if (!from.empty() && pins[0].name != from + "/CK") return false;
        if (!to.empty() && end != to) return false;
        size_t at = 0;
        for (const auto& pin : pins)
            if (at < through.size() && pin.name == through[at]) ++at;
        return at == through.size();
    }
    /// docs/timing.md: from pin, then to pin, then through.
    [[nodiscard]] int weight() const {
        return (from.empty() ? 0 : 16) + (to.empty() ? 0 : 8) + (through.empty() ? 0 : 4);
    }
};

double slack_of(const std::vector<Rule>& rules, const std::vector<ScenePin>& pins, const std::string& end,
                double delay) {
    double separation = 4;
    const Rule *bound = nullptr, *cycles = nullptr;
    for (const auto& r : rules) {
        if (!r.meets(pins, end)) continue;
        if (r.kind == Rule::false_path) return std::numeric_limits<double>::infinity();
        if (r.kind == Rule::max_delay &&
            (!bound || r.weight() > bound->weight() || (r.weight() == bound->weight() && r.value < bound->value)))
            bound = &r;
        if (r.kind == Rule::multicycle && (!cycles || r.weight() >= cycles->weight())) cycles = &r;
    }
    if (bound)
        separation = bound->value;
    else if (cycles)
        separation = 4 * cycles->value;
    return separation - 0.1 - delay;
}

TEST(Exceptions, AgreeWithEveryPathWalked) {
    std::mt19937 random(101);
    for (int round = 0; round < 250; ++round) {
        const Network net(random);
        std::vector<Rule> rules;
        std::string sdc = "create_clock -name c -period 4 clk\n";
        for (auto n = 1 + random() % 4; n > 0; --n) {
            Rule r{static_cast<Rule::Kind>(random() % 3), 0, "", "", {}};
            r.value = r.kind == Rule::multicycle ? 2 + static_cast<double>(random() % 2)
                                                 : 1 + static_cast<double>(random() % 3);
            if (random() % 2) r.from = "s" + std::to_string(random() % 3);
            if (random() % 2) r.to = "e" + std::to_string(random() % 3);
            for (auto k = random() % 3; k > 0; --k) r.through.push_back("g" + std::to_string(random() % 9) + "/Y");
            if (r.from.empty() && r.to.empty() && r.through.empty()) r.to = "e0";
            sdc += r.text();
            rules.push_back(r);
        }
        const auto report = test::Circuit(net.verilog, sdc).time();
        for (const auto& [end, at] : net.ends) {
            double worst = std::numeric_limits<double>::infinity();
            for (const bool rise : {true, false})
                net.paths(at, rise, [&](const std::vector<ScenePin>& pins, double delay) {
                    worst = std::min(worst, slack_of(rules, pins, end, delay));
                });
            const double found = test::slack(report, "setup", end + "/D");
            if (std::isinf(worst))
                EXPECT_EQ(found, 1e9) << "round " << round << "\n" << sdc << net.verilog;
            else
                EXPECT_NEAR(found, worst, 1e-9) << "round " << round << " at " << end << "\n" << sdc << net.verilog;
        }
    }
}

/// Delay = 0.1 + transition + 10 x load: planes that bilinear interpolation gives back exactly.
constexpr const char* sloped = R"(library (s) { time_unit : "1ns"; capacitive_load_unit (1, pf);
 lu_table_template (t) { variable_1 : input_net_transition; variable_2 : total_output_net_capacitance;
     index_1 ("0, 1"); index_2 ("0, 0.1"); }
 cell (B) { pin (A) { direction : input; capacitance : 0.02; rise_capacitance : 0.03; } pin (Y) { direction : output;
     function : "A"; timing () { related_pin : "A";
   cell_rise (t) { values ("0.1, 1.1", "1.1, 2.1"); } cell_fall (t) { values ("0.1, 1.1", "1.1, 2.1"); }
   rise_transition (t) { values ("0.2, 0.2", "0.2, 0.2"); } fall_transition (t) { values ("0.4, 0.4", "0.4, 0.4"); } }
       } } })";

TEST(Tables, LoadAndTransitionByHand) {
    const auto library = read_liberty(sloped, "s.lib").take();
    const SourceText source{"t.v",
                            "module m(input a, output y); wire w; B u(.A(a),.Y(w)); B v(.A(w),.Y(y)); endmodule"};
    const auto netlist = read_netlist({&source, 1}, "m", library).take();
    const NetlistIndex index(netlist);
    const auto constraints =
        read_sdc({{"t", "", "set_input_transition 0.5 a\nset_load 0.05 y\nset_max_delay 10 -from a -to y"}}, netlist,
                 index, library);
    const auto r = analyse_timing({netlist, library, constraints, nullptr}, {});
    // First cell: transition 0.5. Rising, the next pin loads 0.03 pF: 0.1 + 0.5 + 0.3 = 0.9. Falling 0.02 pF: 0.8.
    // Second: transition 0.2 after a rise, 0.4 after a fall, load 0.05: 0.1 + 0.2 + 0.5 = 0.8 and 1.0. Sums 1.7
    // and 1.8.
    EXPECT_NEAR(test::slack(r, "setup", "y"), 10 - 1.8, 1e-9);
    EXPECT_NEAR(r.unconstrained.empty() ? 0 : 1, 0, 0);
}

TEST(Units, SetUnitsScalesWhatFollows) {
    const auto r = test::Circuit(
                       "module m(input clk, d, output q); wire a; R r1(.D(d),.CK(clk),.Q(a)); R "
                       "r2(.D(a),.CK(clk),.Q(q)); endmodule",
                       "set_units -time ps\ncreate_clock -name c -period 10000 clk\nset_clock_uncertainty -setup 500 c")
                       .time();
    EXPECT_NEAR(test::slack(r, "setup", "r2/D"), 10 - 0.5 - 0.1 - 0.2, 1e-9);
}

TEST(Uncertainty, BetweenClocksReplacesTheCaptureClocksOwn) {
    const auto r = test::Circuit(
                       "module m(input k1, k2, d, output q); wire a; R r1(.D(d),.CK(k1),.Q(a)); R "
                       "r2(.D(a),.CK(k2),.Q(q)); endmodule",
                       "create_clock -name a -period 8 k1\ncreate_clock -name b -period 8 k2\nset_clock_uncertainty 1 "
                       "b\nset_clock_uncertainty 0.25 -from a -to b")
                       .time();
    EXPECT_NEAR(test::slack(r, "setup", "r2/D"), 8 - 0.25 - 0.1 - 0.2, 1e-9);
    EXPECT_NEAR(test::slack(r, "hold", "r2/D"), 0.2 - 0.05 - 0.25, 1e-9);
}

TEST(FallingInput, IsLaunchedByTheFallingEdge) {
    const auto r = test::Circuit("module m(input clk, d, output q); R r1(.D(d),.CK(clk),.Q(q)); endmodule",
                                 "create_clock -name c -period 10 clk\nset_input_delay -clock c -clock_fall 1 d")
                       .time();
    EXPECT_NEAR(test::slack(r, "setup", "r1/D"), 5 - 1 - 0.1, 1e-9);
}

TEST(ClockAsData, IsTimedAsData) {
    const auto r = test::Circuit("module m(input clk, output q); R r1(.D(clk),.CK(clk),.Q(q)); endmodule",
                                 "create_clock -name c -period 10 clk")
                       .time();
    // The falling edge at 5 is captured at 10; the rising one at 0 too. Tightest: 10 - 5 - 0.1.
    EXPECT_NEAR(test::slack(r, "setup", "r1/D"), 4.9, 1e-9);
}

TEST(VirtualClock, RelatesAPort) {
    const auto r =
        test::Circuit(
            "module m(input clk, d, output q); R r1(.D(d),.CK(clk),.Q(q)); endmodule",
            "create_clock -name c -period 10 clk\ncreate_clock -name v -period 5\nset_input_delay -clock v 1 d")
            .time();
    EXPECT_NEAR(test::slack(r, "setup", "r1/D"), 5 - 1 - 0.1, 1e-9);
}

TEST(Cancelling, StopsTheRun) {
    const test::Circuit c("module m(input clk, d, output q); R r1(.D(d),.CK(clk),.Q(q)); endmodule",
                          "create_clock -name c -period 10 clk");
    std::stop_source stop;
    stop.request_stop();
    const auto r = analyse_timing({c.netlist, c.library, c.constraints, nullptr}, {}, stop.get_token());
    EXPECT_TRUE(r.paths.empty());
}

}  // namespace
}  // namespace kp
