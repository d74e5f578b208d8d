// SPDX-License-Identifier: GPL-3.0-or-later
// The engine that is kept against one that starts anew, on circuits with every feature (scenario.hpp): lines come and
// go, delays and pads move, corners stand side by side, and after each edit all bits are the same.
#include "core/timing/engine.hpp"
#include "tests/timing/scenario.hpp"

#include <cmath>
#include <gtest/gtest.h>

namespace kp {
namespace {

struct Moved {
    std::uint32_t arc;
    bool late, in_rise, out_rise;
    double ns;
    size_t corner;
};

class KeptWithEverything : public testing::Test {
protected:
    static std::vector<TimingCorner> corners(const test::Scenario& s, unsigned seed) {
        const auto* delays = s.sdf.empty() ? nullptr : &s.delays;
        std::vector<TimingCorner> out{{"", nullptr, delays, {}, "", 0, 2}};
        if (seed % 3 == 0) {
            out[0].name = "quick";
            out[0].late_member = 0;
            out.push_back({"slow", nullptr, delays, {}, "", 2, 2, 1, 1.25});
        }
        return out;
    }

    static void same(const TimingEngine& kept, const test::Scenario& s, const Constraints& k,
                     const TimingOptions& options, unsigned seed, const std::vector<Moved>& moves,
                     const std::map<std::string, double>& pads, const std::string& where) {
        TimingEngine fresh({s.netlist, s.library, k}, options, corners(s, seed));
        for (const auto& m : moves) fresh.set_delay(m.arc, m.late, m.in_rise, m.out_rise, m.ns, m.corner);
        fresh.set_pad_delays(pads);
        fresh.update();
        fresh.require();
        ASSERT_EQ(kept.fingerprint(), fresh.fingerprint()) << where;
        const auto a = kept.report(), b = fresh.report();
        ASSERT_EQ(a.endpoints.size(), b.endpoints.size()) << where;
        for (size_t i = 0; i < a.endpoints.size(); ++i)
            ASSERT_EQ(std::tie(a.endpoints[i].endpoint, a.endpoints[i].slack, a.endpoints[i].corner),
                      std::tie(b.endpoints[i].endpoint, b.endpoints[i].slack, b.endpoints[i].corner))
                << where;
        ASSERT_EQ(a.paths.size(), b.paths.size()) << where;
        for (size_t i = 0; i < a.paths.size(); ++i) ASSERT_EQ(a.paths[i].slack, b.paths[i].slack) << where;
        ASSERT_EQ(a.coverage.untimed.size(), b.coverage.untimed.size()) << where;
        ASSERT_EQ(a.messages.size(), b.messages.size()) << where;
    }
};

TEST_F(KeptWithEverything, HasTheBitsOfAFreshRunAfterEveryEdit) {
    size_t followed = 0, edits = 0;
    for (unsigned seed = 1; seed <= 120; ++seed) {
        test::Scenario s(seed);
        std::mt19937 random(seed);
        TimingOptions options;
        options.paths = 30;
        options.per_endpoint = 2;
        options.common_path_credit = seed % 4 != 0;
        options.propagated = seed % 5 == 0;
        std::vector<std::string> more;
        const auto text = [&] {
            std::string out = s.sdc;
            for (const auto& l : more) out += l + "\n";
            return out;
        };
        auto k = s.read(text());
        TimingEngine kept({s.netlist, s.library, k}, options, corners(s, seed));
        kept.update();
        kept.require();
        std::vector<Moved> moves;
        std::map<std::string, double> pads;
        for (int edit = 0; edit < 10; ++edit) {
            std::string what;
            switch (random() % 5) {
                case 0:
                case 1:
                    if (!more.empty() && random() % 3 == 0)
                        more.erase(more.begin() + static_cast<long>(random() % more.size()));
                    else
                        more.push_back(s.line());
                    k = s.read(text());
                    kept.set_constraints(k);
                    what = "text";
                    break;
                case 2:
                    if (!k.io_delays.empty()) k.io_delays[random() % k.io_delays.size()].value += 0.125;
                    kept.set_constraints(k);
                    more.clear();
                    more.push_back("# values moved by hand");
                    what = "an I/O delay";
                    edit = 9;  // the text no longer says what the engine has: the last edit of this circuit
                    break;
                case 3: {
                    const auto name = "d[" + std::to_string(random() % 3) + "]";
                    if (pads.contains(name))
                        pads.erase(name);
                    else
                        pads[name] = 0.092 * static_cast<double>(1 + random() % 23);
                    kept.set_pad_delays(pads);
                    what = "a pad";
                    break;
                }
                default: {
                    const auto corner = seed % 3 == 0 ? random() % 2 : 0;
                    const Moved m{static_cast<std::uint32_t>(random() % kept.arcs()),
                                  random() % 2 == 0,
                                  random() % 2 == 0,
                                  random() % 2 == 0,
                                  static_cast<double>(random() % 2000) / 1000,
                                  corner};
                    // A wire behind a pad has its delay from there.
                    if (std::isnan(kept.delay(m.arc, m.late, m.in_rise, m.out_rise, m.corner)) || !pads.empty())
                        continue;
                    moves.push_back(m);
                    kept.set_delay(m.arc, m.late, m.in_rise, m.out_rise, m.ns, m.corner);
                    what = "a delay";
                }
            }
            ASSERT_TRUE(kept.update());
            followed += !kept.work().structure && !kept.work().ends;
            ++edits;
            same(kept, s, k, options, seed, moves, pads,
                 "circuit " + std::to_string(seed) + ", edit " + std::to_string(edit) + ": " + what + "\n" + s.verilog +
                     text() + s.sdf);
            if (HasFatalFailure()) return;
        }
    }
    EXPECT_GT(followed, edits / 4);
}

}  // namespace
}  // namespace kp
