// SPDX-License-Identifier: GPL-3.0-or-later
// A fabric for parts whose file does not say what is inside.
#include "core/fabric/generic.hpp"

#include "core/fabric/placement.hpp"
#include "tests/synthesis/same.hpp"

#include <algorithm>
#include <gtest/gtest.h>

namespace kp::fabric {
namespace {

/// A package of `pins` user pins and nothing inside.
Part bare_part(int pins) {
    Part part;
    part.name = "bare";
    part.package.per_side = (pins + 3) / 4;
    for (int k = 0; k < pins; ++k) {
        Pin pin;
        pin.name = std::to_string(k + 1);
        pin.kind = PinKind::io;
        pin.bank = "1";
        pin.side = k / part.package.per_side;
        pin.slot = k % part.package.per_side;
        part.by_name[pin.name] = part.pins.size();
        part.pins.push_back(std::move(pin));
    }
    return part;
}

/// A row of registers behind each other.
Netlist chain(int registers) {
    std::string text =
        "module top(input c, input d, output q);\nwire ci, ck, r0;\nSK_PAD_INPUT pc(.PAD(c), .Y(ci));\n"
        "SK_CLOCK_ROOT r(.A(ci), .Y(ck));\nSK_PAD_INPUT pd(.PAD(d), .Y(r0));\n";
    for (int k = 0; k < registers; ++k)
        text += "wire r" + std::to_string(k + 1) + ";\nSK_REGISTER f" + std::to_string(k) + "(.D(r" +
                std::to_string(k) + "), .CK(ck), .Q(r" + std::to_string(k + 1) + "));\n";
    text += "SK_PAD_OUTPUT pq(.A(r" + std::to_string(registers) + "), .PAD(q));\nendmodule\n";
    const SourceText source{"t.v", text};
    return read_netlist({&source, 1}, "top", synthesis::shipped_library()).take();
}

TEST(GenericFabric, HasRoomForHalfAsMuchAgainAndEverythingFits) {
    for (const int registers : {1, 7, 8, 9, 100, 1000}) {
        const auto n = chain(registers);
        const auto made = furnished(bare_part(12), n, synthesis::shipped_library());
        const auto& f = made.part.fabric;
        EXPECT_EQ(f.columns, f.rows);
        EXPECT_GE(f.columns * f.rows * f.cells_per_site, registers * 3 / 2);
        EXPECT_LE((f.columns - 1) * (f.rows - 1) * f.cells_per_site, std::max(32, registers * 3 / 2 + 8))
            << "no larger than it has to be";
        ASSERT_EQ(made.assumed.size(), 2U);
        for (const auto& a : made.assumed) EXPECT_FALSE(a.what.empty() || a.value.empty() || a.from.empty());
        PlaceSettings settings;
        settings.effort = 0.1;
        const auto placed =
            place_cells(n, synthesis::shipped_library(), made.part, {{"c", "1"}, {"d", "2"}, {"q", "3"}}, settings);
        ASSERT_TRUE(placed.ok()) << registers << ": " << placed.first().sentence();
        for (const auto& spot : placed.value().spots)
            EXPECT_TRUE(spot.column >= -1 && spot.column <= f.columns && spot.row >= -1 && spot.row <= f.rows);
    }
}

TEST(GenericFabric, IsAsLargeAsTheFileSaysWhereItCountsItsCells) {
    auto part = bare_part(12);
    part.resources.logic_cells = 5000;
    const auto made = furnished(part, chain(3), synthesis::shipped_library());
    EXPECT_GE(made.part.fabric.columns * made.part.fabric.rows * made.part.fabric.cells_per_site, 5000);
    EXPECT_EQ(made.part.resources.logic_cells, 5000);
    EXPECT_EQ(made.part.resources.registers, 5000) << "what the file leaves out is as large";
    EXPECT_NE(made.assumed[0].from.find("names its logic cells"), std::string::npos);
    // A design that does not fit what the file says is refused, not given more.
    part.resources.logic_cells = 4;
    part.resources.registers = 4;
    const auto n = chain(50);
    const auto small = furnished(part, n, synthesis::shipped_library());
    const auto placed =
        place_cells(n, synthesis::shipped_library(), small.part, {{"c", "1"}, {"d", "2"}, {"q", "3"}}, {});
    ASSERT_FALSE(placed.ok());
    EXPECT_NE(placed.first().text.find("The design needs 50 registers, the part bare has 4."), std::string::npos)
        << placed.first().text;
}

TEST(GenericFabric, LeavesAPartAloneThatSaysWhatIsInside) {
    auto part = bare_part(12);
    part.fabric.columns = 3;
    part.fabric.rows = 2;
    part.fabric.cells_per_site = 4;
    const auto made = furnished(part, chain(1000), synthesis::shipped_library());
    EXPECT_EQ(made.part.fabric.columns, 3);
    EXPECT_EQ(made.part.resources.logic_cells, 0);
    EXPECT_TRUE(made.assumed.empty());
}

}  // namespace
}  // namespace kp::fabric
