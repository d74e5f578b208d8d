// SPDX-License-Identifier: GPL-3.0-or-later
// From the tree to cells with units converted. Bundles and buses become their bits, tables of any axis order become
// input transition by load. Linear but for bus pins times members.
#include "core/format/liberty/read.hpp"

#include "core/base/bytes.hpp"
#include "core/base/text.hpp"
#include "core/format/liberty/groups.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <array>
#include <map>

namespace kp {

namespace {

using liberty::Group;

/// Axes of a template: what each variable is.
struct Template {
    std::vector<std::string> variables;
    std::vector<std::vector<double>> axes;
};

std::vector<double> numbers(const std::vector<std::string>& texts, bool& good) {
    std::vector<double> out;
    for (const auto& text : texts) {
        std::string_view rest = text;
        while (!(rest = trim(rest)).empty()) {
            const auto end = rest.find_first_of(", \t\n");
            const auto value = to_number(rest.substr(0, end));
            if (value)
                out.push_back(*value);
            else
                good = false;
            rest = end == std::string_view::npos
                       ? std::string_view()
                       : rest.substr(rest.find_first_not_of(", \t\n", end) == std::string_view::npos
                                         ? rest.size()
                                         : rest.find_first_not_of(", \t\n", end));
        }
    }
    return out;
}

const std::map<std::string, ArcKind> arc_kinds{{"combinational", ArcKind::combinational},
                                               {"combinational_rise", ArcKind::combinational},
                                               {"combinational_fall", ArcKind::combinational},
                                               {"rising_edge", ArcKind::rising_edge},
                                               {"falling_edge", ArcKind::falling_edge},
                                               {"setup_rising", ArcKind::setup_rising},
                                               {"setup_falling", ArcKind::setup_falling},
                                               {"hold_rising", ArcKind::hold_rising},
                                               {"hold_falling", ArcKind::hold_falling},
                                               {"recovery_rising", ArcKind::recovery_rising},
                                               {"recovery_falling", ArcKind::recovery_falling},
                                               {"removal_rising", ArcKind::removal_rising},
                                               {"removal_falling", ArcKind::removal_falling},
                                               {"clear", ArcKind::clear},
                                               {"preset", ArcKind::preset},
                                               {"three_state_enable", ArcKind::enable},
                                               {"three_state_disable", ArcKind::disable},
                                               {"min_pulse_width", ArcKind::pulse_width}};

constexpr size_t most_notes = 100;
constexpr long long widest_bus =
    4095;  // a memory's bus has some hundred bits; the limit bounds what one line can ask for

class Reader {
public:
    Reader(std::string_view text, const std::string& file) : text_(text), file_(file) {}

    Result<Library> run() {
        auto tree = liberty::parse_groups(text_, file_);
        if (!tree) return tree.messages();
        const auto* root = tree.value().group("library");
        if (!root)
            return Message{Severity::stop, Code::syntax, "There is no library (…) group; this is not a Liberty file.",
                           file_, 1};
        library_.file = file_;
        library_.name = root->arguments.empty() ? "" : root->arguments.front();
        units(*root);
        for (const auto& g : root->groups)
            if (g.kind == "lu_table_template")
                templates_[g.arguments.empty() ? "" : g.arguments.front()] = read_template(g);
            else if (g.kind == "type")
                type(g);
        for (const auto& g : root->groups)
            if (g.kind == "cell") cell(g);
        if (!errors_.empty()) return errors_;
        library_.name_former();
        return Result<Library>(std::move(library_), std::move(notes_));
    }

private:
    void fail(size_t offset, std::string text) {
        if (errors_.size() < 20)
            errors_.push_back({Severity::stop, Code::library, std::move(text), file_, place_of(text_, offset).line});
    }

    void units(const Group& root) {
        static const std::map<std::string, double> in_ns{
            {"1ps", 1e-3}, {"10ps", 1e-2}, {"100ps", 1e-1}, {"1ns", 1.0}, {"1us", 1e3}};
        if (const auto unit = lower(root.get("time_unit")); !unit.empty()) {
            if (const auto at = in_ns.find(unit); at != in_ns.end())
                ns_ = at->second;
            else
                fail(root.find("time_unit")->offset,
                     said("The time unit '{}' is not known; it can be 1ps, 10ps, 100ps or 1ns.", unit));
        }
        if (const auto* a = root.find("capacitive_load_unit"); a && a->values.size() == 2) {
            const auto factor = to_number(a->values[0]);
            const auto unit = lower(a->values[1]);
            if (!factor || (unit != "pf" && unit != "ff"))
                fail(a->offset, "The capacitive_load_unit should be a number and pf or ff.");
            else
                pf_ = *factor * (unit == "ff" ? 1e-3 : 1.0);
        }
    }

