// SPDX-License-Identifier: GPL-3.0-or-later
// From words to constraints: SDC 2.x. Here is what all commands share.
#include "core/format/sdc/read.hpp"

#include "core/base/bytes.hpp"
#include "core/base/text.hpp"
#include "core/format/sdc/interpreter.hpp"
#include "core/format/sdc/query.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cmath>
#include <map>

namespace kp {

namespace sdc {

namespace {
const char* name_of_kind(K kind) {
    return kind == K::port   ? "port"
           : kind == K::pin  ? "pin"
           : kind == K::cell ? "cell"
           : kind == K::net  ? "net"
                             : "clock";
}
}  // namespace

constexpr size_t most_told = 100;    // messages of one kind; nobody reads more
constexpr size_t most_guesses = 20;  // for each, all names are compared

void Interpreter::keep_message(Message message) {
    if (++told_[message.code] > most_told) return;
    message.text = without_foreign_quotes(std::move(message.text));
    out_.messages.push_back(std::move(message));
}

bool Interpreter::worth_a_guess() const {
    const auto at = told_.find(Code::no_match);
    return at == told_.end() || at->second < most_guesses;
}

/// Asked at every step, so the clock is looked at now and then only.
bool Interpreter::out_of_time() {
    if (gave_up_ || (++steps_ % 256 != 0) || (!stop_.stop_requested() && Clock::now() < end_)) return gave_up_;
    gave_up_ = true;
    tell(
        Severity::stop, Code::run,
        stop_.stop_requested()
            ? "The run was cancelled here."
            : said(
                  "What the constraints say could not be made out within {} s; what follows this command was not read.",
                  shortest(seconds_)));
    return true;
}

void Interpreter::finish() {
    for (const auto& [code, n] : told_) {
        if (n <= most_told) continue;
        const auto first =
            std::find_if(out_.messages.begin(), out_.messages.end(), [&](const Message& m) { return m.code == code; });
        Message more = *first;
        more.line = more.column = 0;
        more.text = counted(n - most_told, "more finding") + " of this kind are not listed; the first: " + first->text;
        out_.messages.push_back(std::move(more));
    }
}

bool Interpreter::run(const Call& call) {
    call_ = &call;
    failed_ = false;
    if (out_of_time()) return false;
    if (call.name.empty()) {
        keep_message(call.message);
        return true;
    }
    const auto* row = find_command(call.name);
    Arguments a;
    if (row && sort(*row, a)) {
        if (row->analysed)
            dispatch(call.name, a);
        else
            tell(Severity::caution, Code::not_used,
                 call.name + " is read, but this version's analysis does not use it.");
    }
    out_.commands.push_back({call.name, call.span, !failed_});
    return !gave_up_;
}

void Interpreter::tell(Severity severity, Code code, std::string text, std::vector<Subject> subjects) {
    const auto& span = call_->span;
    const std::string file =
        static_cast<size_t>(span.file) < out_.files.size() ? out_.files[static_cast<size_t>(span.file)] : "";
    keep_message({severity, code, std::move(text), file, span.line, 0, std::move(subjects)});
    failed_ |= severity == Severity::stop;
}

void Interpreter::fail(std::string text) {
    tell(Severity::stop, Code::command, std::move(text));
}

bool Interpreter::sort(const CommandRow& row, Arguments& a) {
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
            fail(said("{} of {} needs a value.", option->name, row.name));
            return false;
        }
        if (option->takes == Takes::number && !to_number(words[i].text)) {
            fail(said("{} of {} needs a number, not '{}'.", option->name, row.name, words[i].text));
            return false;
        }
        list.push_back(&words[i]);
    }
    const auto n = static_cast<int>(a.positional.size());
    if (n >= row.least && n <= row.most) return true;
    if (n > row.most)
        fail(said("'{}' is one word too many for {}; a list goes into braces or [list …].",
                  a.positional[static_cast<size_t>(row.most)]->text, row.name));
    else
        fail(said("{} needs {} beside its options, it has {}.", row.name, counted(row.least, "word"), n));
    return false;
}

const OptionRow* Interpreter::match(const CommandRow& row, const std::string& text) {
    const OptionRow* found = nullptr;
    int hits = 0;
    std::vector<std::string> names;
    for (const auto& option : row.options) {
        names.emplace_back(option.name);
        if (text == option.name) return &option;
        if (std::string_view(option.name).starts_with(text)) {
            found = &option;
            ++hits;
        }
    }
    if (hits == 1) return found;
    tell(Severity::stop, Code::command,
         said("'{}' is {} of {}.{}", text, (hits > 1 ? "short for several options" : "not an option"), row.name,
              did_you_mean(text, names)),
         {{Subject::called, text, nearest(text, names).value_or("")}});
    return nullptr;
}

std::optional<double> Interpreter::number(const Word& word, const char* what) {
    const auto v = to_number(word.text);
    if (!v || std::fabs(*v) > 1e9) {
        fail(said("{} should be a number, not '{}'.", what, word.text));
        return std::nullopt;
    }
    return v;
}

