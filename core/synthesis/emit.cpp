// SPDX-License-Identifier: GPL-3.0-or-later
// Each node gets the net that its users need: the value, its opposite, or both. Look-ups take inversions into their
// tables, so only pins of other cells ask for an opposite. Linear in the cells.
#include "core/synthesis/emit.hpp"

#include "core/hdl/verilog/write_netlist.hpp"
#include "core/hdl/verilog/scan.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <set>

namespace kp::synthesis {

namespace {

std::string table_text(std::uint16_t table, size_t inputs) {
    const auto bits = size_t{1} << inputs;
    const auto mask = bits == 16 ? 0xFFFFU : (1U << bits) - 1;
    static const char* digits = "0123456789abcdef";
    std::string hex;
    const unsigned value = table & mask;
    for (auto k = (bits + 3) / 4; k-- > 0;) hex += digits[(value >> (4 * k)) & 15U];
    return std::to_string(bits) + "'h" + hex;
}

class Emitter {
public:
    Emitter(Mapping& m, const Cover& cover, const CellSet& cells) : m_(m), cover_(cover), cells_(cells) {
        for (const auto& p : m.ports) {
            taken_.insert(p.name);
            taken_.insert(p.bus);
        }
        taken_.insert(m.top);
        for (const auto l : wanted_of(m)) (inverted(l) ? minus_ : plus_).insert(node_of(l));
        for (const auto& [node, look] : cover.at)
            for (const auto in : look.inputs) used_.insert(in);
        used_.insert(plus_.begin(), plus_.end());
        used_.insert(minus_.begin(), minus_.end());
        find_homes();
    }

    Result<std::string> run() {
        inputs();
        for (std::uint32_t i = 0; i < m_.boxes.size(); ++i) box_nets(m_.boxes[i]);
        for (auto& r : m_.registers) nets_[node_of(r.q)] = wire(name_or(node_of(r.q), r.name));
        size_t chain = 0;
        for (const auto& c : m_.carries) {
            nets_[node_of(c.sum)] = wire(name_or(node_of(c.sum), "sum_" + std::to_string(chain)));
            nets_[node_of(c.carry_out)] = wire("carry_" + std::to_string(chain++));
        }
        look_ups();
        for (auto& r : m_.registers) register_cell(r);
        for (size_t i = 0; i < m_.carries.size(); ++i) carry_cell(m_.carries[i], i);
        for (auto& b : m_.boxes) box_cell(b);
        outputs();
        if (error_) return *error_;
        return text();
    }

private:
    static std::string module_of(const std::string& name) {
        const auto dot = name.rfind('.');
        return dot == std::string::npos ? std::string() : name.substr(0, dot + 1);
    }
    [[nodiscard]] std::string home(std::uint32_t node) const {
        if (const auto at = m_.names.find(node); at != m_.names.end()) return module_of(at->second);
        const auto at = homes_.find(node);
        return at == homes_.end() ? std::string() : at->second;
    }

    /// Logic without a name belongs where what it feeds does: users are looked at before what they use.
    void find_homes() {
        const auto feeds = [this](Lit of, const std::string& module) { homes_.try_emplace(node_of(of), module); };
        for (const auto& r : m_.registers)
            for (const auto l : {r.data, r.enable, r.clear, r.preset}) feeds(l, module_of(r.name));
        for (const auto& b : m_.boxes)
            for (const auto& [pin, lit] : b.inputs) feeds(lit, module_of(b.name));
        std::vector<std::uint32_t> order;
        for (const auto& [node, look] : cover_.at) order.push_back(node);
        std::sort(order.rbegin(), order.rend());
        for (int round = 0; round < 2; ++round) {  // sums feed look-ups, and look-ups sums
            for (auto c = m_.carries.rbegin(); c != m_.carries.rend(); ++c) {
                auto module = home(node_of(c->sum));
                if (module.empty()) module = home(node_of(c->carry_out));
                for (const auto l : {c->a, c->b, c->carry_in}) feeds(l, module);
            }
            for (const auto n : order)
                for (const auto in : cover_.at.at(n).inputs) feeds(in * 2, home(n));
        }
    }

