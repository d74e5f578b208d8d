// SPDX-License-Identifier: GPL-3.0-or-later
// What the mapper makes, in the fast simulator of the bench: clears, presets, latches, memories, carries.
#include "core/simulation/simulator.hpp"
#include "tests/synthesis/same.hpp"

#include <filesystem>

namespace kp::simulation {
namespace {

TEST(BenchSimulator, RunsEveryDesignOfTheCollectionAsTheEventSimulatorDoes) {
    for (const auto& entry : std::filesystem::directory_iterator(KP_SOURCE "/tests/synthesis/designs")) {
        const auto path = entry.path().string();
        SCOPED_TRACE(path);
        const auto mapped = synthesis::map_text(synthesis::file_text(path));
        ASSERT_TRUE(mapped.ok());
        const SourceText text{"n.v", mapped.value().netlist};
        const auto netlist = read_netlist({&text, 1}, "top", synthesis::shipped_library());
        ASSERT_TRUE(netlist.ok());
        const auto& n = netlist.value();
        auto fast = Simulator::make(n, synthesis::shipped_library());
        ASSERT_TRUE(fast.ok()) << fast.first().sentence();
        const auto circuit = simulation::Circuit::of(n, synthesis::shipped_library());
        simulation::EventSimulator slow(circuit.value());
        std::mt19937 random(3);
        const auto set = [&](std::uint32_t p, bool v) {
            fast.value().set_port(p, v);
            slow.set(p, simulation::bit_of(v));
            ASSERT_FALSE(slow.run_until(slow.now() + 1000));
        };
        for (std::uint32_t p = 0; p < n.ports.size(); ++p)
            if (n.ports[p].direction == Direction::in) set(p, false);
        for (int step = 0; step < 300; ++step) {
            const auto p = static_cast<std::uint32_t>(random() % n.ports.size());
            if (n.ports[p].direction != Direction::in) continue;
            set(p, n.ports[p].name.starts_with("rst") ? random() % 8 != 0 : random() % 2);
            for (std::uint32_t q = 0; q < n.ports.size(); ++q) {
                const auto bit = slow.port(q);
                if (n.ports[q].direction == Direction::out && simulation::known(bit))
                    ASSERT_EQ(fast.value().port(q), bit == simulation::Bit::one) << n.ports[q].name << " step " << step;
            }
        }
    }
}

}  // namespace
}  // namespace kp::simulation
