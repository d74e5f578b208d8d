// SPDX-License-Identifier: GPL-3.0-or-later
// Kinds of units and groups of pins that are alike, so that a question costs the kinds, not the ports. Each round the
// solver proposes, the flow refutes with a cut, and the cut rules out more than the one proposal; so it ends.
#include "core/pin_placement/feasible.hpp"

#include "core/pin_placement/network.hpp"

#include <algorithm>
#include <map>
#include <set>
#include <string>
#include <tuple>
#include <unordered_map>
#include <z3++.h>

namespace kp::pin_placement {

namespace {

/// Pins that are alike to all kinds of single ports.
struct Group {
    std::vector<int> pins;
    std::map<int, int> in_pairs;  ///< group of pairs to how many of a pair's pins are here
};

/// Pairs whose pins are alike to all kinds.
struct PairGroup {
    std::vector<int> pairs;
};

struct Edge {
    int group = 0;
    Candidate place;  ///< of any of its pins
};

using Key = std::tuple<int, std::uint32_t, int, int, int>;  ///< bank, supplies, reference, byte, group

}  // namespace

class Feasibility::Solver {
public:
    Solver(const Problem& p, Limits limits) : p_(p), limits_(std::move(limits)) {
        make_groups();
        make_variables();
    }

    Answer check(const std::vector<bool>& active, const Configuration* like) {
        last_active = active;
        active_ = &active;
        crowded_.assign(p_.kinds.size(), false);
        count_units();
        z3::solver solver(context_);
        z3::params params(context_);
        params.set("random_seed", limits_.seed);
        solver.set(params);
        if (!begin(solver) || !enough_pins()) return Answer::no;
        auto hints = like ? hints_of(*like) : z3::expr_vector(context_);
        while (!limits_.reached()) {
            params.set("timeout", limits_.milliseconds_left());
            solver.set(params);
            const auto answer = hints.empty() ? solver.check() : solver.check(hints);
            if (answer == z3::unsat && !hints.empty()) {
                hints = without(hints, solver.unsat_core());
                continue;
            }
            if (answer == z3::unsat) return Answer::no;
            if (answer == z3::unknown) return Answer::unknown;
            read(solver.get_model());
            const bool singles = fits_singles(solver), pairs = fits_pairs(solver);
            if (singles && pairs) return Answer::yes;
        }
        return Answer::unknown;
    }

    Configuration now;

    [[nodiscard]] std::vector<int> crowd(const std::vector<bool>& active) const {
        std::vector<bool> in(p_.facts.size(), false);
        for (const auto& u : p_.units)
            if (crowded_[static_cast<size_t>(u.kind)] && p_.counts(u, active))
                for (const auto* list : {&u.when, &u.any})
                    for (const int f : *list) in[static_cast<size_t>(f)] = true;
        std::vector<int> out;
        for (size_t f = 0; f < in.size(); ++f)
            if (in[f]) out.push_back(static_cast<int>(f));
        return out;
    }
    std::vector<bool> last_active;

private:
    // Made once --------------------------------------------------------------------------------------------------

    void make_groups() {
        std::vector<std::string> mark(p_.bank_of.size());
        for (size_t k = 0; k < p_.kinds.size(); ++k) {
            const auto& kind = p_.kinds[k];
            if (kind.pair || kind.rests) continue;
            for (const auto& c : kind.places) mark[static_cast<size_t>(c.pin)] += mark_of(k, c);
        }
        std::unordered_map<std::string, int> known;
        std::vector<int> group_of(mark.size(), -1);
        for (size_t i = 0; i < mark.size(); ++i) {
            if (mark[i].empty()) continue;
            const auto [at, fresh] =
                known.try_emplace(mark[i] + std::to_string(p_.bank_of[i]), static_cast<int>(groups_.size()));
            if (fresh) groups_.emplace_back();
            auto& g = groups_[static_cast<size_t>(at->second)];
            group_of[i] = at->second;
            g.pins.push_back(static_cast<int>(i));
        }
        edges_.resize(p_.kinds.size());
        for (size_t k = 0; k < p_.kinds.size(); ++k) {
            const auto& kind = p_.kinds[k];
            if (kind.pair || kind.rests) continue;
            std::vector<bool> seen(groups_.size(), false);
            for (const auto& c : kind.places) {
                const auto g = static_cast<size_t>(group_of[static_cast<size_t>(c.pin)]);
                if (!seen[g]) edges_[k].push_back({static_cast<int>(g), c});
                seen[g] = true;
            }
        }
        make_pair_groups(group_of);
    }

