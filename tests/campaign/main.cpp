// SPDX-License-Identifier: GPL-3.0-or-later
// campaign [--minutes M] [--seed N]: tries to lose what a user was promised. Without minutes: a short round, the same
// each time.
#include "tests/campaign/campaign.hpp"

#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <filesystem>
#include <unistd.h>

int main(int argc, char** argv) {
    using namespace kp::campaign;
    double minutes = 0;
    std::uint64_t seed = 1;
    for (int i = 1; i + 1 < argc; i += 2) {
        if (std::strcmp(argv[i], "--minutes") == 0) minutes = std::atof(argv[i + 1]);
        if (std::strcmp(argv[i], "--seed") == 0) seed = std::strtoull(argv[i + 1], nullptr, 10);
    }
    const auto base = std::filesystem::temp_directory_path() / ("kpeg-campaign-" + std::to_string(::getpid()));
    const auto folder = (base / "work").string();
    Figures f;
    std::string lost;
    const auto begun = std::chrono::steady_clock::now();
    const auto spent = [&] { return std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count(); };
    constexpr std::uint64_t short_round = 24;
    for (std::uint64_t n = 0; lost.empty() && (minutes > 0 ? spent() < 60 * minutes : n < short_round); ++n) {
        const auto s = seed * 1'000'003 + n;
        for (std::uint64_t k = 0; lost.empty() && k < 12; ++k) lost = live_through_faults(s * 12 + k, f);
        if (lost.empty() && n % 12 == 0) lost = torn_tails(s, f);
        for (std::uint64_t k = 0; lost.empty() && k < 6; ++k) lost = outside_edits(s * 6 + k, f);
        for (std::uint64_t k = 0; lost.empty() && k < 6; ++k) lost = changed_after_crash(s * 6 + k, f);
        if (lost.empty()) lost = kill_a_process(s, folder, f);
        if (lost.empty() && n % 4 == 0) lost = two_processes(s, folder, f);
    }
    std::error_code ignored;
    std::filesystem::remove_all(base, ignored);
    std::printf(
        "campaign: %ld faults, %ld power cuts, %ld kills, %ld torn journals, %ld edits from outside, %ld moves and "
        "copies, %ld take-overs, %ld openings in %.0f s\n",
        f.faults, f.crashes, f.kills, f.tears, f.outside, f.moves, f.takeovers, f.openings, spent());
    if (!lost.empty()) std::printf("LOST: %s\n", lost.c_str());
    return lost.empty() ? 0 : 1;
}
