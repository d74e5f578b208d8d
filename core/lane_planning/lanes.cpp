// SPDX-License-Identifier: GPL-3.0-or-later
// A block is small, so that all of it is one question to the solver: a spot, a clock and crossings for each link.
// The best of all ways is found by the same solver (MaxSAT), so that its cost is the bound.
#include "core/lane_planning/lanes.hpp"

#include "core/base/text.hpp"
#include "core/pin_placement/explain.hpp"
#include "core/base/said.hpp"
#include "core/lane_planning/spots.hpp"
#include "core/model/lane_pins.hpp"

#include <algorithm>
#include <limits>
#include <map>
#include <z3++.h>

namespace kp {

namespace {

Message lanes_error(const std::string& text) {
    return {Severity::stop, Code::lanes, text};
}

class Planner {
public:
    Planner(const Part& part, const LaneQuestion& q) : part_(part), q_(q) {}

    Result<LaneAnswer> run() {
        if (auto why = look()) return *why;
        make_variables();
        for (const int f : optional_) active_[static_cast<size_t>(f)] = false;
        LaneAnswer out;
        if (!possible(active_)) {
            conflict(out);
        } else {
            for (const int f : optional_) {
                active_[static_cast<size_t>(f)] = true;
                if (!possible(active_)) active_[static_cast<size_t>(f)] = false;
            }
            solve(out);
            prefer_what_the_board_gives(out);
        }
        if (!q_.spots.empty()) list_spots(out);
        return out;
    }

private:
    using State = LaneLink::State;

    /// One link with what it may be.
    struct Asked {
        const LaneLink* what = nullptr;
        int fact = -1;  ///< that it has a place; -1: it does not take part
        int peg = -1;   ///< that it lies where it is pegged
        std::vector<Spot> spots;
        std::vector<z3::expr> at;                             ///< by spot
        std::map<std::pair<size_t, size_t>, z3::expr> clock;  ///< by block and clock
        std::map<std::pair<size_t, int>, z3::expr> takes;     ///< by block and number: so many crossings
        std::map<std::pair<size_t, int>, z3::expr> crossing;  ///< by block and first crossing
        std::optional<Spot> now;                              ///< loose or pegged
    };

    int add_fact(std::string id, std::string kind, std::string text, std::string relax,
                 std::vector<std::string> objects) {
        facts_.push_back({std::move(id), std::move(kind), std::move(text), std::move(relax), std::move(objects)});
        active_.push_back(true);
        return static_cast<int>(facts_.size() - 1);
    }

    std::optional<Message> look() {
        if (part_.lane_blocks.empty()) return lanes_error(said("The part {} has no lanes.", part_.name));
        constexpr size_t most_links = 1000;
        if (q_.links.size() > most_links)
            return lanes_error("More than 1000 links are asked for; that many are not solved at once.");
        for (const auto& i : q_.links) {
            Asked a;
            a.what = &i;
            for (size_t t = 0; t < part_.lane_blocks.size(); ++t)
                for (size_t e = 0; e < part_.lane_blocks[t].engines.size(); ++e)
                    for (size_t l = 0; l < part_.lane_blocks[t].lanes.size(); ++l)
                        if (knows(part_.lane_blocks[t].engines[e], i) &&
                            spot_fits(part_.lane_blocks[t], part_.lane_blocks[t].engines[e], l, i))
                            a.spots.push_back({t, e, l});
            if (auto why = find_now(a)) return why;
            add_facts(a);
            asked_.push_back(std::move(a));
        }
        add_board();
        for (const auto& id : q_.relax) {
            const auto at = std::find_if(facts_.begin(), facts_.end(), [&](const auto& f) { return f.id == id; });
            if (at == facts_.end())
                return lanes_error(
                    said("'{}' names nothing that stands in the way here; ids are link:NAME and peg:NAME.", id));
            active_[static_cast<size_t>(at - facts_.begin())] = false;
        }
        for (auto name : {q_.spots})
            if (!name.empty() && !asked(name)) return lanes_error(said("There is no link '{}'.", name));
        return std::nullopt;
    }
    [[nodiscard]] const Asked* asked(const std::string& name) const {
        for (const auto& a : asked_)
            if (a.what->name == name) return &a;
        return nullptr;
    }

