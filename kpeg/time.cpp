// SPDX-License-Identifier: GPL-3.0-or-later
// time: the timing of a project or of single files.
#include "core/format/json/json_text.hpp"
#include "kpeg/commands.hpp"
#include "kpeg/path_filter.hpp"

#include "core/base/output.hpp"
#include "core/base/text.hpp"
#include "core/format/sdc/read.hpp"
#include "core/format/sdf/read.hpp"
#include "core/model/timing_words.hpp"
#include "core/inputs/corners.hpp"
#include "core/handoff/report_json.hpp"
#include "core/session/session.hpp"
#include "core/session/timekeeper.hpp"
#include "core/closing/what_if.hpp"
#include "core/timing/engine.hpp"

#include <algorithm>
#include <chrono>
#include <deque>
#include <memory>
#include <optional>

namespace kpeg {

namespace {

struct TimeArguments {
    std::string what_if, project, top, sdf, out = "-", early = "min", late = "max", clocks = "ideal";
    std::vector<std::string> netlists, libraries, models, sdc, corners, allow;
    bool no_credit = false, all_endpoints = false, clear_arcs = false;
    size_t paths = 20, per_endpoint = 1;
    PathFilter filter;
    [[nodiscard]] size_t searched() const { return filter.empty() ? paths : most_searched; }
};

int member(const std::string& name) {
    return name == "min" ? 0 : name == "typ" ? 1 : 2;
}

int report(kp::TimingReport timing, const std::vector<kp::Message>& messages, double read_seconds,
           const TimeArguments& a, const std::vector<kp::CellOrigin>& cells,
           const std::optional<kp::WhatIf>& what_if = {}) {
    const bool violated = kp::verdict_of(timing).failing > 0;
    a.filter.apply(timing, a.paths, a.per_endpoint, a.searched());
    auto json = kp::timing_json(timing, messages, read_seconds, a.all_endpoints);
    json["cells"] = kp::Json::array();
    for (const auto& c : cells) json["cells"].push_back({{"type", c.type}, {"count", c.count}, {"from", c.from}});
    if (what_if) json["what_if"] = kp::what_if_json(a.what_if, *what_if);
    return write_out(json, a.out, violated ? findings : in_order);
}

kp::TimingOptions options_of(const TimeArguments& a) {
    kp::TimingOptions o;
    o.early_member = member(a.early);
    o.late_member = member(a.late);
    o.common_path_credit = !a.no_credit;
    o.propagated = a.clocks == "propagated";
    o.clear_arcs = a.clear_arcs;
    o.paths = a.searched();
    o.per_endpoint = a.filter.looks_inside() ? std::max(a.per_endpoint, searched_per_endpoint) : a.per_endpoint;
    o.all_endpoints = a.all_endpoints;
    if (!a.filter.empty()) o.other_starts = 2'000'000'000;
    return o;
}

int refuse_unusable(const std::vector<kp::Message>& messages) {
    for (const auto& m : messages)
        if (kp::is_unusable(m)) return refuse({m});
    return in_order;
}

/// What corners are told on the command line; what one leaves open is as for all.
kp::CornerSpec for_all(const TimeArguments& a) {
    return {"", a.sdf, "", member(a.early), member(a.late), 1, 1};
}

std::vector<kp::Message> read_delays(kp::Disk& disk, const std::string& path, kp::DelaySink& sink) {
    auto stream = disk.stream(path);
    if (!stream) return stream.messages();
    return kp::read_sdf(*stream.value(), path, sink).messages();
}

/// The delay file that cells may be told from: the one for all, else that of the first corner with one.
std::string first_delays(const TimeArguments& a) {
    if (!a.sdf.empty()) return a.sdf;
    for (const auto& text : a.corners)
        if (const auto c = kp::parse_corner(text, for_all(a)); c && !c.value().sdf.empty()) return c.value().sdf;
    return {};
}

/// What the engine reads of one corner; the library lives in `libraries`.
kp::Result<kp::TimingCorner> load_corner(kp::Disk& disk, const kp::CornerSpec& c, const kp::Library& base,
                                         std::deque<kp::Library>& libraries) {
    kp::TimingCorner out;
    out.name = c.name;
    out.early_member = c.early;
    out.late_member = c.late;
    out.early_factor = c.early_factor;
    out.late_factor = c.late_factor;
    if (!c.library.empty()) {
        auto library = kp::load_libraries(disk, {c.library});
        if (!library) return library.messages();
        auto& own = libraries.emplace_back(library.take());
        own.merge(base);  // cells that come from models or delays are the same in every corner
        out.library = &own;
    }
    if (c.sdf.empty()) return out;
    out.file = c.sdf;
    out.read = [&disk, path = c.sdf](kp::DelaySink& sink) { return read_delays(disk, path, sink); };
    return out;
}

kp::Result<std::vector<kp::TimingCorner>> corners_of(kp::Disk& disk, const TimeArguments& a, const kp::Library& base,
                                                     std::deque<kp::Library>& libraries) {
    auto wanted = kp::parse_corners(a.corners, for_all(a));
    if (!wanted) return wanted.messages();
    auto specs = wanted.take();
    if (specs.empty()) specs.push_back(for_all(a));
    std::vector<kp::TimingCorner> out;
    for (const auto& c : specs) {
        auto corner = load_corner(disk, c, base, libraries);
        if (!corner) return corner.messages();
        out.push_back(corner.take());
    }
    return out;
}

/// Files that the command line names.
std::vector<std::string> inputs_of(const TimeArguments& a) {
    std::vector<std::string> out{a.sdf};
    for (const auto* list : {&a.netlists, &a.libraries, &a.models, &a.sdc})
        out.insert(out.end(), list->begin(), list->end());
    for (const auto& text : a.corners)
        if (const auto c = kp::parse_corner(text, for_all(a)))
            out.insert(out.end(), {c.value().sdf, c.value().library});
    std::erase(out, "");
    return out;
}

kp::Status add_scripts(kp::Disk& disk, const std::vector<std::string>& paths, std::vector<kp::sdc::Script>& scripts) {
    for (const auto& path : paths) {
        auto text = disk.read(path, size_t{64} << 20);
        if (!text) return text.messages();
        scripts.push_back({path, path, text.take()});
    }
    return kp::Done{};
}

/// What was said when the cells of a project were read, in front of what its constraints bring.
std::vector<kp::Message> with_notes(const kp::World& w, const std::vector<kp::Message>& messages) {
    std::vector<kp::Message> out;
    for (const auto& m : w.notes)
        if (m.code == kp::Code::unknown_cell || m.code == kp::Code::sense) out.push_back(m);
    out.insert(out.end(), messages.begin(), messages.end());
    return out;
}

/// A project's own corners, with files where they were found.
std::vector<std::string> corners_with_places(const kp::Session& session) {
    const auto found = [&](const std::string& path) {
        for (const auto& f : session.world().files)
            if (!path.empty() && f.path == path) return f.full;
        return path;
    };
    std::vector<std::string> out;
    for (const auto& corner : session.world().corners) {
        auto spec = corner.spec;
        spec.sdf = found(spec.sdf);
        spec.library = found(spec.library);
        out.push_back(kp::text_of(spec));
    }
    return out;
}

/// A project with more constraints, other delays, or corners than it brings.
int run_project_otherwise(const kp::Session& session, TimeArguments a, kp::Disk& disk) {
    const auto& w = session.world();
    if (a.sdf.empty() && a.corners.empty()) a.corners = corners_with_places(session);
    if (a.sdf.empty())
        for (const auto& f : w.files)
            if (f.role == "delays") a.sdf = f.full;
    auto scripts = kp::analysis_scripts(session.project(), session.document().folder());
    if (auto status = add_scripts(disk, a.sdc, scripts); !status) return refuse(status.messages());
    std::deque<kp::Library> libraries;
    auto corners = corners_of(disk, a, w.library, libraries);
    if (!corners) return refuse(corners.messages());
    const auto constraints = kp::read_sdc(scripts, w.netlist, *w.index, w.library, kp::script_limits(w, 10));
    if (const int status = refuse_unusable(constraints.messages)) return status;
    kp::TimingEngine engine({w.netlist, w.library, constraints}, options_of(a), std::move(corners.value()));
    if (engine.refused()) return refuse({*engine.refused()});
    engine.set_pad_delays(kp::pad_delays(w, session.project()));
    engine.update();
    return report(engine.report(), with_notes(w, constraints.messages), 0, a, w.cells);
}

int run_project(const TimeArguments& a) {
    const auto not_with = [](const char* option) {
        return refuse({{kp::Severity::stop, kp::Code::arguments,
                        std::string(option) + " does not go with a project, which brings its own; leave it out, or "
                                              "name single files instead of the project."}});
    };
    if (!a.netlists.empty()) return not_with("--netlist");
    if (!a.libraries.empty()) return not_with("--lib");
    if (!a.models.empty()) return not_with("--models");
    if (!a.top.empty()) return not_with("--top");
    const bool otherwise = !a.sdc.empty() || !a.sdf.empty() || !a.corners.empty();
    if (otherwise && !a.what_if.empty())
        return refuse({{kp::Severity::stop, kp::Code::arguments,
                        "--what-if asks about the project as it is; leave out --sdc, --sdf and --corner."}});
    auto opened = open_project(a.project, a.allow, kp::OpenTo::look, "time");
    if (!opened) return refuse(opened.messages());
    auto& session = *opened.value();
    auto inputs = inputs_of(a);
    const auto disk = kp::disk_with_pipes(inputs);
    const auto own = files_of(session);
    inputs.insert(inputs.end(), own.begin(), own.end());
    if (auto status = kp::check_outputs({a.out}, inputs); !status) return refuse(status.messages());
    if (otherwise) return run_project_otherwise(session, a, *disk);
    const auto now = session.snapshot();
    const auto analysis =
        kp::analyse(now->world, *now->project, now->grounds->folder, options_of(a), *now->grounds->timekeeper);
    if (const int status = refuse_unusable(analysis->constraints().messages)) return status;
    const auto& w = session.world();
    const auto messages = with_notes(w, analysis->constraints().messages);
    if (a.what_if.empty()) return report(analysis->timing(), messages, 0, a, w.cells);
    const auto then = kp::what_if_line(*now, a.what_if);
    if (!then) return refuse(then.messages());
    return report(analysis->timing(), messages, 0, a, w.cells, then.value());
}

int run_files(const TimeArguments& a) {
    const auto from = std::chrono::steady_clock::now();
    const auto inputs = inputs_of(a);
    if (auto status = kp::check_outputs({a.out}, inputs); !status) return refuse(status.messages());
    const auto own_disk = kp::disk_with_pipes(inputs);
    auto& disk = *own_disk;
    kp::DesignFiles files{a.netlists, a.libraries, a.models, a.top, {}};
    if (const auto path = first_delays(a); !path.empty())
        files.delays = [&disk, path](kp::DelaySink& sink) { return read_delays(disk, path, sink); };
    auto loaded = kp::load_design(disk, files);
    if (!loaded) return refuse(loaded.messages());
    const auto& netlist = loaded.value().netlist;
    const auto& library = loaded.value().library;
    std::vector<kp::sdc::Script> scripts;
    if (auto status = add_scripts(disk, a.sdc, scripts); !status) return refuse(status.messages());
    std::deque<kp::Library> libraries;
    auto corners = corners_of(disk, a, library, libraries);
    if (!corners) return refuse(corners.messages());
    std::optional<kp::NetlistIndex> index(netlist);
    const auto constraints = kp::read_sdc(scripts, netlist, *index, library, limits_of(a.sdc, a.allow));
    index.reset();
    if (const int status = refuse_unusable(constraints.messages)) return status;
    // SDF is read onto the graph, so that it never stands in memory: its time counts as reading.
    double reading = std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count();
    for (auto& corner : corners.value())
        if (corner.read)
            corner.read = [&reading, read = corner.read](kp::DelaySink& sink) {
                const auto begun = std::chrono::steady_clock::now();
                auto messages = read(sink);
                reading += std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
                return messages;
            };
    kp::TimingEngine engine({netlist, library, constraints}, options_of(a), std::move(corners.value()));
    if (engine.refused()) return refuse({*engine.refused()});
    engine.update();
    auto messages = loaded.messages();
    messages.insert(messages.end(), constraints.messages.begin(), constraints.messages.end());
    return report(engine.report(), messages, reading, a, loaded.value().cells);
}

}  // namespace

void add_time(Command& app, Run& run) {
    auto a = std::make_shared<TimeArguments>();
    auto* c = app.add_subcommand("time", "Static timing analysis of files or of a project");
    c->add_option("project", a->project, "A project (*.kpeg) instead of single files");
    c->add_option("--netlist", a->netlists, "Structural Verilog; not with a project");
    c->add_option("--top", a->top, "Top module; not with a project");
    c->add_option("--lib", a->libraries, "Liberty cell library; not with a project");
    c->add_option("--models", a->models, "Verilog models of cells that no library has; not with a project");
    c->add_option("--sdf", a->sdf, "Delays; with a project: instead of its own");
    c->add_option("--sdc", a->sdc, "Constraints, in order; with a project: behind its own");
    c->add_option("--early", a->early, "Member of SDF triples for early delays")->one_of({"min", "typ", "max"});
    c->add_option("--late", a->late, "Member of SDF triples for late delays")->one_of({"min", "typ", "max"});
    c->add_option("--clocks", a->clocks, "How clock latency is taken")->one_of({"ideal", "propagated"});
    c->add_flag("--no-common-path-credit", a->no_credit, "Give nothing back for shared clock network");
    c->add_option("--paths", a->paths, "Worst paths overall");
    c->add_option("--per-endpoint", a->per_endpoint, "Worst paths of each endpoint");
    a->filter.add_options(*c);
    c->add_flag("--all-endpoints", a->all_endpoints, "List the worst slack of every endpoint");
    c->add_option("--corner", a->corners,
                  "A corner of its own, may be given several times: "
                  "NAME[,sdf=FILE][,lib=FILE][,early=MEMBER][,late=MEMBER][,early-factor=X][,late-factor=X]");
    c->add_option("--what-if", a->what_if,
                  "One more line of SDC to try on a project; the figures with it are told beside the others");
    c->add_flag("--clear-arcs", a->clear_arcs, "Follow clear and preset of registers on to their outputs");
    c->add_option("--json", a->out, "Where the result goes; - is standard output")->required();
    add_allow(*c, a->allow);
    c->callback([a, &run] {
        run = [a] {
            if (!a->project.empty()) return run_project(*a);
            if (!a->what_if.empty())
                return refuse({{kp::Severity::stop, kp::Code::arguments,
                                "--what-if asks about a project (*.kpeg); name one instead of single files."}});
            if (a->netlists.empty())
                return refuse({{kp::Severity::stop, kp::Code::arguments,
                                "kpeg time needs a project, or --netlist and --sdc with --lib, --models or --sdf."}});
            return run_files(*a);
        };
    });
}

}  // namespace kpeg
