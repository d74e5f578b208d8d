// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/hdl/source/lex.hpp"
#include "core/hdl/source/parser.hpp"

#include <gtest/gtest.h>

namespace kp::source {
namespace {

std::string bits(const char* text) {
    const auto l = literal_of(text);
    return l ? l->bits : "none";
}

TEST(Literals, AreWhatTheStandardsExamplesSay) {
    // IEEE 1364-2005, 3.5.1, examples 1 to 3: 659, 'h 837FF, 4'b1001, 5 'D 3, 3'b01x, 12'hx, 16'hz, 8 'd 6, 27_195_000,
    // 16'b0011_0101_0001_1111.
    EXPECT_EQ(bits("659"), std::string(22, '0') + "1010010011");
    EXPECT_EQ(bits("'h 837FF"), std::string(12, '0') + "10000011011111111111");
    EXPECT_EQ(bits("4'b1001"), "1001");
    EXPECT_EQ(bits("5 'D 3"), "00011");
    EXPECT_EQ(bits("3'b01x"), "01x");
    EXPECT_EQ(bits("12'hx"), "xxxxxxxxxxxx");
    EXPECT_EQ(bits("16'hz"), "zzzzzzzzzzzzzzzz");
    EXPECT_EQ(bits("8 'd 6"), "00000110");
    EXPECT_EQ(bits("16'b0011_0101_0001_1111"), "0011010100011111");
    EXPECT_EQ(std::stoul(bits("27_195_000"), nullptr, 2), 27195000UL);
    // 3.5.1, example 4: what is wider than its size loses its upper bits, x and z fill upwards.
    EXPECT_EQ(bits("4'hff"), "1111");
    EXPECT_EQ(bits("8'bz1"), "zzzzzzz1");
    EXPECT_EQ(bits("8'b01x"), "0000001x");
    EXPECT_EQ(bits("4'b??1?"), "zz1z");
    EXPECT_TRUE(literal_of("4'shf")->is_signed);
    EXPECT_FALSE(literal_of("4'hf")->is_signed);
    EXPECT_TRUE(literal_of("12")->is_signed);
    EXPECT_TRUE(literal_of("'1")->fill);
}

TEST(Literals, WhatIsNoNumberIsNone) {
    for (const char* text : {"", "4'", "4'b2", "8'o9", "8'hg", "0'b1", "99999999'b1", "1.5", "'d1x", "4'd"})
        EXPECT_FALSE(literal_of(text)) << text;
}

std::vector<std::string> words(const std::string& text, const PortRequest& request = {}) {
    const SourceText source{"t.v", text};
    std::vector<std::string> files, out;
    const auto w = words_of({&source, 1}, request, files);
    if (!w) return {"refused: " + w.first().sentence()};
    for (const auto& word : w.value())
        if (word.kind != Word::end) out.push_back(word.word);
    return out;
}

TEST(Words, OperatorsAreJoinedLongestFirst) {
    EXPECT_EQ(words("a<<<b>>>=c<=d===e"),
              (std::vector<std::string>{"a", "<<<", "b", ">>>=", "c", "<=", "d", "===", "e"}));
    EXPECT_EQ(words("a[1 +: 2]&&!b"), (std::vector<std::string>{"a", "[", "1", "+:", "2", "]", "&&", "!", "b"}));
    EXPECT_EQ(words("x < = y"), (std::vector<std::string>{"x", "<", "=", "y"}));  // a blank keeps them apart
    EXPECT_EQ(words("s==1?a:b"), (std::vector<std::string>{"s", "==", "1", "?", "a", ":", "b"}));
}

TEST(Words, MacrosAndIncludesAreFollowed) {
    PortRequest request;
    request.defines["W"] = "7";
    request.include = [](const std::string& name, const std::string&) -> std::optional<std::string> {
        if (name == "more.vh") return "`define TWICE(x) ((x) + (x))\n";
        return std::nullopt;
    };
    EXPECT_EQ(words("`include \"more.vh\"\n`TWICE(`W)", request),
              (std::vector<std::string>{"(", "(", "7", ")", "+", "(", "7", ")", ")"}));
    EXPECT_EQ(words("`ifdef W\nyes\n`else\nno\n`endif", request), (std::vector<std::string>{"yes"}));
    EXPECT_NE(words("`MISSING")[0].find("`MISSING is not defined"), std::string::npos);
    EXPECT_NE(words("`include \"none.vh\"", request)[0].find("refused"), std::string::npos);
}

TEST(Words, KnowTheirLinesInEveryFile) {
    const std::vector<SourceText> sources{{"a.v", "module a;\n\nendmodule\n"},
                                          {"b.v", "\nmodule b(input x);\nassign y = ;\nendmodule\n"}};
    const auto code = read_code(sources, {});
    ASSERT_FALSE(code.ok());
    EXPECT_EQ(code.first().file, "b.v");
    EXPECT_EQ(code.first().line, 3);
}

TEST(Grammar, DeepAndLongThingsEndWithASentence) {
    const auto refused = [](const std::string& text) {
        const SourceText source{"t.v", text};
        const auto code = read_code({&source, 1}, {});
        EXPECT_FALSE(code.ok());
        return code.ok() ? std::string() : code.first().text;
    };
    EXPECT_NE(refused("module t; assign a = " + std::string(5000, '(') + "1;").find("nested"), std::string::npos);
    std::string many = "module t; assign a = 1";
    for (int k = 0; k < 30000; ++k) many += " + 1";
    EXPECT_NE(refused(many + "; endmodule").find("more than 1000 operators"), std::string::npos);
    std::string begins = "module t; always @* ";
    for (int k = 0; k < 3000; ++k) begins += "begin ";
    EXPECT_NE(refused(begins).find("nested"), std::string::npos);
}

}  // namespace
}  // namespace kp::source
