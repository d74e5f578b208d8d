// SPDX-License-Identifier: GPL-3.0-or-later
// Candidates are worked out from the path's own numbers; what they do is asked of preview(), so that a figure told
// before is the figure that stands there afterwards.
#include "core/closing/cures.hpp"

#include "core/base/text.hpp"
#include "core/model/path_cause.hpp"
#include "core/model/receiving_file.hpp"
#include "core/model/timing_words.hpp"
#include "core/constraints/command_form.hpp"
#include "core/constraints/command_list.hpp"
#include "core/constraints/endpoint_slacks.hpp"
#include "core/closing/preview.hpp"
#include "core/closing/what_if.hpp"
#include "core/base/said.hpp"
#include "core/format/sdc/sdc_text.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

namespace kp {

namespace {

bool asks_late(const TimingPath& path) {
    return path.check == "setup" || path.check == "recovery";
}

/// Digits of a name as '*', so that the registers of one bus are one family: "held12_reg/CK" is "held*_reg".
std::string family_of(const std::string& pin, bool port) {
    std::string name = port ? pin : pin.substr(0, pin.rfind('/'));
    std::string out;
    for (const char c : name)
        if (c < '0' || c > '9')
            out += c;
        else if (out.empty() || out.back() != '*')
            out += '*';
    // A port's index goes with its brackets; in a pattern they would be a set of characters.
    for (size_t at; (at = out.find("[*]")) != std::string::npos;) out.replace(at, 3, "*");
    return out;
}

/// What a path begins or ends at, for a command: ports by a pattern, registers by one.
std::string object_of(const World& world, const std::string& pin, std::string& family) {
    const bool port = world.index && world.index->port(pin) != no_id;
    family = family_of(pin, port);
    return std::string(port ? "[get_ports " : "[get_cells ") + sdc::quote(family) + "]";
}

class Finder {
public:
    Finder(const Snapshot& now, const TimingPath& path) : now_(now), path_(path), k_(now.analysis.constraints()) {}

    std::vector<Cure> run() {
        if (path_.slack >= 0) return {};
        const bool ports = find_pad_delay() | find_board_delay();
        find_clock_network();
        find_turned_back();
        const bool crosses = path_.launch_clock != path_.capture_clock;
        if (asks_late(path_)) {
            find_period();
            find_cycles();
        }
        if (crosses) find_unrelated();
        if (!ports || crosses || path_.check == "recovery" || path_.check == "removal") find_not_timed();
        std::stable_sort(out_.begin(), out_.end(), [](const Cure& a, const Cure& b) { return a.kind < b.kind; });
        return std::move(out_);
    }

private:
    void add(CureKind kind, std::string text, std::string promises, Edit edit) {
        if (edit.empty()) return;
        edit.title = text;
        out_.push_back({kind, std::move(text), std::move(promises), std::move(edit)});
    }

    /// Lines of SDC behind the file that receives them; empty when there is none.
    [[nodiscard]] Edit lines(const std::vector<std::string>& commands, const std::string& clock = {}) const {
        const auto* file = receiving_file(*now_.project, k_, clock);
        Edit edit;
        if (!file) return edit;
        std::string all;
        for (const auto& c : commands) all += (all.empty() ? "" : "\n") + c;
        const auto at = sdc::append_command(file->text, all);
        edit.changes.emplace_back(TextChange{file->path, at.offset, "", at.text});
        return edit;
    }

    [[nodiscard]] const ClockDefinition* clock(const std::string& name) const {
        const auto at = k_.clock(name);
        return at == no_id ? nullptr : &k_.clocks[at];
    }