    static Template read_template(const Group& g) {
        Template t;
        bool good = true;
        for (const char* n : {"1", "2", "3"}) {
            const auto variable = g.get(std::string("variable_") + n);
            if (variable.empty()) break;
            t.variables.push_back(variable);
            const auto* axis = g.find(std::string("index_") + n);
            t.axes.push_back(axis ? numbers(axis->values, good) : std::vector<double>{});
        }
        return t;
    }

    /// Unit of an axis: transitions are times, capacitances loads.
    double scale(const std::string& variable) const {
        return variable.find("capacitance") != std::string::npos ? pf_ : ns_;
    }

    TimingTable table(const Group& g) {
        TimingTable out;
        bool good = true;
        const auto* values = g.find("values");
        auto raw = values ? numbers(values->values, good) : std::vector<double>{};
        const auto name = g.arguments.empty() ? std::string("scalar") : g.arguments.front();
        Template t;
        if (name != "scalar") {
            const auto at = templates_.find(name);
            if (at == templates_.end()) {
                fail(g.offset, said("The table template '{}' is not defined.", name));
                return out;
            }
            t = at->second;
        }
        for (size_t k = 0; k < t.axes.size(); ++k)
            if (const auto* own = g.find("index_" + std::to_string(k + 1))) t.axes[k] = numbers(own->values, good);
        size_t expected = 1;
        for (const auto& axis : t.axes) expected *= axis.size();
        bool rising = true;
        for (const auto& axis : t.axes)
            rising &= std::adjacent_find(axis.begin(), axis.end(), std::greater_equal<>()) == axis.end();
        if (!good || raw.size() != expected || t.axes.size() > 2 || !rising) {
            fail(g.offset, said("The table {} has {}, its axes ask for {}{}", g.kind, counted(raw.size(), "value"),
                                expected, (rising ? "." : " and must rise.")));
            return out;
        }
        for (auto& v : raw) v *= ns_;
        for (size_t k = 0; k < t.axes.size(); ++k)
            for (auto& v : t.axes[k]) v *= scale(t.variables[k]);
        arrange(t, std::move(raw), out);
        return out;
    }

    /// Puts the axis of the input (or constrained) transition first, whatever the template's order is.
    static void arrange(const Template& t, std::vector<double> raw, TimingTable& out) {
        const auto first = [](const std::string& v) {
            return v == "input_net_transition" || v == "input_transition_time" || v == "constrained_pin_transition";
        };
        if (t.axes.empty()) {
            out.values = std::move(raw);
        } else if (t.axes.size() == 1) {
            (first(t.variables[0]) ? out.first : out.second) = t.axes[0];
            out.values = std::move(raw);
        } else if (first(t.variables[0])) {
            out.first = t.axes[0];
            out.second = t.axes[1];
            out.values = std::move(raw);
        } else {
            out.first = t.axes[1];
            out.second = t.axes[0];
            for (size_t i = 0; i < out.first.size(); ++i)
                for (size_t k = 0; k < out.second.size(); ++k) out.values.push_back(raw[k * out.first.size() + i]);
        }
    }

    BooleanFunction function(const Group& g, std::string_view name) {
        const auto text = g.get(name);
        if (text.empty()) return {};
        auto f = parse_boolean(text);
        if (f) return f.take();
        fail(g.find(name)->offset, f.first().text);
        return {};
    }

    /// clear_preset_var1 and 2: one letter each. Errors: another text.
    void take_both(const Group& g, LibraryCell& c) {
        for (const auto& [name, to] :
             {std::pair("clear_preset_var1", &c.both_state), {"clear_preset_var2", &c.both_state_n}}) {
            const auto text = g.get(name);
            if (text.empty()) continue;
            if (text.size() == 1 && std::string_view("LHNTX").find(text[0]) != std::string_view::npos)
                *to = text[0];
            else
                fail(g.find(name)->offset, said("'{}' is none of L, H, N, T and X.", text));
        }
    }

