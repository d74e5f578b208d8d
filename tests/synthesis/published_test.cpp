// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/synthesis/same.hpp"

#include <bit>
#include <set>

namespace kp::synthesis {
namespace {

std::string design(const std::string& name) {
    return file_text(KP_SOURCE "/tests/synthesis/designs/" + name + ".sv");
}

std::string bits(unsigned value, size_t width) {
    std::string out;
    for (size_t k = width; k-- > 0;) out += (value >> k) & 1 ? '1' : '0';
    return out;
}

unsigned value(const std::string& bits) {
    unsigned out = 0;
    for (const char c : bits) out = out * 2 + (c == '1');
    return out;
}

TEST(Published, TheCrcOfNineDigitsIsTheCheckValue) {
    // Check value of CRC-32 as in IEEE 802.3: 0xCBF43926 of "123456789" (from memory, listed in many standards).
    SideBySide both(design("crc32_byte"));
    ASSERT_TRUE(both.good);
    both.set("en", "1");
    for (const char c : std::string("123456789")) {
        both.set("d", bits(static_cast<unsigned char>(c), 8));
        both.clock();
    }
    EXPECT_EQ(value(both.seen("crc")), 0xCBF43926U);
}

TEST(Published, AShiftRegisterWithThePrimitivePolynomialRunsThroughAllStates) {
    // x^7 + x^6 + 1 is primitive: period 2^7 - 1 (E. J. Watson, "Primitive polynomials (mod 2)", Math. Comp. 16, 1962).
    SideBySide both(design("lfsr"));
    ASSERT_TRUE(both.good);
    std::set<std::string> seen;
    for (int k = 0; k < 127; ++k) {
        EXPECT_TRUE(seen.insert(both.seen("q")).second) << k;
        both.clock();
    }
    EXPECT_EQ(both.seen("q"), "0000001");
}

TEST(Published, NeighboursOfTheGrayCounterDifferInOneBit) {
    // F. Gray, US patent 2632058, 1953.
    SideBySide both(design("gray_counter"));
    ASSERT_TRUE(both.good);
    both.set("en", "1");
    unsigned last = value(both.seen("gray"));
    for (int k = 0; k < 32; ++k) {
        both.clock();
        const auto now = value(both.seen("gray"));
        EXPECT_EQ(std::popcount(now ^ last), 1);
        last = now;
    }
}

/// FIPS 197, 5.1.1: the inverse in GF(2^8), then the affine map.
unsigned substituted(unsigned a) {
    const auto times = [](unsigned x, unsigned y) {
        unsigned p = 0;
        for (; y; y >>= 1) {
            if (y & 1) p ^= x;
            x = (x << 1) ^ (x & 0x80 ? 0x11B : 0);
        }
        return p & 0xFF;
    };
    unsigned inverse = 0;
    for (unsigned b = 0; b < 256 && a; ++b)
        if (times(a, b) == 1) inverse = b;
    unsigned out = 0x63;
    for (unsigned turn = 0; turn < 5; ++turn) out ^= ((inverse << turn) | (inverse >> (8 - turn))) & 0xFF;
    return out;
}

TEST(Published, TheSubstitutionBoxHasTheValuesOfTheStandard) {
    // FIPS 197, figure 7: S(00) = 63, S(53) = ed, S(ff) = 16, S(10) = ca.
    std::string source = "module top (input [7:0] a, output reg [7:0] y);\n  always @* case (a)\n";
    for (unsigned k = 0; k < 256; ++k)
        source += "    8'd" + std::to_string(k) + ": y = 8'd" + std::to_string(substituted(k)) + ";\n";
    SideBySide both(source + "  endcase\nendmodule\n");
    ASSERT_TRUE(both.good);
    for (const auto& [in, out] : {std::pair(0x00U, 0x63U), {0x53U, 0xEDU}, {0xFFU, 0x16U}, {0x10U, 0xCAU}}) {
        both.set("a", bits(in, 8));
        both.settle();
        EXPECT_EQ(value(both.seen("y")), out) << std::hex << in;
    }
    both.compare(1, 256);
}

struct Count {
    const char* name;
    std::string source;
    long long by_hand;
    const char* why;
};

/// Look-up and carry cells.
long long cells_of(const MapAnswer& a) {
    long long out = 0;
    for (const auto& [type, count] : a.cells)
        out += type.starts_with("SK_TABLE_") || type.starts_with("SK_SUM") ? count : 0;
    return out;
}

TEST(Published, LookUpsAreWithinAQuarterOfWhatHandsMake) {
    // Counts by hand (common practice, no source): a tree of n inputs takes (n - 1) / 3 four-input cells, a sum or a
    // comparison one carry cell a bit, a function of four inputs one cell.
    const std::vector<Count> all{
        {"adder of 16 bits", "module top(input [15:0] a, b, output [15:0] y); assign y = a + b; endmodule", 16,
         "a cell a bit"},
        {"counter of 16 bits",
         "module top(input clk, output reg [15:0] q); always @(posedge clk) q <= q + 1; endmodule", 16, "a cell a bit"},
        {"decoder of 4 to 16", "module top(input [3:0] a, output [15:0] y); assign y = 16'd1 << a; endmodule", 16,
         "a cell an output"},
        {"equality of 8 bits", "module top(input [7:0] a, b, output y); assign y = a == b; endmodule", 5, "16 inputs"},
        {"parity of 16 bits", "module top(input [15:0] a, output y); assign y = ^a; endmodule", 5, "16 inputs"},
        {"multiplexer of 8", "module top(input [7:0] a, input [2:0] s, output y); assign y = a[s]; endmodule", 5,
         "two of four inputs from two cells each, and one"},
        {"less than, 8 bits", "module top(input [7:0] a, b, output y); assign y = a < b; endmodule", 8,
         "a carry cell a bit"},
        {"seven segments", design("bcd_to_segments"), 14, "five inputs with blank: two cells each at most"},
        {"CRC-32, a bit at a time",
         "module top(input clk, d, output reg [31:0] c); wire f = c[31] ^ d;\n"
         "always @(posedge clk) c <= {c[30:0], 1'b0} ^ (f ? 32'h04C11DB7 : 0); endmodule",
         14, "one at each power of the polynomial but the highest"},
        {"Gray code to binary, 8 bits",
         "module top(input [7:0] g, output [7:0] b); assign b = {g[7], ^g[7:6], ^g[7:5], ^g[7:4], ^g[7:3], ^g[7:2], "
         "^g[7:1], ^g}; endmodule",
         7, "a cell a bit but the highest, on the one before"},
        {"and of 32 bits", "module top(input [31:0] a, output y); assign y = &a; endmodule", 11, "32 inputs: 31 / 3"}};
    for (const auto& c : all) {
        const auto mapped = map_text(c.source);
        ASSERT_TRUE(mapped.ok()) << c.name << ": " << mapped.first().sentence();
        EXPECT_LE(cells_of(mapped.value()) * 4, c.by_hand * 5)
            << c.name << ": " << cells_of(mapped.value()) << ", by hand " << c.by_hand << " (" << c.why << ")";
    }
}

}  // namespace
}  // namespace kp::synthesis
