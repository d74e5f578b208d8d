// SPDX-License-Identifier: GPL-3.0-or-later
// Two passes: the body is read in order and says only what drives each bit; functions are worked out afterwards, from
// the outputs back, so that the order of the text does not matter. Statements of `always` are carried out once with
// symbols (what a bit becomes, as a function of pins and of what it was). Depth and size are limited; beyond them, and
// for whatever is not understood, a bit is unknown, and a path to it counts as non-unate.
#include "core/hdl/models/model.hpp"

#include "core/base/ranges.hpp"
#include "core/hdl/models/bits.hpp"
#include "core/hdl/models/statement.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <set>

namespace kp::models {

namespace {

constexpr int widest_port = 4096;

bool is_direction(const verilog::Token& t) {
    return t.is("input") || t.is("output") || t.is("inout");
}

Direction direction_of(std::string_view word) {
    return word == "input" ? Direction::in : word == "output" ? Direction::out : Direction::inout;
}

bool is_net_type(const verilog::Token& t) {
    static const std::set<std::string_view> types{"wire",    "reg",      "tri",      "tri0",    "tri1",  "wand",
                                                  "wor",     "triand",   "trior",    "integer", "real",  "time",
                                                  "supply0", "supply1",  "event",    "genvar",  "logic", "signed",
                                                  "trireg",  "realtime", "vectored", "scalared"};
    return t.kind == verilog::Token::word && types.contains(t.text);
}

bool is_gate(const verilog::Token& t) {
    static const std::set<std::string_view> gates{"and", "nand", "or",     "nor",    "xor",    "xnor",
                                                  "buf", "not",  "bufif0", "bufif1", "notif0", "notif1"};
    return t.kind == verilog::Token::word && gates.contains(t.text);
}

class Reader {
public:
    Reader(Cursor& c, const Primitives& primitives) : c_(c), primitives_(primitives), bits_(m_, constants_) {}

    Model read() {
        m_.name = c_.name("a module");
        if (c_.take('#') && c_.now().is('(')) parameters(c_.brackets());
        if (c_.now().is('(')) header(c_.brackets());
        c_.expect(';', "after the head of a module");
        while (!c_.done() && !c_.error()) item();
        if (c_.error()) return std::move(m_);
        for (const auto& [net, terminal] : m_.specify.delayed) {
            auto& drivers = bits_.drivers[net];
            if (drivers.empty())
                drivers.push_back([this, terminal = terminal](size_t level) {
                    return bits_.resolve(
                        terminal.selected ? terminal.name + "[" + std::to_string(terminal.left) + "]" : terminal.name,
                        level);
                });
        }
        for (const auto& p : m_.ports)
            if (p.direction != Direction::out)
                for (const auto& bit : m_.bits(p.name)) bits_.known[bit] = m_.logic->input(bit);
        for (const auto& instance : instances_) primitive(instance);
        for (const auto& block : blocks_) carry_out(block);
        for (const auto& p : m_.ports)
            if (p.direction != Direction::in)
                for (const auto& bit : m_.bits(p.name)) {
                    // An inout stands for what comes in; what goes out is what drives it.
                    if (p.direction == Direction::inout) bits_.known.erase(bit);
                    const auto node = bits_.resolve(bit, 0);
                    if (node != Logic::unknown) m_.functions[bit] = node;
                    if (const auto at = bits_.enables.find(bit); at != bits_.enables.end())
                        m_.enables[bit] = at->second(0);
                    if (p.direction == Direction::inout) bits_.known[bit] = m_.logic->input(bit);
                }
        return std::move(m_);
    }

private:
    struct Block {
        std::vector<std::pair<Edge, Expression>> events;
        Statement statement;
    };
    struct Instance {
        const Primitive* primitive;
        std::vector<Expression> terminals;
    };

    void parameters(std::span<const Word> words) {
        for (const auto place : split_words(words)) {
            Cursor one(place);
            one.take("parameter");
            one.take("signed");
            one.take("integer");
            one.take("real");
            if (one.now().is('[')) one.brackets();
            const auto name = one.name("a parameter");
            if (!one.take('=')) continue;
            if (const auto v = value_of(one.expression(), constants_)) constants_[name] = *v;
        }
    }

    /// "[7:0]" in front of names; false when there is none.
    Model::Net range(Cursor& c) {
        Model::Net net;
        if (!c.now().is('[')) return net;
        Cursor inside(c.brackets());
        const auto left = value_of(inside.expression(), constants_);
        inside.take(':');
        const auto right = value_of(inside.expression(), constants_);
        net.vector = true;
        if (left && right && distance_of(*left, *right) < widest_port && distance_of(*left, 0) < 1'000'000) {
            net.left = static_cast<int>(*left);
            net.right = static_cast<int>(*right);
        } else {
            c_.fail(said("The range of a port or net of {} is not a constant, or wider than 4096 bits.", m_.name));
        }
        return net;
    }