    void cell(const Group& g) {
        LibraryCell c;
        c.name = g.arguments.empty() ? "" : g.arguments.front();
        c.line = line_at(g.offset);
        c.truth_table_parameter = g.get("truth_table_parameter");
        c.resource = g.get("part_resource");
        c.divide_parameter = g.get("pll_divide_parameter");
        c.multiply_parameter = g.get("pll_multiply_parameter");
        c.initial_value_parameter = g.get("initial_value_parameter");
        c.initial_value = g.get("initial_value");
        for (const auto& sub : g.groups) {
            if (sub.kind == "ff" && sub.arguments.size() >= 2) {
                c.flip_flop = true;
                c.state = sub.arguments[0];
                c.state_n = sub.arguments[1];
                c.clocked_on = function(sub, "clocked_on");
                c.next_state = function(sub, "next_state");
                c.clear = function(sub, "clear");
                c.preset = function(sub, "preset");
                take_both(sub, c);
            } else if (sub.kind == "latch" && sub.arguments.size() >= 2) {
                c.flip_flop = c.latch = true;
                c.state = sub.arguments[0];
                c.state_n = sub.arguments[1];
                c.clocked_on = function(sub, "enable");
                c.next_state = function(sub, "data_in");
                c.clear = function(sub, "clear");
                c.preset = function(sub, "preset");
                take_both(sub, c);
            } else if (sub.kind == "statetable") {
                if (notes_.size() < most_notes)
                    notes_.push_back({Severity::note, Code::skipped,
                                      said("The statetable of cell {} is not read; its delays are.", c.name), file_,
                                      line_at(sub.offset)});
            }
        }
        for (const auto& sub : g.groups)
            if (sub.kind == "type") type(sub);
        pins_.clear();
        c.memory_bits = memory_bits(g);
        for (const auto& sub : g.groups) {
            if (sub.kind == "bus" || sub.kind == "bundle") bus(sub, c);
            if (sub.kind == "pin") pin(sub, nullptr, c);
        }
        for (auto& p : c.pins) {
            p.function = bitwise(std::move(p.function), p.name, c);
            p.three_state = bitwise(std::move(p.three_state), p.name, c);
        }
        for (const auto& [group, at] : pins_)
            for (const auto& timing : group->groups)
                if (timing.kind == "timing") arcs(timing, c, static_cast<std::uint32_t>(at));
        if (!library_.by_name.emplace(c.name, library_.cells.size()).second)
            return fail(g.offset, said("Cell {} is defined twice.", c.name));
        library_.cells.push_back(std::move(c));
    }

    /// type (bus4) { bit_from : 3; bit_to : 0; }
    void type(const Group& g) {
        const auto from = to_integer(g.get("bit_from")), to = to_integer(g.get("bit_to")),
                   width = to_integer(g.get("bit_width"));
        const auto last = from && to ? *to : 0, first = from && to ? *from : width.value_or(1) - 1;
        if (first < 0 || last < 0 || std::max(first, last) > widest_bus)
            return fail(g.offset, said("The type {} should have bit_from and bit_to between 0 and {}.",
                                       (g.arguments.empty() ? std::string() : g.arguments.front()), widest_bus));
        types_[g.arguments.empty() ? "" : g.arguments.front()] = {static_cast<int>(first), static_cast<int>(last)};
    }

    /// Words times their width, by the memory group of a cell.
    static std::int64_t memory_bits(const Group& g) {
        for (const auto& sub : g.groups) {
            if (sub.kind != "memory") continue;
            const auto address = to_integer(sub.get("address_width")), word = to_integer(sub.get("word_width"));
            constexpr std::int64_t most_address = 32, most_word = 4096;  // of one block
            if (address && word && *address >= 0 && *address <= most_address && *word > 0 && *word <= most_word)
                return *word << *address;
        }
        return 0;
    }

    /// memory_read and memory_write groups inside a bus or a pin.
    void memory_ports(const Group& g, const std::string& data, LibraryCell& c) {
        for (const auto& sub : g.groups) {
            if (sub.kind != "memory_read" && sub.kind != "memory_write") continue;
            MemoryPort port{sub.kind == "memory_write", data, sub.get("address"), {}, {}};
            port.clocked_on = function(sub, "clocked_on");
            port.enable = function(sub, "enable");
            if (port.address.empty())
                fail(sub.offset, said("A {} group of cell {} names no address.", sub.kind, c.name));
            c.memory.push_back(std::move(port));
        }
    }

