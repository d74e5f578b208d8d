// SPDX-License-Identifier: GPL-3.0-or-later
// rules: findings of a project, as JSON, SARIF or JUnit; and the page that documents them.
#include "core/format/json/json_text.hpp"
#include "kpeg/commands.hpp"

#include "core/base/output.hpp"
#include "core/base/text.hpp"
#include "core/handoff/findings_out.hpp"
#include "core/rules/rules.hpp"
#include "core/inputs/data_folder.hpp"
#include "core/handoff/report_json.hpp"
#include "core/session/session.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <iostream>
#include <memory>

namespace kpeg {

namespace {

struct RulesArguments {
    std::string project, out, only, sarif, junit;
    std::vector<std::string> allow;
    bool document = false;
};

/// Leaves the findings whose rule starts with one of the codes, such as "L,E03". The first code that is not a rule's is
/// a mistake.
kp::Status keep_only(std::vector<kp::Finding>& findings, const std::string& codes) {
    std::vector<std::string> wanted;
    for (const auto word : kp::split(codes, ',')) {
        const auto code = kp::upper(kp::trim(word));
        const bool known = code == "W" || code == "W01" ||
                           std::any_of(kp::rule_table().begin(), kp::rule_table().end(), [&](const kp::RuleRow& row) {
                               return std::string_view(row.code).starts_with(code);
                           });
        if (code.empty() || !known)
            return kp::Message{
                kp::Severity::stop, kp::Code::arguments,
                kp::said("No rule starts with '{}'; --only takes codes or their beginnings, such as L,E03.", word)};
        wanted.push_back(code);
    }
    std::erase_if(findings, [&](const kp::Finding& f) {
        return std::none_of(wanted.begin(), wanted.end(),
                            [&](const std::string& code) { return f.rule.starts_with(code); });
    });
    return kp::Done{};
}

int run_rules(const RulesArguments& a) {
    if (a.document) {
        return write_text(kp::rules_document(), "-", in_order);
    }
    if (a.project.empty() || a.out.empty())
        return refuse(
            {{kp::Severity::stop, kp::Code::arguments, "A project and --json are needed; see kpeg rules --help."}});
    auto opened = open_project(a.project, a.allow, kp::OpenTo::look, "rules");
    if (!opened) return refuse(opened.messages());
    auto& session = *opened.value();
    if (auto status = kp::check_outputs({a.sarif, a.junit, a.out}, files_of(session)); !status)
        return refuse(status.messages());
    const auto analysis = kp::analyse(session.world(), session.project(), session.document().folder(), {});
    auto found = kp::find(session.world(), session.project(), *analysis);
    if (!a.only.empty())
        if (auto status = keep_only(found, a.only); !status) return refuse(status.messages());
    const auto file = kp::file_name_of(a.project);
    if (!a.sarif.empty())
        if (const int status = write_text(kp::write_json(kp::findings_sarif(found, file)), a.sarif, in_order))
            return status;
    if (!a.junit.empty())
        if (const int status = write_text(kp::findings_junit(found, file), a.junit, in_order)) return status;
    const auto counts = kp::count(found);
    auto messages = kp::still_missing(session.project());
    messages.insert(messages.end(), session.world().notes.begin(), session.world().notes.end());
    return write_out(kp::findings_json(found, messages), a.out,
                     counts.stops + counts.cautions > 0 ? findings : in_order);
}

}  // namespace

void add_rules(Command& app, Run& run) {
    auto a = std::make_shared<RulesArguments>();
    auto* c = app.add_subcommand("rules", "All rule findings of a project");
    c->add_option("project", a->project, "A project (*.kpeg)");
    c->add_option("--only", a->only, "Rules whose codes start so, such as L,E03");
    c->add_option("--sarif", a->sarif, "Write SARIF 2.1.0 here");
    c->add_option("--junit", a->junit, "Write JUnit XML here");
    c->add_flag("--document", a->document, "Print all rules as docs/rules.md has them");
    c->add_option("--json", a->out, "Where the result goes; - is standard output");
    add_allow(*c, a->allow);
    c->callback([a, &run] { run = [a] { return run_rules(*a); }; });
}

}  // namespace kpeg
