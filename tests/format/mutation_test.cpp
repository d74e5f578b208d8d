// SPDX-License-Identifier: GPL-3.0-or-later
// A short, repeatable fuzzer over every reader: real files with bytes changed, cut, doubled. A reader answers with a
// value or with at least one message; it never crashes, hangs or asks for memory without end.
#include "core/base/disk.hpp"
#include "core/base/text.hpp"
#include "core/format/csv/csv.hpp"
#include "core/format/json/project_json.hpp"
#include "core/format/json/world_json.hpp"
#include "core/format/liberty/read.hpp"
#include "core/format/sdc/sdc_text.hpp"
#include "core/format/sdf/read.hpp"
#include "core/hdl/verilog/read_netlist.hpp"
#include "core/hdl/read_ports.hpp"

#include <functional>
#include <gtest/gtest.h>
#include <random>

namespace kp {
namespace {

std::string load(const std::string& path) {
    return real_disk().read(std::string(KP_SOURCE "/") + path).value();
}

/// One to four changes: a byte, a cut, a doubled stretch, a piece of another place, a number made huge.
std::string mutated(const std::string& text, std::mt19937& random) {
    std::string out = text;
    for (auto n = 1 + random() % 4; n > 0 && !out.empty(); --n) {
        const size_t at = random() % out.size();
        const size_t length = std::min<size_t>(random() % 40, out.size() - at);
        switch (random() % 6) {
            case 0: out[at] = static_cast<char>(random() % 256); break;
            case 1: out.erase(at, length); break;
            case 2: out.insert(at, out.substr(at, length)); break;
            case 3: out.insert(random() % out.size(), out.substr(at, length)); break;
            case 4: out.insert(at, std::string(1 + random() % 60, "(){}[]\"\\;:"[random() % 10])); break;
            default: out.insert(at, "99999999999999999999"); break;
        }
    }
    return out;
}

/// `read` gives the number of messages, or -1 when it gave a value.
void hammer(const std::string& text, int rounds, unsigned seed, const std::function<int(const std::string&)>& read) {
    std::mt19937 random(seed);
    EXPECT_EQ(read(text), -1) << "the file itself reads";
    for (int i = 0; i < rounds; ++i) {
        const auto broken = mutated(text, random);
        const int answer = read(broken);
        EXPECT_NE(answer, 0) << "seed " << seed << ", round " << i << ": neither a value nor a message";
    }
}

template <class T>
int answer(const Result<T>& r) {
    if (r) return -1;
    for (const auto& m : r.messages()) EXPECT_FALSE(m.text.empty());
    return static_cast<int>(r.messages().size());
}

TEST(Mutation, VerilogNetlist) {
    const auto library = read_liberty(load("data/cells/skerry.lib"), "l").take();
    hammer(load("demo/vane/vane.v"), 1500, 1, [&](const std::string& text) {
        const SourceText source{"v", text};
        return answer(read_netlist({&source, 1}, "vane", library));
    });
}

TEST(Mutation, VerilogPorts) {
    hammer(
        "module m #(parameter W = 4, D = (W*2)-1) (input wire [W-1:0] a, output reg [D:0] b);\n always @* b = "
        "a;\nendmodule\nmodule n(x);\n input [8'h3:0] x;\nendmodule\n",
        6000, 2, [](const std::string& text) {
            const SourceText source{"v", text};
            return answer(read_ports({&source, 1}, "m"));
        });
}

TEST(Mutation, Liberty) {
    hammer(load("data/cells/skerry.lib"), 800, 3,
           [](const std::string& text) { return answer(read_liberty(text, "l")); });
}

TEST(Mutation, Sdf) {
    hammer(load("demo/vane/vane.sdf"), 600, 4, [](const std::string& text) { return answer(read_sdf(text, "d")); });
}

TEST(Mutation, PartBoardProjectAndStandards) {
    hammer(load("data/parts/skr11-q144.part.json"), 300, 5,
           [](const std::string& text) { return answer(read_part(text, "p")); });
    hammer(load("data/boards/tussock.board.json"), 600, 6,
           [](const std::string& text) { return answer(read_board(text, "b")); });
    hammer(load("demo/vane/vane.kpeg"), 600, 7,
           [](const std::string& text) { return answer(read_project(text, "k")); });
    hammer(load("data/standards/io.standards.json"), 600, 8,
           [](const std::string& text) { return answer(read_standards(text, "s")); });
}

TEST(Mutation, BooleanFunctions) {
    hammer("(A & !B) | (C ^ D') + E F", 20000, 9, [](const std::string& text) { return answer(parse_boolean(text)); });
}

TEST(Mutation, SdcSpansStayInsideTheText) {
    std::mt19937 random(10);
    const auto text = load("demo/vane/ports.sdc");
    for (int i = 0; i < 5000; ++i) {
        const auto broken = mutated(text, random);
        size_t last = 0;
        for (const auto& span : sdc::split_commands(broken, "s").commands) {
            ASSERT_LE(last, span.begin);
            ASSERT_LE(span.begin, span.end);
            ASSERT_LE(span.end, broken.size());
            last = span.end;
            for (const auto& word : sdc::words_of(broken, span))
                ASSERT_TRUE(word.begin >= span.begin && word.end <= span.end);
        }
        (void)read_csv(broken);
    }
}

}  // namespace
}  // namespace kp
