// SPDX-License-Identifier: GPL-3.0-or-later
// What SdfWriter writes is SDF 3.0 (IEEE 1497-2001) that the reader takes back entry by entry.
#include "core/format/sdf/read.hpp"
#include "core/format/sdf/write.hpp"

#include <cmath>
#include <gtest/gtest.h>
#include <random>

namespace kp {
namespace {

DelayEntry path(std::string_view type, std::string_view instance, std::string_view from, std::string_view to, double ns,
                char edge = 0) {
    DelayEntry e;
    e.cell_type = type;
    e.instance = instance;
    e.from = from;
    e.to = to;
    e.from_edge = edge;
    e.rise = {ns * 0.5, ns * 0.75, ns};
    e.fall = {ns * 0.25, ns * 0.5, ns * 0.75};
    return e;
}

DelayEntry wire(std::string_view from, std::string_view to, double ns) {
    DelayEntry e;
    e.kind = DelayEntry::interconnect;
    e.cell_type = "top";
    e.from = from;
    e.to = to;
    e.rise = e.fall = {ns * 0.5, ns * 0.75, ns};
    return e;
}

TEST(SdfWriter, WritesTheTextOfTheStandard) {
    SdfWriter out("top", "a test");
    out.take(wire("u1/Y", "u2/A", 1));
    out.take(wire("u1/Y", "u3/A", 2));
    out.take(path("LOOK", "u2", "A", "Y", 0.4));
    out.take(path("REG", "r", "CK", "Q", 0.8, 'p'));
    EXPECT_EQ(out.finish(),
              "(DELAYFILE\n  (SDFVERSION \"3.0\")\n  (DESIGN \"top\")\n  (PROGRAM \"a test\")\n  (DIVIDER /)\n"
              "  (TIMESCALE 1ns)\n"
              "  (CELL (CELLTYPE \"top\") (INSTANCE)\n    (DELAY (ABSOLUTE\n"
              "      (INTERCONNECT u1/Y u2/A (0.5000:0.7500:1.0000))\n"
              "      (INTERCONNECT u1/Y u3/A (1.0000:1.5000:2.0000))\n    ))\n  )\n"
              "  (CELL (CELLTYPE \"LOOK\") (INSTANCE u2)\n    (DELAY (ABSOLUTE\n"
              "      (IOPATH A Y (0.2000:0.3000:0.4000) (0.1000:0.2000:0.3000))\n    ))\n  )\n"
              "  (CELL (CELLTYPE \"REG\") (INSTANCE r)\n    (DELAY (ABSOLUTE\n"
              "      (IOPATH (posedge CK) Q (0.4000:0.6000:0.8000) (0.2000:0.4000:0.6000))\n    ))\n  )\n)\n");
}

TEST(SdfWriter, AnEmptyFileIsOne) {
    SdfWriter out("nothing", "a test");
    const auto read = read_sdf(out.finish(), "n.sdf");
    ASSERT_TRUE(read.ok()) << read.first().sentence();
    EXPECT_EQ(read.value().size(), 0U);
    EXPECT_EQ(read.value().design, "nothing");
}

// Names as netlists have them: brackets, dots, hierarchy, dollars, blanks are not among them.
TEST(SdfWriter, WhateverItTakesComesBack) {
    std::mt19937 random(11);
    const std::string letters = "ab_Z09[].$-+|";
    const auto name = [&] {
        std::string out = "n";
        for (auto k = random() % 9; k > 0; --k) out += letters[random() % letters.size()];
        return out;
    };
    for (int round = 0; round < 60; ++round) {
        std::vector<std::string> names;
        for (int k = 0; k < 40; ++k) names.push_back(name());
        std::vector<DelayEntry> entries;
        SdfWriter out("top", "a test");
        std::vector<std::string> kept;
        kept.reserve(200);
        for (int k = 0; k < 30; ++k) {
            const double ns = static_cast<double>(random() % 100000) / 10000.0;
            if (random() % 2) {
                kept.push_back(names[random() % 40] + "/" + "Y");
                kept.push_back(names[random() % 40] + "/" + "A");
                entries.push_back(wire(kept[kept.size() - 2], kept.back(), ns));
            } else {
                entries.push_back(path("T", names[random() % 40], "A", "Y", ns, "\0pn"[random() % 3]));
            }
            out.take(entries.back());
        }
        const auto text = out.finish();
        const auto read = read_sdf(text, "r.sdf");
        ASSERT_TRUE(read.ok()) << read.first().sentence() << "\n" << text;
        ASSERT_EQ(read.value().size(), entries.size());
        for (std::size_t k = 0; k < entries.size(); ++k) {
            const auto e = read.value()[k];
            EXPECT_EQ(e.kind, entries[k].kind);
            EXPECT_EQ(e.from, entries[k].from) << text;
            EXPECT_EQ(e.to, entries[k].to);
            EXPECT_EQ(e.from_edge, entries[k].from_edge);
            if (e.kind == DelayEntry::iopath) EXPECT_EQ(e.instance, entries[k].instance);
            for (std::size_t c = 0; c < 3; ++c) EXPECT_NEAR(e.rise[c], entries[k].rise[c], 5.1e-5);
        }
    }
}

}  // namespace
}  // namespace kp