    /// Where it lies now: its first lane in the block.
    std::optional<Message> find_now(Asked& a) const {
        for (const auto& name : a.what->at) {
            bool known = false;
            for (size_t t = 0; t < part_.lane_blocks.size(); ++t)
                for (size_t l = 0; l < part_.lane_blocks[t].lanes.size(); ++l) {
                    if (part_.lane_blocks[t].lanes[l].name != name) continue;
                    known = true;
                    if (!a.now) a.now = Spot{t, 0, l};
                    if (l < a.now->first) a.now->first = l;
                }
            if (!known)
                return lanes_error(
                    said("The link {} names lane {}, which {} does not have.", a.what->name, name, part_.name));
        }
        return std::nullopt;
    }
    [[nodiscard]] bool lies_at(const Asked& a, const Spot& s) const {
        if (!a.now || s.block != a.now->block || s.first != a.now->first) return false;
        const auto& lanes = part_.lane_blocks[s.block].lanes;
        std::set<std::string> there, named(a.what->at.begin(), a.what->at.end());
        for (size_t l = s.first; l < s.first + static_cast<size_t>(a.what->lanes); ++l) there.insert(lanes[l].name);
        return there == named;
    }

    /// What the board's oscillators give on reference clocks.
    void add_board() {
        for (size_t t = 0; q_.board && t < part_.lane_blocks.size(); ++t)
            for (size_t c = 0; c < part_.lane_blocks[t].clocks.size(); ++c)
                if (const double mhz = oscillator_mhz(*q_.board, part_.lane_blocks[t].clocks[c]); mhz > 0)
                    given_.push_back({t, c, mhz});
    }

    /// The same number of links with no more moved, each on a clock that the board gives, if there is such an answer.
    void prefer_what_the_board_gives(LaneAnswer& out) {
        const auto agrees = [&](const LanePlace& p) {
            return std::none_of(given_.begin(), given_.end(), [&](const Given& g) {
                const auto& block = part_.lane_blocks[g.block];
                return block.name == p.block && block.clocks[g.clock].name == p.clock &&
                       !is_same_rate(g.mhz, asked(p.link)->what->clock_mhz);
            });
        };
        if (std::all_of(out.placed.begin(), out.placed.end(), agrees)) return;
        board_counts_ = true;
        LaneAnswer by_board;
        if (possible(active_)) solve(by_board);
        board_counts_ = false;
        if (by_board.solved && by_board.placed.size() == out.placed.size() && by_board.moved <= out.moved)
            out = std::move(by_board);
    }

    void add_facts(Asked& a) {
        const auto& i = *a.what;
        const auto lanes = counted(i.lanes, "lane");
        const auto text = said("{} wants {} of {} at {} Gbit/s with a clock of {} MHz.", i.name, lanes, i.protocol,
                               shortest(i.gbps), shortest(i.clock_mhz));
        const bool chosen = q_.only.empty() || q_.only.contains(i.name) || i.state == State::loose;
        if (i.state == State::off || (i.state == State::adrift && !chosen)) return;
        if (i.state == State::pegged) {
            a.peg = add_fact("peg:" + i.name, "peg", said("{} is pegged to {}.", i.name, list_names(i.at, 8)),
                             "loosen " + i.name, {i.name});
            a.fact = a.peg;
            if (q_.relax.contains("peg:" + i.name)) {
                a.fact = add_fact("link:" + i.name, "link", text, said("leave {} adrift", i.name), {i.name});
                optional_.push_back(a.fact);
            }
            return;
        }
        a.fact = add_fact("link:" + i.name, "link", text, said("leave {} adrift", i.name), {i.name});
    }

    // Variables and what has to hold ---------------------------------------------------------------------------------

    z3::expr variable(const std::string& name) { return context_.bool_const(name.c_str()); }

