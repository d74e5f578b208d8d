// SPDX-License-Identifier: GPL-3.0-or-later
// A source, run as it is written, beside the netlist that the mapper makes of it.
#pragma once

#include "core/simulation/event_simulator.hpp"
#include "core/simulation/vectors.hpp"
#include "core/synthesis/map.hpp"
#include "core/hdl/verilog/write_netlist.hpp"
#include "core/hdl/source/interpreter.hpp"
#include "core/hdl/source/parser.hpp"
#include "core/format/liberty/read.hpp"
#include "core/hdl/verilog/read_netlist.hpp"

#include <fstream>
#include <functional>
#include <gtest/gtest.h>
#include <random>
#include <sstream>

namespace kp::synthesis {

inline std::string file_text(const std::string& path) {
    std::ifstream in(path);
    std::stringstream out;
    out << in.rdbuf();
    return out.str();
}

inline const Library& shipped_library() {
    static const Library library = [] {
        static const std::string text = file_text(KP_SOURCE "/data/cells/skerry.lib");
        auto read = read_liberty(text, "skerry.lib");
        EXPECT_TRUE(read.ok()) << (read.ok() ? "" : read.first().sentence());
        return read.take();
    }();
    return library;
}

inline Result<MapAnswer> map_text(const std::string& source, const std::string& top = "top") {
    const SourceText text{"design.sv", source};
    MapRequest request;
    request.top = top;
    return map_design({&text, 1}, shipped_library(), request);
}

/// Both at once. Everything that is set goes to both; what they show is compared.
class SideBySide {
public:
    /// `change`: what is done to the netlist before it runs; it is written and read again then.
    explicit SideBySide(const std::string& source, const std::string& top = "top",
                        const std::function<void(Netlist&)>& change = {})
        : source_(source) {
        auto mapped = map_text(source_, top);
        if (!mapped) {
            ADD_FAILURE() << mapped.first().sentence();
            return;
        }
        answer = mapped.take();
        for (const auto& m : answer.messages)
            if (m.severity == Severity::stop) ADD_FAILURE() << m.sentence();
        const SourceText text{"netlist.v", answer.netlist};
        auto read = read_netlist({&text, 1}, top, shipped_library());
        if (!read) {
            ADD_FAILURE() << read.first().sentence() << answer.netlist;
            return;
        }
        netlist = read.take();
        if (change) {
            change(netlist);
            const auto changed = verilog::write_netlist(netlist, shipped_library());
            const SourceText again{"changed.v", changed};
            auto twice = read_netlist({&again, 1}, top, shipped_library());
            if (!twice) {
                ADD_FAILURE() << twice.first().sentence() << changed;
                return;
            }
            netlist = twice.take();
        }
        auto made = simulation::Circuit::of(netlist, shipped_library());
        if (!made) {
            ADD_FAILURE() << made.first().sentence();
            return;
        }
        circuit = made.take();
        simulator.emplace(circuit);
        groups = simulation::groups_of(netlist);
        const SourceText own{"design.sv", source_};
        auto parsed = source::read_code({&own, 1}, {});
        code = parsed.take();
        auto run = source::Interpreter::of(code, top);
        if (!run) {
            ADD_FAILURE() << run.first().sentence();
            return;
        }
        interpreter.emplace(run.take());
        for (const auto& g : groups)
            if (g.direction == Direction::in) set(g.name, std::string(g.ports.size(), '0'));
        good = settle();
        // A reset works by its level in the netlist and by its edge in the source: it comes once.
        for (const char* level : {"1", "0", "1"})
            for (const auto& g : groups)
                if (g.name.starts_with("rst")) {
                    set(g.name, level);
                    good = good && settle();
                }
    }

    void set(const std::string& port, const std::string& bits) {
        interpreter->set(port, bits);
        for (const auto& g : groups)
            if (g.name == port)
                for (size_t i = 0; i < g.ports.size(); ++i)
                    simulator->set(g.ports[i], simulation::bit_of(bits[i] == '1'));
    }

    bool settle() {
        const auto slow = interpreter->settle();
        const auto fast = simulator->run_until(simulator->now() + 1000);
        if (slow) ADD_FAILURE() << slow->sentence();
        if (fast) ADD_FAILURE() << fast->sentence();
        return !slow && !fast;
    }

    [[nodiscard]] std::string seen(const std::string& port) const {
        for (const auto& g : groups) {
            if (g.name != port) continue;
            std::string out;
            for (const auto p : g.ports) out += simulation::letter(simulator->port(p));
            return out;
        }
        return {};
    }

    /// What differs between the two; empty: nothing.
    [[nodiscard]] std::string difference() const {
        for (const auto& g : groups)
            if (g.direction == Direction::out && seen(g.name) != interpreter->get(g.name))
                return g.name + ": netlist " + seen(g.name) + ", source " + interpreter->get(g.name);
        return {};
    }

    /// A cycle; what was set before it is there when it begins.
    void clock(const std::string& port = "clk") {
        good = good && settle();
        for (const char* level : {"1", "0"}) {
            set(port, level);
            good = good && settle();
        }
    }

    /// Random values at all inputs but `clk`, `cycles` times, compared after each step.
    void compare(unsigned seed, int cycles) {
        if (!good) return;
        std::mt19937 random(seed);
        const bool clocked = std::any_of(groups.begin(), groups.end(), [](const auto& g) { return g.name == "clk"; });
        for (int k = 0; k < cycles && good; ++k) {
            for (const auto& g : groups) {
                if (g.direction != Direction::in || g.name == "clk") continue;
                std::string bits;
                for (size_t i = 0; i < g.ports.size(); ++i) bits += random() % 2 ? '1' : '0';
                // A reset that comes half of the time would hide everything else.
                if (g.name.starts_with("rst")) bits = random() % 16 == 0 ? "0" : "1";
                set(g.name, bits);
            }
            good = settle();
            ASSERT_EQ(difference(), "") << "cycle " << k << "\n" << source_;
            if (!clocked) continue;
            clock();
            ASSERT_EQ(difference(), "") << "after the clock, cycle " << k << "\n" << source_;
        }
    }

    MapAnswer answer;
    Netlist netlist;
    simulation::Circuit circuit;
    std::optional<simulation::EventSimulator> simulator;
    std::vector<simulation::PortGroup> groups;
    source::DesignText code;
    std::optional<source::Interpreter> interpreter;
    bool good = false;

private:
    std::string source_;
};

}  // namespace kp::synthesis
