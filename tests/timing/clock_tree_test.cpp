// SPDX-License-Identifier: GPL-3.0-or-later
// Propagated clocks through random trees of buffers and inverters, against a program that walks every pair of clock
// ways and every data path by itself: no arrivals are merged, and the shared stretch is found by comparing the two ways
// step by step.
#include "tests/timing/circuit.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <iomanip>
#include <random>
#include <sstream>

namespace kp {
namespace {

struct Tree {
    struct Buffer {
        int parent = -1;  ///< -1: the clock port
        bool inverts = false;
        double delay[2][2];  ///< [early, late][output rise, fall]
    };
    struct Register {
        int buffer = -1;
        std::string data;  ///< net at D
    };
    struct Gate {
        std::string kind;
        std::vector<std::string> inputs;
    };
    std::vector<Buffer> buffers;
    std::vector<Register> registers;
    std::vector<Gate> gates;
    double period = 6, high = 2.5, source[2] = {0, 0};

    Tree(std::mt19937& random, bool with_source) {
        const auto pick = [&](size_t n) { return static_cast<int>(random() % n); };
        for (int i = 0; i < 7; ++i) {
            Buffer b;
            b.parent = pick(buffers.size() + 1) - 1;
            b.inverts = random() % 3 == 0;
            for (const int edge : {0, 1}) {
                b.delay[0][edge] = 0.2 + 0.01 * pick(40);
                b.delay[1][edge] = b.delay[0][edge] + 0.01 * pick(30);
            }
            buffers.push_back(b);
        }
        std::vector<std::string> nets;
        for (int i = 0; i < 3; ++i) {
            registers.push_back({pick(buffers.size() + 1) - 1, "d"});
            nets.push_back("q" + std::to_string(i));
        }
        for (int i = 0; i < 7; ++i) {
            Gate g{random() % 3 == 0 ? "INV" : random() % 3 == 0 ? "XOR" : "AND", {}};
            for (int k = 0; k < (g.kind == "INV" ? 1 : 2); ++k)
                g.inputs.push_back(nets[static_cast<size_t>(pick(nets.size()))]);
            gates.push_back(g);
            nets.push_back("g" + std::to_string(i));
        }
        for (int i = 0; i < 3; ++i)
            registers.push_back({pick(buffers.size() + 1) - 1, nets[nets.size() - 1 - static_cast<size_t>(pick(6))]});
        if (with_source) {
            source[0] = 0.1;
            source[1] = 0.35;
        }
    }

    static std::string wire(int buffer) { return buffer < 0 ? "clk" : "k" + std::to_string(buffer); }
    [[nodiscard]] std::string verilog() const {
        std::string v = "module m(input clk, input d);\n";
        for (size_t i = 0; i < buffers.size(); ++i)
            v += (buffers[i].inverts ? "INV b" : "BUF b") + std::to_string(i) + "(.A(" + wire(buffers[i].parent) +
                 "),.Y(k" + std::to_string(i) + "));\n";
        for (size_t i = 0; i < registers.size(); ++i)
            v += "R r" + std::to_string(i) + "(.D(" + registers[i].data + "),.CK(" + wire(registers[i].buffer) +
                 "),.Q(q" + std::to_string(i) + "));\n";
        for (size_t i = 0; i < gates.size(); ++i)
            v += gates[i].kind + " u" + std::to_string(i) + "(.A(" + gates[i].inputs[0] + ")" +
                 (gates[i].inputs.size() > 1 ? ",.B(" + gates[i].inputs[1] + ")" : "") + ",.Y(g" + std::to_string(i) +
                 "));\n";
        return v + "endmodule\n";
    }
    [[nodiscard]] std::string sdf() const {
        std::ostringstream s;
        s << std::setprecision(10) << "(DELAYFILE (SDFVERSION \"3.0\") (DIVIDER /) (TIMESCALE 1ns)\n";
        for (size_t i = 0; i < buffers.size(); ++i) {
            const auto& d = buffers[i].delay;
            s << "(CELL (CELLTYPE \"" << (buffers[i].inverts ? "INV" : "BUF") << "\") (INSTANCE b" << i
              << ") (DELAY (ABSOLUTE (IOPATH A Y (" << d[0][0] << "::" << d[1][0] << ") (" << d[0][1] << "::" << d[1][1]
              << ")))))\n";
        }
        return s.str() + ")\n";
    }
    [[nodiscard]] std::string sdc() const {
        std::ostringstream s;
        s << "create_clock -name c -period " << period << " -waveform {0 " << high << "} clk\nset_propagated_clock c\n";
        if (source[1] > 0)
            s << "set_clock_latency -source -early " << source[0] << " c\nset_clock_latency -source -late " << source[1]
              << " c\n";
        return s.str();
    }

