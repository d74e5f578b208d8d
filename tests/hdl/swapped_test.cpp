// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/hdl/clocked.hpp"
#include "core/hdl/swapped.hpp"
#include "core/hdl/words.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

std::string swapped(const std::string& file, const std::string& text) {
    std::vector<SourceText> sources(1);
    sources[0].file = file;
    sources[0].text = text;
    std::string out;
    for (const auto& s : swapped_names(sources)) out += s.a + "/" + s.b + ":" + std::to_string(s.line) + " ";
    return out;
}

TEST(SwappedNames, AreToldByInstance) {
    EXPECT_EQ(swapped("t.v", "module t;\n m u(.in1(in2),\n .in2(in1), .y(y));\nendmodule"), "in1/in2:3 ");
    EXPECT_EQ(swapped("t.v", "m u(.in1(in1), .in2(in2));"), "");
    EXPECT_EQ(swapped("t.v", "m u(.in1(in2)); m v(.in2(in1));"), "") << "two instances are two matters";
    EXPECT_EQ(swapped("t.v", "m u(.a(b), .b(c), .c(a));"), "") << "a round of three is none";
    EXPECT_EQ(swapped("t.v", "m u(.txd(rxd), .rxd(txd));"), "") << "the sides of a link are meant to change places";
    EXPECT_EQ(swapped("t.v", "m u(/* .a(b), */ .b(a)); // .a(b)\n"), "");
    EXPECT_EQ(swapped("t.v", "m u(.a(b[1]), .b(a));"), "") << "only plain signals";
    EXPECT_EQ(swapped("t.vhd", "u: m port map (A => b,\n B => a);"), "a/b:2 ");
    EXPECT_EQ(swapped("t.vhd", "u: m port map (a => b, c => a);"), "");
    EXPECT_EQ(swapped("t.v", "((((((.a(b), .b(a)"), "a/b:1 ") << "text that does not compile";
    EXPECT_EQ(swapped("t.v", "))))"), "");
}

TEST(HdlWords, HaveTheirLines) {
    const auto words = hdl_words("a /* x\n y */ b // c\n\"d\ne\" f", false);
    ASSERT_EQ(words.size(), 3u);
    EXPECT_EQ(words[0].text + words[1].text + words[2].text, "abf");
    EXPECT_EQ(words[1].line, 2);
    EXPECT_EQ(words[2].line, 4);
    EXPECT_EQ(hdl_words("Ab -- c", true).size(), 1u);
    EXPECT_EQ(hdl_words("Ab", true)[0].text, "ab");
    EXPECT_EQ(hdl_words("/* never ends", false).size(), 0u);
}

}  // namespace
}  // namespace kp
