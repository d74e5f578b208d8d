// SPDX-License-Identifier: GPL-3.0-or-later
// Two other opinions: every path enumerated by a program of its own, and Boost.Graph's longest path.
#include "tests/timing/circuit.hpp"

#include <boost/graph/adjacency_list.hpp>
#include <boost/graph/dag_shortest_paths.hpp>
#include <cmath>
#include <functional>
#include <map>
#include <random>
#include <set>

namespace kp {
namespace {

/// Layers of AND and INV between registers, as text, with the connections kept for the other opinions.
struct RandomCircuit {
    struct Gate {
        std::string name, kind;
        std::vector<std::string> inputs;
    };
    std::vector<Gate> gates;
    std::vector<std::pair<std::string, std::string>> captures;  ///< register, net at its D
    std::string verilog;

    RandomCircuit(std::mt19937& random, int sources, int count) {
        std::vector<std::string> nets;
        verilog = "module m(input clk, input [" + std::to_string(sources - 1) + ":0] d, output q);\n";
        for (int i = 0; i < sources; ++i) {
            verilog += "R s" + std::to_string(i) + "(.D(d[" + std::to_string(i) + "]),.CK(clk),.Q(s" +
                       std::to_string(i) + "q));\n";
            nets.push_back("s" + std::to_string(i) + "q");
        }
        for (int i = 0; i < count; ++i) {
            Gate g{"g" + std::to_string(i), random() % 3 == 0 ? "INV" : random() % 4 == 0 ? "XOR" : "AND", {}};
            for (int k = 0; k < (g.kind == "INV" ? 1 : 2); ++k) g.inputs.push_back(nets[random() % nets.size()]);
            verilog += g.kind + " " + g.name + "(.A(" + g.inputs[0] + ")" +
                       (g.inputs.size() > 1 ? ",.B(" + g.inputs[1] + ")" : "") + ",.Y(" + g.name + "y));\n";
            nets.push_back(g.name + "y");
            gates.push_back(g);
        }
        for (int i = 0; i < 4; ++i) {
            const auto net = nets[nets.size() - 1 - random() % static_cast<size_t>(count)];
            captures.emplace_back("e" + std::to_string(i), net);
            verilog += "R e" + std::to_string(i) + "(.D(" + net + "),.CK(clk),.Q(" +
                       (i == 0 ? "q" : "e" + std::to_string(i) + "q") + "));\n";
        }
        verilog += "endmodule\n";
    }

    [[nodiscard]] const Gate* driver(const std::string& net) const {
        for (const auto& g : gates)
            if (g.name + "y" == net) return &g;
        return nullptr;
    }

