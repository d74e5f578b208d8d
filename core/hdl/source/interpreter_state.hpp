// SPDX-License-Identifier: GPL-3.0-or-later
// What an interpreter holds: variables as plain bits, and the things that run.
#pragma once

#include "core/hdl/source/interpreter.hpp"

#include <deque>
#include <optional>
#include <set>

namespace kp::source {

struct Interpreter::State {
    using Bits = std::vector<std::uint8_t>;  ///< lowest first
    struct Kind {
        int left = 0, right = 0;
        bool vector = false, is_signed = false;
        [[nodiscard]] int width() const { return (left > right ? left - right : right - left) + 1; }
    };
    struct Variable {
        Kind kind;
        int first_word = 0, words = 0;
        Bits bits;
        std::uint64_t version = 1;  ///< rises with every change
    };
    struct Number {
        Bits bits;
        bool is_signed = false;
        std::string wild;  ///< per bit, lowest first: '?' where a label does not look; empty: none
    };
    struct Frame {
        Frame* parent = nullptr;
        std::map<std::string, Variable*> variables;
        std::map<std::string, Number> constants;
        std::map<std::string, std::pair<std::shared_ptr<Function>, Frame*>> functions;
        std::map<std::string, Kind> types;
    };
    /// Bits of a variable, from the lowest on; from -1 they are outside of it.
    struct Slice {
        Variable* of;
        long at, count;
    };
    using Target = std::vector<Slice>;  ///< lowest first
    static int width_of(const Target& t) {
        long sum = 0;
        for (const auto& s : t) sum += s.count;
        return static_cast<int>(sum);
    }
    struct Runner {
        enum Type : std::uint8_t { assign, always, into, out_of } type = assign;
        const Item* item = nullptr;
        const Expr *left = nullptr, *right = nullptr;  ///< of an assign; of a port, what is connected
        Frame *frame = nullptr, *inner = nullptr;
        Variable* port = nullptr;
        std::vector<std::uint8_t> last;  ///< of a clocked one: the bits of its events
        bool clocked = false;
        bool looked = false, follows = false;  ///< what it reads is known; it follows that alone
        bool lost = false;                     ///< what it sets is nowhere
        std::vector<Variable*> reads;
        std::uint64_t seen = ~std::uint64_t{0};  ///< sum of their versions when it ran last
    };
    struct Late {
        Target to;
        Bits value;
    };

    /// What functions and blocks declare lives as long as one of these.
    struct Scratch {
        explicit Scratch(State& s) : state(s), frames(s.frames.size()), variables(s.variables.size()) {}
        ~Scratch() {
            state.frames.resize(frames);
            state.variables.resize(variables);
        }
        Scratch(const Scratch&) = delete;
        Scratch& operator=(const Scratch&) = delete;
        State& state;
        size_t frames, variables;
    };

    explicit State(const DesignText& c) : code(c) {}
    void fail(SourcePlace place, std::string text) {
        if (!error) error = code.at(place, Severity::stop, Code::interpreter, std::move(text));
    }

    static constexpr long long most_steps = 40'000'000, most_bits = 1 << 20;
    /// Counts work; false, with an error at `place`, when the source asks for more than one run may do.
    bool charge(long long work, SourcePlace place) {
        steps += work;
        if (steps > most_steps) fail(place, "This takes too long.");
        return !error;
    }
    /// A width as the source has it; 1, with an error, when it is none that is built.
    int bounded(long long width, SourcePlace place) {
        if (width >= 0 && width <= most_bits) return static_cast<int>(width);
        fail(place, "A value has at most a million bits.");
        return 1;
    }

    // unfolding
    void module(const Module& m, Frame& frame, const std::map<std::string, Number>& given);
    void declare(const Declaration& d, Frame& frame);
    void declaration(const Declaration& d, Frame& frame, const std::map<std::string, Number>& given);
    void first_value(const Declaration& d, Variable& v, Frame& frame);
    void parameter(const Declaration& d, Frame& frame, const std::map<std::string, Number>& given);
    void item(const Item& i, Frame& frame, const std::map<std::string, Number>& given);
    void instance(const Item& i, Frame& frame);
    void box(const Item& i, const std::map<std::string, bool>& pins, Frame& frame);
    Expr& made_name(const std::string& name);
    void generate(const Item& i, Frame& frame);
    Frame* child(Frame* parent);
    Kind kind_of(const DataType& t, Frame& frame);

    // values
    struct Want {
        int width;
        bool is_signed;
    };
    const Number* constant(const std::string& name, Frame& frame) const;
    Variable* variable(const std::string& name, Frame& frame) const;
    Want want_of(const Expr& e, Frame& frame);
    bool known_call(const Expr& e);
    int part_width(const Expr& e, Frame& frame);
    int repeated_width(const Expr& e, Frame& frame);
    Number eval(const Expr& e, Want want, Frame& frame);
    static Number number(const Expr& e, Want want);
    Number named(const Expr& e, Frame& frame);
    Number unary(const Expr& e, Want want, Frame& frame);
    Number joined(const Expr& e, Frame& frame);
    Bits shifted(const Expr& e, const Bits& a, bool is_signed, Frame& frame);
    bool compared(const Expr& e, Frame& frame);
    Number self(const Expr& e, Frame& frame) { return eval(e, want_of(e, frame), frame); }
    Number binary(const Expr& e, Want want, Frame& frame);
    Number call(const Expr& e, Frame& frame);
    Bits run_function(const Function& f, Frame& home, const std::vector<Expr>& args, Frame& frame);
    long long whole(const Expr& e, Frame& frame);
    bool truth(const Expr& e, Frame& frame);
    Target target(const Expr& e, Frame& frame);
    Bits read(const Target& t) const;
    static Bits resized(Bits b, int width, bool sign);
    static long long to_whole(const Number& n);

    // running
    void run(const Statement& s, Frame& frame);
    void run_case(const Statement& s, Frame& frame);
    void store(const Target& t, const Bits& value);
    void look_at(Runner& r);
    bool has_news(Runner& r);
    bool names_in(const Expr& e, bool with_base, Frame& frame, std::vector<Variable*>& out);
    bool pass();
    bool edges();

    /// The wires of an instance that is not run.
    struct BoxWires {
        std::map<std::string, const Expr*> inputs;
        std::map<std::string, Variable*> outputs;
        Frame* frame = nullptr;
    };

    const DesignText& code;
    Boxes known_boxes;
    std::vector<Box> boxes;
    std::vector<BoxWires> box_wires;
    std::deque<Expr> made_names;  ///< expressions for .name and .*
    std::optional<Message> error;
    std::deque<Frame> frames;
    std::deque<Variable> variables;
    std::deque<Runner> runners;
    std::vector<std::pair<const Item*, Frame*>> initials;
    std::vector<Late> late;
    std::vector<Port> ports;
    Frame* top = nullptr;
    bool changed = false;
    long long steps = 0;
    int depth = 0;
};

}  // namespace kp::source
