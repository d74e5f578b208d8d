// SPDX-License-Identifier: GPL-3.0-or-later
// kpeg lines on an invented template of a whole board, with three shapes of lines, all commented.
#include "core/base/disk.hpp"
#include "core/format/json/json_text.hpp"
#include "tests/kpeg/runner.hpp"

#include <gtest/gtest.h>

#include <algorithm>
#include <filesystem>
#include <fstream>
#include <sstream>
#include <unistd.h>

namespace {

using OrderedJson = kp::Json;
using kpeg_test::run;

const char* const pattern_text = R"({"schema": "kitepeg.lines/1", "name": "manual", "comment": "##", "shapes": [
  {"example": "##place ROSE(5) on PAD 59", "marks": {"port": [8, 7], "pin": [23, 2]}},
  {"example": "##level ROSE(5) is \"3V3 LVCMOS\"", "marks": {"port": [8, 7], "standard": [20, 10]}}],
  "spellings": {"standard": {"3V3 LVCMOS": "LVCMOS 3.3 V"}}})";

const char* const template_text =
    "## Tussock, all pads. Take the marks away.\n"
    "\n"
    "##place LAMP(1) on PAD 50\n"
    "##level LAMP(1) is \"3V3 LVCMOS\"\n"
    "place SPARE on PAD 999\n"
    "place SPARE upon PAD 999\n"
    "##place HORN on PAD 112   ## the sounder\r\n";

struct Folder {
    std::filesystem::path path = std::filesystem::temp_directory_path() / ("kp_lines_" + std::to_string(::getpid()));
    Folder() {
        std::filesystem::remove_all(path);
        std::filesystem::create_directories(path);
        std::ofstream(path / "p.json") << pattern_text;
        std::ofstream(path / "t.txt", std::ios::binary) << template_text;
    }
    ~Folder() { std::filesystem::remove_all(path); }
    [[nodiscard]] std::string at(const char* name) const { return (path / name).string(); }
    [[nodiscard]] std::string read(const char* name) const {
        std::ostringstream out;
        out << std::ifstream(path / name, std::ios::binary).rdbuf();
        return out.str();
    }
};

TEST(KpegLines, ReadsATemplateAndWritesItForAProject) {
    const Folder f;
    const auto a = run("lines --pattern " + f.at("p.json") + " " + f.at("t.txt") +
                       " --json - --project " KP_SOURCE "/demo/vane/vane.kpeg --keep-unused --out " + f.at("o.txt"));
    ASSERT_EQ(a.status, 0) << a.err;
    const auto j = OrderedJson::parse(a.out);
    EXPECT_EQ(j["schema"], "kitepeg.lines/1");
    ASSERT_EQ(j["rows"].size(), 4u);
    EXPECT_EQ(j["rows"][1]["standard"], "LVCMOS 3.3 V");
    EXPECT_EQ(j["rows"][1]["shape"], 1);
    EXPECT_TRUE(j["rows"][1]["pin"].is_null());
    EXPECT_EQ(j["signals"][0]["lines"].dump(), "[3,4]");
    ASSERT_EQ(j["unread"].size(), 1u);
    EXPECT_EQ(j["unread"][0]["line"], 6);
    EXPECT_EQ(f.read("o.txt"),
              "## Tussock, all pads. Take the marks away.\n"
              "\n"
              "place rose_n(3) on PAD 50\n"
              "level rose_n(3) is \"3V3 LVCMOS\"\n"
              "##place SPARE on PAD 999\n"
              "place SPARE upon PAD 999\n"
              "place tone on PAD 112   ## the sounder\r\n");
}

TEST(KpegLines, RefusesWithOneSentence) {
    const Folder f;
    std::ofstream(f.path / "bad.json") << R"({"schema": "kitepeg.lines/1", "shapes": []})";
    const auto why = [&](const std::string& arguments) {
        const auto a = run("lines " + arguments);
        EXPECT_EQ(a.status, 2) << arguments;
        EXPECT_EQ(std::count(a.err.begin(), a.err.end(), '\n'), 1) << a.err;
        return a.err;
    };
    EXPECT_EQ(why("--pattern " + f.at("bad.json") + " " + f.at("t.txt") + " --json -"),
              "kpeg: " + f.at("bad.json") + ": The pattern has no shape; mark the words of one line.\n");
    EXPECT_NE(why("--pattern " + f.at("p.json") + " " + f.at("t.txt") + " --json - --out x").find("go together"),
              std::string::npos);
    EXPECT_NE(why("--pattern " + f.at("p.json") + " " + f.at("t.txt") + " --json " + f.at("t.txt")).find("t.txt"),
              std::string::npos)
        << "a result never writes over an input";
    EXPECT_EQ(f.read("t.txt"), template_text);
}

}  // namespace
