// SPDX-License-Identifier: GPL-3.0-or-later
// Structural Verilog: IEEE 1364-2005, clauses 12.1 (modules), 12.3 (ports), 4 (nets), 6.1 (assign, as alias only).
#include "core/base/ranges.hpp"
#include "core/base/text.hpp"
#include "core/hdl/verilog/netlist_ast.hpp"
#include "core/hdl/verilog/scan.hpp"
#include "core/base/said.hpp"

#include <iterator>
#include <set>
#include <utility>

namespace kp::verilog {

namespace {

// A bus wider than this is not a bus of a package or a cell; the limit keeps `wire [999999999:0]` from filling memory.
constexpr int widest = 1 << 16;
// Repetitions inside repetitions could otherwise multiply without end.
constexpr size_t longest_constant = 1 << 16;
constexpr size_t most_errors = 20;

const std::set<std::string_view> behavioural{
    "always", "initial", "reg",  "function", "task",    "generate",  "if",        "case",        "for",  "while",
    "event",  "integer", "real", "time",     "specify", "primitive", "always_ff", "always_comb", "logic"};

class Parser {
public:
    Parser(std::string_view text, const std::string& file, int id, std::vector<Module>& modules)
        : text_(text), file_(file), id_(id), modules_(modules), scan_(text) {
        advance();
    }

    std::vector<Message> run() {
        while (token_.kind != Token::end && errors_.size() < most_errors) {
            if (token_.is("module") || token_.is("macromodule"))
                module();
            else {
                fail(said("'module' is expected here, not '{}'", shown()));
                recover("module");
            }
        }
        return std::move(errors_);
    }

private:
    void advance() { token_ = scan_.next(); }
    [[nodiscard]] std::string shown() const {
        return token_.kind == Token::end ? "the end of the file" : std::string(token_.text.substr(0, 40));
    }
    void fail_at(size_t offset, std::string text) {
        if (broken_) return;
        broken_ = true;
        const auto place = place_of(text_, offset);
        errors_.push_back({Severity::stop, Code::syntax, std::move(text) + ".", file_, place.line, place.column});
    }
    void fail(std::string text) { fail_at(token_.offset, std::move(text)); }
    bool take(char symbol) {
        if (!token_.is(symbol)) return false;
        advance();
        return true;
    }
    bool take(std::string_view word) {
        if (!token_.is(word)) return false;
        advance();
        return true;
    }
    bool expect(char symbol, const char* where) { return take(symbol) || missing(std::string(1, symbol), where); }
    bool expect(std::string_view word, const char* where) { return take(word) || missing(std::string(word), where); }
    bool missing(const std::string& what, const char* where) {
        if (token_.kind == Token::end)
            fail(said("The file ends where '{}' is expected {}; it seems to be cut off", what, where));
        else
            fail(said("'{}' is expected {}, not '{}'", what, where, shown()));
        return false;
    }
    std::string_view name(const char* what) {
        const auto text = token_.text;
        if (token_.is_name()) {
            advance();
            return text;
        }
        if (token_.kind == Token::end)
            fail(said("The file ends where {} is expected; it seems to be cut off", what));
        else
            fail(said("The name of {} is expected, not '{}'", what, shown()));
        return {};
    }
    /// After an error: on to the next `word`, or behind the next ';' when that is the word.
    void recover(std::string_view word) {
        while (token_.kind != Token::end && !token_.is(word)) advance();
        if (word == ";") take(';');
        broken_ = false;
    }

    int integer() {
        const auto value = token_.kind == Token::number ? to_integer(token_.text) : std::nullopt;
        if (!value || *value < 0 || *value > 1000000) {
            fail(said("A whole number is expected, not '{}'", shown()));
            return 0;
        }
        advance();
        return static_cast<int>(*value);
    }

    bool range(int& left, int& right) {
        if (!take('[')) return false;
        left = integer();
        expect(':', "in a range");
        right = integer();
        expect(']', "after a range");
        if (distance_of(left, right) >= widest) fail("A range of more than 65536 bits is not read");
        return !broken_;
    }

    std::uint32_t net_id(std::string_view n) {
        look_up();
        return net_id(n, NameTable::hash_of(n));
    }
    std::uint32_t net_id(std::string_view n, std::uint64_t hash) {
        const auto id = m_->net_names.add(n, hash);
        if (id == m_->nets.size()) {
            m_->nets.push_back(Net{.name = n});
            m_->declared.push_back(false);
            m_->buses.push_back(false);
        }
        return id;
    }

