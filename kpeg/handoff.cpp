// SPDX-License-Identifier: GPL-3.0-or-later
// handoff, compare and log: what leaves the program, how two states differ, and what was before.
#include "core/format/json/json_text.hpp"
#include "core/handoff/handoff.hpp"

#include "core/base/output.hpp"
#include "core/base/text.hpp"
#include "core/handoff/compare_states.hpp"
#include "core/base/said.hpp"
#include "kpeg/commands.hpp"

#include <iostream>
#include <memory>

namespace kpeg {

namespace {

kp::Message handoff_error(kp::Code code, const std::string& text) {
    return {kp::Severity::stop, code, text, "", 0, 0};
}

// handoff
// ----------------------------------------------------------------------------------------------------------------

struct HandoffArguments {
    std::string project, out, reason, json;
    std::vector<std::string> allow;
};

int run_handoff(const HandoffArguments& a) {
    auto allow = a.allow;
    allow.push_back(a.out);  // who names the folder on the command line means it
    auto opened = open_project(a.project, allow, kp::OpenTo::look, "handoff");
    if (!opened) return refuse(opened.messages());
    auto& s = *opened.value();
    if (auto status = kp::check_outputs({a.json}, files_of(s)); !status) return refuse(status.messages());
    s.analyse_now();
    kp::Json refused = kp::Json::array(), messages = kp::Json::array(), files = kp::Json::array();
    for (const auto& f : s.findings())
        if (f.severity == kp::Severity::stop && !f.waived) refused.push_back(kp::json_safe(f.rule + ": " + f.text));
    std::vector<std::string> written;
    const bool held = !refused.empty() && a.reason.empty();
    if (!held) {
        auto status = kp::write_handoff(kp::real_disk(), s, a.out, !refused.empty(), a.reason, &written);
        if (!status) return refuse(status.messages());
    }
    for (const auto& name : written) files.push_back(kp::json_safe(name));
    kp::Json out{{"schema", "kitepeg.handoff/1"},
                 {"written", !held},
                 {"folder", kp::json_safe(a.out)},
                 {"files", std::move(files)},
                 {"refused", held ? refused : kp::Json::array()},
                 {"open_stops", held ? kp::Json::array() : refused},
                 {"messages", std::move(messages)}};
    if (held)
        std::cerr << "kpeg: Nothing was written: "
                  << kp::counted(static_cast<long long>(refused.size()), "stop is", "stops are")
                  << " open. Fix or waive them, or say why they may stay with --open-stops.\n";
    return write_out(out, a.json, held ? findings : in_order);
}

// compare
// ----------------------------------------------------------------------------------------------------------------

/// A project, a run of its log (PROJECT#N), or a result of kpeg time.
kp::Result<kp::ComparedState> state_called(const std::string& name, const std::vector<std::string>& allow) {
    const auto hash = name.rfind('#');
    std::string path = name;
    std::optional<long long> run;
    if (hash != std::string::npos && !kp::real_disk().exists(name)) {
        run = kp::to_integer(name.substr(hash + 1));
        path = name.substr(0, hash);
        if (!run) return handoff_error(kp::Code::compare, kp::said("'{}' names no run; write PROJECT.kpeg#3.", name));
    }
    if (path.ends_with(".json")) {
        auto text = kp::disk_with_pipes({path})->read(path, std::size_t{1} << 30);
        if (!text) return text.messages();
        return kp::state_of_timing(text.value(), path);
    }
    auto opened = open_project(path, allow, kp::OpenTo::look, "compare");
    if (!opened) return opened.messages();
    auto& s = *opened.value();
    kp::Project project = s.project();
    if (run) {
        const auto entry = s.log().entry(static_cast<int>(*run));
        if (!entry) return entry.messages();
        if (auto status = kp::apply(project, kp::restore_edit(project, entry.value())); !status)
            return status.messages();
    }
    const auto analysis = kp::analyse(s.world(), project, s.document().folder(), kp::TimingOptions{});
    return kp::state_of(project, *analysis, kp::find(s.world(), project, *analysis, false));
}

kp::Json changes_json(const std::vector<kp::StateDifference::Change>& list, const char* what, const char* which) {
    kp::Json out = kp::Json::array();
    const auto text = [](const std::optional<std::string>& t) {
        return t ? kp::Json(kp::json_safe(*t)) : kp::Json(nullptr);
    };
    for (const auto& c : list) {
        kp::Json row{{what, kp::json_safe(c.what)}};
        if (which) row[which] = kp::json_safe(c.which);
        row["a"] = text(c.a);
        row["b"] = text(c.b);
        out.push_back(std::move(row));
    }
    return out;
}

kp::Json texts_json(const std::vector<std::string>& list) {
    kp::Json out = kp::Json::array();
    for (const auto& t : list) out.push_back(kp::json_safe(t));
    return out;
}

struct CompareArguments {
    std::string a, b, json;
    std::vector<std::string> allow;
};

int run_compare(const CompareArguments& args) {
    if (auto status = kp::check_outputs({args.json}, {args.a, args.b}); !status) return refuse(status.messages());
    const auto a = state_called(args.a, args.allow);
    if (!a) return refuse(a.messages());
    const auto b = state_called(args.b, args.allow);
    if (!b) return refuse(b.messages());
    const auto d = kp::compare_states(a.value(), b.value());
    kp::Json slack = kp::Json::array();
    const auto number = [](const std::optional<double>& v) { return v ? kp::Json(*v) : kp::Json(nullptr); };
    for (const auto& row : d.slack)
        slack.push_back({{"check", row.check},
                         {"endpoint", kp::json_safe(row.endpoint)},
                         {"a", number(row.a)},
                         {"b", number(row.b)}});
    return write_out({{"schema", "kitepeg.compare/1"},
                      {"pins", changes_json(d.pins, "port", nullptr)},
                      {"attributes", changes_json(d.attributes, "port", "attribute")},
                      {"constraints", changes_json(d.constraints, "command", nullptr)},
                      {"lanes", changes_json(d.lanes, "link", nullptr)},
                      {"slack", std::move(slack)},
                      {"messages", {{"new", texts_json(d.new_messages)}, {"gone", texts_json(d.gone_messages)}}}},
                     args.json, d.empty() ? in_order : findings);
}

// log
// ----------------------------------------------------------------------------------------------------------------

struct LogArguments {
    std::string project, json;
    std::optional<int> restore;
    std::vector<std::string> allow;
};

kp::Json run_json(const kp::Run& r) {
    const auto number = [](const std::optional<double>& v) { return v ? kp::Json(*v) : kp::Json(nullptr); };
    return {{"number", r.number},
            {"time", r.time},
            {"title", kp::json_safe(r.title)},
            {"setup_wns", number(r.setup_wns)},
            {"setup_tns", r.setup_tns},
            {"setup_failing", r.setup_failing},
            {"hold_wns", number(r.hold_wns)},
            {"worst", number(r.worst)},
            {"worst_kind", r.worst_kind},
            {"failing", r.failing},
            {"endpoints", r.endpoints},
            {"constrained", r.constrained},
            {"stops", r.findings.stops},
            {"cautions", r.findings.cautions},
            {"waived", r.findings.waived}};
}

int run_log(const LogArguments& a) {
    auto opened = open_project(a.project, a.allow, a.restore ? kp::OpenTo::work : kp::OpenTo::look, "log");
    if (!opened) return refuse(opened.messages());
    auto& s = *opened.value();
    if (auto status = kp::check_outputs({a.json}, files_of(s)); !status) return refuse(status.messages());
    kp::Json restored = nullptr;
    if (a.restore) {
        const auto entry = s.log().entry(*a.restore);
        if (!entry) return refuse(entry.messages());
        const auto before = s.document().done().size();
        const auto edit = kp::restore_edit(s.project(), entry.value());
        auto status = edit.empty() ? kp::Status(kp::Done{}) : s.apply(edit);
        if (status && s.document().unsaved()) status = s.document().save();
        if (!status) {
            take_back(s, before);
            return refuse(status.messages());
        }
        restored = *a.restore;
    }
    kp::Json runs = kp::Json::array();
    for (const auto& r : s.log().runs()) runs.push_back(run_json(r));
    return write_out({{"schema", "kitepeg.log/1"},
                      {"runs", std::move(runs)},
                      {"restored", restored},
                      {"messages", kp::Json::array()}},
                     a.json, in_order);
}

}  // namespace

void add_handoff(Command& app, Run& run) {
    auto a = std::make_shared<HandoffArguments>();
    auto* c = app.add_subcommand("handoff", "The bundle that leaves the program, with a manifest");
    c->add_option("project", a->project, "A project (*.kpeg)")->required();
    c->add_option("--out", a->out, "Folder of the bundle")->required();
    c->add_option("--open-stops", a->reason, "Why it may be written although stops are open");
    c->add_option("--json", a->json, "Where the result goes; - is standard output")->required();
    add_allow(*c, a->allow);
    c->callback([a, &run] { run = [a] { return run_handoff(*a); }; });

    auto b = std::make_shared<CompareArguments>();
    auto* d = app.add_subcommand("compare", "What differs between two projects, runs (PROJECT#N) or timing results");
    d->add_option("a", b->a, "Project, run or result of kpeg time")->required();
    d->add_option("b", b->b, "The other one")->required();
    d->add_option("--json", b->json, "Where the result goes; - is standard output")->required();
    add_allow(*d, b->allow);
    d->callback([b, &run] { run = [b] { return run_compare(*b); }; });

    auto l = std::make_shared<LogArguments>();
    auto* e = app.add_subcommand("log", "The runs of a project; restores one");
    e->add_option("project", l->project, "A project (*.kpeg)")->required();
    e->add_option("--restore", l->restore, "Number of a run");
    e->add_option("--json", l->json, "Where the result goes; - is standard output")->required();
    add_allow(*e, l->allow);
    e->callback([l, &run] { run = [l] { return run_log(*l); }; });
}

}  // namespace kpeg
