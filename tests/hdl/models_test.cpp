// SPDX-License-Identifier: GPL-3.0-or-later
// Cell models clause by clause: IEEE 1364-2005, clauses 7 (gates), 8 (primitives), 9 (always), 14 (paths) and 15
// (checks). Texts after the examples of the standard, from memory, with other numbers.
#include "core/hdl/models/read.hpp"

#include "core/base/disk.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

Result<Library> read(const std::string& text) {
    const SourceText source{"c.v", text};
    return read_models({&source, 1});
}

/// A cell, and questions to it.
struct Cell {
    Library library;
    const LibraryCell* c = nullptr;
    explicit Cell(const std::string& text, const std::string& name = "") {
        auto r = read(text);
        EXPECT_TRUE(r.ok()) << (r.ok() ? "" : r.first().sentence());
        if (!r) return;
        library = r.take();
        c = name.empty() ? (library.cells.empty() ? nullptr : &library.cells.back()) : library.cell(name);
        EXPECT_NE(c, nullptr);
    }
    [[nodiscard]] const LibraryPin& pin(const std::string& name) const {
        return c->pins.at(static_cast<size_t>(c->pin(name)));
    }
    /// "A>Y comb - 1 2": kind, sense, rise and fall, condition.
    [[nodiscard]] std::string arcs() const {
        static const char* kinds[] = {"comb",  "rise",  "fall",  "setup_r", "setup_f", "hold_r", "hold_f",  "rec_r",
                                      "rec_f", "rem_r", "rem_f", "clear",   "preset",  "enable", "disable", "pulse"};
        std::string out;
        const auto value = [](const TimingTable& t) {
            return t.empty() ? std::string("?") : std::to_string(t.values[0]).substr(0, 5);
        };
        for (const auto& a : c->arcs) {
            out += c->pins[a.from].name + ">" + c->pins[a.to].name + " " + kinds[static_cast<int>(a.kind)];
            out += a.sense == Sense::positive ? " +" : a.sense == Sense::negative ? " -" : "";
            const auto* t = a.is_check() ? a.constraint : a.delay;
            out += " " + value(t[0]) + " " + value(t[1]);
            if (!a.sdf_cond.empty()) out += " if " + a.sdf_cond;
            if (!a.when.empty()) out += " when " + a.when;
            out += "; ";
        }
        return out;
    }
    [[nodiscard]] std::string function(const std::string& name) const { return pin(name).function.text().value_or(""); }
};

std::string gate(const std::string& specify, const std::string& body = "") {
    return "`timescale 1ns/1ps\nmodule G(input A, B, S, output Y, Z);\n" + body + "\nspecify\n" + specify +
           "\nendspecify\nendmodule\n";
}

// 14.2.1, 14.2.2: a parallel connection joins bit by bit, a full one each with each.
TEST(Models, ParallelAndFullConnections) {
    EXPECT_EQ(Cell(gate("(A => Y) = 1.5;")).arcs(), "A>Y comb 1.500 1.500; ");
    EXPECT_EQ(Cell(gate("(A, B *> Y, Z) = (1, 2);")).arcs(),
              "A>Y comb 1.000 2.000; A>Z comb 1.000 2.000; B>Y comb 1.000 2.000; B>Z comb 1.000 2.000; ");
    const std::string vector = "module V(input [1:0] A, output [1:0] Y); specify (A =>Y) = 1; endspecify endmodule";
    EXPECT_EQ(Cell(vector).arcs(), "A[1]>Y[1] comb 1.000 1.000; A[0]>Y[0] comb 1.000 1.000; ");
    const std::string full =
        "module V(input [1:0] A, output [1:0] Y); specify (A[1] *> Y[1:0]) = 1; endspecify endmodule";
    EXPECT_EQ(Cell(full).arcs(), "A[1]>Y[1] comb 1.000 1.000; A[1]>Y[0] comb 1.000 1.000; ");
    EXPECT_EQ(Cell(vector).c->bus("A")->bits, (std::vector<std::string>{"A[1]", "A[0]"}));
}

