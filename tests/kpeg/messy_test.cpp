// SPDX-License-Identifier: GPL-3.0-or-later
// What somebody got wrong on a board of their own is seen by kpeg and leaves with the handoff; the window's side of the
// same is tests/app/messy_test.cpp.
#include "tests/kpeg/own_board.hpp"

#include <map>
#include <set>

namespace kpeg_test {
namespace {

/// Rules of a SARIF file that have a result.
std::set<std::string> rules_in(const std::string& sarif) {
    std::set<std::string> out;
    const auto json = Json::parse(slurp(sarif));
    for (const auto& r : json["runs"][0]["results"]) out.insert(r["ruleId"].get<std::string>());
    return out;
}

TEST(KpegMessy, ABoardWithOtherNamesIsInOrderWhenNothingIsWrong) {
    OwnBoard b("messy_good");
    b.match();
    for (const auto& fault : own_board_faults) EXPECT_EQ(b.findings(fault.rule), "") << fault.name;
    EXPECT_EQ(b.kpeg("prove", "").status, 0);
}

TEST(KpegMessy, EachFaultEndsRedInRulesAndHandoff) {
    for (const auto& fault : own_board_faults) {
        OwnBoard b("messy_fault");
        b.match();
        fault.plant(b);
        EXPECT_NE(b.findings(fault.rule), "") << fault.name;
        const auto rules = b.kpeg("rules", "");
        EXPECT_EQ(rules.status, 1) << fault.name;
        const auto held = b.kpeg("handoff", "--out " + (b / "out"));
        bool stops = false;
        const auto found = Json::parse(rules.out);
        for (const auto& f : found["findings"])
            stops |= f["severity"] == "stop" && (!f.contains("waived") || f["waived"].is_null());
        if (stops) EXPECT_EQ(held.status, 1) << fault.name << ": a stop holds the handoff";
        const auto written =
            stops ? b.kpeg("handoff", "--out " + (b / "out") + " --open-stops 'to be looked at'") : held;
        std::string sarif;
        for (const auto& file : std::filesystem::directory_iterator(b / "out"))
            if (file.path().extension() == ".sarif") sarif = file.path().string();
        ASSERT_NE(sarif, "") << fault.name << written.err << written.out.substr(0, 400);
        EXPECT_TRUE(rules_in(sarif).contains(fault.rule)) << fault.name;
    }
}

/// A board as somebody drew it, with a title, remarks in brackets and in words, and a design with its own names.
struct Gate : Demo {
    Gate() : Demo("messy_table") {
        std::ofstream(*this / "wires.csv") << "Garden gate controller rev. C;;;;\n"
                                              "drawn by hand, 3 May;;;;\n"
                                              "Part;Net;Ball;Series;Notes\n"
                                              "Q3 osc;out (square);16;;24,000 MHz \xC2\xB1"
                                              "50 ppm\n"
                                              "SW4 switch;arm_l (left);22;;active low, pull-up 4k7\n"
                                              "SW4 switch;arm_r;23;;\"active low; 10k pull-up\"\n"
                                              "LED1 (amber);a;46;470R;15 mA\n"
                                              "LED1 (amber);b;47;;470R, 15 mA\n"
                                              "BUZZ1;in;49;;?? see page 4\n"
                                              "J9 header;x2 ;Z9;;typo\n";
        std::ofstream(*this / "gate.v")
            << "module cell2(input in1, input in2, output y); assign y = in1 & ~in2; endmodule\n"
               "module gate(input c, input left, input right, output [1:0] lamp, output horn);\n"
               "reg [3:0] n = 0; reg l0=1,l1=1,r0=1,r1=1; wire in1 = l1, in2 = r1, open;\n"
               "always @(posedge c) begin l0 <= left; l1 <= l0; r0 <= right; r1 <= r0; n <= n + 1; end\n"
               "cell2 u(.in1(in2), .in2(in1), .y(open));\n"
               "assign lamp = {open, n[3]}; assign horn = n[3] & open;\nendmodule\n";
    }
    [[nodiscard]] std::string project() const { return *this / "p/gate.kpeg"; }
    [[nodiscard]] std::string texts(const std::string& rule) const {
        std::string out;
        const auto j = Json::parse(run("rules " + project() + " --json -").out);
        for (const auto& f : j["findings"])
            if (f["rule"] == rule) out += f["severity"].get<std::string>() + " " + f["text"].get<std::string>() + "\n";
        return out;
    }
};

TEST(KpegMessy, ATableFromLifeBecomesABoardOnWhichADesignIsProven) {
    const Gate d;
    const auto made = run("board " + (d / "wires.csv") + " --name yard --part SKR11-Q144-MN --out " +
                          (d / "yard.board.json") + " --json -");
    EXPECT_NE(made.err.find("wires.csv:10: The part has no pin Z9."), std::string::npos) << made.err;
    EXPECT_NE(made.err.find("the columns are named in line 3"), std::string::npos);
    const auto board = Json::parse(slurp(d / "yard.board.json"));
    EXPECT_EQ(board["oscillators"][0]["mhz"], 24);
    EXPECT_EQ(board["oscillators"][0]["ppm"], 50);
    EXPECT_EQ(board["nets"].size(), 6u);
    ASSERT_EQ(run("new " + (d / "p") + " --name gate --board " + (d / "yard.board.json") + " --source " +
                  (d / "gate.v") + " --top gate")
                  .status,
              0);
    // Names that say nothing are told, until somebody says what they are for.
    EXPECT_NE(d.texts("D14").find("note A port is called c;"), std::string::npos) << d.texts("D14");
    EXPECT_NE(d.texts("D14").find("connects its port in1 to in2"), std::string::npos);
    ASSERT_EQ(run("set " + d.project() +
                  " c.role=clock horn.role=sounder left.meant=SW4_switch.arm_l "
                  "right.meant=SW4_switch.arm_r")
                  .status,
              0);
    EXPECT_EQ(d.texts("D14").find("is called c;"), std::string::npos) << d.texts("D14");
    ASSERT_EQ(run("pegs " + d.project() + " --match --json -").status, 0);
    std::map<std::string, std::string> pins;
    const auto kept = Json::parse(slurp(d.project()));
    for (const auto& peg : kept["pegs"]) pins[peg["port"]] = peg["pin"];
    const std::map<std::string, std::string> wanted{{"c", "16"},       {"left", "22"},    {"right", "23"},
                                                    {"lamp[0]", "46"}, {"lamp[1]", "47"}, {"horn", "49"}};
    EXPECT_EQ(pins, wanted);
    EXPECT_NE(d.texts("D12").find("SW4_switch.arm_l (rocker) is active low"), std::string::npos) << d.texts("D12");
    // Nothing to prove yet; then every output.
    const auto nothing = run("prove " + d.project() + " --json -");
    EXPECT_EQ(nothing.status, 2);
    EXPECT_NE(nothing.err.find("kpeg set netlists=FILE"), std::string::npos) << nothing.err;
    ASSERT_EQ(
        run("map " + (d / "gate.v") + " --top gate --part SKR11-Q144-MN --out " + (d / "p/net.v") + " --json -").status,
        0);
    ASSERT_EQ(run("set " + d.project() + " netlists=net.v libraries=skerry.lib").status, 0);
    const auto proof = run("prove " + d.project() + " --against source --json -");
    EXPECT_EQ(proof.status, 0) << proof.err;
    const auto proved = Json::parse(proof.out);
    EXPECT_EQ(proved["outputs"].size(), 3u);
    // A constraint that names what is not there is a verdict of its own.
    std::ofstream(d / "p/gate.sdc") << "create_clock -name c -period 41.667 [get_ports cc]\n";
    const auto built = run("build " + d.project() + " --out " + (d / "b") + " --json -");
    EXPECT_EQ(built.status, 1);
    EXPECT_EQ(Json::parse(built.out)["verdict"], "constraints refused");
}

}  // namespace
}  // namespace kpeg_test
