// SPDX-License-Identifier: GPL-3.0-or-later
// Legality is asked of core/rules/legal.hpp, as the rules themselves do.
#include "core/pin_placement/problem.hpp"

#include "core/base/text.hpp"
#include "core/planning/meant.hpp"
#include "core/rules/legal.hpp"
#include "core/rules/say.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <map>
#include <unordered_map>

namespace kp::pin_placement {

namespace {

/// What counts of a port when a place is looked for.
struct Profile {
    const PlannedPort* seat = nullptr;
    const IoStandard* standard = nullptr;  ///< that was chosen; null: none, or the board's
    bool clock = false, strobe = false;
    int lane = -1;
    [[nodiscard]] bool drives() const { return seat->drives(); }
    [[nodiscard]] bool reads() const { return seat->reads(); }
};

class Maker {
public:
    Maker(const RuleInput& in, const std::set<std::string>& ports, const std::set<std::string>& loosened)
        : in_(in), asked_(ports.empty() ? all_to_place(in) : ports), loosened_(loosened) {
        out_.in = &in;
    }

    Problem run() {
        read_part();
        find_asked();
        by_name_ = places_by_name(in_, asked_);
        add_common_facts();
        add_pegged();
        add_asked();
        return std::move(out_);
    }

private:
    int add_fact(std::string id, std::string kind, std::string text, std::string relax,
                 std::vector<std::string> objects) {
        fact_of_[id] = static_cast<int>(out_.facts.size());
        out_.facts.push_back({std::move(id), std::move(kind), std::move(text), std::move(relax), std::move(objects)});
        return static_cast<int>(out_.facts.size() - 1);
    }

    void read_part() {
        std::map<std::string, int> group_of;
        out_.bank_of.assign(in_.part.pins.size(), -1);
        out_.pair_of.assign(in_.part.pins.size(), -1);
        group_of_.assign(in_.part.pins.size(), -1);
        for (size_t i = 0; i < in_.part.pins.size(); ++i) {
            const auto& pin = in_.part.pins[i];
            pin_at_[pin.name] = static_cast<int>(i);
            out_.bank_of[i] = in_.part.bank_position(pin.bank);
            if (!pin.strobe_group.empty()) {
                const auto [at, fresh] = group_of.try_emplace(pin.strobe_group, static_cast<int>(out_.groups.size()));
                if (fresh) out_.groups.push_back(pin.strobe_group);
                group_of_[i] = at->second;
            }
        }
        for (size_t i = 0; i < in_.part.pins.size(); ++i) {
            const auto other = pin_at_.find(in_.part.pins[i].pair);
            if (other == pin_at_.end() || out_.pair_of[i] >= 0) continue;
            out_.pair_of[i] = out_.pair_of[static_cast<size_t>(other->second)] = out_.pairs++;
        }
        for (const auto& bank : in_.part.banks) add_bank(bank);
        out_.lanes = static_cast<int>(in_.lanes().size());
    }

    void add_bank(const Bank& bank) {
        BankOptions o;
        o.name = bank.name;
        const auto add = [&](std::vector<double>& list, double v) {
            for (size_t i = 0; i < list.size(); ++i)
                if (rules::same_volts(list[i], v)) return static_cast<int>(i);
            if (list.size() >= 32) return -1;
            list.push_back(v);
            return static_cast<int>(list.size() - 1);
        };
        for (const double v : bank.volts) (void)add(o.supplies, v);
        if (bank.volts.empty())
            for (const auto& s : in_.standards.rows) {
                if (s.supply > 0) (void)add(o.supplies, s.supply);
                for (const auto& v : s.input_at) (void)add(o.supplies, to_number(v).value_or(0));
            }
        o.allowed = o.supplies.size() >= 32 ? ~0u : (1u << o.supplies.size()) - 1;
        if (const auto rail = in_.board.rail(bank.name)) o.rail = add(o.supplies, *rail);
        for (const auto& s : in_.standards.rows)
            if (s.vref > 0) (void)add(o.references, s.vref);
        out_.banks.push_back(std::move(o));
    }

    void find_asked() {
        for (const auto& id : loosened_)
            if (id.starts_with("peg:")) asked_.insert(id.substr(4));
    }

