// SPDX-License-Identifier: GPL-3.0-or-later
// The table of names against a plain map, and the quick way of reading decimals against the library's.
#include "core/base/name_table.hpp"
#include "core/base/text.hpp"

#include <charconv>
#include <cstring>
#include <gtest/gtest.h>
#include <random>
#include <unordered_map>

namespace kp {
namespace {

/// Names as netlists have them, and such as share their first eight letters, their length, or nothing with others.
std::string random_name(std::mt19937& random) {
    switch (random() % 5) {
        case 0: return "n" + std::to_string(random() % 5000);
        case 1: return "same_beginning_" + std::to_string(random() % 5000);
        case 2: return std::string(random() % 300, 'a' + static_cast<char>(random() % 3));
        case 3: return std::string("a\0b", 3) + static_cast<char>(random() % 4);
        default: return "block/" + std::to_string(random() % 50) + "/reg[" + std::to_string(random() % 32) + "]";
    }
}

TEST(NameTable, IsWhatAMapWouldBe) {
    std::mt19937 random(7);
    NameTable table;
    std::unordered_map<std::string, std::uint32_t> map;
    for (int i = 0; i < 60'000; ++i) {
        const auto name = random_name(random);
        const auto known = map.find(name);
        EXPECT_EQ(table.find(name), known == map.end() ? NameTable::none : known->second) << name;
        if (random() % 3 == 0) continue;
        const auto expected = map.try_emplace(name, static_cast<std::uint32_t>(map.size())).first->second;
        ASSERT_EQ(table.add(name), expected) << name;
        ASSERT_EQ(table[expected], name);
    }
    EXPECT_EQ(table.size(), map.size());
}

TEST(NameTable, TheTwoStepsAreTheOne) {
    NameTable one, two;
    two.reserve(1000, 100'000);
    std::mt19937 random(8);
    for (int i = 0; i < 5000; ++i) {
        const auto name = random_name(random);
        const auto hash = NameTable::hash_of(name);
        two.expect(hash);
        ASSERT_EQ(one.add(name), two.add(name, hash));
    }
}

TEST(NameTable, TakesTheEmptyNameOfNoPlace) {
    NameTable table;
    EXPECT_EQ(table.find({}), NameTable::none);
    EXPECT_EQ(table.add({}), 0u);
    EXPECT_EQ(table.add(std::string_view("", 0)), 0u);
    EXPECT_EQ(table[0], "");
}

/// Nearest double, bit for bit, as std::from_chars gives it.
TEST(Decimals, AreTheBitsOfTheLibrary) {
    std::mt19937_64 random(9);
    const auto bits = [](double v) {
        std::uint64_t out;
        std::memcpy(&out, &v, sizeof out);
        return out;
    };
    for (int i = 0; i < 200'000; ++i) {
        std::string text = random() % 4 == 0 ? "-" : "";
        for (auto n = random() % 12; n > 0; --n) text += static_cast<char>('0' + random() % 10);
        if (random() % 2) text += '.';
        for (auto n = random() % 9; n > 0; --n) text += static_cast<char>('0' + random() % 10);
        double expected = 0;
        const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), expected);
        if (error != std::errc() || end != text.data() + text.size()) continue;
        const auto got = to_number(text);
        ASSERT_TRUE(got.has_value()) << text;
        ASSERT_EQ(bits(*got), bits(expected)) << text;
    }
    for (const char* bad : {"", "-", ".", "-.", "1.2.3", "1-2", "--1", "1e", "0x", "1,5", "nan1"})
        EXPECT_FALSE(to_number(bad).has_value()) << bad;
    EXPECT_EQ(to_number("999999999999999"), 999999999999999.0);
    EXPECT_EQ(to_number("9007199254740993"), 9007199254740992.0);  // 2^53 + 1: beyond the quick way, rounded to even
}

}  // namespace
}  // namespace kp
