// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/format/sdf/read.hpp"

#include <cmath>
#include <gtest/gtest.h>

namespace kp {
namespace {

std::string delays(const std::string& body) {
    return "(DELAYFILE (SDFVERSION \"3.0\") (DIVIDER /) (TIMESCALE 100ps)\n(CELL (CELLTYPE \"C\") (INSTANCE u1)\n" +
           body + "))";
}

TEST(Sdf, ReadsTriplesAndScales) {
    const auto f = read_sdf(
        delays("(DELAY (ABSOLUTE (IOPATH (posedge A) Y (1:2:3) (::4)) (INTERCONNECT a/Y b/A (5)) ))"), "d.sdf");
    ASSERT_TRUE(f.ok()) << f.first().sentence();
    const auto& e = f.value();
    ASSERT_EQ(e.size(), 2u);
    EXPECT_EQ(e[0].from_edge, 'p');
    EXPECT_DOUBLE_EQ(e[0].rise[0], 0.1);
    EXPECT_DOUBLE_EQ(e[0].rise[2], 0.3);
    EXPECT_TRUE(std::isnan(e[0].fall[0]));
    EXPECT_DOUBLE_EQ(e[0].fall[2], 0.4);
    EXPECT_DOUBLE_EQ(e[1].fall[1], 0.5);  // one value stands for both edges
    EXPECT_EQ(e[0].line, 3);
}

TEST(Sdf, ReadsChecksConditionsAndIncrements) {
    const auto f = read_sdf(delays("(DELAY (INCREMENT (COND A==1'b1 (IOPATH B Y (1) () ))))\n(TIMINGCHECK (SETUPHOLD D "
                                   "(posedge CK) (2) (1)) (WIDTH (posedge CK) (9)))"),
                            "d.sdf");
    ASSERT_TRUE(f.ok()) << f.first().sentence();
    const auto& e = f.value();
    ASSERT_EQ(e.size(), 4u);
    EXPECT_EQ(e[0].condition, "A==1'b1");
    EXPECT_TRUE(e[0].increment);
    EXPECT_TRUE(std::isnan(e[0].fall[1]));  // empty () keeps the value
    EXPECT_EQ(e[1].kind, DelayEntry::setup);
    EXPECT_EQ(e[2].kind, DelayEntry::hold);
    EXPECT_DOUBLE_EQ(e[2].rise[0], 0.1);
    EXPECT_EQ(e[3].kind, DelayEntry::width);
}

TEST(Sdf, ErrorsNameThePlace) {
    EXPECT_EQ(read_sdf("hello", "d.sdf").first().sentence(),
              "d.sdf:1:1: '(DELAYFILE' is expected; this is not an SDF file.");
    EXPECT_EQ(read_sdf(delays("(DELAY (ABSOLUTE (IOPATH A Y (1.x))))"), "d.sdf").first().sentence(),
              "d.sdf:3:35: The number '1.x' is not understood.");
    EXPECT_EQ(read_sdf("(DELAYFILE (CELL (CELLTYPE \"C\"", "d.sdf").first().sentence(),
              "d.sdf:1:31: ')' is expected after the cell type; the file seems to be cut off.");
    EXPECT_EQ(read_sdf("(DELAYFILE (TIMESCALE 1year))", "d.sdf").first().text,
              "The time scale '1year' is not understood; it should be like 1ns or 100ps.");
}

TEST(Sdf, EveryCutIsAnAnswer) {
    const auto whole = delays(
        "(DELAY (ABSOLUTE (COND A (IOPATH (posedge A) Y (1:2:3) (::4)))))(TIMINGCHECK (SETUPHOLD D (posedge CK) (2) "
        "(1)))");
    for (size_t n = 0; n < whole.size(); ++n)
        EXPECT_FALSE(read_sdf(std::string_view(whole).substr(0, n), "d.sdf").ok()) << n;
}

}  // namespace
}  // namespace kp