    /// What a bus or bundle says holds for each of its pins, unless a pin group inside says otherwise.
    void bus(const Group& g, LibraryCell& c) {
        for (const auto& name : g.arguments) {
            LibraryCell::Bus b{name, {}};
            if (const auto* members = g.find("members")) {
                b.bits = members->values;
            } else if (const auto range = types_.find(g.get("bus_type")); range != types_.end()) {
                const auto [first, last] = range->second;
                for (int i = first;; i += first < last ? 1 : -1) {
                    b.bits.push_back(name + "[" + std::to_string(i) + "]");
                    if (i == last) break;
                }
            }
            for (const auto& sub : g.groups)
                if (sub.kind == "pin") pin(sub, &g, c);
            if (b.bits.empty())
                for (const auto& sub : g.groups)
                    if (sub.kind == "pin") b.bits.insert(b.bits.end(), sub.arguments.begin(), sub.arguments.end());
            for (const auto& bit : b.bits) {
                if (c.pin(bit) < 0)
                    add_pin(g, nullptr, c, bit);
                else
                    pins_.emplace_back(&g, static_cast<size_t>(c.pin(bit)));  // its timing groups
            }
            if (b.bits.empty())
                fail(
                    g.offset,
                    said(
                        "The bits of {} {} are not known; it needs members, a bus_type that is defined, or pin groups.",
                        g.kind, name));
            c.buses.push_back(std::move(b));
            memory_ports(g, name, c);
        }
    }

    /// pin (A), pin (A, B), and inside a bus pin (A[3:0]).
    void pin(const Group& g, const Group* outer, LibraryCell& c) {
        for (const auto& name : g.arguments) {
            if (!outer) memory_ports(g, name, c);
            const auto open = name.find('['), colon = name.find(':');
            const auto first = open != std::string::npos && colon != std::string::npos
                                   ? to_integer(std::string_view(name).substr(open + 1, colon - open - 1))
                                   : std::nullopt;
            const auto last =
                first ? to_integer(std::string_view(name).substr(colon + 1, name.size() - colon - 2)) : std::nullopt;
            if (!first || !last || *first < 0 || *last < 0 || std::max(*first, *last) > widest_bus) {
                add_pin(g, outer, c, name);
                continue;
            }
            for (auto i = *first;; i += *first < *last ? 1 : -1) {
                add_pin(g, outer, c, name.substr(0, open) + "[" + std::to_string(i) + "]");
                if (i == *last) break;
            }
        }
    }

    /// In a function of a bus, another bus of the same width means its bit at the same place.
    static BooleanFunction bitwise(BooleanFunction f, const std::string& pin, const LibraryCell& c) {
        for (auto& input : f.inputs)
            if (const auto bit = bit_beside(input, pin, c); !bit.empty()) input = bit;
        return f;
    }

    /// The bit of bus `name` at the place that `pin` has in its own bus; empty when there is none.
    static std::string bit_beside(const std::string& name, const std::string& pin, const LibraryCell& c) {
        const auto* other = c.pin(name) < 0 ? c.bus(name) : nullptr;
        if (!other) return {};
        for (const auto& own : c.buses)
            if (const auto at = std::find(own.bits.begin(), own.bits.end(), pin);
                at != own.bits.end() && own.bits.size() == other->bits.size())
                return other->bits[static_cast<size_t>(at - own.bits.begin())];
        return {};
    }

    void add_pin(const Group& g, const Group* outer, LibraryCell& c, const std::string& name) {
        LibraryPin p;
        p.name = name;
        const auto get = [&](const char* key) { return g.find(key) || !outer ? g.get(key) : outer->get(key); };
        const auto direction = get("direction");
        p.direction = direction == "output" ? Direction::out : direction == "inout" ? Direction::inout : Direction::in;
        p.clock = get("clock") == "true";
        p.is_pad = get("is_pad") == "true";
        const auto number = [&](const char* key, double unit, double otherwise) {
            const auto text = get(key);
            const auto v = text.empty() ? std::nullopt : to_number(text);
            if (!text.empty() && !v)
                fail((g.find(key) ? g : *outer).find(key)->offset, std::string(key) + " should be a number.");
            return v ? *v * unit : otherwise;
        };
        p.capacitance = number("capacitance", pf_, 0);
        p.rise_capacitance = number("rise_capacitance", pf_, -1);
        p.fall_capacitance = number("fall_capacitance", pf_, -1);
        p.function = function(g.find("function") || !outer ? g : *outer, "function");
        p.three_state = function(g.find("three_state") || !outer ? g : *outer, "three_state");
        p.min_pulse[0] = number("min_pulse_width_high", ns_, 0);
        p.min_pulse[1] = number("min_pulse_width_low", ns_, 0);
        p.min_period = number("min_period", ns_, number("minimum_period", ns_, 0));
        p.divide_parameter = g.get("pll_divide_parameter");
        if (c.pin(name) >= 0) return fail(g.offset, said("Pin {} of cell {} is there twice.", name, c.name));
        pins_.emplace_back(&g, c.pins.size());
        c.pins.push_back(std::move(p));
    }

