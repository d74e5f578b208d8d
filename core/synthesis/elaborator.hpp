// SPDX-License-Identifier: GPL-3.0-or-later
// The state of one elaboration. Values are bits of logic, a constant being logic that does not depend on anything, so
// parameters, loops and circuits are worked out by the same rules (IEEE 1364-2005, 5.4 and 5.5 for widths and signs).
#pragma once

#include "core/synthesis/elaborate.hpp"

#include <array>
#include <deque>
#include <functional>
#include <memory>
#include <optional>
#include <set>
#include <utility>

namespace kp::synthesis {

using source::Declaration;
using source::Expr;
using source::Item;
using source::SourcePlace;
using source::Statement;

/// What a range and a sign make of bits.
struct Shape {
    int left = 0, right = 0;
    bool vector = false, is_signed = false;
    [[nodiscard]] int width() const { return (left > right ? left - right : right - left) + 1; }
    /// Position of a written index, from the lowest bit; may lie outside.
    [[nodiscard]] long long position(long long index) const { return left >= right ? index - right : right - index; }
};

struct Value {
    Bits bits;
    bool is_signed = false;
    std::string odd;  ///< empty, or for each bit 'x', 'z' or '0' for one that is neither
    Bits drive;       ///< empty, or for each bit when it is driven at all

    [[nodiscard]] int width() const { return static_cast<int>(bits.size()); }
};

struct Signal {
    std::string name;
    Shape shape;
    int first_word = 0, words = 0;  ///< of an array; words 0: not an array
    bool words_fall = false;        ///< written [high : low]
    Bits bits;                      ///< wires, word by word; none of a local or a memory
    std::string initial;            ///< per bit '0', '1', 'x'
    bool local = false, loop_variable = false, is_port = false, variable = false, latch_told = false;
    int memory = -1;                                               ///< position in Mapping::memories
    Signal *write = nullptr, *address = nullptr, *data = nullptr;  ///< of a memory: what a process writes
    Signal* owner = nullptr;                                       ///< of such a `write`: the memory
    bool any_base = false;                                         ///< a value nobody gave may be anything
    SourcePlace place;
    size_t serial = 0;  ///< the order of all that follows from it

    [[nodiscard]] int width() const { return shape.width(); }
    [[nodiscard]] size_t size() const { return static_cast<size_t>(width()) * static_cast<size_t>(words ? words : 1); }
};

struct BySerial {
    bool operator()(const Signal* a, const Signal* b) const { return a->serial < b->serial; }
};
using SignalBits = std::map<Signal*, Bits, BySerial>;

struct Scope;

struct Symbol {
    enum Kind : std::uint8_t { constant, signal, function } kind = constant;
    Value value;
    Shape shape;
    Signal* of = nullptr;
    std::shared_ptr<source::Function> code;
    Scope* home = nullptr;
};

struct Scope {
    Scope* parent = nullptr;
    std::string path;  ///< with its dot, empty at the top
    std::map<std::string, Symbol> symbols;
    std::map<std::string, Shape> types;
    bool is_module = false;
};

/// What statements have set so far; a branch writes into a layer of its own.
struct Layer {
    SignalBits now, next;  ///< blocking, non-blocking
};
struct Process {
    std::vector<Layer> layers{1};
    bool clocked = false, initial = false;
    SignalBits kept;  ///< of a process without clock: what an unset bit would have to remember
};

struct Width {
    int bits = 1;
    bool is_signed = false;
};

/// A part of a signal or a constant: where it begins, maybe by a value of the circuit.
struct Select {
    Signal* of = nullptr;
    Value constant;  ///< when `of` is null
    Shape shape;
    std::optional<Value> word;  ///< of an array
    bool whole = true;          ///< the whole word
    long long low = 0;          ///< position of its lowest bit, when `from` is not given
    std::optional<Value> from;  ///< index of the lowest bit (or the highest, when `down`), as written
    bool down = false;
    int width = 1;
};

class Elaborator {
public:
    Elaborator(const source::DesignText& code, const Library& library, const ElaborateOptions& options)
        : code_(code), library_(library), options_(options) {}
    Result<Mapping> run();

private:
    // messages
    void fail(SourcePlace place, std::string text, Code code = Code::source);
    /// Counts work; false, with an error, when it is more than a design that fits a part needs.
    bool spend(SourcePlace place, size_t work);
    void find(SourcePlace place, Severity severity, Code code, std::string text);
    [[nodiscard]] bool bad() const { return error_.has_value(); }

