// SPDX-License-Identifier: GPL-3.0-or-later
// From words to constraints: SDC 2.x commands, each in a function of its own.
#include "core/format/sdc/read.hpp"

#include "core/base/text.hpp"
#include "core/format/sdc/generated.hpp"
#include "core/format/sdc/query.hpp"
#include "core/format/sdc/table.hpp"

#include <algorithm>
#include <cmath>
#include <map>

namespace kp {

namespace {

using namespace sdc;
using K = ObjectKind;

/// The words of one command sorted by option.
struct Arguments {
    std::map<std::string, std::vector<const Word*>, std::less<>> options;
    std::vector<const Word*> positional;
    [[nodiscard]] bool has(std::string_view name) const { return options.contains(name); }
    [[nodiscard]] const Word* get(std::string_view name) const {
        const auto at = options.find(name);
        return at == options.end() || at->second.empty() ? nullptr : at->second.back();
    }
};

class Interpreter {
public:
    Interpreter(const Netlist& n, const NetlistIndex& index, const Library& library, Constraints& out) : n_(n), index_(index), library_(library), out_(out) {}

    void run(const Call& call) {
        call_ = &call;
        failed_ = false;
        if (call.name.empty()) {
            out_.messages.push_back(call.message);
            return;
        }
        const auto* row = find_command(call.name);
        Arguments a;
        if (row && sort(*row, a)) {
            if (row->analysed) dispatch(call.name, a);
            else tell(Severity::caution, "not-used", call.name + " is read, but this version's analysis does not use it.");
        }
        out_.commands.push_back({call.name, call.span, !failed_});
    }

private:
    void tell(Severity severity, const char* code, std::string text) {
        const auto& span = call_->span;
        const std::string file = static_cast<size_t>(span.file) < out_.files.size() ? out_.files[static_cast<size_t>(span.file)] : "";
        out_.messages.push_back({severity, code, std::move(text), file, span.line, 0});
        failed_ |= severity == Severity::stop;
    }
    void fail(std::string text) { tell(Severity::stop, "command", std::move(text)); }

    bool sort(const CommandRow& row, Arguments& a) {
        const auto& words = call_->words;
        for (size_t i = 0; i < words.size(); ++i) {
            const auto& text = words[i].text;
            if (text.size() < 2 || text[0] != '-' || to_number(text)) {
                a.positional.push_back(&words[i]);
                continue;
            }
            const auto* option = match(row, text);
            if (!option) return false;
            auto& list = a.options[option->name];
            if (option->takes == Takes::flag) continue;
            if (++i >= words.size()) {
                fail(std::string(option->name) + " of " + row.name + " needs a value.");
                return false;
            }
            if (option->takes == Takes::number && !to_number(words[i].text)) {
                fail(std::string(option->name) + " of " + row.name + " needs a number, not '" + words[i].text + "'.");
                return false;
            }
            list.push_back(&words[i]);
        }
        const auto n = static_cast<int>(a.positional.size());
        if (n >= row.least && n <= row.most) return true;
        if (n > row.most) fail("'" + a.positional[static_cast<size_t>(row.most)]->text + "' is one word too many for " + row.name + "; a list goes into braces or [list …].");
        else fail(std::string(row.name) + " needs " + std::to_string(row.least) + (row.least == 1 ? " word" : " words") + " beside its options, it has " + std::to_string(n) + ".");
        return false;
    }

    /// The option itself, or the only one that starts so.
    const OptionRow* match(const CommandRow& row, const std::string& text) {
        const OptionRow* found = nullptr;
        int hits = 0;
        std::vector<std::string> names;
        for (const auto& option : row.options) {
            names.emplace_back(option.name);
            if (text == option.name) return &option;
            if (std::string_view(option.name).starts_with(text)) found = &option, ++hits;
        }
        if (hits == 1) return found;
        fail("'" + text + "' is " + (hits > 1 ? "short for several options" : "no option") + " of " + row.name + "." + did_you_mean(text, names));
        return nullptr;
    }