    void add_common_facts() {
        for (auto& bank : out_.banks)
            if (bank.rail >= 0) {
                const auto v = shortest(bank.supplies[static_cast<size_t>(bank.rail)]) + " V";
                bank.rail_fact =
                    add_fact("rail:" + bank.name, "rail", said("The board gives bank {} {}.", bank.name, v),
                             said("give bank {} another supply than {}", bank.name, v), {bank.name});
            }
        if (const auto* mode = rules::mode_of(in_); mode && !mode->drives.empty())
            mode_fact_ = add_fact("mode", "mode",
                                  said("In configuration mode {} the part drives some user pins itself.", mode->name),
                                  "choose another configuration mode, or take its pins all the same", {mode->name});
        for (const auto& part : in_.board.parts) {
            std::vector<std::string> pins;
            for (const auto& t : part.terminals)
                if (const auto at = in_.board.at_terminal(part.ref + "." + t.name); at && at.net)
                    pins.push_back(at.net->pin);
            if (pins.empty()) continue;
            const int f = add_fact("wires:" + part.ref, "wires",
                                   said("{} ({}) is wired to {}.", part.ref,
                                        (part.label.empty() ? part.name : part.label), counted(pins.size(), "pin")),
                                   "take pins that are wired to " + part.ref, {part.ref});
            for (const auto& pin : pins)
                if (const auto at = pin_at_.find(pin); at != pin_at_.end()) wires_[at->second] = f;
        }
    }

    [[nodiscard]] Profile profile_of(const PlannedPort& seat) const {
        Profile p;
        p.seat = &seat;
        const bool chosen = seat.chosen->standard_chosen();
        p.standard = chosen ? in_.standards.find(seat.chosen->standard) : nullptr;
        p.clock = seat.port && seat.reads() && rules::clock_evidence(in_, seat).sure();
        if (!seat.port) return p;
        if (const auto* lane = in_.lane_of(seat.name); lane && rules::knows_strobe_groups(in_.part)) {
            p.lane = static_cast<int>(lane - in_.lanes().data());
            p.strobe = std::find(lane->strobes.begin(), lane->strobes.end(), seat.name) != lane->strobes.end();
        }
        return p;
    }
    /// Of a pair of wires by the standard that was chosen, or that its pin brings from the board.
    [[nodiscard]] bool differential(const PlannedPort& seat) const {
        return seat.port && seat.standard && seat.standard->differential;
    }

    /// Whether a port may lie on a pin; what that asks of the bank goes into `c`. `wired_for`: it belongs to this wire.
    bool legal(const Profile& p, int at, bool belongs, Candidate& c) const {
        const auto& pin = in_.part.pins[static_cast<size_t>(at)];
        if (!pin.usable()) return false;
        const auto wire = in_.board.at_pin(pin.name);
        c.named |= wire && belongs;
        if (wire && !belongs && kept_for_others(at)) return false;
        if (p.clock && rules::knows_clock_pins(in_.part) &&
            !rules::is_clock_place(pin, p.standard && p.standard->differential))
            return false;
        if (rules::part_drives(in_, pin)) add_need(c, mode_fact_);
        if (p.lane >= 0) {
            if (pin.strobe_group.empty() || (p.strobe && !pin.strobe)) return false;
            c.group = group_of_[static_cast<size_t>(at)];
        }
        if (p.seat->port->direction == Direction::out && wire && wire.terminal->direction == TerminalDirection::drives)
            return false;
        return fits_bank(p, at, wire, c);
    }

    bool fits_bank(const Profile& p, int at, const Board::Found& wire, Candidate& c) const {
        const auto& pin = in_.part.pins[static_cast<size_t>(at)];
        const auto* s = p.standard ? p.standard : wire ? in_.standards.find(wire.terminal->standard) : nullptr;
        const int b = out_.bank_of[static_cast<size_t>(at)];
        if (b < 0) return true;
        const auto& bank = in_.part.banks[static_cast<size_t>(b)];
        const auto& options = out_.banks[static_cast<size_t>(b)];
        if (s) {
            if (!rules::bank_carries(bank, *s, p.drives(), p.reads())) return false;
            if (s->resistors && p.drives() && !(wire && wire.net->series_ohm > 0)) return false;
            std::uint32_t live = 0;
            for (size_t i = 0; i < options.supplies.size(); ++i)
                if (rules::takes_supply(*s, p.drives(), options.supplies[i])) live |= 1u << i;
            c.supplies &= live;
            if (c.supplies == 0) return false;
        }
        const bool compares = s && p.reads() && s->vref > 0;
        if (pin.reference) {
            if (compares || c.reference >= 0) return false;
            c.reference = Candidate::no_reference;
        } else if (compares) {
            if (c.reference == Candidate::no_reference) return false;
            for (size_t i = 0; i < options.references.size(); ++i)
                if (rules::same_volts(options.references[i], s->vref)) c.reference = static_cast<int>(i);
        }
        return true;
    }