    // modules (elaborate.cpp, instances.cpp)
    /// The bits of a port as the module sees them: what is connected to it.
    using Binder = std::function<Bits(const Declaration& port, const Shape& shape)>;
    const source::Module* top();
    void module(const source::Module& m, Scope& scope, const std::map<std::string, Value>& parameters,
                const Binder& bind);
    Bits top_port(const Declaration& d, const Shape& shape);
    void declare_port(const Declaration& d, Scope& scope);
    std::map<std::string, Value> top_parameters();
    void declare_all(const std::vector<Item>& items, Scope& scope, const std::map<std::string, Value>& parameters);
    void declare_item(const Item& item, Scope& scope, const std::map<std::string, Value>& parameters);
    void declare_type(const Item& item, Scope& scope);
    void unfold(const Item& item, Scope& scope);
    void unfold_loop(const Item& item, Scope& scope);
    void unfold_branch(const Item& item, size_t which, const std::string& name, Scope& scope);
    void parameter(const Declaration& d, Scope& scope, const std::map<std::string, Value>& given);
    Signal* declare(const Declaration& d, Scope& scope, const Bits* bits = nullptr);
    void redeclare(const Declaration& d, Symbol& known, Scope& scope);
    void make_memory(Signal& s);
    Signal* local(const std::string& name, const Shape& shape, SourcePlace place);
    Shape shape_of(const source::DataType& type, Scope& scope, SourcePlace place);
    Scope* child(Scope& parent, const std::string& name, bool is_module);
    void work(const Item& item, Scope& scope);
    void first_values(const std::vector<Declaration>& declarations, Scope& scope);
    void instance(const Item& item, Scope& scope);
    void box(const Item& item, const LibraryCell& cell, Scope& scope);
    void box_pins(Box& box, const LibraryCell& cell, const std::string& pin, const Expr& e, Scope& scope);
    void box_pin(Box& box, const LibraryPin& pin, Lit outer, SourcePlace place);
    using Connected = std::map<std::string, std::optional<Expr>>;  ///< by port; nothing: open
    Connected connections(const Item& item, const std::vector<std::string>& names, Scope& scope);
    Bits port_in(const std::string& name, int width, const Expr& e, Scope& scope);
    Bits port_out(const std::string& name, int width, const Expr& e, Scope& scope);
    std::optional<Bits> wires_of(const Expr& e, Scope& scope);
    std::optional<std::uint32_t> top_port_of(Lit wire) const;
    void undriven();
    void drive(Lit wire, Lit by, Lit enable, SourcePlace place);
    std::string name_of(Lit wire) const;

    // what arrays are used for (array_use.cpp)
    struct ArrayUse {
        bool initial = false, always = false;
        int writes = 0;
        bool plain = true;
    };
    void look_at_arrays(const std::vector<Item>& items, std::map<std::string, ArrayUse>& out);
    static void look_at(const Statement& s, bool initial, bool clocked, std::map<std::string, ArrayUse>& out);

    // values (values.cpp, arithmetic.cpp)
    Symbol* lookup(const std::string& name, Scope& scope, SourcePlace place);
    Symbol* lookup_function(const Expr& e, Scope& scope);
    Width width_of(const Expr& e, Scope& scope);
    Width width_of_call(const Expr& e, Scope& scope);
    Value self(const Expr& e, Scope& scope);
    Value value(const Expr& e, Width as, Scope& scope);
    Value number(const Expr& e, Width as);
    Value unary(const Expr& e, Width as, Scope& scope);
    Value binary(const Expr& e, Width as, Scope& scope);
    Value compare(const Expr& e, Scope& scope);
    Value shift(const Expr& e, Width as, Scope& scope);
    Value choice(const Expr& e, Width as, Scope& scope);
    Value joined(const Expr& e, Scope& scope);
    Value call(const Expr& e, Scope& scope);
    Value system_call(const Expr& e, Scope& scope);
    Value function(const Expr& e, Symbol& s, Scope& scope);
    std::optional<Select> select(const Expr& e, Scope& scope);
    void select_part(const Expr& e, Select& s, Scope& scope);
    void look_inside(const Expr& e, const Select& s);
    Value read(const Select& s, SourcePlace place);
    Bits whole_of(Signal& s, SourcePlace place);
    Bits word_of(Signal& s, const Value& word, SourcePlace place);
    Lit truth(const Expr& e, Scope& scope);
    long long constant_or_fail(const Expr& e, Scope& scope, const char* what);
    Value assigned(const Expr& e, int width, Scope& scope);
    static Value fit(Value v, int width, bool sign);
    static std::optional<long long> number_in(const Value& v);

