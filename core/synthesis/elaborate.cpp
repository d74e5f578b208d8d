// SPDX-License-Identifier: GPL-3.0-or-later
// Modules: first everything is declared, generate unfolded by its conditions, then what works is worked out. Wires get
// their drivers in any order. Linear in the unfolded source.
#include "core/synthesis/elaborate.hpp"

#include "core/base/ranges.hpp"
#include "core/base/text.hpp"
#include "core/synthesis/elaborator.hpp"
#include "core/base/said.hpp"

#include <algorithm>

namespace kp::synthesis {

namespace {
constexpr size_t most_names = 400'000;   ///< of signals and scopes: about a kilobyte each
constexpr size_t smallest_memory = 512;  ///< bits; what is smaller becomes registers
constexpr int deepest = 100;
}  // namespace

void Elaborator::fail(SourcePlace place, std::string text, Code code) {
    if (!error_) error_ = code_.at(place, Severity::stop, code, std::move(text));
}

bool Elaborator::spend(SourcePlace place, size_t work) {
    steps_ += work;
    if (steps_ <= options_.most_work && !g_.full() && signals_.size() + scopes_.size() <= most_names) return !bad();
    fail(place,
         "This design becomes more logic than any part here holds: a loop, a width, an array or the instances may be "
         "too many.",
         Code::too_large);
    return false;
}

void Elaborator::find(SourcePlace place, Severity severity, Code code, std::string text) {
    if (m_.messages.size() >= 200) return;
    auto found = code_.at(place, severity, code, std::move(text));
    const bool told = std::any_of(m_.messages.begin(), m_.messages.end(), [&](const Message& m) {
        return m.line == found.line && m.file == found.file && m.text == found.text;
    });
    if (!told) m_.messages.push_back(std::move(found));
}

const source::Module* Elaborator::top() {
    if (!options_.top.empty()) {
        const auto at = code_.modules.find(options_.top);
        if (at != code_.modules.end()) return &at->second;
        const auto known = list_names(code_.order, 5);
        error_ = Message{
            Severity::stop, Code::top,
            said("There is no module '{}'; the sources define {}.", options_.top, (known.empty() ? "none" : known)),
            code_.files.empty() ? "" : code_.files[0]};
        return nullptr;
    }
    std::set<std::string> used;
    const auto look = [&](const auto& self, const std::vector<Item>& items) -> void {
        for (const auto& item : items) {
            if (item.kind == Item::instance) used.insert(item.word);
            for (const auto& branch : item.branches) self(self, branch);
        }
    };
    // A test bench, which has no ports, neither is the top nor keeps what it tries from being it.
    const auto is_bench = [](const source::Module& m) { return m.ports.empty() && m.port_order.empty(); };
    for (const auto& [name, m] : code_.modules)
        if (!is_bench(m)) look(look, m.items);
    std::vector<std::string> tops, benches;
    for (const auto& name : code_.order)
        if (!used.count(name)) (is_bench(code_.modules.at(name)) ? benches : tops).push_back(name);
    if (tops.empty()) tops = benches;
    if (tops.size() == 1) return &code_.modules.at(tops[0]);
    error_ =
        Message{Severity::stop, Code::top,
                tops.empty() ? "No module stands at the top; name it with --top."
                             : said("Several modules could be the top ({}, {}); name it with --top.", tops[0], tops[1]),
                code_.files.empty() ? "" : code_.files[0]};
    return nullptr;
}

Scope* Elaborator::child(Scope& parent, const std::string& name, bool is_module) {
    scopes_.emplace_back();
    auto& out = scopes_.back();
    out.parent = is_module ? nullptr : &parent;
    out.path = parent.path + name + ".";
    out.is_module = is_module;
    return &out;
}

Shape Elaborator::shape_of(const source::DataType& type, Scope& scope, SourcePlace place) {
    Shape out;
    out.is_signed = type.is_signed;
    if (!type.named.empty()) {
        for (Scope* s = &scope; s; s = s->parent)
            if (const auto at = s->types.find(type.named); at != s->types.end()) return at->second;
        if (const auto at = outside_.types.find(type.named); at != outside_.types.end()) return at->second;
        fail(place, said("The type '{}' is not defined.", type.named), Code::undeclared);
        return out;
    }
    if (type.fixed_width > 0) return {type.fixed_width - 1, 0, true, type.is_signed};
    if (type.ranges.size() > 1) {
        fail(place, "Nothing can be built from a vector of several ranges yet; use an array of words.",
             Code::cannot_build);
        return out;
    }
    if (type.ranges.empty()) return out;
    const auto left = constant_or_fail(type.ranges[0].left, scope, "A range");
    const auto right = constant_or_fail(type.ranges[0].right, scope, "A range");
    if (distance_of(left, 0) > 1 << 20 || distance_of(right, 0) > 1 << 20 || distance_of(left, right) >= 65536)
        fail(place, said("The range [{}:{}] has more than 65,536 bits.", left, right));
    if (bad()) return out;
    out.vector = true;
    out.left = static_cast<int>(left);
    out.right = static_cast<int>(right);
    return out;
}

Signal* Elaborator::local(const std::string& name, const Shape& shape, SourcePlace place) {
    signals_.emplace_back();
    auto& s = signals_.back();
    s.serial = signals_.size();
    s.name = name;
    s.shape = shape;
    s.local = true;
    s.place = place;
    spend(place, 1 + static_cast<size_t>(s.width()));
    return &s;
}

void Elaborator::parameter(const Declaration& d, Scope& scope, const std::map<std::string, Value>& given) {
    Symbol s;
    s.kind = Symbol::constant;
    const auto at = given.find(d.name);
    const bool overridden = d.kind == Declaration::parameter && at != given.end();
    if (!overridden && d.initial.empty()) return fail(d.place, said("The parameter '{}' has no value.", d.name));
    if (d.typed) {
        s.shape = shape_of(d.type, scope, d.place);
        const bool plain = d.type.ranges.empty() && d.type.named.empty() && d.type.fixed_width == 0;
        if (plain) {  // signed only: the width of its value
            s.value = overridden ? at->second : self(d.initial[0], scope);
            s.shape = {s.value.width() - 1, 0, true, s.shape.is_signed};
        } else {
            s.value = overridden ? fit(at->second, s.shape.width(), at->second.is_signed)
                                 : assigned(d.initial[0], s.shape.width(), scope);
        }
        s.value.is_signed = s.shape.is_signed;
    } else {
        s.value = overridden ? at->second : self(d.initial[0], scope);
        s.shape = {std::max(0, s.value.width() - 1), 0, true, s.value.is_signed};
    }
    if (bad()) return;
    for (const auto bit : s.value.bits)
        if (!is_constant(bit)) return fail(d.place, said("The value of the parameter '{}' is not a constant.", d.name));
    if (!scope.symbols.emplace(d.name, s).second) fail(d.place, said("'{}' is declared twice.", d.name));
}

void Elaborator::make_memory(Signal& s) {
    s.memory = static_cast<int>(m_.memories.size());
    MemoryBlock block;
    block.name = s.name;
    block.words = s.words;
    block.width = s.width();
    m_.memories.push_back(std::move(block));
    int n = 0;
    while ((1LL << n) < s.words) ++n;
    s.write = local(s.name, {}, s.place);
    s.write->owner = &s;
    s.address = local(s.name, {std::max(0, n - 1), 0, true, false}, s.place);
    s.data = local(s.name, s.shape, s.place);
    s.address->any_base = s.data->any_base = true;
}

void Elaborator::redeclare(const Declaration& d, Symbol& known, Scope& scope) {
    const bool port = known.kind == Symbol::signal && known.of->is_port && d.direction == Declaration::none;
    const auto shape = shape_of(d.type, scope, d.place);
    if (!port || (shape.vector && shape.width() != known.of->width()))
        return fail(d.place, said("'{}' is declared twice{}", d.name, (port ? " with different ranges." : ".")));
    known.of->variable |= d.kind == Declaration::variable;
    known.of->shape.is_signed |= shape.is_signed;
    known.of->is_port = false;  // a third time is one too many
}

Signal* Elaborator::declare(const Declaration& d, Scope& scope, const Bits* bits) {
    if (const auto at = scope.symbols.find(d.name); at != scope.symbols.end()) {
        redeclare(d, at->second, scope);
        return nullptr;
    }
    auto* s = local(scope.path + d.name, shape_of(d.type, scope, d.place), d.place);
    if (bad()) return nullptr;
    s->local = false;
    s->variable = d.kind == Declaration::variable;
    if (d.words.size() > 1)
        fail(d.place, "Nothing can be built from an array of several dimensions yet.", Code::cannot_build);
    if (d.words.size() == 1) {
        const auto left = constant_or_fail(d.words[0].left, scope, "The range of an array");
        const auto right = constant_or_fail(d.words[0].right, scope, "The range of an array");
        const auto words = static_cast<long long>(std::min<unsigned long long>(distance_of(left, right), 1 << 25)) + 1;
        if (bad()) return nullptr;
        if (words > 1 << 24 || std::min(left, right) < 0 || std::max(left, right) > 1 << 24) {
            fail(d.place,
                 said("The array '{}' cannot have {} from {}.", d.name, counted(words, "word"), std::min(left, right)));
            return nullptr;
        }
        s->words = static_cast<int>(words);
        s->first_word = static_cast<int>(std::min(left, right));
    }
    Symbol symbol;
    symbol.kind = Symbol::signal;
    symbol.of = s;
    scope.symbols.emplace(d.name, symbol);
    const auto use = arrays_.find(d.name);
    if (s->words > 0 && s->size() >= smallest_memory && use != arrays_.end() && use->second.plain &&
        use->second.writes == 1 && !use->second.initial && d.initial.empty()) {
        make_memory(*s);
        return s;
    }
    if (s->size() > 1 << 18) {
        fail(d.place, said("'{}' has {} bits that would all be registers; write it by whole words in one clocked "
                           "statement, and it becomes a memory.",
                           d.name, s->size()));
        return nullptr;
    }
    if (bits) {
        s->bits = *bits;
    } else {
        for (size_t i = 0; i < s->size(); ++i) s->bits.push_back(g_.wire());
    }
    for (size_t i = 0; i < s->size(); ++i) {
        const auto n = node_of(s->bits[i]);
        if (m_.names.count(n)) continue;
        const auto width = static_cast<size_t>(s->width());
        auto name = s->name;
        if (s->words > 0) name += "[" + std::to_string(s->first_word + static_cast<int>(i / width)) + "]";
        const auto p = static_cast<int>(i % width);
        if (s->shape.vector)
            name +=
                "[" + std::to_string(s->shape.left >= s->shape.right ? s->shape.right + p : s->shape.right - p) + "]";
        m_.names.emplace(n, std::move(name));
    }
    return s;
}

void Elaborator::declare_port(const Declaration& d, Scope& scope) {
    if (!d.words.empty()) return fail(d.place, "A port cannot be an array.", Code::cannot_build);
    if (!bind_) return fail(d.place, said("The port '{}' stands outside of a module. Put it into one.", d.name));
    const auto shape = shape_of(d.type, scope, d.place);
    if (bad()) return;
    const auto bits = (*bind_)(d, shape);
    if (bad()) return;
    if (auto* s = declare(d, scope, &bits)) s->is_port = true;
}

std::string Elaborator::name_of(Lit wire) const {
    const auto at = m_.names.find(node_of(wire));
    return at == m_.names.end() ? "a wire" : "'" + at->second + "'";
}

/// Says what drives a wire. A second driver is a finding, unless the wire is a pad that both drive in turn.
void Elaborator::drive(Lit wire, Lit by, Lit enable, SourcePlace place) {
    const auto n = node_of(wire);
    const auto [known, fresh] = driven_.try_emplace(n, place);
    if (!fresh) {
        find(place, Severity::stop, Code::two_drivers,
             said("{} has two drivers: here, and in {} line {}. Keep one of them.", name_of(wire),
                  code_.files[known->second.file], known->second.line));
        return;
    }
    const auto pad = pad_of_.find(n);
    if (pad != pad_of_.end() && m_.ports[pad->second].direction != Direction::in) {
        auto& port = m_.ports[pad->second];
        port.value = by;
        port.enable = enable;
        if (port.direction == Direction::out) g_.drive(wire, by);
        return;
    }
    if (pad != pad_of_.end() || g_.node(n).kind != Gates::place) {
        find(place, Severity::stop, Code::two_drivers,
             name_of(wire) + " is an input and is driven here too. Drive another signal.");
        return;
    }
    if (enable != one)
        return fail(place, name_of(wire) +
                               " is not always driven (z); only ports of the top can be built so. Use a choice between "
                               "values inside.");
    g_.drive(wire, by);
}

void Elaborator::declare_type(const Item& item, Scope& scope) {
    const auto shape = shape_of(item.data_type, scope, item.place);
    if (!item.name.empty()) scope.types[item.name] = shape;
    long long next = 0;
    for (const auto& d : item.values) {
        Symbol s;
        s.kind = Symbol::constant;
        s.shape = shape;
        if (!d.initial.empty()) next = constant_or_fail(d.initial[0], scope, "The value of an enumerated name");
        if (bad()) return;
        for (int k = 0; k < shape.width(); ++k) s.value.bits.push_back((next >> std::min(k, 63)) & 1 ? one : zero);
        s.value.is_signed = shape.is_signed;
        next = static_cast<long long>(static_cast<unsigned long long>(next) + 1);
        if (!scope.symbols.emplace(d.name, s).second) return fail(d.place, said("'{}' is declared twice.", d.name));
    }
}

void Elaborator::declare_item(const Item& item, Scope& scope, const std::map<std::string, Value>& parameters) {
    switch (item.kind) {
        case Item::declare:
            for (const auto& d : item.declarations) {
                if (bad() || d.kind == Declaration::genvar) continue;
                if (d.kind == Declaration::parameter || d.kind == Declaration::local_parameter) {
                    parameter(d, scope, parameters);
                    continue;
                }
                if (d.direction != Declaration::none)
                    declare_port(d, scope);
                else
                    declare(d, scope);
            }
            work_.push_back({&item, &scope});
            return;
        case Item::type: return declare_type(item, scope);
        case Item::function: {
            Symbol s;
            s.kind = Symbol::function;
            s.code = item.function_of;
            s.home = &scope;
            if (!scope.symbols.emplace(item.name, s).second)
                fail(item.place, said("'{}' is declared twice.", item.name));
            return;
        }
        case Item::loop:
        case Item::choose:
        case Item::select: return unfold(item, scope);
        default: work_.push_back({&item, &scope});
    }
}

void Elaborator::declare_all(const std::vector<Item>& items, Scope& scope,
                             const std::map<std::string, Value>& parameters) {
    for (const auto& item : items)
        if (!bad()) declare_item(item, scope, parameters);
}

void Elaborator::unfold(const Item& item, Scope& scope) {
    if (item.kind == Item::loop) return unfold_loop(item, scope);
    const auto v = self(item.exprs[0], scope);
    if (bad()) return;
    const auto n = number_in(v);
    if (!n) return fail(item.place, "The condition of a generate has to be a constant.");
    if (item.kind == Item::choose) {
        const size_t which = *n != 0 ? 0 : 1;
        if (which < item.branches.size()) unfold_branch(item, which, item.branch_names[which], scope);
        return;
    }
    size_t otherwise = item.branches.size();
    for (size_t k = 0; k < item.labels.size(); ++k) {
        if (item.labels[k].empty()) otherwise = k;
        for (const auto& label : item.labels[k])
            if (constant_or_fail(label, scope, "A value of a generate case") == *n && !bad())
                return unfold_branch(item, k, item.branch_names[k], scope);
    }
    if (otherwise < item.branches.size()) unfold_branch(item, otherwise, item.branch_names[otherwise], scope);
}

void Elaborator::unfold_branch(const Item& item, size_t which, const std::string& name, Scope& scope) {
    // A block without a name does not hide what it declares behind one: paths stay as short as the source.
    auto* inner = child(scope, name, false);
    if (name.empty()) inner->path = scope.path;
    declare_all(item.branches[which], *inner, {});
}

void Elaborator::unfold_loop(const Item& item, Scope& scope) {
    auto v = self(item.exprs[0], scope);
    for (long long turn = 0; !bad(); ++turn) {
        auto* inner = child(scope,
                            (item.branch_names[0].empty() ? item.name : item.branch_names[0]) + "[" +
                                std::to_string(number_in(v).value_or(0)) + "]",
                            false);
        Symbol s;
        s.kind = Symbol::constant;
        s.value = fit(v, 32, v.is_signed);
        s.value.is_signed = true;
        s.shape = {31, 0, true, true};
        inner->symbols[item.name] = s;
        const auto go = constant_or_fail(item.exprs[1], *inner, "The condition of a generate loop");
        if (bad() || go == 0) return;
        if (turn >= 65536) return fail(item.place, "This generate loop has more than 65,536 turns.");
        declare_all(item.branches[0], *inner, {});
        v = self(item.exprs[2], *inner);
    }
}

void Elaborator::module(const source::Module& m, Scope& scope, const std::map<std::string, Value>& parameters,
                        const Binder& bind) {
    if (std::find(inside_.begin(), inside_.end(), &m) != inside_.end())
        return fail(m.place, said("The module '{}' contains itself.", m.name), Code::recursion);
    if (inside_.size() > deepest) return fail(m.place, "Modules are more than 100 deep in each other.");
    inside_.push_back(&m);
    const auto* outer_bind = std::exchange(bind_, &bind);
    auto outer_arrays = std::exchange(arrays_, {});
    look_at_arrays(m.items, arrays_);
    auto outer_work = std::exchange(work_, {});
    for (const auto& d : m.parameters)
        if (!bad()) parameter(d, scope, parameters);
    // Ports that the header only names are declared where the body does: their ranges may use what stands before.
    std::set<std::string> later;
    for (const auto& item : m.items)
        if (item.kind == Item::declare)
            for (const auto& d : item.declarations)
                if (d.direction != Declaration::none) later.insert(d.name);
    for (const auto& d : m.ports)
        if (!bad() && !later.count(d.name)) declare_port(d, scope);
    declare_all(m.items, scope, parameters);
    const auto items = std::exchange(work_, {});
    if (!bad()) first_values(m.ports, scope);
    for (const auto& w : items)
        if (!bad() && w.item->kind == Item::declare) first_values(w.item->declarations, *w.scope);
    for (const auto& w : items)
        if (!bad() && w.item->kind == Item::initial) initial(*w.item, *w.scope);
    for (const auto& w : items)
        if (!bad()) work(*w.item, *w.scope);
    work_ = std::move(outer_work);
    arrays_ = std::move(outer_arrays);
    bind_ = outer_bind;
    inside_.pop_back();
}

}  // namespace kp::synthesis
