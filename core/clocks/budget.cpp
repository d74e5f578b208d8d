// SPDX-License-Identifier: GPL-3.0-or-later
// Ports are sorted into groups that have the same partner, clock, edges and data-sheet numbers; within a group only
// the traces differ, so its most and least come from its longest and shortest.
#include "core/clocks/budget.hpp"

#include "core/base/text.hpp"
#include "core/model/sdc_words.hpp"
#include "core/model/trace.hpp"
#include "core/planning/roles.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>
#include <tuple>

namespace kp::clocks {

namespace {

constexpr double longest_ns = 1e6;  ///< a millisecond: no trace and no data sheet has more

/// "0.3 -0.1" or "0.3": most and least, ns; none when it is neither, or beyond what a delay can be.
std::optional<std::pair<double, double>> term_of(const std::string& text) {
    const auto words = split(text, ' ');
    if (words.empty() || words.size() > 2) return std::nullopt;
    const auto max = to_number(words[0]), min = words.size() > 1 ? to_number(words[1]) : max;
    if (!max || !min || std::abs(*max) > longest_ns || std::abs(*min) > longest_ns) return std::nullopt;
    return std::pair(*max, *min);
}

/// To 0.1 ps, so that terms add up to the last digit printed.
double rounded(double ns) {
    return std::round(ns * 1e4) / 1e4;
}
std::string ns(double value) {
    return shortest(rounded(value));
}

/// Kinds and roles of partners that nobody times: a hand, an eye, an ear, or milliseconds. Common practice, no source.
bool is_slow(const std::string& kind) {
    static const std::set<std::string> slow{"key",     "rocker",  "lamp",   "display", "display segment",
                                            "sounder", "encoder", "vane",   "reset",   "header",
                                            "serial",  "bus",     "driver", "knob",    "winch"};
    return slow.contains(kind);
}

/// One port with one direction, and what its group is told by.
struct Member {
    const PlannedPort* seat = nullptr;
    bool input = true;
    Board::Found clock_at;  ///< terminal that its times speak of
    Arrangement arrangement = Arrangement::asynchronous;
    std::string clock;
    bool rise = true, fall = false;
    std::vector<ClockWish> wishes;
    std::string why;
    bool unknown = false;
    [[nodiscard]] std::string partner() const { return seat->at ? seat->at.part->ref : std::string(); }
};

bool has_numbers(const Terminal& t, bool input) {
    return input ? t.out_max_ns.has_value() || t.out_min_ns.has_value()
                 : t.setup_ns.has_value() || t.hold_ns.has_value();
}

class Sorter {
public:
    explicit Sorter(const BudgetInput& in) : in_(in), plan_(in.plan), k_(in.constraints) {
        for (std::uint32_t c = 0; c < k_.clocks.size(); ++c)
            for (const auto& o : k_.clocks[c].sources)
                if (o.kind == ObjectKind::port && o.id < plan_.ports.size())
                    clock_of_port_.emplace(plan_.ports[o.id].name, c);
    }

    std::vector<Budget> run() {
        for (const auto* seat : plan_.seats()) {
            if (!seat->port || !seat->chosen->open.empty()) continue;
            if (seat->reads()) add(*seat, true);
            if (seat->drives()) add(*seat, false);
        }
        std::vector<Budget> out;
        std::set<std::string> names;
        for (const auto& key : order_) out.push_back(budget(groups_.at(key), names));
        return out;
    }

private:
    using Key = std::tuple<std::string, bool, std::string, int, std::string, bool, bool, std::string, std::string>;

    [[nodiscard]] const PortClocks* clocks_of(const PlannedPort& seat) const {
        return seat.order < in_.port_clocks.size() ? &in_.port_clocks[seat.order] : nullptr;
    }
    [[nodiscard]] const std::string& clock_name(std::uint32_t id) const { return k_.clocks[id].name; }