    /// The wire of the last slice, looked up some wires later: by then memory has brought what it takes. Wires keep the
    /// order in which they are named.
    void look_up_later(std::string_view n) {
        if (waiting_ == names_ahead) look_up();
        const auto hash = NameTable::hash_of(n);
        m_->net_names.expect(hash);
        wires_[waiting_++] = {n, hash, static_cast<std::uint32_t>(m_->slices.size() - 1)};
    }
    void look_up() {
        const size_t count = std::exchange(waiting_, 0);
        for (size_t i = 0; i < count; ++i) {
            auto& slice = m_->slices[wires_[i].slice];
            slice.item = net_id(wires_[i].name, wires_[i].hash);
            if (slice.kind == Slice::whole) m_->declared[slice.item] = true;
        }
    }
    Net& declare(std::string_view n) {
        const auto id = net_id(n);
        m_->declared[id] = true;
        return m_->nets[id];
    }

    void make_bus(Net& net, int left, int right) {
        net.vector = true;
        net.left = left;
        net.right = right;
        m_->buses[static_cast<size_t>(&net - m_->nets.data())] = true;
    }

    void module() {
        advance();
        m_ = &modules_.emplace_back();
        m_->file = id_;
        m_->offset = token_.offset;
        m_->name = name("a module");
        if (take('#')) {
            expect('(', "after '#'");
            for (int depth = 1; depth > 0 && token_.kind != Token::end; advance())
                depth += token_.is('(') ? 1 : token_.is(')') ? -1 : 0;
        }
        if (!broken_ && take('(')) port_list();
        if (!broken_) expect(';', "after the module's head");
        make_room();
        const size_t good = errors_.size();
        while (token_.kind != Token::end && !token_.is("endmodule") && errors_.size() < most_errors) {
            if (!broken_) item();
            if (broken_ && m_->port_order.empty()) {
                // A test bench: what it says does not concern the netlist.
                errors_.resize(good);
                m_->set_aside = true;
                waiting_ = 0;
                m_->instances.clear();
                m_->assigns.clear();
                m_->connections.clear();
                m_->slices.clear();
                recover("endmodule");
            }
            if (broken_) recover(";");
        }
        look_up();
        if (token_.kind == Token::bad) fail("There is " + shown());
        if (!broken_) expect("endmodule", ("in module " + std::string(m_->name)).c_str());
        broken_ = false;
    }

    /// Address space for what a module of this size may hold; pages that are not written cost nothing, and growing
    /// would copy all.
    void make_room() {
        constexpr size_t worth_it = 1 << 20;
        const size_t bytes = text_.find("endmodule", token_.offset) - token_.offset;
        if (bytes < worth_it || bytes > text_.size()) return;
        m_->slices.reserve(bytes / 12);
        m_->connections.reserve(bytes / 12);
        m_->instances.reserve(bytes / 40);
        m_->nets.reserve(bytes / 40);
        m_->net_names.reserve(bytes / 100, bytes / 10);
    }

    static bool direction(std::string_view word, Direction& d) {
        if (word == "input")
            d = Direction::in;
        else if (word == "output")
            d = Direction::out;
        else if (word == "inout")
            d = Direction::inout;
        else
            return false;
        return true;
    }

    void port_list() {
        Direction d = Direction::in;
        bool ansi = false, vector = false;
        int left = 0, right = 0;
        while (!broken_ && !token_.is(')')) {
            if (token_.kind == Token::word && direction(token_.text, d)) {
                ansi = true;
                advance();
                if (token_.is("wire") || token_.is("tri")) advance();
                vector = range(left, right);
            }
            const auto n = name("a port");
            if (broken_) return;
            m_->port_order.push_back(n);
            if (ansi) declare_port(n, d, vector, left, right);
            if (!take(',')) break;
        }
        expect(')', "after the ports");
    }

    void declare_port(std::string_view n, Direction d, bool vector, int left, int right) {
        auto& p = declare(n);
        p.is_port = true;
        p.direction = d;
        if (vector) make_bus(p, left, right);
    }

