// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/session/session.hpp"
#include "core/verification/late_outputs.hpp"

#include <gtest/gtest.h>

#include <set>

namespace kp::verification {
namespace {

TEST(LateRegisters, TellWhatOnTheBoardHangsOnThem) {
    const auto s = Session::open(real_disk(), KP_SOURCE "/demo/vane/vane-closed.kpeg", KP_SOURCE "/data").take();
    s->analyse_now();
    const auto& w = s->world();
    const design::Connections d(w.netlist, w.library);
    auto report = s->analysis().timing();
    const auto late = [&] { return late_registers(d, *w.index, report, w.board, s->project().pegs); };
    EXPECT_TRUE(late().empty()) << "the closed demo meets its timing";
    EXPECT_EQ(sentence_of(late()), "");
    // One register inside, as if it came late; by hand: everything that its value can reach.
    std::string name;
    for (auto& e : report.endpoints)
        if (name.empty() && e.check == "setup" && !s->plan().port(e.endpoint)) {
            e.slack = -0.25;
            name = e.endpoint;
        }
    ASSERT_NE(name, "");
    const auto found = late();
    ASSERT_EQ(found.size(), 1u);
    EXPECT_EQ(found[0].endpoint, name);
    EXPECT_EQ(found[0].slack, -0.25);
    EXPECT_FALSE(found[0].terminals.empty()) << "a register that nothing shows would have been left out of the netlist";
    for (const auto& terminal : found[0].terminals) EXPECT_TRUE(w.board.at_terminal(terminal)) << terminal;
    EXPECT_NE(sentence_of(found).find("at " + name + " by 0.250 ns: what " + found[0].terminals[0]), std::string::npos)
        << sentence_of(found);
    // All of them: each is told once, and each terminal at the worst that reaches it.
    std::set<std::string> ends, seen;
    double slack = -1;
    for (auto& e : report.endpoints)
        if (e.check == "setup" && !s->plan().port(e.endpoint)) {
            e.slack = slack += 0.001;
            ends.insert(e.endpoint);
        }
    ASSERT_GT(ends.size(), 10u);
    const auto all = late();
    EXPECT_EQ(all.size(), ends.size());
    for (std::size_t i = 0; i < all.size(); ++i) {
        EXPECT_TRUE(i == 0 || all[i - 1].slack <= all[i].slack);
        for (const auto& terminal : all[i].terminals) EXPECT_TRUE(seen.insert(terminal).second) << terminal;
    }
    EXPECT_NE(sentence_of(all).find("and at " + std::to_string(ends.size() - 1) + " more"), std::string::npos);
    // An output that is late is nobody's register, and a pulse width is another matter.
    for (auto& e : report.endpoints) e.slack = s->plan().port(e.endpoint) || e.check == "pulse_width" ? -1 : 1;
    EXPECT_TRUE(late().empty());
}

}  // namespace
}  // namespace kp::verification
