// SPDX-License-Identifier: GPL-3.0-or-later
// Everything that can run is run until nothing changes any more; then what waits for an edge sees it, and its late
// assignments happen together. No cleverness: it is there to be right.
#include "core/hdl/source/interpreter_state.hpp"
#include "core/base/said.hpp"

#include <algorithm>

namespace kp::source {

using State = Interpreter::State;

State::Frame* Interpreter::State::child(Frame* parent) {
    frames.emplace_back();
    frames.back().parent = parent;
    return &frames.back();
}

State::Kind Interpreter::State::kind_of(const DataType& t, Frame& frame) {
    Kind k;
    k.is_signed = t.is_signed;
    if (!t.named.empty()) {
        for (auto* f = &frame; f; f = f->parent)
            if (const auto at = f->types.find(t.named); at != f->types.end()) return at->second;
        return k;
    }
    if (t.fixed_width > 0) return {t.fixed_width - 1, 0, true, t.is_signed};
    if (t.ranges.empty()) return k;
    k.vector = true;
    const auto left = whole(t.ranges[0].left, frame), right = whole(t.ranges[0].right, frame);
    if (std::max(std::abs(left / 2), std::abs(right / 2)) > most_bits || std::abs(left - right) >= most_bits) {
        fail(t.ranges[0].left.place, "A value has at most a million bits.");
        return k;
    }
    k.left = static_cast<int>(left);
    k.right = static_cast<int>(right);
    return k;
}

void Interpreter::State::parameter(const Declaration& d, Frame& frame, const std::map<std::string, Number>& given) {
    const auto at = given.find(d.name);
    const bool other = d.kind == Declaration::parameter && at != given.end();
    if (!other && d.initial.empty()) return fail(d.place, "A parameter without a value.");
    Number n = other ? at->second : self(d.initial[0], frame);
    if (d.typed) {
        const auto k = kind_of(d.type, frame);
        const bool ranged = k.vector;
        if (ranged && !other) {
            const auto w = want_of(d.initial[0], frame);
            n = eval(d.initial[0], {std::max(w.width, k.width()), w.is_signed}, frame);
        }
        if (ranged) n.bits = resized(n.bits, k.width(), n.is_signed);
        n.is_signed = k.is_signed;
    }
    frame.constants[d.name] = n;
}

void Interpreter::State::declare(const Declaration& d, Frame& frame) {
    if (frame.variables.count(d.name)) {
        frame.variables[d.name]->kind.is_signed |= d.type.is_signed;
        return;
    }
    variables.emplace_back();
    auto& v = variables.back();
    v.kind = kind_of(d.type, frame);
    size_t words = 1;
    if (!d.words.empty()) {
        const auto a = whole(d.words[0].left, frame), b = whole(d.words[0].right, frame);
        // Halves first, so that the difference of two numbers at both ends of the range is one.
        if (std::max(std::abs(a / 2), std::abs(b / 2)) > most_bits || std::abs(a - b) >= most_bits ||
            (std::abs(a - b) + 1) * v.kind.width() > 64 * most_bits)
            return fail(d.place, said("The array '{}' is larger than a run can hold.", d.name));
        v.first_word = static_cast<int>(std::min(a, b));
        v.words = static_cast<int>(std::abs(a - b)) + 1;
        words = static_cast<size_t>(v.words);
    }
    if (!charge(static_cast<long long>(words) * v.kind.width(), d.place)) return;
    v.bits.assign(words * static_cast<size_t>(v.kind.width()), 0);
    frame.variables[d.name] = &v;
}

void Interpreter::State::module(const Module& m, Frame& frame, const std::map<std::string, Number>& given) {
    if (++depth > 100) return fail(m.place, "Modules contain each other.");
    for (const auto& d : m.parameters) parameter(d, frame, given);
    std::set<std::string> inside;
    for (const auto& i : m.items)
        if (i.kind == Item::declare)
            for (const auto& d : i.declarations)
                if (d.direction != Declaration::none) inside.insert(d.name);
    for (const auto& p : m.ports)
        if (!inside.count(p.name)) {
            declare(p, frame);
            if (error) return;
            if (!p.initial.empty() && p.direction == Declaration::out) first_value(p, *frame.variables[p.name], frame);
        }
    for (const auto& i : m.items)
        if (!error) item(i, frame, given);
    --depth;
}

void Interpreter::State::declaration(const Declaration& d, Frame& frame, const std::map<std::string, Number>& given) {
    if (d.kind == Declaration::genvar) return;
    if (d.kind == Declaration::parameter || d.kind == Declaration::local_parameter) return parameter(d, frame, given);
    declare(d, frame);
    if (d.initial.empty() || error) return;
    auto* v = frame.variables[d.name];
    if (d.kind != Declaration::net) return first_value(d, *v, frame);
    Runner r;
    r.right = &d.initial[0];
    r.frame = &frame;
    r.port = v;
    r.type = Runner::into;
    runners.push_back(r);
}

void Interpreter::State::first_value(const Declaration& d, Variable& v, Frame& frame) {
    const auto w = want_of(d.initial[0], frame);
    const auto width = v.kind.width();
    v.bits = resized(eval(d.initial[0], {std::max(w.width, width), w.is_signed}, frame).bits, width, w.is_signed);
}

void Interpreter::State::item(const Item& i, Frame& frame, const std::map<std::string, Number>& given) {
    switch (i.kind) {
        case Item::declare:
            for (const auto& d : i.declarations) declaration(d, frame, given);
            return;
        case Item::type: {
            const auto k = kind_of(i.data_type, frame);
            if (!i.name.empty()) frame.types[i.name] = k;
            long long next = 0;
            for (const auto& d : i.values) {
                if (!d.initial.empty()) next = whole(d.initial[0], frame);
                Number n;
                n.is_signed = k.is_signed;
                for (int b = 0; b < k.width(); ++b) n.bits.push_back((next >> std::min(b, 63)) & 1);
                next = static_cast<long long>(static_cast<unsigned long long>(next) + 1);
                frame.constants[d.name] = n;
            }
            return;
        }
        case Item::function: frame.functions[i.name] = {i.function_of, &frame}; return;
        case Item::assign:
            for (size_t k = 0; k + 1 < i.exprs.size(); k += 2) {
                Runner r;
                r.left = &i.exprs[k];
                r.right = &i.exprs[k + 1];
                r.frame = &frame;
                runners.push_back(r);
            }
            return;
        case Item::always: {
            Runner r;
            r.type = Runner::always;
            r.item = &i;
            r.frame = &frame;
            r.clocked = !i.events.empty() && i.events[0].edge != Event::any;
            runners.push_back(r);
            return;
        }
        case Item::initial: initials.emplace_back(&i, &frame); return;
        case Item::instance: return instance(i, frame);
        case Item::loop:
        case Item::choose:
        case Item::select: return generate(i, frame);
    }
}

void Interpreter::State::generate(const Item& i, Frame& frame) {
    const auto unfold = [&](size_t which, Frame& inner) {
        for (const auto& x : i.branches[which])
            if (!error) item(x, inner, {});
    };
    if (i.kind == Item::loop) {
        auto n = self(i.exprs[0], frame);
        constexpr int most_turns = 65'536;
        for (int turn = 0; !error; ++turn) {
            if (turn > most_turns) return fail(i.place, "This generate loop has more than 65,536 turns.");
            auto& inner = *child(&frame);
            n.bits = resized(n.bits, 32, n.is_signed);
            n.is_signed = true;
            inner.constants[i.name] = n;
            if (!truth(i.exprs[1], inner)) return;
            unfold(0, inner);
            n = self(i.exprs[2], inner);
        }
        return;
    }
    if (i.kind == Item::choose) {
        const size_t which = truth(i.exprs[0], frame) ? 0 : 1;
        if (which < i.branches.size()) unfold(which, *child(&frame));
        return;
    }
    const auto n = whole(i.exprs[0], frame);
    size_t otherwise = i.branches.size();
    for (size_t k = 0; k < i.labels.size(); ++k) {
        if (i.labels[k].empty()) otherwise = k;
        for (const auto& label : i.labels[k])
            if (whole(label, frame) == n) return unfold(k, *child(&frame));
    }
    if (otherwise < i.branches.size()) unfold(otherwise, *child(&frame));
}

void Interpreter::State::instance(const Item& i, Frame& frame) {
    const auto at = code.modules.find(i.word);
    if (at == code.modules.end()) {
        if (const auto known = known_boxes.find(i.word); known != known_boxes.end())
            return box(i, known->second, frame);
        return fail(i.place, said("The interpreter has no module '{}'.", i.word));
    }
    const auto& m = at->second;
    std::map<std::string, Number> given;
    std::vector<std::string> names;
    for (const auto& d : m.parameters)
        if (d.kind == Declaration::parameter) names.push_back(d.name);
    for (const auto& x : m.items)
        if (x.kind == Item::declare && m.parameters.empty())
            for (const auto& d : x.declarations)
                if (d.kind == Declaration::parameter) names.push_back(d.name);
    for (size_t k = 0; k < i.parameters.size(); ++k)
        if (!i.parameters[k].value.empty())
            given[i.parameters[k].name.empty() ? names.at(k) : i.parameters[k].name] =
                self(i.parameters[k].value[0], frame);
    auto& inner = *child(nullptr);
    inner.functions = {};
    for (auto* f = &frame; f; f = f->parent)
        if (!f->parent) inner.types.insert(f->types.begin(), f->types.end());
    module(m, inner, given);
    std::set<std::string> done;
    const auto connect = [&](const std::string& name, const Expr* e) {
        const auto port =
            std::find_if(m.ports.begin(), m.ports.end(), [&](const Declaration& d) { return d.name == name; });
        if (port == m.ports.end()) return fail(i.place, said("No port '{}'.", name));
        done.insert(name);
        Runner r;
        r.type = port->direction == Declaration::in ? Runner::into : Runner::out_of;
        r.port = inner.variables[name];
        r.right = e;
        r.frame = &frame;
        if (e) runners.push_back(r);
    };
    const auto named = [&](const std::string& name) { return &made_name(name); };
    size_t order = 0;
    for (const auto& c : i.connections) {
        const auto name = c.name.empty() ? m.port_order.at(order++) : c.name;
        connect(name, c.by_name ? named(name) : c.value.empty() ? nullptr : &c.value[0]);
    }
    if (i.all_wildcard)
        for (const auto& name : m.port_order)
            if (!done.count(name)) connect(name, named(name));
}

Expr& Interpreter::State::made_name(const std::string& name) {
    made_names.emplace_back();
    made_names.back().kind = Expr::name;
    made_names.back().word = name;
    return made_names.back();
}

void Interpreter::State::box(const Item& i, const std::map<std::string, bool>& pins, Frame& frame) {
    Box made;
    made.cell = i.word;
    BoxWires wires;
    wires.frame = &frame;
    for (const auto& p : i.parameters)
        if (!p.name.empty() && !p.value.empty()) made.parameters[p.name] = to_whole(self(p.value[0], frame));
    for (const auto& c : i.connections) {
        if (c.name.empty()) return fail(i.place, said("The pins of {} have to be connected by name.", i.word));
        const auto pin = pins.find(c.name);
        if (pin == pins.end()) return fail(i.place, said("{} has no pin '{}'.", i.word, c.name));
        const Expr* e = c.by_name ? &made_name(c.name) : c.value.empty() ? nullptr : &c.value[0];
        if (!e) continue;
        if (!pin->second) {
            wires.inputs[c.name] = e;
            continue;
        }
        variables.emplace_back();
        auto& v = variables.back();
        v.bits.assign(1, 0);
        wires.outputs[c.name] = &v;
        Runner r;
        r.type = Runner::out_of;
        r.port = &v;
        r.right = e;
        r.frame = &frame;
        runners.push_back(r);
    }
    boxes.push_back(std::move(made));
    box_wires.push_back(std::move(wires));
}

void Interpreter::State::store(const Target& t, const Bits& value) {
    auto from = value.begin();
    for (const auto& s : t) {
        const auto n = std::min<long>(s.count, value.end() - from);
        if (s.at >= 0) {
            const auto to = s.of->bits.begin() + s.at;
            if (!std::equal(from, from + n, to)) {
                std::copy(from, from + n, to);
                ++s.of->version;
                changed = true;
            }
        }
        from += n;
    }
}

void Interpreter::State::run(const Statement& s, Frame& frame) {
    if (error) return;
    if (++steps > most_steps) return fail(s.place, "This takes too long.");
    switch (s.kind) {
        case Statement::block: {
            const bool own = std::any_of(s.parts.begin(), s.parts.end(),
                                         [](const Statement& p) { return p.kind == Statement::declare; });
            auto& inner = own ? *child(&frame) : frame;
            for (const auto& p : s.parts) run(p, inner);
            return;
        }
        case Statement::choose:
            if (truth(s.exprs[0], frame))
                run(s.parts[0], frame);
            else if (s.parts.size() > 1)
                run(s.parts[1], frame);
            return;
        case Statement::select: return run_case(s, frame);
        case Statement::loop: {
            auto& inner = s.parts[0].kind == Statement::declare ? *child(&frame) : frame;
            run(s.parts[0], inner);
            while (!error && truth(s.exprs[0], inner)) {
                run(s.parts[2], inner);
                run(s.parts[1], inner);
                if (++steps > most_steps) return fail(s.place, "This takes too long.");
            }
            return;
        }
        case Statement::repeat:
            for (auto n = whole(s.exprs[0], frame); n > 0 && charge(1, s.place); --n) run(s.parts[0], frame);
            return;
        case Statement::assign: {
            const auto t = target(s.exprs[0], frame);
            const auto w = want_of(s.exprs[1], frame);
            const auto width = width_of(t);
            const auto value =
                resized(eval(s.exprs[1], {std::max(w.width, width), w.is_signed}, frame).bits, width, w.is_signed);
            if (s.blocking)
                store(t, value);
            else
                late.push_back({t, value});
            return;
        }
        case Statement::declare:
            for (const auto& d : s.locals) {
                if (d.kind == Declaration::local_parameter) {
                    parameter(d, frame, {});
                    continue;
                }
                declare(d, frame);
                if (!d.initial.empty()) first_value(d, *frame.variables[d.name], frame);
            }
            return;
        case Statement::nothing: return;
    }
}

void Interpreter::State::run_case(const Statement& s, Frame& frame) {
    auto want = want_of(s.exprs[0], frame);
    for (const auto& arm : s.labels)
        for (const auto& label : arm) {
            const auto w = want_of(label, frame);
            want = {std::max(want.width, w.width), want.is_signed && w.is_signed};
        }
    const auto at = eval(s.exprs[0], want, frame);
    size_t otherwise = s.parts.size();
    for (size_t k = 0; k < s.labels.size(); ++k) {
        if (s.labels[k].empty()) otherwise = k;
        for (const auto& l : s.labels[k]) {
            const auto label = eval(l, want, frame);
            bool same = true;
            for (size_t i = 0; i < at.bits.size() && same; ++i) {
                const char wild = label.wild.empty() ? ' ' : label.wild[i];
                if (wild == '?' && s.word != "case") continue;
                if (wild == 'x' && s.word == "casex") continue;
                same = wild == ' ' && at.bits[i] == label.bits[i];
            }
            if (same) return run(s.parts[k], frame);
        }
    }
    if (otherwise < s.parts.size()) run(s.parts[otherwise], frame);
}

/// Variables that an expression names, where `with_base` but for the one it is a part of; false when a function is
/// called, which may look at anything.
bool Interpreter::State::names_in(const Expr& e, bool with_base, Frame& frame, std::vector<Variable*>& out) {
    if (e.kind == Expr::call && !e.word.starts_with('$')) return false;
    if (e.kind == Expr::name && with_base)
        if (auto* v = variable(e.word, frame)) out.push_back(v);
    const bool part =
        e.kind == Expr::index || e.kind == Expr::part || e.kind == Expr::part_up || e.kind == Expr::part_down;
    bool known = true;
    for (size_t k = 0; k < e.args.size(); ++k) known &= names_in(e.args[k], with_base || (part && k > 0), frame, out);
    return known;
}

/// What a runner reads, once; and whether all it sets lies outside of what is declared, for good.
void Interpreter::State::look_at(Runner& r) {
    r.looked = true;
    const bool out_of = r.type == Runner::out_of;
    r.follows = names_in(*r.right, !out_of, *r.frame, r.reads);
    if (out_of) r.reads.push_back(r.port);
    if (r.type != Runner::assign) return;
    const auto before = r.reads.size();
    const bool known = names_in(*r.left, false, *r.frame, r.reads);
    r.follows &= known;
    if (!known || r.reads.size() > before) return;
    const auto to = target(*r.left, *r.frame);
    r.lost = !to.empty() && std::all_of(to.begin(), to.end(), [](const Slice& s) { return s.at < 0; });
}

/// Whether a continuous assignment or a connection may come to another value than when it ran last.
bool Interpreter::State::has_news(Runner& r) {
    if (r.type == Runner::always) return true;
    if (!r.looked) look_at(r);
    if (r.lost) return false;
    std::uint64_t now = 0;
    for (const auto* v : r.reads) now += v->version;
    if (r.follows && now == r.seen) return false;
    r.seen = now;  // of before it runs: what it changes of its own inputs is news for the next time
    return true;
}

/// Runs all that has no clock once; true when something changed.
bool Interpreter::State::pass() {
    bool any = false;
    for (auto& r : runners) {
        if (r.clocked || error || !has_news(r)) continue;
        changed = false;
        if (r.type == Runner::always) {
            // What it sets on the way is not a change; what it leaves behind is.
            if (!charge(1 + static_cast<long long>(variables.size()) / 8, r.item->place)) return false;
            std::vector<Bits> before;
            for (const auto& v : variables) before.push_back(v.bits);
            const auto known = variables.size();
            const Scratch scratch(*this);
            run(r.item->body[0], *r.frame);
            for (const auto& l : late) store(l.to, l.value);
            late.clear();
            changed = false;
            for (size_t k = 0; k < known; ++k) changed |= variables[k].bits != before[k];
        } else if (r.type == Runner::out_of) {
            const auto to = target(*r.right, *r.frame);
            changed = false;
            store(to, r.port->bits);
        } else {
            const auto to = r.type == Runner::assign ? target(*r.left, *r.frame) : Target{};
            const auto width = r.type == Runner::assign ? width_of(to) : r.port->kind.width();
            const auto w = want_of(*r.right, *r.frame);
            const auto value =
                resized(eval(*r.right, {std::max(w.width, width), w.is_signed}, *r.frame).bits, width, w.is_signed);
            changed = false;  // what a function sets inside of itself is none
            if (r.type == Runner::assign)
                store(to, value);
            else
                store({{r.port, 0, static_cast<long>(r.port->bits.size())}}, value);
        }
        any |= changed;
    }
    return any;
}

/// Runs what waits for an edge that came; true when there was one.
bool Interpreter::State::edges() {
    std::vector<Runner*> due;
    for (auto& r : runners) {
        if (!r.clocked) continue;
        std::vector<std::uint8_t> now;
        for (const auto& e : r.item->events) now.push_back(self(e.of, *r.frame).bits[0]);
        bool run_it = false;
        for (size_t k = 0; k < now.size() && !r.last.empty(); ++k)
            if (now[k] != r.last[k]) run_it |= (r.item->events[k].edge == Event::rise) == (now[k] == 1);
        r.last = now;
        if (run_it) due.push_back(&r);
    }
    const Scratch scratch(*this);
    for (auto* r : due) run(r->item->body[0], *r->frame);
    for (const auto& l : late) store(l.to, l.value);
    late.clear();
    return !due.empty();
}

Interpreter::Interpreter(std::unique_ptr<State> state) : state_(std::move(state)) {}
Interpreter::~Interpreter() = default;
Interpreter::Interpreter(Interpreter&&) noexcept = default;

Result<Interpreter> Interpreter::of(const DesignText& code, const std::string& top,
                                    const std::map<std::string, long long>& parameters, const Boxes& known) {
    const auto at = code.modules.find(top);
    if (at == code.modules.end())
        return Message{Severity::stop, Code::interpreter, said("There is no module '{}'.", top)};
    auto s = std::make_unique<State>(code);
    s->known_boxes = known;
    s->top = s->child(nullptr);
    for (const auto& i : code.outside) s->item(i, *s->top, {});
    std::map<std::string, State::Number> given;
    for (const auto& [name, value] : parameters) {
        State::Number n;
        for (int k = 0; k < 32; ++k) n.bits.push_back((value >> k) & 1);
        n.is_signed = true;
        given[name] = n;
    }
    s->module(at->second, *s->top, given);
    for (const auto& p : at->second.ports)
        if (auto* v = s->top->variables[p.name]) s->ports.push_back({p.name, p.direction, v->kind.width()});
    for (const auto& [item, frame] : s->initials) {
        s->run(item->body[0], *frame);
        for (const auto& l : s->late) s->store(l.to, l.value);
        s->late.clear();
    }
    Interpreter out(std::move(s));
    if (auto stop = out.settle()) return *stop;
    return out;
}

const std::vector<Interpreter::Port>& Interpreter::ports() const {
    return state_->ports;
}

void Interpreter::set(const std::string& port, const std::string& bits) {
    auto* v = state_->top->variables[port];
    if (!v) return;
    auto now = v->bits;
    for (size_t k = 0; k < bits.size() && k < now.size(); ++k) now[k] = bits[bits.size() - 1 - k] == '1';
    if (now == v->bits) return;
    v->bits = std::move(now);
    ++v->version;
}

std::string Interpreter::get(const std::string& port) const {
    std::string out;
    const auto* v = state_->top->variables[port];
    for (size_t k = v ? v->bits.size() : 0; k-- > 0;) out += v->bits[k] ? '1' : '0';
    return out;
}

const std::vector<Interpreter::Box>& Interpreter::boxes() const {
    return state_->boxes;
}

bool Interpreter::at_box(size_t box, const std::string& pin) {
    auto& wires = state_->box_wires.at(box);
    const auto at = wires.inputs.find(pin);
    return at != wires.inputs.end() && state_->truth(*at->second, *wires.frame);
}

void Interpreter::set_at_box(size_t box, const std::string& pin, bool value) {
    auto& wires = state_->box_wires.at(box);
    const auto at = wires.outputs.find(pin);
    if (at == wires.outputs.end() || at->second->bits[0] == static_cast<std::uint8_t>(value)) return;
    at->second->bits[0] = value;
    ++at->second->version;
}

std::optional<Message> Interpreter::settle() {
    auto& s = *state_;
    s.steps = 0;
    std::erase_if(s.runners, [](const State::Runner& r) { return r.lost; });
    const Message restless{Severity::stop, Code::interpreter,
                           "The source never settles: something in it feeds itself without a register.",
                           s.code.files.empty() ? "" : s.code.files[0]};
    for (int round = 0; round < 2000; ++round) {
        for (int turn = 0; s.pass(); ++turn) {
            if (s.error) return s.error;
            if (turn > 2000) return restless;
        }
        if (s.error) return s.error;
        if (!s.edges()) return s.error;
    }
    return restless;
}

}  // namespace kp::source