    // ---- values -------------------------------------------------------------------------------------------------------

    std::optional<double> number(const Word& word, const char* what) {
        const auto v = to_number(word.text);
        if (!v || std::fabs(*v) > 1e9) {
            fail(std::string(what) + " should be a number, not '" + word.text + "'.");
            return std::nullopt;
        }
        return v;
    }
    double time(double v) const { return v * time_unit_; }

    std::uint32_t clock_of(const std::string& name) {
        const auto id = out_.clock(name);
        if (id == no_id) {
            std::vector<std::string> names;
            for (const auto& c : out_.clocks) names.push_back(c.name);
            tell(Severity::stop, "no-match", "There is no clock '" + name + "'." + did_you_mean(name, names));
        }
        return id;
    }
    std::vector<std::uint32_t> clocks_of(const Word& word) {
        std::vector<std::uint32_t> ids;
        for (const auto& e : word.elements) {
            const std::string name = name_of_element(e);
            if (is_pattern(name)) {
                for (std::uint32_t i = 0; i < out_.clocks.size(); ++i)
                    if (glob_match(name, out_.clocks[i].name)) ids.push_back(i);
            } else if (const auto id = clock_of(name); id != no_id) {
                ids.push_back(id);
            }
        }
        return ids;
    }
    std::string name_of_element(const Element& e) const { return e.kind >= 0 && e.text.empty() ? object_name(n_, static_cast<K>(e.kind), e.id) : e.text; }

    /// Objects of a word: found ones as they are, plain names looked up as the first of `kinds` that has them.
    ObjectSet objects(const Word& word, std::initializer_list<K> kinds) {
        ObjectSet set;
        for (const auto& e : word.elements) {
            if (e.kind >= 0 && static_cast<K>(e.kind) != K::clock) {
                set.push_back({static_cast<K>(e.kind), e.id});
            } else if (e.kind == static_cast<int>(K::clock)) {
                if (const auto id = clock_of(e.text); id != no_id) set.push_back({K::clock, id});
            } else if (e.text == "?all_registers") {
                for (std::uint32_t c = 0; c < n_.cells.size(); ++c)
                    if (const auto* cell = library_.cell(n_.type_of(c)); cell && cell->flip_flop) set.push_back({K::cell, c});
            } else {
                lookup(e.text, kinds, set);
            }
        }
        return set;
    }
    void lookup(const std::string& name, std::initializer_list<K> kinds, ObjectSet& set) {
        const size_t before = set.size();
        for (const auto kind : kinds) {
            if (kind == K::clock) {
                for (std::uint32_t i = 0; i < out_.clocks.size(); ++i)
                    if (glob_match(name, out_.clocks[i].name)) set.push_back({K::clock, i});
            } else {
                for (const auto id : find_objects(n_, index_, kind, name, {})) set.push_back({kind, id});
            }
            if (set.size() > before) return;
        }
        std::string near;
        for (const auto kind : kinds)
            if (near.empty() && kind != K::clock) near = nearest_object(n_, kind, name);
        tell(Severity::stop, "no-match", "Nothing is named '" + name + "'." + (near.empty() ? "" : " Did you mean '" + near + "'?"));
    }

    struct EdgeFlags {
        bool min, max, rise, fall;
    };
    static EdgeFlags edges(const Arguments& a) {
        const auto both = [&](const char* x, const char* y) { return a.has(x) == a.has(y); };
        const bool mm = both("-min", "-max"), rf = both("-rise", "-fall");
        return {mm || a.has("-min"), mm || a.has("-max"), rf || a.has("-rise"), rf || a.has("-fall")};
    }

    // ---- commands -----------------------------------------------------------------------------------------------------