    static void add_need(Candidate& c, int fact) {
        if (fact < 0 || c.needs[0] == fact || c.needs[1] == fact) return;
        // More than two facts in the way: such a place is as good as none.
        if (c.needs[0] < 0)
            c.needs[0] = fact;
        else if (c.needs[1] < 0)
            c.needs[1] = fact;
        else
            c.supplies = 0;
    }

    /// A pin that is wired to a board part whose wires were not given up. Known beforehand, so that what is not even
    /// looked at costs nothing.
    [[nodiscard]] bool kept_for_others(int at) const {
        const auto fact = wires_.find(at);
        return fact != wires_.end() && !loosened_.contains(out_.facts[static_cast<size_t>(fact->second)].id);
    }

    [[nodiscard]] bool belongs(const std::string& port, int at) const {
        const auto match = by_name_.find(port);
        return match != by_name_.end() && match->second == in_.part.pins[static_cast<size_t>(at)].name;
    }

    int add_kind(Kind kind) {
        out_.kinds.push_back(std::move(kind));
        return static_cast<int>(out_.kinds.size() - 1);
    }

    /// A place on both pins of a pair; `first` takes pin `at`. `second` may be null: then its pin is kept free.
    bool pair_place(const Profile& first, const Profile* second, int at, bool wired, Candidate& c) const {
        const auto& pin = in_.part.pins[static_cast<size_t>(at)];
        const auto other = pin_at_.find(pin.pair);
        if (other == pin_at_.end()) return false;
        c.pin = at;
        c.other = other->second;
        if (!legal(first, at, wired || belongs(first.seat->name, at), c)) return false;
        if (!second) {
            // What is kept free must not be wired to something else.
            return c.supplies != 0 && (wired || belongs(first.seat->name, at) || !kept_for_others(c.other));
        }
        return legal(*second, c.other, wired || belongs(second->seat->name, c.other), c) && c.supplies != 0;
    }

    // Pegs ----------------------------------------------------------------------------------------------------------

    [[nodiscard]] bool is_pegged(const PlannedPort& seat) const { return seat.peg && !asked_.contains(seat.name); }

    void add_pegged() {
        for (const auto* seat : in_.seats()) {
            if (!is_pegged(*seat)) continue;
            peg_fact_[seat->name] =
                add_fact("peg:" + seat->name, "peg",
                         seat->peg->state == PegState::loose
                             ? said("{} lies loose on pin {} and is not to be moved.", seat->name, seat->on)
                             : said("{} is pegged to pin {}.", seat->name, seat->on),
                         "loosen the peg of " + seat->name, {seat->name, seat->on});
        }
        for (const auto* seat : in_.seats())
            if (is_pegged(*seat)) add_peg(*seat);
    }

    void add_peg(const PlannedPort& seat) {
        const auto at = pin_at_.find(seat.on);
        const auto profile = seat.port ? profile_of(seat) : Profile{&seat};
        Kind kind;
        kind.lane = profile.lane;
        Candidate c;
        c.pin = at == pin_at_.end() ? -1 : at->second;
        // A peg whose port is gone from the design still lies on its pin.
        if (c.pin >= 0 && (!seat.port || (legal(profile, c.pin, true, c) && c.supplies != 0))) kind.places.push_back(c);
        if (seat.port && c.pin >= 0 && differential(seat)) add_pair_of_peg(seat, c.pin, kind);
        add_unit({{seat.name}, {peg_fact_.at(seat.name)}}, add_kind(std::move(kind)));
    }

    /// Half of a pair keeps both pins: the port itself only has to be legal where it is.
    void add_pair_of_peg(const PlannedPort& seat, int at, Kind& own) {
        const auto* partner = in_.partner(seat);
        const auto& pin = in_.part.pins[static_cast<size_t>(at)];
        const int fact = peg_fact_.at(seat.name);
        const char half = rules::half_of_pair(seat, partner);
        const auto other = pin_at_.find(pin.pair);
        own.rests = true;
        if (other == pin_at_.end() || (half && (half == 'p') != pin.pair_true)) {
            own.places.clear();
            return;
        }
        Kind keeps;
        keeps.pair = true;
        Candidate c;
        c.pin = at;
        c.other = other->second;
        keeps.places.push_back(c);
        const bool there = partner && is_pegged(*partner);
        if (there && partner->on == pin.pair) {
            if (!together_.insert({std::min(seat.name, partner->name), std::max(seat.name, partner->name)}).second)
                return;  // the partner said so already
            add_unit({{}, {}, {fact, peg_fact_.at(partner->name)}}, add_kind(std::move(keeps)));
            return;
        }
        add_unit({{}, {fact}}, add_kind(std::move(keeps)));
        // Halves that lie apart cannot both be right.
        if (there && partner->port && seat.name < partner->name)
            add_unit({{}, {fact, peg_fact_.at(partner->name)}}, add_kind({}));
    }

