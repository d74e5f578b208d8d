// SPDX-License-Identifier: GPL-3.0-or-later
// Each port gets a pin to aim at: the pins of its kind in the order of the package, bus after bus. What it costs to lie
// elsewhere makes an assignment problem; edges that are not looked at are priced afterwards, so the answer is the
// cheapest of all (column generation, Gilmore and Gomory 1961).
#include "core/pin_placement/order.hpp"

#include "core/pin_placement/network.hpp"
#include "core/rules/legal.hpp"

#include <algorithm>
#include <cstdlib>
#include <numeric>

namespace kp::pin_placement {

namespace {

constexpr long long farthest = 400, per_move = 500, per_name = 100;

/// Places of one unit with what each costs.
struct Choice {
    int place = 0, slot = 0;  ///< place of its kind; number of the pin or the pair
    long long cost = 0;
};

class Orderer {
public:
    Orderer(const Problem& p, const Configuration& config, const std::vector<bool>& active, unsigned seed)
        : p_(p), config_(config), active_(active), seed_(seed) {}

    Ordered run() {
        out_.place.assign(p_.units.size(), -1);
        line_up();
        find_clocks();
        fix_pegs();
        aim_all();
        // First any pair that is legal; where singles then lack room, the pairs that the solver chose.
        const auto before = out_;
        const auto free_before = taken_;
        if (!assign(true, false) || !assign(false, false)) {
            out_ = before;
            taken_ = free_before;
            (void)assign(true, true);
            (void)assign(false, false);
        }
        bound();
        return std::move(out_);
    }

private:
    /// Positions along the package: round a quad flat one, row by row on a grid.
    void line_up() {
        const auto& part = p_.in->part;
        position_.resize(part.pins.size());
        for (size_t i = 0; i < part.pins.size(); ++i) {
            const auto& pin = part.pins[i];
            position_[i] = part.package.ball_grid ? pin.row * std::max(1, part.package.columns) + pin.column
                                                  : pin.side * std::max(1, part.package.per_side) + pin.slot;
        }
        taken_.assign(part.pins.size(), false);
    }

    [[nodiscard]] bool usable(const Kind& kind, const Candidate& c, bool relaxed) const {
        return relaxed ? Feasibility::open(c, active_) && c.supplies != 0
                       : Feasibility::holds(p_, kind, c, config_, active_);
    }

    void fix_pegs() {
        for (size_t u = 0; u < p_.units.size(); ++u) {
            const auto& unit = p_.units[u];
            if (!p_.counts(unit, active_)) continue;
            const auto& kind = p_.kinds[static_cast<size_t>(unit.kind)];
            if (unit.asked && !kind.rests) continue;
            out_.place[u] = kind.places.empty() ? -1 : 0;
            if (kind.places.empty() || kind.rests) continue;
            const auto& c = kind.places[0];
            taken_[static_cast<size_t>(c.pin)] = true;
            if (c.other >= 0) taken_[static_cast<size_t>(c.other)] = true;
        }
        pegged_ = taken_;
    }