    void item() {
        Direction d{};
        if (take(';')) return;
        if (token_.kind == Token::bad) {
            fail("There is " + shown());
            advance();
            return;
        }
        // No keyword begins with a capital, as most cells do.
        if (token_.kind == Token::escaped ||
            (token_.kind == Token::word && (token_.text[0] < 'a' || token_.text[0] > 'w')))
            return instances();
        if (token_.kind == Token::word && direction(token_.text, d)) return port_declaration(d);
        if (token_.is("wire") || token_.is("tri") || token_.is("wand") || token_.is("wor") || token_.is("supply0") ||
            token_.is("supply1"))
            return net_declaration();
        if (token_.is("assign")) return assign();
        if (token_.is("parameter") || token_.is("localparam")) return recover(";");
        if (token_.kind == Token::word && behavioural.contains(token_.text))
            return fail(
                said("'{}' is behavioural code; a netlist holds only instances and aliases. Read a synthesised netlist "
                     "instead",
                     shown()));
        instances();
    }

    void port_declaration(Direction d) {
        advance();
        if (token_.is("wire") || token_.is("tri")) advance();
        int left = 0, right = 0;
        const bool vector = range(left, right);
        do {
            const auto n = name("a port");
            if (broken_) return;
            declare_port(n, d, vector, left, right);
        } while (take(','));
        expect(';', "after a port declaration");
    }

    void net_declaration() {
        const int constant = token_.is("supply0") ? 0 : token_.is("supply1") ? 1 : -1;
        advance();
        int left = 0, right = 0;
        const bool vector = range(left, right);
        do {
            const size_t offset = token_.offset;
            const auto n = name("a wire");
            if (broken_) return;
            auto& w = declare(n);
            if (vector && !w.is_port) make_bus(w, left, right);
            w.constant = static_cast<std::int8_t>(constant);
            if (take('=')) {
                Assign a{.left = {static_cast<std::uint32_t>(m_->slices.size()), 1}, .right = {}, .offset = offset};
                m_->slices.push_back({Slice::whole, net_id(n), 0, 0});
                expression(a.right);
                m_->assigns.push_back(a);
            }
        } while (!broken_ && take(','));
        expect(';', "after a wire declaration");
    }

    void assign() {
        advance();
        do {
            Assign a;
            a.offset = token_.offset;
            expression(a.left);
            expect('=', "in an assign");
            expression(a.right);
            if (!broken_ && !token_.is(';') && !token_.is(','))
                fail(
                    said("'{}' makes this assign an expression; a netlist holds only aliases. Read a synthesised "
                         "netlist instead",
                         shown()));
            m_->assigns.push_back(a);
        } while (!broken_ && take(','));
        expect(';', "after an assign");
    }

    /// 4'b10x1, 16'h7f80, 'd3, 12: bits, highest first.
    std::string constant_bits() {
        const auto text = token_.text;
        const auto quote = text.find('\'');
        if (quote == std::string_view::npos) {
            const auto value = to_integer(text);
            if (!value || *value < 0 || *value > 0xFFFFFFFFLL)
                fail(said("The number '{}' is not understood here", shown()));
            std::string bits(32, '0');
            for (int i = 0; value && i < 32; ++i) bits[static_cast<size_t>(31 - i)] = ((*value >> i) & 1) ? '1' : '0';
            return bits;
        }
        const auto size = quote == 0 ? std::optional<long long>(32) : to_integer(text.substr(0, quote));
        const char base = quote + 1 < text.size() ? static_cast<char>(text[quote + 1] | 0x20) : ' ';
        const int step = base == 'b' ? 1 : base == 'o' ? 3 : base == 'h' ? 4 : 0;
        std::string bits;
        const auto digits = trim(text.substr(std::min(text.size(), quote + 2)));
        if (base == 'd') {
            const auto value = to_integer(digits).value_or(0);
            for (int i = 62; i >= 0; --i) bits += ((value >> i) & 1) ? '1' : '0';
        }
        for (const char c : digits) {
            if (step == 0 || c == '_') continue;
            const char d = static_cast<char>(c | 0x20);
            const bool unknown = d == 'x' || d == 'z' || c == '?';
            const int v = d >= '0' && d <= '9' ? d - '0' : d >= 'a' && d <= 'f' ? d - 'a' + 10 : 0;
            for (int i = step - 1; i >= 0; --i) bits += unknown ? (d == 'x' ? 'x' : 'z') : ((v >> i) & 1) ? '1' : '0';
        }
        if (!size || *size < 1 || *size > static_cast<long long>(longest_constant) || (step == 0 && base != 'd')) {
            fail(said("The constant '{}' is not understood", shown()));
            return "0";
        }
        const auto width = static_cast<size_t>(*size);
        if (bits.size() > width) bits.erase(0, bits.size() - width);
        return std::string(width - bits.size(), '0') + bits;
    }

