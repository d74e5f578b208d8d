// SPDX-License-Identifier: GPL-3.0-or-later
// The corpus of headers: each file says in its first comment lines what must be read from it.
//   = ask TOP | = define A=1 | = param W=8           what is asked
//   = top NAME | = port NAME DIR TYPE [L:R] | = caution CODE | = note CODE | = error LINE WORDS
#include "core/base/disk.hpp"
#include "core/base/text.hpp"
#include "core/inputs/world.hpp"

#include <gtest/gtest.h>
#include <sstream>

namespace kp {
namespace {

struct Expected {
    PortRequest request;
    std::vector<std::string> lines;
};

Expected expected(const std::string& text) {
    Expected out;
    std::istringstream in(text);
    for (std::string line; std::getline(in, line) && (line.starts_with("//= ") || line.starts_with("--= "));) {
        if (line.ends_with('\r')) line.pop_back();
        line = line.substr(4);
        const auto word = line.substr(0, line.find(' ')), rest = line.substr(line.find(' ') + 1);
        const auto equals = rest.find('=');
        if (word == "ask")
            out.request.top = rest;
        else if (word == "define")
            out.request.defines[rest.substr(0, equals)] = rest.substr(equals + 1);
        else if (word == "param")
            out.request.parameters[rest.substr(0, equals)] = to_integer(rest.substr(equals + 1)).value();
        else if (line != "caution none")
            out.lines.push_back(line);
    }
    return out;
}

std::vector<std::string> lines_of(const Result<PortList>& read) {
    std::vector<std::string> out;
    if (!read) {
        for (const auto& m : read.messages()) out.push_back("error " + std::to_string(m.line) + " " + m.text);
        return out;
    }
    const auto& top = read.value().top;
    const bool odd = top.find_first_of("- +") != std::string::npos;
    out.push_back("top " + (odd ? "\\" + top + (read.value().language == "vhdl" ? "\\" : "") : top));
    for (const auto severity : {Severity::caution, Severity::note})
        for (const auto& m : read.messages())
            if (m.severity == severity) out.push_back(std::string(name_of(severity)) + " " + word_of(m.code));
    for (const auto& p : read.value().ports)
        out.push_back("port " + p.name + " " + p.direction + " " + p.type +
                      (p.left ? " " + std::to_string(*p.left) + ":" + std::to_string(*p.right) : ""));
    return out;
}

TEST(Headers, TheCorpusReadsExactly) {
    const std::string folder = KP_SOURCE "/tests/hdl/headers";
    size_t verilog = 0, vhdl = 0;
    for (const char* ending : {".v", ".sv", ".vhd"})
        for (const auto& path : real_disk().list(folder, ending)) {
            const auto text = real_disk().read(path).value();
            auto want = expected(text);
            ASSERT_FALSE(want.lines.empty()) << path;
            const auto got = lines_of(load_ports(real_disk(), {path}, want.request));
            const bool refused = want.lines[0].starts_with("error");
            ++(std::string(ending) == ".vhd" ? vhdl : verilog);
            if (!refused) {
                EXPECT_EQ(got, want.lines) << path;
                continue;
            }
            ASSERT_GE(got.size(), want.lines.size()) << path;
            for (size_t i = 0; i < want.lines.size(); ++i) {
                const auto place = want.lines[i].find(' ', 6) + 1;
                EXPECT_TRUE(got[i].starts_with(want.lines[i].substr(0, place)) &&
                            got[i].find(want.lines[i].substr(place)) != std::string::npos)
                    << path << ": " << got[i];
            }
        }
    EXPECT_GE(verilog + vhdl, 60u);
    EXPECT_GE(vhdl, 20u);
}

TEST(Headers, EveryCutIsAnAnswer) {
    for (const char* ending : {".v", ".sv", ".vhd"})
        for (const auto& path : real_disk().list(KP_SOURCE "/tests/hdl/headers", ending)) {
            const auto text = real_disk().read(path).value();
            for (size_t n = 0; n < text.size(); n += 3) {
                const SourceText source{path, std::string_view(text).substr(0, n)};
                const auto read = read_ports({&source, 1}, "");
                EXPECT_TRUE(read || !read.messages().empty()) << path << " cut at " << n;
            }
        }
}

TEST(Headers, MacrosAndIncludesEnd) {
    const auto read = [](const std::string& text) {
        const SourceText source{"m.v", text};
        PortRequest request;
        request.include = [](const std::string&, const std::string&) -> std::optional<std::string> {
            return "`include \"again.vh\"\n";
        };
        return read_ports({&source, 1}, request);
    };
    EXPECT_NE(read("`define A `A\nmodule m(input [`A:0] x); endmodule").first().text.find("uses itself"),
              std::string::npos);
    EXPECT_NE(read("`define A `B\n`define B `A\nmodule m(input [`A:0] x); endmodule").first().text.find("uses itself"),
              std::string::npos);
    // In its own argument a macro may stand (IEEE 1800-2017, 22.5.1).
    const auto nested = read("`define MORE(a) (a+1)\nmodule m(input [`MORE(`MORE(`MORE(4))):0] x); endmodule");
    ASSERT_TRUE(nested.ok()) << nested.first().sentence();
    EXPECT_FALSE(nested.value().ports.empty());
    EXPECT_NE(read("`include \"again.vh\"\nmodule m(input x); endmodule").first().text.find("include each other"),
              std::string::npos);
    std::string bomb = "`define M0 aaaaaaaaaaaaaaaaaaaa\n";
    for (int i = 1; i < 40; ++i)
        bomb += "`define M" + std::to_string(i) + " `M" + std::to_string(i - 1) + " `M" + std::to_string(i - 1) + "\n";
    EXPECT_NE(read(bomb + "module m(input x); endmodule\n`M39\n").first().text.find("16 MB"), std::string::npos);
    EXPECT_NE(read("`ifdef A\nmodule m(input x);").first().text.find("no `endif"), std::string::npos);
}

TEST(Headers, DeepExpressionsAreRefused) {
    const std::string text =
        "module m(input [" + std::string(5000, '(') + "1" + std::string(5000, ')') + ":0] a); endmodule";
    const SourceText source{"m.v", text};
    EXPECT_NE(read_ports({&source, 1}, "").first().text.find("nested too deeply"), std::string::npos);
}

}  // namespace
}  // namespace kp
