// SPDX-License-Identifier: GPL-3.0-or-later
// Findings that follow edits are those of a full run, to the order and the number.
#include "tests/rules/planted.hpp"

#include "core/planning/place.hpp"

#include <random>

namespace kp {
namespace {

std::string whole(const std::vector<Finding>& findings) {
    std::string out;
    for (const auto& f : findings) {
        out += f.rule + " " + name_of(f.severity) + " " + f.text + (f.waived ? " waived by " + f.waived->who : "");
        for (const auto& n : f.numbers) out += " " + n.name + "=" + std::to_string(n.value);
        out += "\n";
    }
    return out;
}

/// Random edits of every kind a plan knows, as the window makes them.
class Scribbler {
public:
    Scribbler(Planted& p, unsigned seed) : p_(p), random_(seed) {
        for (const auto& port : p.world().netlist.ports) ports_.push_back(port.name);
        for (const auto& pin : p.part.pins) pins_.push_back(pin.name);
        for (const auto& s : p.standards.rows) standards_.push_back(s.name);
    }
    Edit next() {
        switch (random_() % 12) {
            case 0: return unpeg_edit(p_.project, any(ports_));
            case 1: return swap_edit(p_.project, any(ports_), any(ports_));
            case 2: return standard_edit(p_.project, any(ports_), any(standards_));
            case 3: return attribute(&PortAttributes::drive, {"", "2", "4", "8", "16", "99"});
            case 4: return attribute(&PortAttributes::slew, {"", "slow", "fast"});
            case 5: return attribute(&PortAttributes::pull, {"", "up", "down", "keeper"});
            case 6: return attribute(&PortAttributes::termination, {"", "60", "100"});
            case 7: return attribute(&PortAttributes::partner, {"", any(ports_), "nobody"});
            case 8: return waiver();
            case 9:
                return {"",
                        {set_field(p_.project, any<std::string>({"unused_pins", "mode", "load", "start_clock"}),
                                   any<std::string>({"", "pull up", "drive low", "volatile", "jtag", "byte stream"}))}};
            case 10: return gone();
            default: return peg_edit(p_.project, p_.board, any(ports_), any(pins_), "by hand");
        }
    }

private:
    template <class T>
    T any(const std::vector<T>& list) {
        return list[random_() % list.size()];
    }
    Edit attribute(std::string PortAttributes::*field, const std::vector<std::string>& values) {
        const auto port = any(ports_);
        const auto before = p_.project.attributes.contains(port) ? p_.project.attributes[port] : PortAttributes{};
        auto after = before;
        after.*field = any(values);
        return {"", {AttributeChange{port, before, after}}};
    }
    Edit waiver() {
        const auto port = any(ports_);
        const auto& list = p_.project.waivers;
        if (!list.empty() && random_() % 2) return {"", {WaiverChange{any(list), false}}};
        return {"",
                {WaiverChange{{any<std::string>({"L11", "E01", "E03"}), {port}, "later", "me", "2026-11-23"}, true}}};
    }
    /// A peg of a port that the design does not have, coming or going.
    Edit gone() {
        const std::string name = "gone" + std::to_string(random_() % 3);
        const auto at = p_.project.pegs.find(name);
        const auto before = at == p_.project.pegs.end() ? std::nullopt : std::optional<Peg>(at->second);
        const auto after = before ? std::nullopt : std::optional<Peg>(Peg{any(pins_), PegState::pegged, "by hand"});
        return {"", {PegChange{name, before, after}}};
    }
    Planted& p_;
    std::mt19937 random_;
    std::vector<std::string> ports_, pins_, standards_;
};

void scribble(Planted& p, int edits) {
    p.board.index();
    const auto& a = p.session->analysis();
    RuleInput input(p.part, p.board, p.standards, p.world().netlist.ports, p.project, a.constraints(), a.timing(),
                    a.design());
    input.with_fixes = false;
    LiveRules live(input);
    Scribbler scribbler(p, 1);
    std::vector<Edit> undo;
    for (int i = 0; i < edits; ++i) {
        // Every so often back towards the start, so that the plan stays one that looks like a plan.
        const bool back = !undo.empty() && (undo.size() > 60 || i % 3 == 2);
        const Edit edit = back ? undo.back().inverse() : scribbler.next();
        ASSERT_TRUE(apply(p.project, edit).ok());
        if (back)
            undo.pop_back();
        else
            undo.push_back(edit);
        live.update(input, edit);
        RuleInput fresh(p.part, p.board, p.standards, p.world().netlist.ports, p.project, a.constraints(), a.timing(),
                        a.design());
        fresh.with_fixes = false;
        ASSERT_EQ(whole(live.findings()), whole(run_rules(fresh))) << "edit " << i;
    }
}

TEST(LiveRules, EqualAFullRunAfterEachOfTenThousandEdits) {
    Planted p;
    scribble(p, 10000);
}

/// Supplies that follow from the pegs of a bank, and what is said of a board without a stack.
TEST(LiveRules, EqualAFullRunWithoutRailsAndStackToo) {
    Planted p;
    p.board.rails.clear();
    p.board.stack = {};
    scribble(p, 2000);
}

TEST(LiveRules, FindingsWithoutFixesAreThoseWithThem) {
    Planted p("/demo/profiler/profiler.kpeg");
    const auto& a = p.session->analysis();
    RuleInput input(p.part, p.board, p.standards, p.world().netlist.ports, p.project, a.constraints(), a.timing(),
                    a.design());
    const auto with = run_rules(input);
    input.with_fixes = false;
    EXPECT_EQ(whole(with), whole(run_rules(input)));
}

TEST(Fixes, TheFirstWayOutOfEveryPlantedFindingTakesItAway) {
    Planted p("/demo/profiler/profiler.kpeg");
    const auto& a = p.session->analysis();
    const auto run = [&] {
        RuleInput input(p.part, p.board, p.standards, p.world().netlist.ports, p.project, a.constraints(), a.timing(),
                        a.design());
        return run_rules(input);
    };
    for (const auto& f : run()) {
        // Those of the plan; a changed text needs the constraints run again (tests/session).
        if (f.rule[0] != 'L' && f.rule[0] != 'E') continue;
        ASSERT_FALSE(f.fixes.empty()) << f.text;
        ASSERT_TRUE(apply(p.project, f.fixes[0].edit).ok());
        for (const auto& g : run())
            EXPECT_FALSE(g.rule == f.rule && g.objects == f.objects) << f.text << " / " << f.fixes[0].text;
        ASSERT_TRUE(apply(p.project, f.fixes[0].edit.inverse()).ok());
    }
}

}  // namespace
}  // namespace kp
