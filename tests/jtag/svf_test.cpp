// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/jtag/boundary.hpp"
#include "core/jtag/wire_test.hpp"
#include "core/format/image/image.hpp"
#include "core/jtag/loading.hpp"
#include "core/jtag/svf.hpp"

#include <gtest/gtest.h>
#include <map>
#include <random>

namespace kp {
namespace {

constexpr std::uint32_t idcode = 0x1A2460FF;

TEST(TapStates, RandomWalksFollowThePublishedDiagram) {
    // IEEE 1149.1-2001, figure 6-1, written down once more from memory: state, next at TMS 0, next at TMS 1.
    using enum TapState;
    const std::map<TapState, std::pair<TapState, TapState>> diagram{
        {test_logic_reset, {run_test_idle, test_logic_reset}},
        {run_test_idle, {run_test_idle, select_dr}},
        {select_dr, {capture_dr, select_ir}},
        {select_ir, {capture_ir, test_logic_reset}},
        {capture_dr, {shift_dr, exit1_dr}},
        {capture_ir, {shift_ir, exit1_ir}},
        {shift_dr, {shift_dr, exit1_dr}},
        {shift_ir, {shift_ir, exit1_ir}},
        {exit1_dr, {pause_dr, update_dr}},
        {exit1_ir, {pause_ir, update_ir}},
        {pause_dr, {pause_dr, exit2_dr}},
        {pause_ir, {pause_ir, exit2_ir}},
        {exit2_dr, {shift_dr, update_dr}},
        {exit2_ir, {shift_ir, update_ir}},
        {update_dr, {run_test_idle, select_dr}},
        {update_ir, {run_test_idle, select_dr}}};
    std::mt19937 random(5);
    SimulatedChip chip(idcode, 4);
    auto state = test_logic_reset;
    for (int k = 0; k < 20000; ++k) {
        const bool tms = random() % 2;
        chip.clock(tms, random() % 2);
        state = tms ? diagram.at(state).second : diagram.at(state).first;
        ASSERT_EQ(chip.state(), state) << k;
    }
    for (int k = 0; k < 5; ++k) chip.clock(true, false);
    EXPECT_EQ(chip.state(), test_logic_reset);  // five ones lead there from anywhere
}

std::vector<SvfStep> play(const std::string& text, SimulatedChip& chip, const CableFault& fault = {}) {
    ScanChain chain(chip, fault);
    auto steps = play_svf(text, "t.svf", chain);
    EXPECT_TRUE(steps.ok()) << (steps.ok() ? "" : steps.first().sentence());
    return steps.ok() ? steps.take() : std::vector<SvfStep>();
}

const char* begin = "STATE RESET;\nSTATE IDLE;\n";

TEST(Svf, IdcodeBypassAndTheBoundary) {
    SimulatedChip chip(idcode, 4);
    const auto steps = play(std::string(begin) +
                                "SDR 32 TDI (00000000) TDO (1A2460FF) MASK (FFFFFFFF);\n"
                                "SIR 7 TDI (7F) TDO (01) MASK (03);\n"  // the two lowest captured bits are 01
                                "SDR 9 TDI (155) TDO (0AA);\n"          // one bit late, a 0 first
                                "SIR 7 TDI (12);\nSDR 12 TDI (003);\n"  // preload: pin 0 drives 1
                                "SIR 7 TDI (00);\nSDR 12 TDI (002) TDO (927);\n",
                            chip);
    ASSERT_EQ(steps.size(), 9U);
    for (const auto& s : steps) EXPECT_TRUE(s.ok) << s.line << " " << s.tdo.value_or("");
    EXPECT_EQ(steps.back().state, "IDLE");
}

TEST(Svf, AnImageConfiguresTheChipUnlessABitIsLost) {
    Image image;
    image.idcode = idcode;
    image.top = "vane";
    const auto bytes = write_image(image);
    const auto svf = write_svf(bytes, idcode);
    SimulatedChip good(idcode), broken(idcode), other(0x1A2480FF), twice(idcode);
    for (const auto& s : play(svf, good)) EXPECT_TRUE(s.ok);
    EXPECT_TRUE(good.loaded());
    for (const std::uint64_t bit : {0U, 77U, 200U}) {
        SimulatedChip chip(idcode);
        play(svf, chip, {CableFault::bit, bit});
        EXPECT_FALSE(chip.loaded()) << bit;
    }
    EXPECT_FALSE(play(svf, other)[6].ok);  // another IDCODE
    EXPECT_FALSE(other.loaded());
    // Power that goes before the start: the image is gone.
    play(svf, twice, {CableFault::power, 10});
    EXPECT_FALSE(twice.loaded());
    good.power_off();
    EXPECT_FALSE(good.loaded());
    good.store(bytes);
    good.power_off();
    EXPECT_TRUE(good.loaded());  // stored: it loads itself
}

TEST(Svf, FaultsAreSeenAndExplained) {
    const auto text = std::string(begin) + "SDR 32 TDI (0) TDO (1A2460FF);\n";
    SimulatedChip chip(idcode);
    EXPECT_NE(play(text, chip, {CableFault::no_cable, 0})[2].why.find("cable"), std::string::npos);
    EXPECT_FALSE(play(text, chip, {CableFault::second_device, 0})[2].ok);
    ScanChain chain(chip, {CableFault::second_device, 0});
    EXPECT_EQ(scan_idcodes(chain), (std::vector<std::uint32_t>{0x2B33A0FF, idcode}));
    // With a header for the other device's bypass bit the chip is reached again.
    SimulatedChip behind(idcode);
    const auto steps = play(std::string(begin) + "HDR 32 TDI (0);\nSDR 32 TDI (0) TDO (1A2460FF);\n", behind,
                            {CableFault::second_device, 0});
    EXPECT_TRUE(steps.back().ok);
}

TEST(Svf, WhatIsNotSvfIsToldWithItsLine) {
    const std::vector<std::tuple<std::string, int, std::string>> all{{"STATE RESET", 1, "no ';'"},
                                                                     {"STATE RESET;\nFOO 3;", 2, "not a command"},
                                                                     {"SDR 4 TDI (1F);", 1, "more bits"},
                                                                     {"SDR 4;", 1, "needs TDI"},
                                                                     {"SDR 4 TDI (G);", 1, "hexadecimal"},
                                                                     {"SDR 4 TDI (1", 1, "no end"},
                                                                     {"STATE DRSHIFT;", 1, "no state to stay in"},
                                                                     {"STATE RESET DRPAUSE;", 1, "No way"},
                                                                     {"RUNTEST;", 1, "RUNTEST wants"},
                                                                     {"ENDDR DRSHIFT;", 1, "ENDDR wants"},
                                                                     {"SDR 99999999999 TDI (0);", 1, "length"},
                                                                     {"PIOMAP;", 1, "PIOMAP"}};
    for (const auto& [text, line, what] : all) {
        SimulatedChip chip(idcode);
        ScanChain chain(chip, {});
        const auto steps = play_svf(text, "t.svf", chain);
        ASSERT_FALSE(steps.ok()) << text;
        EXPECT_EQ(steps.first().line, line);
        EXPECT_NE(steps.first().text.find(what), std::string::npos) << steps.first().sentence();
    }
}

TEST(Loading, EveryFaultIsSeenAndSaysWhatToDo) {
    Image image;
    image.idcode = idcode;
    const auto load = [&](const CableFault& fault, std::uint32_t part = idcode) {
        SimulatedChip chip(part);
        ScanChain chain(chip, fault);
        return load_through(chain, idcode, write_image(image));
    };
    const auto good = load({});
    EXPECT_TRUE(good.running);
    EXPECT_EQ(good.steps.size(), 5U);
    EXPECT_TRUE(good.why.empty());
    EXPECT_NE(load({CableFault::no_cable, 0}).why.find("Plug the cable in"), std::string::npos);
    EXPECT_EQ(load({CableFault::no_cable, 0}).idcode, 0U);
    EXPECT_NE(load({}, 0x1A2560FF).why.find("not the project's part"), std::string::npos);
    EXPECT_NE(load({CableFault::bit, 100}).why.find("CRC"), std::string::npos);
    EXPECT_NE(load({CableFault::power, 10}).why.find("lost its power"), std::string::npos);
    const auto two = load({CableFault::second_device, 0});
    EXPECT_TRUE(two.running) << two.why;
    EXPECT_EQ(two.steps[1].text, "2 devices answer");
    for (std::uint64_t bit = 0; bit < write_image(image).size() * 8; bit += 7)
        EXPECT_FALSE(load({CableFault::bit, bit}).running) << bit;
}

TEST(Image, IsReadBackAndEveryLostBitIsSeen) {
    EXPECT_EQ(crc32("123456789"), 0xCBF43926U);  // check value of CRC-32 (IEEE 802.3), from memory
    Image image{idcode, "SKR11-Q144-MN", "vane", "2026-11-28", "abc", std::string("\0\1\2", 3)};
    const auto bytes = write_image(image);
    const auto back = read_image(bytes, "i.kpimage");
    ASSERT_TRUE(back.ok()) << back.first().sentence();
    EXPECT_EQ(back.value().top, "vane");
    EXPECT_EQ(back.value().payload, image.payload);
    EXPECT_EQ(back.value().digest, "abc");
    for (size_t k = 0; k < bytes.size() * 8; ++k) {
        auto hurt = bytes;
        hurt[k / 8] = static_cast<char>(hurt[k / 8] ^ (1 << (k % 8)));
        EXPECT_FALSE(read_image(hurt, "i").ok()) << k;
    }
    for (size_t k = 0; k < bytes.size(); ++k) EXPECT_FALSE(read_image(bytes.substr(0, k), "i").ok()) << k;
}

TEST(Boundary, WiresAreTestedThroughTheRegister) {
    Part part;
    part.idcode = 0x10000001;
    for (const char* name : {"A1", "A2", "GND", "A3", "A4"}) {
        part.pins.emplace_back();
        part.pins.back().name = name;
        part.pins.back().kind = std::string(name) == "GND" ? PinKind::ground : PinKind::io;
    }
    // In another order than the pins, and one on a pin without cells.
    const std::vector<ScanWire> wires{{"A4", "X.d"}, {"A1", "X.a"}, {"A2", "X.b"}, {"GND", "X.g"}};
    const auto patterns = counting_patterns(wires.size());
    const auto good = jtag::test_wires(part, wires, patterns, {});
    EXPECT_EQ(good.bits, 2 * patterns.size() * 12);
    ASSERT_EQ(good.faults.size(), 1u);  // nobody drives the ground pin
    EXPECT_EQ(good.faults[0], (WireFault{WireFault::open, 3, 0}));
    for (size_t row = 0; row < patterns.size(); ++row)
        for (const size_t wire : {0, 1, 2}) {
            EXPECT_EQ(good.received[row][wire], patterns[row][wire]);
            EXPECT_EQ(good.captured[row][wire], patterns[row][wire]);
        }
    const auto crossed = jtag::test_wires(part, wires, patterns, {{WireFault::swap, 0, 2}});
    ASSERT_GE(crossed.faults.size(), 1u);
    EXPECT_EQ(crossed.faults[0], (WireFault{WireFault::swap, 0, 2}));
    EXPECT_EQ(crossed.captured, good.captured);  // the chip does not see what is wrong further out
    const auto shorted = jtag::test_wires(part, wires, patterns, {{WireFault::short_and, 1, 2}});
    EXPECT_EQ(shorted.faults[0], (WireFault{WireFault::short_and, 1, 2}));
    EXPECT_NE(shorted.captured, good.captured);
}

TEST(Boundary, PinsAreDrivenAndReadThroughThePort) {
    Part part;
    part.idcode = 0x1A2460FF;
    Board board;
    BoardPart header;
    header.ref = "H";
    header.kind = "header";
    for (int i = 0; i < 9; ++i) {
        Pin pin;
        pin.name = std::to_string(i + 1);
        pin.kind = i == 4 ? PinKind::ground : PinKind::io;
        part.pins.push_back(pin);
        Terminal t;
        t.name = "h" + pin.name;
        header.terminals.push_back(t);
        BoardNet net;
        net.pin = pin.name;
        net.terminal = "H." + t.name;
        board.nets.push_back(net);
    }
    board.parts.push_back(header);
    board.index();
    Netlist nothing;
    nothing.constant_net[0] = nothing.constant_net[1] = no_id;
    auto table = board_sim::BoardModel::make(nothing, {}, board, {}).take();
    const auto at = [&](const char* name) { return table->terminal(std::string("H.h") + name); };
    jtag::BoundaryTester tester(*table, part);
    table->give(at("9"), board_sim::Drive::high);
    tester.read();  // SAMPLE: nothing is driven
    EXPECT_EQ(table->level(at("1")), Level::floating);
    EXPECT_EQ(tester.captured("9"), true);
    EXPECT_EQ(tester.captured("8"), false);
    EXPECT_TRUE(tester.drive("1", board_sim::Drive::high));
    EXPECT_TRUE(tester.drive("3", board_sim::Drive::low));
    EXPECT_EQ(table->level(at("1")), Level::high);
    EXPECT_EQ(table->level(at("3")), Level::low);
    EXPECT_EQ(table->level(at("2")), Level::floating);
    EXPECT_EQ(tester.captured("1"), true);
    EXPECT_EQ(tester.captured("9"), true);
    EXPECT_TRUE(tester.drive("9", board_sim::Drive::low));  // against the hand on the header
    EXPECT_EQ(table->level(at("9")), Level::conflict);
    for (const char* pin : {"1", "3", "9"}) EXPECT_TRUE(tester.drive(pin, board_sim::Drive::off));
    EXPECT_EQ(table->level(at("1")), Level::floating);
    EXPECT_EQ(table->level(at("9")), Level::high);
    EXPECT_FALSE(tester.drive("5", board_sim::Drive::high));  // a ground pin has no cell
    EXPECT_FALSE(tester.captured("5"));
    // A reset of the port gives the pins back to the design (IEEE 1149.1, 6.1.2 and 8.1).
    SimulatedChip chip(part.idcode, 8);
    jtag::BoundaryPins pins(*table, part);
    chip.attach(&pins);
    std::vector<bool> bits(24, false);
    bits[0] = bits[1] = true;
    (void)exchange(chip, SimulatedChip::ir_extest, bits);
    EXPECT_EQ(table->level(at("1")), Level::high);
    for (int i = 0; i < 6; ++i) chip.clock(true, false);
    EXPECT_EQ(table->level(at("1")), Level::floating);
}

}  // namespace
}  // namespace kp
