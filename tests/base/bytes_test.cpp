// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/bytes.hpp"

#include <gtest/gtest.h>
#include <random>

namespace kp {
namespace {

// RFC 3629, section 7: examples; section 3: what is not UTF-8.
TEST(Bytes, QuotationsAreCutAndApostrophesAreNot) {
    const std::string kept(60, 'a'), longer = kept + "b";
    EXPECT_EQ(with_short_quotes("The project's port '" + kept + "' is not there."),
              "The project's port '" + kept + "' is not there.");
    EXPECT_EQ(with_short_quotes("'" + longer + "' and '" + longer + "'."), "'" + kept + "…' and '" + kept + "…'.");
    EXPECT_EQ(with_short_quotes("'" + std::string(59, 'a') + "\xC3\xA4\xC3\xA4'"), "'" + std::string(59, 'a') + "…'");
    EXPECT_EQ(with_short_quotes("an open ' quote " + longer), "an open ' quote " + longer);
    EXPECT_EQ(with_short_quotes(""), "");
}

TEST(Utf8, IsThatOfRfc3629) {
    for (const char* good : {"\x41\xE2\x89\xA2\xCE\x91\x2E", "\xED\x95\x9C\xEA\xB5\xAD\xEC\x96\xB4",
                             "\xE6\x97\xA5\xE6\x9C\xAC\xE8\xAA\x9E", "\xEF\xBB\xBF\xF0\xA3\x8E\xB4"})
        EXPECT_TRUE(is_utf8(good));
    for (const char* bad : {"\xC0\x80", "\xED\xA1\x8C\xED\xBE\xB4", "\xF5\x80\x80\x80", "\xE9", "\xE2\x89", "\x80",
                            "\xF0\x80\x80\xAF", "\xF4\x90\x80\x80"})
        EXPECT_FALSE(is_utf8(bad)) << bad;
    EXPECT_EQ(valid_text("caf\xE9!"), "caf\xEF\xBF\xBD!");
}

// RFC 4648, section 10: test vectors.
TEST(Base64, IsThatOfRfc4648) {
    const std::pair<const char*, const char*> vectors[] = {{"", ""},
                                                           {"f", "Zg=="},
                                                           {"fo", "Zm8="},
                                                           {"foo", "Zm9v"},
                                                           {"foob", "Zm9vYg=="},
                                                           {"fooba", "Zm9vYmE="},
                                                           {"foobar", "Zm9vYmFy"}};
    for (const auto& [plain, coded] : vectors) {
        EXPECT_EQ(to_base64(plain), coded);
        EXPECT_EQ(from_base64(coded), plain);
    }
    for (const char* bad : {"Zg=", "Z===", "Zg==Zg==", "Zm9v!", "Zm 9"}) EXPECT_FALSE(from_base64(bad)) << bad;
}

TEST(Messages, AreOneLineWhateverIsInThem) {
    EXPECT_EQ(one_line("a\nb\r\tc\x7F"), "a b  c ");
    EXPECT_EQ(one_line("a\xC2\x85"
                       "b\xE2\x80\xA8"
                       "c"),
              "a  b c");
    EXPECT_EQ(without_foreign_quotes("Nothing is named 'caf\xE9'."), "Nothing is named something that is not text.");
    EXPECT_EQ(without_foreign_quotes("Nothing is named 'café'."), "Nothing is named 'café'.");
    EXPECT_EQ(without_foreign_quotes("'module' is expected here, not '\xFF'."),
              "'module' is expected here, not something that is not text.");
}

TEST(Shown, LatinOneMarksAndNulBytesAreSeenAndKept) {
    const std::string bytes("\xEF\xBB\xBF# caf\xE9 \0 \xC3\xA9\r\n", 16);
    EXPECT_EQ(shown_text(bytes), "# café \xE2\x90\x80 é\r\n");
    EXPECT_FALSE(change_to_show(bytes, shown_text(bytes)));
    // One letter is typed: everything else stays to the byte.
    const auto change = change_to_show(bytes, "# café \xE2\x90\x80 é!\r\n");
    ASSERT_TRUE(change);
    EXPECT_EQ(change->offset, 14u);
    EXPECT_EQ(change->before, "");
    EXPECT_EQ(change->after, "!");
    // In a file with Latin-1 bytes an é that is typed is one of them; what Latin-1 has not is UTF-8.
    EXPECT_EQ(change_to_show("\xE9 x", "é é")->after, "\xE9");
    EXPECT_EQ(change_to_show("\xE9 x", "é →")->after, "→");
    EXPECT_EQ(change_to_show("e x", "e é")->after, "é");
    // A change inside a character takes the character as a whole.
    const auto whole = change_to_show("aéb", "aèb");
    EXPECT_EQ(whole->before, "é");
    EXPECT_EQ(whole->after, "è");
}

TEST(Shown, AnyEditOfAnyBytesLeadsToWhatIsShown) {
    std::mt19937 random(7);
    const std::string letters[] = {"a", "\n", "é", "→", "\xE9", std::string(1, '\0'), "\xEF\xBB\xBF", "\x80", "𝛀"};
    for (int round = 0; round < 4000; ++round) {
        std::string bytes;
        for (size_t i = random() % 12; i-- > 0;) bytes += letters[random() % std::size(letters)];
        auto shown = shown_text(bytes);
        ASSERT_TRUE(is_utf8(shown));
        // Cut a piece out between two characters, and put another in.
        const auto place = [&] {
            size_t at = random() % (shown.size() + 1);
            while (at > 0 && at < shown.size() && (static_cast<unsigned char>(shown[at]) & 0xC0) == 0x80) --at;
            return at;
        };
        size_t from = place(), to = place();
        if (from > to) std::swap(from, to);
        shown.replace(from, to - from, shown_text(letters[random() % 4]));
        const auto change = change_to_show(bytes, shown);
        std::string then = bytes;
        if (change) {
            ASSERT_EQ(then.substr(change->offset, change->before.size()), change->before);
            then.replace(change->offset, change->before.size(), change->after);
        }
        EXPECT_EQ(shown_text(then), shown) << "round " << round;
    }
}

}  // namespace
}  // namespace kp
