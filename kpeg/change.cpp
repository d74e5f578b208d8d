// SPDX-License-Identifier: GPL-3.0-or-later
// set, waive and fix: edits of a project, without a window.
#include "core/format/json/json_text.hpp"
#include "kpeg/commands.hpp"

#include "core/base/local_time.hpp"
#include "core/base/output.hpp"
#include "core/base/text.hpp"
#include "core/planning/meant.hpp"
#include "core/planning/ways.hpp"
#include "core/rules/rules.hpp"
#include "core/closing/cures.hpp"
#include "core/closing/fix_many.hpp"
#include "core/base/said.hpp"

#include <memory>

namespace kpeg {

namespace {

kp::Message change_error(const std::string& text) {
    return {kp::Severity::stop, kp::Code::arguments, text};
}

struct SetArguments {
    std::string project, json;
    std::vector<std::string> what, allow;
};

/// FIELD=TEXT or PORT.ATTRIBUTE=TEXT as an edit of the project as it is now.
kp::Result<kp::Edit> edit_of(const kp::Session& s, const std::string& text) {
    const auto equals = text.find('=');
    if (equals == std::string::npos)
        return change_error(kp::said("'{}' is neither FIELD=TEXT nor PORT.ATTRIBUTE=TEXT.", text));
    const std::string left = text.substr(0, equals), value = text.substr(equals + 1);
    const auto dot = left.rfind('.');
    std::vector<std::string> fields, attributes;
    for (const auto& field : kp::project_fields()) fields.emplace_back(field.key);
    for (const auto& kind : kp::attribute_kinds()) attributes.emplace_back(kind.key);
    for (const auto& kind : kp::intent_kinds()) attributes.emplace_back(kind.key);
    if (dot == std::string::npos) {
        if (std::find(fields.begin(), fields.end(), left) == fields.end())
            return change_error(kp::said("A project has no field '{}'; it has {}.{}", left, kp::list_names(fields, 30),
                                         kp::did_you_mean(left, fields)));
        std::string lines = value;
        // A board is kept by its name; who types the file is understood.
        if (const std::string_view ending = ".board.json"; left == "board" && lines.ends_with(ending))
            lines.resize(lines.size() - ending.size());
        const auto* field = kp::field_with(kp::project_fields(), left);
        if (field->presence == kp::Presence::apart)
            return change_error(kp::said(
                "The field '{}' is a list of objects; edit the project file, or see kpeg lanes --write.", left));
        // A corner has commas of its own, so several of them have semicolons between.
        if (!std::holds_alternative<std::string kp::Project::*>(field->member))
            std::replace(lines.begin(), lines.end(), left == "corners" ? ';' : ',', '\n');
        const auto change = kp::set_field(s.project(), left, lines);
        if (change.before == change.after) return kp::Edit{};
        return kp::Edit{"set " + left, {change}};
    }
    const auto key = left.substr(dot + 1);
    const auto* kind = kp::attribute_kind(key);
    if (!kind)
        return change_error(kp::said("Ports have no attribute '{}'; they have {}.{}", key,
                                     kp::list_names(attributes, 30), kp::did_you_mean(key, attributes)));
    const auto& w = s.world();
    const auto ports = kp::find_ports(left.substr(0, dot), w.netlist.ports);
    if (!ports) return ports.messages();
    const kp::AttributeInput input{w.part, w.board, w.standards, w.netlist.ports, s.project()};
    if (key == "meant") return kp::meant_edit(input, ports.value(), value);
    return kp::attribute_edit(input, ports.value(), *kind, value);
}

int run_set(const SetArguments& a) {
    auto opened = open_project(a.project, a.allow, kp::OpenTo::work, "set");
    if (!opened) return refuse(opened.messages());
    auto& s = *opened.value();
    if (!a.json.empty())
        if (auto status = kp::check_outputs({a.json}, files_of(s)); !status) return refuse(status.messages());
    kp::Json done = kp::Json::array();
    const auto before = s.document().done().size();
    for (const auto& text : a.what) {
        auto edit = edit_of(s, text);
        const auto status = edit ? s.apply(edit.value()) : kp::Status(edit.messages());
        if (!status) {
            take_back(s, before);
            return refuse(status.messages());
        }
        if (!edit.value().empty()) done.push_back(text);
    }
    if (s.document().unsaved()) {
        if (auto status = s.document().save(); !status) {
            take_back(s, before);
            return refuse(status.messages());
        }
        s.analyse_now();  // and a line in the log
    }
    if (a.json.empty()) return in_order;
    return write_out({{"schema", "kitepeg.set/1"}, {"changed", done}, {"messages", kp::Json::array()}}, a.json,
                     in_order);
}

struct FixArguments {
    std::string project, rules = "all", json;
    std::vector<std::string> allow;
    bool dry = false, timing = false;
};

kp::Result<std::vector<kp::Finding>> wanted(const std::vector<kp::Finding>& all, const std::string& codes) {
    std::vector<kp::Finding> out;
    for (const auto word : kp::split(codes, ',')) {
        const auto code = kp::upper(kp::trim(word));
        std::vector<std::string> known{"W01"};
        for (const auto& row : kp::rule_table()) known.emplace_back(row.code);
        if (code != "ALL" && std::find(known.begin(), known.end(), code) == known.end())
            return change_error(kp::said("There is no rule '{}'.{}", word, kp::did_you_mean(code, known)));
        for (const auto& f : all)
            if (!f.waived && (code == "ALL" || f.rule == code)) out.push_back(f);
    }
    return out;
}

/// The smallest set of changes of the constraints that closes timing, each with what has to be true for it.
int run_closing(const FixArguments& a, kp::Session& s) {
    const auto found = kp::closing_changes(*s.snapshot());
    if (!a.dry)
        if (auto status = apply_and_save(s, found.edit); !status) return refuse(status.messages());
    kp::Json steps = kp::Json::array(), left = kp::Json::array();
    for (const auto& step : found.steps)
        steps.push_back({{"kind", kp::name_of(step.cure.kind)},
                         {"text", kp::json_safe(step.cure.text)},
                         {"promises", kp::json_safe(step.cure.promises)},
                         {"failing", step.failing}});
    for (const auto& text : found.left) left.push_back(kp::json_safe(text));
    return write_out({{"schema", "kitepeg.closing/1"},
                      {"dry", a.dry},
                      {"before", found.before},
                      {"after", found.after},
                      {"steps", std::move(steps)},
                      {"left", std::move(left)},
                      {"messages", kp::Json::array()}},
                     a.json, found.after == 0 ? in_order : findings);
}

int run_fix(const FixArguments& a) {
    auto opened = open_project(a.project, a.allow, a.dry ? kp::OpenTo::look : kp::OpenTo::work, "fix");
    if (!opened) return refuse(opened.messages());
    auto& s = *opened.value();
    if (auto status = kp::check_outputs({a.json}, files_of(s)); !status) return refuse(status.messages());
    s.analyse_now();
    if (a.timing) return run_closing(a, s);
    const auto list = wanted(s.findings(), a.rules);
    if (!list) return refuse(list.messages());
    const auto many = kp::fix_many(*s.snapshot(), list.value());
    if (!a.dry)
        if (auto status = apply_and_save(s, many.edit); !status) return refuse(status.messages());
    kp::Json j{{"schema", "kitepeg.fix/1"},
               {"dry", a.dry},
               {"taken", kp::Json::array()},
               {"left", kp::Json::array()},
               {"messages", kp::Json::array()}};
    for (const auto& t : many.taken) {
        kp::Json row{{"rule", t.rule}, {"text", t.text}, {"clears", kp::Json::array()}, {"adds", kp::Json::array()}};
        for (const auto& f : t.clears) row["clears"].push_back(f.rule + ": " + f.text);
        j["taken"].push_back(std::move(row));
    }
    for (const auto& l : many.left) j["left"].push_back({{"rule", l.rule}, {"text", l.text}, {"why", l.why}});
    return write_out(j, a.json, many.left.empty() ? in_order : findings);
}

struct WaiveArguments {
    std::string project, rule, why, who, json;
    std::vector<std::string> objects, allow;
    bool take_back = false;
};

/// The one finding of a rule, or the one at just these objects.
kp::Result<kp::Finding> finding_meant(const std::vector<kp::Finding>& all, const WaiveArguments& a) {
    const auto rule = kp::upper(a.rule);
    std::vector<const kp::Finding*> fit;
    std::vector<std::string> there;
    for (const auto& f : all) {
        if (f.rule != rule || f.waived.has_value() != a.take_back) continue;
        const auto names = f.object_names();
        there.push_back(kp::list_names(names, 6));
        if (a.objects.empty() || std::is_permutation(names.begin(), names.end(), a.objects.begin(), a.objects.end()))
            fit.push_back(&f);
    }
    const char* kind = a.take_back ? "waived finding" : "finding";
    if (fit.size() == 1) return *fit.front();
    if (there.empty()) return change_error(kp::said("There is no {} of {} to speak of.", kind, rule));
    return change_error(kp::said("{} has {}; name the objects of one: {}.", rule,
                                 kp::counted(static_cast<long long>(there.size()), kind), kp::list_names(there, 8)));
}

int run_waive(const WaiveArguments& a) {
    if (!a.take_back && kp::trim(a.why).empty()) return refuse({change_error("A waiver needs a reason: --why.")});
    auto opened = open_project(a.project, a.allow, kp::OpenTo::work, "waive");
    if (!opened) return refuse(opened.messages());
    auto& s = *opened.value();
    if (auto status = kp::check_outputs({a.json}, files_of(s)); !status) return refuse(status.messages());
    s.analyse_now();
    const auto found = finding_meant(s.findings(), a);
    if (!found) return refuse(found.messages());
    const auto& f = found.value();
    const auto edit = a.take_back
                          ? kp::Edit{"take back the waiver of " + f.rule, {kp::WaiverChange{*f.waived, false}}}
                          : kp::waiver_edit(f, std::string(kp::trim(a.why)), a.who.empty() ? kp::user_name() : a.who,
                                            kp::local_time("%Y-%m-%d"));
    if (auto status = apply_and_save(s, edit); !status) return refuse(status.messages());
    if (a.json.empty()) return in_order;
    kp::Json objects = kp::Json::array();
    for (const auto& name : f.object_names()) objects.push_back(kp::json_safe(name));
    return write_out({{"schema", "kitepeg.waive/1"},
                      {"rule", f.rule},
                      {"objects", std::move(objects)},
                      {"text", kp::json_safe(f.text)},
                      {"waived", !a.take_back},
                      {"messages", kp::Json::array()}},
                     a.json, in_order);
}

}  // namespace

void add_change(Command& app, Run& run) {
    auto a = std::make_shared<SetArguments>();
    auto* c = app.add_subcommand("set", "Set fields of a project and attributes of its ports, and save");
    c->add_option("project", a->project, "A project (*.kpeg)")->required();
    c->add_option(
         "what", a->what,
         "FIELD=TEXT (part, board, top, mode …; lists with commas, corners with semicolons) or PORT.ATTRIBUTE=TEXT "
         "(lamp[7:0].drive=8); an empty TEXT takes it back")
        ->required();
    c->add_option("--json", a->json, "Where a summary goes; - is standard output");
    add_allow(*c, a->allow);
    c->callback([a, &run] { run = [a] { return run_set(*a); }; });

    auto w = std::make_shared<WaiveArguments>();
    c = app.add_subcommand("waive", "Say why a finding is as it should be, or take that back, and save");
    c->add_option("project", w->project, "A project (*.kpeg)")->required();
    c->add_option("rule", w->rule, "Code of its rule, such as E01")->required();
    c->add_option("objects", w->objects, "Its objects as kpeg rules lists them, where the rule has several findings");
    c->add_option("--why", w->why, "The reason");
    c->add_option("--who", w->who, "Who answers for it; else who is logged in");
    c->add_flag("--take-back", w->take_back, "The finding counts again");
    c->add_option("--json", w->json, "Where a summary goes; - is standard output");
    add_allow(*c, w->allow);
    c->callback([w, &run] { run = [w] { return run_waive(*w); }; });

    auto f = std::make_shared<FixArguments>();
    c = app.add_subcommand("fix", "Take the possible fixes that clear a finding and add none, and save");
    c->add_option("project", f->project, "A project (*.kpeg)")->required();
    c->add_option("rules", f->rules, "Codes of rules, such as E01,L11, or all");
    c->add_flag(
        "--timing", f->timing,
        "Instead of rules: the smallest set of changes of the constraints that closes timing, each with what it "
        "promises; take it only where that is so");
    c->add_flag("--dry", f->dry, "Only say what would be done");
    c->add_option("--json", f->json, "Where the result goes; - is standard output")->required();
    add_allow(*c, f->allow);
    c->callback([f, &run] { run = [f] { return run_fix(*f); }; });
}

}  // namespace kpeg
