// SPDX-License-Identifier: GPL-3.0-or-later
// Statements of always, initial and functions (IEEE 1364-2005, clause 9). Waits, forks and tasks are refused by name.
#include "core/hdl/source/parser.hpp"

namespace kp::source {

Statement Parser::statement() {
    const Deeper deeper(*this);
    Statement out;
    out.place = now().place;
    operators_in_row_ = 0;
    if (bad() || take(";")) return out;
    if (is("begin")) return block();
    if (is("unique") || is("priority") || is("unique0")) {
        next();
        return is("if") ? condition() : select();
    }
    if (is("if")) return condition();
    if (is("case") || is("casez") || is("casex")) return select();
    if (is("for") || is("repeat")) return loop();
    for (const char* word : {"while", "forever", "wait", "fork", "disable", "do", "foreach", "return", "break",
                             "continue", "deassign", "force", "release", "assert", "assume", "cover"})
        if (is(word)) {
            refuse(std::string("'") + word + "'");
            return out;
        }
    if (is("#")) refuse("a delay in a statement");
    if (is("@")) refuse("a wait for an event inside a statement");
    if (is("->")) refuse("an event that is triggered");
    if (now().kind == Word::name && now().word[0] == '$') {
        ignored_task();
        return out;
    }
    return assignment();
}

Statement Parser::block() {
    Statement out;
    out.kind = Statement::block;
    out.place = now().place;
    next();
    if (take(":")) out.word = name("the name of a block");
    while (!bad() && !is("end")) {
        if (now().kind == Word::end) {
            fail("This 'begin' has no 'end'.");
            break;
        }
        const bool constant = is("localparam") || is("parameter");
        if (!constant && !at_type()) {
            out.parts.push_back(statement());
            continue;
        }
        Statement d;
        d.kind = Statement::declare;
        d.place = now().place;
        Declaration like;
        like.kind = constant ? Declaration::local_parameter : Declaration::variable;
        if (constant) next();
        while (is("automatic") || is("static")) next();
        like.typed = data_type(like.type);
        names_of(like, d.locals, false);
        expect(";", "behind a declaration");
        out.parts.push_back(std::move(d));
    }
    expect("end", "behind a block");
    if (take(":")) name("the name of a block");
    return out;
}

/// ( expression ) behind the word that begins a choice or a loop.
Expr Parser::in_brackets(const std::string& word, const char* what) {
    expect("(", ("behind " + word).c_str());
    auto out = expression();
    expect(")", ("behind " + std::string(what)).c_str());
    return out;
}

/// The values before one branch of a case, with the colon; none for default.
std::vector<Expr> Parser::labels() {
    std::vector<Expr> out;
    if (take("default")) {
        take(":");
        return out;
    }
    do {
        out.push_back(expression());
    } while (!bad() && take(","));
    expect(":", "behind the values of a case");
    return out;
}

Statement Parser::condition() {
    Statement out;
    out.kind = Statement::choose;
    out.place = now().place;
    next();
    out.exprs.push_back(in_brackets("if", "a condition"));
    out.parts.push_back(statement());
    if (!bad() && take("else")) out.parts.push_back(statement());
    return out;
}

Statement Parser::select() {
    Statement out;
    out.kind = Statement::select;
    out.place = now().place;
    out.word = now().word;
    next();
    out.exprs.push_back(in_brackets("case", "what a case looks at"));
    if (is("inside")) refuse("'case … inside'");
    while (!bad() && !is("endcase")) {
        if (now().kind == Word::end) fail("This 'case' has no 'endcase'.");
        auto values = labels();
        if (bad()) break;
        out.labels.push_back(std::move(values));
        out.parts.push_back(statement());
    }
    expect("endcase", "behind a case");
    return out;
}

Statement Parser::loop() {
    Statement out;
    out.place = now().place;
    if (take("repeat")) {
        out.kind = Statement::repeat;
        out.exprs.push_back(in_brackets("repeat", "how often"));
        out.parts.push_back(statement());
        return out;
    }
    out.kind = Statement::loop;
    next();
    expect("(", "behind for");
    Statement first;
    if (at_type()) {
        first.kind = Statement::declare;
        first.place = now().place;
        Declaration like;
        like.kind = Declaration::variable;
        data_type(like.type);
        names_of(like, first.locals, false);
    } else {
        first = simple_assignment();
    }
    out.parts.push_back(std::move(first));
    expect(";", "in a for loop");
    out.exprs.push_back(expression());
    expect(";", "in a for loop");
    out.parts.push_back(simple_assignment());
    expect(")", "behind a for loop's head");
    out.parts.push_back(statement());
    return out;
}

Statement Parser::assignment() {
    auto out = simple_assignment();
    expect(";", "behind an assignment");
    return out;
}

/// a = b, a <= b, a += b, a++ and ++a.
Statement Parser::simple_assignment() {
    Statement out;
    out.kind = Statement::assign;
    out.place = now().place;
    const auto step = [&](const Expr& of, const std::string& op, Expr by) {
        Expr sum;
        sum.kind = Expr::binary;
        sum.word = op;
        sum.place = out.place;
        sum.args = {of, std::move(by)};
        out.exprs = {of, std::move(sum)};
    };
    Expr one;
    one.value = *literal_of("1");
    if (is("++") || is("--")) {
        const auto op = now().word.substr(0, 1);
        next();
        step(target(), op, one);
        return out;
    }
    const auto left = target();
    if (bad()) return out;
    const auto word = now().word;
    if (now().kind == Word::op && (word == "++" || word == "--")) {
        next();
        step(left, word.substr(0, 1), one);
        return out;
    }
    if (now().kind == Word::op && word.size() > 1 && word.back() == '=' && word != "<=" && word != "==" &&
        word != ">=" && word != "!=") {
        next();
        step(left, word.substr(0, word.size() - 1), expression());
        return out;
    }
    if (is("(") || is(";")) {
        refuse("a task");
        return out;
    }
    out.blocking = !is("<=");
    if (out.blocking)
        expect("=", "in an assignment");
    else
        next();
    if (is("#")) refuse("a delay in an assignment");
    if (is("@")) refuse("an assignment that waits");
    out.exprs = {left, expression()};
    return out;
}

/// Tasks that only show something: passed over, with a note. What reads files or ends the run is refused.
void Parser::ignored_task() {
    const auto word = now().word;
    const auto place = now().place;
    for (const char* shows : {"$display", "$write", "$monitor", "$strobe", "$info", "$warning", "$error", "$fatal",
                              "$finish", "$stop", "$dumpfile", "$dumpvars", "$time"})
        if (word == shows) {
            while (!bad() && !is(";") && now().kind != Word::end) next();
            expect(";", "behind a task");
            if (code_.notes.size() < most_notes)
                code_.notes.push_back(code_.at(place, Severity::note, Code::passed_over,
                                               word + " is for simulation; it is passed over."));
            return;
        }
    refuse("the task " + word);
}

}  // namespace kp::source