    /// The delay line of the pad that the path comes in by.
    bool find_pad_delay() {
        const auto& w = *now_.world;
        const auto peg = now_.project->pegs.find(path_.startpoint);
        const auto* pin = peg == now_.project->pegs.end() ? nullptr : w.part.pin(peg->second.pin);
        const auto* bank = pin ? w.part.bank(pin->bank) : nullptr;
        if (!bank || bank->delay_steps <= 0 || bank->delay_step_ns <= 0) return false;
        const auto at = now_.project->attributes.find(path_.startpoint);
        PortAttributes before = at == now_.project->attributes.end() ? PortAttributes{} : at->second;
        const auto steps = before.delay_steps();
        const auto wanted = static_cast<long long>(std::ceil(-path_.slack / bank->delay_step_ns - 1e-9));
        const auto then = asks_late(path_) ? std::max<long long>(0, steps - wanted)
                                           : std::min<long long>(bank->delay_steps, steps + wanted);
        if (then == steps) return false;
        PortAttributes after = before;
        after.pad_delay = then == 0 ? "" : std::to_string(then);
        Edit edit;
        edit.changes.emplace_back(AttributeChange{path_.startpoint, before, after});
        add(CureKind::pad_delay,
            said("the delay line of the pad of {} at {} instead of {}", path_.startpoint, counted(then, "step"), steps),
            "", std::move(edit));
        return true;
    }

    /// The I/O delay that counts on this path, moved by what is missing.
    bool find_board_delay() {
        bool found = false;
        for (const bool input : {true, false}) {
            const auto port = now_.world->index->port(input ? path_.startpoint : path_.endpoint);
            if (port == no_id) continue;
            const IoDelay* counts = nullptr;
            for (const auto& d : k_.io_delays)
                if (d.input == input && d.port == port && (asks_late(path_) ? d.late : d.early) &&
                    (d.clock == no_id || k_.clocks[d.clock].name == (input ? path_.launch_clock : path_.capture_clock)))
                    counts = &d;
            if (counts) found |= change_delay(*counts, input);
        }
        return found;
    }

    bool change_delay(const IoDelay& d, bool input) {
        const double value = asks_late(path_) ? d.value + path_.slack : d.value - path_.slack;
        const auto list = list_commands(*now_.project, k_, now_.analysis.texts());
        const auto* command = command_at(list, k_.files[static_cast<size_t>(d.span.file)], d.span.begin);
        const auto form = command ? form_of(*now_.project, *command) : std::nullopt;
        if (!form) return false;
        auto after = *form;
        // Rounded to what keeps it closed: a thousandth towards the safe side.
        constexpr double margin = 5e-5;
        const double rounded =
            (asks_late(path_) ? std::floor((value - margin) * 1000) : std::ceil((value + margin) * 1000)) / 1000;
        for (auto& field : after.fields) {
            if (!field.option.empty() || !to_number(field.value)) continue;
            field.value = shortest(rounded);
            auto edit = form_edit(*now_.project, *form, after);
            if (!edit) return false;
            const auto& port = now_.world->netlist.ports[d.port].name;
            const bool others = command->hits.value_or(1) > 1;
            add(CureKind::board_delay,
                said("{} delay {} of {}{} {} instead of {} ns", input ? "input" : "output",
                     (asks_late(path_) ? "max" : "min"), port, (others ? " and its companions" : ""), shortest(rounded),
                     shortest(d.value)),
                "what is outside keeps that", edit.take());
            return true;
        }
        return false;
    }

    void find_clock_network() {
        const bool from_port = now_.world->index->port(path_.startpoint) != no_id,
                   to_port = now_.world->index->port(path_.endpoint) != no_id;
        const auto& name = from_port ? path_.capture_clock : path_.launch_clock;
        const auto id = k_.clock(name);
        if ((!from_port && !to_port) || id == no_id) return;
        const auto& c = k_.clocks[id];
        const bool already = std::any_of(k_.propagated.begin(), k_.propagated.end(), [&](const ObjectRef& o) {
            return (o.kind == ObjectKind::clock && o.id == id) ||
                   std::find(c.sources.begin(), c.sources.end(), o) != c.sources.end();
        });
        if (already || now_.grounds->options.propagated || c.sources.empty()) return;
        if (from_port && asks_late(path_)) {
            // An ideal clock is at its registers at once; a real one takes its time through pad and root.
            const double by = std::ceil(-path_.slack * 20 - 1e-9) / 20;
            add(CureKind::clock_network, said("{} takes {} ns to its registers", name, shortest(by)),
                "pad and clock root take at least that",
                lines({said("set_clock_latency {} [get_clocks {}]", shortest(by), sdc::quote(name))}, name));
        }
        add(CureKind::clock_network, said("the delay of the network of {} counts, instead of an ideal clock", name), "",
            lines({said("set_propagated_clock [get_clocks {}]", sdc::quote(name))}, name));
    }

