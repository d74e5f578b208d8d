// SPDX-License-Identifier: GPL-3.0-or-later
// The event-driven simulator against the plainest one there is: every cell computed again until nothing changes.
#include "core/simulation/simulator.hpp"
#include "core/hdl/verilog/read_netlist.hpp"
#include "tests/timing/circuit.hpp"

#include <map>
#include <random>

namespace kp {
namespace {

constexpr const char* cells = R"lib(library (l) { define (truth_table_parameter, cell, string);
 cell (T3) { truth_table_parameter : "T"; pin (A) { direction : input; } pin (B) { direction : input; } pin (C) {
     direction : input; } pin (Y) { direction : output; } }
 cell (R) { ff (S, SN) { clocked_on : "CK"; next_state : "D"; } pin (D) { direction : input; } pin (CK) {
     direction : input; } pin (Q) { direction : output; function : "S"; } }
 cell (RE) { ff (S, SN) { clocked_on : "CK"; next_state : "(E D) + (!E S)"; } pin (D) { direction : input; } pin (E) {
     direction : input; } pin (CK) { direction : input; } pin (Q) { direction : output; function : "S"; } }
 cell (LOOP) { pin (A) { direction : input; } pin (Y) { direction : output; function : "!A"; } }
 cell (BLACK) { pin (A) { direction : input; } pin (Y) { direction : output; } } })lib";

Netlist read(const Library& library, const std::string& text) {
    const SourceText source{"t.v", text};
    auto n = read_netlist({&source, 1}, "m", library);
    EXPECT_TRUE(n.ok()) << (n.ok() ? "" : n.first().sentence());
    return n.take();
}

TEST(Simulator, AgreesWithThePlainestOne) {
    const auto library = read_liberty(cells, "l").take();
    std::mt19937 random(55);
    for (int round = 0; round < 40; ++round) {
        struct Node {
            bool is_register;
            unsigned table;
            int in[3];
        };
        // Nets: 0..3 inputs, then one per node. Look-up cells read lower nets; registers any.
        std::vector<Node> nodes;
        std::string text = "module m(input clk, input [3:0] d, output q);\n";
        const int count = 30;
        const auto net = [](int i) { return i < 4 ? "d[" + std::to_string(i) + "]" : "n" + std::to_string(i - 4); };
        for (int i = 0; i < count; ++i) {
            Node node{random() % 3 == 0, static_cast<unsigned>(random() % 256), {}};
            for (int& in : node.in)
                in = static_cast<int>(random() % static_cast<unsigned>(node.is_register ? 4 + count : 4 + i));
            const auto n = std::to_string(i);
            if (node.is_register)
                text +=
                    "RE u" + n + "(.D(" + net(node.in[0]) + "),.E(" + net(node.in[1]) + "),.CK(clk),.Q(n" + n + "));\n";
            else
                text += "T3 #(.T(8'd" + std::to_string(node.table) + ")) u" + n + "(.A(" + net(node.in[0]) + "),.B(" +
                        net(node.in[1]) + "),.C(" + net(node.in[2]) + "),.Y(n" + n + "));\n";
            nodes.push_back(node);
        }
        text += "R last(.D(n" + std::to_string(count - 1) + "),.CK(clk),.Q(q));\nendmodule\n";
        const auto netlist = read(library, text);
        auto made = Simulator::make(netlist, library);
        ASSERT_TRUE(made.ok()) << made.first().text;
        auto simulator = made.take();
        std::map<std::string, std::uint32_t> port;
        for (std::uint32_t i = 0; i < netlist.ports.size(); ++i) port[netlist.ports[i].name] = i;

        std::vector<bool> value(4 + count, false);
        bool last = false;
        const auto settle = [&] {
            for (int pass = 0; pass < count; ++pass)
                for (int i = 0; i < count; ++i)
                    if (!nodes[static_cast<size_t>(i)].is_register) {
                        const auto& n = nodes[static_cast<size_t>(i)];
                        const unsigned at = (value[static_cast<size_t>(n.in[0])] ? 1u : 0u) +
                                            (value[static_cast<size_t>(n.in[1])] ? 2u : 0u) +
                                            (value[static_cast<size_t>(n.in[2])] ? 4u : 0u);
                        value[static_cast<size_t>(4 + i)] = (n.table >> at) & 1;
                    }
        };
        settle();
        for (int cycle = 0; cycle < 60; ++cycle) {
            for (int k = 0; k < 4; ++k)
                if (random() % 2) {
                    value[static_cast<size_t>(k)] = !value[static_cast<size_t>(k)];
                    simulator.set_port(port["d[" + std::to_string(k) + "]"], value[static_cast<size_t>(k)]);
                }
            settle();
            auto next = value;
            for (int i = 0; i < count; ++i) {
                const auto& n = nodes[static_cast<size_t>(i)];
                if (n.is_register && value[static_cast<size_t>(n.in[1])])
                    next[static_cast<size_t>(4 + i)] = value[static_cast<size_t>(n.in[0])];
            }
            last = value[4 + count - 1];
            value = next;
            settle();
            simulator.clock(port["clk"], 1);
            ASSERT_EQ(simulator.port(port["q"]), last) << "round " << round << " cycle " << cycle << "\n" << text;
        }
    }
}

TEST(Simulator, SaysWhatItCannotSimulate) {
    const auto library = read_liberty(cells, "l").take();
    const auto why = [&](const std::string& text) {
        return Simulator::make(read(library, text), library).first().text;
    };
    EXPECT_EQ(why("module m(input a, output y); LOOP u(.A(y),.Y(y)); endmodule"),
              "Instance u (LOOP) cannot be simulated: it is part of a combinational loop.");
    EXPECT_EQ(why("module m(input a, output y); BLACK u(.A(a),.Y(y)); endmodule"),
              "Instance u (BLACK) cannot be simulated: pin Y has no function.");
    EXPECT_EQ(why("module m(input a, output y); T3 u(.A(a),.B(a),.C(a),.Y(y)); endmodule"),
              "Instance u (T3) cannot be simulated: the parameter T with its table is missing.");
    EXPECT_EQ(why("module m(input a, output y); T3 #(.T(8'hxx)) u(.A(a),.B(a),.C(a),.Y(y)); endmodule"),
              "Instance u (T3) cannot be simulated: the table '8'hxx' cannot be read.");
}

TEST(Simulator, ARippleOfClocksFollowsItself) {
    const auto library = read_liberty(cells, "l").take();
    // Each register halves the clock of the one before: a chain of derived clocks.
    const auto netlist = read(library,
                              "module m(input clk, output [2:0] q); LOOP a(.A(q[0]),.Y(x)); R "
                              "r(.D(x),.CK(clk),.Q(q[0])); LOOP b(.A(q[1]),.Y(y)); R s(.D(y),.CK(q[0]),.Q(q[1])); LOOP "
                              "c(.A(q[2]),.Y(z)); R t(.D(z),.CK(q[1]),.Q(q[2])); endmodule");
    auto simulator = Simulator::make(netlist, library).take();
    std::map<std::string, std::uint32_t> port;
    for (std::uint32_t i = 0; i < netlist.ports.size(); ++i) port[netlist.ports[i].name] = i;
    simulator.restart_counters();
    simulator.clock(port["clk"], 64);
    EXPECT_EQ(simulator.activity(port["q[0]"]).changes, 64u);
    EXPECT_EQ(simulator.activity(port["q[1]"]).changes, 32u);
    EXPECT_EQ(simulator.activity(port["q[2]"]).changes, 16u);
}

}  // namespace
}  // namespace kp