double Interpreter::time(double v) const {
    return v * time_unit_;
}

std::uint32_t Interpreter::clock_of(const std::string& name) {
    const auto id = out_.clock(name);
    if (id == no_id) {
        std::vector<std::string> names;
        for (const auto& c : out_.clocks) names.push_back(c.name);
        tell(Severity::stop, Code::no_match, said("There is no clock '{}'.{}", name, did_you_mean(name, names)),
             {{Subject::clock, name, nearest(name, names).value_or("")}});
    }
    return id;
}

std::vector<std::uint32_t> Interpreter::clocks_of(const Word& word) {
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

std::string Interpreter::name_of_element(const Element& e) const {
    return e.kind >= 0 && e.text.empty() ? object_name(n_, static_cast<K>(e.kind), e.id) : e.text;
}

ObjectSet Interpreter::objects(const Word& word, std::initializer_list<K> kinds) {
    ObjectSet set;
    for (const auto& e : word.elements) {
        if (out_of_time()) break;
        if (e.kind >= 0 && static_cast<K>(e.kind) != K::clock) {
            if (std::find(kinds.begin(), kinds.end(), static_cast<K>(e.kind)) == kinds.end()) {
                fail(said("{} does not take a {} there: '{}'.", call_->name, name_of_kind(static_cast<K>(e.kind)),
                          name_of_element(e)));
                continue;
            }
            set.push_back({static_cast<K>(e.kind), e.id});
        } else if (e.kind == static_cast<int>(K::clock)) {
            if (const auto id = clock_of(e.text); id != no_id) set.push_back({K::clock, id});
        } else {
            lookup(e.text, kinds, set);
        }
    }
    return set;
}

void Interpreter::lookup(const std::string& name, std::initializer_list<K> kinds, ObjectSet& set) {
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
        if (near.empty() && kind != K::clock && worth_a_guess()) near = nearest_object(n_, kind, name, call_->name);
    tell(Severity::stop, Code::no_match,
         said("Nothing is named '{}'.{}", name, (near.empty() || near == name ? "" : " Did you mean '" + near + "'?")),
         {{Subject::called, name, near == name ? "" : near}});
}

Interpreter::EdgeFlags Interpreter::edges(const Arguments& a) {
    const auto both = [&](const char* x, const char* y) { return a.has(x) == a.has(y); };
    const bool mm = both("-min", "-max"), rf = both("-rise", "-fall");
    return {mm || a.has("-min"), mm || a.has("-max"), rf || a.has("-rise"), rf || a.has("-fall")};
}

void Interpreter::dispatch(const std::string& name, const Arguments& a) {
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
        {"set_logic_zero", &Interpreter::logic_zero},
        {"set_logic_one", &Interpreter::logic_one},
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

void Interpreter::setup_hold(const Arguments& a, PathException& e) {
    const bool both = a.has("-setup") == a.has("-hold");
    e.setup = both || a.has("-setup");
    e.hold = both || a.has("-hold");
}

void Interpreter::units(const Arguments& a) {
    static const std::map<std::string, double> times{{"ns", 1},      {"1ns", 1},     {"ps", 1e-3}, {"1ps", 1e-3},
                                                     {"10ps", 1e-2}, {"100ps", 0.1}, {"us", 1e3},  {"1us", 1e3}};
    static const std::map<std::string, double> loads{{"pf", 1},    {"1pf", 1},      {"ff", 1e-3}, {"1ff", 1e-3},
                                                     {"1.0pf", 1}, {"1.0ff", 1e-3}, {"1.0ns", 1}};
    if (const auto* w = a.get("-time")) {
        const auto at = times.find(lower(w->text));
        if (at == times.end()) return fail(said("The time unit '{}' is not known; it can be ns, ps or us.", w->text));
        time_unit_ = at->second;
    }
    if (const auto* w = a.get("-capacitance")) {
        const auto at = loads.find(lower(w->text));
        if (at == loads.end())
            return fail(said("The capacitance unit '{}' is not known; it can be pF or fF.", w->text));
        load_unit_ = at->second;
    }
}

}  // namespace sdc

Constraints read_sdc(const std::vector<sdc::Script>& scripts, const Netlist& netlist, const NetlistIndex& index,
                     const Library& library, const sdc::RunLimits& limits, std::stop_token stop) {
    const auto run = sdc::run_scripts(scripts, netlist, index, library, limits, stop);
    Constraints out;
    out.files = run.files;
    sdc::Interpreter interpreter(netlist, index, library, out, limits.seconds, stop);
    for (const auto& call : run.calls)
        if (!interpreter.run(call)) break;
    interpreter.finish();
    return out;
}

bool is_unusable(const Message& m) {
    return m.severity == Severity::stop && (m.code == Code::syntax || m.code == Code::tcl || m.code == Code::run ||
                                            m.code == Code::command || m.code == Code::outside);
}

}  // namespace kp
