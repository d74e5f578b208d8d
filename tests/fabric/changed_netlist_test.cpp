// SPDX-License-Identifier: GPL-3.0-or-later
// A netlist that is written reads as it was; delay and copies that are put into it change nothing of what it does.
#include "core/fabric/netlist_change.hpp"
#include "core/hdl/verilog/write_netlist.hpp"
#include "core/inputs/data_folder.hpp"
#include "core/session/session.hpp"
#include "tests/synthesis/random_source.hpp"
#include "tests/synthesis/same.hpp"

#include <gtest/gtest.h>

namespace kp::fabric {
namespace {

/// Everything that has a name, in order; nets by the ends they join.
void expect_same(const Netlist& a, const Netlist& b) {
    EXPECT_EQ(a.top, b.top);
    EXPECT_EQ(a.cell_names, b.cell_names);
    ASSERT_EQ(a.cells.size(), b.cells.size());
    ASSERT_EQ(a.pins.size(), b.pins.size());
    ASSERT_EQ(a.ports.size(), b.ports.size());
    ASSERT_EQ(a.parameters.size(), b.parameters.size());
    std::map<std::uint32_t, std::uint32_t> partner{{no_id, no_id}};
    const auto joined = [&](std::uint32_t x, std::uint32_t y) { return partner.emplace(x, y).first->second == y; };
    for (std::uint32_t c = 0; c < a.cells.size(); ++c) EXPECT_EQ(a.type_of(c), b.type_of(c)) << a.cell_names[c];
    for (std::uint32_t p = 0; p < a.pins.size(); ++p) {
        EXPECT_EQ(a.pin_name(p), b.pin_name(p));
        EXPECT_TRUE(joined(a.pins[p].net, b.pins[p].net)) << a.pin_name(p);
    }
    for (size_t k = 0; k < a.ports.size(); ++k) {
        EXPECT_EQ(a.ports[k].name, b.ports[k].name);
        EXPECT_EQ(a.ports[k].index, b.ports[k].index);
        EXPECT_EQ(a.ports[k].direction, b.ports[k].direction);
        EXPECT_TRUE(joined(a.ports[k].net, b.ports[k].net)) << a.ports[k].name;
    }
    for (size_t k = 0; k < a.parameters.size(); ++k) {
        EXPECT_EQ(a.parameters[k].cell, b.parameters[k].cell);
        EXPECT_EQ(a.parameters[k].name, b.parameters[k].name);
        EXPECT_EQ(a.parameters[k].value, b.parameters[k].value);
    }
    for (int v = 0; v < 2; ++v) EXPECT_EQ(a.constant_net[v] == no_id, b.constant_net[v] == no_id);
}

Netlist read_again(const Netlist& n, const Library& library) {
    const auto text = verilog::write_netlist(n, library);
    const SourceText source{"again.v", text};
    auto read = read_netlist({&source, 1}, n.top, library);
    EXPECT_TRUE(read.ok()) << (read.ok() ? "" : read.first().sentence()) << text.substr(0, 4000);
    return read ? read.take() : Netlist{};
}

TEST(NetlistOut, EveryDemoReadsAsItWas) {
    for (const char* demo : {"vane/vane", "profiler/profiler", "linkwatch/linkwatch"}) {
        SCOPED_TRACE(demo);
        const auto session =
            Session::open(real_disk(), KP_SOURCE "/demo/" + std::string(demo) + ".kpeg", data_folder());
        ASSERT_TRUE(session.ok());
        const auto& w = session.value()->world();
        expect_same(w.netlist, read_again(w.netlist, w.library));
    }
}

TEST(NetlistOut, NamesThatNeedABackslashAndNetsOfTwoPortsAreKept) {
    const std::string text =
        "module \\odd.top (\\a+b , \\wire , y, z);\n  input [1:2] \\a+b ;\n  input \\wire ;\n  output y, z;\n"
        "  wire \\n[3] , n, y_in;\n  SK_TABLE_2 #(.TABLE(4'h8)) \\u/1 (.A0(\\a+b [1]), .A1(\\a+b [2]), .Y(\\n[3] ));\n"
        "  SK_TABLE_2 #(.TABLE(4'h6)) u2 (.A0(\\n[3] ), .A1(1'b1), .Y(n));\n  assign y = n;\n  assign z = "
        "n;\nendmodule\n";
    const SourceText source{"odd.v", text};
    const auto read = read_netlist({&source, 1}, "", synthesis::shipped_library());
    ASSERT_TRUE(read.ok()) << read.first().sentence();
    const auto again = read_again(read.value(), synthesis::shipped_library());
    expect_same(read.value(), again);
    EXPECT_EQ(again.cell_names[0], "u/1");
    EXPECT_EQ(again.ports[3].net, again.ports[4].net);
}

TEST(NetlistOut, AMemoryWithOpenPinsReadsAsItWas) {
    const auto mapped = synthesis::map_text(
        "module top(input clk, we, input [9:0] a, b, input [6:0] d, output [6:0] q);\n"
        "  reg [6:0] m [0:1023];\n  always @(posedge clk) if (we) m[a] <= d;\n  assign q = m[b];\nendmodule\n");
    ASSERT_TRUE(mapped.ok());
    const SourceText source{"netlist.v", mapped.value().netlist};
    const auto read = read_netlist({&source, 1}, "top", synthesis::shipped_library());
    ASSERT_TRUE(read.ok());
    ASSERT_NE(mapped.value().netlist.find("SK_MEMORY"), std::string::npos);
    expect_same(read.value(), read_again(read.value(), synthesis::shipped_library()));
}

/// Places for a netlist that was never placed: all cells in one row of sites, as the fabric has them.
Placed lined_up(const Netlist& n) {
    Placed out{n, {}};
    int k = 0;
    for (std::uint32_t c = 0; c < n.cells.size(); ++c, ++k)
        out.spots.push_back({1 + k / 8 / 40, k / 8 % 40, k % 8, ""});
    return out;
}

Part small_part() {
    Part part;
    part.fabric.columns = 30;
    part.fabric.rows = 40;
    part.fabric.cells_per_site = 8;
    part.fabric.special = {{"memory", {0, 15}, {}}};
    return part;
}

TEST(NetlistChange, DelayAndCopiesChangeNothingOfWhatADesignDoes) {
    int late = 0, copies = 0;
    for (unsigned seed = 1; seed <= 25; ++seed) {
        SCOPED_TRACE(seed);
        std::mt19937 random(seed);
        synthesis::SideBySide both(synthesis::RandomSource(seed).module(), "top", [&](Netlist& n) {
            auto placed = lined_up(n);
            const auto part = small_part();
            NetlistChange change(placed, synthesis::shipped_library(), part);
            const auto pins = static_cast<std::uint32_t>(n.pins.size());
            const auto lib_pin = [&](std::uint32_t p) -> const LibraryPin& {
                const auto& cell = *synthesis::shipped_library().cell(n.type_of(n.pins[p].cell));
                return cell.pins[static_cast<size_t>(cell.pin(n.pin_names[n.pins[p].name]))];
            };
            for (std::uint32_t p = 0; p < pins; ++p) {
                const auto& type = *synthesis::shipped_library().cell(n.type_of(n.pins[p].cell));
                if (lib_pin(p).direction == Direction::out && type.flip_flop && random() % 2) {
                    std::vector<std::uint32_t> loads;
                    for (std::uint32_t q = 0; q < pins; ++q)
                        if (n.pins[q].net == n.pins[p].net && lib_pin(q).direction == Direction::in && random() % 2)
                            loads.push_back(q);
                    change.copy_register(p, loads);
                    ++copies;
                }
            }
            for (std::uint32_t p = 0; p < pins; ++p)
                if (lib_pin(p).direction == Direction::in && !lib_pin(p).clock && !lib_pin(p).is_pad &&
                    random() % 4 == 0)
                    late += change.delay_before(p, *synthesis::shipped_library().cell("SK_TABLE_1"),
                                                1 + static_cast<int>(random() % 3));
            // What was there keeps its number, and no two look-ups share a place.
            for (std::uint32_t c = 0; c < n.cells.size(); ++c) EXPECT_EQ(placed.netlist.cell_names[c], n.cell_names[c]);
            ASSERT_EQ(placed.spots.size(), placed.netlist.cells.size());
            n = std::move(placed.netlist);
        });
        both.compare(seed, 60);
    }
    EXPECT_GT(late, 1000);
    EXPECT_GT(copies, 100);
}

TEST(NetlistChange, DelayLiesAtTheNearestFreeSiteAndEndsWhenThePartIsFull) {
    const auto mapped =
        synthesis::map_text("module top(input clk, d, output reg q);\n  always @(posedge clk) q <= d;\nendmodule\n");
    ASSERT_TRUE(mapped.ok());
    const SourceText source{"netlist.v", mapped.value().netlist};
    const auto read = read_netlist({&source, 1}, "top", synthesis::shipped_library());
    ASSERT_TRUE(read.ok());
    Part part = small_part();
    part.fabric.columns = 3;
    part.fabric.rows = 3;
    part.fabric.special = {{"memory", {1}, {}}};
    Placed placed{read.value(), std::vector<Spot>(read.value().cells.size(), Spot{0, 1, 0, ""})};
    const auto& n = placed.netlist;
    std::uint32_t data = no_id;
    for (std::uint32_t p = 0; p < n.pins.size(); ++p)
        if (n.pin_name(p).ends_with("/D")) data = p;
    ASSERT_NE(data, no_id);
    const auto before = n.cells.size();
    NetlistChange change(placed, synthesis::shipped_library(), part);
    const auto& look = *synthesis::shipped_library().cell("SK_TABLE_1");
    EXPECT_EQ(change.delay_before(data, look, 9), 9);
    for (size_t k = before; k < before + 8; ++k) {
        EXPECT_EQ(placed.spots[k].column, 0) << k;
        EXPECT_EQ(placed.spots[k].row, 1) << k;
    }
    EXPECT_EQ(placed.spots[before + 8].column, 0);
    EXPECT_NE(placed.spots[before + 8].row, 1);
    EXPECT_EQ(change.delay_before(data, look, 1000), 2 * 3 * 8 - 9);
    EXPECT_EQ(change.delay_before(data, look, 1), 0);
    std::set<std::tuple<int, int, int>> seen;
    for (size_t k = before; k < placed.spots.size(); ++k) {
        EXPECT_NE(placed.spots[k].column, 1);
        EXPECT_TRUE(seen.insert({placed.spots[k].column, placed.spots[k].row, placed.spots[k].slot}).second);
    }
}

}  // namespace
}  // namespace kp::fabric
