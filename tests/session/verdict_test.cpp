// SPDX-License-Identifier: GPL-3.0-or-later
// What a place says during a drag is what Findings would say after the drop.
#include "core/planning/place.hpp"
#include "core/planning/ways.hpp"
#include "core/session/session.hpp"
#include "core/session/verdict.hpp"

#include <algorithm>
#include <gtest/gtest.h>
#include <random>

namespace kp {
namespace {

std::unique_ptr<Session> project_of_verdict(const std::string& file) {
    auto opened = Session::open(real_disk(), KP_SOURCE "/demo/" + file, KP_SOURCE "/data");
    EXPECT_TRUE(opened.ok()) << (opened.ok() ? "" : opened.first().sentence());
    auto s = opened.take();
    s->analyse_now();
    return s;
}

/// The long way round: every rule on a changed copy of the plan, then the first stop that names the port.
std::string by_findings(const Session& s, const std::string& port, const std::string& pin) {
    Project next = s.project();
    EXPECT_TRUE(apply(next, peg_edit(next, s.world().board, port, pin, "by hand")).ok());
    for (const auto& f : find(s.world(), next, s.analysis(), false)) {
        const bool mine = std::any_of(f.objects.begin(), f.objects.end(),
                                      [&](const Subject& o) { return o.kind == Subject::port && o.name == port; });
        if (f.severity == Severity::stop && (f.rule[0] == 'L' || f.rule[0] == 'E') && f.rule != "E01" && mine &&
            !f.waived)
            return f.rule + ": " + f.text;
    }
    return {};
}

TEST(Trial, SaysWhatTheRulesSayOnTenThousandRandomPlaces) {
    std::mt19937 random(20261123);
    int refused = 0, asked = 0;
    for (const char* file : {"vane/vane.kpeg", "profiler/profiler.kpeg", "profiler/profiler-closed.kpeg"}) {
        const auto s = project_of_verdict(file);
        Trial trial(s->snapshot());
        const auto& ports = s->world().netlist.ports;
        const auto& pins = s->world().part.pins;
        for (int i = 0; i < 3334; ++i, ++asked) {
            const auto& port = ports[random() % ports.size()].name;
            const auto& pin = pins[random() % pins.size()].name;
            const auto said = trial.trouble(port, pin);
            ASSERT_EQ(said, by_findings(*s, port, pin)) << file << ": " << port << " on " << pin;
            refused += !said.empty();
        }
    }
    EXPECT_GE(asked, 10000);
    // Both answers are there, or the comparison would mean little.
    EXPECT_GT(refused, 1000);
    EXPECT_LT(refused, 9900);
}

TEST(Trial, LeavesNothingBehind) {
    const auto s = project_of_verdict("vane/vane.kpeg");
    Trial trial(s->snapshot());
    const auto before = trial.trouble("tone", "113");
    for (const auto& pin : s->world().part.pins) (void)trial.trouble("tone", pin.name);
    (void)trial.trouble_of_all({"rose_n[0]", "rose_n[1]"}, {"47", "46"});
    EXPECT_EQ(trial.trouble("tone", "113"), before);
    EXPECT_EQ(trial.trouble("tone", "46"), Trial(s->snapshot()).trouble("tone", "46"));
}

TEST(Trial, SeveralPortsMayChangePinsAmongThemselves) {
    const auto s = project_of_verdict("profiler/profiler-closed.kpeg");
    Trial trial(s->snapshot());
    const auto a = s->project().pegs.at("lamp[0]").pin, b = s->project().pegs.at("lamp[1]").pin,
               other = s->project().pegs.at("lamp[2]").pin;
    EXPECT_EQ(trial.trouble_of_all({"lamp[0]", "lamp[1]"}, {b, a}), "");
    EXPECT_EQ(trial.trouble_of_all({"lamp[0]", "lamp[1]"}, {b, other}),
              "lamp[1], L02: Pin " + other + " holds lamp[1] and lamp[2]; a pin holds one port.");
}

TEST(PlacesFrom, TargetsGiveTheirPinsInOrder) {
    const auto s = project_of_verdict("profiler/profiler-closed.kpeg");
    const auto& w = s->world();
    const auto yes = [](const std::string&, const std::string&) { return true; };
    const std::vector<std::string> bus{"lamp[3]", "lamp[2]", "lamp[1]", "lamp[0]"};
    const auto at = [&](DropTarget::Kind kind, const std::string& name, const std::vector<std::string>& ports) {
        return places_from({kind, name}, ports, w.part, w.board, s->project().pegs, yes);
    };
    // On a board part: its terminals, as the hand sees them.
    const auto lamps = at(DropTarget::Kind::board_part, "D1", bus);
    ASSERT_EQ(lamps.size(), 4u);
    for (size_t i = 0; i < lamps.size(); ++i) EXPECT_EQ(w.board.at_pin(lamps[i]).terminal->order, static_cast<int>(i));
    // On a wired pin: it and those that follow it on the part.
    const auto from = at(DropTarget::Kind::pin, w.board.at_terminal("D1.lamp5").net->pin, bus);
    EXPECT_EQ(from.size(), 3u);  // 5, 6, 7: one bit is left
    EXPECT_EQ(w.board.at_pin(from[0]).net->terminal, "D1.lamp5");
    // On a bank: free pins only.
    for (const auto& pin : at(DropTarget::Kind::bank, "6", bus)) {
        EXPECT_EQ(w.part.pin(pin)->bank, "6");
        for (const auto& [port, peg] : s->project().pegs) EXPECT_NE(peg.pin, pin);
    }
    EXPECT_TRUE(places_from({DropTarget::Kind::bank, "6"}, bus, w.part, w.board, s->project().pegs,
                            [](const auto&, const auto&) { return false; })
                    .empty());
    EXPECT_TRUE(at(DropTarget::Kind::board_part, "nobody", bus).empty());
}

}  // namespace
}  // namespace kp
