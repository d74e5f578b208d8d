// SPDX-License-Identifier: GPL-3.0-or-later
// A board whose names differ from the design's, from the pegs to a proof of every output; and a wrong peg, a wrong
// polarity and a wrong clock on it, each of which once ended green.
#include "tests/kpeg/own_board.hpp"

namespace kpeg_test {
namespace {

TEST(KpegMeant, NamesOrderAndRolesPegTheBoardAndEveryOutputIsProven) {
    OwnBoard b;
    b.match();
    EXPECT_EQ(b.pin_of("clk"), "16") << "the one clock on the one oscillator";
    for (const char* against : {"names", "source", "simulation"}) {
        const auto a = b.kpeg("prove", std::string("--against ") + against);
        ASSERT_EQ(a.status, 0) << against << a.err << a.out.substr(0, 2000);
        const auto j = Json::parse(a.out);
        EXPECT_EQ(j["rows"].size(), 64u) << "all combinations of rst_n, nib and rxd";
        ASSERT_EQ(j["outputs"].size(), 8u);
        for (const auto& o : j["outputs"]) EXPECT_EQ(o["state"], "proven") << o;
        EXPECT_EQ(j["inputs"].size(), 7u);
    }
    EXPECT_EQ(b.findings("L13") + b.findings("L15") + b.findings("D12"), "");
}

TEST(KpegMeant, SegmentsInReverseDiffer) {
    OwnBoard b;
    b.match();
    for (int i = 0; i < 3; ++i)
        std::swap(b.pin_of("seg[" + std::to_string(i) + "]"), b.pin_of("seg[" + std::to_string(6 - i) + "]"));
    b.keep();
    const auto a = b.kpeg("prove", "");
    EXPECT_EQ(a.status, 1);
    int differ = 0;
    const auto j = Json::parse(a.out);
    for (const auto& o : j["outputs"]) differ += o["state"] == "differs";
    EXPECT_EQ(differ, 6) << "the middle one stays where it was";
}

TEST(KpegMeant, WhatNobodySaidIsNotProven) {
    OwnBoard b;
    b.match();
    // Another board: the display is a header, so that nothing says what the segments are for.
    for (auto& part : b.board["parts"])
        if (part["ref"] == "DS1") {
            part["kind"] = "header";
            for (auto& t : part["terminals"])
                t["name"] = "p" + std::to_string(30 + t["name"].get<std::string>()[0] - 'a');
        }
    for (auto& net : b.board["nets"])
        if (const auto t = net["terminal"].get<std::string>(); t.starts_with("DS1."))
            net["terminal"] = "DS1.p" + std::to_string(30 + t.back() - 'a');
    b.keep_board();
    auto a = b.kpeg("prove", "");
    EXPECT_EQ(a.status, 1);
    std::string why;
    auto j = Json::parse(a.out);
    for (const auto& o : j["outputs"])
        if (o["port"] == "seg[0]") why = o["why"];
    EXPECT_EQ(why, "nobody said what seg[0] is meant for");
    EXPECT_EQ(b.kpeg("prove", "--leave-out seg").status, 0) << "left out as was asked, the rest is proven";
    // Said by hand, a whole bus at once: proven, and rules know where it belongs.
    const auto said =
        run("set " + (b / "own.kpeg") + " 'seg[6:0].meant=DS1.p36,DS1.p35,DS1.p34,DS1.p33,DS1.p32,DS1.p31,DS1.p30'");
    ASSERT_EQ(said.status, 0) << said.err;
    b.load();
    EXPECT_EQ(b.kpeg("prove", "").status, 0);
    std::swap(b.pin_of("seg[0]"), b.pin_of("seg[1]"));
    b.keep();
    EXPECT_EQ(b.kpeg("prove", "").status, 1);
    EXPECT_NE(b.findings("L13").find("seg[0] is meant for DS1.p30"), std::string::npos) << b.findings("L13");
    EXPECT_EQ(run("set " + (b / "own.kpeg") + " 'seg[0].meant=DS1.nothing'").status, 2);
    EXPECT_EQ(run("set " + (b / "own.kpeg") + " 'seg[6:0].meant=DS1.p30,DS1.p31'").status, 2)
        << "seven ports, two places";
}

TEST(KpegMeant, InputsAreHeldOnlyWhenAsked) {
    OwnBoard b;
    b.match();
    auto j = Json::parse(b.kpeg("prove", "--held 'nib[3:0]=0101'").out);
    EXPECT_EQ(j["rows"].size(), 4u);
    for (const auto& i : j["inputs"])
        if (i["port"] == "nib[2]") {
            EXPECT_EQ(i["state"], "held");
            EXPECT_EQ(i["value"], "1");
        }
    EXPECT_EQ(b.kpeg("prove", "--held nib=7").status, 2);
    EXPECT_EQ(b.kpeg("prove", "--held seg=0000000").status, 2) << "an output cannot be held";
    EXPECT_EQ(b.kpeg("prove", "--board-part NONE").status, 2);
    EXPECT_EQ(b.kpeg("prove", "--leave-out nobody").status, 2);
    j = Json::parse(b.kpeg("prove", "--board-part DS1 --board-part SW1").out);
    for (const auto& o : j["outputs"])
        if (o["port"] == "txd") EXPECT_EQ(o["state"], "not proven") << "it was not asked for, and that is said";
}

TEST(KpegMeant, PolarityIsSeenOnDisplaysKeysAndRockers) {
    OwnBoard b;
    b.match();
    for (const char* name : {"a", "b", "c", "d", "e", "f", "g"}) b.terminal("DS1", name)["active"] = "low";
    b.terminal("SW1", "A")["active"] = "low";
    b.keep_board();
    const auto text = b.findings("D12");
    EXPECT_NE(text.find("seg is active high by its name, and DS1."), std::string::npos) << text;
    EXPECT_NE(text.find("nib[0] is active high"), std::string::npos) << text;
    // The adapter turns the display too.
    const auto adapter =
        run("pegs " + (b / "own.kpeg") + " --adapter " + (b / "adapter.v") + " --despite-stops --json -");
    EXPECT_LE(adapter.status, 1) << adapter.err;
    EXPECT_NE(slurp(b / "adapter.v").find("DS1.a is active low"), std::string::npos);
    EXPECT_EQ(run("set " + (b / "own.kpeg") + " seg.invert=adapter nib.sense=low").status, 0);
    const auto j = Json::parse(b.kpeg("rules", "").out);
    for (const auto& f : j["findings"])
        if (f["rule"] == "D12" && f["severity"] != "note")
            EXPECT_EQ(f["text"].get<std::string>().find("seg"), std::string::npos) << f;
}

TEST(KpegMeant, AClockBesideItsOscillatorIsLedToIt) {
    OwnBoard b;
    b.match();
    const auto key = b.pin_of("rst_n").get<std::string>();
    b.pin_of("rst_n") = "16";
    b.pin_of("clk") = key;
    b.keep();
    const auto text = b.findings("L15");
    EXPECT_NE(text.find("the oscillator Y1.out (24 MHz) is on pin 16"), std::string::npos) << text;
    // No oscillator of the board has what the constraints say: that is what disagrees.
    b.write("own.sdc", "create_clock -name clk -period 10 [get_ports clk]\n");
    EXPECT_NE(b.findings("L15").find("constraints say 100 MHz"), std::string::npos) << b.findings("L15");
}

}  // namespace
}  // namespace kpeg_test
