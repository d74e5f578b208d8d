// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/synthesis/same.hpp"

namespace kp::synthesis {
namespace {

/// The first message of a source that is refused.
Message refusal(const std::string& body) {
    const auto mapped = map_text(body);
    EXPECT_FALSE(mapped.ok()) << body;
    return mapped.ok() ? Message{} : mapped.first();
}

TEST(MapRefuses, WhatNothingCanBeBuiltFromWithItsLine) {
    const std::vector<std::pair<std::string, std::string>> all{{"initial begin #5 a = 1; end", "delay"},
                                                               {"always @* begin while (a) b = 1; end", "'while'"},
                                                               {"task t; endtask", "'task'"},
                                                               {"always @(posedge a) begin fork join end", "'fork'"},
                                                               {"specify endspecify", "'specify'"},
                                                               {"real r;", "'real'"},
                                                               {"and g(b, a, a);", "'and'"},
                                                               {"struct packed {logic x;} s;", "'struct'"},
                                                               {"assign b = inner.x;", "inside another module"}};
    for (const auto& [text, what] : all) {
        const auto m = refusal("module top(input a, output reg b);\n\n" + text + "\nendmodule\n");
        EXPECT_EQ(m.line, 3) << text << " " << m.sentence();
        EXPECT_EQ(m.file, "design.sv");
        EXPECT_NE(m.text.find(what), std::string::npos) << m.text;
    }
}

TEST(MapRefuses, WhatIsNoCircuit) {
    const std::vector<std::pair<std::string, std::string>> all{
        {"module top(input a, output b);\nassign b = c;\nendmodule", "'c' is not declared"},
        {"module top(input a, output b);\nnothing u(a, b);\nendmodule", "no module 'nothing'"},
        {"module in(input [3:0] x); endmodule\nmodule top(input a, output b);\nin u(.x(a));\nendmodule", "4 bits"},
        {"module in(input x); endmodule\nmodule top(input a, output b);\nin u(.z(a));\nendmodule", "no port 'z'"},
        {"module top(input a, output b);\ntop again(a, b);\nendmodule", "contains itself"},
        {"module top(input [3:0] a, output [3:0] b);\nfunction [3:0] f(input [3:0] x); f = f(x); endfunction\nassign b "
         "= f(a);\nendmodule",
         "calls itself"},
        {"module top(input [3:0] a, b, output [3:0] y);\nassign y = a / b;\nendmodule", "powers of two"},
        {"module top(input a, output b);\nassign b = a\nendmodule", "';'"},
        {"module top(input a, output b);\nassign b = (a;\nendmodule", "')'"},
        {"module top(input a, output b);\n/* open\nendmodule", "without end"},
        {"module top #(parameter N = x) (input a);\nendmodule", "'x' is not declared"},
        {"input [2:0] op;\nmodule top(input a, output b);\nassign b = a;\nendmodule", "outside of a module"},
        {"module top(input [7:-1] a, output b);\nassign b = a[0];\nendmodule", "range [7:-1]"},
        {"module top(input [65535:0] a, output b);\nassign b = a[0];\nendmodule", "range [65535:0]"}};
    for (const auto& [text, what] : all)
        EXPECT_NE(refusal(text).text.find(what), std::string::npos) << refusal(text).text << "\n" << text;
}

TEST(MapRefuses, WhatWouldTakeTheStack) {
    const auto chain = [](int n) {
        std::string text = "module top(input [7:0] a, output [7:0] y);\nassign y = a";
        for (int i = 0; i < n; ++i) text += " + a";
        return text + ";\nendmodule";
    };
    EXPECT_TRUE(map_text(chain(900)).ok());
    EXPECT_NE(refusal(chain(15000)).text.find("more than 1000 operators"), std::string::npos);
    const auto nested = [](int n) {
        const auto all = static_cast<size_t>(n);
        return "module top(input [7:0] a, output [7:0] y);\nassign y = " + std::string(all, '(') + "a" +
               std::string(all, ')') + ";\nendmodule";
    };
    EXPECT_TRUE(map_text(nested(60)).ok());
    EXPECT_NE(refusal(nested(5000)).text.find("nested more than 200 deep"), std::string::npos);
}

std::string finding(const std::string& source, Code code) {
    const auto mapped = map_text(source);
    if (!mapped.ok()) return "refused: " + mapped.first().sentence();
    for (const auto& m : mapped.value().messages)
        if (m.code == code) return m.sentence();
    return "not found";
}

TEST(MapFinds, TwoDriversWithBothPlaces) {
    const auto text =
        finding("module top(input a, b, output y);\nassign y = a;\nassign y = b;\nendmodule", Code::two_drivers);
    EXPECT_NE(text.find(":3"), std::string::npos) << text;
    EXPECT_NE(text.find("line 2"), std::string::npos) << text;
    EXPECT_TRUE(
        map_text("module top(input a, b, output y);\nassign y = a;\nassign y = b;\nendmodule").value().netlist.empty());
}

TEST(MapFinds, ALatchNobodyMeantAndNotTheOneThatWas) {
    EXPECT_NE(finding("module top(input g, d, output reg q);\nalways @* if (g) q = d;\nendmodule", Code::latch)
                  .find("'q' keeps its value"),
              std::string::npos);
    EXPECT_EQ(finding("module top(input g, d, output logic q);\nalways_latch if (g) q = d;\nendmodule", Code::latch),
              "not found");
    EXPECT_EQ(finding("module top(input [1:0] s, output reg q);\nalways @* case (s) 0: q = 1; 1: q = 0; 2: q = 0; 3: q "
                      "= 1; endcase\nendmodule",
                      Code::latch),
              "not found");
}

TEST(MapFinds, ALoopThroughLogicAndThroughASum) {
    EXPECT_NE(
        finding("module top(input a, output y);\nwire x;\nassign x = y & a;\nassign y = ~x;\nendmodule", Code::loop)
            .find("feeds itself"),
        std::string::npos);
    EXPECT_NE(finding("module top(input [7:0] a, output [7:0] y);\nassign y = y + a;\nendmodule", Code::loop)
                  .find("feeds itself"),
              std::string::npos);
}

TEST(MapFinds, AWireNobodyDrives) {
    EXPECT_NE(finding("module top(input a, output y);\nwire x;\nassign y = a ^ x;\nendmodule", Code::never_driven)
                  .find("'x'"),
              std::string::npos);
}

TEST(Map, RegistersGetTheirControlsAndFirstValues) {
    const auto m = map_text(
        "module top(input clk, rst, en, d, output reg q = 1'b1);\nalways @(posedge clk or posedge rst) if (rst) q <= "
        "0; else if (en) q <= d;\nendmodule");
    ASSERT_TRUE(m.ok());
    EXPECT_EQ(m.value().cells.at("SK_REGISTER_ENABLE_CLEAR"), 1);
    EXPECT_NE(m.value().netlist.find(".START(1'b1)"), std::string::npos) << m.value().netlist;
}

TEST(Map, ALargeArrayBecomesMemoryCells) {
    const auto m = map_text(file_text(KP_SOURCE "/tests/synthesis/designs/memory_large.sv"));
    ASSERT_TRUE(m.ok());
    EXPECT_EQ(m.value().cells.at("SK_MEMORY"), 2);  // 1,024 words of 8 bits: two of 512 words, one reader
}

TEST(Map, CellsThatTheSourceNamesStay) {
    const auto m = map_text(
        "module top(input osc, output reg q);\nwire fast, clk;\nSK_PLL #(.DIVIDE(1), .MULTIPLY(8)) pll (.CKI(osc), "
        ".CK0(fast));\nSK_CLOCK_ROOT root (.A(fast), .Y(clk));\nalways @(posedge clk) q <= ~q;\nendmodule");
    ASSERT_TRUE(m.ok()) << m.first().sentence();
    EXPECT_EQ(m.value().cells.at("SK_PLL"), 1);
    EXPECT_EQ(m.value().cells.at("SK_CLOCK_ROOT"), 1);
    EXPECT_NE(m.value().netlist.find(".MULTIPLY(8)"), std::string::npos);
}

TEST(Map, TheSameSourceGivesTheSameBytes) {
    const auto source = file_text(KP_SOURCE "/tests/synthesis/designs/alu.sv");
    EXPECT_EQ(map_text(source).value().netlist, map_text(source).value().netlist);
}

TEST(Map, PortsInBothDirectionsAndPairsGetTheirPads) {
    const auto m = map_text(
        "module top(input e, a, clk_p, clk_n, inout w, output d_p, d_n, output reg q);\nassign w = e ? a : "
        "1'bz;\nassign d_p = w, d_n = ~w;\nalways @(posedge clk_p) q <= w;\nendmodule");
    ASSERT_TRUE(m.ok()) << m.first().sentence();
    EXPECT_EQ(m.value().cells.at("SK_PAD_TWO_WAY"), 1);
    EXPECT_EQ(m.value().cells.at("SK_PAIR_INPUT"), 1);
    EXPECT_EQ(m.value().cells.at("SK_PAIR_OUTPUT"), 1);
}

}  // namespace
}  // namespace kp::synthesis
