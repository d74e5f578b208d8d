// SPDX-License-Identifier: GPL-3.0-or-later
// budget: where the I/O delays of a project come from, group by group.
#include "core/format/json/json_text.hpp"
#include "core/base/output.hpp"
#include "core/base/text.hpp"
#include "core/constraints/budget_edits.hpp"
#include "core/constraints/draft.hpp"
#include "core/base/said.hpp"
#include "kpeg/commands.hpp"

#include <algorithm>
#include <memory>

namespace kpeg {

namespace {

struct BudgetArguments {
    std::string project, group, json;
    std::vector<std::string> allow;
};

kp::Json budget_json(const kp::clocks::Budget& b) {
    kp::Json terms = kp::Json::array(), ports = kp::Json::array(), edges = kp::Json::array(), lines = kp::Json::array();
    for (const auto& t : b.terms)
        terms.push_back(
            {{"what", kp::json_safe(t.what)}, {"max", t.max}, {"min", t.min}, {"from", kp::json_safe(t.from)}});
    for (const auto& port : b.ports) ports.push_back(kp::json_safe(port));
    for (const auto& line : b.sdc) lines.push_back(kp::json_safe(line));
    const bool timed = b.arrangement != kp::clocks::Arrangement::asynchronous;
    if (timed && b.rise) edges.push_back("rise");
    if (timed && b.fall) edges.push_back("fall");
    return {{"name", kp::json_safe(b.name)},
            {"ports", std::move(ports)},
            {"direction", b.input ? "in" : "out"},
            {"clock", b.clock.empty() ? kp::Json(nullptr) : kp::Json(kp::json_safe(b.clock))},
            {"arrangement", kp::clocks::name_of(b.arrangement)},
            {"edges", std::move(edges)},
            {"max", b.max},  // 0 where there is no promise: no terms add up to it
            {"min", b.min},
            {"terms", std::move(terms)},
            {"sdc", std::move(lines)},
            {"linked", b.linked},
            {"in_force", b.in_force ? kp::Json{{"max", b.in_force->max}, {"min", b.in_force->min}} : kp::Json(nullptr)},
            {"agrees", b.agrees()},
            {"why", kp::json_safe(b.why)}};
}

/// The budgets; where one waits for a clock that nobody defined, with the command that defines it in front of its own.
std::vector<kp::clocks::Budget> with_clocks(const kp::Session& s) {
    auto list = kp::budgets_of(s);
    const auto waits = [](const kp::clocks::Budget& b) { return b.sdc.empty(); };
    if (std::none_of(list.begin(), list.end(), waits)) return list;
    const auto clocks = kp::draft_clocks(s.world(), s.project(), s.document().folder(), {});
    if (!clocks || clocks.value().empty()) return list;
    kp::Project project = s.project();
    kp::SdcFile file;
    file.path = "clocks of a draft.sdc";
    file.text = kp::draft_text(clocks.value(), "clocks");
    project.constraints.push_back(file);
    const auto analysis = kp::analyse(s.world(), project, s.document().folder(), kp::TimingOptions{});
    const kp::Plan plan(s.world().part, s.world().board, s.world().standards, s.world().netlist.ports, project,
                        analysis->design().ports);
    auto then = kp::budgets_of(s.world(), *analysis, plan);
    for (auto& b : then) {
        if (b.arrangement == kp::clocks::Arrangement::asynchronous || b.sdc.empty()) continue;
        std::vector<std::string> lines;
        for (const auto& line : clocks.value()) lines.push_back(line.text);
        b.sdc.insert(b.sdc.begin(), lines.begin(), lines.end());
    }
    return then;
}

int budget(const BudgetArguments& a) {
    auto opened = open_project(a.project, a.allow, kp::OpenTo::look, "budget");
    if (!opened) return refuse(opened.messages());
    auto& s = *opened.value();
    if (auto status = kp::check_outputs({a.json}, files_of(s)); !status) return refuse(status.messages());
    if (const auto why = kp::clocks::budget_trouble(s.project()))
        return refuse({{kp::Severity::stop, kp::Code::budget, *why, a.project}});
    s.analyse_now();
    kp::Json groups = kp::Json::array();
    std::vector<std::string> names;
    for (const auto& b : with_clocks(s)) {
        names.push_back(b.name);
        if (a.group.empty() || a.group == b.name) groups.push_back(budget_json(b));
    }
    if (!a.group.empty() && groups.empty())
        return refuse({{kp::Severity::stop, kp::Code::budget,
                        kp::said("The project has no port group '{}'; it has {}.{}", a.group, kp::list_names(names, 40),
                                 kp::did_you_mean(a.group, names))}});
    kp::Json messages = kp::Json::array();
    for (const auto& m : s.analysis().constraints().messages) messages.push_back(kp::message_json(m));
    return write_out({{"schema", "kitepeg.budget/1"}, {"groups", std::move(groups)}, {"messages", std::move(messages)}},
                     a.json, in_order);
}

}  // namespace

void add_budget(Command& app, Run& run) {
    auto a = std::make_shared<BudgetArguments>();
    auto* c = app.add_subcommand("budget", "Where the I/O delays of a project come from, term by term");
    c->add_option("project", a->project, "A project (*.kpeg)")->required();
    c->add_option("--group", a->group, "Only this port group");
    c->add_option("--json", a->json, "Where the result goes; - is standard output")->required();
    add_allow(*c, a->allow);
    c->callback([a, &run] { run = [a] { return budget(*a); }; });
}

}  // namespace kpeg
