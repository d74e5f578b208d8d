// SPDX-License-Identifier: GPL-3.0-or-later
// First the extent of a statement by its brackets and words, which needs no understanding; then its meaning, if it is
// one of the few kinds that describe a cell. So a strange statement costs its own meaning and nothing else.
#include "core/hdl/models/statement.hpp"

namespace kp::models {

namespace {

constexpr size_t deepest_statement = 200;

/// `#delay` and `@event` in front of a statement.
void skip_control(Cursor& c) {
    while (c.now().is('#') || c.now().is('@')) {
        c.next();
        if (c.now().is('('))
            c.brackets();
        else
            c.next();
    }
}

void skip_pairs(Cursor& c) {
    int depth = 0;
    for (; !c.done(); c.next()) {
        const auto& t = c.now();
        if (t.is("begin") || t.is("fork") || t.is("case") || t.is("casex") || t.is("casez")) ++depth;
        if (t.is("end") || t.is("join") || t.is("endcase")) --depth;
        if (depth > 0) continue;
        return c.next();
    }
    c.fail("'end' is missing.");
}

void skip_statement(Cursor& c, size_t level) {
    if (level > deepest_statement) return c.fail("Statements are nested too deeply.");
    skip_control(c);
    const auto& t = c.now();
    if (t.is("begin") || t.is("fork") || t.is("case") || t.is("casex") || t.is("casez")) return skip_pairs(c);
    if (c.take("if")) {
        c.brackets();
        skip_statement(c, level + 1);
        if (c.take("else")) skip_statement(c, level + 1);
        return;
    }
    if (c.take("forever")) return skip_statement(c, level + 1);
    if (c.take("for") || c.take("while") || c.take("repeat") || c.take("wait")) {
        c.brackets();
        return skip_statement(c, level + 1);
    }
    c.until(';');
}

bool read(Cursor& c, Statement& out, size_t level) {
    if (level > deepest_statement) return false;
    skip_control(c);
    if (c.take(';')) return true;
    if (c.take("begin")) {
        if (c.take(':')) c.next();
        while (!c.done() && !c.take("end"))
            if (!read(c, out.parts.emplace_back(), level + 1)) return false;
        return true;
    }
    if (c.take("if")) {
        out.kind = Statement::choose;
        if (!c.now().is('(')) return false;
        Cursor condition(c.brackets());
        out.right = condition.expression();
        if (condition.error() || !read(c, out.parts.emplace_back(), level + 1)) return false;
        return !c.take("else") || read(c, out.parts.emplace_back(), level + 1);
    }
    if (!c.now().is_name() && !c.now().is('{')) return false;
    out.kind = Statement::assign;
    out.left = c.operand();
    if (c.take('<') && !c.now().is('=')) return false;
    if (!c.take('=')) return false;
    if (c.now().is('@')) return false;
    skip_control(c);
    out.right = c.expression();
    return c.take(';') && !c.error();
}

}  // namespace

std::span<const Word> statement_words(Cursor& c) {
    const auto all = c.rest();
    skip_statement(c, 0);
    return all.first(all.size() - c.rest().size());
}

std::optional<Statement> statement_of(std::span<const Word> words) {
    Cursor c(words);
    Statement out;
    if (!read(c, out, 0) || c.error() || !c.done()) return {};
    return out;
}

}  // namespace kp::models
