// SPDX-License-Identifier: GPL-3.0-or-later
// Hold: rounds of one analysis each, in which every failing pin gets as many look-ups as its shortfall asks for and its
// setup slack bears. Copies: the loads of a wide register are cut in two across the longer side of their box until each
// neighbourhood is small enough. A round is linear in the netlist, besides the analysis.
#include "core/build_flow/steps.hpp"

#include "core/base/text.hpp"
#include "core/model/cell_set.hpp"
#include "core/timing/engine.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <set>

namespace kp::build_flow {

const char* word_of(StepOutcome outcome) {
    constexpr std::array words{"not needed", "not possible", "taken", "taken back"};
    return words[static_cast<size_t>(outcome)];
}

namespace {

constexpr int most_rounds = 6;
constexpr int most_in_a_row = 12;  ///< look-ups before one pin in one round

/// What the engine says of all endpoints together; `ask` may ask it more.
bool timed(const fabric::Placed& p, const StepInput& in, StepFigures& figures,
           const std::function<void(TimingEngine&)>& ask = {}) {
    return ask_engine(p.netlist, p.spots, in, [&](TimingEngine& engine) {
        figures.setup = engine.summary(CheckKind::setup);
        figures.hold = engine.summary(CheckKind::hold);
        figures.wirelength = fabric::wirelength_of(p.netlist, in.library, p.spots);
        if (ask) ask(engine);
    });
}

StepEffect untimed(StepEffect effect) {
    effect.state = StepOutcome::not_possible;
    effect.why = "the placed design could not be timed";
    return effect;
}

/// Netlist pins by what they are, for one netlist.
class Pins {
public:
    Pins(const Netlist& n, const Library& library) : n_(n), library_(library), driver_(n.net_names.size(), no_id) {
        for (std::uint32_t p = 0; p < n.pins.size(); ++p)
            if (n.pins[p].net != no_id && drives(p)) driver_[n.pins[p].net] = p;
    }
    [[nodiscard]] const LibraryCell& type(std::uint32_t p) const { return *library_.cell(n_.type_of(n_.pins[p].cell)); }
    [[nodiscard]] const LibraryPin& of(std::uint32_t p) const {
        return type(p).pins[static_cast<size_t>(type(p).pin(n_.pin_names[n_.pins[p].name]))];
    }
    [[nodiscard]] bool drives(std::uint32_t p) const {
        return of(p).direction != Direction::in && !(of(p).is_pad && fabric::kind_of(type(p)) == fabric::CellKind::pad);
    }
    [[nodiscard]] std::uint32_t driver(std::uint32_t net) const { return net == no_id ? no_id : driver_[net]; }

private:
    const Netlist& n_;
    const Library& library_;
    std::vector<std::uint32_t> driver_;
};

/// The input of a pad or the data of a register where delay helps a hold check of this pin: not its clock, and nothing
/// that is constant.
std::vector<std::uint32_t> late_places(const Netlist& n, const Pins& pins, const Library& library) {
    std::vector<std::uint32_t> out;
    for (std::uint32_t p = 0; p < n.pins.size(); ++p) {
        const auto net = n.pins[p].net;
        if (net == no_id || net == n.constant_net[0] || net == n.constant_net[1] || pins.drives(p)) continue;
        const auto& type = *library.cell(n.type_of(n.pins[p].cell));
        const auto& pin = pins.of(p);
        if (pin.clock || pin.is_pad) continue;
        const auto driver = pins.driver(net);
        if (driver == no_id || fabric::kind_of(*library.cell(n.type_of(n.pins[driver].cell))) == fabric::CellKind::root)
            continue;
        const bool held = std::any_of(type.arcs.begin(), type.arcs.end(), [&](const LibraryArc& a) {
            return (a.kind == ArcKind::hold_rising || a.kind == ArcKind::hold_falling) && &type.pins[a.to] == &pin;
        });
        if (held || fabric::kind_of(type) == fabric::CellKind::pad) out.push_back(p);
    }
    return out;
}

/// What one look-up and the wires around it add at least and at most, ns.
struct Gain {
    double least = 0, most = 0;
};

Gain gain_of(const LibraryCell& look, const fabric::WireModel& m) {
    Gain g;
    double fast = 1e9, slow = 0;
    for (const auto& arc : look.arcs)
        for (const auto& table : arc.delay) {
            if (table.empty()) continue;
            fast = std::min(fast, table.at(0.1, 0.004));
            slow = std::max(slow, table.at(0.1, 0.02));
        }
    g.least = (fast + m.base) * m.factor * m.fast;
    g.most = (slow + m.base + 2 * (m.per_column + m.per_row)) * m.factor;
    return g;
}

/// Look-ups before a pin.
struct Late {
    std::uint32_t pin = 0;
    int count = 0;
};

struct LateRound {
    std::vector<Late> late;
    StepFigures figures;  ///< before anything is added
};

/// What the next round adds; none when the design cannot be timed.
std::optional<LateRound> next_round(const fabric::Placed& p, const StepInput& in, const Gain& gain) {
    LateRound out;
    const Pins pins(p.netlist, in.library);
    const auto places = late_places(p.netlist, pins, in.library);
    const bool good = timed(p, in, out.figures, [&](TimingEngine& engine) {
        for (const auto pin : places) {
            const auto name = p.netlist.pin_name(pin);
            const auto hold = engine.pin_slack(name, false);
            if (!hold || *hold >= 0) continue;
            const auto setup = engine.pin_slack(name, true);
            const int need = std::clamp(static_cast<int>(std::ceil(-*hold / gain.least)), 1, most_in_a_row);
            const int room = setup ? static_cast<int>(std::floor(std::max(0.0, *setup) / gain.most)) : need;
            if (std::min(need, room) > 0) out.late.push_back({pin, std::min(need, room)});
        }
    });
    return good ? std::optional(std::move(out)) : std::nullopt;
}

std::string change_of(const CheckSummary& before, const CheckSummary& after) {
    const auto slack = [](const CheckSummary& s) { return s.wns ? fixed(*s.wns, 3) + " ns" : std::string("none"); };
    return said("{} with {} failing, now {} with {}", slack(before), before.failing, slack(after), after.failing);
}

}  // namespace

bool ask_engine(const Netlist& netlist, const std::vector<fabric::Spot>& spots, const StepInput& in,
                const std::function<void(TimingEngine&)>& ask) {
    DelayFile delays;
    fabric::delays_of(netlist, in.library, spots, in.model, delays);
    TimingOptions options;
    options.paths = 0;
    TimingEngine engine({netlist, in.library, in.constraints, &delays}, options, {}, in.stop);
    if (engine.refused()) return false;
    engine.require();
    if (!engine.update(in.stop)) return false;
    ask(engine);
    return true;
}

std::string sentence_of(const StepEffect& e) {
    const std::string name = e.name == "hold" ? "Hold fixing" : "Copies of registers";
    if (e.state != StepOutcome::taken)
        return said("{}: {}{}.", name, word_of(e.state), (e.why.empty() ? "" : ", because " + e.why));
    return said("{}: {} added; worst setup slack was {}; hold was {}{}.", name, counted(e.cells, "cell"),
                change_of(e.before.setup, e.after.setup), change_of(e.before.hold, e.after.hold),
                (e.why.empty() ? "" : "; " + e.why));
}

StepEffect fix_hold(fabric::Placed& placed, const StepInput& in) {
    StepEffect effect;
    effect.name = "hold";
    const auto cells = CellSet::of(in.library);
    if (!cells) {
        effect.state = StepOutcome::not_possible;
        effect.why = cells.first().text;
        return effect;
    }
    const auto& look = *cells.value().look[1];
    const auto gain = gain_of(look, in.model);
    auto now = placed;
    bool changed = false;  // since it was timed
    for (int round = 0; round < most_rounds; ++round) {
        const auto next = next_round(now, in, gain);
        if (!next) return untimed(std::move(effect));
        if (round == 0) effect.before = next->figures;
        effect.after = next->figures;
        changed = false;
        if (next->late.empty() || next->figures.hold.failing == 0) break;
        fabric::NetlistChange change(now, in.library, in.part);
        int added = 0;
        for (const auto& l : next->late) added += change.delay_before(l.pin, look, l.count);
        effect.cells += added;
        changed = added > 0;
        if (!changed) break;
    }
    if (changed && !timed(now, in, effect.after)) return untimed(std::move(effect));
    const auto left = std::to_string(effect.after.hold.failing);
    if (effect.cells == 0) {
        effect.state = effect.before.hold.failing == 0 ? StepOutcome::not_needed : StepOutcome::not_possible;
        effect.why = effect.before.hold.failing == 0
                         ? "no endpoint fails hold"
                         : left + " endpoints fail hold, and setup leaves no room for delay";
    } else if (effect.after.hold.failing < effect.before.hold.failing &&
               effect.after.setup.failing <= effect.before.setup.failing) {
        placed = std::move(now);
        effect.state = StepOutcome::taken;
        if (effect.after.hold.failing) effect.why = left + " endpoints still fail hold; setup leaves no room there";
    } else {
        effect.state = StepOutcome::taken_back;
        effect.why =
            said("it would have left {} endpoints failing hold and {} failing setup", left, effect.after.setup.failing);
    }
    return effect;
}

namespace {

/// Loads in groups of at most `most`, neighbours together: cut in two across the longer side until they fit.
void neighbourhoods(std::span<std::uint32_t> loads, const fabric::Placed& p, size_t most,
                    std::vector<std::vector<std::uint32_t>>& out) {
    if (loads.size() <= most) {
        out.emplace_back(loads.begin(), loads.end());
        return;
    }
    const auto spot = [&](std::uint32_t pin) -> const fabric::Spot& { return p.spots[p.netlist.pins[pin].cell]; };
    const auto wide = [&](auto of) {
        const auto [low, high] =
            std::minmax_element(loads.begin(), loads.end(), [&](auto a, auto b) { return of(spot(a)) < of(spot(b)); });
        return of(spot(*high)) - of(spot(*low));
    };
    const bool by_column =
        wide([](const fabric::Spot& s) { return s.column; }) >= wide([](const fabric::Spot& s) { return s.row; });
    std::stable_sort(loads.begin(), loads.end(), [&](auto a, auto b) {
        return by_column ? spot(a).column < spot(b).column : spot(a).row < spot(b).row;
    });
    const auto half = loads.size() / 2;
    neighbourhoods(loads.first(half), p, most, out);
    neighbourhoods(loads.subspan(half), p, most, out);
}

/// Cells that an exception names, itself or by a pin or net of theirs.
std::set<std::uint32_t> named_by_exceptions(const Netlist& n, const Pins& pins, const Constraints& constraints) {
    std::set<std::uint32_t> out;
    const auto add = [&](const PathException::Point& point) {
        for (const auto& o : point.objects) {
            if (o.kind == ObjectKind::cell) out.insert(o.id);
            if (o.kind == ObjectKind::pin) out.insert(n.pins[o.id].cell);
            if (o.kind == ObjectKind::net)
                if (const auto d = pins.driver(o.id); d != no_id) out.insert(n.pins[d].cell);
        }
    };
    for (const auto& e : constraints.exceptions) {
        if (e.from) add(*e.from);
        if (e.to) add(*e.to);
        for (const auto& t : e.through) add(t);
    }
    return out;
}

/// Which clock net each register listens to, and what reaches its inputs.
class Synchronisers {
public:
    Synchronisers(const Netlist& n, const Pins& pins) : n_(n), pins_(pins) {}

