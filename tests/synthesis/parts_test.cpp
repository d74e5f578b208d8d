// SPDX-License-Identifier: GPL-3.0-or-later
// The pieces of the builder by themselves: gates, covers, enables, pads, delays, power.
#include "core/synthesis/cover.hpp"
#include "core/fabric/delays_out.hpp"
#include "core/fabric/power.hpp"
#include "core/synthesis/tidy.hpp"
#include "core/format/json/world_json.hpp"
#include "core/format/sdf/read.hpp"
#include "tests/synthesis/same.hpp"

#include <functional>

namespace kp::synthesis {
namespace {

/// The value of a literal when sources have values.
bool value_in(const Gates& g, Lit of, const std::map<std::uint32_t, bool>& sources) {
    const auto n = node_of(of);
    bool v = false;
    if (g.node(n).kind == Gates::both_of)
        v = value_in(g, g.node(n).a, sources) && value_in(g, g.node(n).b, sources);
    else if (n != 0)
        v = sources.at(n);
    return v != inverted(of);
}

TEST(Gates, FoldWhatIsKnownAndKeepEachNodeOnce) {
    Gates g;
    const auto a = g.source(), b = g.source(), c = g.source();
    EXPECT_EQ(g.both(a, zero), zero);
    EXPECT_EQ(g.both(a, one), a);
    EXPECT_EQ(g.both(a, invert(a)), zero);
    EXPECT_EQ(g.both(a, b), g.both(b, a));
    EXPECT_EQ(g.both(g.both(a, b), a), g.both(a, b));
    EXPECT_EQ(g.both(g.both(a, b), invert(a)), zero);
    EXPECT_EQ(g.both(invert(g.both(a, b)), invert(a)), invert(a));  // not (a and b), and not a
    EXPECT_EQ(g.both(invert(g.both(a, b)), a), g.both(a, invert(b)));
    EXPECT_EQ(g.differ(a, a), zero);
    EXPECT_EQ(g.differ(a, invert(a)), one);
    EXPECT_EQ(g.differ(a, b), invert(g.differ(a, invert(b))));
    EXPECT_EQ(g.choose(a, b, b), b);
    EXPECT_EQ(g.choose(a, b, invert(b)), invert(g.differ(a, b)));
    EXPECT_EQ(g.choose(a, one, zero), a);
    EXPECT_EQ(g.choose(invert(a), b, c), g.choose(a, c, b));
}

TEST(Gates, RandomLogicIsWhatItsOperationsSay) {
    std::mt19937 random(8);
    for (int round = 0; round < 60; ++round) {
        Gates g;
        std::vector<Lit> lits;
        std::vector<std::function<bool(unsigned)>> says;
        for (unsigned k = 0; k < 5; ++k) {
            lits.push_back(g.source());
            says.push_back([k](unsigned v) { return ((v >> k) & 1) != 0; });
        }
        const auto sources = lits;
        for (int k = 0; k < 25; ++k) {
            const auto x = random() % lits.size(), y = random() % lits.size(), z = random() % lits.size();
            const auto p = says[x], q = says[y], r = says[z];
            switch (random() % 5) {
                case 0:
                    lits.push_back(g.both(lits[x], lits[y]));
                    says.push_back([=](unsigned v) { return p(v) && q(v); });
                    break;
                case 1:
                    lits.push_back(g.either(lits[x], lits[y]));
                    says.push_back([=](unsigned v) { return p(v) || q(v); });
                    break;
                case 2:
                    lits.push_back(g.differ(lits[x], lits[y]));
                    says.push_back([=](unsigned v) { return p(v) != q(v); });
                    break;
                case 3:
                    lits.push_back(invert(lits[x]));
                    says.push_back([=](unsigned v) { return !p(v); });
                    break;
                default:
                    lits.push_back(g.choose(lits[x], lits[y], lits[z]));
                    says.push_back([=](unsigned v) { return p(v) ? q(v) : r(v); });
            }
        }
        const auto covered = cover(g, lits);
        for (unsigned v = 0; v < 32; ++v) {
            std::map<std::uint32_t, bool> values;
            for (unsigned k = 0; k < 5; ++k) values[node_of(sources[k])] = (v >> k) & 1;
            for (size_t k = 0; k < lits.size(); ++k) ASSERT_EQ(value_in(g, lits[k], values), says[k](v));
            // The look-ups give the same.
            const std::function<bool(std::uint32_t)> looked = [&](std::uint32_t n) -> bool {
                if (n == 0) return false;
                const auto at = covered.at.find(n);
                if (at == covered.at.end()) return values.at(n);
                unsigned index = 0;
                for (size_t i = 0; i < at->second.inputs.size(); ++i)
                    index |= static_cast<unsigned>(looked(at->second.inputs[i])) << i;
                return (at->second.table >> index) & 1;
            };
            for (size_t k = 0; k < lits.size(); ++k)
                ASSERT_EQ(looked(node_of(lits[k])) != inverted(lits[k]), says[k](v));
            for (const auto& [node, same] : covered.same)
                ASSERT_EQ(value_in(g, node * 2, values), value_in(g, same, values));
        }
    }
}

TEST(Cover, TakesNoMoreDepthThanLogarithmsAllow) {
    for (const size_t n : {4U, 16U, 64U, 256U}) {
        Gates g;
        std::vector<Lit> in;
        for (size_t k = 0; k < n; ++k) in.push_back(g.source());
        const std::vector<Lit> out{g.all(in)};
        const auto covered = cover(g, out);
        int depth = 0;
        for (size_t k = 1; k < n; k *= 4) ++depth;
        EXPECT_EQ(covered.depth, depth) << n;
        EXPECT_LE(covered.at.size(), (n - 1 + 2) / 3 + 1) << n;
    }
}

TEST(CellSet, KnowsTheShippedCellsByWhatTheyDo) {
    const auto set = CellSet::of(shipped_library());
    ASSERT_TRUE(set.ok()) << set.first().sentence();
    EXPECT_EQ(set.value().widest, 4);
    EXPECT_EQ(set.value().registers.size(), 12U);
    EXPECT_EQ(set.value().register_of({true, true, false, true})->cell->name, "SK_REGISTER_FALL_ENABLE_CLEAR");
    EXPECT_EQ(set.value().carry.cell->name, "SK_SUM");
    EXPECT_EQ(set.value().carry_inverted.b, "B");
    EXPECT_EQ(set.value().pad_two.enable, "E");
    EXPECT_EQ(set.value().clock_root->name, "SK_CLOCK_ROOT");
    const auto poor = read_liberty("library (p) { cell (X) { pin (A) { direction : input; } } }", "p.lib");
    EXPECT_NE(CellSet::of(poor.value()).first().text.find("has not look-up cells"), std::string::npos);
}

Part part_of(const char* file) {
    const auto path = std::string(KP_SOURCE "/data/parts/") + file + ".part.json";
    auto part = read_part(file_text(path), path);
    EXPECT_TRUE(part.ok());
    return part.take();
}

TEST(PadSites, EveryUserPinLiesBesideItsRegionAndNoSiteIsFull) {
    for (const char* file : {"skr11-q144", "skr23-b256", "skr44l-b529"}) {
        const auto part = part_of(file);
        const auto sites = fabric::pad_sites(part);
        std::map<std::pair<int, int>, int> count;
        for (const auto& pin : part.pins) {
            if (!pin.usable()) continue;
            ASSERT_TRUE(sites.count(pin.name)) << pin.name;
            const auto [x, y] = sites.at(pin.name);
            EXPECT_LE(++count[(std::pair<int, int>(x, y))], part.fabric.cells_per_site);
            for (const auto& r : part.regions)
                if (r.name == pin.region)
                    EXPECT_TRUE(x >= r.left - 1 && x <= r.right + 1 && y >= r.bottom - 1 && y <= r.top + 1) << pin.name;
        }
    }
    auto part = part_of("skr11-q144");
    for (auto& pin : part.pins)
        if (pin.usable()) pin.site = {3, 4};
    EXPECT_EQ(fabric::pad_sites(part).begin()->second, (std::pair<int, int>(3, 4)));
}

struct Tiny {
    Netlist netlist;
    std::vector<fabric::Spot> spots;
    Tiny() {
        const std::string text =
            "module top(input c, input d, output q);\nwire ci, ck, di, s, n;\nSK_PAD_INPUT pc(.PAD(c), "
            ".Y(ci));\nSK_CLOCK_ROOT r(.A(ci), .Y(ck));\nSK_PAD_INPUT pd(.PAD(d), .Y(di));\n"
            "SK_TABLE_1 #(.TABLE(2'h1)) l(.A0(di), .Y(n));\nSK_REGISTER f(.D(n), .CK(ck), .Q(s));\nSK_PAD_OUTPUT "
            "pq(.A(s), "
            ".PAD(q));\nendmodule\n";
        const SourceText source{"t.v", text};
        netlist = read_netlist({&source, 1}, "top", shipped_library()).take();
        for (std::uint32_t c = 0; c < netlist.cells.size(); ++c)
            spots.push_back({static_cast<int>(c) * 3, static_cast<int>(c), 0, ""});
    }
};

TEST(Delays, FollowTheFormulaOfThePart) {
    const Tiny t;
    auto part = part_of("skr11-q144");
    const auto model = fabric::wire_model(part, "L");
    EXPECT_DOUBLE_EQ(model.factor, 1.18);
    const auto text = fabric::write_delays(t.netlist, shipped_library(), t.spots, model);
    const auto sdf = read_sdf(text, "t.sdf");
    ASSERT_TRUE(sdf.ok()) << sdf.first().sentence();
    int wires = 0, clocks = 0, paths = 0;
    for (size_t i = 0; i < sdf.value().size(); ++i) {
        const auto e = sdf.value()[i];
        paths += e.kind == DelayEntry::iopath;
        if (e.kind != DelayEntry::interconnect) continue;
        if (e.from == "r/Y") {
            ++clocks;
            EXPECT_GE(e.rise[2], part.fabric.clock_ns * 1.18 - 1e-4);
            EXPECT_LE(e.rise[2], (part.fabric.clock_ns + part.fabric.clock_skew_ns) * 1.18 + 1e-4);
            continue;
        }
        ++wires;
        if (e.from == "pd/Y")
            EXPECT_NEAR(e.rise[2], (0.16 + 0.021 * 3 + 0.017 * 1) * 1.18, 1e-4);  // one cell to the next
        EXPECT_NEAR(e.rise[0], e.rise[2] * part.fabric.fast_factor, 2e-4);
    }
    EXPECT_EQ(wires, 4);
    EXPECT_EQ(clocks, 1);
    EXPECT_EQ(paths, 6);
}

TEST(Power, AddsUpAndGrowsWithTheClock) {
    const Tiny t;
    const auto part = part_of("skr11-q144");
    std::uint32_t clock = 0;
    for (std::uint32_t n = 0; n < t.netlist.net_names.size(); ++n)
        if (t.netlist.net_names[n] == "ck") clock = n;
    fabric::PowerInput slow, fast;
    slow.net_mhz.assign(t.netlist.net_names.size(), 10);
    fast.net_mhz.assign(t.netlist.net_names.size(), 100);
    const auto a = fabric::power_of(t.netlist, shipped_library(), part, t.spots, slow),
               b = fabric::power_of(t.netlist, shipped_library(), part, t.spots, fast);
    double sum = a.static_w;
    for (const auto& [name, w] : a.groups) sum += w;
    EXPECT_NEAR(sum, a.total_w, 1e-15);
    EXPECT_DOUBLE_EQ(a.static_w, b.static_w);
    for (size_t k = 0; k < 4; ++k) EXPECT_NEAR(b.groups[k].second, 10 * a.groups[k].second, 1e-12) << a.groups[k].first;
    // The clock net by hand: one pin of 0.002 pF and 4 sites of wire at 0.012 pF, 1.21 V^2, 10 MHz.
    const double sites = 3 * 3 + 3;
    EXPECT_NEAR(a.groups[0].second, (0.002 + 0.012 * sites) * 1.21 * 10e-6, 1e-9);
    EXPECT_FALSE(a.assumed.empty());
    for (const auto& x : a.assumed) EXPECT_FALSE(x.from.empty());
    // Each net counts at its own rate: with the clock alone ten times as fast, nothing else takes more.
    auto mixed = slow;
    mixed.net_mhz[clock] = 100;
    const auto c = fabric::power_of(t.netlist, shipped_library(), part, t.spots, mixed);
    EXPECT_DOUBLE_EQ(c.groups[0].second, b.groups[0].second);
    for (size_t k = 1; k < 4; ++k) EXPECT_DOUBLE_EQ(c.groups[k].second, a.groups[k].second) << a.groups[k].first;
}

TEST(Placement, ADesignThatDoesNotFitSaysWhatIsMissing) {
    std::string text = "module top(input a, output y);\nwire w0;\nSK_PAD_INPUT p(.PAD(a), .Y(w0));\n";
    for (int k = 0; k < 9; ++k)
        text += "wire k" + std::to_string(k) + ";\nSK_CLOCK_ROOT r" + std::to_string(k) + "(.A(w0), .Y(k" +
                std::to_string(k) + "));\n";
    text += "SK_PAD_OUTPUT o(.A(k0), .PAD(y));\nendmodule\n";
    const SourceText source{"t.v", text};
    const auto n = read_netlist({&source, 1}, "top", shipped_library());
    ASSERT_TRUE(n.ok());
    const auto part = part_of("skr11-q144");
    const auto placed = fabric::place_cells(n.value(), shipped_library(), part, {{"a", "20"}, {"y", "22"}}, {});
    ASSERT_FALSE(placed.ok());
    EXPECT_NE(placed.first().text.find("9 clock networks"), std::string::npos) << placed.first().text;
    const auto loose = fabric::place_cells(n.value(), shipped_library(), part, {{"a", "20"}}, {});
    ASSERT_FALSE(loose.ok());
}

}  // namespace
}  // namespace kp::synthesis