// 14.2.3: edge-sensitive paths launch.
TEST(Models, EdgeSensitivePaths) {
    EXPECT_EQ(Cell(gate("(posedge A => (Y +: B)) = (10, 8);")).arcs(), "A>Y rise 10.00 8.000; ");
    EXPECT_EQ(Cell(gate("(negedge A => (Y -: B)) = (10, 8);")).arcs(), "A>Y fall 10.00 8.000; ");
    EXPECT_TRUE(Cell(gate("(posedge A => (Y : B)) = 1;")).pin("A").clock);
}

// 14.2.4: state-dependent paths, the exclusive or of the standard's example.
TEST(Models, StateDependentPaths) {
    const Cell c(
        gate("specparam noninvrise = 1, noninvfall = 2; specparam invertrise = 3, invertfall = 4;\n"
             "if (A) (B => Y) = (invertrise, invertfall);\n"
             "if (~A) (B => Y) = (noninvrise, noninvfall);\nifnone (B => Y) = (5, 6);",
             "xor x1 (Y, A, B);"));
    EXPECT_EQ(c.arcs(), "B>Y comb 3.000 4.000 if A when A; B>Y comb 1.000 2.000 if ~A when !A; B>Y comb 5.000 6.000; ");
    EXPECT_EQ(Cell(gate("if (A == 1'b1 && B == 1'b0) (S => Y) = 1;")).arcs(),
              "S>Y comb 1.000 1.000 if A==1'b1&&B==1'b0 when (A & !B); ");
}

// 14.2.5: polarity; without one it is that of the function.
TEST(Models, Polarity) {
    EXPECT_EQ(Cell(gate("(A +=> Y) = 1; (A -=> Z) = 1; (B +*> Y) = 1; (B -*> Z) = 1;")).arcs(),
              "A>Y comb + 1.000 1.000; A>Z comb - 1.000 1.000; B>Y comb + 1.000 1.000; B>Z comb - 1.000 1.000; ");
    const Cell c(gate("(A => Y) = 1;", "nand (Y, A, B);"));
    EXPECT_EQ(c.pin("Y").function.sense(0), -1);
}

// 14.3: one, two, three, six and twelve values; min:typ:max; expressions of specparams; values that are missing.
TEST(Models, DelayValues) {
    EXPECT_EQ(Cell(gate("(A => Y) = (1, 2, 3);")).arcs(), "A>Y comb 1.000 2.000; ");
    EXPECT_EQ(Cell(gate("(A => Y) = (1, 2, 3, 4, 5, 6);")).arcs(), "A>Y comb 1.000 2.000; ");
    EXPECT_EQ(Cell(gate("(A => Y) = (1,2,3,4,5,6,7,8,9,10,11,12);")).arcs(), "A>Y comb 1.000 2.000; ");
    EXPECT_EQ(Cell(gate("(A => Y) = 1, 2;")).arcs(), "A>Y comb 1.000 2.000; ");
    EXPECT_EQ(Cell(gate("(A => Y) = (1:2:3, 4:5:6);")).arcs(), "A>Y comb 2.000 5.000; ");
    EXPECT_EQ(Cell(gate("(A => Y) = 1:2:3;")).arcs(), "A>Y comb 2.000 2.000; ");
    EXPECT_EQ(Cell(gate("specparam t = 0.5:1.5:2.5, u = t * 2 + 1; (A => Y) = (u, t);")).arcs(),
              "A>Y comb 4.000 1.500; ");
    EXPECT_EQ(Cell(gate("(A => Y) = (1.5e-1, 2);")).arcs(), "A>Y comb 0.150 2.000; ");
    EXPECT_EQ(Cell(gate("(A => Y) = (0, 0);")).arcs(), "A>Y comb ? ?; ") << "a placeholder: the SDF has the value";
    EXPECT_EQ(Cell(gate("(A => Y) = (nobody, nobody);")).arcs(), "A>Y comb ? ?; ");
    EXPECT_EQ(
        Cell(gate("specparam PATHPULSE$A$Y = (1, 2); pulsestyle_onevent Y; showcancelled Z; (A => Y) = 1;")).arcs(),
        "A>Y comb 1.000 1.000; ");
}

