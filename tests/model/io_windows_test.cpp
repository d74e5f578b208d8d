// SPDX-License-Identifier: GPL-3.0-or-later
// Windows against sums by hand; what -max and -min mean is SDC 2.x, set_input_delay and set_output_delay.
#include "core/model/io_windows.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

struct Delays {
    Constraints constraints;
    std::vector<Port> ports;
    Delays() {
        for (const char* name : {"d[0]", "d[1]", "q"}) {
            Port port;
            port.name = name;
            port.bus = std::string(name).substr(0, 1);
            ports.push_back(port);
        }
        ClockDefinition clock;
        clock.name = "c";
        clock.period = 10;
        clock.waveform = {0, 4};
        constraints.clocks.push_back(clock);
    }
    IoDelay& add(std::uint32_t port, bool input, double value, bool late, bool early) {
        IoDelay d;
        d.port = port;
        d.input = input;
        d.value = value;
        d.late = late;
        d.early = early;
        d.clock = 0;
        constraints.io_delays.push_back(d);
        return constraints.io_delays.back();
    }
    [[nodiscard]] IoWindow only() const {
        const auto list = io_windows(constraints, ports);
        EXPECT_EQ(list.size(), 1u);
        return list.at(0);
    }
};

TEST(IoWindows, AnInputChangesBetweenItsEarliestAndItsLatestBit) {
    Delays d;
    d.add(0, true, 6, true, false);
    d.add(0, true, 2, false, true);
    d.add(1, true, 7, true, false);
    d.add(1, true, 3, false, true);
    EXPECT_EQ(d.only().bus, "d");
    EXPECT_DOUBLE_EQ(d.only().from, 2);
    EXPECT_DOUBLE_EQ(d.only().to, 7);
}

TEST(IoWindows, AnOutputHoldsStillFromSetupBeforeToHoldBehindTheEdge) {
    Delays d;
    d.add(2, false, 3, true, false);
    d.add(2, false, -1, false, true);  // the receiver wants 1 ns of hold
    EXPECT_FALSE(d.only().input);
    EXPECT_DOUBLE_EQ(d.only().from, 7);
    EXPECT_DOUBLE_EQ(d.only().to, 11);
}

TEST(IoWindows, OneSideAloneMakesAPointOrEndsAtTheEdge) {
    Delays d;
    d.add(0, true, 5, true, false);
    EXPECT_DOUBLE_EQ(d.only().from, 5);
    EXPECT_DOUBLE_EQ(d.only().to, 5);
    Delays out;
    out.add(2, false, 3, true, false);
    EXPECT_DOUBLE_EQ(out.only().to, 10);
}

TEST(IoWindows, TheFallingEdgeShiftsAndADelayWithoutClockHasNone) {
    Delays d;
    d.add(0, true, 1, true, true).clock_fall = true;
    EXPECT_DOUBLE_EQ(d.only().from, 5);
    d.add(2, false, 1, true, true).clock = no_id;
    EXPECT_EQ(io_windows(d.constraints, d.ports).size(), 1u);
}

}  // namespace
}  // namespace kp