    Model::Port* port(const std::string& name) {
        const auto at = std::find_if(m_.ports.begin(), m_.ports.end(), [&](const auto& p) { return p.name == name; });
        return at == m_.ports.end() ? nullptr : &*at;
    }

    void header(std::span<const Word> words) {
        Direction direction = Direction::in;
        Model::Net net;
        bool typed = false;
        for (const auto place : split_words(words)) {
            Cursor one(place);
            if (one.done()) continue;
            if (is_direction(one.now())) {
                typed = true;
                direction = direction_of(one.now().text);
                one.next();
                while (is_net_type(one.now())) one.next();
                net = range(one);
            }
            const auto name = one.name("a port");
            if (one.error()) return c_.fail_as(one);
            m_.ports.push_back({name, direction});
            if (typed) m_.nets[name] = net;
        }
    }

    void item() {
        const auto& t = c_.now();
        if (c_.take(';')) return;
        if (is_direction(t) || is_net_type(t)) return declaration();
        if (c_.take("parameter") || c_.take("localparam") || c_.take("specparam"))
            return read_constants(c_, constants_);
        if (c_.take("assign")) return assign();
        if (c_.take("specify")) {
            m_.has_code = true;
            return read_specify(c_, constants_, m_.specify);
        }
        if (t.is("always") || t.is("always_ff") || t.is("always_comb") || t.is("always_latch")) return always();
        if (c_.take("initial")) return void(statement_words(c_));
        for (const auto& [begin, end] :
             {std::pair{"function", "endfunction"}, std::pair{"task", "endtask"}, std::pair{"generate", "endgenerate"}})
            if (c_.take(std::string_view(begin))) {
                while (!c_.done() && !c_.take(std::string_view(end))) c_.next();
                return;
            }
        if (is_gate(t)) return gates();
        if (t.is_name()) return instance();
        c_.fail(said("'{}' is not expected in a module.", t.text));
    }

    void declaration() {
        std::optional<Direction> direction;
        std::optional<bool> supply;
        while (is_direction(c_.now()) || is_net_type(c_.now())) {
            if (is_direction(c_.now())) direction = direction_of(c_.now().text);
            if (c_.now().is("supply0")) supply = false;
            if (c_.now().is("supply1")) supply = true;
            c_.next();
        }
        while (c_.now().is('#') || c_.now().is('(')) {  // delay or strength
            c_.take('#');
            if (c_.now().is('('))
                c_.brackets();
            else
                c_.next();
        }
        const auto net = range(c_);
        for (const auto place : split_words(c_.until(';'))) {
            Cursor one(place);
            const auto name = one.name("a net");
            if (one.error()) return c_.fail_as(one);
            const auto [at, fresh] = m_.nets.try_emplace(name, net);
            if (!fresh && net.vector) at->second = net;
            if (direction) {
                if (auto* p = port(name))
                    p->direction = *direction;
                else
                    c_.fail(said("{} has a direction and is not a port of {}.", name, m_.name));
            }
            if (supply) bits_.known[name] = m_.logic->constant(*supply);
            if (one.take('=')) drive({Expression::name, name, {}}, one.expression());
        }
    }

    void drive(const Expression& left, const Expression& right) {
        const auto names = bits_.names(left);
        const auto shared = std::make_shared<const Expression>(right);
        for (size_t i = 0; i < names.size(); ++i)
            bits_.drivers[names[i]].push_back([this, shared, behind = names.size() - 1 - i](size_t level) {
                const auto all = bits_.of(*shared, level + 1);
                return behind < all.size() ? all[all.size() - 1 - behind] : m_.logic->constant(false);
            });
    }

    void assign() {
        m_.has_code = true;
        if (c_.now().is('(')) c_.brackets();
        if (c_.take('#')) {
            if (c_.now().is('('))
                c_.brackets();
            else
                c_.next();
        }
        for (const auto place : split_words(c_.until(';'))) {
            Cursor one(place);
            const auto left = one.operand();
            if (!one.take('=')) return c_.fail("'=' is expected in an assign.");
            const auto right = one.expression();
            if (one.error()) return c_.fail_as(one);
            drive(left, right);
        }
    }

    std::vector<Expression> terminals(Cursor& c) {
        std::vector<Expression> out;
        for (const auto place : split_words(c.brackets())) {
            Cursor one(place);
            out.push_back(one.done() ? Expression{} : one.expression());
            if (one.error()) out.back() = {};  // by name: no gate and no primitive has that
        }
        return out;
    }

