// SPDX-License-Identifier: GPL-3.0-or-later
// What stands in a module and works: assignments, processes, instances of modules and of library cells. Outputs of an
// instance are the wires they are connected to, so two drivers meet wherever they come from.
#include "core/synthesis/elaborator.hpp"
#include "core/base/text.hpp"
#include "core/hdl/source/lex.hpp"
#include "core/base/said.hpp"

#include <algorithm>

namespace kp::synthesis {

void Elaborator::work(const Item& item, Scope& scope) {
    switch (item.kind) {
        case Item::declare:
            for (const auto& d : item.declarations) {
                if (d.initial.empty() || d.kind == Declaration::parameter || d.kind == Declaration::local_parameter)
                    continue;
                auto* s = lookup(d.name, scope, d.place);
                if (!s || s->kind != Symbol::signal || bad()) return;
                if (d.kind != Declaration::net) continue;  // its first value: see first_values
                const auto v = assigned(d.initial[0], s->of->width(), scope);
                for (size_t i = 0; i < v.bits.size() && !bad(); ++i)
                    drive(s->of->bits[i], v.bits[i], v.drive.empty() ? one : v.drive[i], d.place);
            }
            return;
        case Item::assign:
            for (size_t k = 0; k + 1 < item.exprs.size() && !bad(); k += 2) {
                const auto wires = wires_of(item.exprs[k], scope);
                if (bad()) return;
                if (!wires) return fail(item.place, "What an assign sets has to be a fixed part of a signal.");
                const auto v = assigned(item.exprs[k + 1], static_cast<int>(wires->size()), scope);
                for (size_t i = 0; i < wires->size() && !bad(); ++i)
                    drive((*wires)[i], v.bits[i], v.drive.empty() ? one : v.drive[i], item.exprs[k].place);
            }
            return;
        case Item::always: return always(item, scope);
        case Item::instance: return instance(item, scope);
        default: return;
    }
}

/// reg q = 1'b0; and output reg q = 1'b0;
void Elaborator::first_values(const std::vector<Declaration>& declarations, Scope& scope) {
    for (const auto& d : declarations) {
        const bool port = d.direction == Declaration::out && d.kind == Declaration::variable;
        if (d.initial.empty() || (d.kind != Declaration::variable && !port) ||
            (d.direction != Declaration::none && !port))
            continue;
        auto* s = lookup(d.name, scope, d.place);
        if (!s || s->kind != Symbol::signal || bad()) return;
        if (s->of->words > 0)
            return fail(d.place, "An array gets its first values in an initial block.", Code::cannot_build);
        const auto v = assigned(d.initial[0], s->of->width(), scope);
        s->of->initial.resize(s->of->size(), 'x');
        for (size_t i = 0; i < v.bits.size() && !bad(); ++i) {
            if (!is_constant(v.bits[i]))
                return fail(d.place, said("The value '{}' begins with has to be a constant.", d.name));
            if (v.odd.empty() || v.odd[i] == '0') s->of->initial[i] = v.bits[i] == one ? '1' : '0';
        }
    }
}

/// The wires a fixed part of signals stands for, lowest first; nothing when it is something else.
std::optional<Bits> Elaborator::wires_of(const Expr& e, Scope& scope) {
    Bits out;
    if (e.kind == Expr::concat) {
        for (auto arg = e.args.rbegin(); arg != e.args.rend(); ++arg) {
            const auto part = wires_of(*arg, scope);
            if (!part) return std::nullopt;
            out.insert(out.end(), part->begin(), part->end());
        }
        return out;
    }
    if (e.kind != Expr::name && e.kind != Expr::index && e.kind != Expr::part && e.kind != Expr::part_up &&
        e.kind != Expr::part_down)
        return std::nullopt;
    const auto s = select(e, scope);
    if (!s || !s->of || s->of->memory >= 0 || s->from || s->of->bits.empty()) return std::nullopt;
    const auto width = static_cast<long long>(s->of->width());
    long long word = 0;
    if (s->of->words > 0) {
        const auto n = s->word ? number_in(*s->word) : std::nullopt;
        if (!n || *n < s->of->first_word || *n >= s->of->first_word + s->of->words) return std::nullopt;
        word = *n - s->of->first_word;
    }
    const auto low = s->whole ? 0 : s->low;
    for (long long i = 0; i < (s->whole ? width : s->width); ++i) {
        if (low + i < 0 || low + i >= width) {
            fail(e.place, said("This part lies outside of '{}'.", s->of->name));
            return std::nullopt;
        }
        out.push_back(s->of->bits[static_cast<size_t>(word * width + low + i)]);
    }
    return out;
}

Elaborator::Connected Elaborator::connections(const Item& item, const std::vector<std::string>& names, Scope& scope) {
    Connected out;
    size_t by_order = 0;
    for (const auto& c : item.connections) {
        auto name = c.name;
        if (name.empty()) {
            if (by_order >= names.size()) {
                fail(c.place, said("The instance {} has more connections than '{}' has ports.", item.name, item.word));
                return out;
            }
            name = names[by_order++];
        }
        if (std::find(names.begin(), names.end(), name) == names.end()) {
            fail(c.place, said("'{}' has no port '{}'.", item.word, name), Code::port);
            return out;
        }
        std::optional<Expr> value;
        if (c.by_name) {
            value.emplace();
            value->kind = Expr::name;
            value->word = name;
            value->place = c.place;
        } else if (!c.value.empty()) {
            value = c.value[0];
        }
        if (!out.emplace(name, std::move(value)).second) {
            fail(c.place, said("The port '{}' of {} is connected twice.", name, item.name));
            return out;
        }
    }
    if (item.all_wildcard)
        for (const auto& name : names)
            if (!out.count(name)) {
                Expr e;
                e.kind = Expr::name;
                e.word = name;
                e.place = item.place;
                if (lookup(name, scope, item.place)) out.emplace(name, e);
            }
    return out;
}

/// Wires inside that follow what is connected outside.
Bits Elaborator::port_in(const std::string& name, int width, const Expr& e, Scope& scope) {
    Bits out;
    const bool fill = e.kind == Expr::number && e.value.fill;
    const auto w = width_of(e, scope);
    if (bad()) return out;
    if (!fill && w.bits != width) {
        fail(e.place,
             said("The port '{}' has {}, what is connected has {}. Take a part of it, or join bits to it.", name,
                  counted(width, "bit"), w.bits),
             Code::width);
        return out;
    }
    const auto v = value(e, {width, w.is_signed}, scope);
    if (bad()) return out;
    for (const auto bit : v.bits) {
        out.push_back(g_.wire());
        g_.drive(out.back(), bit);
        driven_.emplace(node_of(out.back()), e.place);
    }
    return out;
}

Bits Elaborator::port_out(const std::string& name, int width, const Expr& e, Scope& scope) {
    auto wires = wires_of(e, scope);
    if (bad()) return {};
    if (!wires) {
        fail(e.place, said("The output '{}' has to be connected to a signal or a fixed part of one.", name));
        return {};
    }
    if (static_cast<int>(wires->size()) != width) {
        fail(e.place,
             said("The port '{}' has {}, what is connected has {}. Take a part of it, or join bits to it.", name,
                  counted(width, "bit"), wires->size()),
             Code::width);
        return {};
    }
    return *wires;
}

void Elaborator::instance(const Item& item, Scope& scope) {
    const auto at = code_.modules.find(item.word);
    if (at == code_.modules.end()) {
        if (const auto* cell = library_.cell(item.word)) return box(item, *cell, scope);
        return fail(
            item.place,
            said("There is no module '{}' in the sources, and no such cell in the library; add its file.", item.word),
            Code::undeclared);
    }
    const auto& m = at->second;
    std::map<std::string, Value> parameters;
    std::vector<std::string> names;
    for (const auto& d : m.parameters)
        if (d.kind == Declaration::parameter) names.push_back(d.name);
    for (const auto& i : m.items)
        if (i.kind == Item::declare && m.parameters.empty())
            for (const auto& d : i.declarations)
                if (d.kind == Declaration::parameter) names.push_back(d.name);
    for (size_t k = 0; k < item.parameters.size() && !bad(); ++k) {
        const auto& c = item.parameters[k];
        const auto name = !c.name.empty() ? c.name : k < names.size() ? names[k] : std::string();
        if (std::find(names.begin(), names.end(), name) == names.end())
            return fail(c.place,
                        said("'{}' has no parameter '{}'.", item.word, (name.empty() ? std::to_string(k + 1) : name)));
        if (!c.value.empty()) parameters[name] = self(c.value[0], scope);
    }
    const auto connected = connections(item, m.port_order, scope);
    if (bad()) return;
    auto* inner = child(scope, item.name, true);
    const Binder bind = [&](const Declaration& port, const Shape& shape) {
        const auto c = connected.find(port.name);
        const bool open = c == connected.end() || !c->second;
        Bits bits;
        if (open) {
            for (int i = 0; i < shape.width(); ++i) bits.push_back(g_.wire());
            if (port.direction == Declaration::in && !port.initial.empty())
                bits = assigned(port.initial[0], shape.width(), *inner).bits;
            return bits;
        }
        return port.direction == Declaration::in ? port_in(port.name, shape.width(), *c->second, scope)
                                                 : port_out(port.name, shape.width(), *c->second, scope);
    };
    module(m, *inner, parameters, bind);
}

/// The port of the top that a wire is, or follows.
std::optional<std::uint32_t> Elaborator::top_port_of(Lit wire) const {
    for (int step = 0; step < 1000; ++step) {
        if (const auto at = pad_of_.find(node_of(wire)); at != pad_of_.end()) return at->second;
        const auto& node = g_.node(node_of(wire));
        if (inverted(wire) || node.kind != Gates::place || node.a == no_lit) return std::nullopt;
        wire = node.a;
    }
    return std::nullopt;
}

void Elaborator::box_pin(Box& box, const LibraryPin& pin, Lit outer, SourcePlace place) {
    if (pin.is_pad) {
        const auto port = top_port_of(outer);
        if (!port)
            return fail(place, said("The pin {} of {} is a pad; connect a port of the top to it.", pin.name, box.name));
        auto& p = m_.ports[*port];
        if (p.boxed) return fail(place, said("The port {} has two pads.", p.name));
        p.boxed = true;
        box.pads[pin.name] = *port;
        if (pin.direction != Direction::in && !driven_.emplace(node_of(outer), place).second)
            find(place, Severity::stop, Code::two_drivers, name_of(outer) + " has two drivers. Keep one of them.");
        return;
    }
    if (pin.direction == Direction::in) {
        box.inputs[pin.name] = outer;
        return;
    }
    const auto out = g_.source();
    box.outputs[pin.name] = out;
    drive(outer, out, one, place);
}

void Elaborator::box_pins(Box& box, const LibraryCell& cell, const std::string& name, const Expr& e, Scope& scope) {
    const auto* bus = cell.bus(name);
    std::vector<std::string> pins = bus ? bus->bits : std::vector<std::string>{name};
    std::reverse(pins.begin(), pins.end());  // lowest first, as values are
    const auto& first = cell.pins[static_cast<size_t>(cell.pin(pins[0]))];
    const auto width = static_cast<int>(pins.size());
    auto outer = first.direction == Direction::in && !first.is_pad ? port_in(name, width, e, scope)
                 : first.direction == Direction::in                ? wires_of(e, scope).value_or(Bits())
                                                                   : port_out(name, width, e, scope);
    if (bad()) return;
    if (outer.size() != pins.size())
        return fail(e.place,
                    said("The pin {} of {} has {}, what is connected has not.", name, box.name, counted(width, "bit")),
                    Code::width);
    for (size_t i = 0; i < pins.size() && !bad(); ++i)
        box_pin(box, cell.pins[static_cast<size_t>(cell.pin(pins[i]))], outer[i], e.place);
}

void Elaborator::box(const Item& item, const LibraryCell& cell, Scope& scope) {
    Box out;
    out.cell = &cell;
    out.name = scope.path + item.name;
    std::vector<std::string> names;
    for (const auto& bus : cell.buses) names.push_back(bus.name);
    for (const auto& pin : cell.pins) {
        const bool in_bus = std::any_of(cell.buses.begin(), cell.buses.end(), [&](const auto& b) {
            return std::find(b.bits.begin(), b.bits.end(), pin.name) != b.bits.end();
        });
        if (!in_bus) names.push_back(pin.name);
    }
    for (const auto& c : item.parameters) {
        if (c.value.empty()) continue;
        const auto v = self(c.value[0], scope);
        if (bad()) return;
        std::string digits;
        for (auto bit = v.bits.rbegin(); bit != v.bits.rend(); ++bit) {
            if (!is_constant(*bit)) return fail(c.place, "A parameter of a cell has to be a constant.");
            digits += *bit == one ? '1' : '0';
        }
        const auto n = number_in(v);
        const bool plain = n && c.value[0].kind == Expr::number && !c.value[0].value.sized;
        out.parameters.emplace_back(c.name, plain ? std::to_string(*n) : std::to_string(digits.size()) + "'b" + digits);
    }
    for (const auto& [name, e] : connections(item, names, scope))
        if (e && !bad()) box_pins(out, cell, name, *e, scope);
    if (!bad()) m_.boxes.push_back(std::move(out));
}

Bits Elaborator::top_port(const Declaration& d, const Shape& shape) {
    Bits out;
    // A netlist says no more than this of a bus, and a pin list nothing of bits below zero.
    if (std::min(shape.left, shape.right) < 0 || std::max(shape.left, shape.right) > 1'000'000 ||
        shape.width() >= 65536)
        fail(d.place, said("The port '{}' of the top has the range [{}:{}]; ports of the top have bits from 0 to "
                           "1000000, fewer than 65536.",
                           d.name, shape.left, shape.right));
    if (bad()) return out;
    for (int i = 0; i < shape.width(); ++i) {
        PortBit p;
        p.bus = d.name;
        p.index = shape.vector ? (shape.left >= shape.right ? shape.right + i : shape.right - i) : -1;
        p.name = shape.vector ? d.name + "[" + std::to_string(p.index) + "]" : d.name;
        p.direction = d.direction == Declaration::in    ? Direction::in
                      : d.direction == Declaration::out ? Direction::out
                                                        : Direction::inout;
        const auto wire = g_.wire();
        out.push_back(wire);
        pad_of_.emplace(node_of(wire), static_cast<std::uint32_t>(m_.ports.size()));
        m_.names.emplace(node_of(wire), p.name);
        if (p.direction != Direction::out) {
            p.inside = g_.source();
            g_.drive(wire, p.inside);
            pad_of_.emplace(node_of(p.inside), static_cast<std::uint32_t>(m_.ports.size()));
            m_.names.emplace(node_of(p.inside), p.name);
        }
        m_.ports.push_back(std::move(p));
    }
    return out;
}

std::map<std::string, Value> Elaborator::top_parameters() {
    std::map<std::string, Value> out;
    for (const auto& [name, text] : options_.parameters) {
        Expr e;
        const bool minus = !text.empty() && text[0] == '-';
        const auto literal = source::literal_of(std::string_view(text).substr(minus));
        if (!literal) {
            error_ = Message{Severity::stop, Code::arguments,
                             said("The value '{}' of the parameter {} is not a whole number.", text, name)};
            return {};
        }
        e.value = *literal;
        auto v = number(e, {static_cast<int>(literal->bits.size()), literal->is_signed});
        if (minus) v.bits = negate(v.bits);
        out[name] = std::move(v);
    }
    return out;
}

/// Signals that only an initial block sets keep that; others that nothing drives are told, once a signal.
void Elaborator::undriven() {
    for (auto& s : signals_) {
        if (s.local || s.memory >= 0) continue;
        bool open = false;
        for (size_t i = 0; i < s.bits.size(); ++i) {
            const auto& node = g_.node(node_of(s.bits[i]));
            if (node.kind != Gates::place || node.a != no_lit || driven_.count(node_of(s.bits[i]))) continue;
            if (!s.initial.empty() && s.initial[i] != 'x')
                g_.drive(s.bits[i], s.initial[i] == '1' ? one : zero);
            else
                open = true;
        }
        if (open)
            m_.open.emplace_back(
                s.bits, code_.at(s.place, Severity::caution, Code::never_driven,
                                 said("Nothing drives all of '{}'; what is read of it is taken as 0.", s.name)));
    }
}

Result<Mapping> Elaborator::run() {
    outside_.path = "";
    g_.limit(options_.most_gates, options_.most_work);
    declare_all(code_.outside, outside_, {});
    const auto* m = bad() ? nullptr : top();
    if (!m) return *error_;
    m_.top = m->name;
    scopes_.emplace_back();
    auto& scope = scopes_.back();
    scope.is_module = true;
    const auto given = top_parameters();
    if (bad()) return *error_;
    for (const auto& [name, value] : given) {
        const bool known =
            std::any_of(m->parameters.begin(), m->parameters.end(),
                        [&](const Declaration& d) { return d.name == name; }) ||
            std::any_of(m->items.begin(), m->items.end(), [&](const Item& i) {
                return i.kind == Item::declare &&
                       std::any_of(i.declarations.begin(), i.declarations.end(), [&](const Declaration& d) {
                           return d.kind == Declaration::parameter && d.name == name;
                       });
            });
        if (!known)
            return code_.at(m->place, Severity::stop, Code::arguments,
                            said("The top '{}' has no parameter '{}'.", m->name, name));
    }
    module(*m, scope, given, [&](const Declaration& d, const Shape& shape) { return top_port(d, shape); });
    spend(work_place_, 0);
    if (bad()) return *error_;
    undriven();
    m_.messages.insert(m_.messages.begin(), code_.notes.begin(), code_.notes.end());
    return Result<Mapping>(std::move(m_));
}

Result<Mapping> elaborate(const source::DesignText& code, const Library& library, const ElaborateOptions& options) {
    auto e = std::make_unique<Elaborator>(code, library, options);
    return e->run();
}

}  // namespace kp::synthesis
