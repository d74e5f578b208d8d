// SPDX-License-Identifier: GPL-3.0-or-later
// The engine against a program that walks every path (reference.hpp), on random circuits with every feature of
// docs/timing.md. KITE_PEG_AGREE=first:count runs other circuits than the usual ones.
#include "core/timing/analyse.hpp"
#include "tests/timing/reference.hpp"
#include "tests/timing/scenario.hpp"

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <gtest/gtest.h>

namespace kp {
namespace {

constexpr double agreed = 1e-4;  // ns: a tenth of a picosecond

std::string said(const std::map<std::pair<std::string, std::string>, double>& rows) {
    std::string out;
    for (const auto& [key, slack] : rows) out += key.first + " " + key.second + " " + std::to_string(slack) + "\n";
    return out;
}

struct Tally {
    size_t rows = 0, paths = 0, plain = 0;
};

void agree(unsigned seed, Tally& tally) {
    const test::Scenario s(seed);
    TimingOptions options;
    test::ReferenceOptions same;
    options.early_member = same.early_member = seed % 7 == 0 ? 1 : 0;
    options.late_member = same.late_member = seed % 7 == 0 ? 1 : 2;
    options.common_path_credit = same.credit = seed % 5 != 0;
    options.propagated = same.all_propagated = seed % 11 == 0;
    options.paths = 1'000'000;
    options.per_endpoint = 4;
    const test::Reference other(s.netlist, s.library, s.constraints, s.sdf.empty() ? nullptr : &s.delays, same);
    if (!other.whole) return;
    const auto report =
        analyse_timing({s.netlist, s.library, s.constraints, s.sdf.empty() ? nullptr : &s.delays}, options);
    std::map<std::pair<std::string, std::string>, double> engine, reference;
    for (const auto& e : report.endpoints) engine[{e.check, e.endpoint}] = e.slack;
    for (const auto& [key, list] : other.slacks) reference[key] = list.front();
    for (const auto& [key, slack] : reference) {
        const auto at = engine.find(key);
        if (at == engine.end())
            ADD_FAILURE() << "circuit " << seed << ": the engine has no " << key.first << " " << key.second << " of "
                          << slack;
        else if (std::fabs(at->second - slack) > agreed)
            ADD_FAILURE() << "circuit " << seed << ": " << key.first << " " << key.second << " is " << at->second
                          << " instead of " << slack;
    }
    for (const auto& [key, slack] : engine)
        if (!reference.contains(key))
            ADD_FAILURE() << "circuit " << seed << ": only the engine has " << key.first << " " << key.second << " of "
                          << slack;
    std::map<std::string, std::pair<double, double>> plain;
    for (const auto& u : report.unconstrained) plain[u.endpoint] = {u.max_delay, u.min_delay};
    for (const auto& [end, both] : other.unconstrained) {
        if (!plain.contains(end))
            ADD_FAILURE() << "circuit " << seed << ": no unconstrained delay to " << end << " of " << both.first;
        else if (std::fabs(plain[end].first - both.first) + std::fabs(plain[end].second - both.second) > agreed)
            ADD_FAILURE() << "circuit " << seed << ": unconstrained " << end << " " << plain[end].first << " "
                          << plain[end].second << " instead of " << both.first << " " << both.second;
    }
    for (const auto& [end, both] : plain)
        if (!other.unconstrained.contains(end))
            ADD_FAILURE() << "circuit " << seed << ": only the engine has an unconstrained delay to " << end;
    if (s.constraints.data_checks.empty()) {
        std::map<std::pair<std::string, std::string>, std::vector<double>> lists;
        for (const auto& p : report.paths) lists[{p.check, p.endpoint}].push_back(p.slack);
        for (const auto& [key, list] : other.slacks) {
            if (key.first == "pulse_width" || key.first == "period") continue;
            const auto& mine = lists[key];
            const size_t n = std::min<size_t>(4, list.size());
            if (mine.size() != n)
                ADD_FAILURE() << "circuit " << seed << ": " << mine.size() << " worst paths instead of " << n << " at "
                              << key.first << " " << key.second;
            for (size_t i = 0; i < std::min(n, mine.size()); ++i)
                if (std::fabs(mine[i] - list[i]) > agreed)
                    ADD_FAILURE() << "circuit " << seed << ": path " << i << " of " << key.first << " " << key.second
                                  << " is " << mine[i] << " instead of " << list[i];
            tally.paths += n;
        }
    }
    if (testing::Test::HasFailure())
        ADD_FAILURE() << s.text() << "engine\n" << said(engine) << "reference\n" << said(reference);
    tally.rows += reference.size();
    tally.plain += plain.size();
}

TEST(EveryFeature, EachEndpointOfRandomCircuitsEqualsEveryPathWalked) {
    unsigned first = 1, count = 1000;
    if (const char* asked = std::getenv("KITE_PEG_AGREE")) std::sscanf(asked, "%u:%u", &first, &count);
    Tally tally;
    for (unsigned seed = first; seed < first + count && !HasFailure(); ++seed) agree(seed, tally);
    if (count >= 1000 && !HasFailure()) EXPECT_GT(tally.rows, count * 8) << "the circuits have become empty";
    RecordProperty("endpoints", static_cast<int>(tally.rows));
    RecordProperty("paths", static_cast<int>(tally.paths));
    std::printf("%zu endpoints, %zu paths, %zu unconstrained delays agree\n", tally.rows, tally.paths, tally.plain);
}

}  // namespace
}  // namespace kp