    void add(const PlannedPort& seat, bool input) {
        const bool clock_in = input && (clock_of_port_.contains(seat.name) ||
                                        (seat.facts && (seat.facts->clocks_registers || seat.facts->feeds_pll)));
        if (clock_in || (input && seat.facts && !seat.facts->read)) return;
        // The other half of a pair carries nothing of its own; where nothing takes it, nothing is to be said of it.
        if (const auto* c = clocks_of(seat); input && c && c->captures.empty())
            if (const auto* other = plan_.partner(seat))
                if (const auto* theirs = clocks_of(*other);
                    clock_of_port_.contains(other->name) || (theirs && !theirs->captures.empty()))
                    return;
        Member m{&seat, input};
        decide(m);
        const auto* t = m.seat->at ? m.seat->at.terminal : nullptr;
        std::string numbers;
        if (t && m.arrangement != Arrangement::asynchronous)
            for (const auto& n : {t->setup_ns, t->hold_ns, t->out_min_ns, t->out_max_ns})
                numbers += n ? shortest(*n) + "|" : "-|";
        // Of partners that nobody times only the reason tells groups apart.
        const Key key{m.partner(),
                      input,
                      m.clock_at ? m.clock_at.terminal->name : "",
                      static_cast<int>(m.arrangement),
                      m.clock,
                      m.rise,
                      m.fall,
                      numbers,
                      m.arrangement == Arrangement::asynchronous ? m.why : ""};
        auto& list = groups_[key];
        if (list.empty()) order_.push_back(key);
        list.push_back(std::move(m));
    }

    /// Arrangement, clock and edges of one port.
    void decide(Member& m) {
        const auto& seat = *m.seat;
        if (!m.input && clock_of_port_.contains(seat.name)) {
            m.why = "it is a clock, and others are measured by it";
            return;
        }
        if (!m.input && is_forwarded_clock(seat)) {
            m.why = "it is the clock of what it leaves with, and others are measured by it";
            return;
        }
        const auto* t = seat.at ? seat.at.terminal : nullptr;
        if (t && !t->clock.empty()) m.clock_at = plan_.board.at_terminal(seat.at.part->ref + "." + t->clock);
        if (!t || !has_numbers(*t, m.input)) return no_promise(m);
        const auto direction = m.clock_at ? m.clock_at.terminal->direction : TerminalDirection::passive;
        if (m.clock_at && direction == TerminalDirection::drives)
            source_synchronous(m);
        else if (m.clock_at && m.clock_at.net && leaves(m.clock_at.net->pin))
            forwarded(m);
        else {
            m.arrangement = Arrangement::system_synchronous;
            m.why = "the partner takes the board's clock";
            take_own_clock(m);
        }
    }

    /// An output whose terminal is what the times of its neighbours speak of.
    [[nodiscard]] static bool is_forwarded_clock(const PlannedPort& seat) {
        if (!seat.at) return false;
        const auto& terminals = seat.at.part->terminals;
        return std::any_of(terminals.begin(), terminals.end(),
                           [&](const Terminal& t) { return t.clock == seat.at.terminal->name; });
    }

    void no_promise(Member& m) const {
        const auto role = role_of(*m.seat).role;
        const auto some = [](const std::string& what) {
            return (std::string("aeiou").find(what[0]) == std::string::npos ? "a " : "an ") + what + " keeps no clock";
        };
        if (m.seat->at && is_slow(m.seat->at.part->kind))
            m.why = some(m.seat->at.part->kind);
        else if (is_slow(role))
            m.why = some(role);
        else {
            m.unknown = true;
            m.why = m.seat->at ? "the board file has no times of it at " + m.seat->at.part->ref
                               : "nothing is known of what stands at its other end";
        }
    }

    /// The user gave a term for a group, by the name it is shown under.
    [[nodiscard]] bool speaks_of(const std::string& name) const {
        const auto& lines = plan_.project.budgets;
        for (auto line = lines.lower_bound(name + "."); line != lines.end() && line->first.starts_with(name + ".");
             ++line)
            if (line->first != name + ".linked") return true;
        return false;
    }
    /// A number of the user's makes a promise of what nobody timed.
    void promise(Budget& b, Member first) const {
        first.arrangement = Arrangement::system_synchronous;
        first.why = "the user says its numbers";
        take_own_clock(first);
        b.arrangement = first.arrangement;
        b.clock = first.clock;
        b.rise = first.rise;
        b.fall = first.fall;
        b.why = first.why;
        b.unknown = false;
    }

    /// What really captures or launches there.
    void take_own_clock(Member& m) const {
        const auto* c = clocks_of(*m.seat);
        const auto* list = c ? (m.input ? &c->captures : &c->launches) : nullptr;
        if (!list || list->empty()) {
            m.why += said("{}no clock reaches {}, so a clock comes first", m.why.empty() ? "" : "; ",
                          (m.input ? "what it feeds" : "what drives it"));
            return;
        }
        m.clock = clock_name(list->front().clock);
        m.rise = list->front().rise;
        m.fall = list->front().fall;
        if (list->size() > 1) m.why += said("; several clocks meet there, {} is one", m.clock);
    }