    void dispatch(const std::string& name, const Arguments& a) {
        using F = void (Interpreter::*)(const Arguments&);
        static const std::map<std::string, F, std::less<>> table{
            {"create_clock", &Interpreter::create_clock},
            {"create_generated_clock", &Interpreter::create_generated_clock},
            {"set_clock_latency", &Interpreter::clock_latency},
            {"set_clock_uncertainty", &Interpreter::clock_uncertainty},
            {"set_clock_transition", &Interpreter::clock_transition},
            {"set_clock_groups", &Interpreter::clock_groups},
            {"set_input_delay", &Interpreter::input_delay},
            {"set_output_delay", &Interpreter::output_delay},
            {"set_false_path", &Interpreter::false_path},
            {"set_multicycle_path", &Interpreter::multicycle},
            {"set_max_delay", &Interpreter::max_delay},
            {"set_min_delay", &Interpreter::min_delay},
            {"set_load", &Interpreter::load},
            {"set_input_transition", &Interpreter::input_transition},
            {"set_units", &Interpreter::units},
            {"set_propagated_clock", &Interpreter::propagated},
            {"set_case_analysis", &Interpreter::case_analysis},
            {"set_disable_timing", &Interpreter::disable},
            {"set_timing_derate", &Interpreter::derate},
            {"set_min_pulse_width", &Interpreter::min_pulse},
            {"set_data_check", &Interpreter::data_check},
            {"set_clock_sense", &Interpreter::clock_sense},
            {"set_sense", &Interpreter::sense},
            {"set_driving_cell", &Interpreter::driving_cell},
        };
        if (const auto at = table.find(name); at != table.end()) (this->*at->second)(a);
    }

    void create_clock(const Arguments& a) {
        ClockDefinition c;
        c.span = call_->span;
        if (!a.get("-period")) return fail("create_clock needs -period, in ns.");
        c.period = time(*to_number(a.get("-period")->text));
        if (!(c.period > 0)) return fail("The period of a clock is above 0 ns, not " + a.get("-period")->text + ".");
        if (!a.positional.empty()) c.sources = objects(*a.positional[0], {K::port, K::pin, K::net});
        if (failed_ || (!a.positional.empty() && c.sources.empty())) return;
        if (const auto* name = a.get("-name")) c.name = name->text.empty() && !name->elements.empty() ? name_of_element(name->elements[0]) : name->text;
        else if (!c.sources.empty()) c.name = object_name(n_, c.sources[0].kind, c.sources[0].id);
        else return fail("create_clock needs a port or pin, or -name for a clock that enters by none.");
        c.waveform = {0, c.period / 2};
        if (const auto* w = a.get("-waveform")) {
            c.waveform.clear();
            for (const auto& e : w->elements) {
                const auto v = to_number(e.text);
                if (!v) return fail("-waveform needs numbers, not '" + e.text + "'.");
                c.waveform.push_back(time(*v));
            }
            const bool rising = std::adjacent_find(c.waveform.begin(), c.waveform.end(), std::greater_equal<>()) == c.waveform.end();
            if (c.waveform.size() != 2 || !rising || c.waveform[1] - c.waveform[0] >= c.period) return fail("-waveform needs a rise and a later fall within one period.");
        }
        const auto known = out_.clock(c.name);
        if (!a.has("-add") && known == no_id) {
            for (const auto& other : out_.clocks)
                for (const auto& source : c.sources)
                    if (std::find(other.sources.begin(), other.sources.end(), source) != other.sources.end())
                        tell(Severity::caution, "clock-twice", "Clock " + other.name + " stands on the same place already; say -add if both are meant.");
        }
        if (known != no_id) out_.clocks[known] = std::move(c);
        else out_.clocks.push_back(std::move(c));
    }

