// SPDX-License-Identifier: GPL-3.0-or-later
// What leaves the program does no harm where it is read.
#include "core/format/json/json_text.hpp"
#include "core/base/checksum.hpp"
#include "core/base/memory_disk.hpp"
#include "core/format/csv/csv.hpp"
#include "core/handoff/findings_out.hpp"
#include "core/handoff/handoff.hpp"

#include <gtest/gtest.h>
#include <random>

namespace kp {
namespace {

// What spreadsheets take for formulas: common practice, no source.
TEST(Csv, StartsNoFormulaAndReadsBackToTheByte) {
    for (const char* text :
         {"=1+1", "+1", "-1", "@x", "\tx", "\rx", "'=x", "''@", "plain", "a=b", "'", "'quoted'", "", "=\"a,b\"\n"}) {
        const auto row = csv_row({"port", text, "end"});
        const auto cells = read_csv(row);
        ASSERT_EQ(cells.size(), 1u) << text;
        EXPECT_EQ(cells[0][1], text);
        // As a spreadsheet sees the cell: without the quotes of RFC 4180.
        auto cell = row.substr(5);
        if (cell.starts_with('"')) cell.erase(0, 1);
        EXPECT_EQ(std::string("=+-@\t\r").find(cell[0]), std::string::npos) << text;
    }
    std::mt19937 random(1);
    for (int i = 0; i < 3000; ++i) {
        std::vector<std::string> row(3);
        for (auto& cell : row)
            for (size_t n = random() % 5; n-- > 0;) cell += "='@-+\t\r\n\",;ab"[random() % 13];
        EXPECT_EQ(read_csv(csv_row(row)), std::vector<std::vector<std::string>>{row});
    }
}

TemplateInput input(const std::string& evil) {
    TemplateInput in;
    in.project = in.part = in.board = in.top = evil;
    SheetRow row;
    row.port = row.pin = row.terminal = evil;
    in.rows = {row, row};
    return in;
}

// CommonMark 0.30, sections 2.4 (backslash escapes), 6.3 (links) and 6.6 (raw HTML).
TEST(Markdown, ShowsNamesAsTheyAre) {
    const auto text = markdown_sheet(input("a|b<script>[x](http://y)*c*`d`\n# e\\"));
    EXPECT_EQ(text.find("<script>"), std::string::npos);
    EXPECT_NE(text.find("a\\|b&lt;script>[x]\\(http://y)\\*c\\*\\`d\\` # e\\\\"), std::string::npos) << text;
    // A title, a blank, a sentence, a blank, heading, rule, two rows.
    EXPECT_EQ(std::count(text.begin(), text.end(), '\n'), 8);
    EXPECT_NE(markdown_sheet(input("gray[3]_n")).find("| gray[3]\\_n "), std::string::npos);
}

TEST(Templates, ThatMultiplyAreRefusedBeforeTheyRun) {
    auto in = input("x");
    in.rows.resize(60);
    std::string bomb = "y";
    for (int i = 0; i < 12; ++i) bomb = "{{#ports}}" + bomb + "{{/ports}}";
    EXPECT_FALSE(render_template(bomb, "t", in).ok());
    EXPECT_FALSE(render_template(
                     "{{=<% %>=}}" +
                         [&] {
                             std::string b = "y";
                             for (int i = 0; i < 12; ++i) b = "<%#ports%>" + b + "<%/ports%>";
                             return b;
                         }(),
                     "t", in)
                     .ok());
    EXPECT_TRUE(render_template("{{#ports}}{{port}} {{#ports}}{{pin}}{{/ports}}\n{{/ports}}", "t", in).ok());
}

TEST(Findings, AreValidForAnyByteInAName) {
    Finding f;
    f.rule = "L01";
    f.severity = Severity::stop;
    std::string all;
    for (int c = 0; c < 256; ++c) all += static_cast<char>(c);
    f.text = f.file = all + "]]>\xEF\xBF\xBE\xEF\xBF\xBF";
    f.objects = {{Subject::port, all}};
    const auto junit = findings_junit({f}, all);
    for (size_t i = 0; i < junit.size(); ++i)
        EXPECT_TRUE(static_cast<unsigned char>(junit[i]) >= 0x20 || junit[i] == '\n' || junit[i] == '\t');
    EXPECT_EQ(junit.find("]]>"), std::string::npos);
    EXPECT_EQ(junit.find("\xEF\xBF\xBE"), std::string::npos);
    const auto sarif = write_json(findings_sarif({f}, "a b#c?.kpeg"));
    const auto back = Json::parse(sarif);
    // RFC 3986: a relative reference has no blank, no control character, no '#' or '?' of a file's name.
    const auto uri =
        back["runs"][0]["results"][0]["locations"][0]["physicalLocation"]["artifactLocation"]["uri"].get<std::string>();
    EXPECT_EQ(uri.find_first_of(" #?\n<>\"\\^`{|}"), std::string::npos);
    EXPECT_TRUE(uri.starts_with("%00%01"));
}

MemoryDisk demo_disk() {
    MemoryDisk disk;
    for (const char* file : {"vane-closed.kpeg", "vane.v", "vane.sdf", "closed-clocks.sdc", "closed-ports.sdc"})
        disk.files[std::string("p/") + file] = real_disk().read(std::string(KP_SOURCE "/demo/vane/") + file).take();
    for (const char* file :
         {"parts/skr11-q144.part.json", "boards/tussock.board.json", "standards/io.standards.json", "cells/skerry.lib"})
        disk.files[std::string("data/") + file] = real_disk().read(std::string(KP_SOURCE "/data/") + file).take();
    return disk;
}

TEST(Handoff, KeepsFilesOfOneNameApartAndSaysWhereEachCameFrom) {
    auto disk = demo_disk();
    auto& project = disk.files["p/vane-closed.kpeg"];
    auto j = Json::parse(project);
    for (const auto& [path, text] :
         {std::pair{"a/t.sdc", "# in a\n"}, std::pair{"b/t.sdc", "# in b\n"}, std::pair{"b/T.SDC", "# shouted\n"},
          std::pair{"report.html", "# no report\n"}, std::pair{"b/manifest.json", "# no manifest\n"}}) {
        j["constraints"].push_back({{"path", path}});
        disk.files[std::string("p/") + path] = text;
    }
    project = j.dump();
    auto s = Session::open(disk, "p/vane-closed.kpeg", "data").take();
    s->analyse_now();
    const auto status = write_handoff(disk, *s, "p/out", true);
    ASSERT_TRUE(status.ok()) << status.first().sentence();
    const auto manifest = Json::parse(disk.files["p/out/manifest.json"]);
    std::map<std::string, std::string> from;
    for (const auto& f : manifest["files"]) {
        const auto name = f["name"].get<std::string>();
        EXPECT_EQ(f["sha256"], sha256(disk.files.at("p/out/" + name)));
        if (f.contains("from")) from[f["from"].get<std::string>()] = name;
    }
    for (const auto& [path, name] : from) EXPECT_EQ(disk.files.at("p/out/" + name), disk.files.at("p/" + path)) << path;
    EXPECT_EQ(from.size(), 8u) << "seven constraint files and the netlist";
    EXPECT_EQ(from["a/t.sdc"], "t.sdc");
    EXPECT_EQ(from["b/t.sdc"], "b-t.sdc");
    EXPECT_NE(disk.files.at("p/out/report.html").find("<html"), std::string::npos);
    std::set<std::string> roles;
    for (const auto& f : manifest["inputs"]) roles.insert(f["role"].get<std::string>());
    EXPECT_EQ(roles, (std::set<std::string>{"part", "board", "cells", "netlist", "delays"}));
}

TEST(Handoff, WritesOverNothingThatIsNotItsOwn) {
    auto disk = demo_disk();
    auto s = Session::open(disk, "p/vane-closed.kpeg", "data").take();
    s->analyse_now();
    disk.files["p/out/pins.csv"] = "mine";
    EXPECT_FALSE(write_handoff(disk, *s, "p/out", true).ok());
    EXPECT_EQ(disk.files["p/out/pins.csv"], "mine");
    EXPECT_FALSE(disk.files.contains("p/out/report.html"));
    disk.files.erase("p/out/pins.csv");
    ASSERT_TRUE(write_handoff(disk, *s, "p/out", true).ok());
    // Its own is replaced, and what is no longer part of it goes; what somebody changed stays.
    ASSERT_TRUE(s->apply({"off",
                          {SdcFileChange{s->project().constraints[1],
                                         [&] {
                                             auto f = s->project().constraints[1];
                                             f.handoff = false;
                                             return f;
                                         }()}}})
                    .ok());
    s->analyse_now();
    ASSERT_TRUE(write_handoff(disk, *s, "p/out", true).ok());
    EXPECT_FALSE(disk.files.contains("p/out/closed-ports.sdc"));
    disk.files["p/out/report.html"] += "<!-- annotated -->";
    EXPECT_FALSE(write_handoff(disk, *s, "p/out", true).ok());
    EXPECT_EQ(write_handoff(disk, *s, "elsewhere", true).first().code, Code::outside);
}

/// However far a handoff got before the power went, it can be made again, and then it is whole.
TEST(Handoff, OneThatWasInterruptedCanBeRepeated) {
    MemoryDisk whole = demo_disk();
    auto first = Session::open(whole, "p/vane-closed.kpeg", "data").take();
    first->analyse_now();
    const int before = whole.calls;
    ASSERT_TRUE(write_handoff(whole, *first, "p/out", true).ok());
    const int steps = whole.calls - before;
    for (int step = 1; step <= steps; step += 1 + steps / 60) {
        MemoryDisk disk = demo_disk();
        {
            auto s = Session::open(disk, "p/vane-closed.kpeg", "data").take();
            s->analyse_now();
            disk.crash_at = disk.calls + step;
            try {
                (void)write_handoff(disk, *s, "p/out", true);
            } catch (const PowerCut&) {
            }
            disk.crash_at = 0;
        }
        auto s = Session::open(disk, "p/vane-closed.kpeg", "data").take();
        s->analyse_now();
        const auto again = write_handoff(disk, *s, "p/out", true);
        ASSERT_TRUE(again.ok()) << step << ": " << again.first().sentence();
        EXPECT_FALSE(disk.files.contains("p/out/unfinished.json"));
        for (const auto& [path, text] : whole.files)
            if (path.starts_with("p/out/")) EXPECT_EQ(disk.files[path], text) << path;
    }
}

TEST(Handoff, AFileOfTheUsersThatIsNamedLikeItsNoteStays) {
    MemoryDisk disk = demo_disk();
    auto s = Session::open(disk, "p/vane-closed.kpeg", "data").take();
    s->analyse_now();
    for (const char* text : {"my own list", R"({"files": []})"}) {
        disk.files["p/out/unfinished.json"] = text;
        const auto status = write_handoff(disk, *s, "p/out", true);
        ASSERT_FALSE(status.ok());
        EXPECT_NE(status.first().sentence().find("unfinished.json"), std::string::npos);
        EXPECT_EQ(disk.files["p/out/unfinished.json"], text);
        EXPECT_FALSE(disk.files.contains("p/out/manifest.json"));
    }
}

}  // namespace
}  // namespace kp
