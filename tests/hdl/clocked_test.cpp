// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/hdl/clocked.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

std::string clocked(const std::string& file, const std::string& text) {
    const SourceText one{file, text};
    std::string out;
    for (const auto& name : clocked_names({&one, 1})) out += name + " ";
    return out;
}

TEST(Clocked, EdgesAreClocksAndTestedOnesAreNot) {
    EXPECT_EQ(clocked("a.v", "always @(posedge clk) q <= d;"), "clk ");
    EXPECT_EQ(clocked("a.v", "always @(posedge c or negedge rst_n) if (!rst_n) q <= 0; else q <= d;"), "c ");
    EXPECT_EQ(clocked("a.sv", "always_ff @(posedge rst or posedge c) begin : b if (rst) q <= 0; else q <= d; end"),
              "c ");
    EXPECT_EQ(clocked("a.v", "// always @(posedge no)\n/* posedge no */ always @* y = \"@(posedge no)\";"), "");
}

TEST(Clocked, VhdlSaysItByFunctionsOrAttributes) {
    EXPECT_EQ(clocked("a.vhd", "if rising_edge(CLK) then -- rising_edge(no)\n"), "clk ");
    EXPECT_EQ(clocked("a.vhdl", "if c'event and c = '1' then"), "c ");
}

TEST(Clocked, ConnectionsCarryItUp) {
    EXPECT_EQ(clocked("a.v",
                      "module leaf(input ck); always @(posedge ck) q <= d; endmodule\n"
                      "module mid(input m); leaf l (.ck(m)); endmodule\nmodule top(input osc); mid x (.m(osc)); "
                      "endmodule"),
              "ck m osc ");
}

TEST(Clocked, AnyTextEnds) {
    for (const char* text : {"", "@(", "always @(posedge", "always @(posedge a or negedge b) if (", "\"", "/*", ".a(",
                             "always @(posedge a or posedge b) begin :"})
        (void)clocked("a.v", text);
}

}  // namespace
}  // namespace kp