    // ---- the other opinion
    // ----------------------------------------------------------------------------------------------

    struct Step {
        int buffer, edge;
        double time[2];
    };
    /// From the port to the buffer, for an edge there.
    [[nodiscard]] std::vector<Step> way(int buffer, int edge) const {
        if (buffer < 0) return {{-1, edge, {source[0], source[1]}}};
        const auto& b = buffers[static_cast<size_t>(buffer)];
        auto steps = way(b.parent, b.inverts ? 1 - edge : edge);
        const auto last = steps.back();
        steps.push_back({buffer, edge, {last.time[0] + b.delay[0][edge], last.time[1] + b.delay[1][edge]}});
        return steps;
    }
    struct Path {
        size_t start;
        double delay;
    };
    /// Every path to an edge of a net, from the clock pins on. Delays as in plain_cells.
    [[nodiscard]] std::vector<Path> paths(const std::string& net, int edge) const {
        if (net[0] == 'q') return {{static_cast<size_t>(std::stoi(net.substr(1))), 0.2}};
        if (net[0] != 'g') return {};
        const auto& g = gates[static_cast<size_t>(std::stoi(net.substr(1)))];
        std::vector<Path> out;
        for (size_t k = 0; k < g.inputs.size(); ++k) {
            const double delay = g.kind == "INV" ? (edge == 0 ? 0.5 : 0.7) : g.kind == "XOR" ? 0.6 : k == 0 ? 0.3 : 0.4;
            for (const int in : {0, 1}) {
                if ((g.kind == "INV" && in == edge) || (g.kind == "AND" && in != edge)) continue;
                for (const auto& p : paths(g.inputs[k], in)) out.push_back({p.start, p.delay + delay});
            }
        }
        return out;
    }
    [[nodiscard]] double worst(const Register& capture, bool setup, bool credit_on) const {
        double worst = 1e9;
        const auto to = way(capture.buffer, 0);
        const double capture_edge = to[0].edge == 0 ? 0 : high;
        for (const int edge : {0, 1})
            for (const auto& p : paths(capture.data, edge)) {
                const auto from = way(registers[p.start].buffer, 0);
                const double launch_edge = from[0].edge == 0 ? 0 : high;
                double gap = std::fmod(capture_edge - launch_edge + 2 * period, period);
                if (gap < 1e-9) gap += period;
                double credit = 0;
                for (size_t i = 0; i < std::min(from.size(), to.size()) && from[i].buffer == to[i].buffer; ++i) {
                    const double a = from[i].time[1] - from[i].time[0], b = to[i].time[1] - to[i].time[0];
                    credit = std::min(a, b);
                }
                if (!credit_on) credit = 0;
                const double slack =
                    setup ? gap + to.back().time[0] - 0.1 + credit - (from.back().time[1] + p.delay)
                          : from.back().time[0] + p.delay - (gap - period + to.back().time[1] + 0.05) + credit;
                worst = std::min(worst, slack);
            }
        return worst;
    }
};

void compare(bool with_source, bool credit) {
    std::mt19937 random(with_source ? 31 : 29);
    for (int round = 0; round < 200; ++round) {
        const Tree t(random, with_source);
        TimingOptions options;
        options.common_path_credit = credit;
        const test::Circuit circuit(t.verilog(), t.sdc(), t.sdf());
        const auto r = circuit.time(options);
        for (size_t i = 3; i < t.registers.size(); ++i) {
            const auto name = "r" + std::to_string(i) + "/D";
            EXPECT_NEAR(test::slack(r, "setup", name), t.worst(t.registers[i], true, credit), 1e-6)
                << "round " << round << "\n"
                << t.verilog() << t.sdf();
            EXPECT_NEAR(test::slack(r, "hold", name), t.worst(t.registers[i], false, credit), 1e-6)
                << "round " << round;
        }
        for (const auto& p : r.paths)
            EXPECT_NEAR(p.slack, p.check == "setup" ? p.required - p.arrival : p.arrival - p.required, 1e-9);
    }
}

TEST(ClockTree, SlacksWithCreditEqualEveryPairOfWaysWalked) {
    compare(false, true);
}
TEST(ClockTree, SourceLatencyIsShared) {
    compare(true, true);
}
TEST(ClockTree, WithoutCreditNothingIsGivenBack) {
    compare(true, false);
}

}  // namespace
}  // namespace kp
