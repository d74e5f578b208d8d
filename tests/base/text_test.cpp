// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/checksum.hpp"
#include "core/base/disk.hpp"
#include "core/base/text.hpp"

#include <filesystem>
#include <gtest/gtest.h>
#include <regex>

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

TEST(Text, CountedWordsKnowOneFromMany) {
    EXPECT_EQ(counted(0, "cell"), "0 cells");
    EXPECT_EQ(counted(1, "cell"), "1 cell");
    EXPECT_EQ(counted(2, "cell"), "2 cells");
    EXPECT_EQ(counted(1, "stop is", "stops are"), "1 stop is");
    EXPECT_EQ(counted(0, "stop is", "stops are"), "0 stops are");
    EXPECT_EQ(counted(2, "frequency", "frequencies"), "2 frequencies");
}

/// Every word that is counted anywhere in the program, as it stands in the sources, with 0, 1 and 2 of it.
TEST(Text, EveryCountedWordOfTheProgramReadsWell) {
    namespace fs = std::filesystem;
    const std::regex call(
        "counted\\((?:[^()\"]|\\([^()]*(?:\\([^()]*\\)[^()]*)*\\))*,\\s*\"([^\"]+)\"(?:,\\s*\"([^\"]+)\")?\\)");
    // An s at the end would be wrong behind these, and an "is" or "has" needs its "are" or "have".
    const std::regex needs_own("(.*[^aeiou]y|.*(s|x|z|ch|sh)|half|bus)"),
        verb(".*\\b(is|has|was|holds|load|loads|it)\\b.*");
    size_t calls = 0;
    for (const char* folder : {"core", "app", "kpeg"})
        for (const auto& entry : fs::recursive_directory_iterator(std::string(KP_SOURCE "/") + folder)) {
            const auto ending = entry.path().extension();
            if (ending != ".cpp" && ending != ".hpp") continue;
            const auto text = real_disk().read(entry.path().string()).take();
            for (std::sregex_iterator at(text.begin(), text.end(), call), end; at != end; ++at, ++calls) {
                const auto one = (*at)[1].str(), many = (*at)[2].str();
                if (many.empty()) {
                    EXPECT_FALSE(std::regex_match(one, needs_own) || std::regex_match(one, verb))
                        << entry << ": " << one;
                } else {
                    EXPECT_NE(one, many) << entry;
                }
                for (const int n : {0, 1, 2}) {
                    const auto said = counted(n, one, many);
                    EXPECT_EQ(said, std::to_string(n) + " " + (n == 1 ? one : many.empty() ? one + "s" : many));
                }
            }
        }
    EXPECT_GT(calls, 120u) << "the sources are read";
}

/// Nobody counts by hand: a number in front of a word that is always plural, or a choice between both by == 1.
TEST(Text, NobodyCountsByHand) {
    namespace fs = std::filesystem;
    const std::regex choice("== 1 \\? \"( ?[a-z]+)(?![a-z])([^\"]*)\" : \"\\1(s|es)\\b");
    for (const char* folder : {"core", "app", "kpeg"})
        for (const auto& entry : fs::recursive_directory_iterator(std::string(KP_SOURCE "/") + folder)) {
            if (entry.path().extension() != ".cpp") continue;
            const auto text = real_disk().read(entry.path().string()).take();
            std::smatch hit;
            EXPECT_FALSE(std::regex_search(text, hit, choice)) << entry << ": " << hit.str();
        }
}

TEST(Checksum, Sha256OfAbc) {
    // FIPS 180-4, the example of the one-block message "abc" (value from memory).
    EXPECT_EQ(sha256("abc"), "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad");
}

}  // namespace
}  // namespace kp
