// SPDX-License-Identifier: GPL-3.0-or-later
// Texts by learned patterns. All texts are invented, as messy as life: comments, blanks, quotes, several lines a
// signal.
#include "core/format/json/json_text.hpp"
#include "core/format/lines/pattern_json.hpp"

#include "core/base/disk.hpp"
#include "core/format/json/world_json.hpp"

#include <gtest/gtest.h>

namespace kp::lines {
namespace {

/// A shape from an example in which "{port:led<0>}" marks a word.
Shape shape(const std::string& marked) {
    Shape out;
    for (size_t i = 0; i < marked.size(); ++i) {
        const auto colon = marked[i] == '{' ? marked.find(':', i) : std::string::npos;
        if (colon == std::string::npos) {
            out.example += marked[i];
            continue;
        }
        const auto end = marked.find('}', colon);
        out.marks.push_back({marked.substr(i + 1, colon - i - 1), out.example.size(), end - colon - 1});
        out.example += marked.substr(colon + 1, end - colon - 1);
        i = end;
    }
    return out;
}

Pattern pattern(std::vector<std::string> examples, const std::string& comment = "#") {
    Pattern p;
    p.comment = comment;
    for (const auto& e : examples) p.shapes.push_back(shape(e));
    return p;
}

std::string rows(const Pattern& p, const std::string& text) {
    const auto r = read(p, text, "t");
    if (!r) return r.first().sentence();
    std::string out;
    for (const auto& row : r.value().rows) {
        out += std::to_string(row.line) + (row.commented ? "#" : ":");
        for (const auto& [field, value] : row.values) out += " " + field + "=" + value;
        out += "; ";
    }
    for (const auto& u : r.value().unread) out += std::to_string(u.line) + "? " + u.why + "; ";
    return out;
}

TEST(Lines, WhatIsNotMarkedIsAlikeButForBlanks) {
    const auto p = pattern({"assign {port:led[0]} = {pin:P12} ;"});
    EXPECT_EQ(rows(p, "assign led[1]=P13;\n  assign   key  =  A7   ;\r\n\nassign led[2] = P14\n"),
              "1: pin=P13 port=led[1]; 2: pin=A7 port=key; 4? ';' is expected at column 20; ");
    EXPECT_EQ(rows(p, "Assign led = P1;"), "1? 'assign' is expected at column 1, not 'Assign led ='; ");
    EXPECT_EQ(rows(p, "assign led = P1; more"), "1? the end is expected at column 18, not 'more'; ");
}

TEST(Lines, NumbersInBracketsBelongToTheName) {
    Pattern p;
    p.shapes = {{"put led(0) at 12", {{"port", 4, 3}, {"pin", 14, 2}}}};  // only "led" is marked
    EXPECT_EQ(rows(p, "put led(3) at 13\nput key at 7\nput bus<2><1> at 9"),
              "1: pin=13 port=led(3); 2: pin=7 port=key; 3: pin=9 port=bus<2><1>; ");
}

TEST(Lines, InsideQuotesAllCounts) {
    const auto p = pattern({"wire \"{port:led<0>}\" std=\"{standard:LVCMOS 3.3 V}\" loc = \"{pin:PAD_12}\""});
    EXPECT_EQ(rows(p, "wire \"led<1>\" std=\"LVCMOS @3V3\" loc=\"PAD_3\"\n"),
              "1: pin=PAD_3 port=led<1> standard=LVCMOS @3V3; ");
}

TEST(Lines, CommentsAreKnownButNotUsed) {
    const auto p = pattern({"#io {port:a} {pin:1}"});  // the example itself is commented
    EXPECT_EQ(rows(p, "#io b 2\nio c 3 # here\n# a title\n#\n  io d 4\n"),
              "1# pin=2 port=b; 2: pin=3 port=c; 5: pin=4 port=d; ");
}

TEST(Lines, OtherCommentMarksAndValuesToSkip) {
    const auto p = pattern({"{pin:12},{value:row 1},{port:clk},{standard:LVTTL}"}, "//");
    EXPECT_EQ(rows(p, "//13,row 2,rst,LVTTL\n7,x,key,LVCMOS33 // note, with commas\n"),
              "1# pin=13 port=rst standard=LVTTL value=row 2; 2: pin=7 port=key standard=LVCMOS33 value=x; ");
}

TEST(Lines, MarksAndSpellingsMayHoldBlanksAndQuotes) {
    auto p = pattern({"set {port:led} {pin:A1} {standard:3.3 cmos}"});
    p.spellings["standard"] = {{"3.3 cmos", "LVCMOS 3.3 V"}, {"3.3", "short"}, {"3.3 cmos fast", "LVCMOS 3.3 V"}};
    EXPECT_EQ(rows(p, "set key B2 3.3 cmos\nset key B3   3.3 cmos fast\n"),
              "1: pin=B2 port=key standard=LVCMOS 3.3 V; 2: pin=B3 port=key standard=LVCMOS 3.3 V; ");
    auto quoted = pattern({"set {port:led} level {standard:\"CMOS 3.3\"} at {pin:A1}"});
    quoted.spellings["standard"] = {{"\"CMOS 3.3\"", "LVCMOS 3.3 V"}};
    EXPECT_EQ(rows(quoted, "set key level \"CMOS 3.3\" at B2\nset x level \"TTL 5\" at B3\n"),
              "1: pin=B2 port=key standard=LVCMOS 3.3 V; 2: pin=B3 port=x standard=\"TTL 5\"; ");
    // A word behind ends a value with blanks.
    const auto before = pattern({"use {standard:2.5 volt cmos} for {port:led}"});
    EXPECT_EQ(rows(before, "use 1.8 volt for key"), "1: port=key standard=1.8 volt; ");
}

TEST(Lines, ACommentedLineIsReadWithItsTail) {
    const auto p = pattern({"set {port:led} at {pin:A1}"});
    EXPECT_EQ(rows(p, "#set key at B2 the left one\n# prose about keys\n#set other\n"),
              "1# pin=B2 port=key; 3? 'at' is expected at column 10; ");
    const std::string text = "#set key at B2 the left one\n";
    const auto r = read(p, text, "t").take();
    EXPECT_EQ(rewrite(p, text, r, {"key"}, true), "set key at B2 # the left one\n");
    EXPECT_EQ(rewrite(p, text, r, {""}, true), text);
}

TEST(Lines, SeveralLinesOfASignalAreJoined) {
    const auto p = pattern({"loc {port:a} {pin:1}", "std {port:a} {standard:X}", "drive {port:a} {drive:8}"});
    const auto r = read(p, "loc led[0] 4\nstd led[0] S\n#drive led[0] 12\n#loc key 5\nloc led<0> 6\n", "t");
    ASSERT_TRUE(r);
    ASSERT_EQ(r.value().joined.size(), 2u);
    const auto& led = r.value().joined[0];
    EXPECT_FALSE(led.commented);
    EXPECT_EQ(led.rows.size(), 4u);
    EXPECT_EQ(led.values.at("pin"), "4");
    EXPECT_EQ(led.values.at("standard"), "S");
    EXPECT_EQ(led.values.at("drive"), "12");
    EXPECT_TRUE(r.value().joined[1].commented);
    ASSERT_EQ(r.value().messages.size(), 1u);
    EXPECT_EQ(r.value().messages[0].sentence(), "t:5: led[0] has the pin 4 and 6; the first counts.");
}

TEST(Lines, ALineOfAnotherShapeForAKnownSignalIsAskedFor) {
    const auto r = read(pattern({"loc {port:a} {pin:1}"}), "loc led[0] 4\nstd other S\nstd led<0> S\n", "t");
    ASSERT_TRUE(r);
    ASSERT_EQ(r.value().messages.size(), 1u);
    EXPECT_EQ(r.value().messages[0].sentence(),
              "t:3: Line 3 speaks of led<0> as well, in another shape; mark its words too.");
}

TEST(Lines, SpellingsAreTurnedIntoOurs) {
    auto p = pattern({"{port:a} {pin:PAD_1} {standard:X} {slew:F}"});
    p.pin_prefix = "PAD_";
    p.spellings["standard"]["LV33"] = "LVCMOS 3.3 V";
    p.spellings["slew"]["F"] = "fast";
    EXPECT_EQ(rows(p, "b PAD_12 LV33 F\nc 13 other S\n"),
              "1: pin=12 port=b slew=fast standard=LVCMOS 3.3 V; 2: pin=13 port=c slew=S standard=other; ");
}

TEST(Lines, WrongPatternsSayWhatIsWrong) {
    const auto why = [](Pattern p) { return Matcher::make(p).first().text; };
    EXPECT_EQ(why({}), "The pattern has no shape; mark the words of one line.");
    EXPECT_EQ(why(pattern({"a {pin:1}"})), "No word of 'a 1' is marked as port.");
    EXPECT_EQ(why(pattern({"{port:a}{pin:1}"})), "Two marks meet in 'a1'; nothing says where one ends.");
    Pattern p;
    p.shapes = {{"ab", {{"port", 1, 5}}}};
    EXPECT_EQ(why(p), "The mark of port lies outside of its example 'ab'.");
    p.shapes = {{"ab", {{"port", 0, 2}, {"pin", 1, 1}}}};
    EXPECT_EQ(why(p), "The mark of pin overlaps another one in 'ab'.");
    p.shapes = {{"ab", {{"colour", 0, 1}}}};
    EXPECT_TRUE(why(p).starts_with("A mark says 'colour'"));
}

std::vector<Port> ports(std::initializer_list<const char*> names) {
    std::vector<Port> out;
    for (const char* name : names) {
        Port p;
        p.name = name;
        out.push_back(p);
    }
    return out;
}

std::string rewritten(const Pattern& p, const std::string& text, const std::vector<Port>& design,
                      const std::map<std::string, std::string>& pegs, bool keep = true) {
    Project project;
    for (const auto& [port, pin] : pegs) project.pegs[port] = {pin, PegState::pegged, ""};
    const auto r = read(p, text, "t");
    return rewrite(p, text, r.value(), used_by(r.value(), design, project), keep);
}

TEST(LinesBack, UsedLinesAreActiveAndRenamedTheRestStaysToTheByte) {
    auto p = pattern({"loc {port:a<0>} {pin:P1} ;", "std {port:a} {standard:X} ;"});
    p.pin_prefix = "P";
    const std::string text =
        "# Board template, rev 2\r\n\r\n#loc LD<0>   P4 ;  # left lamp\r\n#std LD<0> L33 ;\r\nloc SW<1> P9;\n"
        "std SW<1> L33;\nloc reset_n P2 ;\nsomething else\n#loc FREE P7;";
    const auto design = ports({"lamp[2]", "key", "reset_n"});
    EXPECT_EQ(rewritten(p, text, design, {{"lamp[2]", "4"}, {"key", "9"}}),
              "# Board template, rev 2\r\n\r\nloc lamp<2>   P4 ;  # left lamp\r\nstd lamp<2> L33 ;\r\nloc key P9;\n"
              "std key L33;\nloc reset_n P2 ;\nsomething else\n#loc FREE P7;");
    EXPECT_EQ(rewritten(p, text, design, {{"lamp[2]", "4"}, {"key", "30"}, {"reset_n", "31"}}, false),
              "# Board template, rev 2\r\n\r\nloc lamp<2>   P4 ;  # left lamp\r\nstd lamp<2> L33 ;\r\nsomething "
              "else\n");
    EXPECT_EQ(rewritten(p, text, design, {{"lamp[2]", "4"}, {"key", "30"}, {"reset_n", "31"}}),
              "# Board template, rev 2\r\n\r\nloc lamp<2>   P4 ;  # left lamp\r\nstd lamp<2> L33 ;\r\n#loc SW<1> "
              "P9;\n#std SW<1> L33;\n#loc reset_n P2 ;\nsomething else\n#loc FREE P7;");
}

TEST(LinesBack, ThereAndBackIsTheSameText) {
    const auto p = pattern({"io {port:a} {pin:1}"});
    const std::string text = "io a 1\n#io b 2\n\n# words\nio c 3\r\n";
    EXPECT_EQ(rewritten(p, text, ports({"a", "c"}), {{"a", "1"}, {"c", "3"}}), text);
    const auto none = rewritten(p, text, {}, {});
    EXPECT_EQ(none, "#io a 1\n#io b 2\n\n# words\n#io c 3\r\n");
    EXPECT_EQ(rewritten(p, none, ports({"a", "c"}), {{"a", "1"}, {"c", "3"}}), text);
}

TEST(LinesBack, APortIsWrittenOnce) {
    const auto p = pattern({"io {port:a} {pin:1}"});
    EXPECT_EQ(rewritten(p, "io x 1\nio y 1\n", ports({"led"}), {{"led", "1"}}), "io led 1\n#io y 1\n");
}

TEST(LinesJson, ReadsAndWritesPatternsInCharacters) {
    const std::string text =
        R"({"schema": "kitepeg.lines/1", "name": "mine", "comment": "--", "shapes": [{"example": "ü led 12",
            "marks": {"port": [2, 3], "pin": [6, 2], "value": [0, 1]}}],
            "spellings": {"standard": {"L": "LVTTL 3.3 V"}, "pin_prefix": "P"}})";
    const auto p = read_pattern(text, "p.json");
    ASSERT_TRUE(p) << p.first().sentence();
    EXPECT_EQ(p.value().shapes[0].marks.size(), 3u);
    EXPECT_EQ(rows(p.value(), "ä key P7"), "1: pin=7 port=key value=ä; ");
    const auto again = read_pattern(write_json(pattern_json(p.value())), "p.json");
    ASSERT_TRUE(again);
    EXPECT_EQ(again.value().shapes, p.value().shapes);
    EXPECT_EQ(again.value().spellings, p.value().spellings);
    EXPECT_EQ(read_pattern(R"({"schema": "kitepeg.lines/1", "shapes": [{"example": "a", "marks": {"port": 3}}]})", "p")
                  .first()
                  .text,
              "The mark of port is not [first, length].");
}