    /// Strength, delay, name and range in front of the terminals of an instance.
    void skip_to_terminals(Cursor& c) {
        if (c.now().is('(') && (c.ahead(1).text.starts_with("st") || c.ahead(1).text.starts_with("pu") ||
                                c.ahead(1).text.starts_with("we") || c.ahead(1).text.starts_with("high")))
            c.brackets();
        if (c.take('#')) {
            if (c.now().is('('))
                c.brackets();
            else
                c.next();
        }
        if (c.now().is_name()) c.next();
        if (c.now().is('[')) c.brackets();
    }

    void gates() {
        m_.has_code = true;
        const std::string type(c_.now().text);
        c_.next();
        Cursor c(c_.until(';'));
        do {
            skip_to_terminals(c);
            if (!c.now().is('(')) return c_.fail(said("'(' is expected after the gate {}.", type));
            gate(type, terminals(c));
        } while (c.take(','));
        c_.fail_as(c);
    }

    void gate(const std::string& type, const std::vector<Expression>& given) {
        if (given.size() < 2) return;
        auto& logic = *m_.logic;
        const auto all = std::make_shared<const std::vector<Expression>>(given);
        const auto one = [this, all](size_t i, size_t level) { return bits_.single((*all)[i], level + 1); };
        const bool inverts =
            type == "not" || type == "nand" || type == "nor" || type == "xnor" || type.starts_with("notif");
        const bool repeats = type == "buf" || type == "not";
        const size_t outputs = repeats ? given.size() - 1 : 1;
        const auto value = [this, all, one, type, inverts, repeats, &logic](size_t level) {
            Logic::Node out = one(repeats ? all->size() - 1 : 1, level);
            const bool three_state = type.ends_with("if0") || type.ends_with("if1");
            for (size_t i = 2; i < all->size() && !repeats && !three_state; ++i) {
                const auto next = one(i, level);
                if (type.ends_with("xor") || type == "xnor")
                    out = logic.differ(out, next);
                else
                    out = type.ends_with("and") ? logic.both(out, next) : logic.either(out, next);
            }
            return inverts ? logic.invert(out) : out;
        };
        for (size_t i = 0; i < outputs; ++i)
            for (const auto& name : bits_.names(given[i])) {
                bits_.drivers[name].push_back(value);
                if (given.size() == 3 && (type.ends_with("if0") || type.ends_with("if1")))
                    bits_.enables[name] = [one, high = type.ends_with("1"), &logic](size_t level) {
                        const auto on = one(2, level);
                        return high ? on : logic.invert(on);
                    };
            }
    }

    void instance() {
        const auto type = std::string(c_.now().text);
        const auto found = primitives_.find(type);
        c_.next();
        Cursor c(c_.until(';'));
        if (c_.error() || found == primitives_.end()) return;  // of a module: what it drives is unknown
        m_.has_code = true;
        do {
            skip_to_terminals(c);
            if (!c.now().is('(')) return c_.fail(said("'(' is expected after the primitive {}.", type));
            instances_.push_back({&found->second, terminals(c)});
        } while (c.take(','));
        c_.fail_as(c);
        const auto& last = instances_.back();
        if (!last.primitive->state) return;
        for (auto& i : instances_)
            for (const auto& name : bits_.names(i.terminals.empty() ? Expression{} : i.terminals[0]))
                if (i.primitive->state) bits_.known[name] = m_.logic->input(name);
    }

    void primitive(const Instance& i) {
        if (i.terminals.empty()) return;
        const auto names = bits_.names(i.terminals[0]);
        if (names.size() != 1) return;
        const auto inputs = [this, &i](size_t level) {
            std::vector<Logic::Node> out;
            for (size_t k = 1; k < i.terminals.size(); ++k) {
                // A notifier (15.5) is never driven: it never changes.
                const auto& e = i.terminals[k];
                const bool stands =
                    e.kind == Expression::name && !bits_.known.contains(e.text) && !bits_.drivers.contains(e.text);
                out.push_back(stands ? m_.logic->constant(false) : bits_.single(e, level + 1));
            }
            return out;
        };
        if (i.primitive->state)
            m_.registers.push_back(register_of(*i.primitive, inputs(0), names[0], *m_.logic));
        else
            bits_.drivers[names[0]].push_back(
                [this, &i, inputs](size_t level) { return function_of(*i.primitive, inputs(level), *m_.logic); });
    }

