// SPDX-License-Identifier: GPL-3.0-or-later
// Synthesizable Verilog (IEEE 1364-2005) and the common part of SystemVerilog (IEEE 1800-2017) after parsing: what was
// written, with places, and nothing worked out yet.
#pragma once

#include "core/base/result.hpp"

#include <cstdint>
#include <map>
#include <memory>
#include <set>
#include <string>
#include <vector>

namespace kp::source {

struct SourcePlace {
    std::uint32_t file = 0;  ///< position in Code::files
    int line = 0;
};

/// A number as written (clause 3.5): digits of '0', '1', 'x', 'z', highest first.
struct Literal {
    std::string bits;
    bool sized = false, is_signed = false;
    bool cut = false;   ///< it was written with more digits than its size holds
    bool fill = false;  ///< '0, '1, 'x, 'z: one digit that fills whatever width is asked for
};

struct Expr {
    enum Kind : std::uint8_t {
        number,
        name,
        text,       ///< a string
        index,      ///< of what [at]
        part,       ///< of what [high : low]
        part_up,    ///< of what [from +: width]
        part_down,  ///< of what [from -: width]
        unary,
        binary,
        choice,
        concat,
        repeat,  ///< how often, then what
        call     ///< a function by name, or a system function such as $signed
    };
    Kind kind = number;
    std::string word;  ///< name, operator, text
    Literal value;
    std::vector<Expr> args;
    SourcePlace place;
};

struct Range {
    Expr left, right;
};

struct DataType {
    bool is_signed = false;
    int fixed_width = 0;  ///< of int, byte and the like; 0: by `ranges`
    std::vector<Range> ranges;
    std::string named;  ///< a typedef
};

struct Declaration {
    enum Kind : std::uint8_t { net, variable, parameter, local_parameter, genvar } kind = net;
    enum Direction : std::uint8_t { none, in, out, both } direction = none;
    std::string name;
    DataType type;
    bool typed = false;  ///< a parameter with a type of its own
    std::vector<Range> words;
    std::vector<Expr> initial;  ///< none or one
    SourcePlace place;
};

struct Statement {
    enum Kind : std::uint8_t {
        block,
        choose,   ///< exprs[0] ? parts[0] : parts[1]
        select,   ///< case: exprs[0], labels[k] with parts[k]; empty labels are the default
        loop,     ///< parts[0]; while exprs[0] { parts[2]; parts[1] }
        repeat,   ///< exprs[0] times parts[0]
        assign,   ///< exprs[0] = exprs[1]
        declare,  ///< `locals`
        nothing
    };
    Kind kind = nothing;
    std::string word;  ///< case, casez, casex; name of a block
    bool blocking = true;
    std::vector<Statement> parts;
    std::vector<Expr> exprs;
    std::vector<std::vector<Expr>> labels;
    std::vector<Declaration> locals;
    SourcePlace place;
};

struct Function {
    std::string name;
    DataType type;
    std::vector<Declaration> arguments, locals;
    Statement body;
    SourcePlace place;
};

struct Event {
    enum Edge : std::uint8_t { any, rise, fall } edge = any;
    Expr of;
};

struct Connection {
    std::string name;         ///< empty: by order
    std::vector<Expr> value;  ///< none: open
    bool by_name = false;     ///< .name without a value: the signal of that name
    SourcePlace place;
};

struct Item {
    enum Kind : std::uint8_t { declare, assign, always, initial, instance, loop, choose, select, function, type };
    Kind kind = declare;
    std::string word;  ///< always, always_comb …; module of an instance; name of a type
    std::string name;  ///< of an instance, a block, a loop's variable
    std::vector<Declaration> declarations;
    std::vector<Expr> exprs;      ///< assign: pairs; loop: first, condition, next; choose and select: condition
    std::vector<Event> events;    ///< of always; none: everything it reads
    std::vector<Statement> body;  ///< none or one
    bool all_wildcard = false;    ///< every connection that is not named: .*
    std::vector<Connection> parameters, connections;
    std::vector<std::vector<Item>> branches;  ///< loop: one; choose: one or two; select: one each
    std::vector<std::string> branch_names;
    std::vector<std::vector<Expr>> labels;  ///< of select
    std::shared_ptr<Function> function_of;
    DataType data_type;               ///< of type
    std::vector<Declaration> values;  ///< of an enumeration
    SourcePlace place;
};

struct Module {
    std::string name;
    std::vector<Declaration> parameters, ports;
    std::vector<std::string> port_order;
    std::vector<Item> items;
    SourcePlace place;
};

/// All modules of some texts.
struct DesignText {
    std::vector<std::string> files;
    std::map<std::string, Module> modules;
    std::vector<std::string> order;  ///< names as they were read
    /// Modules that cannot be read and that nothing is built from, such as test benches: why, by name.
    std::map<std::string, Message> aside;
    std::set<std::string> bare;  ///< of those, the ones without ports
    std::vector<Item> outside;   ///< types, parameters and functions outside of modules
    std::vector<Message> notes;

    [[nodiscard]] Message at(SourcePlace place, Severity severity, Code code, std::string text) const {
        return {severity, code, std::move(text), place.file < files.size() ? files[place.file] : "", place.line, 0};
    }
};

}  // namespace kp::source