    /// Longest and shortest arrival of an edge at a net, by walking every path. Delays as in plain_cells.
    [[nodiscard]] std::pair<double, double> walk(const std::string& net, bool rise) const {
        const auto* g = driver(net);
        if (!g) return {0.2, 0.2};
        std::pair<double, double> out{-1e9, 1e9};
        for (size_t k = 0; k < g->inputs.size(); ++k) {
            const double delay = g->kind == "INV" ? (rise ? 0.5 : 0.7) : g->kind == "XOR" ? 0.6 : k == 0 ? 0.3 : 0.4;
            for (const bool in : {true, false}) {
                if (g->kind == "INV" && in == rise) continue;
                if (g->kind == "AND" && in != rise) continue;
                const auto from = walk(g->inputs[k], in);
                out.first = std::max(out.first, from.first + delay);
                out.second = std::min(out.second, from.second + delay);
            }
        }
        return out;
    }
};

TEST(Random, SlacksEqualThoseOfEveryPathWalked) {
    std::mt19937 random(7);
    for (int round = 0; round < 150; ++round) {
        const RandomCircuit c(random, 3, 4 + static_cast<int>(random() % 14));
        const auto r = test::Circuit(c.verilog, "create_clock -name c -period 3 clk").time();
        for (const auto& [name, net] : c.captures) {
            const auto up = c.walk(net, true), down = c.walk(net, false);
            EXPECT_NEAR(test::slack(r, "setup", name + "/D"), 3 - 0.1 - std::max(up.first, down.first), 1e-9)
                << "round " << round << "\n"
                << c.verilog;
            EXPECT_NEAR(test::slack(r, "hold", name + "/D"), std::min(up.second, down.second) - 0.05, 1e-9)
                << "round " << round;
        }
    }
}

/// Number of different paths (pins and edges) to an endpoint and their delays, worst first.
std::vector<double> all_paths(const RandomCircuit& c, const std::string& net, bool rise) {
    const auto* g = c.driver(net);
    if (!g) return {0.2};
    std::vector<double> out;
    for (size_t k = 0; k < g->inputs.size(); ++k) {
        const double delay = g->kind == "INV" ? (rise ? 0.5 : 0.7) : g->kind == "XOR" ? 0.6 : k == 0 ? 0.3 : 0.4;
        for (const bool in : {true, false}) {
            if ((g->kind == "INV" && in == rise) || (g->kind == "AND" && in != rise)) continue;
            for (const double d : all_paths(c, g->inputs[k], in)) out.push_back(d + delay);
        }
    }
    return out;
}

TEST(Random, TheKWorstPathsAreTheKWorstWithoutDuplicates) {
    std::mt19937 random(11);
    for (int round = 0; round < 60; ++round) {
        const RandomCircuit c(random, 2, 8);
        const test::Circuit circuit(c.verilog, "create_clock -name c -period 3 clk");
        TimingOptions options;
        options.paths = 100000;
        options.per_endpoint = 100000;
        const auto r = circuit.time(options);
        std::set<std::string> captured;
        for (const auto& [name, net] : c.captures) {
            auto wanted = all_paths(c, net, true);
            const auto down = all_paths(c, net, false);
            wanted.insert(wanted.end(), down.begin(), down.end());
            std::sort(wanted.rbegin(), wanted.rend());
            std::vector<double> found;
            std::set<std::string> spelt;
            for (const auto& p : r.paths) {
                if (p.check != "setup" || p.endpoint != name + "/D") continue;
                found.push_back(3 - 0.1 - p.slack);
                std::string text;
                for (const auto& q : p.points) text += q.pin + (q.rise ? "r" : "f");
                EXPECT_TRUE(spelt.insert(text).second) << "twice: " << text;
            }
            ASSERT_EQ(found.size(), wanted.size()) << "round " << round << "\n" << c.verilog;
            for (size_t i = 0; i < found.size(); ++i) EXPECT_NEAR(found[i], wanted[i], 1e-9);
        }
    }
}

TEST(Random, LongestDelayEqualsBoostGraph) {
    // Reference: Boost.Graph, dag_shortest_paths on negated weights; one vertex per net and edge.
    using G = boost::adjacency_list<boost::vecS, boost::vecS, boost::directedS, boost::no_property,
                                    boost::property<boost::edge_weight_t, double>>;
    std::mt19937 random(13);
    for (int round = 0; round < 40; ++round) {
        const RandomCircuit c(random, 3, 60);
        const auto r = test::Circuit(c.verilog, "create_clock -name c -period 40 clk").time();
        std::map<std::string, size_t> id;
        G graph(1);  // vertex 0: all launches
        const auto vertex = [&](const std::string& net, bool rise) {
            const auto [at, fresh] = id.try_emplace(net + (rise ? "+" : "-"), 0);
            if (fresh) {
                at->second = boost::add_vertex(graph);
                if (!c.driver(net)) boost::add_edge(0, at->second, -0.2, graph);
            }
            return at->second;
        };
        for (const auto& g : c.gates)
            for (size_t k = 0; k < g.inputs.size(); ++k)
                for (const bool out : {true, false})
                    for (const bool in : {true, false}) {
                        if ((g.kind == "INV" && in == out) || (g.kind == "AND" && in != out)) continue;
                        const double delay = g.kind == "INV"   ? (out ? 0.5 : 0.7)
                                             : g.kind == "XOR" ? 0.6
                                             : k == 0          ? 0.3
                                                               : 0.4;
                        const auto from = vertex(g.inputs[k], in);
                        boost::add_edge(from, vertex(g.name + "y", out), -delay, graph);
                    }
        for (const auto& [name, net] : c.captures) {
            vertex(net, true);
            vertex(net, false);
        }
        std::vector<double> distance(boost::num_vertices(graph));
        boost::dag_shortest_paths(graph, 0,
                                  boost::distance_map(boost::make_iterator_property_map(
                                      distance.begin(), boost::get(boost::vertex_index, graph))));
        for (const auto& [name, net] : c.captures) {
            const double longest = -std::min(distance[vertex(net, true)], distance[vertex(net, false)]);
            EXPECT_NEAR(test::slack(r, "setup", name + "/D"), 40 - 0.1 - longest, 1e-9) << "round " << round;
        }
    }
}

}  // namespace
}  // namespace kp