    // Ports that want a place ---------------------------------------------------------------------------------------

    void add_asked() {
        std::set<std::string> done;
        for (const auto* seat : in_.seats()) {
            if (!asked_.contains(seat->name) || !seat->port || done.contains(seat->name)) continue;
            done.insert(seat->name);
            const auto* partner = differential(*seat) || chosen_pair(*seat) ? in_.partner(*seat) : nullptr;
            if (partner && !partner->port) partner = nullptr;
            if (partner && asked_.contains(partner->name)) done.insert(partner->name);
            add_one(*seat, partner);
        }
    }
    [[nodiscard]] bool chosen_pair(const PlannedPort& seat) const {
        const auto* partner = in_.partner(seat);
        return partner && differential(*partner);
    }

    int port_fact(const PlannedPort& seat, const PlannedPort* with) {
        std::vector<std::string> objects{seat.name};
        if (with) objects.push_back(with->name);
        const auto names = with ? said("{} and {} want", seat.name, with->name) : seat.name + " wants";
        return add_fact("port:" + seat.name, "port",
                        names + (with ? " the two pins of a pair" : " a pin") + wants(seat) + ".",
                        said("leave {} adrift", (with ? seat.name + " and " + with->name : seat.name)), objects);
    }
    [[nodiscard]] std::string wants(const PlannedPort& seat) const {
        const auto p = profile_of(seat);
        std::string out;
        if (p.standard) out += " for " + p.standard->name;
        if (p.clock) out += ", a clock pin";
        if (p.lane >= 0) out += ", in the strobe group of " + in_.lanes()[static_cast<size_t>(p.lane)].name;
        return out;
    }

    void add_one(const PlannedPort& seat, const PlannedPort* partner) {
        const bool with_asked = partner && asked_.contains(partner->name);
        const std::vector<int> when{port_fact(seat, with_asked ? partner : nullptr)};
        if (loosened_.contains("peg:" + seat.name)) out_.optional.push_back(when[0]);
        const int now = seat.peg && pin_at_.contains(seat.on) ? pin_at_.at(seat.on) : -1;
        const bool pair =
            differential(seat) || with_asked || (partner && is_pegged(*partner) && differential(*partner));
        if (!pair) return add_unit({{seat.name}, when, {}, {}, 0, true, now}, single_kind(seat));
        if (with_asked)
            return add_unit({{seat.name, partner->name}, when, {}, {}, 0, true, now}, pair_kind(seat, partner));
        if (partner && is_pegged(*partner)) return add_beside(seat, *partner, when, now);
        add_unit({{seat.name}, when, {}, {}, 0, true, now}, pair_kind(seat, nullptr));
    }
    void add_unit(Unit u, int kind) {
        u.kind = kind;
        out_.units.push_back(std::move(u));
    }

    /// The other half of a peg: its place is kept by the peg; without the peg it looks for a pair of its own.
    void add_beside(const PlannedPort& seat, const PlannedPort& partner, const std::vector<int>& when, int now) {
        const auto own = profile_of(seat);
        const auto at = pin_at_.find(partner.on);
        const auto other =
            at == pin_at_.end() ? pin_at_.end() : pin_at_.find(in_.part.pins[static_cast<size_t>(at->second)].pair);
        Kind kind;
        kind.rests = true;
        kind.lane = own.lane;
        Candidate c;
        c.pin = other == pin_at_.end() ? -1 : other->second;
        if (c.pin >= 0 && legal(own, c.pin, true, c) && c.supplies != 0) kind.places.push_back(c);
        auto with = when;
        with.push_back(peg_fact_.at(partner.name));
        add_unit({{seat.name}, with, {}, {}, 0, true, now}, add_kind(std::move(kind)));
        add_unit({{seat.name}, when, {}, {peg_fact_.at(partner.name)}, 0, true, now}, pair_kind(seat, nullptr));
    }