    /// Plain names only, so that nothing that reads the netlist or its delays has to know of escapes: "u[1].q" is
    /// "u_1__q".
    static std::string plain_name(const std::string& name) {
        std::string out;
        for (const char c : name) {
            if (c == '.')
                out += "__";
            else if (verilog::Scanner::is_in_name(c) && c != '$')
                out += c;
            else if (c != ']')
                out += '_';
        }
        if (out.empty() || !verilog::Scanner::begins_name(out[0])) out.insert(0, "n");
        return out;
    }

    std::string unique(std::string name) {
        name = plain_name(name);
        if (taken_.insert(name).second) return name;
        auto& count = again_[name];
        for (;;) {
            auto other = name + "_" + std::to_string(++count);
            if (taken_.insert(other).second) return other;
        }
    }
    std::string wire(const std::string& name) {
        wires_.push_back(unique(name));
        return verilog::written_name(wires_.back());
    }
    std::string name_or(std::uint32_t node, const std::string& otherwise) const {
        const auto at = m_.names.find(node);
        return at == m_.names.end() ? otherwise : at->second;
    }

    using Pins = std::vector<std::pair<std::string, std::string>>;
    void add(const LibraryCell& cell, const std::string& name, const Pins& pins, const std::string& parameters = "") {
        std::string line = said("  {}{} {} (", cell.name, (parameters.empty() ? "" : " #(" + parameters + ")"),
                                verilog::written_name(unique(name)));
        for (size_t i = 0; i < pins.size(); ++i) line += (i ? ", ." : ".") + pins[i].first + "(" + pins[i].second + ")";
        cells_text_ += line + ");\n";
    }

    /// The net with the value of a literal.
    std::string net(Lit of) {
        if (of == no_lit) return "";
        if (is_constant(of)) return of == one ? "1'b1" : "1'b0";
        auto& nets = inverted(of) ? opposite_ : nets_;
        if (const auto at = nets.find(node_of(of)); at != nets.end()) return at->second;
        // Only sources lack an opposite: look-ups made theirs.
        const auto from = nets_.at(node_of(of));
        const auto out = wire(name_or(node_of(of), "n") + "_not");
        const auto& cell = *cells_.look[1];
        add(cell, "look_" + std::to_string(serial_++), {{input_pin(cell, 0), from}, {output_pin(cell), out}},
            "." + cell.truth_table_parameter + "(2'h1)");
        opposite_[node_of(of)] = out;
        return out;
    }

    static std::string input_pin(const LibraryCell& cell, size_t which) {
        for (const auto& pin : cell.pins)
            if (pin.direction == Direction::in && which-- == 0) return pin.name;
        return {};
    }
    static std::string output_pin(const LibraryCell& cell) {
        for (const auto& pin : cell.pins)
            if (pin.direction != Direction::in) return pin.name;
        return {};
    }

    void look_ups() {
        std::vector<std::uint32_t> order;
        for (const auto& [node, look] : cover_.at) order.push_back(node);
        std::sort(order.begin(), order.end());
        for (const auto n : order) {
            const auto stem = name_or(n, home(n) + "n" + std::to_string(n));
            const bool opposite = minus_.count(n) > 0, value = plus_.count(n) > 0 || !opposite;
            if (value) nets_[n] = wire(stem);
            if (opposite) opposite_[n] = wire(value ? stem + "_not" : stem + "_n");
        }
        for (const auto n : order) {
            if (const auto at = nets_.find(n); at != nets_.end()) look_up(n, at->second, false);
            if (const auto at = opposite_.find(n); at != opposite_.end()) look_up(n, at->second, true);
        }
    }

    void look_up(std::uint32_t node, const std::string& out, bool turned) {
        const auto& look = cover_.at.at(node);
        std::uint16_t table = look.table;
        const auto n = std::max<size_t>(1, look.inputs.size());
        Pins pins;
        const auto& cell = *cells_.look[n];
        for (size_t i = 0; i < look.inputs.size(); ++i) {
            const auto at = nets_.find(look.inputs[i]);
            if (at != nets_.end()) {
                pins.emplace_back(input_pin(cell, i), at->second);
                continue;
            }
            pins.emplace_back(input_pin(cell, i), opposite_.at(look.inputs[i]));
            std::uint16_t other = 0;
            for (unsigned v = 0; v < 16; ++v)
                other |= static_cast<std::uint16_t>(((table >> (v ^ (1U << i))) & 1U) << v);
            table = other;
        }
        if (look.inputs.empty()) pins.emplace_back(input_pin(cell, 0), "1'b0");
        if (turned) table = static_cast<std::uint16_t>(~table);
        pins.emplace_back(output_pin(cell), out);
        add(cell, home(node) + "look_" + std::to_string(serial_++), pins,
            "." + cell.truth_table_parameter + "(" + table_text(table, n) + ")");
    }

