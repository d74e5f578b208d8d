// SPDX-License-Identifier: GPL-3.0-or-later
// Sentences, codes and subjects: what people read and what programs ask.
#include "core/base/result.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cctype>
#include <cstdint>
#include <gtest/gtest.h>
#include <limits>
#include <random>
#include <set>

namespace kp {
namespace {

TEST(Said, ValuesComeInOrderAsTheyAre) {
    const std::string name = "seg[0]";
    const char* what = "pin";
    const std::string_view pin = "K4";
    EXPECT_EQ(said("{} sits on {} {}, {} times.", name, what, pin, 3), "seg[0] sits on pin K4, 3 times.");
    EXPECT_EQ(said("{}{}{}", "", 'x', std::string()), "x");
    EXPECT_EQ(said("nothing to fill"), "nothing to fill");
}

TEST(Said, WholeNumbersOfEverySizeKeepTheirSign) {
    EXPECT_EQ(said("{}", std::numeric_limits<std::int64_t>::min()), "-9223372036854775808");
    EXPECT_EQ(said("{}", std::numeric_limits<std::uint64_t>::max()), "18446744073709551615");
    EXPECT_EQ(said("{} {}", std::int8_t{-1}, std::uint8_t{200}), "-1 200");
    std::mt19937_64 random(5);
    for (int k = 0; k < 2000; ++k) {
        const auto n = static_cast<std::int64_t>(random()) >> (random() % 60);
        EXPECT_EQ(said("{}", n), std::to_string(n));
    }
}

TEST(Said, BracketsOfValuesAreNoPlaces) {
    EXPECT_EQ(said("[get_ports {{{}}}]", "a b"), "[get_ports {a b}]");
    EXPECT_EQ(said("{} and {}", "{}", "{0:>99999999999}"), "{} and {0:>99999999999}");
    EXPECT_EQ(said("{{}}"), "{}");
    const std::string odd("nul\0inside", 10);
    EXPECT_EQ(said("<{}>", odd), "<" + odd + ">");
}

TEST(Codes, EachHasAWordOfItsOwnInTheWayOfJson) {
    std::set<std::string> seen;
    for (std::size_t k = 0; k < code_count; ++k) {
        const std::string word = word_of(static_cast<Code>(k));
        EXPECT_TRUE(seen.insert(word).second) << word;
        EXPECT_TRUE(std::all_of(word.begin(), word.end(), [](unsigned char c) { return std::islower(c) || c == '-'; }))
            << word;
        EXPECT_TRUE(word.front() != '-' && word.back() != '-') << word;
    }
    // Words that have shipped stay.
    EXPECT_STREQ(word_of(Code::unknown_cell), "unknown-cell");
    EXPECT_STREQ(word_of(Code::no_match), "no-match");
    EXPECT_STREQ(word_of(Code::export_file), "export");
    EXPECT_STREQ(word_of(Code::template_file), "template");
    EXPECT_STREQ(word_of(Code::board_module), "module");
    EXPECT_STREQ(word_of(Code::what_if), "what-if");
}

TEST(Subjects, EachKindHasAWordOfItsOwn) {
    std::set<std::string> seen;
    for (int k = Subject::port; k <= Subject::waived; ++k)
        EXPECT_TRUE(seen.insert(word_of(static_cast<Subject::Kind>(k))).second) << k;
    EXPECT_EQ(seen.count(""), 0U);
}

TEST(Messages, TheSentenceHasThePlaceAsFarAsItIsKnown) {
    Message m{Severity::stop, Code::syntax, "A bracket is open.", "a.sdc", 3, 7};
    EXPECT_EQ(m.sentence(), "a.sdc:3:7: A bracket is open.");
    m.column = 0;
    EXPECT_EQ(m.sentence(), "a.sdc:3: A bracket is open.");
    m.line = 0;
    EXPECT_EQ(m.sentence(), "a.sdc: A bracket is open.");
    m.file.clear();
    EXPECT_EQ(m.sentence(), "A bracket is open.");
}

}  // namespace
}  // namespace kp
