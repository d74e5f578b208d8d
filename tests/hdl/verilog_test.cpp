// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/hdl/verilog/read_netlist.hpp"
#include "core/hdl/read_ports.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

Library cells_of_verilog() {
    Library l;
    LibraryCell inv;
    inv.name = "INV";
    inv.pins = {{"A", Direction::in}, {"Y", Direction::out}};
    l.by_name["INV"] = 0;
    l.cells.push_back(inv);
    return l;
}

Result<Netlist> read_text(std::string_view text, const std::string& top = "") {
    const auto library = cells_of_verilog();
    const SourceText source{"t.v", text};
    return read_netlist({&source, 1}, top, library);
}

/// "cell:pin=net …; port=net …" in order: a case is two strings.
std::string dump(const Netlist& n) {
    std::string out;
    for (const auto& pin : n.pins)
        out += n.cell_names[pin.cell] + ":" + n.pin_names[pin.name] + "=" + n.net_names[pin.net] + " ";
    out += "|";
    for (const auto& port : n.ports)
        out += " " + port.name + (port.direction == Direction::in ? "<" : ">") + n.net_names[port.net];
    return out;
}

TEST(VerilogNetlist, ReadsWhatItSays) {
    struct Row {
        const char *text, *wanted;
    };
    for (const auto& r : {
             Row{"module m(a,y); input a; output y; INV u(.A(a),.Y(y)); endmodule", "u:A=a u:Y=y | a<a y>y"},
             Row{"module m(input a, output y); INV u(a,y); endmodule", "u:A=a u:Y=y | a<a y>y"},
             Row{"module m(input [1:0] a, output [0:1] y); INV u(.A(a[1]),.Y(y[0])), v(.A(a[0]),.Y(y[1])); endmodule",
                 "u:A=a[1] u:Y=y[0] v:A=a[0] v:Y=y[1] | a[1]<a[1] a[0]<a[0] y[0]>y[0] y[1]>y[1]"},
             Row{"module m(input a, output y); wire w; assign y = w; INV u(.A(a),.Y(w)); endmodule",
                 "u:A=a u:Y=y | a<a y>y"},
             Row{"/* c */ `timescale 1ns/1ps\n(* keep *) module m(a,y); // x\n input a; output y; INV \\u+1 "
                 "(.A(a),.Y(y)); endmodule",
                 "u+1:A=a u+1:Y=y | a<a y>y"},
             Row{"module m(input a, output y); INV u(.A(1'b1),.Y(y)); endmodule", "u:A=1'b1 u:Y=y | a<a y>y"},
             Row{"module s(input [1:0] i, output o); INV k(.A(i[0]),.Y(o)); endmodule module m(input a, b, output y); "
                 "s h(.i({a,b}),.o(y)); endmodule",
                 "h/k:A=b h/k:Y=y | a<a b<b y>y"},
             Row{"module m(input a, output y); INV u(.A(a),.Y(mid)); INV v(.A(mid),.Y(y)); endmodule",
                 "u:A=a u:Y=mid v:A=mid v:Y=y | a<a y>y"},
             Row{"module m(input a, output [3:0] y); assign y = {4{a}}; endmodule",
                 "| a<a y[3]>a y[2]>a y[1]>a y[0]>a"},
         }) {
        const auto n = read_text(r.text, "m");
        ASSERT_TRUE(n.ok()) << r.text << "\n" << n.first().sentence();
        EXPECT_EQ(dump(n.value()), r.wanted) << r.text;
    }
}

TEST(VerilogNetlist, ErrorsAreWholeSentencesWithAPlace) {
    struct Row {
        const char *text, *wanted;
    };
    for (const auto& r : {
             Row{"module m(a,y);\n input a; output y;\n INX u(.A(a),.Y(y));\nendmodule",
                 "t.v:3:2: The cell 'INX' of instance u is in no library and no source. Did you mean 'INV'?"},
             Row{"module m(a);\n input a;\n always @(a) b = a;\nendmodule",
                 "t.v:3:2: 'always' is behavioural code; a netlist holds only instances and aliases. Read a "
                 "synthesised netlist instead."},
             Row{"module m(input a, output y);\n assign y = a & a;\nendmodule",
                 "t.v:2:15: '&' makes this assign an expression; a netlist holds only aliases. Read a synthesised "
                 "netlist instead."},
             Row{"module m(input a, output y);\n INV u(.B(a),.Y(y));\nendmodule", "t.v:2:2: Cell INV has no pin 'B'."},
             Row{"module m(input a, output y);\n INV u(.A(a)",
                 "t.v:2:13: The file ends where ')' is expected after the connections; it seems to be cut off."},
             Row{"module m(input a);\n m k(.a(a));\nendmodule",
                 "t.v:2:2: Module m contains itself; the hierarchy has no end."},
             Row{"module m(input [1:0] a, output y);\n INV u(.A(a[2]),.Y(y));\nendmodule",
                 "t.v:2:2: 'a' has no such bits in the order of its declaration."},
             Row{"hello", "t.v:1:1: 'module' is expected here, not 'hello'."},
         }) {
        const auto n = read_text(r.text, "m");
        ASSERT_FALSE(n.ok()) << r.text;
        EXPECT_EQ(n.first().sentence(), r.wanted);
    }
}