    void source_synchronous(Member& m) const {
        m.arrangement = Arrangement::source_synchronous;
        m.why = "the partner sends its clock with the data";
        const auto port = m.clock_at.net ? port_at(m.clock_at.net->pin) : std::string();
        const auto at = clock_of_port_.find(port);
        if (at != clock_of_port_.end())
            m.clock = clock_name(at->second);
        else if (port.empty())
            m.why += said("; no port is pegged to its clock {}.{}", m.clock_at.part->ref, m.clock_at.terminal->name);
        else
            m.why += "; no clock is defined on " + port;
        both_edges(m, m.input);
    }

    void forwarded(Member& m) const {
        m.arrangement = Arrangement::forwarded;
        m.why = "the FPGA sends the clock";
        both_edges(m, m.input);
        const auto port = port_at(m.clock_at.net->pin);
        if (port.empty()) {
            m.why += "; no port is pegged to it";
            return take_own_clock(m);
        }
        if (const auto at = clock_of_port_.find(port); at != clock_of_port_.end()) {
            m.clock = clock_name(at->second);
            return;
        }
        if (const auto wish = forwarded_clock(port, *m.clock_at.terminal)) {
            m.clock = wish->name;
            m.wishes.push_back(*wish);
        }
    }

    /// The FPGA drives what is on a pin, or nobody is there yet.
    [[nodiscard]] bool leaves(const std::string& pin) const {
        const auto* seat = plan_.seat(port_at(pin));
        return !seat || !seat->port || seat->drives();
    }

    /// Data of both edges of a clock: what captures or launches does so at both.
    void both_edges(Member& m, bool input) const {
        const auto* c = clocks_of(*m.seat);
        if (!c) return;
        for (const auto& at : input ? c->captures : c->launches)
            if (at.rise && at.fall) m.fall = true;
    }

    [[nodiscard]] std::string port_at(const std::string& pin) const {
        const auto& ports = plan_.at_pin(pin);
        return ports.empty() ? std::string() : ports.front();
    }

    /// The clock that leaves by a port, as its partner takes it: made from what launches there, moved by the delay
    /// that the partner puts into it.
    [[nodiscard]] std::optional<ClockWish> forwarded_clock(const std::string& port, const Terminal& terminal) const {
        const auto* seat = plan_.seat(port);
        const auto* c = seat ? clocks_of(*seat) : nullptr;
        if (!c || c->launches.empty()) return std::nullopt;
        const auto& from = c->launches.front();
        const auto& master = k_.clocks[from.clock];
        if (master.sources.empty()) return std::nullopt;
        const auto& o = master.sources.front();
        if (o.kind != ObjectKind::port && !(o.kind == ObjectKind::pin && pin_name_)) return std::nullopt;
        const auto source = o.kind == ObjectKind::port ? sdc::get_ports_word({plan_.ports[o.id].name})
                                                       : said("[get_pins {}]", sdc::quote(pin_name_(o.id)));
        const bool same_rate = from.rise && from.fall;
        const double delay = terminal.clock_delay_ns.value_or(0);
        std::string how = same_rate ? " -divide_by 1" : " -divide_by 2";
        if (delay != 0) {
            const auto shift = ns(delay);
            how = said("{} -edge_shift {{{} {} {}}}", same_rate ? " -edges {1 2 3}" : " -edges {1 3 5}", shift, shift,
                       shift);
        }
        ClockWish wish;
        wish.name = port;
        wish.command = said("create_generated_clock -name {} -source {}{} {}", sdc::quote(port), source, how,
                            sdc::get_ports_word({port}));
        wish.why = (same_rate ? said("both edges of {} launch it", master.name)
                              : said("a register of {} makes it, at most half as fast", master.name)) +
                   (delay != 0 ? said("; its partner delays it by {} ns", ns(delay)) : "");
        return wish;
    }

    [[nodiscard]] std::string group_name(const Member& m) const {
        std::string name = m.partner().empty() ? std::string("no partner") : m.partner();
        if (m.clock_at) name += "." + m.clock_at.terminal->name;
        return name + (m.input ? " in" : " out");
    }

    Budget budget(const std::vector<Member>& members, std::set<std::string>& names) const {
        const auto& first = members.front();
        Budget b;
        b.name = group_name(first);
        for (int n = 2; !names.insert(b.name).second; ++n) b.name = said("{} {}", group_name(first), n);
        b.partner = first.partner();
        b.input = first.input;
        b.arrangement = first.arrangement;
        b.clock = first.clock;
        b.rise = first.rise;
        b.fall = first.fall;
        b.why = first.why;
        b.unknown = first.unknown;
        for (const auto& m : members) {
            b.ports.push_back(m.seat->name);
            for (const auto& w : m.wishes)
                if (std::none_of(b.clocks.begin(), b.clocks.end(), [&](const auto& o) { return o.name == w.name; }))
                    b.clocks.push_back(w);
        }
        if (b.arrangement == Arrangement::asynchronous && speaks_of(b.name)) promise(b, first);
        if (b.arrangement != Arrangement::asynchronous) fill_terms(b, members);
        const auto linked = plan_.project.budgets.find(b.name + ".linked");
        b.linked = linked != plan_.project.budgets.end() && linked->second == "yes";
        find_in_force(b);
        write(b);
        return b;
    }