    /// Ports alike in all that counts share their list of places.
    int single_kind(const PlannedPort& seat) {
        const auto p = profile_of(seat);
        const auto match = by_name_.find(seat.name);
        const auto key = "1|" + (p.standard ? p.standard->name : std::string()) + "|" +
                         std::to_string(static_cast<int>(seat.port->direction)) + "|" + std::to_string(p.clock) + "|" +
                         std::to_string(p.lane) + "|" + std::to_string(p.strobe) + "|" +
                         (match == by_name_.end() ? "" : match->second);
        const auto known = kind_of_.find(key);
        if (known != kind_of_.end()) return known->second;
        Kind kind;
        kind.lane = p.lane;
        for (size_t i = 0; i < in_.part.pins.size(); ++i) {
            Candidate c;
            c.pin = static_cast<int>(i);
            if (!legal(p, c.pin, belongs(seat.name, c.pin), c) || c.supplies == 0) continue;
            kind.named |= c.named;
            kind.places.push_back(c);
        }
        return kind_of_[key] = add_kind(std::move(kind));
    }

    int pair_kind(const PlannedPort& seat, const PlannedPort* partner) {
        const auto p = profile_of(seat);
        const auto second = partner ? std::optional<Profile>(profile_of(*partner)) : std::nullopt;
        const auto* mate = partner ? partner : in_.partner(seat);
        const char half = rules::half_of_pair(seat, mate);
        const auto describe = [&](const Profile& q) {
            const auto match = by_name_.find(q.seat->name);
            return (q.standard ? q.standard->name : std::string()) + "|" +
                   std::to_string(static_cast<int>(q.seat->port->direction)) + "|" + std::to_string(q.clock) + "|" +
                   std::to_string(q.lane) + "|" + std::to_string(q.strobe) + "|" +
                   (match == by_name_.end() ? "" : match->second);
        };
        const auto key = std::string("2|") + half + "|" + describe(p) + "|" + (second ? describe(*second) : "");
        const auto known = kind_of_.find(key);
        if (known != kind_of_.end()) return known->second;
        Kind kind;
        kind.pair = true;
        kind.lane = p.lane >= 0 ? p.lane : second ? second->lane : -1;
        for (size_t i = 0; i < in_.part.pins.size(); ++i) {
            const auto& pin = in_.part.pins[i];
            // Who has no half by name takes the true pin first.
            if (pin.pair.empty() || (half == 'n' ? pin.pair_true : !pin.pair_true)) continue;
            Candidate c;
            if (!pair_place(p, second ? &*second : nullptr, static_cast<int>(i), false, c)) continue;
            kind.named |= c.named;
            kind.places.push_back(c);
        }
        return kind_of_[key] = add_kind(std::move(kind));
    }

    const RuleInput& in_;
    std::set<std::string> asked_;
    const std::set<std::string>& loosened_;
    Problem out_;
    std::map<std::string, std::string> by_name_;
    std::unordered_map<std::string, int> pin_at_, fact_of_, peg_fact_, kind_of_;
    std::unordered_map<int, int> wires_;
    std::vector<int> group_of_;
    std::set<std::pair<std::string, std::string>> together_;
    int mode_fact_ = -1;
};

}  // namespace

int Problem::fact(const std::string& id) const {
    for (size_t i = 0; i < facts.size(); ++i)
        if (facts[i].id == id) return static_cast<int>(i);
    return -1;
}

bool Problem::counts(const Unit& u, const std::vector<bool>& active) const {
    const auto on = [&](int f) { return bool(active[static_cast<size_t>(f)]); };
    return std::all_of(u.when.begin(), u.when.end(), on) &&
           (u.any.empty() || std::any_of(u.any.begin(), u.any.end(), on)) &&
           std::none_of(u.unless.begin(), u.unless.end(), on);
}

std::set<std::string> all_to_place(const RuleInput& in) {
    std::set<std::string> out;
    for (const auto* seat : in.seats())
        if (seat->port && seat->chosen->open.empty() && (!seat->peg || seat->peg->state == PegState::loose))
            out.insert(seat->name);
    return out;
}

std::map<std::string, std::string> places_by_name(const RuleInput& in, const std::set<std::string>& asked) {
    PegMap taken;
    for (const auto& [port, peg] : in.project.pegs)
        if (!asked.contains(port)) taken[port] = peg;
    std::map<std::string, std::string> out;
    const auto clocks = clock_rates(in.ports, in.design.ports, in.constraints);
    for (const auto& m : meant_places(in.ports, in.board, in.project, taken, clocks, &asked)) out[m.port] = m.pin;
    return out;
}

Problem make_problem(const RuleInput& in, const std::set<std::string>& ports, const std::set<std::string>& loosened) {
    return Maker(in, ports, loosened).run();
}

}  // namespace kp::pin_placement