    void make_variables() {
        for (size_t n = 0; n < asked_.size(); ++n) {
            auto& a = asked_[n];
            const auto mark = std::to_string(n) + "_";
            for (size_t s = 0; s < a.spots.size(); ++s) a.at.push_back(variable("at" + mark + std::to_string(s)));
            std::set<std::pair<size_t, size_t>> clocks;
            std::set<std::pair<size_t, int>> crossings;
            for (const auto& s : a.spots) {
                const auto& block = part_.lane_blocks[s.block];
                const int wanted = crossings_wanted(block.engines[s.engine], *a.what);
                a.takes.emplace(std::pair(s.block, wanted),
                                variable("w" + mark + std::to_string(s.block) + "_" + std::to_string(wanted)));
                for (size_t c = 0; c < block.clocks.size(); ++c) clocks.insert({s.block, c});
                for (int c = 0; c < std::max(1, block.crossings); ++c) crossings.insert({s.block, c});
            }
            for (const auto& c : clocks)
                a.clock.emplace(c, variable("c" + mark + std::to_string(c.first) + "_" + std::to_string(c.second)));
            for (const auto& c : crossings)
                a.crossing.emplace(c, variable("h" + mark + std::to_string(c.first) + "_" + std::to_string(c.second)));
        }
    }

    [[nodiscard]] bool counts(const Asked& a, const std::vector<bool>& active) const {
        return a.fact >= 0 &&
               (active[static_cast<size_t>(a.fact)] || (a.peg >= 0 && active[static_cast<size_t>(a.peg)]));
    }

    template <class Solver>
    void one_of(Solver& solver, const z3::expr_vector& list) {
        if (list.empty()) {
            solver.add(context_.bool_val(false));
            return;
        }
        solver.add(z3::mk_or(list));
        solver.add(z3::atmost(list, 1));
    }

    /// All that has to hold for those that count.
    template <class Solver>
    void demand(Solver& solver, const std::vector<bool>& active) {
        for (auto& a : asked_)
            if (counts(a, active)) demand_one(solver, a, active);
        for (size_t t = 0; t < part_.lane_blocks.size(); ++t) demand_block(solver, t, active);
        if (board_counts_) demand_board(solver, active);
    }

    template <class Solver>
    void demand_one(Solver& solver, Asked& a, const std::vector<bool>& active) {
        z3::expr_vector at(context_), clocks(context_), crossings(context_);
        const bool held = a.peg >= 0 && active[static_cast<size_t>(a.peg)];
        for (size_t s = 0; s < a.spots.size(); ++s) {
            if (held && !lies_at(a, a.spots[s])) {
                solver.add(!a.at[s]);
                continue;
            }
            at.push_back(a.at[s]);
            demand_spot(solver, a, s);
        }
        one_of(solver, at);
        for (const auto& [key, c] : a.clock) clocks.push_back(c);
        for (const auto& [key, c] : a.crossing) crossings.push_back(c);
        one_of(solver, clocks);
        one_of(solver, crossings);
        z3::expr_vector takes(context_);
        for (const auto& [key, t] : a.takes) takes.push_back(t);
        if (takes.size() > 1) solver.add(z3::atmost(takes, 1));
    }

    /// A link takes no reference clock on which the board gives another frequency. One that is pegged stays where it
    /// is, and the rules tell what is wrong there.
    template <class Solver>
    void demand_board(Solver& solver, const std::vector<bool>& active) {
        for (const auto& g : given_)
            for (auto& a : asked_) {
                const bool held = a.peg >= 0 && active[static_cast<size_t>(a.peg)];
                const auto clock = a.clock.find({g.block, g.clock});
                if (counts(a, active) && !held && clock != a.clock.end() && !is_same_rate(g.mhz, a.what->clock_mhz))
                    solver.add(!clock->second);
            }
    }

    template <class Solver>
    void demand_spot(Solver& solver, Asked& a, size_t s) {
        const auto& spot = a.spots[s];
        const auto& block = part_.lane_blocks[spot.block];
        const auto& engine = block.engines[spot.engine];
        z3::expr_vector clocks(context_), crossings(context_);
        for (size_t c = 0; c < block.clocks.size(); ++c)
            if (clock_fits(block, block.clocks[c], spot.first, *a.what)) clocks.push_back(a.clock.at({spot.block, c}));
        const int wanted = crossings_wanted(engine, *a.what);
        for (int c = 0; c < std::max(1, block.crossings); ++c)
            if (wanted == 0 ? c == 0 : reaches_crossings(block, engine, c, wanted))
                crossings.push_back(a.crossing.at({spot.block, c}));
        solver.add(z3::implies(a.at[s], a.takes.at({spot.block, wanted})));
        solver.add(z3::implies(a.at[s], clocks.empty() ? context_.bool_val(false) : z3::mk_or(clocks)));
        solver.add(z3::implies(a.at[s], crossings.empty() ? context_.bool_val(false) : z3::mk_or(crossings)));
    }