    /// Whether what the register takes comes from a pad or from a register of another clock, through any logic.
    bool takes_foreign(std::uint32_t cell) {
        const auto own = clock_of(cell);
        std::set<std::uint32_t> seen;
        std::vector<std::uint32_t> open;
        const auto inputs = [&](std::uint32_t c) {
            const auto& instance = n_.cells[c];
            for (auto p = instance.first_pin; p < instance.first_pin + instance.pin_count; ++p)
                if (!pins_.drives(p) && !pins_.of(p).clock)
                    if (const auto d = pins_.driver(n_.pins[p].net); d != no_id && seen.insert(n_.pins[d].cell).second)
                        open.push_back(n_.pins[d].cell);
        };
        inputs(cell);
        while (!open.empty()) {
            const auto c = open.back();
            open.pop_back();
            const auto kind = fabric::kind_of(pins_.type(n_.cells[c].first_pin));
            if (kind == fabric::CellKind::pad) return true;
            if (kind != fabric::CellKind::look_up && clock_of(c) != no_id) {
                if (clock_of(c) != own) return true;
                continue;
            }
            if (seen.size() > 10000) return true;  // too much to be sure
            inputs(c);
        }
        return false;
    }

private:
    [[nodiscard]] std::uint32_t clock_of(std::uint32_t cell) const {
        const auto& instance = n_.cells[cell];
        for (auto p = instance.first_pin; p < instance.first_pin + instance.pin_count; ++p)
            if (pins_.of(p).clock) return n_.pins[p].net;
        return no_id;
    }
    const Netlist& n_;
    const Pins& pins_;
};

struct Wide {
    std::uint32_t output = 0;
    std::vector<std::uint32_t> loads;
};

std::vector<Wide> wide_registers(const fabric::Placed& p, const StepInput& in, int most_loads) {
    const auto& n = p.netlist;
    const Pins pins(n, in.library);
    std::map<std::uint32_t, std::vector<std::uint32_t>> loads;  // by output pin
    for (std::uint32_t pin = 0; pin < n.pins.size(); ++pin) {
        if (pins.drives(pin)) continue;
        const auto d = pins.driver(n.pins[pin].net);
        if (d != no_id && fabric::kind_of(pins.type(d)) == fabric::CellKind::registers) loads[d].push_back(pin);
    }
    const auto named = named_by_exceptions(n, pins, in.constraints);
    Synchronisers synchronisers(n, pins);
    std::vector<Wide> out;
    for (auto& [output, list] : loads) {
        const auto cell = n.pins[output].cell;
        if (list.size() > static_cast<size_t>(most_loads) && !named.count(cell) && !synchronisers.takes_foreign(cell))
            out.push_back({output, std::move(list)});
    }
    return out;
}

}  // namespace

StepEffect duplicate_registers(fabric::Placed& placed, const StepInput& in, int most_loads,
                               const std::function<std::optional<std::vector<fabric::Spot>>(const Netlist&)>& place) {
    StepEffect effect;
    effect.name = "duplicate";
    if (!timed(placed, in, effect.before)) return untimed(std::move(effect));
    effect.after = effect.before;
    auto now = placed;
    fabric::NetlistChange change(now, in.library, in.part);
    for (auto& wide : wide_registers(placed, in, most_loads)) {
        std::vector<std::vector<std::uint32_t>> groups;
        neighbourhoods(wide.loads, placed, static_cast<size_t>(most_loads), groups);
        for (size_t k = 1; k < groups.size(); ++k, ++effect.cells) change.copy_register(wide.output, groups[k]);
    }
    if (effect.cells == 0) {
        effect.state = StepOutcome::not_needed;
        effect.why = said("no register that may be copied has more than {} loads", most_loads);
        return effect;
    }
    auto spots = place(now.netlist);
    if (spots) now.spots = std::move(*spots);
    if (!spots || !timed(now, in, effect.after)) {
        effect.state = StepOutcome::taken_back;
        effect.why = "the copies could not be placed";
        return effect;
    }
    const auto worst = [](const CheckSummary& s) { return s.wns.value_or(0); };
    if (worst(effect.after.setup) > worst(effect.before.setup) &&
        effect.after.hold.failing <= effect.before.hold.failing) {
        placed = std::move(now);
        effect.state = StepOutcome::taken;
    } else {
        effect.state = StepOutcome::taken_back;
        effect.why = said("the worst setup slack would have been {} ns", fixed(worst(effect.after.setup), 3));
    }
    return effect;
}

}  // namespace kp::build_flow