    /// What a pad drives out comes in again by the same pad: the way in is for what others drive.
    void find_turned_back() {
        for (size_t i = 1; i < path_.points.size(); ++i) {
            const auto &out = path_.points[i - 1], &in = path_.points[i];
            const auto cell = [](const std::string& pin) { return pin.substr(0, pin.rfind('/')); };
            if (i < 2 || in.kind != PointKind::cell || out.kind != PointKind::cell || cell(out.pin) != cell(in.pin))
                continue;
            const auto& enters = path_.points[i - 2].pin;
            if (cell(enters) != cell(in.pin)) continue;
            const auto pattern = [&](const std::string& pin) {
                return said("[get_pins {}]", sdc::quote(family_of(pin, true)));
            };
            const auto pin_name = [](const std::string& pin) { return pin.substr(pin.rfind('/') + 1); };
            add(CureKind::turned_back,
                said("what {} takes at {} is not read back at {}", family_of(in.pin, false), pin_name(enters),
                     pin_name(in.pin)),
                "the design does not read what it drives there",
                lines({said("set_false_path -through {} -through {}", pattern(enters), pattern(in.pin))}));
            return;
        }
    }

    void find_period() {
        const auto* c = clock(path_.capture_clock);
        const double time = path_.capture_edge - path_.launch_edge;
        if (!c || path_.launch_clock != path_.capture_clock || time <= 0) return;
        const ClockDefinition* root = c;
        for (int depth = 0; root && root->generated && depth < 50; ++depth) root = clock(root->master);
        if (!root || root->generated) return;
        const double scale = 1 - path_.slack / time;
        const double period = std::ceil(root->period * scale * 1000 - 1e-6) / 1000;
        for (const auto& file : now_.project->constraints) {
            if (file.path != k_.files[static_cast<size_t>(root->span.file)]) continue;
            const sdc::Span span{root->span.begin, root->span.end};
            const auto before = std::string(span.of(file.text));
            if (before.find("-period") == std::string::npos || before.find("-waveform") != std::string::npos) return;
            Edit edit;
            edit.changes.emplace_back(TextChange{file.path, span.begin, before,
                                                 sdc::with_option(file.text, span, "-period", shortest(period))});
            add(CureKind::period,
                said("a period of {} ns for {}, {} MHz", shortest(period), root->name, fixed(1000 / period, 3)),
                "the oscillator has that frequency", std::move(edit));
        }
    }

    void find_cycles() {
        const auto* c = clock(path_.capture_clock);
        if (!c || c->period <= 0 || path_.launch_clock != path_.capture_clock || path_.check != "setup") return;
        const auto cycles = 1 + static_cast<int>(std::ceil(-path_.slack / c->period - 1e-9));
        const auto is_port = [&](const std::string& name) { return now_.world->index->port(name) != no_id; };
        if (cycles > 16 || !path_.exception.empty() || is_port(path_.startpoint) || is_port(path_.endpoint)) return;
        std::string from, to;
        const auto a = object_of(*now_.world, path_.startpoint, from), b = object_of(*now_.world, path_.endpoint, to);
        const auto n = std::to_string(cycles), less = std::to_string(cycles - 1);
        add(CureKind::cycles, said("{} clocks of {} from {} to {}", n, c->name, from, to),
            said("data are taken only each {} clocks: an enable or a state machine holds them", n),
            lines({said("set_multicycle_path {} -setup -from {} -to {}", n, a, b),
                   said("set_multicycle_path {} -hold -from {} -to {}", less, a, b)},
                  c->name));
    }

