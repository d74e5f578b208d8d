// SPDX-License-Identifier: GPL-3.0-or-later
// Parts and boards: each mistake gives its sentence at its line, and the shipped world agrees with itself.
#include "core/format/json/json_text.hpp"
#include "core/base/disk.hpp"
#include "core/format/json/edit_json.hpp"
#include "core/format/json/project_json.hpp"
#include "core/format/json/world_json.hpp"
#include "core/format/liberty/read.hpp"

#include <gtest/gtest.h>
#include <map>
#include <set>

namespace kp {
namespace {

std::string load_of_world(const std::string& path) {
    return real_disk().read(std::string(KP_SOURCE "/") + path).value();
}

std::string changed(std::string text, const std::string& from, const std::string& to) {
    const auto at = text.find(from);
    EXPECT_NE(at, std::string::npos) << from;
    return text.replace(at, from.size(), to);
}

TEST(PartFile, MistakesHaveTheirSentence) {
    const auto good = load_of_world("data/parts/skr11-q144.part.json");
    struct Row {
        const char *from, *to, *wanted;
    };
    for (const auto& r : {
             Row{"{\"name\": \"2\", \"kind\": \"io\"", "{\"name\": \"1\", \"kind\": \"io\"", "Pin 1 is there twice."},
             Row{"{\"name\": \"2\", \"kind\": \"io\"", "{\"name\": \"2\", \"kind\": \"odd\"",
                 "The kind of pin 2 is not known."},
             Row{"{\"name\": \"2\", \"kind\": \"io\", \"bank\": \"1\"",
                 "{\"name\": \"2\", \"kind\": \"io\", \"bank\": \"9\"",
                 "Pin 2 names bank 9, which the part does not have."},
             Row{"\"slot\": 1,", "\"slot\": 36,", "Pin 2 lies outside the package."},
             Row{"0x1A2460FF", "0x1A2460FE",
                 "The IDCODE should be a hexadecimal number such as \"0x1A2460FF\" whose lowest bit is 1."},
             Row{"\"pair\": \"3\", \"polarity\": \"true\"", "\"pair\": \"3\", \"polarity\": \"complement\"",
                 "Pins 2 and 3 should name each other, one true and one complement."},
             Row{"\"kind\": \"quad_flat\"", "\"kind\": \"round\"", "The package kind is quad_flat or ball_grid."},
             Row{"\"idcode\": \"0x1A2460FF\",", "", "\"idcode\" is missing here."},
         }) {
        const auto p = read_part(changed(good, r.from, r.to), "p.json");
        ASSERT_FALSE(p.ok()) << r.to;
        EXPECT_EQ(p.first().text, r.wanted);
        EXPECT_GT(p.first().line, 0);
    }
}

TEST(PartFile, ANumberBeyondAllNumbersIsASentence) {
    const auto p = read_part("{\"schema\": \"kitepeg.part/1\", \"idcode\": 9e99999}", "p.json");
    ASSERT_FALSE(p);
    EXPECT_EQ(p.first().text, "A number in this file is too large to be one.");
}

TEST(PartFile, SeveralMistakesAreAllTold) {
    auto text = changed(load_of_world("data/parts/skr11-q144.part.json"), "\"slot\": 1,", "\"slot\": 36,");
    text = changed(text, "\"slot\": 2,", "\"slot\": 99,");
    EXPECT_EQ(read_part(text, "p").messages().size(), 2u);
}

TEST(BoardFile, MistakesHaveTheirSentence) {
    const auto good = load_of_world("data/boards/tussock.board.json");
    struct Row {
        const char *from, *to, *wanted;
    };
    for (const auto& r : {
             Row{"\"terminal\": \"S1.hold\"", "\"terminal\": \"S1.held\"",
                 "The terminal S1.held is on no part of this board."},
             Row{"\"pin\": \"33\"", "\"pin\": \"34\"", "Pin 34 is wired twice."},
             Row{"\"terminal\": \"S2.zero\"", "\"terminal\": \"S1.hold\"", "Terminal S1.hold is wired twice."},
             Row{"\"direction\": \"drives\"", "\"direction\": \"pushes\"",
                 "The direction of a terminal is drives, reads, both or passive."},
             Row{"\"mhz\": 20.0", "\"mhz\": 0", "An oscillator has a frequency above 0 MHz."},
             Row{"\"width_mm\": 80", "\"width_mm\": -1", "A board has a width and a height above 0 mm."},
             Row{"\"ref\": \"S2\"", "\"ref\": \"S1\"", "A part S1 is there twice."},
             Row{"\"mhz\": 20.0", "\"mhz\": \"fast\"", "\"mhz\" should be a number."},
         }) {
        const auto b = read_board(changed(good, r.from, r.to), "b.json");
        ASSERT_FALSE(b.ok()) << r.to;
        EXPECT_EQ(b.first().text, r.wanted);
        EXPECT_GT(b.first().line, 0);
    }
}

TEST(World, TheBoardFitsItsPart) {
    const auto part = read_part(load_of_world("data/parts/skr11-q144.part.json"), "p").take();
    const auto board = read_board(load_of_world("data/boards/tussock.board.json"), "b").take();
    EXPECT_TRUE(board.part.starts_with(part.codes));
    EXPECT_EQ(part.pins.size(), 144u);
    EXPECT_EQ(part.banks.size(), 4u);
    EXPECT_EQ(part.plls.size(), 2u);
    for (const auto& net : board.nets) {
        const auto* pin = part.pin(net.pin);
        ASSERT_NE(pin, nullptr) << net.pin;
        EXPECT_TRUE(pin->usable()) << net.pin;
        // What a terminal wants is what the rail of its bank gives.
        const auto at = board.at_pin(net.pin);
        EXPECT_TRUE(board.rail(pin->bank).has_value());
        EXPECT_EQ(at.terminal->standard.find(*board.rail(pin->bank) == 3.3 ? "3.3 V" : "2.5 V") != std::string::npos,
                  true)
            << net.terminal;
    }
    EXPECT_EQ(part.pin("16")->kind, PinKind::clock);  // the oscillator enters where a clock can
    // No two pins in one place, every supply of a bank present.
    for (const char* file :
         {"data/parts/skr11-q144.part.json", "data/parts/skr23-b256.part.json", "data/parts/skr44l-b529.part.json"}) {
        const auto p = read_part(load_of_world(file), file).take();
        std::set<std::pair<int, int>> places;
        std::map<std::string, int> supplies;
        for (const auto& pin : p.pins) {
            EXPECT_TRUE(
                places.insert(p.package.ball_grid ? std::pair{pin.row, pin.column} : std::pair{pin.side, pin.slot})
                    .second)
                << pin.name;
            if (pin.kind == PinKind::bank_supply) ++supplies[pin.bank];
        }
        for (const auto& bank : p.banks) EXPECT_GT(supplies[bank.name], 0) << file << " bank " << bank.name;
    }
}

TEST(World, EveryBoardIsWiredToRealPinsOfFittingKind) {
    for (const auto& [board_file, part_file] :
         {std::pair{"data/boards/tussock.board.json", "data/parts/skr11-q144.part.json"},
          std::pair{"data/boards/saltmarsh.board.json", "data/parts/skr23-b256.part.json"},
          std::pair{"data/boards/headland.board.json", "data/parts/skr44l-b529.part.json"}}) {
        const auto b = read_board(load_of_world(board_file), board_file);
        ASSERT_TRUE(b) << b.first().sentence();
        const auto p = read_part(load_of_world(part_file), part_file);
        ASSERT_TRUE(p) << p.first().sentence();
        const auto& part = p.value();
        const auto& board = b.value();
        EXPECT_TRUE(board.part.starts_with(part.codes));
        EXPECT_TRUE(decode_ordering_code(part.ordering, board.part).complete) << board.part;
        EXPECT_FALSE(board.notes.empty());
        size_t wired = 0;
        for (const auto& net : board.nets) {
            const auto* pin = part.pin(net.pin);
            ASSERT_NE(pin, nullptr) << net.pin;
            const auto at = board.at_pin(net.pin);
            EXPECT_TRUE(pin->usable() || pin->kind == PinKind::lane || pin->kind == PinKind::lane_clock)
                << net.terminal;
            EXPECT_GT(net.trace_mm, 0) << net.terminal;
            ++wired;
            if (!pin->usable()) continue;
            // The standard of a terminal is one its bank can carry at the rail the board gives.
            const auto* bank = part.bank(pin->bank);
            EXPECT_NE(std::find(bank->standards.begin(), bank->standards.end(), at.terminal->standard),
                      bank->standards.end())
                << net.terminal << " " << at.terminal->standard << " in bank " << pin->bank;
            char volts[8];
            std::snprintf(volts, sizeof volts, "%.1f V", *board.rail(pin->bank));
            EXPECT_NE(at.terminal->standard.find(volts), std::string::npos) << net.terminal;
        }
        size_t terminals = 0;
        for (const auto& bp : board.parts) terminals += bp.terminals.size();
        EXPECT_EQ(wired, terminals) << "every terminal of " << board.name << " is wired";
        for (const auto& strap : board.straps)
            EXPECT_EQ(part.pin(strap.pin)->kind, PinKind::configuration) << strap.pin;
        for (const auto& o : board.oscillators) {
            const auto at = board.at_terminal(o.terminal);
            ASSERT_NE(at.net, nullptr) << o.terminal;
            const auto kind = part.pin(at.net->pin)->kind;
            EXPECT_TRUE(kind == PinKind::clock || kind == PinKind::lane_clock) << o.terminal;
        }
    }
}

TEST(World, PartsAreCompleteToTheLastPin) {
    for (const char* file :
         {"data/parts/skr11-q144.part.json", "data/parts/skr23-b256.part.json", "data/parts/skr44l-b529.part.json"}) {
        const auto p = read_part(load_of_world(file), file).take();
        std::map<std::string, int> groups, strobes;
        std::set<std::string> regions;
        for (const auto& r : p.regions) regions.insert(r.name);
        for (const auto& pin : p.pins) {
            if (!pin.usable()) {
                EXPECT_FALSE(pin.function.empty()) << pin.name;
                continue;
            }
            EXPECT_FALSE(pin.bank.empty()) << pin.name;
            EXPECT_TRUE(regions.contains(pin.region)) << pin.name;
            EXPECT_EQ(p.pin(pin.supply_pair)->kind, PinKind::bank_supply) << pin.name;
            EXPECT_EQ(p.pin(pin.supply_pair)->bank, pin.bank) << pin.name;
            if (pin.kind == PinKind::clock) EXPECT_FALSE(pin.reaches.empty()) << pin.name;
            if (!pin.strobe_group.empty()) {
                ++groups[pin.strobe_group];
                strobes[pin.strobe_group] += pin.strobe;
            }
        }
        // A byte is eight bits, a mask and a strobe pair.
        for (const auto& [name, count] : groups) EXPECT_EQ(count, 11) << file << name;
        for (const auto& [name, count] : strobes) EXPECT_EQ(count, 2) << file << name;
        for (const auto& bank : p.banks) {
            const auto has = std::count_if(p.pins.begin(), p.pins.end(),
                                           [&](const Pin& pin) { return pin.bank == bank.name && pin.reference; });
            EXPECT_EQ(has, 1) << file << " bank " << bank.name;
            EXPECT_GT(bank.pin_ma, 0);
        }
        EXPECT_EQ(p.modes.size(), 3u);
        EXPECT_GT(p.fabric.columns * p.fabric.rows * p.fabric.cells_per_site, p.resources.logic_cells * 9 / 10);
    }
    const auto tile = read_part(load_of_world("data/parts/skr44l-b529.part.json"), "p").take().lane_blocks.at(0);
    EXPECT_EQ(tile.lanes.size(), 8u);
    EXPECT_EQ(tile.engines.size(), 3u);
}

/// One truth of the memory: a part whose memory blocks are all taken is 100 % full.
TEST(WorldFiles, TheMemoryBlocksOfTheFabricHoldWhatTheResourcesSay) {
    const auto library = read_liberty(load_of_world("data/cells/skerry.lib"), "l").take();
    const auto block = library.cell("SK_MEMORY")->memory_bits;
    EXPECT_EQ(block, 512 * 18);
    for (const char* file : {"data/parts/skr11-q144.part.json", "data/parts/skr23-b256.part.json",
                             "data/parts/skr44l-b529.part.json", "docs/examples/trn4-q32.part.json"}) {
        const auto p = read_part(load_of_world(file), "p").take();
        long long blocks = 0;
        for (const auto& s : p.fabric.special)
            if (s.kind == "memory")
                blocks +=
                    static_cast<long long>(s.columns.size()) * p.fabric.rows - static_cast<long long>(s.without.size());
        EXPECT_EQ(blocks * block, p.resources.memory_bits) << file;
    }
}

TEST(WorldFiles, SlotGroupsWithoutABlockLieInTheirColumns) {
    auto text = load_of_world("data/parts/skr11-q144.part.json");
    const std::string sites = "\"without\": [[12, 0], [35, 0]]";
    ASSERT_NE(text.find(sites), std::string::npos);
    for (const char* wrong : {"[[13, 0]]", "[[12, 31]]", "[[12]]", "[12, 0]", "[[12, \"0\"]]", "[[12, -1]]"}) {
        auto bad = text;
        bad.replace(bad.find(sites), sites.size(), std::string("\"without\": ") + wrong);
        const auto part = read_part(bad, "p");
        ASSERT_FALSE(part.ok()) << wrong;
        EXPECT_EQ(part.first().text, "\"without\" lists slot groups of these columns, each as [column, row].") << wrong;
    }
}

TEST(OrderingCode, NearMissesAreShownLetterByLetter) {
    const auto part = read_part(load_of_world("data/parts/skr11-q144.part.json"), "p").take();
    EXPECT_EQ(nearest_code(ordering_codes(part.ordering), "SKR11-Q144-MN"), "SKR11-Q144-MN");
    EXPECT_EQ(nearest_code(ordering_codes(part.ordering), "SKR11-Q14-MN"), "SKR11-Q144-MN");
    EXPECT_EQ(nearest_code(ordering_codes(part.ordering), "5KR23-8256-MN"), "SKR23-B256-MN");
    EXPECT_EQ(nearest_code(ordering_codes(part.ordering), "entirely else"), "");
    // Only what exists: the grammar allows more than there are parts.
    EXPECT_EQ(nearest_code({"SKR11-Q144-MN"}, "5KR23-8256-MN"), "");
    EXPECT_EQ(nearest_code({"SKR11-Q144-MN", "SKR11-Q144-LN"}, "SKR11-Q14-LN"), "SKR11-Q144-LN");
    const auto shown = [](const std::string& a, const std::string& b) {
        std::string out;
        for (const auto& l : compare_codes(a, b))
            out += l.agrees() ? "=" : l.given == 0 ? "+" : l.wanted == 0 ? "-" : "x";
        return out;
    };
    EXPECT_EQ(shown("SKR11-Q14-MN", "SKR11-Q144-MN"), "========+====");
    EXPECT_EQ(shown("5KR23", "SKR23"), "x====");
    EXPECT_EQ(shown("SKRR23", "SKR23").size(), 6u);
    const auto decoded = decode_ordering_code(part.ordering, "SKR11-X144-MN");
    EXPECT_FALSE(decoded.complete);
    EXPECT_EQ(decoded.position, 6u);
    EXPECT_EQ(decoded.expected, (std::vector<std::string>{"Q144", "B256", "B529"}));
}

TEST(ProjectFile, UnknownKeysSurviveAndTheOrderIsStable) {
    const auto text = load_of_world("demo/vane/vane.kpeg");
    auto file =
        read_project(changed(text, "\"name\": \"vane\",", "\"name\": \"vane\", \"later\": {\"x\": [1, 2]},"), "k")
            .take();
    const auto once = write_project(file);
    EXPECT_NE(once.find("\"later\": {\"x\": [1, 2]}"), std::string::npos);
    auto again = read_project(once, "k").take();
    EXPECT_EQ(write_project(again), once);
    EXPECT_EQ(again.project.pegs, file.project.pegs);
    // A peg that moves changes one line of the file.
    again.project.pegs["tone"].pin = "113";
    const auto moved = write_project(again);
    int lines = 0;
    for (size_t a = 0, b = 0; a < once.size() && b < moved.size();) {
        const auto x = once.substr(a, once.find('\n', a) - a), y = moved.substr(b, moved.find('\n', b) - b);
        lines += x != y;
        a += x.size() + 1;
        b += y.size() + 1;
    }
    EXPECT_EQ(lines, 1);
}

TEST(ProjectFile, SettingsOfThePartComeBackAndWrongOnesAreTold) {
    const auto text = load_of_world("demo/vane/vane.kpeg");
    const auto with = changed(text, "\"name\": \"vane\",",
                              "\"name\": \"vane\", \"mode\": \"serial flash\", \"start_clock\": \"internal\", "
                              "\"load\": \"stored\", \"unused_pins\": \"pull down\",");
    const auto file = read_project(with, "k").take();
    EXPECT_EQ(file.project.mode, "serial flash");
    EXPECT_EQ(file.project.unused_pins, "pull down");
    const auto back = read_project(write_project(file), "k").take();
    EXPECT_EQ(back.project.start_clock, "internal");
    EXPECT_EQ(back.project.load, "stored");
    // Files that never said so do not begin to.
    EXPECT_EQ(write_project(read_project(text, "k").take()).find("start_clock"), std::string::npos);
    for (const auto& [key, value] : {std::pair{"load", "maybe"}, {"start_clock", "sundial"}, {"unused_pins", "up"}}) {
        const auto wrong =
            read_project(changed(text, "\"name\": \"vane\",",
                                 "\"name\": \"vane\",\n  \"" + std::string(key) + "\": \"" + value + "\","),
                         "k.kpeg");
        ASSERT_FALSE(wrong.ok()) << key;
        EXPECT_NE(wrong.first().text.find(std::string("\"") + key + "\" is "), std::string::npos) << wrong.first().text;
        EXPECT_GT(wrong.first().line, 2);
    }
}

TEST(World, NewBoardAndPartDataComeBack) {
    auto board = read_board(load_of_world("data/boards/saltmarsh.board.json"), "b").take();
    for (auto& n : board.nets)
        if (n.terminal == "U4.frame_p") n.parallel_ohm = 100;
    const auto again = read_board(write_board(board), "b").take();
    EXPECT_EQ(write_board(again), write_board(board));
    EXPECT_TRUE(again.at_terminal("J4.sda").terminal->open_drain);
    EXPECT_DOUBLE_EQ(again.at_terminal("U4.frame_p").net->parallel_ohm, 100);
    const auto part_text = load_of_world("data/parts/skr23-b256.part.json");
    const auto part = read_part(write_part(read_part(part_text, "p").take()), "p").take();
    EXPECT_EQ(part.bank("3")->rise_ns, (std::vector<double>{2.4, 0.9}));
    const auto uneven = read_part(changed(part_text, "\"rise_ns\": [2.4, 0.9]", "\"rise_ns\": [2.4]"), "p");
    ASSERT_FALSE(uneven.ok());
    EXPECT_EQ(uneven.first().text, "\"rise_ns\" of bank 1 has one number for each of its slews.");
}

TEST(World, StandardsHaveTheirDirectionsAndResistors) {
    const auto text = load_of_world("data/standards/io.standards.json");
    const auto table = read_standards(text, "s").take();
    EXPECT_GE(table.rows.size(), 30u);
    EXPECT_EQ(table.find("LVPECL 3.3 V input")->direction, "in");
    EXPECT_TRUE(table.find("LVDS 2.5 V by resistors")->resistors);
    EXPECT_TRUE(table.find("I2C 3.3 V")->open_drain);
    // I2C-bus specification UM10204, table 9: 0.7 and 0.3 of the supply (from memory).
    for (const auto& [name, vdd] : {std::pair{"I2C 3.3 V", 3.3}, {"I2C 2.5 V", 2.5}, {"I2C 1.8 V", 1.8}}) {
        EXPECT_NEAR(table.find(name)->vih, 0.7 * vdd, 1e-9) << name;
        EXPECT_NEAR(table.find(name)->vil, 0.3 * vdd, 1e-9) << name;
    }
    EXPECT_FALSE(read_standards(changed(text, "\"direction\": \"in\"", "\"direction\": \"up\""), "s").ok());
}

TEST(EditJson, EveryKindOfChangeComesBack) {
    const Edit edit{
        "all",
        {PegChange{"a", std::nullopt, Peg{"1", PegState::loose, "by name"}},
         AttributeChange{"a", {}, {"S", "4", "fast", "up", "n\"ote", "chosen"}}, TextChange{"f", 7, "x\ny", "\t"},
         WaiverChange{{"L11", {"a", "b"}, "why", "who", "when"}, false}, FieldChange{"part", "p", "q"}}};
    const auto back = edit_from_json(edit_to_json(edit));
    ASSERT_TRUE(back.ok());
    EXPECT_EQ(edit_to_json(back.value()), edit_to_json(edit));
    EXPECT_FALSE(edit_from_json(Json{{"title", "x"}}).ok());
}

}  // namespace
}  // namespace kp
