// SPDX-License-Identifier: GPL-3.0-or-later
// The stand-in builder and the simulators.
//
//     build/bench/bench-marks/builder_bench
//
// Mapping: multipliers of growing width, in cells a second. Placing: `profiler`. Simulating: clock cycles of `profiler`
// in the simulator of the bench and in the one with four values.
#include "core/board_sim/board_bench.hpp"
#include "core/simulation/event_simulator.hpp"
#include "core/simulation/simulator.hpp"
#include "core/synthesis/map.hpp"
#include "core/fabric/placement.hpp"
#include "core/format/liberty/read.hpp"
#include "core/inputs/data_folder.hpp"
#include "core/session/session.hpp"

#include <benchmark/benchmark.h>

namespace {

using namespace kp;

const Session& profiler() {
    static const auto session =
        Session::open(real_disk(), KP_SOURCE "/demo/profiler/profiler-closed.kpeg", data_folder()).take();
    return *session;
}

std::uint32_t port(const char* name) {
    const auto& ports = profiler().world().netlist.ports;
    for (std::uint32_t p = 0; p < ports.size(); ++p)
        if (ports[p].name == name) return p;
    return 0;
}

void map_multiplier(benchmark::State& state) {
    const auto n = std::to_string(state.range(0) - 1);
    const auto text = "module top(input clk, input [" + n + ":0] a, b, output reg [" +
                      std::to_string(2 * state.range(0) - 1) +
                      ":0] y);\nalways @(posedge clk) y <= a * b;\nendmodule\n";
    const SourceText source{"m.v", text};
    long long cells = 0;
    for (auto _ : state) {
        const auto mapped = synthesis::map_design({&source, 1}, profiler().world().library, {});
        for (const auto& [type, count] : mapped.value().cells) cells += count;
    }
    state.counters["cells/s"] = benchmark::Counter(static_cast<double>(cells), benchmark::Counter::kIsRate);
}
BENCHMARK(map_multiplier)->Arg(16)->Arg(32)->Arg(64)->Unit(benchmark::kMillisecond);

void place_profiler(benchmark::State& state) {
    const auto& w = profiler().world();
    std::map<std::string, std::string> pins;
    for (const auto& [port, peg] : profiler().project().pegs) pins[port] = peg.pin;
    fabric::PlaceSettings settings;
    settings.effort = static_cast<double>(state.range(0)) / 10;
    for (auto _ : state)
        state.counters["wirelength"] =
            static_cast<double>(fabric::place_cells(w.netlist, w.library, w.part, pins, settings).value().wirelength);
}
BENCHMARK(place_profiler)->Arg(1)->Arg(10)->Iterations(1)->Unit(benchmark::kSecond);

void cycles(benchmark::State& state) {
    auto s = Simulator::make(profiler().world().netlist, profiler().world().library).take();
    s.set_port(port("rst_n"), true);
    s.clock(port("osc_25"), 1000);
    const auto before = s.evaluations();
    for (auto _ : state) s.clock(port("osc_25"), 1000);
    state.counters["evaluations/s"] =
        benchmark::Counter(static_cast<double>(s.evaluations() - before), benchmark::Counter::kIsRate);
    state.counters["cycles/s"] =
        benchmark::Counter(1000.0 * static_cast<double>(state.iterations()), benchmark::Counter::kIsRate);
}
BENCHMARK(cycles)->Unit(benchmark::kMillisecond);

/// The whole board with all its parts acting, PLLs at their rates: how much board time a second of life gives.
void board_time(benchmark::State& state) {
    const auto& w = profiler().world();
    auto board = BoardBench::make(w.netlist, w.library, w.board, profiler().project().pegs).take();
    const auto before = board.model().simulator().evaluations();
    for (auto _ : state) board.run_for(10 * board_sim::microsecond);
    state.counters["evaluations/s"] = benchmark::Counter(
        static_cast<double>(board.model().simulator().evaluations() - before), benchmark::Counter::kIsRate);
    state.counters["board us/s"] =
        benchmark::Counter(10.0 * static_cast<double>(state.iterations()), benchmark::Counter::kIsRate);
}
BENCHMARK(board_time)->Unit(benchmark::kMillisecond);

void four_values(benchmark::State& state) {
    const auto circuit = simulation::Circuit::of(profiler().world().netlist, profiler().world().library).take();
    simulation::EventSimulator s(circuit);
    s.set(port("rst_n"), simulation::Bit::one);
    s.clock(port("osc_25"), simulation::time_of(40));
    for (auto _ : state) static_cast<void>(s.run_until(s.now() + simulation::time_of(40.0 * 100)));
    state.counters["events/s"] = benchmark::Counter(static_cast<double>(s.events()), benchmark::Counter::kIsRate);
    state.counters["cycles/s"] =
        benchmark::Counter(100.0 * static_cast<double>(state.iterations()), benchmark::Counter::kIsRate);
}
BENCHMARK(four_values)->Unit(benchmark::kMillisecond);

}  // namespace