    /// Which pairs are used counts only by how many of each group are: they are alike.
    void make_pair_groups(const std::vector<int>& group_of) {
        std::vector<std::string> mark(static_cast<size_t>(p_.pairs));
        std::vector<std::vector<int>> singles(static_cast<size_t>(p_.pairs));
        for (size_t k = 0; k < p_.kinds.size(); ++k)
            for (const auto& c : p_.kinds[k].places)
                if (p_.kinds[k].pair)
                    mark[static_cast<size_t>(p_.pair_of[static_cast<size_t>(c.pin)])] += mark_of(k, c);
        for (size_t i = 0; i < p_.pair_of.size(); ++i) {
            if (p_.pair_of[i] < 0) continue;
            const auto k = static_cast<size_t>(p_.pair_of[i]);
            singles[k].push_back(group_of[i]);
            // Pairs of another bank are as good only while nobody asks anything of the bank.
            if (!mark[k].empty()) mark[k] += "@" + std::to_string(p_.bank_of[i]);
        }
        std::unordered_map<std::string, int> known;
        pair_group_of_.assign(static_cast<size_t>(p_.pairs), -1);
        for (size_t k = 0; k < mark.size(); ++k) {
            if (mark[k].empty()) continue;
            std::sort(singles[k].begin(), singles[k].end());
            for (const int g : singles[k]) mark[k] += "|" + std::to_string(g);
            const auto [at, fresh] = known.try_emplace(mark[k], static_cast<int>(pair_groups_.size()));
            if (fresh) {
                pair_groups_.emplace_back();
                for (const int g : singles[k])
                    if (g >= 0) ++groups_[static_cast<size_t>(g)].in_pairs[at->second];
            }
            pair_groups_[static_cast<size_t>(at->second)].pairs.push_back(static_cast<int>(k));
            pair_group_of_[k] = at->second;
        }
        pair_edges_.resize(p_.kinds.size());
        for (size_t k = 0; k < p_.kinds.size(); ++k) {
            std::vector<bool> seen(pair_groups_.size(), false);
            for (const auto& c : p_.kinds[k].places) {
                if (!p_.kinds[k].pair) break;
                const auto g =
                    static_cast<size_t>(pair_group_of_[static_cast<size_t>(p_.pair_of[static_cast<size_t>(c.pin)])]);
                if (!seen[g]) pair_edges_[k].push_back({static_cast<int>(g), c});
                seen[g] = true;
            }
        }
    }

    [[nodiscard]] static std::string mark_of(size_t kind, const Candidate& c) {
        return std::to_string(kind) + "," + std::to_string(c.supplies) + "," + std::to_string(c.reference) + "," +
               std::to_string(c.group) + "," + std::to_string(c.needs[0]) + "," + std::to_string(c.needs[1]) + ";";
    }

    void make_variables() {
        const auto name = [&](const char* what, size_t a, size_t b) {
            return std::string(what) + std::to_string(a) + "_" + std::to_string(b);
        };
        for (size_t b = 0; b < p_.banks.size(); ++b) {
            supply_.emplace_back();
            reference_.emplace_back();
            for (size_t i = 0; i < p_.banks[b].supplies.size(); ++i)
                supply_[b].push_back(context_.bool_const(name("s", b, i).c_str()));
            for (size_t i = 0; i <= p_.banks[b].references.size(); ++i)  // the last one: none
                reference_[b].push_back(context_.bool_const(name("r", b, i).c_str()));
        }
        for (int l = 0; l < p_.lanes; ++l) {
            lane_.emplace_back();
            for (size_t g = 0; g < p_.groups.size(); ++g)
                lane_.back().push_back(context_.bool_const(name("g", static_cast<size_t>(l), g).c_str()));
        }
        for (size_t k = 0; k < pair_groups_.size(); ++k) used_.push_back(context_.int_const(name("u", k, 0).c_str()));
    }

