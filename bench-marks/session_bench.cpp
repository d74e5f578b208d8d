// SPDX-License-Identifier: GPL-3.0-or-later
// What an edit costs on the demo: rules, journal, constraint run, timing; and the simulation per clock cycle.
#include "core/base/memory_disk.hpp"
#include "core/board_sim/board_bench.hpp"
#include "core/planning/place.hpp"
#include "core/session/session.hpp"

#include <benchmark/benchmark.h>
#include <filesystem>
#include <map>

namespace {

std::unique_ptr<kp::Session> open_copy() {
    namespace fs = std::filesystem;
    const auto folder = fs::temp_directory_path() / "kite-peg-bench";
    fs::remove_all(folder);
    fs::copy(KP_SOURCE "/demo/vane", folder);
    return kp::Session::open(kp::real_disk(), (folder / "vane.kpeg").string(), KP_SOURCE "/data").take();
}

void open_project(benchmark::State& state) {
    for (auto _ : state)
        benchmark::DoNotOptimize(
            kp::Session::open(kp::real_disk(), KP_SOURCE "/demo/vane/vane.kpeg", KP_SOURCE "/data"));
}
BENCHMARK(open_project)->Unit(benchmark::kMillisecond);

/// Applied, written to the journal and synced, rules run: all that happens before the window shows it.
void peg_edit(benchmark::State& state) {
    auto s = open_copy();
    s->analyse_now();
    int n = 0;
    for (auto _ : state)
        benchmark::DoNotOptimize(
            s->apply(kp::peg_edit(s->project(), s->world().board, "tone", n++ % 2 ? "112" : "113", "by hand")));
}
BENCHMARK(peg_edit)->Unit(benchmark::kMillisecond);

/// The constraint text in its child process and the whole timing analysis: what follows an edit of the text.
void analysis(benchmark::State& state) {
    auto s = open_copy();
    for (auto _ : state)
        benchmark::DoNotOptimize(
            kp::analyse(s->world(), s->project(), s->document().folder(), s->deriver().grounds()->options));
}
BENCHMARK(analysis)->Unit(benchmark::kMillisecond);

void rules(benchmark::State& state) {
    auto s = open_copy();
    s->analyse_now();
    for (auto _ : state) benchmark::DoNotOptimize(kp::find(s->world(), s->project(), s->analysis()));
}
BENCHMARK(rules)->Unit(benchmark::kMillisecond);

/// So many runs of a plan of 1,500 ports, each an edit away from the one before, on a disk in memory.
kp::MemoryDisk& disk_with_log(int runs) {
    static std::map<int, kp::MemoryDisk> disks;
    auto [at, fresh] = disks.try_emplace(runs);
    if (!fresh) return at->second;
    kp::RunLog log(at->second, "log");
    kp::RunPlan plan;
    for (int i = 0; i < 1500; ++i) {
        const auto port = "port[" + std::to_string(i) + "]";
        plan.pegs[port] = {std::to_string(i), kp::PegState::pegged, "by hand"};
        plan.attributes[port].standard = "LVCMOS 3.3 V";
    }
    for (int n = 0; n < runs; ++n) {
        plan.pegs["port[7]"].pin = std::to_string(n);
        (void)log.add({}, plan);
    }
    return at->second;
}

/// The list of runs as the Log station shows it, from a file that nobody has read yet.
void log_list(benchmark::State& state) {
    auto& disk = disk_with_log(static_cast<int>(state.range(0)));
    for (auto _ : state) benchmark::DoNotOptimize(kp::RunLog(disk, "log").runs().size());
    state.counters["bytes"] = static_cast<double>(disk.files["log"].size());
}
BENCHMARK(log_list)->Arg(1000)->Arg(10000)->Unit(benchmark::kMillisecond);

/// One run with its plan.
void log_plan(benchmark::State& state) {
    auto& disk = disk_with_log(10000);
    kp::RunLog log(disk, "log");
    (void)log.runs();
    int n = 0;
    for (auto _ : state) benchmark::DoNotOptimize(log.entry(1 + n++ * 37 % 10000));
}
BENCHMARK(log_plan)->Unit(benchmark::kMillisecond);

void simulated_cycles(benchmark::State& state) {
    auto s = open_copy();
    auto bench =
        kp::BoardBench::make(s->world().netlist, s->world().library, s->world().board, s->project().pegs).take();
    for (auto _ : state) bench.run(10000);
    state.SetItemsProcessed(static_cast<int64_t>(state.iterations()) * 10000);
}
BENCHMARK(simulated_cycles);

}  // namespace
