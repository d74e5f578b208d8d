// SPDX-License-Identifier: GPL-3.0-or-later
// A way is looked for first; only where there is none are facts left out one after the other.
#include "core/pin_placement/place_rest.hpp"

#include "core/base/text.hpp"
#include "core/pin_placement/explain.hpp"
#include "core/pin_placement/feasible.hpp"
#include "core/pin_placement/order.hpp"
#include "core/rules/rules.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <map>
#include <set>

namespace kp {

using namespace pin_placement;

namespace {

Message place_error(const std::string& text) {
    return {Severity::stop, Code::place, text};
}

class Placer {
public:
    Placer(const RuleInput& in, const PlaceQuestion& q, const std::stop_token& stop,
           const std::function<void(const std::string&)>& progress)
        : in_(in), q_(q), progress_(progress), p_(make_problem(in, q.ports, q.relax)) {
        limits_.stop = stop;
        limits_.seed = q.seed;
        limits_.until = std::chrono::steady_clock::now() +
                        std::chrono::milliseconds(static_cast<long long>(std::clamp(q.seconds, 0.01, 1e6) * 1000));
        active_.assign(p_.facts.size(), true);
    }

    Result<PlaceAnswer> run() {
        if (auto why = leave_out()) return *why;
        say("looking for a legal placement");
        feasible_ = std::make_unique<Feasibility>(p_, limits_);
        for (const int f : p_.optional) active_[static_cast<size_t>(f)] = false;
        const auto like = as_it_is();
        const auto answer = feasible_->check(active_, &like);
        if (answer == Feasibility::Answer::unknown) return partial();
        if (answer == Feasibility::Answer::no) {
            if (!set_wrong_aside()) return with_wrong(conflict());
            const auto then = as_it_is();
            const auto again = feasible_->check(active_, &then);
            if (again == Feasibility::Answer::unknown) return with_wrong(partial());
            if (again == Feasibility::Answer::no) return with_wrong(conflict());
        }
        if (!place_optional(like)) return partial();
        say("putting ports in order");
        return with_wrong(placed());
    }

private:
    void say(const std::string& what) const {
        if (progress_) progress_(what);
    }

    /// Facts that were relaxed do not count. A peg that was loosened is gone from the problem already.
    std::optional<Message> leave_out() {
        for (const auto& id : q_.relax) {
            if (const int f = p_.fact(id); f >= 0) {
                active_[static_cast<size_t>(f)] = false;
                continue;
            }
            const bool peg = id.starts_with("peg:") && in_.project.pegs.contains(id.substr(4));
            if (!peg)
                return place_error(
                    said("'{}' names nothing that stands in the way here; ids are those of a conflict, such as "
                         "port:NAME, peg:NAME, rail:BANK, wires:REF or mode.",
                         id));
        }
        return std::nullopt;
    }

    /// What banks, bytes and pairs are used for by what lies there now.
    [[nodiscard]] Configuration as_it_is() const {
        Configuration out;
        std::vector<std::uint32_t> may;
        for (const auto& b : p_.banks) may.push_back(b.allowed);
        out.supply.assign(p_.banks.size(), -1);
        out.reference.assign(p_.banks.size(), -1);
        out.group.assign(static_cast<size_t>(p_.lanes), -1);
        out.pair_used.assign(static_cast<size_t>(p_.pairs), false);
        std::vector<bool> used(p_.banks.size(), false);
        for (const auto& u : p_.units) {
            if (!p_.counts(u, active_)) continue;
            const auto& kind = p_.kinds[static_cast<size_t>(u.kind)];
            const Candidate* at = nullptr;
            for (const auto& c : kind.places)
                if ((!u.asked && !at) || (u.asked && u.now >= 0 && c.pin == u.now)) at = &c;
            if (!at) continue;
            if (kind.pair) out.pair_used[static_cast<size_t>(p_.pair_of[static_cast<size_t>(at->pin)])] = true;
            if (kind.lane >= 0 && at->group >= 0) out.group[static_cast<size_t>(kind.lane)] = at->group;
            const int bank = p_.bank_of[static_cast<size_t>(at->pin)];
            if (bank < 0) continue;
            const auto b = static_cast<size_t>(bank);
            if ((may[b] & at->supplies) != 0) may[b] &= at->supplies;
            used[b] = true;
            if (at->reference >= 0) out.reference[b] = at->reference;
        }
        for (size_t b = 0; b < may.size(); ++b)
            for (size_t i = 0; used[b] && i < p_.banks[b].supplies.size(); ++i)
                if (out.supply[b] < 0 && (may[b] >> i & 1)) out.supply[b] = static_cast<int>(i);
        return out;
    }

    /// Ports whose pegs were loosened get a place if there is one. False: out of time.
    bool place_optional(const Configuration& like) {
        for (const int f : p_.optional) {
            const auto before = active_;
            active_[static_cast<size_t>(f)] = true;
            if (feasible_->check(active_, &like) != Feasibility::Answer::yes) active_ = before;
        }
        return p_.optional.empty() || feasible_->check(active_, &like) == Feasibility::Answer::yes;
    }