// 19.8: the unit of the file.
TEST(Models, TimeScale) {
    const std::string body = "module G(input A, output Y); specify (A => Y) = 20; endspecify endmodule\n";
    EXPECT_EQ(Cell("`timescale 100 ps / 1 ps\n" + body).arcs(), "A>Y comb 2.000 2.000; ");
    EXPECT_EQ(Cell("`timescale 10ps/1ps\n" + body).arcs(), "A>Y comb 0.200 0.200; ");
    EXPECT_EQ(Cell(body).arcs(), "A>Y comb 20.00 20.00; ");
    EXPECT_EQ(read("`timescale 3 years / 1ps\n" + body).first().sentence(),
              "c.v:2:1: The time scale '3 years / 1ps' is not understood.");
}

std::string flop(const std::string& specify, const std::string& body = "") {
    return "module F(input D, CK, R, S, output Q);\nreg notifier;\n" + body + "\nspecify\n" + specify +
           "\nendspecify\nendmodule\n";
}

// 15.2: stability checks. $hold and $setuphold name the reference first.
TEST(Models, SetupAndHold) {
    EXPECT_EQ(Cell(flop("$setup(D, posedge CK, 10, notifier);")).arcs(), "CK>D setup_r 10.00 10.00; ");
    EXPECT_EQ(Cell(flop("$hold(negedge CK, D, 3);")).arcs(), "CK>D hold_f 3.000 3.000; ");
    EXPECT_EQ(Cell(flop("$setuphold(posedge CK, D, 4, 3, notifier);")).arcs(),
              "CK>D setup_r 4.000 4.000; CK>D hold_r 3.000 3.000; ");
    EXPECT_EQ(Cell(flop("$setup(posedge D, posedge CK, 1); $setup(negedge D, posedge CK, 2);")).arcs(),
              "CK>D setup_r 1.000 2.000; ");
    EXPECT_EQ(Cell(flop("$setup(D, posedge CK &&& (R == 1'b0), 1);")).arcs(),
              "CK>D setup_r 1.000 1.000 if (R==1'b0); ");
    EXPECT_EQ(Cell(flop("$setup(D, CK, 1);")).arcs(), "CK>D setup_r 1.000 1.000; CK>D setup_f 1.000 1.000; ");
    EXPECT_EQ(Cell(flop("$setup(edge[01, 0x, x1] D, posedge CK, 1);")).arcs(), "CK>D setup_r 1.000 ?; ");
    EXPECT_EQ(Cell(flop("$setup(D, posedge CK, 1:2:3);")).arcs(), "CK>D setup_r 2.000 2.000; ");
}

// 15.2.5 to 15.2.7: the reference event is the asynchronous control, the data event the clock.
TEST(Models, RecoveryAndRemoval) {
    EXPECT_EQ(Cell(flop("$recovery(posedge R, posedge CK, 3, notifier);")).arcs(), "CK>R rec_r 3.000 ?; ");
    EXPECT_EQ(Cell(flop("$removal(negedge R, negedge CK, 3);")).arcs(), "CK>R rem_f ? 3.000; ");
    EXPECT_EQ(Cell(flop("$recrem(negedge R, posedge CK, 5, 7);")).arcs(), "CK>R rec_r ? 5.000; CK>R rem_r ? 7.000; ");
    EXPECT_EQ(Cell(flop("$recovery(negedge R, posedge CK, 3); (R => Q) = 1;")).arcs(),
              "R>Q clear 1.000 1.000; R>Q preset 1.000 1.000; CK>R rec_r ? 3.000; ")
        << "an asynchronous pin does not pass data";
}

