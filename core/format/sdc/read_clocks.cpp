// SPDX-License-Identifier: GPL-3.0-or-later
// Commands about clocks.
#include "core/format/sdc/interpreter.hpp"

#include "core/base/text.hpp"
#include "core/format/sdc/query.hpp"
#include "core/base/said.hpp"

#include <algorithm>

namespace kp::sdc {

void Interpreter::create_clock(const Arguments& a) {
    ClockDefinition c;
    c.span = call_->span;
    if (!a.get("-period")) return fail("create_clock needs -period, in ns.");
    c.period = time(*to_number(a.get("-period")->text));
    if (!(c.period > 0)) return fail(said("The period of a clock is above 0 ns, not {}.", a.get("-period")->text));
    if (!a.positional.empty()) c.sources = tracer_.driven(objects(*a.positional[0], {K::port, K::pin, K::net}));
    if (failed_ || (!a.positional.empty() && c.sources.empty())) return;
    for (const auto& o : c.sources)
        if (o.kind == K::port && n_.ports[o.id].direction == Direction::out)
            tell(Severity::caution, Code::clock_on_output,
                 said("create_clock is given the output {}; no clock comes in there. For a clock that goes out, write "
                      "create_generated_clock.",
                      n_.ports[o.id].name));
    if (const auto* name = a.get("-name"))
        c.name = name->text.empty() && !name->elements.empty() ? name_of_element(name->elements[0]) : name->text;
    else if (!c.sources.empty())
        c.name = object_name(n_, c.sources[0].kind, c.sources[0].id);
    else
        return fail("create_clock needs a port or pin, or -name for a clock without a source.");
    c.waveform = {0, c.period / 2};
    if (const auto* w = a.get("-waveform")) {
        c.waveform.clear();
        for (const auto& e : w->elements) {
            const auto v = to_number(e.text);
            if (!v) return fail(said("-waveform needs numbers, not '{}'.", e.text));
            c.waveform.push_back(time(*v));
        }
        const bool rising =
            std::adjacent_find(c.waveform.begin(), c.waveform.end(), std::greater_equal<>()) == c.waveform.end();
        if (c.waveform.size() != 2 || !rising || c.waveform[1] - c.waveform[0] >= c.period)
            return fail("-waveform needs a rise and a later fall within one period.");
    }
    keep(std::move(c), a.has("-add"));
}

/// A clock of the same name is defined anew. Without -add a clock takes its places from those that stood there.
void Interpreter::keep(ClockDefinition c, bool add) {
    const auto known = out_.clock(c.name);
    for (auto& other : out_.clocks) {
        if (add || other.name == c.name) continue;
        const auto taken = [&](const ObjectRef& o) {
            return std::find(c.sources.begin(), c.sources.end(), o) != c.sources.end();
        };
        if (std::none_of(other.sources.begin(), other.sources.end(), taken)) continue;
        std::erase_if(other.sources, taken);
        tell(Severity::caution, Code::clock_twice,
             said("Clock {} stood on the same place and is replaced there; say -add if both are meant.", other.name));
    }
    // Every pair of clocks that meet is looked at: 64 on one place are 4,096 pairs at each of its registers.
    constexpr size_t most_on_one = 64, most_clocks = 1000;
    if (known == no_id && out_.clocks.size() >= most_clocks)
        return fail(
            said("There are {} clocks already, the limit of this program; '{}' is left out.", most_clocks, c.name));
    for (const auto& source : c.sources) {
        const auto on_it = std::count_if(out_.clocks.begin(), out_.clocks.end(), [&](const ClockDefinition& other) {
            return other.name != c.name &&
                   std::find(other.sources.begin(), other.sources.end(), source) != other.sources.end();
        });
        if (static_cast<size_t>(on_it) >= most_on_one)
            return fail(said("There are {} clocks on this place already, the limit of this program; '{}' is left out.",
                             most_on_one, c.name));
    }
    if (known != no_id) {
        const auto& old = out_.clocks[known].span;
        const bool here = old.file == c.span.file;
        const std::string where =
            said("{}line {}",
                 (here                                                ? ""
                  : static_cast<size_t>(old.file) < out_.files.size() ? out_.files[static_cast<size_t>(old.file)] + ", "
                                                                      : ""),
                 old.line);
        tell(Severity::caution, Code::clock_twice,
             said("A second clock is named {}; it replaces the one of {}. Give it a name of its own if both are meant.",
                  c.name, where));
    }
    if (known != no_id)
        out_.clocks[known] = std::move(c);
    else
        out_.clocks.push_back(std::move(c));
}

void Interpreter::create_generated_clock(const Arguments& a) {
    ClockDefinition c;
    c.generated = true;
    c.span = call_->span;
    c.sources = tracer_.driven(objects(*a.positional[0], {K::port, K::pin, K::net}));
    if (!a.get("-source")) return fail("create_generated_clock needs -source, the place it is made from.");
    const auto from = tracer_.driven(objects(*a.get("-source"), {K::port, K::pin, K::net}));
    if (failed_ || c.sources.empty() || from.empty()) return;
    std::vector<std::uint32_t> masters;
    if (const auto* named = a.get("-master_clock"))
        masters = clocks_of(*named);
    else
        masters = tracer_.clocks_at(from[0], out_.clocks);
    if (failed_) return;
    if (masters.empty())
        return fail(
            "No clock arrives at the -source of this generated clock; write create_clock for its master before this "
            "line.");
    if (masters.size() > 1)
        return fail("Several clocks arrive at the -source of this generated clock; name one with -master_clock.");
    const auto& master = out_.clocks[masters[0]];
    c.master = master.name;
    if (const auto* name = a.get("-name"))
        c.name = name->text;
    else
        c.name = object_name(n_, c.sources[0].kind, c.sources[0].id);
    GeneratedForm form;
    const auto numbers = [&](const char* option, auto& into, auto convert) {
        const auto* w = a.get(option);
        if (!w) return;
        for (const auto& e : w->elements)
            if (const auto v = to_number(e.text))
                into.push_back(convert(*v));
            else
                fail(said("{} needs numbers, not '{}'.", option, e.text));
    };
    numbers("-divide_by", form.divide, [](double v) { return v; });
    numbers("-multiply_by", form.multiply, [](double v) { return v; });
    numbers("-duty_cycle", form.duty, [](double v) { return v; });
    numbers("-edges", form.edges, [](double v) { return v; });
    numbers("-edge_shift", form.shift, [&](double v) { return time(v); });
    form.invert = a.has("-invert");
    c.combinational = a.has("-combinational");
    c.made_from = from[0];
    if (failed_) return;
    if (const auto why = derive_clock(master, form, c); !why.empty()) return fail(why);
    keep(std::move(c), a.has("-add"));
}

void Interpreter::clock_latency(const Arguments& a) {
    ClockLatency l;
    l.span = call_->span;
    const auto v = number(*a.positional[0], "The latency");
    if (!v) return;
    l.value = time(*v);
    l.objects = objects(*a.positional[1], {K::clock, K::port, K::pin});
    const auto f = edges(a);
    l.minimum = f.min;
    l.maximum = f.max;
    l.rise = f.rise;
    l.fall = f.fall;
    l.source = a.has("-source");
    if (const auto* w = a.get("-clock")) l.clocks = clocks_of(*w);
    const bool both = a.has("-early") == a.has("-late");
    l.early = both || a.has("-early");
    l.late = both || a.has("-late");
    if (!failed_) out_.latencies.push_back(std::move(l));
}

void Interpreter::clock_uncertainty(const Arguments& a) {
    Uncertainty u;
    u.span = call_->span;
    const auto v = number(*a.positional[0], "The uncertainty");
    if (!v) return;
    u.value = time(*v);
    const bool both = a.has("-setup") == a.has("-hold");
    u.setup = both || a.has("-setup");
    u.hold = both || a.has("-hold");
    for (const std::string o : {"-from", "-rise_from", "-fall_from"})
        if (const auto* w = a.get(o)) {
            u.from = clocks_of(*w);
            u.from_rise = o != "-fall_from";
            u.from_fall = o != "-rise_from";
        }
    for (const std::string o : {"-to", "-rise_to", "-fall_to"})
        if (const auto* w = a.get(o)) {
            u.to = clocks_of(*w);
            u.to_rise = o != "-fall_to";
            u.to_fall = o != "-rise_to";
        }
    if (a.has("-rise") != a.has("-fall")) {
        u.to_rise = a.has("-rise");
        u.to_fall = a.has("-fall");
    }
    if (a.positional.size() == 2)
        u.objects = objects(*a.positional[1], {K::clock, K::port, K::pin});
    else if (u.from.empty() || u.to.empty())
        return fail("set_clock_uncertainty needs clocks, or both -from and -to.");
    if (!failed_) out_.uncertainties.push_back(std::move(u));
}

void Interpreter::clock_transition(const Arguments& a) {
    const auto v = number(*a.positional[0], "The transition");
    const auto f = edges(a);
    auto clocks = clocks_of(*a.positional[1]);
    if (v && !failed_) out_.clock_transitions.push_back({std::move(clocks), f.rise, f.fall, f.min, f.max, time(*v)});
}

void Interpreter::clock_groups(const Arguments& a) {
    ClockGroups g;
    g.span = call_->span;
    const auto at = a.options.find("-group");
    if (at == a.options.end()) return fail("set_clock_groups needs at least one -group.");
    for (const auto* w : at->second) g.groups.push_back(clocks_of(*w));
    if (a.has("-exclusive"))
        tell(Severity::note, Code::older_spelling,
             "-exclusive is an older spelling; it is read as -logically_exclusive.");
    if (a.has("-allow_paths"))
        return tell(Severity::note, Code::not_used, "With -allow_paths, paths between these groups stay timed.");
    if (!failed_) out_.groups.push_back(std::move(g));
}

void Interpreter::propagated(const Arguments& a) {
    for (const auto& o : objects(*a.positional[0], {K::clock, K::port, K::pin})) out_.propagated.push_back(o);
}

void Interpreter::min_pulse(const Arguments& a) {
    MinPulse m;
    const auto v = number(*a.positional[0], "The width");
    if (!v) return;
    m.value = time(*v);
    const bool both = a.has("-high") == a.has("-low");
    m.high = both || a.has("-high");
    m.low = both || a.has("-low");
    if (a.positional.size() > 1) m.objects = objects(*a.positional[1], {K::clock, K::pin, K::cell});
    if (!failed_) out_.min_pulses.push_back(std::move(m));
}

void Interpreter::clock_sense(const Arguments& a) {
    ClockSense s;
    s.pins = objects(*a.positional[0], {K::pin, K::port});
    for (const char* o : {"-clock", "-clocks"})
        if (const auto* w = a.get(o)) s.clocks = clocks_of(*w);
    s.sense = a.has("-stop_propagation") ? ClockSense::stop
              : a.has("-negative")       ? ClockSense::negative
                                         : ClockSense::positive;
    if (!failed_ && (a.has("-stop_propagation") || a.has("-negative") != a.has("-positive")))
        out_.senses.push_back(std::move(s));
}

void Interpreter::sense(const Arguments& a) {
    if (const auto* w = a.get("-type"); w && w->text != "clock")
        return tell(Severity::caution, Code::not_used, "Only the sense of clocks is used; this one is for data.");
    clock_sense(a);
}

}  // namespace kp::sdc