    void fill_terms(Budget& b, const std::vector<Member>& members) const {
        const auto& first = members.front();
        const auto* at = first.seat->at ? &first.seat->at : nullptr;
        if (at && has_numbers(*at->terminal, b.input)) {
            const auto& t = *at->terminal;
            const auto where = at->part->ref + "." + t.name;
            if (b.input)
                b.terms.push_back({"clock to output", t.out_max_ns.value_or(t.out_min_ns.value_or(0)),
                                   t.out_min_ns.value_or(t.out_max_ns.value_or(0)),
                                   "data sheet: out_max_ns and out_min_ns of " + where});
            else
                b.terms.push_back({"setup and hold", t.setup_ns.value_or(0), -t.hold_ns.value_or(0),
                                   "data sheet: setup_ns and hold_ns of " + where});
        }
        add_data_traces(b, members);
        if (first.clock_at && first.clock_at.net) {
            const double mm = first.clock_at.net->trace_mm, delay = trace_delay(plan_.board.stack, mm);
            // A clock that goes out comes before data that come in; otherwise it runs beside them.
            const bool adds = b.input && b.arrangement == Arrangement::forwarded;
            if (mm > 0 && b.arrangement == Arrangement::system_synchronous)
                // Between both ends of the board's clock; which of them it reaches first nobody says.
                b.terms.push_back({"clock skew", delay, -delay, trace_words(first.clock_at.net->terminal, mm, mm)});
            else if (mm > 0)
                b.terms.push_back({"clock trace", adds ? delay : -delay, adds ? delay : -delay,
                                   trace_words(first.clock_at.net->terminal, mm, mm)});
        }
        take_user_terms(b);
        for (auto& t : b.terms) {
            t.max = rounded(t.max);
            t.min = rounded(t.min);
            b.max += t.max;
            b.min += t.min;
        }
        b.max = rounded(b.max);
        b.min = rounded(b.min);
    }

    void add_data_traces(Budget& b, const std::vector<Member>& members) const {
        double least = 0, most = 0;
        bool any = false;
        for (const auto& m : members) {
            if (!m.seat->at || m.seat->at.net->trace_mm <= 0) continue;
            const double mm = m.seat->at.net->trace_mm;
            least = any ? std::min(least, mm) : mm;
            most = any ? std::max(most, mm) : mm;
            any = true;
        }
        if (!any) return;
        b.terms.push_back(
            {"data trace", trace_delay(plan_.board.stack, most), trace_delay(plan_.board.stack, least),
             trace_words(members.size() == 1 ? members[0].seat->at.net->terminal : b.partner, least, most)});
    }

    [[nodiscard]] std::string trace_words(const std::string& of, double least, double most) const {
        const auto& stack = plan_.board.stack;
        const double per_mm = delay_per_mm(stack);
        const auto length =
            least == most ? shortest(most) + " mm" : said("{} to {} mm", shortest(least), shortest(most));
        if (per_mm <= 0) return said("trace of {}: {}, and the board file says no stack", of, length);
        return said("trace of {}: {} of {} at {} ps/mm ({}, er = {})", of, length, stack.kind, fixed(per_mm * 1000, 3),
                    (stack.kind == "stripline" ? "sqrt(er) / c" : "Hammerstad and Jensen 1980"),
                    shortest(stack.relative_permittivity));
    }

    void take_user_terms(Budget& b) const {
        const auto begin = b.name + ".";
        for (auto line = plan_.project.budgets.lower_bound(begin);
             line != plan_.project.budgets.end() && line->first.starts_with(begin); ++line) {
            const auto what = line->first.substr(begin.size());
            if (what == "linked") continue;
            const auto term = term_of(line->second);
            if (!term) continue;  // told by budget_trouble()
            const auto [max, min] = *term;
            const auto at = std::find_if(b.terms.begin(), b.terms.end(), [&](const auto& t) { return t.what == what; });
            if (at == b.terms.end()) {
                b.terms.push_back({what, max, min, "said by the user"});
            } else {
                at->from = said("said by the user, instead of {} and {} from {}", ns(at->max), ns(at->min), at->from);
                at->max = max;
                at->min = min;
            }
        }
    }