// 15.3: clock checks. Others are passed over.
TEST(Models, WidthAndPeriod) {
    const Cell c(
        flop("$width(posedge CK, 0.3, 0, notifier); $width(negedge CK, 0.4); $period(posedge CK, 1);\n"
             "$skew(posedge CK, posedge R, 1); $nochange(posedge CK, D, 0, 0); $timeskew(CK, D, 1);"));
    EXPECT_DOUBLE_EQ(c.pin("CK").min_pulse[0], 0.3);
    EXPECT_DOUBLE_EQ(c.pin("CK").min_pulse[1], 0.4);
    EXPECT_DOUBLE_EQ(c.pin("CK").min_period, 1);
    EXPECT_EQ(c.arcs(), "");
}

// 15.5.3: nets that carry delayed pins inside the model.
TEST(Models, DelayedNets) {
    const Cell c(flop("$setuphold(posedge CK, D, 1, 1, notifier,,, dCK, dD); (CK => Q) = 1;",
                      "wire dCK, dD; reg q; always @(posedge dCK) q <= dD; assign Q = q;"));
    EXPECT_EQ(c.c->clocked_on.text(), "CK");
    EXPECT_EQ(c.c->next_state.text(), "D");
    EXPECT_TRUE(c.arcs().starts_with("CK>Q rise 1.000 1.000; "));
}

// Clause 7: gates; outputs of buf and not come first; three-state gates.
TEST(Models, GatePrimitives) {
    EXPECT_EQ(Cell(gate("", "and #1 g1 (w, A, B), g2 (v, w, S); nor (Y, v, A);")).function("Y"),
              "!(A | (S & (A & B)))");
    const Cell two(gate("", "buf (Y, Z, A);"));
    EXPECT_EQ(two.function("Y") + two.function("Z"), "AA");
    EXPECT_EQ(Cell(gate("", "not (strong1, weak0) #(1, 2) n (Y, A);")).function("Y"), "!A");
    const Cell tri(gate("", "bufif0 (Y, A, S); notif1 (Z, A, S);"));
    EXPECT_EQ(tri.function("Y"), "A");
    EXPECT_EQ(tri.pin("Y").three_state.text(), "S");
    EXPECT_EQ(tri.function("Z"), "!A");
    EXPECT_EQ(tri.pin("Z").three_state.text(), "!S");
    EXPECT_EQ(Cell(gate("", "nand (Y, A, B); nand (Y, A, S);")).function("Y"), "") << "two drivers";
}

// Clause 5: assigns. What is not understood is unknown, not wrong.
TEST(Models, ContinuousAssigns) {
    EXPECT_EQ(Cell(gate("", "assign Y = S ? A : B;")).function("Y"), "((B & !S) | (A & S))");
    EXPECT_EQ(Cell(gate("", "assign #3 Y = ~(A & B) | 1'b0, Z = ^{A, B, S};")).function("Y"), "!(A & B)");
    EXPECT_EQ(Cell(gate("", "wire w = A & B; assign Y = w == 1'b1;")).function("Y"), "(A & B)");
    EXPECT_EQ(Cell(gate("", "assign Y = A + B;")).function("Y"), "");
    EXPECT_EQ(Cell(gate("", "supply1 one; assign Y = one & A;")).function("Y"), "A");
    EXPECT_EQ(Cell(gate("", "assign Y = Z; assign Z = Y;")).function("Y"), "") << "a loop";
    const Cell v("module V(input [1:0] A, B, output [1:0] Y); assign Y = A & ~B; endmodule");
    ASSERT_EQ(v.pin("Y[0]").function.inputs.size(), 2u);
    for (unsigned i = 0; i < 4; ++i) EXPECT_EQ(v.pin("Y[0]").function.eval(i), i == 1) << "A[0] and not B[0]";
}

