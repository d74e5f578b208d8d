// SPDX-License-Identifier: GPL-3.0-or-later
// The netlist of the demo `profiler` in simulation: what enters by RGMII comes out of its CRC-32 as the world knows it.
#include "core/simulation/simulator.hpp"
#include "core/inputs/world.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

class BenchProfiler : public testing::Test {
protected:
    BenchProfiler() {
        library = load_libraries(real_disk(), {KP_SOURCE "/data/cells/skerry.lib"}).take();
        netlist = load_netlists(real_disk(), {KP_SOURCE "/demo/profiler/profiler.v"}, "profiler", library).take();
        index = std::make_unique<NetlistIndex>(netlist);
        simulator = std::make_unique<Simulator>(Simulator::make(netlist, library).take());
    }
    void set(const std::string& port, bool value) { simulator->set_port(index->port(port), value); }
    /// One byte: the low half at the rising edge of the receive clock, the high half at the falling one (RGMII 2.0,
    /// table 1).
    void send(unsigned byte, bool valid) {
        set("rgmii_rx_ctl", valid);
        for (int i = 0; i < 4; ++i) set("rgmii_rxd[" + std::to_string(i) + "]", (byte >> i) & 1);
        set("rgmii_rxc", true);
        for (int i = 0; i < 4; ++i) set("rgmii_rxd[" + std::to_string(i) + "]", (byte >> (4 + i)) & 1);
        set("rgmii_rxc", false);
    }
    [[nodiscard]] unsigned long word(const std::string& stem, int bits) const {
        unsigned long v = 0;
        for (int i = 0; i < bits; ++i)
            v |= static_cast<unsigned long>(simulator->net(index->net(stem + "_" + std::to_string(i)))) << i;
        return v;
    }

    Library library;
    Netlist netlist;
    std::unique_ptr<NetlistIndex> index;
    std::unique_ptr<Simulator> simulator;
};

TEST_F(BenchProfiler, HasTheSizeItIsMadeFor) {
    EXPECT_EQ(netlist.ports.size(), 149u);
    EXPECT_GE(netlist.cells.size(), 3000u);
    EXPECT_LE(netlist.cells.size(), 6000u);
}

// The check value of CRC-32 is that of the nine characters "123456789": 0xCBF43926 (R. N. Williams, "A painless guide
// to CRC error detection algorithms", 1993; also in the catalogue of parametrised CRC algorithms, CRC-32/ISO-HDLC).
TEST_F(BenchProfiler, ItsCrcGivesThePublishedCheckValue) {
    for (int i = 0; i < 4; ++i) send(0, false);
    for (const char c : std::string("123456789")) send(static_cast<unsigned>(c), true);
    // Two registers lie between the pads and the last byte in the sum.
    unsigned long seen = 0;
    for (int i = 0; i < 4; ++i) {
        send(0, false);
        if (const auto v = word("rx_crc", 32); v != 0) seen = v;
    }
    EXPECT_EQ(seen, 0xCBF43926ul);
    EXPECT_EQ(word("rx_crc", 32), 0ul) << "between frames it starts again";
}

TEST_F(BenchProfiler, AFrameWithItsCrcLeavesTheKnownRest) {
    // Message and its CRC-32, low byte first (IEEE 802.3, 3.2.9): the sum then holds 0x2144DF1C.
    for (const unsigned byte :
         {0x31u, 0x32u, 0x33u, 0x34u, 0x35u, 0x36u, 0x37u, 0x38u, 0x39u, 0x26u, 0x39u, 0xF4u, 0xCBu})
        send(byte, true);
    bool good = false;
    for (int i = 0; i < 4; ++i) {
        send(0, false);
        good |= simulator->net(index->net("rx_ok"));
    }
    EXPECT_TRUE(good);
}

TEST_F(BenchProfiler, TheEncoderCountsTurns) {
    const auto ticks = [&](int n) { simulator->clock(index->port("osc_25"), static_cast<std::uint64_t>(n)); };
    set("rst_n", true);
    ticks(10);
    const auto before = word("turns", 20);
    for (int turn = 0; turn < 5; ++turn)
        for (const auto& [a, b] : {std::pair{true, false}, {true, true}, {false, true}, {false, false}}) {
            set("enc_a", a);
            set("enc_b", b);
            ticks(6);
        }
    EXPECT_EQ(word("turns", 20) - before, 20u);  // four edges a turn
}

}  // namespace
}  // namespace kp