    void always() {
        m_.has_code = true;
        c_.next();
        Block block;
        if (c_.take('@')) {
            if (c_.now().is('(')) {
                events(c_.brackets(), block);
            } else {
                c_.next();  // '*'
            }
        } else if (c_.now().is('#')) {
            return void(statement_words(c_));
        }
        if (auto statement = statement_of(statement_words(c_))) {
            block.statement = std::move(*statement);
            blocks_.push_back(std::move(block));
        }
    }

    void events(std::span<const Word> words, Block& block) {
        Cursor c(words);
        while (!c.done() && !c.error()) {
            const auto edge = c.take("posedge") ? Edge::rise : c.take("negedge") ? Edge::fall : Edge::none;
            if (!c.take('*')) block.events.emplace_back(edge, c.expression());
            if (!c.take(',')) c.take("or");
        }
    }

    void targets(const Statement& s, std::set<std::string>& out) const {
        if (s.kind == Statement::assign)
            for (auto& name : bits_.names(s.left)) out.insert(std::move(name));
        for (const auto& part : s.parts) targets(part, out);
    }

    using Values = std::map<std::string, Logic::Node>;

    void run(const Statement& s, Values& now) {
        if (s.kind == Statement::block)
            for (const auto& part : s.parts) run(part, now);
        if (s.kind == Statement::assign) {
            const auto names = bits_.names(s.left);
            const auto values = bits_.of(s.right, 0);
            for (size_t i = 0; i < names.size(); ++i) {
                const size_t behind = names.size() - 1 - i;
                now[names[i]] = behind < values.size() ? values[values.size() - 1 - behind] : m_.logic->constant(false);
            }
        }
        if (s.kind != Statement::choose) return;
        const auto condition = bits_.single(s.right, 0);
        auto otherwise = now;
        run(s.parts[0], now);
        if (s.parts.size() > 1) run(s.parts[1], otherwise);
        for (auto& [name, value] : now) value = m_.logic->choose(condition, value, otherwise[name]);
    }

    void carry_out(const Block& block) {
        std::set<std::string> names;
        targets(block.statement, names);
        Values now;
        for (const auto& name : names) {
            const auto state = m_.logic->input(name);
            bits_.known[name] = state;
            now[name] = state;
        }
        run(block.statement, now);
        const bool edges =
            std::any_of(block.events.begin(), block.events.end(), [](const auto& e) { return e.first != Edge::none; });
        for (const auto& [name, next] : now) {
            if (next == Logic::unknown && !edges) {
                bits_.known[name] = Logic::unknown;
            } else if (edges) {
                flip_flop(block, name, next);
            } else if (m_.logic->depends(next, name)) {
                latch(name, next);
            } else {
                bits_.known[name] = next;
            }
        }
    }

    void latch(const std::string& name, Logic::Node next) {
        auto& logic = *m_.logic;
        const auto from_1 = logic.with(next, name, true), from_0 = logic.with(next, name, false);
        m_.registers.push_back({name, true, logic.invert(logic.both(from_1, logic.invert(from_0))), from_0, 0, 0});
    }

    void flip_flop(const Block& block, const std::string& name, Logic::Node next) {
        auto& logic = *m_.logic;
        Register r{name, false, Logic::unknown, next, 0, 0};
        for (const auto& [edge, what] : block.events) {
            const auto node = bits_.single(what, 0);
            const auto function = logic.function(node);
            const bool pin = function && function->inputs.size() == 1;
            const auto& input = pin ? function->inputs[0] : name;
            if (!pin || !logic.depends(next, input)) {  // nothing asks for its level: the clock
                if (r.clock == Logic::unknown) r.clock = edge == Edge::rise ? node : logic.invert(node);
                continue;
            }
            const bool high = (edge == Edge::rise) == function->eval(1);
            const auto then = logic.value(logic.with(r.next, input, high));
            if (then)
                (*then ? r.preset : r.clear) =
                    logic.either(*then ? r.preset : r.clear, edge == Edge::rise ? node : logic.invert(node));
            r.next = logic.with(r.next, input, !high);
        }
        m_.registers.push_back(r);
    }

    Cursor& c_;
    const Primitives& primitives_;
    Model m_;
    Constants constants_;
    Bits bits_;
    std::vector<Block> blocks_;
    std::vector<Instance> instances_;
};

}  // namespace

std::vector<std::string> Model::bits(const std::string& net) const {
    const auto at = nets.find(net);
    if (at == nets.end() || !at->second.vector) return {net};
    std::vector<std::string> out;
    for (int i = 0; i < at->second.width(); ++i) out.push_back(net + "[" + std::to_string(at->second.index(i)) + "]");
    return out;
}

Model read_model(Cursor& c, const Primitives& primitives) {
    return Reader(c, primitives).read();
}

}  // namespace kp::models