    // For one question -------------------------------------------------------------------------------------------

    void count_units() {
        count_.assign(p_.kinds.size(), 0);
        for (const auto& u : p_.units)
            if (p_.counts(u, *active_)) ++count_[static_cast<size_t>(u.kind)];
        pairs_wanted_ = 0;
        for (size_t k = 0; k < p_.kinds.size(); ++k)
            if (p_.kinds[k].pair) pairs_wanted_ += count_[k];
    }

    [[nodiscard]] bool rail_counts(const BankOptions& b) const {
        return b.rail_fact >= 0 && (*active_)[static_cast<size_t>(b.rail_fact)];
    }

    void one_of(z3::solver& solver, const std::vector<z3::expr>& list, const std::vector<bool>& may) {
        z3::expr_vector open(context_);
        for (size_t i = 0; i < list.size(); ++i) {
            if (may[i])
                open.push_back(list[i]);
            else
                solver.add(!list[i]);
        }
        if (open.empty()) return;
        solver.add(z3::atmost(open, 1));
        solver.add(z3::mk_or(open));
    }

    /// What holds before anything is tried. False: a unit has no place at all.
    bool begin(z3::solver& solver) {
        for (size_t b = 0; b < p_.banks.size(); ++b) {
            const auto& bank = p_.banks[b];
            std::vector<bool> may(bank.supplies.size());
            for (size_t i = 0; i < may.size(); ++i)
                may[i] = rail_counts(bank) ? static_cast<int>(i) == bank.rail : (bank.allowed >> i & 1) != 0;
            one_of(solver, supply_[b], may);
            one_of(solver, reference_[b], std::vector<bool>(reference_[b].size(), true));
        }
        for (const auto& lane : lane_) one_of(solver, lane, std::vector<bool>(lane.size(), true));
        auto all = context_.int_val(0);
        for (size_t g = 0; g < used_.size(); ++g) {
            solver.add(used_[g] >= 0 && used_[g] <= static_cast<int>(pair_groups_[g].pairs.size()));
            all = all + used_[g];
        }
        if (!used_.empty()) solver.add(all <= pairs_wanted_);
        for (size_t k = 0; k < p_.kinds.size(); ++k)
            if (count_[k] > 0 && !begin_kind(solver, p_.kinds[k])) return false;
        return true;
    }

    /// Whether there are pins enough whatever banks and bytes are used for. To count is a proof, and one that the
    /// solver would look for among all the ways to be one short.
    bool enough_pins() {
        const int kinds = static_cast<int>(p_.kinds.size()), singles = kinds + static_cast<int>(groups_.size());
        const int source = singles + static_cast<int>(pair_groups_.size()), target = source + 1;
        std::vector<FlowEdge> edges;
        long long wanted = 0;
        for (int k = 0; k < kinds; ++k) {
            const auto& kind = p_.kinds[static_cast<size_t>(k)];
            const long long pins = kind.rests ? 0 : (kind.pair ? 2LL : 1LL) * count_[static_cast<size_t>(k)];
            if (pins == 0) continue;
            wanted += pins;
            edges.push_back({source, k, pins});
            const auto& list = kind.pair ? pair_edges_[static_cast<size_t>(k)] : edges_[static_cast<size_t>(k)];
            for (const auto& e : list)
                if (open(e.place, *active_)) edges.push_back({k, (kind.pair ? singles : kinds) + e.group, pins});
        }
        // A pair gives its pins to a pair, or to the groups of single pins that they are in.
        for (size_t g = 0; g < groups_.size(); ++g)
            edges.push_back({kinds + static_cast<int>(g), target, static_cast<long long>(groups_[g].pins.size())});
        std::vector<long long> alone(pair_groups_.size());
        for (size_t g = 0; g < pair_groups_.size(); ++g)
            alone[g] = 2 * static_cast<long long>(pair_groups_[g].pairs.size());
        for (size_t g = 0; g < groups_.size(); ++g)
            for (const auto& [pair, n] : groups_[g].in_pairs) {
                const auto both = n * static_cast<long long>(pair_groups_[static_cast<size_t>(pair)].pairs.size());
                alone[static_cast<size_t>(pair)] -= both;
                edges.push_back({singles + pair, kinds + static_cast<int>(g), both});
            }
        for (size_t g = 0; g < alone.size(); ++g)
            if (alone[g] > 0) edges.push_back({singles + static_cast<int>(g), target, alone[g]});
        const auto flow = greatest_flow(target + 1, source, target, edges);
        if (flow.value == wanted) return true;
        for (int k = 0; k < kinds; ++k)
            if (flow.source_side[static_cast<size_t>(k)] && count_[static_cast<size_t>(k)] > 0)
                crowded_[static_cast<size_t>(k)] = true;
        return false;
    }

