// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board_sim/interconnect.hpp"
#include "core/format/json/world_json.hpp"
#include "tests/synthesis/same.hpp"

namespace kp {
namespace {

std::vector<ScanWire> wires_of_board(const std::string& name) {
    const std::string path = std::string(KP_SOURCE "/data/boards/") + name + ".board.json";
    const auto board = read_board(synthesis::file_text(path), path);
    EXPECT_TRUE(board.ok());
    return wires_of(board.value());
}

TEST(Interconnect, AGoodBoardHasNoFaultAndFewPatterns) {
    for (const char* name : {"tussock", "saltmarsh", "headland"}) {
        const auto wires = wires_of_board(name);
        ASSERT_GT(wires.size(), 8U);
        const auto patterns = counting_patterns(wires.size());
        size_t bits = 0;
        while ((size_t{1} << bits) < wires.size() + 2) ++bits;
        EXPECT_EQ(patterns.size(), 2 * bits + 1);
        EXPECT_TRUE(faults_in(patterns, answers_of(patterns, {})).empty());
    }
}

TEST(Interconnect, AHundredFaultsAreAllFoundAndNamed) {
    std::mt19937 random(11);
    int injected = 0;
    for (int round = 0; injected < 300; ++round) {
        const auto wires = wires_of_board(round % 2 ? "saltmarsh" : "tussock");
        std::vector<size_t> free(wires.size());
        for (size_t k = 0; k < free.size(); ++k) free[k] = k;
        std::shuffle(free.begin(), free.end(), random);
        std::vector<WireFault> faults;
        const size_t count = 1 + random() % 4;
        for (size_t k = 0; k < count && free.size() >= 2; ++k) {
            WireFault f;
            f.kind = static_cast<WireFault::Kind>(random() % 4);
            f.a = free.back();
            free.pop_back();
            if (f.kind != WireFault::open) {
                f.b = free.back();
                free.pop_back();
                if (f.a > f.b) std::swap(f.a, f.b);
            }
            faults.push_back(f);
        }
        const auto patterns = counting_patterns(wires.size());
        auto found = faults_in(patterns, answers_of(patterns, faults));
        ASSERT_EQ(found.size(), faults.size()) << "round " << round;
        for (const auto& f : faults) {
            EXPECT_NE(std::find(found.begin(), found.end(), f), found.end()) << sentence_of(f, wires);
            EXPECT_NE(sentence_of(f, wires).find(wires[f.a].terminal), std::string::npos);
        }
        injected += static_cast<int>(faults.size());
    }
    EXPECT_GE(injected, 100);
}

TEST(Interconnect, ThreeWiresTogetherAreNamedAgainstTheLowest) {
    const auto patterns = counting_patterns(20);
    const auto found =
        faults_in(patterns, answers_of(patterns, {{WireFault::short_and, 2, 7}, {WireFault::short_and, 7, 11}}));
    ASSERT_EQ(found.size(), 2U);
    EXPECT_EQ(found[0], (WireFault{WireFault::short_and, 2, 7}));
    EXPECT_EQ(found[1], (WireFault{WireFault::short_and, 2, 11}));
}

}  // namespace
}  // namespace kp