    template <class Solver>
    void demand_block(Solver& solver, size_t t, const std::vector<bool>& active) {
        const auto& block = part_.lane_blocks[t];
        // Each lane and each crossing once.
        for (size_t l = 0; l < block.lanes.size(); ++l) {
            z3::expr_vector users(context_);
            for (const auto& a : asked_)
                for (size_t s = 0; counts(a, active) && s < a.spots.size(); ++s)
                    if (a.spots[s].block == t && l >= a.spots[s].first &&
                        l < a.spots[s].first + static_cast<size_t>(a.what->lanes))
                        users.push_back(a.at[s]);
            if (users.size() > 1) solver.add(z3::atmost(users, 1));
        }
        for (int c = 0; c < block.crossings; ++c) {
            z3::expr_vector users(context_);
            for (const auto& a : asked_)
                for (const auto& [key, takes] : a.takes) {
                    if (!counts(a, active) || key.first != t) continue;
                    for (int from = std::max(0, c - key.second + 1); from <= c && key.second > 0; ++from)
                        users.push_back(takes && a.crossing.at({t, from}));
                }
            if (users.size() > 1) solver.add(z3::atmost(users, 1));
        }
        // One frequency on a reference clock.
        for (size_t x = 0; x < asked_.size(); ++x)
            for (size_t y = x + 1; y < asked_.size(); ++y)
                for (size_t c = 0; c < block.clocks.size(); ++c)
                    if (counts(asked_[x], active) && counts(asked_[y], active) &&
                        std::abs(asked_[x].what->clock_mhz - asked_[y].what->clock_mhz) > 1e-9 &&
                        asked_[x].clock.contains({t, c}) && asked_[y].clock.contains({t, c}))
                        solver.add(!(asked_[x].clock.at({t, c}) && asked_[y].clock.at({t, c})));
        for (size_t e = 0; e < block.engines.size(); ++e) demand_engine(solver, t, e, active);
    }

    /// The widths in use are all or part of one split, or fit into the capacity.
    template <class Solver>
    void demand_engine(Solver& solver, size_t t, size_t e, const std::vector<bool>& active) {
        const auto& engine = part_.lane_blocks[t].engines[e];
        std::map<int, z3::expr_vector> by_width;
        z3::expr_vector all(context_);
        std::vector<int> widths;
        for (const auto& a : asked_)
            for (size_t s = 0; counts(a, active) && s < a.spots.size(); ++s)
                if (a.spots[s].block == t && a.spots[s].engine == e) {
                    by_width.try_emplace(a.what->lanes, context_).first->second.push_back(a.at[s]);
                    all.push_back(a.at[s]);
                    widths.push_back(a.what->lanes);
                }
        if (all.empty()) return;
        if (engine.splits.empty()) {
            const int most = engine.capacity.value_or(static_cast<int>(engine.lanes.size()));
            solver.add(z3::pble(all, widths.data(), most));
            return;
        }
        z3::expr_vector splits(context_);
        for (size_t n = 0; n < engine.splits.size(); ++n) {
            const auto split = variable("z" + std::to_string(t) + "_" + std::to_string(e) + "_" + std::to_string(n));
            splits.push_back(split);
            for (const auto& [width, users] : by_width) {
                const auto most = std::count(engine.splits[n].begin(), engine.splits[n].end(), width);
                solver.add(z3::implies(split, z3::atmost(users, static_cast<unsigned>(most))));
            }
        }
        solver.add(z3::mk_or(splits));
    }

    // Questions ------------------------------------------------------------------------------------------------------

    template <class Solver>
    void limit(Solver& solver, unsigned most_ms = 30'000) {
        z3::params params(context_);
        params.set("timeout", most_ms);
        solver.set(params);
    }

    /// No answer is none: it must not be taken for a conflict.
    static bool answered(z3::check_result result) {
        if (result == z3::unknown) throw z3::exception("it took too long");
        return result == z3::sat;
    }