    Lit pick(std::span<const Lit> at, std::span<const Lit> of);
    Bits add(const Bits& a, const Bits& b, Lit carry, Lit* out = nullptr);
    Bits negate(const Bits& a);
    Bits multiply(const Bits& a, const Bits& b);
    Bits divide(const Bits& a, const Bits& b, bool sign, bool rest, SourcePlace place);
    Bits power(const Bits& a, const Bits& b, SourcePlace place);
    Lit less(const Bits& a, const Bits& b, bool sign);
    Lit equal(const Bits& a, const Bits& b);
    Lit is_index(const Value& v, long long index);

    // statements (statements.cpp, processes.cpp)
    void always(const Item& item, Scope& scope);
    void clocked(const Item& item, Scope& scope);
    void unclocked(const Item& item, Scope& scope);
    void initial(const Item& item, Scope& scope);
    struct Async {
        Lit when = zero;
        SignalBits values;
    };
    const Statement* asynchronous(const Item& item, Scope& scope, std::vector<Lit>& events, std::vector<Async>& out);
    /// Runs the statements of one process: what the signals it sets come to in the end.
    SignalBits outcome(Process& p, const Statement& body, Scope& scope);
    void registers(SignalBits all, Lit clock, const std::vector<Async>& asyncs, SourcePlace place);
    void memory_write(Signal& s, const SignalBits& all, Lit clock, SourcePlace place);
    void latch(Signal& s, size_t bit, Lit value, Lit kept, std::uint32_t from, const Item& item);
    Lit with(Lit of, Lit source, Lit value, std::uint32_t from, std::unordered_map<std::uint32_t, Lit>& done);
    std::vector<bool> remembering(const Process& p, std::uint32_t from) const;
    void run(const Statement& s, Scope& scope);
    void run_block(const Statement& s, Scope& scope);
    void run_choice(const Statement& s, Scope& scope);
    void run_select(const Statement& s, Scope& scope);
    bool run_table(const Statement& s, const Value& at, const std::vector<std::vector<Value>>& labels, Scope& scope);
    void run_chain(const Statement& s, const std::vector<Lit>& when, Scope& scope);
    static bool covers_all(const Value& at, const std::vector<std::vector<Value>>& labels);
    void run_declare(const Statement& s, Scope& scope);
    void run_loop(const Statement& s, Scope& scope);
    void run_assign(const Statement& s, Scope& scope);
    Lit label_match(const Value& at, const Value& label, const std::string& kind);
    void store(const Select& s, const Value& v, bool blocking, SourcePlace place);
    void store_memory(const Select& s, const Value& v, SourcePlace place);
    [[nodiscard]] const Bits* known(Signal& s, bool blocking) const;
    Bits current(Signal& s, bool blocking);
    Bits so_far(Signal& s, bool blocking);
    Bits base(Signal& s);
    void put(Signal& s, Bits bits, bool blocking);
    Layer branch(const Statement& s, Scope& scope);
    void merge(std::span<const Lit> when, std::vector<Layer>& layers);
    void merge_table(std::span<const Lit> at, const std::vector<size_t>& arm_of, std::vector<Layer>& layers);
    static std::vector<Signal*> set_in(const std::vector<Layer>& layers, bool blocking);
    /// What each layer makes of a signal, and behind them what it was before.
    std::vector<Bits> versions(Signal& s, const std::vector<Layer>& layers, bool blocking);

    const source::DesignText& code_;
    const Library& library_;
    const ElaborateOptions& options_;
    Mapping m_;
    Gates& g_ = m_.gates;
    std::optional<Message> error_;
    std::deque<Scope> scopes_;
    std::deque<Signal> signals_;
    Scope outside_;
    struct Work {
        const Item* item;
        Scope* scope;
    };
    std::deque<Work> work_;
    const Binder* bind_ = nullptr;
    Process* process_ = nullptr;
    std::map<std::string, ArrayUse> arrays_;
    std::unordered_map<std::uint32_t, SourcePlace> driven_;    ///< by wire
    std::unordered_map<std::uint32_t, std::uint32_t> pad_of_;  ///< wires and sources that are a port of the top
    std::set<const source::Function*> calling_;
    std::vector<const source::Module*> inside_;
    size_t steps_ = 0;
    SourcePlace work_place_;  ///< of the expression that is being worked out
};

}  // namespace kp::synthesis
