// SPDX-License-Identifier: GPL-3.0-or-later
// A row is the product of its levels, a function the sum of the rows that give 1. Of a table with state the clock is
// the column whose edges take both values in; rows without an edge that take a value whatever the clock does clear or
// preset; rows that keep the state say when a latch is closed. Rows that speak of x only make simulation less
// pessimistic and are passed over. Linear in the table.
#include "core/hdl/models/table.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <algorithm>

namespace kp::models {

namespace {

constexpr size_t most_rows = 20'000, most_inputs = 64;

/// The symbols of a row up to its ';': single characters, or two in brackets.
bool read_row(Cursor& c, Primitive& p) {
    std::vector<std::vector<std::string>> parts(1);
    while (!c.done() && !c.now().is(';')) {
        if (c.take(':')) {
            parts.emplace_back();
        } else if (c.now().is('(')) {
            parts.back().push_back("(" + plain_text(c.brackets()) + ")");
        } else {
            for (const char symbol : c.now().text) parts.back().emplace_back(1, symbol);
            c.next();
        }
    }
    c.expect(';', "after a row of a table");
    const size_t wanted = p.state ? 3 : 2;
    if (parts.size() != 2 && parts.size() != 3) {
        c.fail("A row of a table has inputs, ':' and an output.");
        return false;
    }
    if (p.rows.empty()) p.state = parts.size() == 3;
    if (!p.rows.empty() && parts.size() != wanted) c.fail("The rows of a table differ in their columns.");
    if (parts.front().size() != p.inputs.size() || parts.back().size() != 1 || p.rows.size() >= most_rows) {
        c.fail(said("A row of the table of {} has {}; {} are declared.", p.name, counted(parts.front().size(), "input"),
                    p.inputs.size()));
        return false;
    }
    p.rows.push_back({parts.front(), parts.size() == 3 && !parts[1].empty() ? parts[1][0] : "", parts.back()[0][0]});
    return true;
}

void read_ports(Cursor& c, Primitive& p) {
    Cursor ports(c.brackets());
    while (!ports.done() && !ports.error()) {
        if (ports.take("output") || ports.take("input") || ports.take("reg") || ports.take(',')) continue;
        const auto name = ports.name("a port");
        if (p.output.empty())
            p.output = name;
        else
            p.inputs.push_back(name);
    }
    c.fail_as(ports);
    c.expect(';', "after the ports of a primitive");
    if (p.inputs.size() > most_inputs) c.fail("A primitive with more than 64 inputs is not read.");
}

enum class Symbol : std::uint8_t { zero, one, any, rise, fall, never };

Symbol meaning(const std::string& s) {
    if (s == "0") return Symbol::zero;
    if (s == "1") return Symbol::one;
    if (s == "?" || s == "b" || s == "B" || s == "-") return Symbol::any;
    if (s == "r" || s == "R" || s == "(01)" || s == "p" || s == "P") return Symbol::rise;
    if (s == "f" || s == "F" || s == "(10)" || s == "n" || s == "N") return Symbol::fall;
    if (s == "*" || s == "(\?\?)") return Symbol::any;
    return Symbol::never;  // x, and edges from or to x
}

bool is_edge(const std::string& s) {
    return s.size() > 1 || std::string("rRfFpPnN*").find(s) != std::string::npos;
}

/// The product of the levels of a row; 0 for a row about x.
Logic::Node product(const Primitive::Row& row, const std::vector<Logic::Node>& inputs, size_t without, Logic& logic) {
    auto out = logic.constant(true);
    for (size_t i = 0; i < inputs.size(); ++i) {
        if (i == without) continue;
        switch (meaning(row.in[i])) {
            case Symbol::zero: out = logic.both(out, logic.invert(inputs[i])); break;
            case Symbol::one: out = logic.both(out, inputs[i]); break;
            case Symbol::any: break;
            default: return logic.constant(false);
        }
    }
    return out;
}

/// The column whose edges take both values in, and which edge; none for a latch.
std::pair<size_t, Symbol> clock_of(const Primitive& p) {
    for (const auto edge : {Symbol::rise, Symbol::fall})
        for (size_t i = 0; i < p.inputs.size(); ++i) {
            bool takes[2] = {false, false};
            for (const auto& row : p.rows)
                if (is_edge(row.in[i]) && meaning(row.in[i]) == edge && (row.out == '0' || row.out == '1'))
                    takes[row.out - '0'] = true;
            if (takes[0] && takes[1]) return {i, edge};
        }
    return {p.inputs.size(), Symbol::never};
}

}  // namespace

Primitive read_primitive(Cursor& c) {
    Primitive p;
    p.name = c.name("a primitive");
    if (!c.now().is('(')) {
        c.fail("'(' is expected after the name of a primitive.");
        return p;
    }
    read_ports(c, p);
    while (!c.done() && !c.take("table")) c.until(';');
    while (!c.error() && !c.take("endtable")) {
        if (c.done()) c.fail("'endtable' is missing.");
        if (!read_row(c, p)) break;
    }
    return p;
}

Logic::Node function_of(const Primitive& p, const std::vector<Logic::Node>& inputs, Logic& logic) {
    if (inputs.size() != p.inputs.size()) return Logic::unknown;
    auto out = logic.constant(false);
    for (const auto& row : p.rows)
        if (row.out == '1') out = logic.either(out, product(row, inputs, p.inputs.size(), logic));
    return out;
}

Register register_of(const Primitive& p, const std::vector<Logic::Node>& inputs, const std::string& state,
                     Logic& logic) {
    Register r{state, false, Logic::unknown, Logic::unknown, 0, 0};
    if (inputs.size() != p.inputs.size()) return r;
    const auto [clock, edge] = clock_of(p);
    r.latch = clock == p.inputs.size();
    const auto edges_of = [&](const Primitive::Row& row) {
        return std::count_if(row.in.begin(), row.in.end(), is_edge);
    };
    auto next = logic.constant(false), keeps = next, clear = next, preset = next;
    for (const auto& row : p.rows) {
        const bool edged = edges_of(row) > 0;
        const bool any_state = row.present == "?" || row.present == "b";
        if (r.latch && !edged && row.out == '-') keeps = logic.either(keeps, product(row, inputs, clock, logic));
        if (r.latch && !edged && row.out == '1' && any_state)
            next = logic.either(next, product(row, inputs, clock, logic));
        if (r.latch || !any_state) continue;
        if (edged && row.out == '1' && edges_of(row) == 1 && meaning(row.in[clock]) == edge && is_edge(row.in[clock]))
            next = logic.either(next, product(row, inputs, clock, logic));
        // Whatever the clock does: its own column does not matter.
        if (edged || meaning(row.in[clock]) != Symbol::any) continue;
        if (row.out == '0') clear = logic.either(clear, product(row, inputs, clock, logic));
        if (row.out == '1') preset = logic.either(preset, product(row, inputs, clock, logic));
    }
    r.next = next;
    r.clear = clear;
    r.preset = preset;
    if (r.latch)
        r.clock = logic.invert(keeps);
    else
        r.clock = edge == Symbol::rise ? inputs[clock] : logic.invert(inputs[clock]);
    return r;
}

}  // namespace kp::models
