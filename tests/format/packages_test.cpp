// SPDX-License-Identifier: GPL-3.0-or-later
// Packages and their users, in one file and in any order of files (IEEE 1076-2008, 13.1; IEEE 1800-2017, 26): what is
// planned does not depend on how the files were picked.
#include "core/hdl/read_ports.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

std::string ports(const std::vector<SourceText>& sources) {
    const auto list = read_ports(sources, PortRequest{});
    if (!list) return list.first().sentence();
    std::string out = list.value().top + ":";
    for (const auto& p : list.value().ports) out += " " + p.name + "(" + std::to_string(p.width()) + ")";
    return out;
}

const char* const sizes =
    "package sizes is\n  constant width : integer := 6;\n  subtype word_t is bit_vector(width - 1 downto 0);\nend "
    "package sizes;\n";
const char* const more =
    "use work.sizes.all;\npackage more is\n  constant twice : integer := 2 * width;\nend package;\n";
const char* const user =
    "library ieee;\nuse ieee.std_logic_1164.all;\nuse work.sizes.all;\nuse work.more.all;\nentity gate is\n  port (a : "
    "in word_t; b : out std_logic_vector(twice - 1 downto 0));\nend entity;\n";

TEST(VhdlPackages, InOneFileWithTheirUser) {
    EXPECT_EQ(ports({{"a.vhd",
                      "package c is constant w : integer := 4; end package; use work.c.all; entity e is port (d : in "
                      "bit_vector(w-1 downto 0)); end e;"}}),
              "e: d(4)");
    EXPECT_EQ(ports({{"a.vhd", std::string(sizes) + more + user}}), "gate: a(6) b(12)");
    EXPECT_EQ(ports({{"a.vhd",
                      "package c is\n  type r is record x : bit; end record;\n  component k is port (q : in bit); end "
                      "component;\n  constant w : integer := 3;\nend c;\nentity e is port (d : in bit_vector(w-1 "
                      "downto 0)); end;"}}),
              "e: d(3)");
}

TEST(VhdlPackages, TheOrderOfFilesDoesNotMatter) {
    const std::vector<SourceText> all{{"1.vhd", user}, {"2.vhd", more}, {"3.vhd", sizes}};
    EXPECT_EQ(ports(all), "gate: a(6) b(12)");
    EXPECT_EQ(ports({all[2], all[1], all[0]}), "gate: a(6) b(12)");
    EXPECT_EQ(ports({all[1], all[0], all[2]}), "gate: a(6) b(12)");
}

TEST(SystemVerilogPackages, TheOrderOfFilesDoesNotMatter) {
    const SourceText low{"p.sv", "package low; parameter W = 5; typedef logic [W-1:0] word_t; endpackage\n"},
        high{"q.sv", "package high; localparam N = low::W + 2; endpackage\n"};
    const SourceText top{"t.sv",
                         "module gate import low::*; (input word_t a, output logic [high::N-1:0] b); endmodule\n"};
    EXPECT_EQ(ports({low, high, top}), "gate: a(5) b(7)");
    EXPECT_EQ(ports({top, high, low}), "gate: a(5) b(7)");
}

}  // namespace
}  // namespace kp