// Clause 8: the multiplexer, the latch and the flip-flop of the standard's examples.
TEST(Models, CombinationalPrimitive) {
    const Cell c(
        "primitive mux (o, s, a, b); output o; input s, a, b;\ntable\n// s a b\n 0 1 ? : 1 ;\n 0 0 ? : 0 ;\n"
        " 1 ? 1 : 1 ;\n 1 ? 0 : 0 ;\n x 0 0 : 0 ;\n x 1 1 : 1 ;\nendtable\nendprimitive\n" +
        gate("(A => Y) = 1;", "mux m (Y, S, A, B);"));
    EXPECT_EQ(c.function("Y"), "((A & !S) | (B & S))");
}

TEST(Models, LevelSensitivePrimitive) {
    const Cell c(
        "primitive latch (q, en, d); output q; reg q; input en, d;\ntable\n 1 1 : ? : 1;\n 1 0 : ? : 0;\n"
        " 0 ? : ? : -;\nendtable\nendprimitive\n"
        "module L(input D, E, output Q); latch l (Q, E, D); specify (D => Q) = 1; (E => Q) = 2; "
        "$setup(D, negedge E, 1); endspecify endmodule");
    EXPECT_TRUE(c.c->latch);
    EXPECT_EQ(c.c->clocked_on.text(), "E");
    EXPECT_EQ(c.arcs(), "D>Q comb 1.000 1.000; E>Q rise 2.000 2.000; E>D setup_f 1.000 1.000; ")
        << "it opens at the rising edge and is checked where it closes";
}

TEST(Models, EdgeSensitivePrimitive) {
    const Cell c(
        "primitive dff (q, c, d, r, n); output q; reg q; input c, d, r, n;\ntable\n"
        " (01) 0 0 ? : ? : 0;\n r 1 0 ? : ? : 1;\n f ? 0 ? : ? : -;\n ? * 0 ? : ? : -;\n ? ? 1 ? : ? : 0;\n"
        " ? ? f ? : ? : -;\n ? ? ? * : ? : x;\nendtable\nendprimitive\n" +
        flop("(posedge CK => (Q +: D)) = (1, 2); (posedge R => (Q +: 1'b0)) = 3; $setuphold(posedge CK, D, 1, "
             "1, notifier);",
             "dff u (q, CK, D, R, notifier); buf (Q, q);"));
    EXPECT_EQ(c.c->clocked_on.text(), "CK");
    EXPECT_EQ(c.c->clear.text(), "R");
    EXPECT_TRUE(c.c->preset.empty());
    EXPECT_EQ(c.c->state, "q");
    EXPECT_EQ(c.function("Q"), "q");
    EXPECT_TRUE(c.arcs().starts_with("CK>Q rise 1.000 2.000; R>Q clear 3.000 3.000; ")) << c.arcs();
}

// Clause 9: registers and latches of `always`.
TEST(Models, AlwaysBlocks) {
    const Cell c(flop("(CK => Q) = 1; (R => Q) = 2; (S => Q) = 3;",
                      "reg q; always @(posedge CK or negedge R or posedge S) if (!R) q <= 0; else if (S) q <= #1 1'b1; "
                      "else begin q <= D; end\nassign Q = q;"));
    EXPECT_EQ(c.c->clear.text(), "!R");
    EXPECT_EQ(c.c->preset.text(), "S");
    EXPECT_EQ(c.c->next_state.text(), "D");
    EXPECT_EQ(c.arcs(), "CK>Q rise 1.000 1.000; R>Q clear 2.000 2.000; S>Q preset 3.000 3.000; ");
    const Cell enabled(flop("", "reg Q; always @(negedge CK) if (S) Q <= D;"));
    EXPECT_EQ(enabled.c->clocked_on.text(), "!CK");
    EXPECT_EQ(enabled.c->next_state.text(), "((Q & !S) | (D & S))");
    const Cell latch(flop("(CK => Q) = 1; (D => Q) = 1;", "reg Q; always @(CK or D) if (!CK) Q = D;"));
    EXPECT_TRUE(latch.c->latch);
    EXPECT_EQ(latch.arcs(), "CK>Q fall 1.000 1.000; D>Q comb 1.000 1.000; ");
    EXPECT_EQ(Cell(flop("", "reg Q; always @* Q = D ^ S;")).function("Q"), "(D ^ S)");
    const Cell strange(flop("",
                            "reg q; always @(posedge CK) case (S) 1: q <= D; default: begin q <= R; end endcase\n"
                            "assign Q = q;"));
    EXPECT_EQ(strange.function("Q"), "");
}