TEST(LinesClick, AWordIsWhatAClickMeans) {
    const std::string line = "set \"3.3 V\" led[3] = P12;";
    const auto word = [&](size_t at) {
        const auto [first, length] = word_at(line, at);
        return length ? line.substr(first, length) : std::string();
    };
    EXPECT_EQ(word(1), "set");
    EXPECT_EQ(word(7), "3.3 V");
    EXPECT_EQ(word(13), "led[3]");
    EXPECT_EQ(word(16), "led[3]");
    EXPECT_EQ(word(22), "P12");
    EXPECT_EQ(word(19), "");
    EXPECT_EQ(word(99), "");
}

// A dozen spellings of one standard, common practice, no source.
TEST(LinesStandard, ADozenSpellingsOfOneStandard) {
    const auto file = std::string(KP_SOURCE "/data/standards/io.standards.json");
    const auto table = read_standards(real_disk().read(file).value(), file).take();
    for (const char* theirs : {"LVCMOS33", "LVCMOS_33", "lvcmos 3.3", "LVCMOS @3V3", "LVCMOS 3.3 V", "LVCMOS3V3",
                               "LVCMOS_3V3", "3V3_LVCMOS", "3.3V LVCMOS", "lvcmos3p3", "LVCMOS-3.3V", "LVCMOS(3.3)"})
        EXPECT_EQ(likely_standard(theirs, table), "LVCMOS 3.3 V") << theirs;
    EXPECT_EQ(likely_standard("LVTTL", table), "LVTTL 3.3 V");
    EXPECT_EQ(likely_standard("SSTL18_I", table), "SSTL 1.8 V class I");
    EXPECT_EQ(likely_standard("SSTL135", table), "SSTL 1.35 V");
    EXPECT_EQ(likely_standard("LVCMOS", table), "") << "several voltages";
    EXPECT_EQ(likely_standard("XYZ33", table), "");
}

}  // namespace
}  // namespace kp::lines
