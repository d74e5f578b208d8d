// SPDX-License-Identifier: GPL-3.0-or-later
// set and fix: edits of a project, without a window.
#include "core/format/json/json_text.hpp"
#include "kpeg/commands.hpp"

#include "core/base/output.hpp"
#include "core/base/text.hpp"
#include "core/planning/meant.hpp"
#include "core/planning/ways.hpp"
#include "core/rules/rules.hpp"
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
    bool dry = false;
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

int run_fix(const FixArguments& a) {
    auto opened = open_project(a.project, a.allow, a.dry ? kp::OpenTo::look : kp::OpenTo::work, "fix");
    if (!opened) return refuse(opened.messages());
    auto& s = *opened.value();
    if (auto status = kp::check_outputs({a.json}, files_of(s)); !status) return refuse(status.messages());
    s.analyse_now();
    const auto list = wanted(s.findings(), a.rules);
    if (!list) return refuse(list.messages());
    const auto many = kp::fix_many(*s.snapshot(), list.value());
    if (!a.dry && !many.edit.empty()) {
        const auto before = s.document().done().size();
        auto status = s.apply(many.edit);
        if (status) status = s.document().save();
        if (!status) {
            take_back(s, before);
            return refuse(status.messages());
        }
        s.analyse_now();  // and a line in the log
    }
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

    auto f = std::make_shared<FixArguments>();
    c = app.add_subcommand("fix", "Take the possible fixes that clear a finding and add none, and save");
    c->add_option("project", f->project, "A project (*.kpeg)")->required();
    c->add_option("rules", f->rules, "Codes of rules, such as E01,L11, or all");
    c->add_flag("--dry", f->dry, "Only say what would be done");
    c->add_option("--json", f->json, "Where the result goes; - is standard output")->required();
    add_allow(*c, f->allow);
    c->callback([f, &run] { run = [f] { return run_fix(*f); }; });
}

}  // namespace kpeg