    PlaceAnswer partial() const {
        PlaceAnswer out;
        out.status = PlaceAnswer::Status::partial;
        for (const auto& u : p_.units)
            if (u.asked && p_.counts(u, active_))
                out.left_adrift.insert(out.left_adrift.end(), u.ports.begin(), u.ports.end());
        put_in_order(out.left_adrift);
        return out;
    }
    static void put_in_order(std::vector<std::string>& names) {
        std::sort(names.begin(), names.end(), natural_less);
        names.erase(std::unique(names.begin(), names.end()), names.end());
    }

    // Pegs that are wrong between themselves -------------------------------------------------------------------------

    PlaceAnswer with_wrong(PlaceAnswer answer) const {
        answer.wrong = wrong_;
        return answer;
    }

    [[nodiscard]] std::vector<int> pegs_that_count() const {
        std::vector<int> out;
        for (size_t f = 0; f < p_.facts.size(); ++f)
            if (active_[f] && p_.facts[f].kind == "peg") out.push_back(static_cast<int>(f));
        return out;
    }

    /// Takes pegs that conflict without any port to be placed out of the question, until those that are left agree.
    /// False: there are none.
    bool set_wrong_aside() {
        bool any = false;
        for (auto pegs = pegs_that_count(); !out_of_time_ && !possible(pegs); pegs = pegs_that_count()) {
            narrow(pegs);
            const auto members = smallest_conflict_of_alike(
                alike(pegs), [&](const std::vector<int>& some) { return out_of_time_ || possible(some); });
            std::vector<int> gone;
            for (const int f : members)
                if (p_.facts[static_cast<size_t>(f)].kind == "peg") gone.push_back(f);
            if (gone.empty()) break;
            for (const int f : gone) set_aside(f);
            any = true;
            feasible_ = std::make_unique<Feasibility>(p_, limits_);
        }
        return any;
    }

    void set_aside(int fact) {
        active_[static_cast<size_t>(fact)] = false;
        const auto& name = p_.facts[static_cast<size_t>(fact)].objects.at(0);
        const auto& pin = p_.facts[static_cast<size_t>(fact)].objects.at(1);
        std::set<int> taken;
        for (size_t i = 0; i < in_.part.pins.size(); ++i)
            if (in_.part.pins[i].name == pin) taken.insert(static_cast<int>(i));
        std::set<int> asked;
        for (const auto& u : p_.units)
            if (u.asked) asked.insert(u.kind);
        for (const int k : asked)
            std::erase_if(p_.kinds[static_cast<size_t>(k)].places,
                          [&](const Candidate& c) { return taken.contains(c.pin) || taken.contains(c.other); });
        bool said_why = false;
        for (auto& f : run_rules_at(in_, name, {pin})) {
            if (f.severity != Severity::stop || f.waived) continue;
            said_why = true;
            if (std::none_of(wrong_.begin(), wrong_.end(), [&](const Finding& w) { return w.text == f.text; }))
                wrong_.push_back(std::move(f));
        }
        if (said_why) return;
        Finding f;
        f.severity = Severity::stop;
        f.text = said("{} cannot stay on pin {} beside what else is pegged.", name, pin);
        f.objects = {{Subject::port, name}, {Subject::pin, pin}};
        wrong_.push_back(std::move(f));
    }

    // The smallest conflict ------------------------------------------------------------------------------------------

    /// Of ports and pegs only some count; what board and part say counts always, but for `freed`.
    [[nodiscard]] bool possible(const std::vector<int>& facts, int freed = -1) {
        std::vector<bool> some(p_.facts.size(), false);
        for (size_t f = 0; f < some.size(); ++f) some[f] = active_[f] && by_board(p_.facts[f]);
        for (const int f : facts) some[static_cast<size_t>(f)] = true;
        if (freed >= 0) some[static_cast<size_t>(freed)] = false;
        const auto answer = feasible_->check(some);
        out_of_time_ |= answer == Feasibility::Answer::unknown;
        return answer != Feasibility::Answer::no;
    }
    [[nodiscard]] static bool by_board(const Fact& f) { return f.kind != "port" && f.kind != "peg"; }

    /// Facts that have nothing to do with it are mostly known from the way to the answer.
    void narrow(std::vector<int>& all) {
        const auto crowd = feasible_->crowd();
        std::vector<int> few;
        for (const int f : all)
            if (std::binary_search(crowd.begin(), crowd.end(), f)) few.push_back(f);
        if (few.size() < all.size() && !possible(few)) all = few;
    }

    /// Facts that say the same of units of one kind belong together: which of them counts does not matter.
    [[nodiscard]] std::vector<std::vector<int>> alike(const std::vector<int>& facts) const {
        std::map<int, int> kind_of;  // by fact; -1: of several units, or of more than this fact
        for (const auto& u : p_.units) {
            const bool alone = u.when.size() == 1 && u.any.empty() && u.unless.empty();
            for (const auto* list : {&u.when, &u.any, &u.unless})
                for (const int f : *list)
                    if (const auto [at, fresh] = kind_of.try_emplace(f, alone ? u.kind : -1); !fresh) at->second = -1;
        }
        std::vector<std::vector<int>> out;
        std::map<int, size_t> block_of;
        for (const int f : facts) {
            const auto known = kind_of.find(f);
            if (known == kind_of.end() || known->second < 0) {
                out.push_back({f});
                continue;
            }
            const auto [at, fresh] = block_of.try_emplace(known->second, out.size());
            if (fresh) out.emplace_back();
            out[at->second].push_back(f);
        }
        return out;
    }