    bool begin_kind(z3::solver& solver, const Kind& kind) {
        const Candidate* only = nullptr;
        int open_places = 0;
        for (const auto& c : kind.places)
            if (open(c, *active_)) {
                only = &c;
                if (++open_places > 1) break;
            }
        const auto k = static_cast<size_t>(&kind - p_.kinds.data());
        if (open_places < 2) crowded_[k] = true;
        if (open_places == 0) return false;
        if (open_places > 1) return true;
        solver.add(condition(kind, *only));
        const int pair = p_.pair_of[static_cast<size_t>(only->pin)];
        if (kind.rests || pair < 0) return true;
        // A pin that only one kind may have makes its pair a group of its own.
        const int group = pair_group_of_[static_cast<size_t>(pair)];
        if (group >= 0 && pair_groups_[static_cast<size_t>(group)].pairs.size() == 1)
            solver.add(used_[static_cast<size_t>(group)] == (kind.pair ? 1 : 0));
        return true;
    }

    z3::expr condition(const Kind& kind, const Candidate& c) {
        const int bank = p_.bank_of[static_cast<size_t>(c.pin)];
        const Key key{bank, c.supplies, c.reference, kind.lane, c.group};
        const auto known = conditions_.find(key);
        if (known != conditions_.end()) return known->second;
        z3::expr_vector all(context_);
        if (bank >= 0) {
            const auto b = static_cast<size_t>(bank);
            z3::expr_vector any(context_);
            for (size_t i = 0; i < supply_[b].size(); ++i)
                if (c.supplies >> i & 1) any.push_back(supply_[b][i]);
            if (any.size() < supply_[b].size()) all.push_back(any.empty() ? context_.bool_val(false) : z3::mk_or(any));
            if (c.reference == Candidate::no_reference) all.push_back(reference_[b].back());
            if (c.reference >= 0) all.push_back(reference_[b][static_cast<size_t>(c.reference)]);
        }
        if (kind.lane >= 0 && c.group >= 0)
            all.push_back(lane_[static_cast<size_t>(kind.lane)][static_cast<size_t>(c.group)]);
        const auto made = all.empty() ? context_.bool_val(true) : z3::mk_and(all);
        conditions_.emplace(key, made);
        return made;
    }

    z3::expr_vector hints_of(const Configuration& like) {
        z3::expr_vector out(context_);
        for (size_t b = 0; b < supply_.size(); ++b) {
            if (b < like.supply.size() && like.supply[b] >= 0)
                out.push_back(supply_[b][static_cast<size_t>(like.supply[b])]);
            if (b < like.reference.size())
                out.push_back(like.reference[b] >= 0 ? reference_[b][static_cast<size_t>(like.reference[b])]
                                                     : reference_[b].back());
        }
        for (size_t l = 0; l < lane_.size() && l < like.group.size(); ++l)
            if (like.group[l] >= 0) out.push_back(lane_[l][static_cast<size_t>(like.group[l])]);
        return out;
    }

    /// Hints that cannot hold with the others are given up.
    z3::expr_vector without(const z3::expr_vector& hints, const z3::expr_vector& core) {
        z3::expr_vector out(context_);
        std::set<unsigned> bad;
        for (unsigned i = 0; i < core.size(); ++i) bad.insert(core[static_cast<int>(i)].id());
        for (unsigned i = 0; i < hints.size(); ++i)
            if (!bad.contains(hints[static_cast<int>(i)].id())) out.push_back(hints[static_cast<int>(i)]);
        return core.empty() ? z3::expr_vector(context_) : out;
    }