    /// More lanes wanted, in all or by those of one protocol, than there are for them. To count is a proof, and one
    /// that the solver would look for among all the ways to be one short.
    bool too_many(const std::vector<bool>& active) const {
        std::map<std::string, long long> wanted;
        std::map<std::string, std::set<std::pair<size_t, std::string>>> reached;
        long long all = 0, lanes = 0;
        for (size_t t = 0; t < part_.lane_blocks.size(); ++t) {
            lanes += static_cast<long long>(part_.lane_blocks[t].lanes.size());
            for (const auto& engine : part_.lane_blocks[t].engines)
                for (const auto& protocol : engine.protocols)
                    for (const auto& lane : engine.lanes) reached[protocol].insert({t, lane});
        }
        for (const auto& a : asked_) {
            if (!counts(a, active)) continue;
            all += a.what->lanes;
            wanted[a.what->protocol] += a.what->lanes;
        }
        return all > lanes || std::any_of(wanted.begin(), wanted.end(), [&](const auto& w) {
                   return w.second > static_cast<long long>(reached[w.first].size());
               });
    }

    bool possible(const std::vector<bool>& active) {
        if (too_many(active)) return false;
        z3::solver solver(context_);
        limit(solver);
        demand(solver, active);
        return answered(solver.check());
    }

    void conflict(LaneAnswer& out) {
        std::vector<int> all;
        for (size_t f = 0; f < facts_.size(); ++f)
            if (active_[f]) all.push_back(static_cast<int>(f));
        const auto members = pin_placement::smallest_conflict(all, [&](const std::vector<int>& some) {
            std::vector<bool> active(facts_.size(), false);
            for (const int f : some) active[static_cast<size_t>(f)] = true;
            return possible(active);
        });
        for (const int f : members) out.conflict.push_back(facts_[static_cast<size_t>(f)]);
    }

    /// Lanes moved count most; then small engines are taken first, so that large ones stay whole; then low places.
    [[nodiscard]] int price(const Asked& a, const Spot& s) const {
        const auto& engine = part_.lane_blocks[s.block].engines[s.engine];
        const bool moved = a.now && a.what->state != State::adrift && !lies_at(a, s);
        return (moved ? 1000 * a.what->lanes : 0) + 10 * static_cast<int>(engine.lanes.size()) +
               static_cast<int>(s.first) + 100 * static_cast<int>(s.block);
    }

