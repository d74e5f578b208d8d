// SPDX-License-Identifier: GPL-3.0-or-later
// Gives the words of SDC commands their meaning. Private to the reader: read.cpp has what all commands share,
// read_clocks.cpp, read_paths.cpp and read_arcs.cpp have the commands.
#pragma once

#include "core/format/sdc/generated.hpp"
#include "core/format/sdc/table.hpp"
#include "core/format/sdc/words.hpp"

#include <chrono>
#include <initializer_list>
#include <map>
#include <optional>
#include <stop_token>

namespace kp::sdc {

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
    using Clock = std::chrono::steady_clock;
    /// Gives up, with a message, after `seconds` or when `stop` says so.
    Interpreter(const Netlist& n, const NetlistIndex& index, const Library& library, Constraints& out, double seconds,
                std::stop_token stop)
        : n_(n),
          index_(index),
          library_(library),
          out_(out),
          end_(Clock::now() + std::chrono::duration_cast<Clock::duration>(std::chrono::duration<double>(seconds))),
          seconds_(seconds),
          stop_(std::move(stop)) {}
    /// False when it gave up.
    bool run(const Call& call);
    /// Says how many messages there were beyond those that were kept.
    void finish();

private:
    struct EdgeFlags {
        bool min, max, rise, fall;
    };
    void tell(Severity severity, Code code, std::string text, std::vector<Subject> subjects = {});
    /// Keeps the first hundred messages of each code and counts the rest.
    void keep_message(Message message);
    [[nodiscard]] bool worth_a_guess() const;
    [[nodiscard]] bool out_of_time();
    void fail(std::string text);
    bool sort(const CommandRow& row, Arguments& a);
    /// The option itself, or the only one that starts so.
    const OptionRow* match(const CommandRow& row, const std::string& text);
    std::optional<double> number(const Word& word, const char* what);
    double time(double v) const;
    std::uint32_t clock_of(const std::string& name);
    std::vector<std::uint32_t> clocks_of(const Word& word);
    std::string name_of_element(const Element& e) const;
    /// Objects of a word: found ones of these kinds, plain names looked up as the first of `kinds` that has them.
    ObjectSet objects(const Word& word, std::initializer_list<K> kinds);
    void lookup(const std::string& name, std::initializer_list<K> kinds, ObjectSet& set);
    static EdgeFlags edges(const Arguments& a);
    void dispatch(const std::string& name, const Arguments& a);
    void create_clock(const Arguments& a);
    void create_generated_clock(const Arguments& a);
    void keep(ClockDefinition clock, bool add);
    void clock_latency(const Arguments& a);
    void clock_uncertainty(const Arguments& a);
    void clock_transition(const Arguments& a);
    void clock_groups(const Arguments& a);
    void input_delay(const Arguments& a);
    void output_delay(const Arguments& a);
    void io_delay(const Arguments& a, bool input);
    /// docs/timing.md, settled details: without -add_delay a command replaces per clock, edge, rise/fall and min/max;
    /// one for another clock replaces all of the older one.
    void keep(const IoDelay& d);
    std::optional<PathException::Point> point(const Arguments& a, const char* plain, const char* rise, const char* fall,
                                              std::initializer_list<K> kinds);
    void exception(const Arguments& a, PathException e);
    static void setup_hold(const Arguments& a, PathException& e);
    void false_path(const Arguments& a);
    void multicycle(const Arguments& a);
    void max_delay(const Arguments& a);
    void min_delay(const Arguments& a);
    void bound(const Arguments& a, PathException::Kind kind);
    void load(const Arguments& a);
    void input_transition(const Arguments& a);
    void propagated(const Arguments& a);
    void case_analysis(const Arguments& a);
    void logic_zero(const Arguments& a) { hold_level(*a.positional[0], CaseValue::zero); }
    void logic_one(const Arguments& a) { hold_level(*a.positional[0], CaseValue::one); }
    void hold_level(const Word& word, CaseValue::Value value);
    /// Objects of a word where library cells may stand too: "TYPE" or "TYPE/PIN", with or without the library in front.
    ObjectSet objects_or_types(const Word& word, std::initializer_list<K> kinds, std::vector<std::string>& types,
                               std::vector<std::string>* pins);
    bool library_type(std::string name, std::vector<std::string>& types, std::vector<std::string>* pins);
    void disable(const Arguments& a);
    void derate(const Arguments& a);
    void min_pulse(const Arguments& a);
    void data_check(const Arguments& a);
    void clock_sense(const Arguments& a);
    void sense(const Arguments& a);
    void driving_cell(const Arguments& a);
    void units(const Arguments& a);

    const Netlist& n_;
    const NetlistIndex& index_;
    const Library& library_;
    ClockTracer tracer_{n_, library_};
    Constraints& out_;
    const Call* call_ = nullptr;
    bool failed_ = false;
    double time_unit_ = 1, load_unit_ = 1;
    Clock::time_point end_;
    double seconds_;
    std::stop_token stop_;
    bool gave_up_ = false;
    size_t steps_ = 0;
    std::map<Code, size_t> told_;  ///< messages by code
};

}  // namespace kp::sdc
