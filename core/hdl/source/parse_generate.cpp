// SPDX-License-Identifier: GPL-3.0-or-later
// Loops and choices that stand outside of processes (IEEE 1364-2005, clause 12.4; IEEE 1800-2017, clause 27).
#include "core/hdl/source/parser.hpp"

namespace kp::source {

void Parser::generate_loop(std::vector<Item>& out) {
    Item i;
    i.kind = Item::loop;
    i.place = now().place;
    next();
    expect("(", "behind for");
    take("genvar");
    i.name = name("the variable of a loop");
    expect("=", "in a loop's head");
    i.exprs.push_back(expression());
    expect(";", "in a loop's head");
    i.exprs.push_back(expression());
    expect(";", "in a loop's head");
    auto step = simple_assignment();
    if (bad()) return;
    i.exprs.push_back(step.exprs[1]);
    expect(")", "behind a loop's head");
    i.branches.emplace_back();
    i.branch_names.push_back(branch(i.branches[0]));
    out.push_back(std::move(i));
}

void Parser::generate_choice(std::vector<Item>& out) {
    Item i;
    i.kind = Item::choose;
    i.place = now().place;
    next();
    i.exprs.push_back(in_brackets("if", "a condition"));
    do {
        i.branches.emplace_back();
        i.branch_names.push_back(branch(i.branches.back()));
    } while (!bad() && i.branches.size() < 2 && take("else"));
    out.push_back(std::move(i));
}

void Parser::generate_select(std::vector<Item>& out) {
    Item i;
    i.kind = Item::select;
    i.place = now().place;
    next();
    i.exprs.push_back(in_brackets("case", "what a case looks at"));
    while (!bad() && !is("endcase")) {
        i.labels.push_back(labels());
        i.branches.emplace_back();
        i.branch_names.push_back(branch(i.branches.back()));
    }
    expect("endcase", "behind a case");
    out.push_back(std::move(i));
}

/// begin [: name] … end, or one item; gives the name.
std::string Parser::branch(std::vector<Item>& out) {
    if (!take("begin")) {
        item(out);
        return {};
    }
    std::string called;
    if (take(":")) called = name("the name of a block");
    items(out, {"end"});
    expect("end", "behind a block");
    if (take(":")) name("the name of a block");
    return called;
}

}  // namespace kp::source
