// SPDX-License-Identifier: GPL-3.0-or-later
// What a source may ask of the interpreter, and where it is told to stop: each of these held it, filled the memory or
// ended it by a signal once.
#include "core/hdl/source/interpreter.hpp"
#include "core/hdl/source/parser.hpp"

#include <gtest/gtest.h>

namespace kp::source {
namespace {

/// The first thing that is wrong with a body, when it is made or when its inputs rise; empty when nothing is.
std::string wrong_of(const std::string& body) {
    const auto whole = "module t(input c, input [3:0] a, output [7:0] y);\n" + body + "\nendmodule\n";
    const SourceText text{"t.v", whole};
    const auto code = read_code({&text, 1}, {});
    if (!code) return code.first().sentence();
    auto run = Interpreter::of(code.value(), "t");
    if (!run) return run.first().sentence();
    for (const char* level : {"0", "1", "0"}) {
        run.value().set("c", level);
        if (const auto m = run.value().settle()) return m->sentence();
    }
    return {};
}

TEST(Interpreter, LoopsAndRangesWithoutAnEndAreTold) {
    for (const auto& [body, told] :
         {std::pair(
              "genvar i; generate for (i = 3; i >= 0; i = i - 18446744073709551616) begin : g assign y[i] = a[i]; end "
              "endgenerate",
              "t.v:2: This generate loop has more than 65,536 turns."),
          {"reg [9223372036854775807:0] r = 0;", "t.v:2: A value has at most a million bits."},
          {"reg [z:0] r = 0, s = 0;", "t.v:2:"},
          {"wire [7:0] w; assign w[0] = ~w[0]; assign y = w;", "The source never settles"},
          {"integer n; always @(posedge c) begin n = 0; while (1) n = n + 1; end", "t.v:2:"}}) {
        const auto wrong = wrong_of(body);
        EXPECT_NE(wrong.find(told), std::string::npos) << body << "\n" << wrong;
    }
    // What is set beyond the declaration is nowhere, and costs nothing either.
    EXPECT_EQ(
        wrong_of("wire [1:0] w; genvar i; generate for (i = 60000; i >= 0; i = i - 1) begin : g assign w[i] = w[i + "
                 "1] ^ a[0]; end endgenerate assign y = w;"),
        "");
    EXPECT_EQ(wrong_of("reg [7:0] n = 0; always @(posedge c) n <= n + a; assign y = n;"), "");
}

/// Parts of vectors: what lies outside is 0 when read and lost when set (two values; IEEE 1364-2005, 5.2.1, has x).
TEST(Interpreter, PartsThatReachBeyondTheirVector) {
    const auto shown = [](const std::string& body) {
        const auto whole =
            "module t(output reg [7:0] y); reg [7:0] v = 8'hA5; reg [3:0] m [0:3];\ninitial begin y = 0; " + body +
            " end endmodule\n";
        const SourceText text{"t.v", whole};
        const auto code = read_code({&text, 1}, {});
        EXPECT_TRUE(code.ok());
        auto run = Interpreter::of(code.value(), "t");
        EXPECT_TRUE(run.ok()) << (run.ok() ? "" : run.first().sentence());
        return run.ok() ? run.value().get("y") : "";
    };
    EXPECT_EQ(shown("y = v[11:4];"), "00001010");
    EXPECT_EQ(shown("y = v[3 -: 8];"), "01010000");
    EXPECT_EQ(shown("y = v[9];"), "00000000");
    EXPECT_EQ(shown("y = 8'hFF; y[9:6] = 4'b0110;"), "10111111");
    EXPECT_EQ(shown("y = 8'hFF; y[1 -: 4] = 4'b0110;"), "11111101");
    EXPECT_EQ(shown("y = 8'hFF; y[40] = 0;"), "11111111");
    EXPECT_EQ(shown("m[2] = 4'd9; m[5] = 4'd3; y = {m[2], m[5]};"), "10010000");
    EXPECT_EQ(shown("{y[0], y[7:4]} = 5'b10110;"), "01100001");
}

}  // namespace
}  // namespace kp::source
