// SPDX-License-Identifier: GPL-3.0-or-later
// Lanes against a naive search that shares nothing with the solver.
#include "core/lane_planning/lanes.hpp"

#include "core/format/json/links_json.hpp"
#include "core/model/lane_pins.hpp"

#include <gtest/gtest.h>

#include <algorithm>
#include <map>
#include <random>

namespace kp {
namespace {

using State = LaneLink::State;

Part part_of(LaneBlock block) {
    Part p;
    p.name = "TEST";
    p.lane_blocks.push_back(std::move(block));
    return p;
}

LaneBlock random_tile(std::mt19937& r) {
    const auto pick = [&](int n) { return static_cast<int>(r() % static_cast<unsigned>(n)); };
    LaneBlock t;
    t.name = "block";
    const int lanes = 4 + pick(3);
    t.crossings = 3 + pick(5);
    for (int c = 0; c < 2; ++c) t.clocks.push_back({"ref" + std::to_string(c), {}, {100.0 - 50 * c, 200}});
    for (int l = 0; l < lanes; ++l) {
        LaneBlock::Lane lane;
        lane.name = "l" + std::to_string(l);
        lane.gbps[0] = 1;
        lane.gbps[1] = pick(4) ? 6 : 3;
        lane.clocks = {"ref0"};
        if (pick(3)) lane.clocks.push_back("ref1");
        t.lanes.push_back(lane);
    }
    for (int e = 0; e < 2; ++e) {
        LaneBlock::Engine engine;
        engine.name = "e" + std::to_string(e);
        engine.protocols = {"raw"};
        if (pick(2)) engine.protocols.push_back("host");
        for (int l = 0; l < lanes; ++l)
            if (pick(4)) engine.lanes.push_back("l" + std::to_string(l));
        engine.widths = {1, 2};
        engine.align = 1 + pick(2);
        if (pick(3) == 0) engine.splits = {{2, 1}, {1, 1, 1}};
        if (pick(3) == 0) engine.capacity = 2 + pick(2);
        if (pick(3) == 0) engine.crossings_per_lane["raw"] = 2;
        if (pick(3) == 0) engine.crossings = std::vector<int>{0, 1, 2};
        t.engines.push_back(engine);
    }
    return t;
}

std::vector<LaneLink> random_asks(std::mt19937& r, const LaneBlock& block) {
    std::vector<LaneLink> out;
    const size_t n = 1 + r() % 3;
    for (size_t i = 0; i < n; ++i) {
        LaneLink a{"i" + std::to_string(i),
                   r() % 3 ? "raw" : "host",
                   1 + static_cast<int>(r() % 2),
                   r() % 3 ? 2.5 : 5.0,
                   r() % 2 ? 100.0 : 150.0,
                   State::adrift,
                   {}};
        if (r() % 3 == 0) {
            a.state = r() % 2 ? State::pegged : State::loose;
            const auto first = r() % (block.lanes.size() - 1);
            for (int l = 0; l < a.lanes; ++l) a.at.push_back(block.lanes[first + static_cast<size_t>(l)].name);
        }
        out.push_back(a);
    }
    return out;
}

/// One link as it may lie; the contract read once more, in the plainest way.
struct LanePlace {
    size_t engine = 0, first = 0, clock = 0;
    int crossing = 0;
};

int crossings_of(const LaneBlock::Engine& e, const LaneLink& i) {
    return (e.crossings_per_lane.contains(i.protocol) ? e.crossings_per_lane.at(i.protocol) : 1) * i.lanes;
}

std::vector<LanePlace> places(const LaneBlock& t, const LaneLink& i) {
    std::vector<LanePlace> out;
    const auto has = [](const auto& list, const auto& x) {
        return std::find(list.begin(), list.end(), x) != list.end();
    };
    for (size_t e = 0; e < t.engines.size(); ++e) {
        const auto& engine = t.engines[e];
        if (!has(engine.protocols, i.protocol) || !has(engine.widths, i.lanes)) continue;
        for (size_t f = 0; f + static_cast<size_t>(i.lanes) <= t.lanes.size(); ++f) {
            if (f % static_cast<size_t>(engine.align)) continue;
            std::vector<std::string> names;
            bool fits = true;
            for (size_t l = f; l < f + static_cast<size_t>(i.lanes); ++l) {
                names.push_back(t.lanes[l].name);
                fits = fits && has(engine.lanes, t.lanes[l].name) && i.gbps >= t.lanes[l].gbps[0] &&
                       i.gbps <= t.lanes[l].gbps[1];
            }
            if (!fits || (i.state == State::pegged && names != i.at)) continue;
            for (size_t c = 0; c < t.clocks.size(); ++c) {
                bool reaches = i.clock_mhz >= t.clocks[c].mhz[0] && i.clock_mhz <= t.clocks[c].mhz[1];
                for (size_t l = f; l < f + static_cast<size_t>(i.lanes); ++l)
                    reaches = reaches && has(t.lanes[l].clocks, t.clocks[c].name);
                for (int h = 0; reaches && h + crossings_of(engine, i) <= t.crossings; ++h) {
                    bool open = true;
                    for (int k = h; k < h + crossings_of(engine, i); ++k)
                        open = open && (!engine.crossings || has(*engine.crossings, k));
                    if (open) out.push_back({e, f, c, h});
                }
            }
        }
    }
    return out;
}

bool together(const LaneBlock& t, const std::vector<LaneLink>& asks, const std::vector<LanePlace>& at) {
    std::map<size_t, int> lanes;
    std::map<int, int> crossings;
    std::map<size_t, double> clock;
    std::map<size_t, std::vector<int>> widths;
    for (size_t i = 0; i < at.size(); ++i) {
        for (int l = 0; l < asks[i].lanes; ++l)
            if (++lanes[at[i].first + static_cast<size_t>(l)] > 1) return false;
        for (int k = 0; k < crossings_of(t.engines[at[i].engine], asks[i]); ++k)
            if (++crossings[at[i].crossing + k] > 1) return false;
        if (clock.contains(at[i].clock) && clock[at[i].clock] != asks[i].clock_mhz) return false;
        clock[at[i].clock] = asks[i].clock_mhz;
        widths[at[i].engine].push_back(asks[i].lanes);
    }
    for (const auto& [e, list] : widths) {
        const auto& engine = t.engines[e];
        if (engine.splits.empty()) {
            int sum = 0;
            for (const int w : list) sum += w;
            if (sum > engine.capacity.value_or(static_cast<int>(engine.lanes.size()))) return false;
            continue;
        }
        const bool some = std::any_of(engine.splits.begin(), engine.splits.end(), [&](const std::vector<int>& split) {
            return std::all_of(list.begin(), list.end(), [&](int w) {
                return std::count(list.begin(), list.end(), w) <= std::count(split.begin(), split.end(), w);
            });
        });
        if (!some) return false;
    }
    return true;
}

bool search(const LaneBlock& t, const std::vector<LaneLink>& asks, std::vector<LanePlace>& at) {
    if (at.size() == asks.size()) return true;
    for (const auto& p : places(t, asks[at.size()])) {
        at.push_back(p);
        if (together(t, asks, at) && search(t, asks, at)) return true;
        at.pop_back();
    }
    return false;
}

TEST(Lanes, AgreeWithANaiveSearchInManyTiles) {
    int solved = 0, conflicts = 0;
    for (unsigned seed = 0; seed < 700; ++seed) {
        std::mt19937 r(seed);
        const auto block = random_tile(r);
        const auto asks = random_asks(r, block);
        const auto part = part_of(block);
        const auto answer = place_lanes(part, {asks, {}, "", {}});
        ASSERT_TRUE(answer.ok()) << seed;
        std::vector<LanePlace> way;
        const bool possible = search(block, asks, way);
        ASSERT_EQ(answer.value().solved, possible) << "seed " << seed;
        if (possible) {
            ++solved;
            std::vector<LanePlace> told;
            for (const auto& p : answer.value().placed) {
                LanePlace place;
                for (size_t e = 0; e < block.engines.size(); ++e)
                    if (block.engines[e].name == p.engine) place.engine = e;
                for (size_t l = 0; l < block.lanes.size(); ++l)
                    if (block.lanes[l].name == p.lanes[0]) place.first = l;
                for (size_t c = 0; c < block.clocks.size(); ++c)
                    if (block.clocks[c].name == p.clock) place.clock = c;
                place.crossing = p.crossings.empty() ? 0 : p.crossings[0];
                told.push_back(place);
            }
            ASSERT_EQ(told.size(), asks.size());
            EXPECT_TRUE(together(block, asks, told)) << "seed " << seed;
            EXPECT_EQ(answer.value().cost, answer.value().bound);
            continue;
        }
        ++conflicts;
        const auto& conflict = answer.value().conflict;
        ASSERT_FALSE(conflict.empty()) << seed;
        std::vector<LaneLink> alone;
        for (const auto& i : asks)
            for (const auto& f : conflict)
                if (f.objects[0] == i.name) alone.push_back(i);
        std::vector<LanePlace> none;
        EXPECT_FALSE(search(block, alone, none)) << "seed " << seed;
        for (const auto& f : conflict)
            EXPECT_TRUE(place_lanes(part, {alone, {f.id}, "", {}}).value().solved) << "seed " << seed << " " << f.id;
    }
    EXPECT_GT(solved, 200);
    EXPECT_GT(conflicts, 200);
}

TEST(Lanes, SpotsAreThoseThatCanBeTaken) {
    for (unsigned seed = 0; seed < 150; ++seed) {
        std::mt19937 r(seed);
        const auto block = random_tile(r);
        auto asks = random_asks(r, block);
        asks[0].state = State::adrift;
        asks[0].at.clear();
        const auto answer = place_lanes(part_of(block), {asks, {}, asks[0].name, {}});
        ASSERT_TRUE(answer.ok());
        std::vector<LaneLink> held{asks[0]};
        for (size_t i = 1; i < asks.size(); ++i)
            if (asks[i].state == State::pegged) held.push_back(asks[i]);
        std::vector<std::vector<std::string>> expected;
        std::vector<LaneSpot> naive;
        for (const auto& p : places(block, asks[0])) {
            std::vector<LanePlace> at{p};
            if (!search(block, held, at)) continue;
            LaneSpot spot{block.name, block.engines[p.engine].name, block.clocks[p.clock].name, {}};
            for (int l = 0; l < asks[0].lanes; ++l)
                spot.lanes.push_back(block.lanes[p.first + static_cast<size_t>(l)].name);
            if (std::find(naive.begin(), naive.end(), spot) == naive.end()) naive.push_back(spot);
        }
        EXPECT_EQ(answer.value().spots.size(), naive.size()) << seed;
        for (const auto& s : naive)
            EXPECT_NE(std::find(answer.value().spots.begin(), answer.value().spots.end(), s),
                      answer.value().spots.end());
    }
}

TEST(Lanes, WhatIsLooseStaysAndWhatIsOffDoesNotCount) {
    std::mt19937 r(4);
    LaneBlock t;
    t.name = "t";
    t.crossings = 8;
    t.clocks.push_back({"ref", {}, {50, 200}});
    for (int l = 0; l < 4; ++l) t.lanes.push_back({"l" + std::to_string(l), {1, 6}, {}, {}, {"ref"}});
    LaneBlock::Engine e;
    e.name = "e";
    e.protocols = {"raw"};
    e.lanes = {"l0", "l1", "l2", "l3"};
    e.widths = {1, 2, 4};
    t.engines.push_back(e);
    const auto part = part_of(t);
    std::vector<LaneLink> asks{{"a", "raw", 2, 2.5, 100, State::loose, {"l2", "l3"}},
                               {"b", "raw", 2, 2.5, 100, State::adrift, {}}};
    auto answer = place_lanes(part, {asks, {}, "", {}}).take();
    ASSERT_TRUE(answer.solved);
    EXPECT_EQ(answer.moved, 0);
    EXPECT_EQ(answer.placed[0].lanes, (std::vector<std::string>{"l2", "l3"}));
    EXPECT_EQ(answer.placed[1].lanes, (std::vector<std::string>{"l0", "l1"}));
    asks.push_back({"c", "raw", 4, 2.5, 100, State::adrift, {}});
    asks[0].state = State::pegged;
    answer = place_lanes(part, {asks, {}, "", {}}).take();
    EXPECT_FALSE(answer.solved);
    asks[0].state = State::off;
    asks[1].state = State::off;
    asks[1].at = {"l0", "l1"};
    answer = place_lanes(part, {asks, {}, "", {}}).take();
    EXPECT_TRUE(answer.solved);
    EXPECT_FALSE(place_lanes(part, {asks, {"link:nobody"}, "", {}}).ok());
    EXPECT_FALSE(place_lanes(Part{}, {asks, {}, "", {}}).ok());
    EXPECT_FALSE(why_not(t, {"x", "host", 1, 2.5, 100, State::adrift, {}}).empty());
}

/// A block of two lanes, each with a reference clock of its own, and a board with 125 MHz on the first.
TEST(Lanes, AReferenceClockTakesWhatTheBoardGivesOnIt) {
    LaneBlock t;
    t.name = "t";
    t.crossings = 8;
    t.clocks = {{"ref0", {"A1"}, {50, 200}}, {"ref1", {"B1"}, {50, 200}}};
    t.lanes = {{"l0", {1, 6}, {}, {}, {"ref0"}}, {"l1", {1, 6}, {}, {}, {"ref1"}}};
    LaneBlock::Engine e;
    e.name = "e";
    e.protocols = {"raw"};
    e.lanes = {"l0", "l1"};
    e.widths = {1};
    t.engines.push_back(e);
    const auto part = part_of(t);
    Board board;
    BoardPart y;
    y.ref = "Y1";
    y.kind = "oscillator";
    y.terminals.emplace_back();
    y.terminals.back().name = "out";
    board.parts.push_back(y);
    board.nets.emplace_back();
    board.nets.back().pin = "A1";
    board.nets.back().terminal = "Y1.out";
    board.oscillators.push_back({"Y1.out", 125, 50, {0, 0}});
    board.index();
    ASSERT_EQ(oscillator_mhz(board, t.clocks[0]), 125);
    const auto ask = [&](double mhz) {
        return place_lanes(part, {{{"a", "raw", 1, 2.5, mhz, State::adrift, {}}}, {}, "", {}, &board}).take();
    };
    EXPECT_EQ(ask(125).placed.at(0).clock, "ref0");
    // Nothing is said of the second one, so what asks for another rate goes there.
    EXPECT_EQ(ask(100).placed.at(0).clock, "ref1");
    EXPECT_EQ(ask(125.01).placed.at(0).clock, "ref0");  // 80 ppm
    board.nets.emplace_back();
    board.nets.back().pin = "B1";
    board.nets.back().terminal = "Y1.out";
    board.index();
    // No clock has it: placed all the same, and rule L16 says what is wrong there.
    EXPECT_TRUE(ask(100).solved);
}

TEST(Lanes, AnAskIsReadWithItsMistakes) {
    const auto good = read_ask(R"({"schema":"kitepeg.links/1","links":[{"name":"up","protocol":"raw","lanes":2,
        "gbps":2.5,"clock_mhz":125,"pegged":{"lanes":["l0","l1"]}}]})",
                               "a.json");
    ASSERT_TRUE(good.ok()) << good.first().sentence();
    EXPECT_EQ(good.value()[0].state, State::pegged);
    EXPECT_EQ(link_of(line_of(good.value()[0])), good.value()[0]);
    const auto list = [](const std::string& rows) { return R"({"schema":"kitepeg.links/1","links":[)" + rows + "]}"; };
    const auto row = [](const std::string& lanes, const std::string& more) {
        return R"({"name":"a","protocol":"r","lanes":)" + lanes + R"(,"gbps":1,"clock_mhz":1)" + more + "}";
    };
    for (const auto& bad : {std::string(R"({"schema":"kitepeg.links/1"})"), list(R"({"name":"a"})"), list(row("0", "")),
                            list(row("2", R"(,"pegged":{"lanes":["x"]})")), list(row("1", "") + "," + row("1", "")),
                            std::string(R"({"schema":"kitepeg.project/1"})"), std::string("{")})
        EXPECT_FALSE(read_ask(bad, "a.json").ok()) << bad;
}

}  // namespace
}  // namespace kp