    void read(const z3::model& model) {
        const auto holds = [&](const z3::expr& e) { return model.eval(e, true).is_true(); };
        const auto first = [&](const std::vector<z3::expr>& list) {
            for (size_t i = 0; i < list.size(); ++i)
                if (holds(list[i])) return static_cast<int>(i);
            return -1;
        };
        now = {};
        for (size_t b = 0; b < supply_.size(); ++b) {
            now.supply.push_back(first(supply_[b]));
            const int r = first(reference_[b]);
            now.reference.push_back(r + 1 == static_cast<int>(reference_[b].size()) ? -1 : r);
        }
        for (const auto& lane : lane_) now.group.push_back(first(lane));
        now.pair_used.assign(static_cast<size_t>(p_.pairs), false);
        taken_.assign(used_.size(), 0);
        for (size_t g = 0; g < used_.size(); ++g) {
            taken_[g] = model.eval(used_[g], true).get_numeral_int();
            for (int i = 0; i < taken_[g]; ++i)
                now.pair_used[static_cast<size_t>(pair_groups_[g].pairs[static_cast<size_t>(i)])] = true;
        }
    }

    [[nodiscard]] int room(const Group& g) const {
        int out = static_cast<int>(g.pins.size());
        for (const auto& [pair, n] : g.in_pairs) out -= n * taken_[static_cast<size_t>(pair)];
        return out;
    }

    bool fits_singles(z3::solver& solver) {
        std::vector<FlowEdge> edges;
        const int kinds = static_cast<int>(p_.kinds.size()), groups = static_cast<int>(groups_.size());
        const int source = kinds + groups, target = source + 1;
        long long wanted = 0;
        for (int k = 0; k < kinds; ++k) {
            const auto& kind = p_.kinds[static_cast<size_t>(k)];
            const int n = count_[static_cast<size_t>(k)];
            if (n == 0 || kind.pair || kind.rests) continue;
            wanted += n;
            edges.push_back({source, k, n});
            for (const auto& e : edges_[static_cast<size_t>(k)])
                if (holds(p_, kind, e.place, now, *active_)) edges.push_back({k, kinds + e.group, n});
        }
        if (wanted == 0) return true;
        for (int g = 0; g < groups; ++g) edges.push_back({kinds + g, target, room(groups_[static_cast<size_t>(g)])});
        const auto flow = greatest_flow(target + 1, source, target, edges);
        if (flow.value == wanted) return true;
        learn_singles(solver, flow.source_side);
        return false;
    }

    /// The ports on one side of the cut need as many pins as they are.
    void learn_singles(z3::solver& solver, const std::vector<bool>& side) {
        std::map<int, z3::expr_vector> by_group;
        int crowd = 0;
        for (size_t k = 0; k < p_.kinds.size(); ++k) {
            const auto& kind = p_.kinds[k];
            if (count_[k] == 0 || kind.pair || kind.rests || !side[k]) continue;
            crowd += count_[k];
            crowded_[k] = true;
            for (const auto& e : edges_[k]) {
                if (!open(e.place, *active_)) continue;
                const auto at = by_group.try_emplace(e.group, context_).first;
                at->second.push_back(condition(kind, e.place));
            }
        }
        auto sum = context_.int_val(0);
        for (const auto& [g, conditions] : by_group) {
            const auto& group = groups_[static_cast<size_t>(g)];
            auto pins = context_.int_val(static_cast<int>(group.pins.size()));
            for (const auto& [pair, n] : group.in_pairs) pins = pins - n * used_[static_cast<size_t>(pair)];
            sum = sum + z3::ite(z3::mk_or(conditions), pins, context_.int_val(0));
        }
        solver.add(sum >= crowd);
    }