    void arcs(const Group& g, LibraryCell& c, std::uint32_t to) {
        LibraryArc arc;
        arc.to = to;
        const auto type = g.get("timing_type");
        const auto kind = type.empty() ? arc_kinds.find("combinational") : arc_kinds.find(type);
        if (kind == arc_kinds.end()) return;  // skew, non-sequential and the like are not timed
        arc.kind = kind->second;
        const auto sense = g.get("timing_sense");
        arc.sense = sense == "positive_unate"   ? Sense::positive
                    : sense == "negative_unate" ? Sense::negative
                    : sense == "non_unate"      ? Sense::non_unate
                                                : Sense::unknown;
        arc.when = g.get("when");
        arc.sdf_cond = g.get("sdf_cond");
        static const std::array<const char*, 2> delays{"cell_rise", "cell_fall"},
            transitions{"rise_transition", "fall_transition"}, constraints{"rise_constraint", "fall_constraint"};
        for (size_t e = 0; e < 2; ++e) {
            if (const auto* t = g.group(delays[e])) arc.delay[e] = table(*t);
            if (const auto* t = g.group(transitions[e])) arc.transition[e] = table(*t);
            if (const auto* t = g.group(constraints[e])) arc.constraint[e] = table(*t);
        }
        if (type == "combinational_rise") arc.delay[1] = {};
        if (type == "combinational_fall") arc.delay[0] = {};
        std::string related = g.get("related_pin");
        const auto buses = g.get("related_bus_pins");
        if (related.empty() && buses.empty()) related = c.pins[to].name;
        for (const auto name : split(related, ' ')) {
            if (name.empty()) continue;
            const auto beside = bit_beside(std::string(name), c.pins[to].name, c);
            from(g, c, arc, beside.empty() ? std::string(name) : beside);
        }
        for (const auto name : split(buses, ' '))
            if (!name.empty()) from(g, c, arc, std::string(name));
    }

    /// An arc from a pin, or one from each pin of a bus.
    void from(const Group& g, LibraryCell& c, LibraryArc arc, const std::string& name) {
        const auto* bits = c.pin(name) < 0 ? c.bus(name) : nullptr;
        for (const auto& bit : bits ? bits->bits : std::vector<std::string>{name}) {
            const int at = c.pin(bit);
            if (at < 0) return fail(g.offset, said("The related pin '{}' is not a pin of cell {}.", bit, c.name));
            arc.from = static_cast<std::uint32_t>(at);
            c.arcs.push_back(arc);
        }
    }

    std::string_view text_;
    std::string file_;
    double ns_ = 1, pf_ = 1;
    /// Offsets mostly rise, so lines are counted on from the last one.
    int line_at(size_t offset) {
        if (offset < counted_) {
            counted_ = 0;
            line_ = 1;
        }
        line_ += static_cast<int>(std::count(text_.begin() + static_cast<long>(counted_),
                                             text_.begin() + static_cast<long>(std::min(offset, text_.size())), '\n'));
        counted_ = std::min(offset, text_.size());
        return line_;
    }
    size_t counted_ = 0;
    int line_ = 1;
    std::map<std::string, Template> templates_;
    std::map<std::string, std::pair<int, int>> types_;  ///< of buses: first and last bit
    std::vector<std::pair<const Group*, size_t>>
        pins_;  ///< of the cell at hand: a group and the position of a pin it speaks of
    Library library_;
    std::vector<Message> errors_, notes_;
};

}  // namespace

Result<Library> read_liberty(std::string_view text, const std::string& file) {
    return Reader(without_mark(text), file).run();
}

}  // namespace kp
