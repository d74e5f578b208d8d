// SPDX-License-Identifier: GPL-3.0-or-later
// build: the stand-in builder, from source or netlist to a placed design with delays.
#include "core/format/json/json_text.hpp"
#include "core/build_flow/build.hpp"

#include "core/base/output.hpp"
#include "core/format/csv/pin_report.hpp"
#include "core/inputs/data_folder.hpp"
#include "core/model/timing_words.hpp"
#include "core/base/said.hpp"
#include "kpeg/commands.hpp"

#include <algorithm>
#include <cmath>
#include <memory>

namespace kpeg {

namespace {

struct BuildArguments {
    std::vector<std::string> inputs, sdc, defines, parameters, allow;
    std::string top, part, pins, effort = "quick", from = "map", activity, out, json;
    unsigned seed = 1, most_loads = 0;
    bool fix_hold = false;
};

kp::Message build_error(const std::string& text) {
    return {kp::Severity::stop, kp::Code::arguments, text};
}

kp::Json assumed_json(const std::vector<kp::fabric::PowerReport::Assumed>& list) {
    kp::Json out = kp::Json::array();
    for (const auto& a : list)
        out.push_back({{"what", kp::json_safe(a.what)}, {"value", a.value}, {"from", kp::json_safe(a.from)}});
    return out;
}

kp::Json power_json(const kp::fabric::PowerReport& p) {
    kp::Json groups = kp::Json::array(), assumed = assumed_json(p.assumed);
    for (const auto& [what, w] : p.groups) groups.push_back({{"what", what}, {"w", w}});
    kp::Json banks = kp::Json::array(), modules = kp::Json::array();
    for (const auto& [bank, w] : p.banks) banks.push_back({{"bank", kp::json_safe(bank)}, {"w", w}});
    for (const auto& [path, w] : p.modules) modules.push_back({{"path", kp::json_safe(path)}, {"w", w}});
    return {{"total_w", p.total_w},    {"banks", std::move(banks)},   {"modules", std::move(modules)},
            {"static_w", p.static_w},  {"groups", std::move(groups)}, {"assumed", std::move(assumed)},
            {"dominates", p.dominates}};
}

kp::Json figures_json(const kp::build_flow::StepFigures& f) {
    const auto worst = [](const kp::CheckSummary& s) {
        return s.wns ? kp::Json(std::round(*s.wns * 1e6) / 1e6) : kp::Json(nullptr);
    };
    return {{"setup", worst(f.setup)},
            {"setup_failing", f.setup.failing},
            {"hold", worst(f.hold)},
            {"hold_failing", f.hold.failing},
            {"wirelength", f.wirelength}};
}

kp::Json steps_json(const std::vector<kp::build_flow::StepEffect>& steps) {
    kp::Json out = kp::Json::array();
    for (const auto& s : steps)
        out.push_back({{"name", s.name},
                       {"state", word_of(s.state)},
                       {"cells", s.cells},
                       {"before", figures_json(s.before)},
                       {"after", figures_json(s.after)},
                       {"why", s.why.empty() ? kp::Json(nullptr) : kp::Json(s.why)}});
    return out;
}

kp::Json lost_json(const std::vector<kp::build_flow::LostCommand>& list) {
    kp::Json out = kp::Json::array();
    for (const auto& l : list)
        out.push_back({{"file", kp::json_safe(l.file)}, {"line", l.line}, {"text", kp::json_safe(l.text)}});
    return out;
}

kp::Json answer_json(const kp::build_flow::BuildAnswer& a) {
    kp::Json stages = kp::Json::array(), use = kp::Json::array(), modules = kp::Json::array();
    for (const auto& m : a.modules)
        modules.push_back({{"path", kp::json_safe(m.path)},
                           {"logic_cells", m.logic_cells},
                           {"registers", m.registers},
                           {"memories", m.memories}});
    for (const auto& s : a.stages)
        stages.push_back({{"name", kp::build_flow::stage_names[static_cast<size_t>(s.stage)]},
                          {"state", word_of(s.state)},
                          {"seconds", std::round(s.seconds * 1e4) / 1e4},
                          {"why", s.why.empty() ? kp::Json(nullptr) : kp::Json(kp::json_safe(s.why))}});
    for (const auto& u : a.use) use.push_back({{"resource", u.resource}, {"used", u.used}, {"available", u.available}});
    return {{"schema", "kitepeg.build/1"},
            {"stand_in", "Built by the stand-in builder of Kite Peg, for made-up parts."},
            {"library", kp::json_safe(a.library)},
            {"built", a.built},
            {"verdict", word_of(a.verdict)},
            {"failing", a.timing ? kp::verdict_of(*a.timing).failing : 0},
            {"coverage", a.timing ? kp::Json{{"endpoints", a.timing->coverage.endpoints},
                                             {"constrained", a.timing->coverage.constrained}}
                                  : kp::Json(nullptr)},
            {"constraints",
             {{"commands", a.constraints.commands},
              {"refused", lost_json(a.constraints.refused)},
              {"without effect", lost_json(a.constraints.without_effect)}}},
            {"stages", std::move(stages)},
            {"assumed", assumed_json(a.assumed)},
            {"use", std::move(use)},
            {"modules", std::move(modules)},
            {"steps", steps_json(a.steps)},
            {"wirelength", a.wirelength},
            {"loose", a.loose},
            {"timing", a.timing ? kp::summary_json(*a.timing) : kp::Json(nullptr)},
            {"power", a.power ? power_json(*a.power) : kp::Json(nullptr)},
            {"messages", kp::messages_json(a.messages)}};
}

/// What single files ask for, as a project.
kp::Result<kp::Project> project_of(kp::Disk& disk, const BuildArguments& a) {
    kp::Project p;
    p.name = a.top.empty() ? "design" : a.top;
    p.part = a.part;
    p.top = a.top;
    p.sources = a.inputs;
    for (const auto& text : a.defines) p.defines.insert(assignment(text, "1"));
    for (const auto& text : a.parameters) p.parameters.insert(assignment(text, ""));
    for (const auto& path : a.sdc) {
        auto text = disk.read(path, std::size_t{64} << 20);
        if (!text) return text.messages();
        kp::SdcFile file;
        file.path = path;
        file.text = text.take();
        p.constraints.push_back(std::move(file));
    }
    return p;
}

kp::Status read_rows(kp::Disk& disk, const std::string& file, kp::build_flow::BuildRequest& request) {
    if (file.empty()) return kp::Done{};
    const auto text = disk.read(file, std::size_t{16} << 20);
    if (!text) return text.messages();
    auto rows = kp::read_pin_report(text.value(), file);
    if (!rows) return rows.messages();
    request.pins = rows.take();
    request.pins_file = file;
    return kp::Done{};
}

/// Makes the folder only now, when nothing that was asked for has been refused.
int build_into(kp::Disk& disk, const kp::build_flow::BuildRequest& request, const BuildArguments& a) {
    if (auto made = disk.make_folder(a.out); !made) return refuse(made.messages());
    const auto answer = kp::build_flow::build(disk, request);
    if (!answer) return refuse(answer.messages());
    const auto& b = answer.value();
    int status = b.verdict == kp::build_flow::BuildVerdict::met ? in_order : findings;
    if (!b.built) refuse(b.messages);
    const auto json = answer_json(b);
    status = write_out(json, kp::join_path(a.out, "build.json"), status);
    return status == unusable ? status : write_out(json, a.json, status);
}

int run_build(const BuildArguments& a) {
    const auto stage = kp::build_flow::stage_of(a.from);
    if (!stage)
        return refuse({build_error(kp::said("There is no stage '{}'; stages are {}.", a.from,
                                            kp::list_names(std::vector<std::string>(kp::build_flow::stage_names.begin(),
                                                                                    kp::build_flow::stage_names.end()),
                                                           kp::build_flow::stage_names.size())))});
    const bool project = a.inputs.size() == 1 && a.inputs[0].ends_with(".kpeg");
    auto inputs = a.inputs;
    inputs.insert(inputs.end(), a.sdc.begin(), a.sdc.end());
    if (!a.pins.empty()) inputs.push_back(a.pins);
    if (!a.activity.empty()) inputs.push_back(a.activity);
    auto& disk = kp::real_disk();
    const auto out_is = disk.kind(a.out);
    if (out_is != kp::FileKind::none && out_is != kp::FileKind::folder)
        return refuse({build_error(
            kp::said("--out {} is not a folder; name a folder for the results, or one to be made.", a.out))});
    for (const char* name : {"netlist.v", "delays.sdf", "pins.csv", "placed.json", "origin.json", "build.json"})
        if (auto status = kp::check_outputs({kp::join_path(a.out, name)}, inputs); !status)
            return refuse(status.messages());
    if (auto status = kp::check_outputs({a.json}, inputs); !status) return refuse(status.messages());
    kp::build_flow::BuildRequest request;
    request.data = kp::data_folder();
    request.out = disk.real_path(a.out);
    request.seed = a.seed;
    request.effort = a.effort == "full" ? 4 : 1;
    request.from = *stage;
    request.activity = a.activity;
    request.fix_hold = a.fix_hold;
    request.most_loads = static_cast<int>(std::min(a.most_loads, 1000000U));
    if (!project) {
        if (a.part.empty()) return refuse({build_error("kpeg build needs a project, or sources and --part.")});
        if (auto part = part_called(a.part); !part) return refuse(part.messages());
        auto made = project_of(disk, a);
        if (!made) return refuse(made.messages());
        request.project = made.take();
        if (auto rows = read_rows(disk, a.pins, request); !rows) return refuse(rows.messages());
        request.folder = ".";
        auto allow = a.allow;
        for (const auto& file : inputs) allow.push_back(kp::folder_of(file));
        if (a.part.ends_with(".part.json")) allow.push_back(a.part);
        request.reach = kp::Reach(disk, kp::folder_of(a.inputs[0]), allow);
        return build_into(disk, request, a);
    }
    if (!a.part.empty() || !a.sdc.empty() || !a.pins.empty() || !a.top.empty() || !a.defines.empty() ||
        !a.parameters.empty())
        return refuse({build_error(
            "A project brings its own part, top, pins and constraints; leave out --part, --top, --pins, --sdc, "
            "--define and --param.")});
    auto opened = open_project(a.inputs[0], a.allow, kp::OpenTo::look, "build");
    if (!opened) return refuse(opened.messages());
    auto& s = *opened.value();
    request.project = s.project();
    request.folder = s.document().folder();
    request.reach = s.world().reach ? std::optional(*s.world().reach) : std::nullopt;
    return build_into(disk, request, a);
}

}  // namespace

void add_build(Command& app, Run& run) {
    auto a = std::make_shared<BuildArguments>();
    auto* c = app.add_subcommand("build", "A placed design with delays, use and power: the stand-in builder");
    c->add_option("inputs", a->inputs, "A project (*.kpeg), or HDL text in the order it is compiled")->required();
    c->add_option("--top", a->top, "Module at the top");
    c->add_option("--part", a->part, "Ordering code of the part");
    c->add_option("--sdc", a->sdc, "Constraints")->one_each();
    c->add_option("--pins", a->pins, "CSV with the columns port and pin");
    c->add_option("--define", a->defines, "A macro, NAME or NAME=TEXT")->one_each();
    c->add_option("--param", a->parameters, "A parameter of the top, NAME=NUMBER")->one_each();
    c->add_option("--seed", a->seed, "Random seed");
    c->add_option("--effort", a->effort, "quick or full")->one_of({"quick", "full"});
    c->add_flag("--fix-hold", a->fix_hold, "Add delay where hold fails and setup leaves room");
    c->add_option("--most-loads", a->most_loads, "Registers that drive more get copies, if that helps the worst slack")
        ->positive();
    c->add_option("--from", a->from, "Stage to begin at: map, pins, place, delays, time, power");
    c->add_option("--activity", a->activity, "Value changes (VCD) of the netlist, for power");
    c->add_option("--out", a->out, "Folder for the results")->required();
    c->add_option("--json", a->json, "Where the result goes; - is standard output")->required();
    add_allow(*c, a->allow);
    c->callback([a, &run] { run = [a] { return run_build(*a); }; });
}

}  // namespace kpeg