    void term() {
        Slice s;
        if (token_.kind == Token::number) {
            s.kind = Slice::constant;
            s.item = static_cast<std::uint32_t>(m_->constants.size());
            m_->constants.push_back(constant_bits());
            m_->slices.push_back(s);
            return advance();
        }
        const auto n = name("a wire");
        if (broken_) return;
        s.item = net_id(n);
        if (take('[')) {
            s.kind = Slice::part;
            s.left = s.right = integer();
            if (take(':')) s.right = integer();
            expect(']', "after a bit");
        }
        m_->slices.push_back(s);
    }

    void expression(Expression& out) {
        out.first = static_cast<std::uint32_t>(m_->slices.size());
        if (token_.is('{'))
            concatenation();
        else
            term();
        out.count = static_cast<std::uint32_t>(m_->slices.size()) - out.first;
    }

    /// Concatenations may nest; the stack of repeat counts stands in for recursion.
    void concatenation() {
        struct Open {
            size_t from;
            int times;
        };
        std::vector<Open> open;
        auto& out = m_->slices;
        do {
            while (!broken_ && token_.is('{')) {
                advance();
                open.push_back({out.size(), 1});
                if (open.size() > 100) return fail("Braces nest too deeply");
                if (token_.kind != Token::number) continue;
                const Token count = token_;
                const Scanner before = scan_;
                advance();
                if (!token_.is('{')) {  // not a repetition after all: a constant at the front
                    token_ = count;
                    scan_ = before;
                    continue;
                }
                const auto times = to_integer(count.text);
                if (!times || *times < 1 || *times > 65536)
                    return fail_at(count.offset, "A repetition of 1 to 65536 is expected");
                open.back().times = static_cast<int>(*times);
            }
            if (broken_) return;
            term();
            while (!broken_ && !open.empty() && token_.is('}')) {
                advance();
                const auto [from, times] = open.back();
                open.pop_back();
                const size_t n = out.size() - from;
                if (n * static_cast<size_t>(times) > longest_constant)
                    return fail("A repetition of more than 65536 pieces is not read");
                for (size_t k = 1; k < static_cast<size_t>(times); ++k)
                    for (size_t i = 0; i < n; ++i) {
                        const Slice copy = out[from + i];
                        out.push_back(copy);
                    }
            }
        } while (!broken_ && !open.empty() && take(','));
        if (!broken_ && !open.empty()) expect('}', "after a concatenation");
    }

    void parameters() {
        expect('(', "after '#'");
        for (int n = 0; !broken_ && !token_.is(')'); ++n) {
            // By order: as in the standard, an instance has few of them.
            static constexpr std::string_view places[] = {
                "0",  "1",  "2",  "3",  "4",  "5",  "6",  "7",  "8",  "9",  "10", "11", "12", "13", "14", "15",
                "16", "17", "18", "19", "20", "21", "22", "23", "24", "25", "26", "27", "28", "29", "30", "31"};
            const bool named = take('.');
            if (!named && n >= static_cast<int>(std::size(places)))
                return fail("More than 32 parameters by order are not read; name them");
            std::string_view key = named ? std::string_view() : places[n];
            if (named) {
                key = name("a parameter");
                expect('(', "after a parameter");
            }
            const size_t from = token_.offset;
            size_t to = from;
            for (int depth = 0;
                 token_.kind != Token::end && (depth > 0 || !(token_.is(')') || (!named && token_.is(','))));
                 advance()) {
                if (token_.is('(') || token_.is('{') || token_.is('[')) ++depth;
                if (token_.is(')') || token_.is('}') || token_.is(']')) --depth;
                to = token_.offset + token_.text.size() + (token_.kind == Token::quoted ? 2 : 0);
            }
            m_->parameters.emplace_back(key, trim(text_.substr(from, to - from)));
            if (named) expect(')', "after a parameter's value");
            if (!take(',')) break;
        }
        expect(')', "after the parameters");
    }