    /// A bus after the other takes the next pins that suit it; its ports aim at them in their order.
    void aim_all() {
        aim_.assign(p_.units.size(), -1);
        std::vector<bool> aimed = taken_;
        std::vector<std::vector<int>> order(p_.kinds.size());
        for (size_t u = 0; u < p_.units.size(); ++u) {
            const auto& unit = p_.units[u];
            const auto& kind = p_.kinds[static_cast<size_t>(unit.kind)];
            if (!unit.asked || kind.rests || !p_.counts(unit, active_)) continue;
            if (unit.now >= 0 && !aimed[static_cast<size_t>(unit.now)]) {
                aim_[u] = unit.now;
                aimed[static_cast<size_t>(unit.now)] = true;
            }
        }
        for (size_t u = 0; u < p_.units.size(); ++u) {
            const auto& unit = p_.units[u];
            const auto& kind = p_.kinds[static_cast<size_t>(unit.kind)];
            if (!unit.asked || kind.rests || aim_[u] >= 0 || !p_.counts(unit, active_)) continue;
            // Ports of a kind look for the same pins, but for those that are clocks by a guess only.
            std::vector<int> own;
            if (wants_clock(unit)) own = by_price(unit, kind);
            auto& list = wants_clock(unit) ? own : order[static_cast<size_t>(unit.kind)];
            if (list.empty()) list = by_price(unit, kind);
            for (const int at : list) {
                const auto& c = kind.places[static_cast<size_t>(at)];
                if (aimed[static_cast<size_t>(c.pin)] || (c.other >= 0 && aimed[static_cast<size_t>(c.other)]))
                    continue;
                aim_[u] = c.pin;
                aimed[static_cast<size_t>(c.pin)] = true;
                if (c.other >= 0) aimed[static_cast<size_t>(c.other)] = true;
                break;
            }
            if (aim_[u] < 0 && !list.empty()) aim_[u] = kind.places[static_cast<size_t>(list[0])].pin;
        }
    }
    /// Places of a kind, those that nobody else wants first, then along the package; the seed says where it begins.
    [[nodiscard]] std::vector<int> by_price(const Unit& unit, const Kind& kind) const {
        std::vector<int> out;
        for (size_t i = 0; i < kind.places.size(); ++i)
            if (usable(kind, kind.places[i], false)) out.push_back(static_cast<int>(i));
        const auto size = static_cast<long long>(position_.size());
        const auto turned = [&](const Candidate& c) {
            return (position_[static_cast<size_t>(c.pin)] + static_cast<long long>(seed_) * 37) % std::max(1ll, size);
        };
        std::stable_sort(out.begin(), out.end(), [&](int a, int b) {
            const auto &x = kind.places[static_cast<size_t>(a)], &y = kind.places[static_cast<size_t>(b)];
            return std::pair(price(unit, kind, x), turned(x)) < std::pair(price(unit, kind, y), turned(y));
        });
        return out;
    }

    /// What others may want of a pin, and this port does not.
    [[nodiscard]] long long price(const Unit& unit, const Kind& kind, const Candidate& c) const {
        long long out = kind.named && !c.named ? per_name : 0;
        for (const int at : {c.pin, c.other}) {
            if (at < 0) continue;
            const auto& pin = p_.in->part.pins[static_cast<size_t>(at)];
            if (pin.kind == PinKind::clock && !wants_clock(unit)) out += 60;
            // Before there is a netlist a name is only a guess, so it has a price and is not a rule.
            if (at == c.pin && wants_clock(unit) && !rules::is_clock_place(pin, c.other >= 0)) out += 80;
            if (pin.strobe && kind.lane < 0) out += 15;
            if (!pin.strobe_group.empty() && kind.lane < 0) out += 5;
            if (!pin.job.empty()) out += 40;
            if (pin.reference) out += 30;
        }
        return out;
    }
    [[nodiscard]] bool wants_clock(const Unit& unit) const {
        return wants_clock_[static_cast<size_t>(&unit - p_.units.data())];
    }
    /// Asked once for each port: it is looked up for every place of it.
    void find_clocks() {
        for (const auto& unit : p_.units) {
            const auto* seat = unit.ports.empty() ? nullptr : p_.in->seat(unit.ports[0]);
            wants_clock_.push_back(seat && seat->port && seat->reads() && rules::clock_evidence(*p_.in, *seat));
        }
    }
    [[nodiscard]] long long cost(size_t u, const Candidate& c) const {
        const auto& unit = p_.units[u];
        long long out = price(unit, p_.kinds[static_cast<size_t>(unit.kind)], c);
        if (unit.now >= 0) return c.pin == unit.now ? 0 : out + per_move;
        if (aim_[u] >= 0)
            out += std::min<long long>(
                farthest, std::abs(position_[static_cast<size_t>(c.pin)] - position_[static_cast<size_t>(aim_[u])]));
        return out;
    }

    /// All choices of the units that count; `relaxed`: whatever banks and bytes are used for.
    std::vector<std::vector<Choice>> choices(const std::vector<size_t>& units, bool pairs, bool only_chosen,
                                             bool relaxed) const {
        std::vector<std::vector<Choice>> out;
        for (const size_t u : units) {
            const auto& kind = p_.kinds[static_cast<size_t>(p_.units[u].kind)];
            auto& list = out.emplace_back();
            for (size_t i = 0; i < kind.places.size(); ++i) {
                const auto& c = kind.places[i];
                const auto& taken = relaxed ? pegged_ : taken_;
                if (taken[static_cast<size_t>(c.pin)] || (c.other >= 0 && taken[static_cast<size_t>(c.other)]) ||
                    !usable(kind, c, relaxed))
                    continue;
                const int pair = p_.pair_of[static_cast<size_t>(c.pin)];
                if (only_chosen && !config_.pair_used[static_cast<size_t>(pair)]) continue;
                list.push_back({static_cast<int>(i), pairs ? pair : c.pin, cost(u, c)});
            }
            std::stable_sort(list.begin(), list.end(),
                             [](const Choice& a, const Choice& b) { return a.cost < b.cost; });
        }
        return out;
    }