    void find_in_force(Budget& b) const {
        std::set<std::uint32_t> ids;
        for (const auto& port : b.ports)
            if (const auto* seat = plan_.seat(port)) ids.insert(seat->order);
        std::optional<double> late, early;
        for (const auto& d : k_.io_delays) {
            if (d.input != b.input || !ids.contains(d.port)) continue;
            if (d.late) late = std::max(late.value_or(d.value), d.value);
            if (d.early) early = std::min(early.value_or(d.value), d.value);
        }
        // Where only one of them is said, the other is as it.
        if (late || early) b.in_force = Budget::InForce{late ? *late : *early, early ? *early : *late};
        std::set<std::uint32_t> out;
        for (const auto& e : k_.exceptions) {
            const auto& end = b.input ? e.from : e.to;
            if (e.kind != PathException::false_path || !end || !e.through.empty() || (b.input ? e.to : e.from))
                continue;
            for (const auto& o : end->objects)
                if (o.kind == ObjectKind::port) out.insert(o.id);
        }
        b.excluded = std::all_of(ids.begin(), ids.end(), [&](std::uint32_t id) { return out.contains(id); });
    }

    void write(Budget& b) const {
        const auto ports = sdc::get_ports_word(b.ports);
        if (b.arrangement == Arrangement::asynchronous) {
            b.sdc.push_back(std::string("set_false_path ") + (b.input ? "-from " : "-to ") + ports);
            return;
        }
        if (b.clock.empty()) return;
        for (const auto& w : b.clocks) {
            b.sdc.push_back(w.command);
            b.sdc.push_back(said("set_propagated_clock [get_clocks {}]", sdc::quote(w.name)));
        }
        // What the partner sees of the clock comes before our own network of it.
        const bool forwarded = b.arrangement == Arrangement::forwarded;
        const std::string head = std::string(b.input ? "set_input_delay" : "set_output_delay") + " -clock " +
                                 sdc::quote(b.clock),
                          flag = forwarded ? "" : " -network_latency_included";
        bool more = false;
        for (const bool fall : {false, true}) {
            if (fall ? !b.fall : !b.rise) continue;
            const auto edge = head + (fall ? " -clock_fall" : "") + flag;
            b.sdc.push_back(said("{}{} -max {} {}", edge, (more ? " -add_delay" : ""), ns(b.max), ports));
            b.sdc.push_back(said("{}{} -min {} {}", edge, (more ? " -add_delay" : ""), ns(b.min), ports));
            more = true;
        }
    }

    const BudgetInput& in_;
    const Plan& plan_;
    const Constraints& k_;
    std::map<std::string, std::uint32_t> clock_of_port_;
    std::map<Key, std::vector<Member>> groups_;
    std::vector<Key> order_;
    std::function<std::string(std::uint32_t)> pin_name_ = in_.pin_name;
};

}  // namespace

const char* name_of(Arrangement a) {
    static const char* names[] = {"system-synchronous", "source-synchronous", "forwarded", "asynchronous"};
    return names[static_cast<int>(a)];
}

bool Budget::agrees() const {
    if (arrangement == Arrangement::asynchronous) return excluded || in_force.has_value();
    return in_force && std::fabs(in_force->max - max) < 5e-5 && std::fabs(in_force->min - min) < 5e-5;
}

std::vector<Budget> budgets(const BudgetInput& input) {
    return Sorter(input).run();
}

std::optional<std::map<std::string, std::string>> with_term(const Project& project, const std::string& group,
                                                            const std::string& term, const std::string& text) {
    auto out = project.budgets;
    const auto key = group + "." + term;
    if (trim(text).empty()) {
        out.erase(key);
        return out;
    }
    std::string kept;
    int numbers = 0;
    for (const auto word : split(text, ' ')) {
        if (word.empty()) continue;
        const auto n = to_number(word);
        if (term != "linked" && (!n || !std::isfinite(*n) || std::fabs(*n) > 1e6 || ++numbers > 2)) return std::nullopt;
        kept += (kept.empty() ? "" : " ") + std::string(word);
    }
    if (term == "linked" && kept != "yes" && kept != "no") return std::nullopt;
    out[key] = kept;
    return out;
}

std::optional<std::string> budget_trouble(const Project& project) {
    for (const auto& [key, text] : project.budgets)
        if (!key.ends_with(".linked") && !term_of(text))
            return said(
                "The term '{}' of a budget is '{}'; it should be a number of ns, or its most and its least, of at most "
                "a million ns.",
                key, text);
    return std::nullopt;
}

}  // namespace kp::clocks
