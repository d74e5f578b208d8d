// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board_sim/board_bench.hpp"
#include "core/format/image/image.hpp"
#include "core/jtag/chip.hpp"
#include "core/jtag/loading.hpp"
#include "core/jtag/svf.hpp"
#include "core/planning/place.hpp"
#include "core/session/session.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

/// The demo with its names matched: every port where its name belongs.
struct Demo {
    std::unique_ptr<Session> session;
    PegMap pegs;
    Demo() {
        auto opened = Session::open(real_disk(), KP_SOURCE "/demo/vane/vane.kpeg", KP_SOURCE "/data");
        EXPECT_TRUE(opened.ok()) << (opened.ok() ? "" : opened.first().sentence());
        session = opened.take();
        for (const auto& m : match_names(session->world().netlist.ports, session->world().board, {}))
            pegs[m.port] = {m.pin, PegState::pegged, "by name"};
    }
    [[nodiscard]] BoardBench bench(const PegMap& p) const {
        return BoardBench::make(session->world().netlist, session->world().library, session->world().board, p).take();
    }
};

int lit(const BoardBench& b) {
    int found = -1;
    for (int i = 0; i < 8; ++i)
        if (b.active("D1.rose" + std::to_string(i))) found = found < 0 ? i : 100;
    return found;
}

void set_vane(BoardBench& b, unsigned position) {
    for (int k = 0; k < 5; ++k) b.drive("J3.gray" + std::to_string(k), (to_gray(position) >> k) & 1);
}

TEST(Gray, NeighboursDifferInOneBitAndTheCodeIsTurnedBack) {
    // F. Gray, US patent 2632058 (1953): neighbours differ in one bit. Back by b[i] = xor of g[i] and all above it.
    for (unsigned n = 0; n < 32; ++n) {
        EXPECT_EQ(__builtin_popcount(to_gray(n) ^ to_gray((n + 1) % 32)), 1);
        unsigned back = 0;
        for (unsigned g = to_gray(n); g; g >>= 1) back ^= g;
        EXPECT_EQ(back, n);
    }
}

TEST(Bench, TheNetlistTurnsGrayIntoTheRightLamp) {
    Demo demo;
    auto b = demo.bench(demo.pegs);
    b.run(40000);  // the keys are looked at once per 32768 cycles
    for (unsigned n = 0; n < 32; ++n) {
        set_vane(b, n);
        b.run(8);
        EXPECT_EQ(lit(b), static_cast<int>(n / 4)) << "position " << n;
    }
}

TEST(Bench, KeysHoldAndZero) {
    Demo demo;
    auto b = demo.bench(demo.pegs);
    b.run(40000);
    set_vane(b, 9);
    b.run(40000);
    EXPECT_EQ(lit(b), 2);
    b.drive("S1.hold", false);  // active low: pressed
    b.run(40000);
    set_vane(b, 20);
    b.run(40000);
    EXPECT_EQ(lit(b), 2);  // held
    b.drive("S1.hold", true);
    b.run(40000);
    EXPECT_EQ(lit(b), 5);
    b.drive("S2.zero", false);
    b.run(40000);
    EXPECT_EQ(lit(b), 0);  // measured from here
}

TEST(Bench, TheToneIsTheOscillatorDivided) {
    Demo demo;
    auto b = demo.bench(demo.pegs);
    b.mark();
    b.run(400000);
    EXPECT_NEAR(b.frequency_hz("LS1.tone"), 20e6 / 32768, 1e-6);
}

TEST(Bench, ALampOnAKeysPinIsAConflict) {
    Demo demo;
    auto pegs = demo.pegs;
    pegs["rose_n[5]"] = pegs["zero_n"];
    auto b = demo.bench(pegs);
    ASSERT_EQ(b.conflicts().size(), 1u);
    EXPECT_EQ(b.conflicts()[0], "rose_n[5] against S2.zero");
}

TEST(Tap, StatesFollowTheStandard) {
    // IEEE 1149.1, 6.1.1: five clocks with TMS high reach reset from any state.
    for (int s = 0; s < 16; ++s) {
        auto state = static_cast<TapState>(s);
        for (int i = 0; i < 5; ++i) state = next_state(state, true);
        EXPECT_EQ(state, TapState::test_logic_reset) << s;
    }
    EXPECT_EQ(next_state(TapState::run_test_idle, true), TapState::select_dr);
    EXPECT_EQ(next_state(TapState::pause_dr, false), TapState::pause_dr);
    EXPECT_EQ(next_state(TapState::exit2_ir, false), TapState::shift_ir);
}

TEST(Chip, GivesItsIdcodeAndLoadsOnlyItself) {
    SimulatedChip chip(0x1A2460FF);
    const auto image = write_image({0x1A2460FF, "", "", "", "", {}});
    ScanChain chain(chip, {});
    EXPECT_EQ(scan_idcodes(chain), std::vector<std::uint32_t>{0x1A2460FF});
    EXPECT_TRUE(load_through(chain, 0x1A2460FF, image).running);
    SimulatedChip other(0x1A2480FF);
    ScanChain to_other(other, {});
    const auto report = load_through(to_other, 0x1A2460FF, image);
    EXPECT_FALSE(report.running);
    EXPECT_FALSE(other.loaded());
    EXPECT_EQ(report.steps.back().text, "the project's part answers 0x1A2460FF");
}

}  // namespace
}  // namespace kp
