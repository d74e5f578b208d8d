// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/line_merge.hpp"

#include <gtest/gtest.h>
#include <random>

namespace kp {
namespace {

std::vector<std::string_view> letters(const char* text) {
    std::vector<std::string_view> out;
    for (; *text; ++text) out.emplace_back(text, 1);
    return out;
}

size_t differences(const std::vector<LineHunk>& hunks) {
    size_t n = 0;
    for (const auto& h : hunks) n += (h.a_to - h.a_from) + (h.b_to - h.b_from);
    return n;
}

// Myers 1986, figures 1 and 2: from ABCABBA to CBABAC a shortest way has five insertions and deletions.
TEST(LineHunks, FindTheShortestWayOfThePaper) {
    EXPECT_EQ(differences(line_hunks(letters("ABCABBA"), letters("CBABAC"))), 5u);
    EXPECT_TRUE(line_hunks(letters("ABC"), letters("ABC")).empty());
    EXPECT_EQ(line_hunks({}, letters("AB")), (std::vector<LineHunk>{{0, 0, 0, 2}}));
}

/// Length of the longest common subsequence by the textbook's table (Wagner and Fischer 1974): a second opinion.
size_t common(const std::vector<std::string_view>& a, const std::vector<std::string_view>& b) {
    std::vector<std::vector<size_t>> l(a.size() + 1, std::vector<size_t>(b.size() + 1, 0));
    for (size_t i = a.size(); i-- > 0;)
        for (size_t j = b.size(); j-- > 0;)
            l[i][j] = a[i] == b[j] ? l[i + 1][j + 1] + 1 : std::max(l[i + 1][j], l[i][j + 1]);
    return l[0][0];
}

std::string random_text(std::mt19937& random, size_t lines) {
    std::string out;
    for (size_t i = 0; i < lines; ++i) out += std::string(1, static_cast<char>('a' + random() % 4)) + "\n";
    return out;
}

TEST(LineHunks, AreRightAndShortestOnRandomTexts) {
    std::mt19937 random(3);
    for (int round = 0; round < 2000; ++round) {
        const auto x = random_text(random, random() % 12), y = random_text(random, random() % 12);
        const auto a = lines_with_ends(x), b = lines_with_ends(y);
        const auto hunks = line_hunks(a, b);
        std::string made;
        size_t at = 0;
        for (const auto& h : hunks) {
            for (; at < h.a_from; ++at) made += a[at];
            for (size_t k = h.b_from; k < h.b_to; ++k) made += b[k];
            at = h.a_to;
        }
        for (; at < a.size(); ++at) made += a[at];
        ASSERT_EQ(made, y);
        ASSERT_EQ(differences(hunks), a.size() + b.size() - 2 * common(a, b));
    }
}

TEST(Merge, TakesWhatOnlyOneSideChanged) {
    std::mt19937 random(5);
    for (int round = 0; round < 2000; ++round) {
        const auto base = random_text(random, random() % 10), mine = random_text(random, random() % 10),
                   theirs = random_text(random, random() % 10);
        EXPECT_EQ(merged_text(merge_lines(base, mine, base), {}), mine);
        EXPECT_EQ(merged_text(merge_lines(base, base, theirs), {}), theirs);
        EXPECT_EQ(merged_text(merge_lines(base, mine, mine), {}), mine);
        const auto pieces = merge_lines(base, mine, theirs);
        // What is offered of one side is in that side.
        for (const auto& p : pieces) {
            if (!p.differs) continue;
            EXPECT_NE(mine.find(p.mine), std::string::npos);
            EXPECT_NE(theirs.find(p.theirs), std::string::npos);
            EXPECT_NE(base.find(p.base), std::string::npos);
        }
    }
}

TEST(Merge, LeavesOpenWhatBothChanged) {
    const auto pieces = merge_lines("a\nb\nc\nd\n", "A\nb\nX\nd\n", "a\nb\nY\nd\nnew\n");
    EXPECT_EQ(merged_text(pieces, {MergeChoice::mine}), "A\nb\nX\nd\nnew\n");
    EXPECT_EQ(merged_text(pieces, {MergeChoice::theirs}), "A\nb\nY\nd\nnew\n");
    EXPECT_EQ(merged_text(pieces, {MergeChoice::both}), "A\nb\nX\nY\nd\nnew\n");
    // Bytes stay: CRLF, a last line without end, Latin-1.
    EXPECT_EQ(merged_text(merge_lines("a\r\nb", "a\r\nb", "a\r\nb\xE9"), {}), "a\r\nb\xE9");
}

TEST(Merge, LargeTextsThatHaveNothingInCommonAreOneHunk) {
    std::string a, b;
    for (int i = 0; i < 30000; ++i) {
        a += "a" + std::to_string(i) + "\n";
        b += "b" + std::to_string(i) + "\n";
    }
    EXPECT_EQ(line_hunks(lines_with_ends(a), lines_with_ends(b)).size(), 1u);
}

}  // namespace
}  // namespace kp