// Headers of both kinds, escaped names, what says nothing about a cell.
TEST(Models, WhatIsPassedOver) {
    const Cell c(
        "`define HALF 0.5\n`celldefine\nmodule \\G+1 (Y, A); output Y; input A; wire A;\n"
        "parameter P = 4'hA; localparam [3:0] Q = P;\ninitial begin $display(\"x\"); end\n"
        "function f; input i; f = i; endfunction\ntask t; begin end endtask\n"
        "generate if (P) begin not (Y, A); end endgenerate\n"
        "`ifdef SLOW\nspecify (A => Y) = 9; endspecify\n`else\nspecify (A => Y) = `HALF; endspecify\n`endif\n"
        "endmodule\n`endcelldefine\n");
    EXPECT_EQ(c.c->name, "G+1");
    EXPECT_EQ(c.arcs(), "A>Y comb 0.500 0.500; ");
    const auto design = read("module top(input a, output y); G g(.A(a),.Y(y)); endmodule");
    ASSERT_TRUE(design);
    EXPECT_TRUE(design.value().cells.empty());
    EXPECT_EQ(design.messages().at(0).sentence(),
              "c.v:1: Module top holds only instances; it is not a cell and is set aside.");
}

TEST(Models, ErrorsSayWhereAndWhat) {
    struct Row {
        std::string text, sentence;
    };
    for (const auto& r : {
             Row{gate("(A => Q) = 1;"), "c.v:2:1: Model G has no port 'Q', which its specify block names."},
             Row{gate("(A -> Y) = 1;"), "c.v:5:5: '=>' or '*>' is expected in a path."},
             Row{gate("(A => Y) 1;"), "c.v:5:10: '=' is expected after a path, not '1'."},
             Row{gate("$setup(A, B);"), "c.v:6:1: A timing check needs two events and a limit."},
             Row{"module G(input A, output Y);\nspecify (A => Y) = 1;\nendmodule",
                 "c.v:2:21: 'endspecify' is missing."},
             Row{"module G(input A, output Y);\nassign Y = ;\nendmodule",
                 "c.v:2:10: An operand is missing at the end."},
             Row{"module G(input A);", "c.v:1:1: 'endmodule' is missing; the file seems to be cut off."},
             Row{"primitive p (o, a); table 0 1 : 1; endtable endprimitive",
                 "c.v:1:36: A row of the table of p has 2 inputs; 1 are declared."},
             Row{"hello", "c.v:1:1: 'module' or 'primitive' is expected here, not 'hello'."},
             Row{gate("") + gate(""), "c.v:9:1: The cell G is defined twice."},
         }) {
        const auto answer = read(r.text);
        ASSERT_FALSE(answer.ok()) << r.text;
        EXPECT_EQ(answer.first().sentence(), r.sentence);
    }
}

TEST(Models, EveryCutIsAnAnswer) {
    const std::string whole =
        "primitive p (o, a); output o; input a; table 0 : 1; 1 : 0; endtable endprimitive\n" +
        flop("specparam t = 1:2:3; if (R) (posedge CK => (Q +: D)) = (t, 2); $setuphold(posedge CK &&& S, D, 1, 1);",
             "reg q; always @(posedge CK or negedge R) if (!R) q <= 0; else q <= {D, S} == 2'b10; p u (Q, q);");
    ASSERT_TRUE(read(whole)) << read(whole).first().sentence();
    for (size_t n = 0; n < whole.size(); ++n) {
        const auto cut = read(whole.substr(0, n));
        if (cut) continue;  // between two modules
        EXPECT_EQ(cut.first().file, "c.v") << n;
        EXPECT_GT(cut.first().line, 0) << n << cut.first().text;
    }
}

}  // namespace
}  // namespace kp