    /// The clock net behind a root, which is put in where the source has none.
    std::string clock(Lit of) {
        const auto n = node_of(of);
        if (is_constant(of)) return net(of);
        if (roots_from_source_.count(n)) return nets_.at(n);
        const auto at = roots_.find(n);
        if (at != roots_.end()) return at->second;
        const auto stem = name_or(n, "clock");
        const auto out = wire(stem + "_clk");
        add(*cells_.clock_root, "root_" + stem, {{cells_.root_in, net(n * 2)}, {cells_.root_out, out}});
        return roots_[n] = out;
    }

    void register_cell(const RegisterBit& r) {
        const RegisterKind kind{r.enable != one, r.clear != zero, r.preset != zero, !r.latch && inverted(r.clock)};
        const auto* pins =
            r.latch ? (cells_.latch.cell && r.clear == zero ? &cells_.latch : nullptr) : cells_.register_of(kind);
        if (!pins)
            return fail(said("The library has no {} as {} needs it{}{}{}{}.", r.latch ? "latch" : "register", r.name,
                             (kind.enable ? ", with enable" : ""), (kind.clear ? ", with clear" : ""),
                             (kind.preset ? ", with preset" : ""), (kind.falling ? ", at the falling edge" : "")));
        Pins out{{pins->data, net(r.data)}};
        if (kind.enable) out.emplace_back(pins->enable, net(r.enable));
        if (kind.clear) out.emplace_back(pins->clear, net(r.clear));
        if (kind.preset) out.emplace_back(pins->preset, net(r.preset));
        out.emplace_back(pins->clock, r.latch ? net(r.clock) : clock(r.clock));
        out.emplace_back(pins->output, nets_.at(node_of(r.q)));
        std::string parameter;
        const auto& cell = *pins->cell;
        if (r.initial != 'x') {
            if (!cell.initial_value_parameter.empty())
                parameter = "." + cell.initial_value_parameter + "(1'b" + std::string(1, r.initial) + ")";
            else if (cell.initial_value != std::string(1, r.initial))
                return fail(said("The register {} begins at {}, which the cell {} cannot.", r.name,
                                 std::string(1, r.initial), cell.name));
        }
        add(cell, r.name, out, parameter);
    }

    void carry_cell(const CarryBit& c, size_t serial) {
        auto a = c.a, b = c.b;
        const auto turned = [](Lit l) { return inverted(l) && !is_constant(l); };
        if (turned(a) && !turned(b)) std::swap(a, b);
        const bool other = turned(b) && !turned(a) && cells_.carry_inverted.cell;
        const auto& pins = other ? cells_.carry_inverted : cells_.carry;
        Pins out{{pins.a, net(a)}, {pins.b, net(other ? invert(b) : b)}, {pins.carry_in, net(c.carry_in)}};
        if (used_.count(node_of(c.sum))) out.emplace_back(pins.sum, nets_.at(node_of(c.sum)));
        if (used_.count(node_of(c.carry_out))) out.emplace_back(pins.carry_out, nets_.at(node_of(c.carry_out)));
        auto module = home(node_of(c.sum));
        if (module.empty()) module = home(node_of(c.carry_out));
        add(*pins.cell, module + "add_" + std::to_string(serial), out);
    }

    void box_nets(const Box& b) {
        for (const auto& [pin, lit] : b.outputs) {
            nets_[node_of(lit)] = wire(name_or(node_of(lit), b.name + "_" + pin));
            if (b.cell->resource == "clock_network") roots_from_source_.insert(node_of(lit));
        }
    }

    std::string box_pin(const Box& b, const LibraryPin& pin) {
        if (const auto at = b.pads.find(pin.name); at != b.pads.end()) return port_text(m_.ports[at->second]);
        if (const auto at = b.outputs.find(pin.name); at != b.outputs.end()) return nets_.at(node_of(at->second));
        if (const auto at = b.inputs.find(pin.name); at != b.inputs.end())
            return pin.clock && !b.wanted ? clock(at->second) : net(at->second);
        return "";
    }