    PlaceAnswer conflict() {
        say("looking for what conflicts");
        std::vector<int> all;
        for (const char* kind : {"port", "peg"})
            for (size_t f = 0; f < p_.facts.size(); ++f)
                if (active_[f] && p_.facts[f].kind == kind) all.push_back(static_cast<int>(f));
        narrow(all);
        auto members = smallest_conflict_of_alike(
            alike(all), [&](const std::vector<int>& some) { return out_of_time_ || possible(some); });
        // What the board says belongs to it where another word of the board would settle it alone.
        const auto ports_and_pegs = members;
        for (size_t f = 0; f < p_.facts.size() && !out_of_time_; ++f)
            if (active_[f] && (p_.facts[f].kind == "rail" || p_.facts[f].kind == "mode") &&
                possible(ports_and_pegs, static_cast<int>(f)))
                members.push_back(static_cast<int>(f));
        if (out_of_time_) return partial();
        PlaceAnswer out;
        out.status = PlaceAnswer::Status::conflict;
        for (const int f : members) out.conflict.push_back(p_.facts[static_cast<size_t>(f)]);
        return out;
    }

    // A way
    // ------------------------------------------------------------------------------------------------------------

    PlaceAnswer placed() {
        const auto order = in_order(p_, feasible_->found(), active_, q_.seed);
        PlaceAnswer out;
        out.cost = order.cost;
        out.bound = order.bound;
        std::map<std::string, std::string> pins;
        for (size_t u = 0; u < p_.units.size(); ++u) {
            const auto& unit = p_.units[u];
            if (unit.asked && p_.counts(unit, active_) && order.place[u] < 0) out.status = PlaceAnswer::Status::partial;
            if (!unit.asked || order.place[u] < 0) continue;
            const auto& c = p_.kinds[static_cast<size_t>(unit.kind)].places[static_cast<size_t>(order.place[u])];
            pins[unit.ports[0]] = in_.part.pins[static_cast<size_t>(c.pin)].name;
            if (unit.ports.size() > 1) pins[unit.ports[1]] = in_.part.pins[static_cast<size_t>(c.other)].name;
        }
        for (const auto& port : in_.ports) {
            const auto at = pins.find(port.name);
            if (at == pins.end()) continue;
            const auto* seat = in_.seat(port.name);
            const auto was = seat->peg ? seat->on : std::string();
            out.placed.push_back({port.name, at->second, was});
            out.moved += !was.empty() && was != at->second;
        }
        for (const auto& u : p_.units)
            if (u.asked)
                for (const auto& port : u.ports)
                    if (!pins.contains(port)) out.left_adrift.push_back(port);
        put_in_order(out.left_adrift);
        make_edit(out);
        return out;
    }

    void make_edit(PlaceAnswer& out) const {
        Project then = in_.project;
        Edit edit{"place " + counted(out.placed.size(), "port"), {}};
        for (const auto& id : q_.relax)
            if (id.starts_with("peg:")) {
                auto loosened = unpeg_edit(then, id.substr(4));
                (void)apply(then, loosened);
                edit.changes.insert(edit.changes.end(), loosened.changes.begin(), loosened.changes.end());
            }
        for (const auto& p : out.placed) {
            if (p.pin == p.was && then.pegs.contains(p.port)) continue;
            auto peg = peg_edit(then, in_.board, p.port, p.pin, "placed");
            for (auto& change : peg.changes)
                if (auto* c = std::get_if<PegChange>(&change); c && c->after) c->after->state = PegState::loose;
            (void)apply(then, peg);
            edit.changes.insert(edit.changes.end(), peg.changes.begin(), peg.changes.end());
        }
        out.edit = difference_edit(in_.project, then, edit.title);
    }

    const RuleInput& in_;
    const PlaceQuestion& q_;
    const std::function<void(const std::string&)>& progress_;
    Problem p_;
    Limits limits_;
    std::vector<bool> active_;
    std::unique_ptr<Feasibility> feasible_;
    bool out_of_time_ = false;
    std::vector<Finding> wrong_;
};

}  // namespace

Result<PlaceAnswer> place_rest(const RuleInput& in, const PlaceQuestion& q, const std::stop_token& stop,
                               const std::function<void(const std::string&)>& progress) {
    if (in.part.pins.empty())
        return place_error(
            "No part is chosen, so there are no pins to place ports on; choose one on Site, or with kpeg set.");
    for (const auto& port : q.ports)
        if (!in.port(port)) {
            std::vector<std::string> names;
            for (const auto& p : in.ports) names.push_back(p.name);
            return place_error(said("The design has no port '{}'.{}", port, did_you_mean(port, names)));
        }
    return Placer(in, q, stop, progress).run();
}

}  // namespace kp
