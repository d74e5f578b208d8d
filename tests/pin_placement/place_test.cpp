// SPDX-License-Identifier: GPL-3.0-or-later
// Placing against a search through everything, judged by the rules themselves; explanations are tried member by member.
#include "core/pin_placement/place_rest.hpp"

#include "core/base/disk.hpp"
#include "core/format/json/world_json.hpp"
#include "core/rules/rules.hpp"

#include <gtest/gtest.h>

#include <random>

namespace kp {
namespace {

/// A made-up package of two banks with pairs, clock pins and a reference each.
struct PlaceWorld {
    Part part;
    Board board;
    StandardTable standards;
    std::vector<Port> ports;
    Project project;
    Constraints constraints;
    TimingReport timing;
    DesignFacts design;

    PlaceWorld() {
        const std::string file = KP_SOURCE "/data/standards/io.standards.json";
        standards = read_standards(real_disk().read(file).value(), file).take();
        board.index();
    }
    void add_bank(const std::string& name, int pins, bool clocks, std::vector<double> volts) {
        Bank bank;
        bank.name = name;
        bank.volts = std::move(volts);
        part.banks.push_back(bank);
        for (int i = 0; i < pins; ++i) {
            Pin p;
            p.name = name + std::to_string(i);
            p.bank = name;
            p.slot = static_cast<int>(part.pins.size());
            if (i + 1 < pins || pins % 2 == 0) p.pair = name + std::to_string(i ^ 1);
            if (i == (pins | 1) - 1 && pins % 2) p.pair.clear();
            p.pair_true = !p.pair.empty() && i % 2 == 0;
            if (clocks && i < 2) p.kind = PinKind::clock;
            p.reference = i == pins - 1;
            part.by_name[p.name] = part.pins.size();
            part.pins.push_back(p);
        }
        part.package.per_side = 100;
    }
    void add_port(const std::string& name, Direction direction, const std::string& standard, bool clock = false) {
        ports.push_back({name, name, -1, direction, no_id});
        PortFacts f;
        f.clocks_registers = clock;
        design.ports.push_back(f);
        if (!standard.empty()) {
            project.attributes[name].standard = standard;
            project.attributes[name].standard_origin = "chosen";
        }
    }
    void peg(const std::string& port, const std::string& pin, PegState state = PegState::pegged) {
        project.pegs[port] = {pin, state, "by hand"};
    }
    [[nodiscard]] RuleInput input(const Project& p) const {
        return {part, board, standards, ports, p, constraints, timing, design};
    }
    [[nodiscard]] bool legal(const Project& p) const {
        static const std::set<std::string> counted{"L01", "L02", "L03", "L04", "L05", "L06",
                                                   "L07", "L08", "E02", "E03", "E04"};
        auto in = input(p);
        in.with_fixes = false;
        for (const auto& f : run_rules(in))
            if (f.severity == Severity::stop && counted.contains(f.rule)) return false;
        return true;
    }
    /// Every way to lay the ports that are adrift or loose on pins.
    [[nodiscard]] bool any_way() const {
        std::vector<std::string> asked;
        for (const auto& p : ports)
            if (!project.pegs.contains(p.name) || project.pegs.at(p.name).state == PegState::loose)
                asked.push_back(p.name);
        Project p = project;
        for (const auto& a : asked) p.pegs.erase(a);
        return search(p, asked, 0);
    }
    bool search(Project& p, const std::vector<std::string>& asked, size_t at) const {
        if (at == asked.size()) return legal(p);
        for (const auto& pin : part.pins) {
            const bool taken =
                std::any_of(p.pegs.begin(), p.pegs.end(), [&](const auto& x) { return x.second.pin == pin.name; });
            if (taken) continue;
            p.pegs[asked[at]] = {pin.name, PegState::loose, ""};
            if (search(p, asked, at + 1)) return true;
            p.pegs.erase(asked[at]);
        }
        return false;
    }
};

PlaceAnswer ask(const PlaceWorld& w, const PlaceQuestion& q = {}) {
    const auto in = w.input(w.project);
    auto answer = place_rest(in, q);
    EXPECT_TRUE(answer.ok()) << answer.first().text;
    return answer.ok() ? answer.take() : PlaceAnswer{};
}

PlaceWorld random_world(unsigned seed) {
    std::mt19937 r(seed);
    const auto pick = [&](size_t n) { return static_cast<size_t>(r() % n); };
    PlaceWorld w;
    w.add_bank("A", 3 + static_cast<int>(pick(3)), pick(2) == 0, {1.8, 2.5, 3.3});
    w.add_bank("B", 2 + static_cast<int>(pick(3)), pick(2) == 0, {1.8, 3.3});
    const char* standards[] = {"LVCMOS 3.3 V", "LVCMOS 1.8 V", "SSTL 1.8 V class I", "LVCMOS 2.5 V", ""};
    const size_t n = 2 + pick(3);
    for (size_t i = 0; i < n && w.ports.size() < 5; ++i) {
        if (pick(4) == 0 && w.ports.size() < 4) {
            const auto name = "d" + std::to_string(i);
            const auto direction = pick(2) ? Direction::in : Direction::out;
            w.add_port(name + "_p", direction, "LVDS 2.5 V");
            w.add_port(name + "_n", direction, "LVDS 2.5 V");
        } else {
            const bool in = pick(2) == 0;
            w.add_port("x" + std::to_string(i), in ? Direction::in : Direction::out, standards[pick(5)],
                       in && pick(4) == 0);
        }
    }
    for (const auto& port : w.ports)
        if (pick(4) == 0) w.peg(port.name, w.part.pins[pick(w.part.pins.size())].name);
    if (pick(3) == 0) w.board.rails.push_back({"A", pick(2) ? 3.3 : 1.8});
    return w;
}

std::string told(const PlaceWorld& w, const PlaceAnswer& a) {
    std::string out;
    for (const auto& p : w.part.pins)
        out += p.name + (p.kind == PinKind::clock ? " clock" : "") + (p.reference ? " reference" : "") + "; ";
    for (const auto& p : w.ports) {
        const auto at = w.project.attributes.find(p.name);
        out += "\n" + p.name + (p.direction == Direction::in ? " in " : " out ") +
               (at == w.project.attributes.end() ? "" : at->second.standard) +
               (w.project.pegs.contains(p.name) ? " on " + w.project.pegs.at(p.name).pin : "");
        for (size_t i = 0; i < w.ports.size(); ++i)
            if (w.ports[i].name == p.name && w.design.ports[i].clocks_registers) out += " clock";
    }
    for (const auto& r : w.board.rails) out += "\nrail " + r.bank + " " + std::to_string(r.volts);
    for (const auto& f : a.conflict) out += "\n  " + f.id;
    for (const auto& p : a.placed) out += "\n  " + p.port + " at " + p.pin;
    return out;
}

/// The same world with its pegs alone.
PlaceWorld pegs_of(const PlaceWorld& w) {
    PlaceWorld out = w;
    std::erase_if(out.ports, [&](const Port& p) { return !w.project.pegs.contains(p.name); });
    out.design.ports.clear();
    for (const auto& p : out.ports)
        for (size_t i = 0; i < w.ports.size(); ++i)
            if (w.ports[i].name == p.name) out.design.ports.push_back(w.design.ports[i]);
    return out;
}

class PlaceRandom : public testing::TestWithParam<unsigned> {};

TEST_P(PlaceRandom, AgreesWithASearchThroughEverything) {
    int placed = 0, conflicts = 0;
    for (unsigned seed = GetParam() * 100; seed < GetParam() * 100 + 60; ++seed) {
        const auto w = random_world(seed);
        const auto answer = ask(w);
        SCOPED_TRACE(told(w, answer));
        // Pegs that are wrong between themselves are told and hinder nobody; the search knows no such thing.
        if (!answer.wrong.empty()) {
            EXPECT_FALSE(pegs_of(w).any_way()) << "seed " << seed;
            const auto& c = answer.conflict;
            EXPECT_TRUE(answer.status != PlaceAnswer::Status::conflict ||
                        std::any_of(c.begin(), c.end(), [](const auto& f) { return f.kind == "port"; }))
                << "seed " << seed;
            continue;
        }
        const bool possible = w.any_way();
        EXPECT_EQ(answer.status == PlaceAnswer::Status::placed, possible) << "seed " << seed;
        if (possible) {
            ++placed;
            if (answer.status != PlaceAnswer::Status::placed) continue;
            Project then = w.project;
            ASSERT_TRUE(apply(then, answer.edit).ok());
            EXPECT_TRUE(w.legal(then)) << "seed " << seed;
            EXPECT_GE(answer.cost, answer.bound) << "seed " << seed;
            for (const auto& [port, peg] : w.project.pegs)
                EXPECT_EQ(then.pegs.at(port).pin, peg.pin) << "what is pegged never moves";
            // Placed once more nothing moves.
            PlaceWorld again = w;
            again.project = then;
            const auto second = ask(again);
            EXPECT_EQ(second.moved, 0) << "seed " << seed;
            EXPECT_TRUE(second.edit.empty()) << "seed " << seed;
            continue;
        }
        if (answer.status != PlaceAnswer::Status::conflict) continue;
        ++conflicts;
        ASSERT_FALSE(answer.conflict.empty()) << "seed " << seed;
        for (const auto& member : answer.conflict) {
            PlaceQuestion without;
            without.relax = {member.id};
            // Without one of them, what is left of this conflict goes together: another one may stand behind it.
            const auto then = ask(w, without);
            if (then.status != PlaceAnswer::Status::conflict) continue;
            for (const auto& other : then.conflict) EXPECT_NE(other.id, member.id) << "seed " << seed;
        }
        // Those alone have no solution, and with any one of them left out they have one.
        PlaceWorld alone = w;
        std::set<std::string> named;
        for (const auto& member : answer.conflict) named.insert(member.objects.begin(), member.objects.end());
        std::erase_if(alone.ports, [&](const Port& p) { return !named.contains(p.name); });
        alone.design.ports.clear();
        for (const auto& p : alone.ports)
            for (size_t i = 0; i < w.ports.size(); ++i)
                if (w.ports[i].name == p.name) alone.design.ports.push_back(w.design.ports[i]);
        std::erase_if(alone.project.pegs, [&](const auto& p) { return !named.contains(p.first); });
        EXPECT_FALSE(alone.any_way()) << "seed " << seed;
        for (const auto& member : answer.conflict) {
            PlaceQuestion without;
            without.relax = {member.id};
            EXPECT_EQ(ask(alone, without).status, PlaceAnswer::Status::placed) << "seed " << seed << " " << member.id;
        }
    }
    EXPECT_GT(placed, 10);
    EXPECT_GT(conflicts, 3);
}

INSTANTIATE_TEST_SUITE_P(Hundreds, PlaceRandom, testing::Range(0u, 5u));

TEST(Place, ABusLiesInOrderAndTheCostIsTheBound) {
    PlaceWorld w;
    w.add_bank("A", 16, true, {3.3});
    for (int i = 0; i < 8; ++i) {
        w.add_port("data[" + std::to_string(i) + "]", Direction::out, "LVCMOS 3.3 V");
        w.ports.back().bus = "data";
        w.ports.back().index = i;
    }
    const auto answer = ask(w);
    ASSERT_EQ(answer.placed.size(), 8u);
    for (size_t i = 1; i < 8; ++i)
        EXPECT_EQ(w.part.by_name.at(answer.placed[i].pin), w.part.by_name.at(answer.placed[i - 1].pin) + 1);
    EXPECT_EQ(answer.cost, answer.bound);
    EXPECT_GT(w.part.by_name.at(answer.placed[0].pin), 1u) << "clock pins are kept free";
    // The same seed gives the same, another one may not.
    EXPECT_TRUE(ask(w).edit.changes.size() == answer.edit.changes.size());
    PlaceQuestion other;
    other.seed = 3;
    EXPECT_EQ(ask(w, other).status, PlaceAnswer::Status::placed);
}

TEST(Place, AClockByItsNameAloneGetsAClockPin) {
    PlaceWorld w;
    w.add_bank("A", 12, true, {3.3});
    w.design.ports.clear();
    w.ports = {{"data", "data", -1, Direction::in, no_id}, {"clk_in", "clk_in", -1, Direction::in, no_id}};
    const auto answer = ask(w);
    ASSERT_EQ(answer.placed.size(), 2u);
    EXPECT_EQ(answer.placed[1].pin, "A0");
    EXPECT_NE(w.part.pin(answer.placed[0].pin)->kind, PinKind::clock);
}

TEST(Place, PairsThatNeedSeveralBanksAreLaidIntoThem) {
    PlaceWorld w;
    for (const char* bank : {"A", "B", "C"}) w.add_bank(bank, 4, false, {1.8, 2.5});
    for (int i = 0; i < 6; ++i)
        for (const char* half : {"_p", "_n"}) w.add_port("q" + std::to_string(i) + half, Direction::out, "LVDS 2.5 V");
    const auto answer = ask(w);
    EXPECT_EQ(answer.status, PlaceAnswer::Status::placed);
    EXPECT_EQ(answer.placed.size(), 12u);
    Project then = w.project;
    ASSERT_TRUE(apply(then, answer.edit).ok());
    EXPECT_TRUE(w.legal(then));
    w.project.attributes["q0_p"].standard = w.project.attributes["q0_n"].standard = "LVDS 1.8 V";
    w.board.rails.push_back({"B", 1.8});
    EXPECT_EQ(ask(w).status, PlaceAnswer::Status::conflict) << "five pairs at 2.5 V, and room for four";
}

/// More is wanted than there are pins: counted, not searched for, and each member of the conflict is needed.
TEST(Place, OneMoreThanThePinsIsAConflictOfJustThose) {
    for (const int pairs : {0, 3}) {
        PlaceWorld w;
        w.add_bank("A", 200, false, {2.5});
        w.add_bank("B", 200, false, {2.5});
        for (int i = 0; i < pairs; ++i)
            for (const char* half : {"_p", "_n"})
                w.add_port("q" + std::to_string(i) + half, Direction::out, "LVDS 2.5 V");
        for (int i = 0; i < 405 - 2 * pairs; ++i) w.add_port("x" + std::to_string(i), Direction::in, "");
        PlaceQuestion q;
        q.seconds = 60;
        const auto answer = ask(w, q);
        ASSERT_EQ(answer.status, PlaceAnswer::Status::conflict) << pairs;
        std::set<std::string> ports;
        for (const auto& f : answer.conflict) ports.insert(f.objects.begin(), f.objects.end());
        EXPECT_EQ(ports.size(), 401u) << pairs;
        for (const size_t leave : {size_t{0}, answer.conflict.size() - 1}) {
            q.ports.clear();
            for (size_t i = 0; i < answer.conflict.size(); ++i)
                if (i != leave) q.ports.insert(answer.conflict[i].objects.begin(), answer.conflict[i].objects.end());
            EXPECT_EQ(ask(w, q).status, PlaceAnswer::Status::placed) << answer.conflict[leave].id;
        }
    }
}

TEST(Place, AnUnknownIdOrPortIsRefused) {
    PlaceWorld w;
    w.add_bank("A", 4, false, {3.3});
    w.add_port("a", Direction::in, "");
    const auto in = w.input(w.project);
    PlaceQuestion q;
    q.relax = {"peg:nobody"};
    EXPECT_FALSE(place_rest(in, q).ok());
    q = {};
    q.ports = {"b"};
    EXPECT_FALSE(place_rest(in, q).ok());
}

TEST(Place, TimeThatRunsOutIsSaid) {
    PlaceWorld w;
    w.add_bank("A", 4, false, {3.3});
    w.add_port("a", Direction::in, "");
    std::stop_source stop;
    stop.request_stop();
    const auto in = w.input(w.project);
    EXPECT_EQ(place_rest(in, {}, stop.get_token()).value().status, PlaceAnswer::Status::partial);
}

TEST(Place, LargeInstancesAreLegalWithinTheBound) {
    for (unsigned seed = 0; seed < 3; ++seed) {
        std::mt19937 r(seed);
        PlaceWorld w;
        for (int b = 0; b < 10; ++b)
            w.add_bank(std::string(1, static_cast<char>('A' + b)) + "_", 60, b % 2 == 0, {1.8, 2.5, 3.3});
        const char* standards[] = {"LVCMOS 3.3 V", "LVCMOS 1.8 V", "SSTL 1.8 V class I"};
        for (int i = 0; i < 330; ++i)
            w.add_port("s" + std::to_string(i), r() % 2 ? Direction::in : Direction::out, standards[r() % 3]);
        for (int i = 0; i < 50; ++i)
            for (const char* half : {"_p", "_n"})
                w.add_port("d" + std::to_string(i) + half, Direction::out, "LVDS 2.5 V");
        const auto answer = ask(w);
        ASSERT_EQ(answer.status, PlaceAnswer::Status::placed) << seed;
        Project then = w.project;
        ASSERT_TRUE(apply(then, answer.edit).ok());
        EXPECT_TRUE(w.legal(then)) << seed;
        EXPECT_GE(answer.cost, answer.bound);
    }
}

}  // namespace
}  // namespace kp