    void solve(LaneAnswer& out) {
        z3::optimize best(context_);
        limit(best, 5'000);
        demand(best, active_);
        for (const auto& a : asked_) {
            if (!counts(a, active_)) continue;
            for (size_t s = 0; s < a.spots.size(); ++s)
                best.add_soft(!a.at[s], static_cast<unsigned>(price(a, a.spots[s])));
        }
        const auto result = best.check();
        if (result == z3::unsat) return;
        const bool best_known = result == z3::sat;
        const auto model = best_known ? best.get_model() : any_model();
        out.solved = true;
        for (const auto& a : asked_) {
            if (!counts(a, active_)) {
                if (a.what->state != State::off) out.left_adrift.push_back(a.what->name);
                continue;
            }
            for (size_t s = 0; s < a.spots.size(); ++s)
                if (model.eval(a.at[s], true).is_true()) tell(a, a.spots[s], model, out);
        }
        out.bound = best_known ? out.cost : least_cost();
    }

    /// Where the best was not found in time, any way that is legal.
    z3::model any_model() {
        z3::solver solver(context_);
        limit(solver);
        demand(solver, active_);
        (void)answered(solver.check());
        return solver.get_model();
    }
    /// What each link costs at least by itself.
    [[nodiscard]] long long least_cost() const {
        long long out = 0;
        for (const auto& a : asked_) {
            if (!counts(a, active_)) continue;
            int least = std::numeric_limits<int>::max();
            for (const auto& s : a.spots) least = std::min(least, price(a, s));
            out += least;
        }
        return out;
    }

    void tell(const Asked& a, const Spot& spot, const z3::model& model, LaneAnswer& out) const {
        const auto& block = part_.lane_blocks[spot.block];
        LanePlace p{a.what->name, block.name, block.engines[spot.engine].name, "", {}, {}};
        for (size_t l = spot.first; l < spot.first + static_cast<size_t>(a.what->lanes); ++l)
            p.lanes.push_back(block.lanes[l].name);
        for (const auto& [key, c] : a.clock)
            if (key.first == spot.block && model.eval(c, true).is_true()) p.clock = block.clocks[key.second].name;
        const int wanted = crossings_wanted(block.engines[spot.engine], *a.what);
        for (const auto& [key, c] : a.crossing)
            if (key.first == spot.block && model.eval(c, true).is_true())
                for (int n = 0; n < wanted; ++n) p.crossings.push_back(key.second + n);
        out.cost += price(a, spot);
        const bool was_there = a.now && (a.what->state == State::loose || a.what->state == State::pegged);
        out.moved += was_there && !lies_at(a, spot);
        out.placed.push_back(std::move(p));
    }

    /// Every spot and clock of one link beside what is pegged; the others are left out of account.
    void list_spots(LaneAnswer& out) {
        std::vector<bool> active(facts_.size(), false);
        const Asked* one = asked(q_.spots);
        for (const auto& a : asked_)
            if (a.peg >= 0 && active_[static_cast<size_t>(a.peg)] && &a != one)
                active[static_cast<size_t>(a.peg)] = true;
        auto& a = const_cast<Asked&>(*one);
        const int fact = a.fact, peg = a.peg;
        // Its own peg does not hold it here.
        a.peg = -1;
        if (a.fact < 0) a.fact = add_fact("link:" + a.what->name, "link", "", "", {});
        active.resize(facts_.size(), false);
        active[static_cast<size_t>(a.fact)] = true;
        z3::solver solver(context_);
        demand(solver, active);
        for (size_t s = 0; s < a.spots.size(); ++s) {
            const auto& spot = a.spots[s];
            const auto& block = part_.lane_blocks[spot.block];
            for (size_t c = 0; c < block.clocks.size(); ++c) {
                z3::expr_vector so(context_);
                so.push_back(a.at[s]);
                so.push_back(a.clock.at({spot.block, c}));
                if (!clock_fits(block, block.clocks[c], spot.first, *a.what) || solver.check(so) != z3::sat) continue;
                LaneSpot found{block.name, block.engines[spot.engine].name, block.clocks[c].name, {}};
                for (size_t l = spot.first; l < spot.first + static_cast<size_t>(a.what->lanes); ++l)
                    found.lanes.push_back(block.lanes[l].name);
                out.spots.push_back(std::move(found));
            }
        }
        a.fact = fact;
        a.peg = peg;
    }

    /// A reference clock of a block with what the board gives on it.
    struct Given {
        size_t block = 0, clock = 0;
        double mhz = 0;
    };

    const Part& part_;
    const LaneQuestion& q_;
    std::vector<Given> given_;
    bool board_counts_ = false;
    z3::context context_;
    std::vector<pin_placement::Fact> facts_;
    std::vector<bool> active_;
    std::vector<int> optional_;
    std::vector<Asked> asked_;
};

}  // namespace

Result<LaneAnswer> place_lanes(const Part& part, const LaneQuestion& q) {
    try {
        return Planner(part, q).run();
    } catch (const z3::exception& trouble) {
        return lanes_error(said("The solver gave up on these links ({}); ask for fewer at once.", trouble.msg()));
    }
}

Edit lanes_edit(const Project& project, const LaneAnswer& answer, const std::set<std::string>& relaxed) {
    std::vector<std::string> lines;
    for (const auto& line : project.links) {
        auto i = link_of(line);
        const bool loosened = relaxed.contains("peg:" + i.name);
        const auto at = std::find_if(answer.placed.begin(), answer.placed.end(),
                                     [&](const LanePlace& p) { return p.link == i.name; });
        if (i.state == LaneLink::State::pegged && !loosened) {
            lines.push_back(line);
            continue;
        }
        if (at != answer.placed.end()) {
            i.state = LaneLink::State::loose;
            i.at = at->lanes;
        } else if (loosened) {
            i.state = LaneLink::State::adrift;
            i.at.clear();
        }
        lines.push_back(line_of(i));
    }
    Edit edit{"place links on lanes", {}};
    auto change = set_field(project, "links", lines_of(lines));
    if (change.before != change.after) edit.changes.emplace_back(std::move(change));
    return edit;
}

}  // namespace kp