    [[nodiscard]] std::vector<size_t> units_to_assign(bool pairs) const {
        std::vector<size_t> out;
        for (size_t u = 0; u < p_.units.size(); ++u) {
            const auto& kind = p_.kinds[static_cast<size_t>(p_.units[u].kind)];
            if (p_.units[u].asked && kind.pair == pairs && !kind.rests && p_.counts(p_.units[u], active_))
                out.push_back(u);
        }
        return out;
    }

    struct Solved {
        bool whole = true;
        long long cost = 0;
        std::vector<int> place;
    };
    /// The cheapest of all choices: begins with the few cheapest of each unit, adds those that would be cheaper by the
    /// prices, until there are none.
    [[nodiscard]] static Solved cheapest(const std::vector<std::vector<Choice>>& list, int slots) {
        Solved out;
        if (list.empty()) return out;
        size_t few = 24;
        std::vector<std::vector<bool>> in;
        std::vector<AssignmentEdge> edges;
        const auto take = [&](size_t u, size_t i) {
            if (in[u][i]) return false;
            in[u][i] = true;
            edges.push_back({static_cast<int>(u), list[u][i].slot, list[u][i].cost});
            return true;
        };
        for (const auto& choices : list) {
            if (choices.empty()) return {false, 0, {}};
            in.emplace_back(choices.size(), false);
        }
        for (;;) {
            for (size_t u = 0; u < list.size(); ++u)
                for (size_t i = 0; i < std::min(few, list[u].size()); ++i) (void)take(u, i);
            auto answer = cheapest_assignment(static_cast<int>(list.size()), slots, edges);
            if (!answer.whole) {
                const bool all = std::all_of(list.begin(), list.end(), [&](const auto& l) { return l.size() <= few; });
                if (all) return {false, 0, {}};
                few *= 6;
                continue;
            }
            bool added = false;
            for (size_t u = 0; u < list.size(); ++u)
                for (size_t i = 0; i < list[u].size(); ++i)
                    if (list[u][i].cost + answer.left_price[u] -
                            answer.right_price[static_cast<size_t>(list[u][i].slot)] <
                        0)
                        added |= take(u, i);
            if (added) continue;
            out.cost = answer.cost;
            for (size_t u = 0; u < list.size(); ++u)
                for (const auto& c : list[u])
                    if (c.slot == answer.right_of[u]) out.place.push_back(c.place);
            return out;
        }
    }

    bool assign(bool pairs, bool only_chosen) {
        const auto units = units_to_assign(pairs);
        const auto list = choices(units, pairs, only_chosen, false);
        const auto found = cheapest(list, pairs ? p_.pairs : static_cast<int>(taken_.size()));
        if (!found.whole) return false;
        out_.cost += found.cost;
        for (size_t i = 0; i < units.size(); ++i) {
            out_.place[units[i]] = found.place[i];
            const auto& kind = p_.kinds[static_cast<size_t>(p_.units[units[i]].kind)];
            const auto& c = kind.places[static_cast<size_t>(found.place[i])];
            taken_[static_cast<size_t>(c.pin)] = true;
            if (c.other >= 0) taken_[static_cast<size_t>(c.other)] = true;
        }
        return true;
    }

    void bound() {
        for (const bool pairs : {true, false}) {
            const auto list = choices(units_to_assign(pairs), pairs, false, true);
            const auto found = cheapest(list, pairs ? p_.pairs : static_cast<int>(taken_.size()));
            if (found.whole) out_.bound += found.cost;
        }
    }

    const Problem& p_;
    const Configuration& config_;
    const std::vector<bool>& active_;
    unsigned seed_;
    Ordered out_;
    std::vector<int> position_, aim_;
    std::vector<bool> wants_clock_;  ///< per unit
    std::vector<bool> taken_, pegged_;
};

}  // namespace

Ordered in_order(const Problem& problem, const Configuration& config, const std::vector<bool>& active, unsigned seed) {
    return Orderer(problem, config, active, seed).run();
}

}  // namespace kp::pin_placement
