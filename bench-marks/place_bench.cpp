// SPDX-License-Identifier: GPL-3.0-or-later
// Placing all ports of made-up plans of growing size, and explaining why a crowded one has no way.
//
//     build/bench/bench-marks/place_bench
//
// The argument is the number of ports; there are four pins for three of them, in banks of 100, a fifth of the ports in
// pairs.
#include "core/base/disk.hpp"
#include "core/format/json/world_json.hpp"
#include "core/pin_placement/place_rest.hpp"

#include <benchmark/benchmark.h>
#include <random>

namespace {

using namespace kp;

struct Plan {
    Part part;
    Board board;
    StandardTable standards;
    std::vector<Port> ports;
    Project project;
    Constraints constraints;
    TimingReport timing;
    DesignFacts design;

    explicit Plan(long count) {
        const std::string file = KP_SOURCE "/data/standards/io.standards.json";
        standards = read_standards(real_disk().read(file).value(), file).take();
        board.index();
        std::mt19937 r(1);
        const long pins = count * 4 / 3;
        for (long i = 0; i < pins; ++i) {
            const auto bank = std::to_string(i / 100);
            if (i % 100 == 0) {
                Bank b;
                b.name = bank;
                b.volts = {1.8, 2.5, 3.3};
                part.banks.push_back(b);
            }
            Pin p;
            p.name = "P" + std::to_string(i);
            p.bank = bank;
            p.slot = static_cast<int>(i);
            p.pair = "P" + std::to_string(i ^ 1);
            p.pair_true = i % 2 == 0;
            p.reference = i % 100 == 99;
            if (i % 25 == 0) p.kind = PinKind::clock;
            part.by_name[p.name] = part.pins.size();
            part.pins.push_back(p);
        }
        part.package.per_side = 10'000;
        const char* kinds[] = {"LVCMOS 3.3 V", "LVCMOS 1.8 V", "SSTL 1.8 V class I", "LVCMOS 2.5 V"};
        for (long i = 0; i < count; ++i) {
            const bool pair = i % 10 < 2;
            const auto name = pair ? "d" + std::to_string(i / 10) + (i % 10 ? "_n" : "_p") : "s" + std::to_string(i);
            ports.push_back({name, name, -1, r() % 2 ? Direction::in : Direction::out, no_id});
            if (pair) ports.back().direction = Direction::out;
            project.attributes[name].standard = pair ? "LVDS 2.5 V" : kinds[r() % 4];
            project.attributes[name].standard_origin = "chosen";
        }
    }
    [[nodiscard]] RuleInput input() const {
        return {part, board, standards, ports, project, constraints, timing, design};
    }
};

void place_all(benchmark::State& state) {
    const Plan plan(state.range(0));
    const auto in = plan.input();
    PlaceAnswer answer;
    for (auto _ : state) answer = place_rest(in, {}).take();
    state.counters["placed"] = static_cast<double>(answer.placed.size());
    state.counters["over_bound"] =
        static_cast<double>(answer.cost) / static_cast<double>(std::max<long long>(1, answer.bound));
}
BENCHMARK(place_all)->Arg(100)->Arg(400)->Arg(1500)->Unit(benchmark::kMillisecond);

/// One supply for all banks: every port of another one is in the way.
void explain_crowd(benchmark::State& state) {
    Plan plan(state.range(0));
    for (const auto& bank : plan.part.banks) plan.board.rails.push_back({bank.name, 3.3});
    const auto in = plan.input();
    PlaceAnswer answer;
    for (auto _ : state) answer = place_rest(in, {}).take();
    state.counters["facts"] = static_cast<double>(answer.conflict.size());
}
BENCHMARK(explain_crowd)->Arg(100)->Arg(400)->Arg(1500)->Unit(benchmark::kMillisecond);

}  // namespace
