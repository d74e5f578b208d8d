// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/format/vcd/read.hpp"

#include <gtest/gtest.h>

namespace kp::vcd {
namespace {

/// The sample of IEEE 1364-2005, 18.2.4 (from memory), with its odd identifiers and short vectors.
const char* const sample = R"($date June 26, 1989 10:05:41
$end
$version VERILOG-SIMULATOR 1.0a
$end
$timescale 1 ns
$end
$scope module top $end
$scope module m1 $end
$var trireg 1 *@ net1 $end
$var trireg 1 *# net2 $end
$var trireg 1 *$ net3 $end
$upscope $end
$scope task t1 $end
$var reg 32 (k accumulator[31:0] $end
$var integer 32 {2 index $end
$upscope $end
$upscope $end
$enddefinitions $end
$comment
Note: $dumpvars was executed at time '#500'.
All initial values are dumped at this time.
$end
#500
$dumpvars
x*@
x*#
x*$
bx (k
bx {2
$end
#505
0*@
1*#
1*$
b10zx1110x11100 (k
b1111000101z01x {2
#510
0*$
#520
1*$
#530
0*$
bz (k
#535
$dumpall
0*@ 1*# 0*$
bz (k
b1111000101z01x {2
$end
#540
1*$
#1000
$dumpoff
x*@
x*#
x*$
bx (k
bx {2
$end
)";

TEST(Vcd, TheSampleOfTheStandard) {
    const auto read = read_vcd(sample, "s.vcd");
    ASSERT_TRUE(read.ok()) << read.first().sentence();
    const auto& d = read.value();
    ASSERT_EQ(d.variables.size(), 5u);
    EXPECT_EQ(d.variables[1].name, "net2");
    EXPECT_EQ(d.variables[1].in, (std::vector<std::string>{"top", "m1"}));
    EXPECT_EQ(d.variables[3].name, "accumulator");
    EXPECT_TRUE(d.variables[3].has_range);
    EXPECT_EQ(d.variables[3].left, 31);
    EXPECT_EQ(d.variables[4].name, "index");
    EXPECT_EQ(d.end, 1000LL * 1'000'000);
    EXPECT_EQ(d.changes.size(), 5u + 5 + 1 + 1 + 2 + 5 + 1 + 5);
    EXPECT_EQ(d.changes[0].fs, 500LL * 1'000'000);
    EXPECT_EQ(d.changes[3].value, std::string(32, 'x'));  // x is filled with x (table 18-1)
    EXPECT_EQ(d.changes[8].value, std::string(18, '0') + "10zx1110x11100");
    EXPECT_EQ(d.changes[13].value, std::string(32, 'z'));
}

TEST(Vcd, WhatIsWrongIsSaidWithItsLine) {
    const std::string head = "$timescale 1ps $end\n$var wire 2 ! a [1:0] $end\n$enddefinitions $end\n";
    const std::pair<std::string, std::string> all[] = {{"", "before $enddefinitions"},
                                                       {"$var wire 2 ! a $end\n", "before $enddefinitions"},
                                                       {"$var wire 0 ! a $end\n$enddefinitions $end\n", "width"},
                                                       {"$var wire 99999 ! a $end\n$enddefinitions $end\n", "width"},
                                                       {"$timescale 3ns $end\n", "timescale"},
                                                       {"$upscope $end\n", "$upscope"},
                                                       {"$scope module a", "no $end"},
                                                       {"hello\n", "keyword"},
                                                       {head + "#5\nb111 !\n", "3 bits"},
                                                       {head + "#5\nb12 !\n", "other digits"},
                                                       {head + "#5\n1?\n", "not declared"},
                                                       {head + "#9\n#5\n", "backwards"},
                                                       {head + "#99999999999999999999\n", "cannot be read"},
                                                       {head + "#x\n", "cannot be read"},
                                                       {head + "q!\n", "value change"},
                                                       {head + "b1", "ends inside"}};
    for (const auto& [text, what] : all) {
        const auto read = read_vcd(text, "v.vcd");
        ASSERT_FALSE(read.ok()) << text;
        EXPECT_NE(read.first().text.find(what), std::string::npos) << read.first().text;
        EXPECT_GT(read.first().line, 0) << text;
        EXPECT_EQ(read.first().file, "v.vcd");
    }
    EXPECT_EQ(read_vcd(head + "#5\nb1 !\nr1.5 !\n", "v").value().changes.size(), 1u);
    EXPECT_EQ(read_vcd(head + "#5\nb1 !\n", "v").value().changes[0].value, "01");
}

}  // namespace
}  // namespace kp::vcd
