// SPDX-License-Identifier: GPL-3.0-or-later
// sdc: findings of constraint text, its standard subset, and a first draft of one.
#include "core/format/json/json_text.hpp"
#include "kpeg/commands.hpp"

#include "core/base/output.hpp"
#include "core/format/sdc/read.hpp"
#include "core/format/sdc/as_used.hpp"
#include "core/format/sdc/subset.hpp"
#include "core/constraints/draft.hpp"
#include "core/constraints/exception_review.hpp"
#include "core/handoff/report_json.hpp"
#include "core/inputs/world.hpp"

#include <algorithm>
#include <memory>

namespace kpeg {

namespace {

struct SdcArguments {
    std::vector<std::string> files, netlists, libraries, models, allow;
    std::string top, json, subset, used, draft, out;
    bool review = false;
};

kp::Message sdc_error(const std::string& text) {
    return {kp::Severity::stop, kp::Code::arguments, text};
}

int check(const SdcArguments& a) {
    if (a.files.empty() || a.netlists.empty() || (a.json.empty() && a.subset.empty() && a.used.empty()))
        return refuse({sdc_error(
            "Name constraint files, --netlist, and --json, --standard-subset or --as-used for the result; or "
            "--draft PROJECT with --out.")});
    auto inputs = a.files;
    for (const auto* list : {&a.netlists, &a.libraries, &a.models})
        inputs.insert(inputs.end(), list->begin(), list->end());
    if (auto status = kp::check_outputs({a.json, a.subset, a.used}, inputs); !status) return refuse(status.messages());
    const auto own_disk = kp::disk_with_pipes(inputs);
    auto& disk = *own_disk;
    const auto design = kp::load_design(disk, {a.netlists, a.libraries, a.models, a.top, {}});
    if (!design) return refuse(design.messages());
    const auto& [library, netlist, cells] = design.value();
    std::vector<kp::sdc::Script> scripts;
    for (const auto& file : a.files) {
        auto text = disk.read(file, size_t{64} << 20);
        if (!text) return refuse(text.messages());
        scripts.push_back({file, file, text.take()});
    }
    const kp::NetlistIndex index(netlist);
    const auto constraints = kp::read_sdc(scripts, netlist, index, library, limits_of(a.files, a.allow));
    int status = std::any_of(constraints.messages.begin(), constraints.messages.end(),
                             [](const kp::Message& m) { return m.severity != kp::Severity::note; })
                     ? findings
                     : in_order;
    if (!a.subset.empty()) {
        std::string subset;
        for (const auto& s : scripts) subset += kp::sdc::standard_subset(s.text, s.file, constraints.messages);
        if (write_text(subset, a.subset, status) == unusable) return unusable;
    }
    if (!a.used.empty()) {
        const auto used = kp::sdc::constraints_as_used(scripts, netlist, index, library, limits_of(a.files, a.allow));
        if (write_text(used.text, a.used, status) == unusable) return unusable;
    }
    if (a.json.empty()) return status;
    return write_out(kp::sdc_json(constraints.messages, constraints.commands.size(), constraints.clocks.size()), a.json,
                     status);
}

kp::Json draft_json(const kp::Draft& draft) {
    kp::Json out{{"schema", "kitepeg.draft/1"}, {"lines", kp::Json::array()}};
    for (const auto& l : draft.lines)
        out["lines"].push_back({{"section", l.section},
                                {"sdc", kp::json_safe(l.text)},
                                {"why", kp::json_safe(l.why)},
                                {"assumed", l.assumed}});
    out["coverage"] = {{"endpoints", draft.coverage.endpoints},
                       {"constrained", draft.coverage.constrained},
                       {"excluded", draft.coverage.excluded},
                       {"untimed", draft.coverage.untimed.size()}};
    out["messages"] = kp::Json::array();
    for (const auto& m : draft.messages) out["messages"].push_back(kp::message_json(m));
    return out;
}

int draft(const SdcArguments& a) {
    if (!a.files.empty() || !a.netlists.empty() || !a.subset.empty() || a.out.empty())
        return refuse({sdc_error("--draft takes a project, and --out for the text; nothing else goes with them.")});
    auto opened = open_project(a.draft, a.allow, kp::OpenTo::look, "sdc");
    if (!opened) return refuse(opened.messages());
    auto& s = *opened.value();
    if (auto status = kp::check_outputs({a.out, a.json}, files_of(s)); !status) return refuse(status.messages());
    const auto made = kp::draft_sdc(s.world(), s.project(), s.document().folder(), {});
    if (!made) return refuse(made.messages());
    const int status = made.value().coverage.untimed.empty() ? in_order : findings;
    const auto text = kp::draft_text(made.value().lines, "First draft of the constraints of " + s.project().name);
    if (write_text(text, a.out, status) == unusable) return unusable;
    return a.json.empty() ? status : write_out(draft_json(made.value()), a.json, status);
}

/// What each exception of a project does: the project timed without it.
int review(const SdcArguments& a) {
    if (a.files.size() != 1 || !a.files[0].ends_with(".kpeg") || a.json.empty() || !a.netlists.empty())
        return refuse({sdc_error("--review takes one project, and --json for the result.")});
    auto opened = open_project(a.files[0], a.allow, kp::OpenTo::look, "sdc");
    if (!opened) return refuse(opened.messages());
    auto& s = *opened.value();
    if (auto status = kp::check_outputs({a.json}, files_of(s)); !status) return refuse(status.messages());
    kp::Json list = kp::Json::array();
    bool idle = false;
    for (const auto& r : kp::review_exceptions(s.world(), s.project(), s.document().folder(), {})) {
        idle |= r.endpoints == 0;
        list.push_back({{"file", kp::json_safe(r.command.file)},
                        {"line", r.command.line},
                        {"sdc", kp::json_safe(r.command.text)},
                        {"endpoints", r.endpoints},
                        {"hidden", r.hidden},
                        {"worst", r.worst ? kp::Json(*r.worst) : kp::Json(nullptr)},
                        {"words", r.words()}});
    }
    return write_out(
        {{"schema", "kitepeg.exceptions/1"}, {"exceptions", std::move(list)}, {"messages", kp::Json::array()}}, a.json,
        idle ? findings : in_order);
}

}  // namespace

void add_sdc(Command& app, Run& run) {
    auto a = std::make_shared<SdcArguments>();
    auto* c = app.add_subcommand("sdc", "Findings of constraint text; its standard subset; a first draft");
    c->add_option("files", a->files, "SDC text, in order; with --review a project");
    c->add_option("--netlist", a->netlists, "Structural Verilog");
    c->add_option("--top", a->top, "Top module");
    c->add_option("--lib", a->libraries, "Liberty cell library");
    c->add_option("--models", a->models, "Verilog models of cells that no library has");
    c->add_option("--standard-subset", a->subset, "Writes the text without what is not standard SDC");
    c->add_option("--as-used", a->used, "Writes all constraints evaluated, in one file, without Tcl");
    c->add_option("--draft", a->draft, "A project to draft the first constraints of");
    c->add_option("--out", a->out, "Where the draft goes");
    c->add_flag("--review", a->review, "Of a project: what each exception hides, relaxes or does not touch");
    c->add_option("--json", a->json, "Where the result goes; - is standard output");
    add_allow(*c, a->allow);
    c->callback([a, &run] { run = [a] { return a->review ? review(*a) : a->draft.empty() ? check(*a) : draft(*a); }; });
}

}  // namespace kpeg