TEST(VerilogNetlist, TellsSeveralErrorsOfOneFile) {
    const auto n = read_text("module m(input a);\n always x;\n initial y;\nendmodule", "m");
    ASSERT_FALSE(n.ok());
    EXPECT_EQ(n.messages().size(), 2u);
}

TEST(VerilogNetlist, FindsTheTopOrListsTheCandidates) {
    EXPECT_EQ(read_text("module s(input i); endmodule module t(input a); s k(.i(a)); endmodule").value().top, "t");
    const auto two = read_text("module p(input i); endmodule module q(input i); endmodule");
    ASSERT_FALSE(two.ok());
    EXPECT_EQ(two.first().text, "Several modules could be the top: p and q. Name one of them.");
    EXPECT_EQ(read_text("module vane(input a); endmodule", "vain").first().text,
              "There is no module 'vain'; the file has vane. Did you mean 'vane'?");
}

TEST(VerilogNetlist, EveryCutOfAFileIsAnAnswerAndNoCrash) {
    const std::string whole =
        "module s(input [1:0] i, output o); INV #(.P(4'h3)) k(.A(i[0]),.Y(o)); endmodule\nmodule m(input a, b, output "
        "y); s h(.i({a,b}),.o(y)); endmodule\n";
    ASSERT_TRUE(read_text(whole, "m"));
    for (size_t n = 0; n + 1 < whole.size(); ++n) {  // the last byte is only the end of the last line
        const auto cut = read_text(std::string_view(whole).substr(0, n), "m");
        ASSERT_FALSE(cut.ok()) << "cut at " << n;
        EXPECT_EQ(cut.first().severity, Severity::stop);
        EXPECT_EQ(cut.first().file, "t.v") << "cut at " << n;
    }
    for (size_t n = 0; n + 1 < whole.size(); ++n) {
        if (whole[n] == '{') continue;
        std::string broken = whole;
        broken[n] = '{';
        const auto answer = read_text(broken, "m");
        ASSERT_FALSE(answer.ok()) << "broken at " << n;
        EXPECT_FALSE(answer.first().text.empty());
    }
}

TEST(VerilogNetlist, ATestBenchIsSetAside) {
    const auto n = read_text(
        "module chip(input a, output y); INV k(.A(a),.Y(y)); endmodule\nmodule bench; reg a; chip dut(.a(a)); initial "
        "begin a = 0; #5 a = 1; end endmodule\n",
        "");
    ASSERT_TRUE(n) << n.first().sentence();
    EXPECT_EQ(n.value().top, "chip");
    ASSERT_EQ(n.messages().size(), 1u);
    EXPECT_EQ(n.messages()[0].code, Code::simulation_only);
    EXPECT_EQ(n.messages()[0].line, 2);
    EXPECT_EQ(read_text("module a(input x); endmodule module b(input x); endmodule", "").first().text,
              "Several modules could be the top: a and b. Name one of them.");
}

std::string ports(std::string_view text, const std::string& top = "") {
    const SourceText source{"p.v", text};
    const auto list = read_ports({&source, 1}, top);
    if (!list) return list.first().sentence();
    std::string out = list.value().top;
    for (const auto& p : list.value().ports)
        out += " " + p.direction + ":" + p.name +
               (p.left ? "[" + std::to_string(*p.left) + ":" + std::to_string(*p.right) + "]" : "");
    return out;
}

TEST(VerilogPorts, ReadsHeadersAndPassesOverBodies) {
    EXPECT_EQ(ports("module m #(parameter W = 4, D = W*2) (input wire [W-1:0] a, output reg [D+1:2] b, c, inout d); "
                    "always @* begin x = 1; end endmodule"),
              "m in:a[3:0] out:b[9:2] out:c[9:2] inout:d");
    EXPECT_EQ(
        ports("module m(a, b); localparam N = 3; input [N:0] a; output b; initial $display(\"module\"); endmodule"),
        "m in:a[3:0] out:b");
    EXPECT_EQ(ports("module low(input [0:7] a); endmodule"), "low in:a[0:7]");
    EXPECT_EQ(ports("module m(input [8'h0F:0] a); endmodule"), "m in:a[15:0]");
}

TEST(VerilogPorts, SaysWhatItCannotRead) {
    EXPECT_EQ(ports("module m(a);\nendmodule"), "p.v:1:8: Port 'a' of module m has no direction.");
    EXPECT_EQ(ports("module m(input [X:0] a);\nendmodule"),
              "p.v:1:10: The range of port 'a' cannot be worked out: 'X' is not known.");
    EXPECT_EQ(ports("module a(input x); endmodule", "b"), "p.v: There is no module 'b'; the text has a.");
    EXPECT_EQ(ports("module m(input [1/0:0] a); endmodule").substr(0, 10), "p.v:1:10: ");
}

}  // namespace
}  // namespace kp