    void create_generated_clock(const Arguments& a) {
        ClockDefinition c;
        c.generated = true;
        c.span = call_->span;
        c.sources = objects(*a.positional[0], {K::port, K::pin, K::net});
        if (!a.get("-source")) return fail("create_generated_clock needs -source, the place it is made from.");
        const auto from = objects(*a.get("-source"), {K::port, K::pin, K::net});
        if (failed_ || c.sources.empty() || from.empty()) return;
        std::vector<std::uint32_t> masters;
        if (const auto* named = a.get("-master_clock")) masters = clocks_of(*named);
        else masters = tracer_.clocks_at(from[0], out_.clocks);
        if (failed_) return;
        if (masters.empty()) return fail("No clock arrives at the -source of this generated clock; write create_clock for its master before this line.");
        if (masters.size() > 1) return fail("Several clocks arrive at the -source of this generated clock; name one with -master_clock.");
        const auto& master = out_.clocks[masters[0]];
        c.master = master.name;
        if (const auto* name = a.get("-name")) c.name = name->text;
        else c.name = object_name(n_, c.sources[0].kind, c.sources[0].id);
        GeneratedForm form;
        const auto numbers = [&](const char* option, auto& into, auto convert) {
            const auto* w = a.get(option);
            if (!w) return;
            for (const auto& e : w->elements)
                if (const auto v = to_number(e.text)) into.push_back(convert(*v));
                else fail(std::string(option) + " needs numbers, not '" + e.text + "'.");
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
        const auto known = out_.clock(c.name);
        if (known != no_id) out_.clocks[known] = std::move(c);
        else out_.clocks.push_back(std::move(c));
    }

    void clock_latency(const Arguments& a) {
        ClockLatency l;
        l.span = call_->span;
        const auto v = number(*a.positional[0], "The latency");
        if (!v) return;
        l.value = time(*v);
        l.objects = objects(*a.positional[1], {K::clock, K::port, K::pin});
        const auto f = edges(a);
        l.minimum = f.min, l.maximum = f.max, l.rise = f.rise, l.fall = f.fall;
        l.source = a.has("-source");
        const bool both = a.has("-early") == a.has("-late");
        l.early = both || a.has("-early"), l.late = both || a.has("-late");
        if (!failed_) out_.latencies.push_back(std::move(l));
    }

    void clock_uncertainty(const Arguments& a) {
        Uncertainty u;
        u.span = call_->span;
        const auto v = number(*a.positional[0], "The uncertainty");
        if (!v) return;
        u.value = time(*v);
        const bool both = a.has("-setup") == a.has("-hold");
        u.setup = both || a.has("-setup"), u.hold = both || a.has("-hold");
        for (const char* o : {"-from", "-rise_from", "-fall_from"})
            if (const auto* w = a.get(o)) u.from = clocks_of(*w);
        for (const char* o : {"-to", "-rise_to", "-fall_to"})
            if (const auto* w = a.get(o)) u.to = clocks_of(*w);
        if (a.positional.size() == 2) u.objects = objects(*a.positional[1], {K::clock, K::port, K::pin});
        else if (u.from.empty() || u.to.empty()) return fail("set_clock_uncertainty needs clocks, or both -from and -to.");
        if (!failed_) out_.uncertainties.push_back(std::move(u));
    }

    void clock_transition(const Arguments& a) {
        const auto v = number(*a.positional[0], "The transition");
        const auto f = edges(a);
        auto clocks = clocks_of(*a.positional[1]);
        if (v && !failed_) out_.clock_transitions.push_back({std::move(clocks), f.rise, f.fall, f.min, f.max, time(*v)});
    }

    void clock_groups(const Arguments& a) {
        ClockGroups g;
        g.span = call_->span;
        const auto at = a.options.find("-group");
        if (at == a.options.end()) return fail("set_clock_groups needs at least one -group.");
        for (const auto* w : at->second) g.groups.push_back(clocks_of(*w));
        if (!failed_) out_.groups.push_back(std::move(g));
    }

    void input_delay(const Arguments& a) { io_delay(a, true); }
    void output_delay(const Arguments& a) { io_delay(a, false); }

    void io_delay(const Arguments& a, bool input) {
        const char* what = input ? "The input delay" : "The output delay";
        const auto v = number(*a.positional[0], what);
        if (!v) return;
        IoDelay d;
        d.input = input;
        d.span = call_->span;
        d.value = time(*v);
        const auto f = edges(a);
        d.early = f.min, d.late = f.max, d.rise = f.rise, d.fall = f.fall;
        d.clock_fall = a.has("-clock_fall");
        d.add = a.has("-add_delay");
        d.source_latency_included = a.has("-source_latency_included");
        d.network_latency_included = a.has("-network_latency_included");
        if (const auto* w = a.get("-clock")) {
            const auto ids = clocks_of(*w);
            if (ids.empty()) return;
            d.clock = ids[0];
        }
        if (a.has("-reference_pin")) tell(Severity::caution, "not-used", "-reference_pin is read, but this version's analysis does not use it.");
        const auto set = objects(*a.positional[1], {K::port});
        for (const auto& o : set) {
            if (o.kind != K::port) {
                fail(std::string(what) + " goes on ports; '" + object_name(n_, o.kind, o.id) + "' is none.");
                continue;
            }
            const auto& port = n_.ports[o.id];
            if (port.direction == (input ? Direction::out : Direction::in)) {
                fail("Port " + port.name + " is an " + (input ? "output; set_output_delay" : "input; set_input_delay") + " is meant for it.");
                continue;
            }
            d.port = o.id;
            keep(d);
        }
    }

    /// engine.md, settled details: without -add_delay a command replaces per clock, edge, rise/fall and min/max; one for
    /// another clock replaces all of the older one.
    void keep(const IoDelay& d) {
        if (!d.add) {
            std::erase_if(out_.io_delays, [&](const IoDelay& old) { return old.port == d.port && old.input == d.input && old.clock != d.clock; });
            std::vector<IoDelay> rest;
            for (auto& old : out_.io_delays) {
                if (old.port != d.port || old.input != d.input || old.clock_fall != d.clock_fall) continue;
                // What the newer one does not cover stays: a piece for each side that has an edge left.
                for (const bool side_early : {true, false}) {
                    if (!(side_early ? old.early : old.late)) continue;
                    const bool covered = side_early ? d.early : d.late;
                    IoDelay piece = old;
                    piece.rise = old.rise && !(covered && d.rise);
                    piece.fall = old.fall && !(covered && d.fall);
                    piece.early = side_early, piece.late = !side_early;
                    if (piece.rise || piece.fall) rest.push_back(piece);
                }
                old.rise = old.fall = false;
            }
            std::erase_if(out_.io_delays, [](const IoDelay& old) { return !old.rise && !old.fall; });
            out_.io_delays.insert(out_.io_delays.end(), rest.begin(), rest.end());
        }
        out_.io_delays.push_back(d);
    }

    std::optional<PathException::Point> point(const Arguments& a, const char* plain, const char* rise, const char* fall, std::initializer_list<K> kinds) {
        for (const auto& [name, r, f] : {std::tuple{plain, true, true}, std::tuple{rise, true, false}, std::tuple{fall, false, true}}) {
            const auto* w = a.get(name);
            if (!w) continue;
            PathException::Point p{objects(*w, kinds), r, f};
            if (p.objects.empty() && !failed_) tell(Severity::stop, "no-match", std::string(name) + " of this command names nothing.");
            return p;
        }
        return std::nullopt;
    }

    void exception(const Arguments& a, PathException e) {
        e.span = call_->span;
        e.from = point(a, "-from", "-rise_from", "-fall_from", {K::clock, K::port, K::pin, K::cell});
        e.to = point(a, "-to", "-rise_to", "-fall_to", {K::clock, K::port, K::pin, K::cell});
        // The order of several -through is kept within one spelling, which is how they are written in practice.
        for (const auto& [name, r, f] : {std::tuple{"-through", true, true}, std::tuple{"-rise_through", true, false}, std::tuple{"-fall_through", false, true}})
            if (const auto at = a.options.find(name); at != a.options.end())
                for (const auto* w : at->second) e.through.push_back({objects(*w, {K::port, K::pin, K::cell, K::net}), r, f});
        if (a.has("-rise") != a.has("-fall")) {
            if (!e.to) e.to = PathException::Point{};  // every endpoint, one edge
            e.to->rise = a.has("-rise"), e.to->fall = a.has("-fall");
        }
        if (!e.from && !e.to && e.through.empty()) return fail(call_->name + " needs -from, -through or -to; without them it would hold for every path.");
        if (!failed_) out_.exceptions.push_back(std::move(e));
    }

    static void setup_hold(const Arguments& a, PathException& e) {
        const bool both = a.has("-setup") == a.has("-hold");
        e.setup = both || a.has("-setup"), e.hold = both || a.has("-hold");
    }

    void false_path(const Arguments& a) {
        PathException e;
        setup_hold(a, e);
        exception(a, std::move(e));
    }
    void multicycle(const Arguments& a) {
        PathException e;
        e.kind = PathException::multicycle;
        setup_hold(a, e);
        e.only_setup_given = !a.has("-setup") && !a.has("-hold");
        e.start_given = a.has("-start"), e.end_given = a.has("-end");
        const auto v = number(*a.positional[0], "The number of cycles");
        if (!v) return;
        if (*v != std::floor(*v) || *v < 0 || *v > 100000) return fail("The number of cycles is a whole number, not " + a.positional[0]->text + ".");
        e.value = *v;
        exception(a, std::move(e));
    }
    void max_delay(const Arguments& a) { bound(a, PathException::max_delay); }
    void min_delay(const Arguments& a) { bound(a, PathException::min_delay); }
    void bound(const Arguments& a, PathException::Kind kind) {
        PathException e;
        e.kind = kind;
        e.setup = kind == PathException::max_delay, e.hold = !e.setup;
        const auto v = number(*a.positional[0], "The delay");
        if (!v) return;
        e.value = time(*v);
        exception(a, std::move(e));
    }

    void load(const Arguments& a) {
        const auto v = number(*a.positional[0], "The load");
        const auto set = objects(*a.positional[1], {K::port, K::net});
        if (!v || failed_) return;
        for (const auto& o : set) {
            std::erase_if(out_.loads, [&](const Load& old) { return old.object == o; });
            out_.loads.push_back({o, *v * load_unit_});
        }
    }
    void input_transition(const Arguments& a) {
        const auto v = number(*a.positional[0], "The transition");
        const auto set = objects(*a.positional[1], {K::port});
        const auto f = edges(a);
        if (!v || failed_) return;
        for (const auto& o : set)
            if (o.kind == K::port) out_.input_transitions.push_back({o.id, f.rise, f.fall, f.min, f.max, time(*v)});
    }
    void propagated(const Arguments& a) {
        for (const auto& o : objects(*a.positional[0], {K::clock, K::port, K::pin})) out_.propagated.push_back(o);
    }
    void case_analysis(const Arguments& a) {
        static const std::map<std::string, CaseValue::Value> values{{"0", CaseValue::zero}, {"zero", CaseValue::zero}, {"1", CaseValue::one}, {"one", CaseValue::one}, {"rise", CaseValue::rising}, {"rising", CaseValue::rising}, {"fall", CaseValue::falling}, {"falling", CaseValue::falling}};
        const auto at = values.find(lower(a.positional[0]->text));
        if (at == values.end()) return fail("set_case_analysis takes 0, 1, rising or falling, not '" + a.positional[0]->text + "'.");
        const auto set = objects(*a.positional[1], {K::port, K::pin});
        if (failed_) return;
        for (const auto& o : set) {
            std::erase_if(out_.cases, [&](const CaseValue& old) { return old.object == o; });
            out_.cases.push_back({o, at->second});
        }
    }
    /// Objects of a word where library cells may stand too: "TYPE" or "TYPE/PIN", with or without the library in front.
    ObjectSet objects_or_types(const Word& word, std::initializer_list<K> kinds, std::vector<std::string>& types, std::vector<std::string>* pins) {
        Word rest;
        rest.text = word.text;
        for (const auto& e : word.elements) {
            if (e.kind < 0 && !e.text.empty() && library_type(e.text, types, pins)) continue;
            rest.elements.push_back(e);
        }
        return objects(rest, kinds);
    }
    bool library_type(std::string name, std::vector<std::string>& types, std::vector<std::string>* pins) {
        if (index_.cells.contains(name) || index_.pins.contains(name) || index_.ports.contains(name)) return false;
        for (int cut = 0; cut < 2; ++cut) {
            if (library_.cell(name)) return types.push_back(name), true;
            const auto slash = name.find('/');
            if (slash == std::string::npos) return false;
            const auto* cell = library_.cell(name.substr(0, slash));
            if (pins && cell && cell->pin(name.substr(slash + 1)) >= 0) return pins->push_back(name), true;
            name = name.substr(slash + 1);
        }
        return false;
    }
    void disable(const Arguments& a) {
        DisabledArcs d;
        d.objects = objects_or_types(*a.positional[0], {K::port, K::pin, K::cell}, d.cell_types, &d.type_pins);
        if (const auto* w = a.get("-from")) d.from = w->text;
        if (const auto* w = a.get("-to")) d.to = w->text;
        if (!failed_) out_.disabled.push_back(std::move(d));
    }
    void derate(const Arguments& a) {
        Derate d;
        const auto v = number(*a.positional[0], "The factor");
        if (!v) return;
        d.value = *v;
        const auto both = [&](const char* x, const char* y, bool& p, bool& q) {
            const bool same = a.has(x) == a.has(y);
            p = same || a.has(x), q = same || a.has(y);
        };
        both("-early", "-late", d.early, d.late);
        both("-clock", "-data", d.clock, d.data);
        both("-rise", "-fall", d.rise, d.fall);
        const bool any = a.has("-cell_delay") || a.has("-net_delay") || a.has("-cell_check");
        d.cell = !any || a.has("-cell_delay"), d.net = !any || a.has("-net_delay"), d.check = a.has("-cell_check");
        if (a.positional.size() > 1) d.objects = objects_or_types(*a.positional[1], {K::cell, K::net}, d.cell_types, nullptr);
        if (!failed_) out_.derates.push_back(std::move(d));
    }
    void min_pulse(const Arguments& a) {
        MinPulse m;
        const auto v = number(*a.positional[0], "The width");
        if (!v) return;
        m.value = time(*v);
        const bool both = a.has("-high") == a.has("-low");
        m.high = both || a.has("-high"), m.low = both || a.has("-low");
        if (a.positional.size() > 1) m.objects = objects(*a.positional[1], {K::clock, K::pin, K::cell});
        if (!failed_) out_.min_pulses.push_back(std::move(m));
    }
    void data_check(const Arguments& a) {
        DataCheck d;
        const auto v = number(*a.positional[0], "The time");
        if (!v) return;
        d.value = time(*v);
        const bool both = a.has("-setup") == a.has("-hold");
        d.setup = both || a.has("-setup"), d.hold = both || a.has("-hold");
        const auto end = [&](const char* any, const char* rise, const char* fall, PathException::Point& p) {
            for (const char* o : {any, rise, fall})
                if (const auto* w = a.get(o)) p.objects = objects(*w, {K::pin, K::port}), p.rise = o != fall, p.fall = o != rise;
        };
        end("-from", "-rise_from", "-fall_from", d.from);
        end("-to", "-rise_to", "-fall_to", d.to);
        if (const auto* w = a.get("-clock"))
            if (const auto ids = clocks_of(*w); !ids.empty()) d.clock = ids[0];
        if (d.from.objects.empty() || d.to.objects.empty()) return fail("set_data_check needs -from and -to, both pins.");
        if (!failed_) out_.data_checks.push_back(std::move(d));
    }
    void clock_sense(const Arguments& a) {
        ClockSense s;
        s.pins = objects(*a.positional[0], {K::pin, K::port});
        for (const char* o : {"-clock", "-clocks"})
            if (const auto* w = a.get(o)) s.clocks = clocks_of(*w);
        s.sense = a.has("-stop_propagation") ? ClockSense::stop : a.has("-negative") ? ClockSense::negative : ClockSense::positive;
        if (!failed_ && (a.has("-stop_propagation") || a.has("-negative") != a.has("-positive"))) out_.senses.push_back(std::move(s));
    }
    void sense(const Arguments& a) {
        if (const auto* w = a.get("-type"); w && w->text != "clock") return tell(Severity::caution, "not-used", "Only the sense of clocks is used; this one is for data.");
        clock_sense(a);
    }
    void driving_cell(const Arguments& a) {
        DrivingCell d;
        const auto set = objects(*a.positional[0], {K::port});
        const auto* type = a.get("-lib_cell");
        if (!type) return fail("set_driving_cell needs -lib_cell.");
        d.cell = type->text.substr(type->text.rfind('/') + 1);
        const auto* cell = library_.cell(d.cell);
        if (!cell) return fail("There is no library cell '" + d.cell + "'.");
        if (const auto* w = a.get("-pin")) d.pin = w->text;
        if (const auto* w = a.get("-from_pin")) d.from_pin = w->text;
        if (const auto* w = a.get("-input_transition_rise")) d.slew[0] = time(to_number(w->text).value_or(0));
        if (const auto* w = a.get("-input_transition_fall")) d.slew[1] = time(to_number(w->text).value_or(0));
        const auto f = edges(a);
        d.rise = f.rise, d.fall = f.fall, d.minimum = f.min, d.maximum = f.max;
        for (const auto& o : set)
            if (!failed_ && o.kind == K::port) {
                d.port = o.id;
                out_.driving_cells.push_back(d);
            }
    }
    void units(const Arguments& a) {
        static const std::map<std::string, double> times{{"ns", 1}, {"1ns", 1}, {"ps", 1e-3}, {"1ps", 1e-3}, {"10ps", 1e-2}, {"100ps", 0.1}, {"us", 1e3}, {"1us", 1e3}};
        static const std::map<std::string, double> loads{{"pf", 1}, {"1pf", 1}, {"ff", 1e-3}, {"1ff", 1e-3}, {"1.0pf", 1}, {"1.0ff", 1e-3}, {"1.0ns", 1}};
        if (const auto* w = a.get("-time")) {
            const auto at = times.find(lower(w->text));
            if (at == times.end()) return fail("The time unit '" + w->text + "' is not known; it can be ns, ps or us.");
            time_unit_ = at->second;
        }
        if (const auto* w = a.get("-capacitance")) {
            const auto at = loads.find(lower(w->text));
            if (at == loads.end()) return fail("The capacitance unit '" + w->text + "' is not known; it can be pF or fF.");
            load_unit_ = at->second;
        }
    }

    const Netlist& n_;
    const NetlistIndex& index_;
    const Library& library_;
    ClockTracer tracer_{n_, library_};
    Constraints& out_;
    const Call* call_ = nullptr;
    bool failed_ = false;
    double time_unit_ = 1, load_unit_ = 1;
};

}  // namespace

Constraints read_sdc(const std::vector<Script>& scripts, const Netlist& netlist, const NetlistIndex& index, const Library& library, const RunLimits& limits, std::stop_token stop) {
    const auto run = run_scripts(scripts, netlist, index, limits, std::move(stop));
    Constraints out;
    out.files = run.files;
    Interpreter interpreter(netlist, index, library, out);
    for (const auto& call : run.calls) interpreter.run(call);
    return out;
}

bool is_unusable(const Message& m) {
    return m.severity == Severity::stop && (m.code == "syntax" || m.code == "tcl" || m.code == "run" || m.code == "command");
}

}  // namespace kp