    void instances() {
        const size_t offset = token_.offset;
        const auto type = name("a cell or module");
        if (broken_) return;
        const auto first_parameter = static_cast<std::uint32_t>(m_->parameters.size());
        if (take('#')) parameters();
        do {
            Instance i;
            i.type = type;
            i.first_parameter = first_parameter;
            i.parameters = static_cast<std::uint32_t>(m_->parameters.size()) - first_parameter;
            i.offset = offset;
            i.name = name("an instance");
            if (!broken_ && token_.is('[')) return fail("Arrays of instances are not read in a netlist");
            if (!broken_) connections(i);
            if (broken_) return;
            m_->instances.push_back(i);
        } while (take(','));
        expect(';', "after an instance");
    }

    /// Most connections are ".PIN(wire)" or ".PIN(bus[3])" without blanks between: seen in one look at the text. Leaves
    /// all as it is when this is another kind.
    bool plain_connection(Connection& c) {
        const auto word = [&](size_t& at) {
            const size_t from = at;
            if (at < text_.size() && Scanner::begins_name(text_[at]))
                while (at < text_.size() && Scanner::is_in_name(text_[at])) ++at;
            return text_.substr(from, at - from);
        };
        const auto take_char = [&](size_t& at, char wanted) {
            return at < text_.size() && text_[at] == wanted ? (++at, true) : false;
        };
        size_t at = scan_.offset();
        const auto pin = word(at);
        if (pin.empty() || !take_char(at, '(')) return false;
        const auto wire = word(at);
        if (wire.empty()) return false;
        Slice s;
        if (take_char(at, '[')) {
            size_t digits = 0;
            for (; at < text_.size() && text_[at] >= '0' && text_[at] <= '9' && digits < 6; ++at, ++digits)
                s.left = s.left * 10 + (text_[at] - '0');
            if (digits == 0 || !take_char(at, ']')) return false;
            s.kind = Slice::part;
            s.right = s.left;
        }
        if (!take_char(at, ')')) return false;
        c.pin = m_->pin_names.add(pin);
        c.value = {static_cast<std::uint32_t>(m_->slices.size()), 1};
        m_->slices.push_back(s);
        look_up_later(wire);
        scan_.go_to(at);
        advance();
        return true;
    }

    void connection(Connection& c) {
        if (take('.')) {
            c.pin = m_->pin_names.add(name("a pin"));
            expect('(', "after a pin's name");
            c.open = token_.is(')');
            if (!c.open) expression(c.value);
            expect(')', "after a connection");
        } else {
            c.open = token_.is(',');
            if (!c.open) expression(c.value);
        }
        // IEEE 1364-2005, 4.5: a name nobody declared is a scalar wire when it stands in a connection.
        for (auto s = c.value.first; s < c.value.first + c.value.count; ++s)
            if (m_->slices[s].kind == Slice::whole) m_->declared[m_->slices[s].item] = true;
    }

    void connections(Instance& instance) {
        instance.first_connection = static_cast<std::uint32_t>(m_->connections.size());
        if (!expect('(', "after the instance's name")) return;
        while (!broken_ && !token_.is(')')) {
            Connection c;
            if (!token_.is('.') || !plain_connection(c)) connection(c);
            m_->connections.push_back(c);
            if (!take(',')) break;
        }
        instance.connections = static_cast<std::uint32_t>(m_->connections.size()) - instance.first_connection;
        expect(')', "after the connections");
    }

    std::string_view text_;
    std::string file_;
    int id_;
    std::vector<Module>& modules_;
    Scanner scan_;
    Token token_;
    Module* m_ = nullptr;
    static constexpr size_t names_ahead = 32;
    struct Wire {
        std::string_view name;
        std::uint64_t hash = 0;
        std::uint32_t slice = 0;
    };
    Wire wires_[names_ahead];  ///< named and not yet looked up
    size_t waiting_ = 0;
    bool broken_ = false;
    std::vector<Message> errors_;
};

}  // namespace

std::vector<Message> parse_modules(std::string_view text, const std::string& file, int file_id,
                                   std::vector<Module>& modules) {
    return Parser(text, file, file_id, modules).run();
}

}  // namespace kp::verilog
