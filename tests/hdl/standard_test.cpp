// SPDX-License-Identifier: GPL-3.0-or-later
// Worked examples of IEEE 1364-2005, in the interpreter of the source and in the netlist that is mapped from it.
#include "tests/synthesis/same.hpp"

namespace kp::source {
namespace {

/// The value of a port of a module without inputs worth mentioning, as both see it.
long long value_of(const std::string& body, int width = 32, bool is_signed = true) {
    synthesis::SideBySide both("module top(input unused, output " + std::string(is_signed ? "signed " : "") + "[" +
                               std::to_string(width - 1) + ":0] y);\n" + body + "\nendmodule\n");
    EXPECT_TRUE(both.good) << body;
    if (!both.good) return -999999;
    EXPECT_EQ(both.difference(), "") << body;
    unsigned long long v = 0;
    for (const char c : both.seen("y")) v = v * 2 + (c == '1');
    if (is_signed && both.seen("y")[0] == '1' && width < 64) v |= ~0ULL << width;
    return static_cast<long long>(v);
}

TEST(Standard, DivisionAndSignAsInTheExampleOfIntegers) {
    // 5.1.3 (table of integer division and the example behind it): intA = -12 / 3 is -4; -'d 12 / 3 is 1431655761;
    // -'sd12 / 3 is -4; -4'sd12 / 3 is 1, as -4'sd12 is the negative of the negative number -4.
    EXPECT_EQ(value_of("assign y = -12 / 3;"), -4);
    EXPECT_EQ(value_of("assign y = -'d12 / 3;"), 1431655761);
    EXPECT_EQ(value_of("assign y = -'sd12 / 3;"), -4);
    EXPECT_EQ(value_of("assign y = -4'sd12 / 3;"), 1);
}

TEST(Standard, RemainderTakesTheSignOfTheFirstOperand) {
    // Table 5-6: 10 % 3 = 1, 11 % 3 = 2, 12 % 3 = 0, -10 % 3 = -1, 11 % -3 = 2; -4'd12 % 3 = 1 (as a large number).
    EXPECT_EQ(value_of("assign y = 10 % 3;"), 1);
    EXPECT_EQ(value_of("assign y = 11 % 3;"), 2);
    EXPECT_EQ(value_of("assign y = 12 % 3;"), 0);
    EXPECT_EQ(value_of("assign y = -10 % 3;"), -1);
    EXPECT_EQ(value_of("assign y = 11 % -3;"), 2);
    EXPECT_EQ(value_of("assign y = -4'd12 % 3;"), 1);
}

TEST(Standard, ACarryIsLostUnlessTheWidthKeepsIt) {
    // 5.4.2: with 16-bit a and b, answer = (a + b) >> 1 loses the carry, (a + b + 0) >> 1 keeps it.
    const std::string start = "wire [15:0] a = 16'hffff, b = 16'h0001;\n";
    EXPECT_EQ(value_of(start + "wire [15:0] answer = (a + b) >> 1; assign y = answer;"), 0);
    EXPECT_EQ(value_of(start + "wire [15:0] answer = (a + b + 0) >> 1; assign y = answer;"), 0x8000);
}

TEST(Standard, WidthsOfSelfDeterminedExpressions) {
    // 5.4.3: a = 4'hF, b = 6'hA: a * b is shown as 16 (6 bits wide), {a ** b} as 1 (4 bits), c = a ** b as ac61
    // (16 bits).
    const std::string start = "wire [3:0] a = 4'hF; wire [5:0] b = 6'hA;\n";
    EXPECT_EQ(value_of(start + "assign y = {a * b};"), 0x16);
    EXPECT_EQ(value_of(start + "assign y = {a ** 10};"), 0x1);
    EXPECT_EQ(value_of(start + "wire [15:0] c = a ** 10; assign y = {16'd0, c};"), 0xac61);
}

TEST(Standard, SignIsAskedOfAllOperandsAndGivenBackToThem) {
    // 5.5.2: a signed operand beside an unsigned one is taken as unsigned; 5.5.1 $signed and $unsigned;
    // 5.5.4's shifts: the right operand does not matter.
    EXPECT_EQ(value_of("wire signed [3:0] s = -1; wire [3:0] u = 1; wire [7:0] r = s + u; assign y = r;"), 16);
    EXPECT_EQ(value_of("wire signed [3:0] s = -1; wire signed [3:0] t = 1; wire [7:0] r = s + t; assign y = r;"), 0);
    EXPECT_EQ(value_of("wire [7:0] regA = $unsigned(-4); assign y = regA;"), 252);           // 8'b11111100
    EXPECT_EQ(value_of("wire signed [7:0] regS = $signed(4'b1100); assign y = regS;"), -4);  // the standard's example
    EXPECT_EQ(value_of("wire signed [7:0] a = -16; wire [2:0] n = 2; wire signed [7:0] r = a >>> n; assign y = r;"),
              -4);
    EXPECT_EQ(value_of("wire signed [7:0] a = -16; wire [7:0] r = a >> 2; assign y = r;"), 60);
}

TEST(Standard, ArithmeticShiftExample) {
    // 5.1.12: start = 4'b1000, result = (start >>> 2) is 4'b0010 unsigned and 4'b1110 when both are signed.
    EXPECT_EQ(value_of("wire [3:0] start = 4'b1000; wire [3:0] result = (start >>> 2); assign y = result;"), 2);
    EXPECT_EQ(
        value_of(
            "wire signed [3:0] start = 4'b1000; wire signed [3:0] result = (start >>> 2); assign y = {28'd0, result};"),
        14);
}

TEST(Standard, JoinedAndRepeatedBits) {
    // 5.1.14: {4{w}} is {w, w, w, w}; {b, {3{a, b}}} is {b, a, b, a, b, a, b}.
    EXPECT_EQ(value_of("wire a = 1, b = 0; assign y = {b, {3{a, b}}};"), 0b0101010);
    EXPECT_EQ(value_of("wire [1:0] w = 2'b10; assign y = {4{w}};"), 0b10101010);
}

TEST(Standard, PartsWithAVariablePlace) {
    // 5.2.1: reg [31:0] big; big[0 +: 8] is big[7:0]; reg [0:31] little; little[0 +: 8] is little[0:7];
    // big[15 -: 8] is big[15:8], little[15 -: 8] is little[8:15].
    const std::string start =
        "wire [31:0] big = 32'h01234567; wire [0:31] little = 32'h89abcdef; wire [4:0] n = 15, z = 0;\n";
    EXPECT_EQ(value_of(start + "assign y = big[z +: 8];"), 0x67);
    EXPECT_EQ(value_of(start + "assign y = little[z +: 8];"), 0x89);
    EXPECT_EQ(value_of(start + "assign y = big[n -: 8];"), 0x45);
    EXPECT_EQ(value_of(start + "assign y = little[n -: 8];"), 0xab);
}

TEST(Standard, CasezTakesTheFirstOfSeveral) {
    // 9.5.1: the instruction decoder: casez (ir) 8'b1???????, 8'b01??????, 8'b00010???, 8'b000001??.
    const std::string decode =
        "reg [2:0] n; always @* casez (ir) 8'b1???????: n = 1; 8'b01??????: n = 2; 8'b00010???: n = 3; 8'b000001??: n "
        "= 4; default: n = 0; endcase\n"
        "assign y = n;";
    for (const auto& [ir, n] :
         {std::pair("8'b11000000", 1), {"8'b01111111", 2}, {"8'b00010101", 3}, {"8'b00000110", 4}, {"8'b00000001", 0}})
        EXPECT_EQ(value_of("wire [7:0] ir = " + std::string(ir) + ";\n" + decode), n) << ir;
}

TEST(Standard, AFunctionAsInItsExample) {
    // 10.4.5: a constant function clogb2 gives address widths.
    EXPECT_EQ(value_of("function integer clogb2(input [31:0] v); begin v = v - 1; for (clogb2 = 0; v > 0; clogb2 = "
                       "clogb2 + 1) v = v >> 1; end endfunction\n"
                       "localparam W = clogb2(1024), X = clogb2(1025);\nassign y = W * 100 + X;"),
              1011);
}

TEST(Standard, NonBlockingAssignmentsSwap) {
    // 9.2.2: a <= b; b <= a; at one clock exchanges the two.
    synthesis::SideBySide both(
        "module top(input clk, output reg a = 1, output reg b = 0); always @(posedge clk) begin a <= b; b <= a; end "
        "endmodule");
    ASSERT_TRUE(both.good);
    EXPECT_EQ(both.seen("a") + both.seen("b"), "10");
    both.clock();
    EXPECT_EQ(both.seen("a") + both.seen("b"), "01");
    EXPECT_EQ(both.difference(), "");
}

}  // namespace
}  // namespace kp::source
