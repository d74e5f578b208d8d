// SPDX-License-Identifier: GPL-3.0-or-later
// BSDL against a text written from the grammar of IEEE 1149.1-2001, annex B (tests/format/bsdl).
#include "core/format/bsdl/read.hpp"

#include "core/base/disk.hpp"
#include "core/format/json/world_json.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

std::string text() {
    return real_disk().read(KP_SOURCE "/tests/format/bsdl/gull8.bsd").take();
}

std::string changed(const std::string& from, const std::string& to) {
    auto t = text();
    const auto at = t.find(from);
    EXPECT_NE(at, std::string::npos) << from;
    return t.replace(at, from.size(), to);
}

TEST(Bsdl, AllOfItIsRead) {
    const auto r = read_bsdl(text(), "gull8.bsd");
    ASSERT_TRUE(r) << r.first().sentence();
    const auto& b = r.value();
    EXPECT_EQ(b.entity, "GULL8");
    EXPECT_EQ(b.package, "Q16");
    EXPECT_EQ(b.ports.size(), 14u);
    EXPECT_EQ(b.ports[5].name, "D");
    EXPECT_EQ(b.ports[5].pins, (std::vector<std::string>{"6", "7"}));
    EXPECT_EQ(b.taps.at("TCK"), "TCK");
    EXPECT_DOUBLE_EQ(b.clock_hz, 10e6);
    EXPECT_EQ(b.instruction_length, 4);
    EXPECT_EQ(b.opcodes.at("IDCODE"), (std::vector<std::string>{"0010", "0011"}));
    EXPECT_EQ(b.capture, "0001");
    EXPECT_EQ(b.idcode, "XXXX1010000011110001000011111111");
    ASSERT_EQ(b.boundary.size(), 7u);
    EXPECT_EQ(b.boundary[2].port, "D(1)");
    EXPECT_EQ(b.boundary[2].control, 1);
    EXPECT_EQ(b.boundary[2].result, "Z");
    EXPECT_EQ(b.boundary[5].function, "internal");
    EXPECT_EQ(b.pairs, (std::vector<std::pair<std::string, std::string>>{{"LVP", "LVN"}}));
}

TEST(Bsdl, ThePinMapCanBeChosen) {
    const auto b = read_bsdl(text(), "g", "b16").take();
    EXPECT_EQ(b.package, "B16");
    EXPECT_EQ(b.ports[5].pins, (std::vector<std::string>{"B2", "B3"}));
    EXPECT_EQ(read_bsdl(text(), "g", "other").first().text, "Choose a pin map: B16 and Q16.");
}

TEST(Bsdl, MistakesHaveTheirSentenceAndLine) {
    struct Row {
        const char *from, *to, *wanted;
        int line;
    };
    for (const auto& r : {
             Row{"TDI : 1, TMS : 2", "TDI : 1, TMS : 1", "Pin 1 is there twice in the pin map.", 21},
             Row{"OSC : 5,", "OSZ : 5,", "The pin map names port OSZ, which is not declared.", 22},
             Row{"D : (6, 7)", "D : (6)", "Port D has 2 bits and 1 pin.", 20},
             Row{"entity is 7", "entity is 8", "BOUNDARY_LENGTH is 8, and the register has 7 cells.", 43},
             Row{"5 (BC_2, *, internal, 0), ", "", "BOUNDARY_LENGTH is 7, and the register has 6 cells.", 43},
             Row{"SAMPLE (0001)", "SAMPLE (001)", "The code 001 has 3 bits; INSTRUCTION_LENGTH is 4.", 35},
             Row{"output2, 0", "output9, 0", "The function 'output9' of cell 6 is not one of BSDL's.", 51},
             Row{"4 (BC_4, LVP", "4 (BC_4, NIL", "The cell 4 names port NIL, which is not declared.", 49},
             Row{"4 (BC_4, LVP", "3 (BC_4, LVP", "The cell 3 is there twice.", 49},
             Row{"OSC : in bit", "OSC : up bit", "The mode of a port is in, out, inout, buffer or linkage, not 'up'.",
                 7},
             Row{"\"1\";\n  attribute BOUNDARY_LENGTH", "\"0\";\n  attribute BOUNDARY_LENGTH",
                 "The IDCODE has 32 of 0, 1 and X, and its last one is 1 (IEEE 1149.1, clause 12).", 39},
         }) {
        const auto b = read_bsdl(changed(r.from, r.to), "g.bsd");
        ASSERT_FALSE(b.ok()) << r.to;
        EXPECT_EQ(b.first().text, r.wanted);
        EXPECT_EQ(b.first().line, r.line) << r.wanted;
    }
}

TEST(Bsdl, EveryCutIsAnAnswer) {
    const auto t = text();
    for (size_t n = 0; n < t.size(); ++n) {
        const auto b = read_bsdl(std::string_view(t).substr(0, n), "g");
        EXPECT_TRUE(b || !b.messages().empty()) << n;
    }
}

TEST(Bsdl, ItMakesAPartThatReadsBack) {
    for (const char* package : {"Q16", "B16"}) {
        const auto made = part_from_bsdl(read_bsdl(text(), "g", package).take());
        ASSERT_TRUE(made) << made.first().sentence();
        const auto& p = made.value();
        EXPECT_EQ(p.pins.size(), 16u);
        EXPECT_EQ(p.idcode, 0x0A0F10FFu);  // 0000 1010000011110001 00001111111 1
        EXPECT_EQ(p.usable_pins(), 6);
        EXPECT_FALSE(made.messages().empty()) << "what BSDL does not know is said";
        const auto back = read_part(write_part(p), "made");
        ASSERT_TRUE(back) << back.first().sentence();
        EXPECT_EQ(write_part(back.value()), write_part(p));
        const auto* pin = back.value().pin(package[0] == 'Q' ? "8" : "C1");
        ASSERT_NE(pin, nullptr);
        EXPECT_TRUE(pin->pair_true);
        EXPECT_EQ(pin->pair, package[0] == 'Q' ? "9" : "C2");
        EXPECT_EQ(back.value().pin(package[0] == 'Q' ? "11" : "C3")->kind, PinKind::ground);
        EXPECT_EQ(back.value().pin(package[0] == 'Q' ? "1" : "A1")->kind, PinKind::configuration);
    }
}

TEST(WorldWrite, ShippedPartsAndBoardsComeBack) {
    for (const char* file :
         {"parts/skr11-q144.part.json", "parts/skr23-b256.part.json", "parts/skr44l-b529.part.json"}) {
        const auto p = read_part(real_disk().read(std::string(KP_SOURCE "/data/") + file).value(), file).take();
        const auto once = write_part(p);
        const auto back = read_part(once, file);
        ASSERT_TRUE(back) << back.first().sentence();
        EXPECT_EQ(write_part(back.value()), once);
    }
    for (const char* file :
         {"boards/tussock.board.json", "boards/saltmarsh.board.json", "boards/headland.board.json"}) {
        const auto b = read_board(real_disk().read(std::string(KP_SOURCE "/data/") + file).value(), file).take();
        const auto once = write_board(b);
        const auto back = read_board(once, file);
        ASSERT_TRUE(back) << back.first().sentence();
        EXPECT_EQ(write_board(back.value()), once);
    }
}

}  // namespace
}  // namespace kp