    void find_unrelated() {
        const auto *a = clock(path_.launch_clock), *b = clock(path_.capture_clock);
        if (!a || !b) return;
        add(CureKind::unrelated, said("{} and {} are not related", a->name, b->name),
            "what passes between them goes through synchronisers",
            lines({said("set_clock_groups -asynchronous -group [get_clocks {}] -group [get_clocks {}]",
                        sdc::quote(a->name), sdc::quote(b->name))},
                  later_of(*a, *b)));
    }

    /// The one that is defined further down; a command that names both stands behind it.
    [[nodiscard]] static const std::string& later_of(const ClockDefinition& a, const ClockDefinition& b) {
        return std::pair(a.span.file, a.span.begin) < std::pair(b.span.file, b.span.begin) ? b.name : a.name;
    }

    void find_not_timed() {
        std::string from, to;
        const auto a = object_of(*now_.world, path_.startpoint, from), b = object_of(*now_.world, path_.endpoint, to);
        add(CureKind::not_timed, said("no time is asked for from {} to {}", from, to),
            "it does not matter when data arrive there", lines({said("set_false_path -from {} -to {}", a, b)}));
    }

    const Snapshot& now_;
    const TimingPath& path_;
    const Constraints& k_;
    std::vector<Cure> out_;
};

void compare_slacks(const TimingReport& before, const TimingReport& after, const TimingPath& path, CureEffect& out) {
    const auto a = slacks_of(before), b = slacks_of(after);
    for (const auto& [key, slack] : a) {
        const auto then = b.find(key);
        const bool its_own = key.first == path.check && key.second == path.endpoint;
        if (its_own && then != b.end()) out.slack = then->second;
        if (then == b.end()) {
            ++out.hidden;
            continue;
        }
        if (then->second < 0 && slack >= 0) ++out.newly_failing;
        if (its_own || std::fabs(then->second - slack) < 5e-5) continue;
        ++(then->second > slack ? out.better : out.worse);
    }
    for (const auto& [key, slack] : b) out.newly_failing += slack < 0 && !a.contains(key);
}

void compare_findings(const std::vector<Finding>& before, const std::vector<Finding>& after, CureEffect& out) {
    // T01 tells the slacks themselves, and its words move with every picosecond.
    std::set<std::string> a, b;
    for (const auto& f : before)
        if (!f.waived) a.insert(f.identity());
    for (const auto& f : after) {
        if (f.waived) continue;
        b.insert(f.identity());
        if (f.rule != "T01" && f.severity != Severity::note && !a.contains(f.identity()))
            out.came.push_back(f.rule + ": " + f.text);
    }
    for (const auto& f : before)
        if (f.rule != "T01" && !f.waived && f.severity != Severity::note && !b.contains(f.identity()))
            out.gone.push_back(f.rule + ": " + f.text);
}

CureEffect effect_between(const Snapshot& before, const Snapshot& after, const TimingPath& path) {
    CureEffect out;
    const auto& t = after.analysis.timing();
    out.setup = t.setup;
    out.hold = t.hold;
    out.failing = verdict_of(t).failing;
    compare_slacks(before.analysis.timing(), t, path, out);
    compare_findings(*before.findings, *after.findings, out);
    return out;
}

/// Failing paths of different kinds: one of each check, clock pair and families, the worst first.
std::vector<const TimingPath*> kinds_of_failure(const Snapshot& now, size_t most) {
    std::vector<const TimingPath*> out;
    std::set<std::string> seen;
    for (const auto& p : now.analysis.timing().paths) {
        if (p.slack >= 0 || out.size() >= most) continue;
        std::string from, to;
        (void)object_of(*now.world, p.startpoint, from);
        (void)object_of(*now.world, p.endpoint, to);
        if (seen.insert(said("{} {} {} {} {}", p.check, p.launch_clock, p.capture_clock, from, to)).second)
            out.push_back(&p);
    }
    std::stable_sort(out.begin(), out.end(),
                     [](const TimingPath* a, const TimingPath* b) { return a->slack < b->slack; });
    return out;
}

/// A change of the period, or a promise that data do not matter, closes anything: it is the user's to make, not ours.
bool may_be_taken_unasked(CureKind kind) {
    return kind != CureKind::period && kind != CureKind::not_timed;
}

struct Best {
    Cure cure;
    Snapshot after;
    int failing = 0;
};

/// A change with the endpoints it leaves failing, by the figures alone.
struct Rough {
    Cure cure;
    const TimingPath* path = nullptr;
    int failing = 0;
};

std::vector<Rough> rough_figures(const Snapshot& at, const std::stop_token& stop) {
    constexpr size_t most_kinds = 24;
    const auto& t = at.analysis.timing();
    std::vector<Rough> out;
    std::set<std::string> tried;
    for (const auto* path : kinds_of_failure(at, most_kinds))
        for (auto& cure : cures_for(at, *path)) {
            if (stop.stop_requested()) return {};
            if (!may_be_taken_unasked(cure.kind) || !tried.insert(cure.text).second) continue;
            const auto figures = what_if_edit(at, cure.edit, {}, stop);
            if (!figures) continue;
            const auto& f = figures.value();
            out.push_back({std::move(cure), path,
                           f.setup.failing + f.hold.failing + f.recovery.failing + f.removal.failing +
                               t.pulse_width.failing + t.period.failing});
        }
    std::stable_sort(out.begin(), out.end(), [](const Rough& a, const Rough& b) {
        return std::pair(a.failing, a.cure.kind) < std::pair(b.failing, b.cure.kind);
    });
    return out;
}

/// The best that brings nothing; only those that look best are tried with all that follows.
std::optional<Best> best_step(const Snapshot& at, const std::stop_token& stop) {
    const int failing = verdict_of(at.analysis.timing()).failing;
    for (auto& rough : rough_figures(at, stop)) {
        if (rough.failing >= failing || stop.stop_requested()) break;
        auto after = preview(at, rough.cure.edit, stop);
        if (!after) continue;
        const auto effect = effect_between(at, after.value(), *rough.path);
        if (effect.failing < failing && effect.newly_failing == 0 && effect.came.empty())
            return Best{std::move(rough.cure), after.take(), effect.failing};
    }
    return std::nullopt;
}

}  // namespace

const char* name_of(CureKind kind) {
    static const char* names[] = {"pad delay", "board delay", "clock network", "turned back",
                                  "period",    "cycles",      "unrelated",     "not timed"};
    return names[static_cast<int>(kind)];
}

std::vector<Cure> cures_for(const Snapshot& now, const TimingPath& path) {
    return Finder(now, path).run();
}

Result<CureEffect> effect_of(const Snapshot& now, const Cure& cure, const TimingPath& path,
                             const std::stop_token& stop) {
    const auto after = preview(now, cure.edit, stop);
    if (!after) return after.messages();
    return effect_between(now, after.value(), path);
}

Closing closing_changes(const Snapshot& now, size_t most_steps, const std::stop_token& stop,
                        const std::function<void(int, size_t)>& progress) {
    Closing out;
    out.revision = now.revision;
    Snapshot at = now;
    out.before = out.after = verdict_of(at.analysis.timing()).failing;
    while (out.after > 0 && out.steps.size() < most_steps && !stop.stop_requested()) {
        if (progress) progress(out.after, out.steps.size());
        auto best = best_step(at, stop);
        if (!best) break;
        at = std::move(best->after);
        out.after = best->failing;
        out.steps.push_back({std::move(best->cure), best->failing});
    }
    out.edit = difference_edit(*now.project, *at.project, "close " + counted(out.before - out.after, "endpoint"));
    if (out.steps.empty()) out.edit = {};
    for (const auto* path : kinds_of_failure(at, 50))
        out.left.push_back(said("{} {} to {} by {} ns: {}", path->check, path->startpoint, path->endpoint,
                                fixed(-path->slack, 3), why_failing(*path, at.analysis.timing().clocks).text));
    return out;
}

}  // namespace kp
