// SPDX-License-Identifier: GPL-3.0-or-later
// Sentences and fixes that several rules share.
#include "core/rules/say.hpp"
#include "core/planning/meant.hpp"

#include "core/format/sdc/sdc_text.hpp"
#include "core/model/receiving_file.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cmath>

namespace kp::rules {

Finding finding(const RuleRow& row, std::string text, std::vector<Subject> objects) {
    Finding f;
    f.rule = row.code;
    f.severity = row.severity;
    f.source = row.source;
    f.remedy = row.remedy;
    f.text = std::move(text);
    f.objects = std::move(objects);
    return f;
}

std::vector<Subject> port_and_pin(const PlannedPort& seat) {
    std::vector<Subject> out{{Subject::port, seat.name}};
    if (seat.peg) out.push_back({Subject::pin, seat.on});
    return out;
}

std::string number(double value, int decimals) {
    const double scale = std::pow(10.0, decimals);
    return shortest(std::round(value * scale) / scale);
}
std::string volts(double v) {
    return number(v, 3) + " V";
}
std::string ma(double v) {
    return number(v) + " mA";
}
std::string mhz(double v) {
    return number(v, 6) + " MHz";
}
std::string ns(double v) {
    return number(v, 6) + " ns";
}
bool same_volts(double a, double b) {
    return std::fabs(a - b) < 0.005;
}

namespace {

double distance(const Pin& a, const Pin& b, const Package& package) {
    if (package.ball_grid) return std::hypot(a.row - b.row, a.column - b.column);
    const int n = package.per_side * 4,
              d = std::abs((a.side * package.per_side + a.slot) - (b.side * package.per_side + b.slot));
    return std::min(d, n - d);
}

/// What a place has to be for a port before any other rule is asked: free, not wired to something else, not busy while
/// the part is set up, in a bank that can carry and supply its standard.
bool may_hold(const RuleInput& in, const PlannedPort& seat, const Pin& pin) {
    if (!pin.usable() || pin.reference || !in.at_pin(pin.name).empty() || in.board.at_pin(pin.name)) return false;
    if (const auto* mode = mode_of(in);
        mode && !pin.job.empty() && std::find(mode->drives.begin(), mode->drives.end(), pin.job) != mode->drives.end())
        return false;
    const auto* bank = in.part.bank(pin.bank);
    if (!seat.standard || !bank) return true;
    if (!bank->standards.empty() &&
        std::find(bank->standards.begin(), bank->standards.end(), seat.standard->name) == bank->standards.end())
        return false;
    if (seat.standard->differential && pin.pair.empty()) return false;
    const auto rail = in.board.rail(bank->name);
    return !rail || same_volts(*rail, seat.standard->supply);
}

}  // namespace

std::optional<BetterPin> better_pin(const RuleInput& in, const PlannedPort& seat,
                                    const std::vector<std::string>& leaving,
                                    const std::function<bool(const Pin&)>& also) {
    if (!seat.port) return std::nullopt;
    const auto taken = [&](const std::string& name) {
        const auto* pin = in.part.pin(name);
        if (also && pin && !also(*pin)) return true;
        return std::any_of(in.at_pin(name).begin(), in.at_pin(name).end(), [&](const std::string& other) {
            return other != seat.name && std::find(leaving.begin(), leaving.end(), other) == leaving.end();
        });
    };
    if (const auto m = in.matcher().best(*seat.port, taken)) return BetterPin{m->pin, m->terminal + ", " + m->why};
    const Pin* best = nullptr;
    const bool same_bank = seat.pin && !seat.pin->bank.empty();
    for (const auto& pin : in.part.pins) {
        if ((same_bank && pin.bank != seat.pin->bank && !also) || !may_hold(in, seat, pin) || (also && !also(pin)))
            continue;
        if (!best ||
            (seat.pin && distance(pin, *seat.pin, in.part.package) < distance(*best, *seat.pin, in.part.package)))
            best = &pin;
    }
    if (!best) return std::nullopt;
    return BetterPin{best->name, !seat.pin                      ? "the first free pin that fits"
                                 : best->bank == seat.pin->bank ? "the nearest free pin of its bank that fits"
                                                                : "the nearest free pin that fits"};
}

Fix move_fix(const RuleInput& input, const std::string& port, const BetterPin& place) {
    return {said("move {} to pin {} ({})", port, place.pin, place.why),
            peg_edit(input.project, input.board, port, place.pin, "by a fix")};
}

void offer_move(const RuleInput& in, const PlannedPort& seat, Finding& f, const std::function<bool(const Pin&)>& also) {
    if (!in.with_fixes) return;
    // Whoever sits on the terminal it is named after may be just the one that belongs here.
    const auto own = seat.port && !also && seat.peg ? in.matcher().best(*seat.port, {}) : std::nullopt;
    const auto& there = in.at_pin(own ? own->pin : std::string());
    if (own && own->pin != seat.on && there.size() == 1 && in.port(there[0])) {
        const auto theirs = in.matcher().best(*in.port(there[0]), {});
        if (theirs && theirs->pin == seat.on)
            f.fixes.push_back(
                {said("swap {} and {}", seat.name, there[0]), swap_edit(in.project, seat.name, there[0])});
    }
    if (const auto place = better_pin(in, seat, {}, also); place && place->pin != seat.on)
        f.fixes.push_back(move_fix(in, seat.name, *place));
}

double constrained_mhz(const RuleInput& in, const PlannedPort& seat) {
    for (const auto& clock : in.constraints.clocks)
        for (const auto& o : clock.sources)
            if (!clock.generated && o.kind == ObjectKind::port && o.id == seat.order && clock.period > 0)
                return 1000 / clock.period;
    return 0;
}

std::optional<BetterPin> oscillator_place(const RuleInput& in, const PlannedPort& seat) {
    const auto* oscillator = oscillator_for(in.board, constrained_mhz(in, seat));
    const auto at = oscillator ? in.board.at_terminal(oscillator->terminal) : Board::Found{};
    if (!at || !at.net) return std::nullopt;
    return BetterPin{at.net->pin, said("{}, {}", oscillator->terminal, mhz(oscillator->mhz))};
}

Fix attribute_fix(const RuleInput& in, const PlannedPort& seat, std::string PortAttributes::*field,
                  const std::string& value, const std::string& text) {
    const auto at = in.project.attributes.find(seat.name);
    const auto before = at == in.project.attributes.end() ? PortAttributes{} : at->second;
    auto after = before;
    after.*field = value;
    return {text, Edit{text, {AttributeChange{seat.name, before, after}}}};
}

std::optional<Fix> append_fix(const RuleInput& in, const std::string& command, const std::string& text,
                              const std::string& clock, const std::string& ask) {
    const auto* target = receiving_file(in.project, in.constraints, clock);
    if (!target) return std::nullopt;
    const auto insertion = sdc::append_command(target->text, command);
    return Fix{"add: " + command, Edit{text, {TextChange{target->path, insertion.offset, "", insertion.text}}}, ask};
}

void option_fix(const RuleInput& in, const ClockDefinition& clock, const char* option, const std::string& value,
                const std::string& text, Finding& f) {
    const auto at = static_cast<size_t>(clock.span.file);
    if (at >= in.constraints.files.size()) return;
    f.file = in.constraints.files[at];
    f.line = clock.span.line;
    if (!in.with_fixes) return;
    for (const auto& file : in.project.constraints) {
        if (file.path != f.file || clock.span.end > file.text.size()) continue;
        const sdc::Span span{clock.span.begin, clock.span.end};
        f.fixes.push_back({text, Edit{text,
                                      {TextChange{file.path, span.begin, std::string(span.of(file.text)),
                                                  sdc::with_option(file.text, span, option, value)}}}});
    }
}

Fix setting_fix(const RuleInput& in, const std::string& field, const std::string& value, const std::string& text) {
    return {text, Edit{text, {set_field(in.project, field, value)}}};
}

std::string drive_words(const PlannedPort& seat) {
    const bool chosen = to_number(seat.chosen->drive).has_value();
    return ma(drive_of(seat)) + (chosen ? "" : " (assumed: no drive is chosen)");
}

double drive_of(const PlannedPort& seat) {
    if (const auto chosen = to_number(seat.chosen->drive)) return *chosen;
    if (!seat.standard || seat.standard->drive_ma.empty()) return 0;
    // Common practice, no source: 8 mA, by which the limits of banks count, or the next that the standard has.
    constexpr int usual = 8;
    const auto& steps = seat.standard->drive_ma;
    const auto at = std::find_if(steps.begin(), steps.end(), [](int ma) { return ma >= usual; });
    return at == steps.end() ? steps.back() : *at;
}

bool fast(const PlannedPort& seat) {
    if (!seat.chosen->slew.empty()) return seat.chosen->slew == "fast";
    return seat.bank && !seat.bank->slews.empty() && seat.bank->slews.front() == "fast";
}

double load_ma(const PlannedPort& s) {
    if (!s.drives() || !s.at || !s.standard || s.standard->differential) return 0;
    const auto& t = *s.at.terminal;
    const double supply = s.rail.value_or(s.standard->supply), ohm = s.at.net->series_ohm;
    if (t.forward_volts > 0)
        return ohm > 0 ? std::max(0.0, (supply - t.forward_volts - s.standard->vol) / ohm * 1000) : t.current_ma;
    if (t.current_ma > 0)
        return ohm > 0 ? std::min(t.current_ma, (supply - s.standard->vol) / ohm * 1000) : t.current_ma;
    return !s.at.net->pull.empty() && s.at.net->pull_ohm > 0 ? (supply - s.standard->vol) / s.at.net->pull_ohm * 1000
                                                             : 0;
}

const ConfigurationMode* mode_of(const RuleInput& in) {
    for (const auto& m : in.part.modes)
        if (m.name == mode_name(in)) return &m;
    return nullptr;
}

}  // namespace kp::rules
