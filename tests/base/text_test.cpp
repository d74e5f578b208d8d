// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/checksum.hpp"
#include "core/base/text.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

TEST(Text, PlacesCountLinesAndColumnsFromOne) {
    EXPECT_EQ(place_of("ab\ncd", 0).line, 1);
    EXPECT_EQ(place_of("ab\ncd", 3).line, 2);
    EXPECT_EQ(place_of("ab\ncd", 4).column, 2);
    EXPECT_EQ(place_of("ab", 99).column, 3);
}

TEST(Text, EditDistanceIsLevenshtein) {
    // The textbook pair: three edits. Source: V. Levenshtein 1966; the example is common practice, no source.
    EXPECT_EQ(edit_distance("kitten", "sitting"), 3);
    EXPECT_EQ(edit_distance("", "abc"), 3);
}

TEST(Text, NearestNameIgnoresFarOnes) {
    const std::vector<std::string> names{"create_clock", "set_load", "rose_n"};
    EXPECT_EQ(nearest("create_clok", names), "create_clock");
    EXPECT_EQ(nearest("ROSE_N", names), "rose_n");
    EXPECT_EQ(nearest("quite_else", names), std::nullopt);
}

TEST(Text, GlobTakesBracketsLiterally) {
    struct Row {
        const char *pattern, *text;
        bool match;
    };
    for (const auto& r : {Row{"gray[*]", "gray[3]", true}, Row{"gray[?]", "gray[10]", false}, Row{"*", "", true},
                          Row{"a*b*c", "a1b2c", true}, Row{"a*b*c", "a1c2b", false}, Row{"[ab]", "a", false},
                          Row{"*/D", "u/v/D", true}})
        EXPECT_EQ(glob_match(r.pattern, r.text), r.match) << r.pattern << " on " << r.text;
    EXPECT_TRUE(glob_match("GR*", "gray", true));
}

TEST(Text, NumbersAreWholeAndFinite) {
    EXPECT_EQ(to_number(" 1.5 "), 1.5);
    EXPECT_EQ(to_number("+2e-3"), 0.002);
    for (const char* bad : {"", "1x", "nan", "inf", "1 2", "--1", "1e999"})
        EXPECT_EQ(to_number(bad), std::nullopt) << bad;
    EXPECT_EQ(to_integer("9223372036854775807"), 9223372036854775807LL);
    EXPECT_EQ(to_integer("9223372036854775808"), std::nullopt);
}

TEST(Text, FixedHasATrueMinusAndNoMinusZero) {
    EXPECT_EQ(fixed(-0.412, 3), "\u22120.412");
    EXPECT_EQ(fixed(-0.0001, 3), "0.000");
}

TEST(Text, NaturalOrderReadsNumbers) {
    EXPECT_TRUE(natural_less("lamp2", "lamp10"));
    EXPECT_FALSE(natural_less("lamp10", "lamp2"));
    EXPECT_TRUE(natural_less("a", "b"));
}

TEST(Checksum, Sha256OfAbc) {
    // FIPS 180-4, the example of the one-block message "abc" (value from memory).
    EXPECT_EQ(sha256("abc"), "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad");
}

}  // namespace
}  // namespace kp