    void box_cell(const Box& b) {
        Pins pins;
        std::set<std::string> in_bus;
        for (const auto& bus : b.cell->buses) {
            std::string joined;
            bool any = false;
            for (const auto& bit : bus.bits) {
                in_bus.insert(bit);
                const auto& pin = b.cell->pins[static_cast<size_t>(b.cell->pin(bit))];
                auto n = box_pin(b, pin);
                any |= !n.empty();
                if (n.empty()) n = pin.direction == Direction::in ? "1'b0" : wire(b.name + "_open");
                joined += (joined.empty() ? "" : ", ") + n;
            }
            if (any) pins.emplace_back(bus.name, "{" + joined + "}");
        }
        for (const auto& pin : b.cell->pins) {
            if (in_bus.count(pin.name)) continue;
            if (const auto n = box_pin(b, pin); !n.empty()) pins.emplace_back(pin.name, n);
        }
        std::string parameters;
        for (const auto& [name, value] : b.parameters)
            parameters += (parameters.empty() ? "." : ", .") + name + "(" + value + ")";
        add(*b.cell, b.name, pins, parameters);
    }

    static std::string port_text(const PortBit& p) {
        return p.index < 0 ? verilog::written_name(p.bus)
                           : verilog::written_name(p.bus) + "[" + std::to_string(p.index) + "]";
    }
    static std::string stem(const PortBit& p) { return p.index < 0 ? p.bus : p.bus + "_" + std::to_string(p.index); }

    /// The other half of a differential pair, by the ending of its name; null when there is none.
    PortBit* partner(const PortBit& p) {
        if (p.bus.size() < 3 || !p.bus.ends_with("_p")) return nullptr;
        const auto other =
            p.bus.substr(0, p.bus.size() - 1) + "n" + (p.index < 0 ? "" : "[" + std::to_string(p.index) + "]");
        for (auto& q : m_.ports)
            if (q.name == other) return &q;
        return nullptr;
    }
    static std::string pad_pin(const LibraryCell& cell, bool complement) {
        for (const auto& pin : cell.pins)
            if (pin.is_pad && !std::exchange(complement, false)) return pin.name;
        return {};
    }
    static std::string inner_pin(const LibraryCell& cell) {
        for (const auto& pin : cell.pins)
            if (!pin.is_pad) return pin.name;
        return {};
    }

    void inputs() {
        for (auto& p : m_.ports)
            if (auto* n = partner(p); n && cells_.pair_in && p.direction == Direction::in &&
                                      n->direction == Direction::in && !p.boxed && !n->boxed &&
                                      !used_.count(node_of(n->inside))) {
                const auto out = wire(stem(p) + "_in");
                nets_[node_of(p.inside)] = out;
                add(*cells_.pair_in, "pad_" + stem(p),
                    {{pad_pin(*cells_.pair_in, false), port_text(p)},
                     {pad_pin(*cells_.pair_in, true), port_text(*n)},
                     {inner_pin(*cells_.pair_in), out}});
                n->boxed = true;
                p.boxed = true;
            }
        for (const auto& p : m_.ports) {
            if (p.inside == no_lit || p.boxed) continue;
            const auto out = wire(stem(p) + "_in");
            nets_[node_of(p.inside)] = out;
            if (p.direction == Direction::in || p.value == no_lit)
                add(*cells_.pad_in.cell, "pad_" + stem(p),
                    {{cells_.pad_in.pad, port_text(p)}, {cells_.pad_in.out, out}});
        }
    }