    bool fits_pairs(z3::solver& solver) {
        std::vector<FlowEdge> edges;
        const int kinds = static_cast<int>(p_.kinds.size());
        const int source = kinds + static_cast<int>(pair_groups_.size()), target = source + 1;
        long long wanted = 0;
        for (int k = 0; k < kinds; ++k) {
            const auto& kind = p_.kinds[static_cast<size_t>(k)];
            const int n = count_[static_cast<size_t>(k)];
            if (n == 0 || !kind.pair) continue;
            wanted += n;
            edges.push_back({source, k, n});
            for (const auto& e : pair_edges_[static_cast<size_t>(k)])
                if (holds(p_, kind, e.place, now, *active_)) edges.push_back({k, kinds + e.group, n});
        }
        if (wanted == 0) return true;
        for (size_t g = 0; g < pair_groups_.size(); ++g)
            edges.push_back({kinds + static_cast<int>(g), target, taken_[g]});
        const auto flow = greatest_flow(target + 1, source, target, edges);
        if (flow.value == wanted) return true;
        std::map<int, z3::expr_vector> by_group;
        int crowd = 0;
        for (size_t k = 0; k < p_.kinds.size(); ++k) {
            if (count_[k] == 0 || !p_.kinds[k].pair || !flow.source_side[k]) continue;
            crowd += count_[k];
            crowded_[k] = true;
            for (const auto& e : pair_edges_[k])
                if (open(e.place, *active_))
                    by_group.try_emplace(e.group, context_).first->second.push_back(condition(p_.kinds[k], e.place));
        }
        auto sum = context_.int_val(0);
        for (const auto& [g, conditions] : by_group)
            sum = sum + z3::ite(z3::mk_or(conditions), used_[static_cast<size_t>(g)], context_.int_val(0));
        solver.add(sum >= crowd);
        return false;
    }

    const Problem& p_;
    Limits limits_;
    z3::context context_;
    std::vector<std::vector<z3::expr>> supply_, reference_, lane_;
    std::vector<z3::expr> used_;  ///< per group of pairs: how many of them are used as such
    std::vector<int> taken_;      ///< the same in the model
    std::vector<PairGroup> pair_groups_;
    std::vector<int> pair_group_of_;
    std::vector<std::vector<Edge>> pair_edges_;  ///< per kind of pairs
    std::map<Key, z3::expr> conditions_;
    std::vector<Group> groups_;
    std::vector<std::vector<Edge>> edges_;  ///< per kind of single ports
    const std::vector<bool>* active_ = nullptr;
    std::vector<int> count_;
    std::vector<bool> crowded_;  ///< per kind: it was on the narrow side of a cut, or has one place only
    int pairs_wanted_ = 0;
};

Feasibility::Feasibility(const Problem& problem, Limits limits)
    : solver_(std::make_unique<Solver>(problem, std::move(limits))) {}
Feasibility::~Feasibility() = default;

Feasibility::Answer Feasibility::check(const std::vector<bool>& active, const Configuration* like) {
    try {
        return solver_->check(active, like);
    } catch (const z3::exception&) {
        return Answer::unknown;  // out of memory, or given up
    }
}

std::vector<int> Feasibility::crowd() const {
    return solver_->crowd(solver_->last_active);
}

const Configuration& Feasibility::found() const {
    return solver_->now;
}

bool Feasibility::open(const Candidate& c, const std::vector<bool>& active) {
    return (c.needs[0] < 0 || !active[static_cast<size_t>(c.needs[0])]) &&
           (c.needs[1] < 0 || !active[static_cast<size_t>(c.needs[1])]);
}

bool Feasibility::holds(const Problem& p, const Kind& kind, const Candidate& c, const Configuration& as,
                        const std::vector<bool>& active) {
    if (!open(c, active)) return false;
    const int bank = p.bank_of[static_cast<size_t>(c.pin)];
    if (bank >= 0) {
        const auto b = static_cast<size_t>(bank);
        if (as.supply[b] >= 0 ? !(c.supplies >> as.supply[b] & 1) : c.supplies == 0) return false;
        if (c.reference == Candidate::no_reference && as.reference[b] >= 0) return false;
        if (c.reference >= 0 && as.reference[b] != c.reference) return false;
    }
    return kind.lane < 0 || c.group < 0 || as.group[static_cast<size_t>(kind.lane)] == c.group;
}

}  // namespace kp::pin_placement
