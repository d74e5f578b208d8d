// SPDX-License-Identifier: GPL-3.0-or-later
// A station on MDC and MDIO, as IEEE 802.3, clause 22.2.4.5 describes its frames (from memory), asks the transceiver of
// the table. The station only knows the standard: 2.5 MHz, data set up before the rise, answers taken at the rise.
#include "tests/board_sim/rig.hpp"

#include <gtest/gtest.h>

namespace kp::board_sim {
namespace {

const char* const phy_terminals_of_management =
    "rxc> rx_ctl> rxd0> rxd1> rxd2> rxd3> txc< tx_ctl< txd0< txd1< txd2< txd3< rst_n< mdc< mdio=^";

struct Station {
    Rig& rig;
    bool bit(bool drive, bool level) {
        if (drive)
            rig.set("mdio", level);
        else
            rig.off("mdio");
        rig.run(200 * nanosecond);
        const bool seen = rig.high("mdio");
        rig.set("mdc", true);
        rig.run(200 * nanosecond);
        rig.set("mdc", false);
        return seen;
    }
    void bits(unsigned value, int count) {
        for (int k = count; k-- > 0;) bit(true, (value >> k) & 1);
    }
    void preamble(int ones = 32) {
        for (int k = 0; k < ones; ++k) bit(true, true);
    }
    /// None when nobody turned the line to zero.
    std::optional<unsigned> read(unsigned phy, unsigned number) {
        preamble();
        bits(0b0110, 4), bits(phy, 5), bits(number, 5);
        bit(false, false);
        const bool turned = !bit(false, false);
        unsigned value = 0;
        for (int k = 0; k < 16; ++k) value = value << 1 | bit(false, false);
        return turned ? std::optional(value) : std::nullopt;
    }
    void write(unsigned phy, unsigned number, unsigned value) {
        preamble();
        bits(0b0101, 4), bits(phy, 5), bits(number, 5), bits(0b10, 2), bits(value, 16);
    }
};

TEST(Management, RegistersAreReadAndWrittenBitByBit) {
    Rig rig("ethernet", phy_terminals_of_management);
    rig.set("rst_n", true);
    rig.set("mdc", false);
    Station station{rig};
    ASSERT_EQ(station.read(1, 2), 0x4B50U);
    const auto status = station.read(1, 1);
    ASSERT_TRUE(status);
    EXPECT_EQ(*status & 0x0004, 0x0004U) << "link status is bit 1.2";
    EXPECT_EQ(*status & 0x0020, 0x0020U) << "auto-negotiation complete is bit 1.5";
    EXPECT_EQ(*status & 0x0100, 0x0100U) << "extended status in register 15 is bit 1.8";
    EXPECT_EQ(station.read(1, 15).value_or(0) & 0x2000, 0x2000U) << "1000BASE-T full duplex is bit 15.13";
    EXPECT_TRUE(rig.high("mdio")) << "the transceiver lets go after its answer";
    EXPECT_EQ(station.read(7, 2), std::nullopt) << "another address";
    EXPECT_EQ(rig.word("asked for others"), "1");
    station.write(1, 0, 0x4140);
    EXPECT_EQ(station.read(1, 0), 0x4140U);
    station.write(7, 0, 0x1140);  // for another one
    EXPECT_EQ(station.read(1, 0), 0x4140U);
    station.write(1, 0, 0x8000);  // reset clears itself
    EXPECT_EQ(station.read(1, 0), 0x1140U);
    EXPECT_EQ(rig.word("registers"), "read 6, written 2 at address 1");
}

TEST(Management, ALinkThatWasLostIsToldOnceMore) {
    Rig rig("ethernet", phy_terminals_of_management);
    rig.set("rst_n", true);
    rig.set("mdc", false);
    Station station{rig};
    rig.control("link", "0");
    rig.control("link", "1");
    EXPECT_EQ(station.read(1, 1).value_or(0) & 4, 0U);
    EXPECT_EQ(station.read(1, 1).value_or(0) & 4, 4U);
}

TEST(Management, WithoutItsPreambleOrInResetNothingAnswers) {
    Rig rig("ethernet", phy_terminals_of_management);
    rig.set("rst_n", true);
    rig.set("mdc", false);
    Station station{rig};
    station.bit(true, false);  // no ones before
    station.preamble(31);
    station.bits(0b0110, 4), station.bits(1, 5), station.bits(2, 5);
    station.bit(false, false);
    EXPECT_TRUE(station.bit(false, false)) << "31 ones are too few";
    for (int k = 0; k < 16; ++k) station.bit(false, false);
    EXPECT_EQ(rig.word("asked without 32 ones before"), "1");
    EXPECT_EQ(station.read(1, 2), 0x4B50U);
    rig.set("rst_n", false);
    EXPECT_EQ(station.read(1, 2), std::nullopt);
    rig.set("rst_n", true);
    EXPECT_EQ(station.read(1, 2), 0x4B50U);
    // A reset in the middle of an answer lets the line go.
    station.preamble();
    station.bits(0b0110, 4), station.bits(1, 5), station.bits(9, 5);
    station.bit(false, false), station.bit(false, false), station.bit(false, false);
    EXPECT_FALSE(rig.high("mdio"));
    rig.set("rst_n", false);
    rig.run(microsecond);
    EXPECT_TRUE(rig.high("mdio"));
    rig.set("rst_n", true);
    // A frame that starts as those of clause 45 do is not ours; the next one is.
    station.preamble();
    station.bits(0b0010, 4), station.bits(1, 5), station.bits(2, 5), station.bits(0b10, 2), station.bits(0, 16);
    EXPECT_EQ(station.read(1, 3), 1U);
}

TEST(Management, LoopBackIsSwitchedByItsRegister) {
    Rig rig("ethernet", phy_terminals_of_management);
    rig.set("rst_n", true);
    rig.set("mdc", false);
    Station station{rig};
    // A frame of four bits an edge, sent by hand: what matters is that it comes back once the register says so.
    const auto send = [&] {
        const auto nibble = [&](unsigned half, bool valid, bool up) {
            for (int k = 0; k < 4; ++k) rig.set("txd" + std::to_string(k), (half >> k) & 1);
            rig.set("tx_ctl", valid);
            rig.run(2 * nanosecond);
            rig.set("txc", up);
            rig.run(2 * nanosecond);
        };
        for (int byte = 0; byte < 70; ++byte) nibble(5, true, true), nibble(byte == 7 ? 0xD : 5, true, false);
        for (int k = 0; k < 4; ++k) nibble(0, false, true), nibble(0, false, false);
        rig.run(10 * microsecond);
    };
    send();
    EXPECT_EQ(rig.word("looped back"), "");
    station.write(1, 0, 0x5140);  // bit 0.14
    send();
    EXPECT_EQ(rig.word("looped back"), "1");
}

}  // namespace
}  // namespace kp::board_sim