    void outputs() {
        for (auto& p : m_.ports)
            if (auto* n = partner(p); n && cells_.pair_out && p.direction == Direction::out &&
                                      n->direction == Direction::out && !p.boxed && !n->boxed && p.value != no_lit &&
                                      n->value == invert(p.value) && p.enable == one && n->enable == one) {
                add(*cells_.pair_out, "pad_" + stem(p),
                    {{pad_pin(*cells_.pair_out, false), port_text(p)},
                     {pad_pin(*cells_.pair_out, true), port_text(*n)},
                     {inner_pin(*cells_.pair_out), net(p.value)}});
                p.boxed = n->boxed = true;
            }
        for (const auto& p : m_.ports) {
            if (p.boxed || p.direction == Direction::in) continue;
            if (p.value == no_lit) {
                if (p.direction == Direction::out)
                    m_.messages.push_back({Severity::caution, Code::never_driven,
                                           said("Nothing drives the output {}; its pad is left out.", p.name)});
                continue;
            }
            if (p.direction == Direction::out && p.enable == one) {
                add(*cells_.pad_out.cell, "pad_" + stem(p),
                    {{cells_.pad_out.in, net(p.value)}, {cells_.pad_out.pad, port_text(p)}});
                continue;
            }
            if (!cells_.pad_two.cell)
                return fail(said("The library has no pad that can be switched off, as {} needs it.", p.name));
            Pins pins{{cells_.pad_two.in, net(p.value)},
                      {cells_.pad_two.enable, net(p.enable)},
                      {cells_.pad_two.pad, port_text(p)}};
            if (p.inside != no_lit && used_.count(node_of(p.inside)))
                pins.emplace_back(cells_.pad_two.out, nets_.at(node_of(p.inside)));
            add(*cells_.pad_two.cell, "pad_" + stem(p), pins);
        }
    }

    std::string text() const {
        std::string head, ports;
        for (size_t i = 0; i < m_.ports.size();) {
            const auto& first = m_.ports[i];
            size_t k = i;
            while (k < m_.ports.size() && m_.ports[k].bus == first.bus) ++k;
            head += (head.empty() ? "" : ", ") + verilog::written_name(first.bus);
            ports += std::string("  ") + (first.direction == Direction::in    ? "input"
                                          : first.direction == Direction::out ? "output"
                                                                              : "inout");
            if (first.index >= 0) ports += said(" [{}:{}]", m_.ports[k - 1].index, first.index);
            ports += said(" {};\n", verilog::written_name(first.bus));
            i = k;
        }
        std::string out = said("// Made by the stand-in builder of Kite Peg, for made-up parts.\nmodule {} ({});\n{}\n",
                               verilog::written_name(m_.top), head, ports);
        for (const auto& w : wires_) out += said("  wire {};\n", verilog::written_name(w));
        return out + "\n" + cells_text_ + "endmodule\n";
    }

    void fail(std::string why) {
        if (!error_) error_ = Message{Severity::stop, Code::library, std::move(why)};
    }

    Mapping& m_;
    const Cover& cover_;
    const CellSet& cells_;
    std::set<std::string> taken_;
    std::map<std::string, int> again_;
    std::set<std::uint32_t> plus_, minus_, used_, roots_from_source_;
    std::unordered_map<std::uint32_t, std::string> nets_, opposite_;
    std::unordered_map<std::uint32_t, std::string> homes_;  ///< module of nodes without a name
    std::map<std::uint32_t, std::string> roots_;
    std::vector<std::string> wires_;
    std::string cells_text_;
    std::optional<Message> error_;
    int serial_ = 0;
};

}  // namespace

Result<std::string> emit(Mapping& m, const Cover& cover, const CellSet& cells) {
    return Emitter(m, cover, cells).run();
}

std::vector<Lit> wanted_of(const Mapping& m) {
    std::vector<Lit> out;
    for (const auto& p : m.ports)
        if (!p.boxed && p.value != no_lit) {
            out.push_back(p.value);
            if (p.enable != one) out.push_back(p.enable);
        }
    for (const auto& r : m.registers) {
        out.push_back(r.data);
        for (const auto l : {r.enable, r.clear, r.preset})
            if (!is_constant(l)) out.push_back(l);
        out.push_back(r.latch ? r.clock : r.clock & ~1U);
    }
    // A carry cell takes one input turned over, so that one asks for the plain value.
    for (const auto& c : m.carries) {
        const bool a = inverted(c.a) && !is_constant(c.a), b = inverted(c.b) && !is_constant(c.b);
        out.push_back(a && !b ? invert(c.a) : c.a);
        out.push_back(b && !a ? invert(c.b) : c.b);
        out.push_back(c.carry_in);
    }
    for (const auto& b : m.boxes)
        for (const auto& [pin, lit] : b.inputs) out.push_back(lit);
    return out;
}

}  // namespace kp::synthesis
