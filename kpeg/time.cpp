// SPDX-License-Identifier: GPL-3.0-or-later
#include "kpeg/commands.hpp"

#include "core/format/sdc/read.hpp"
#include "core/format/sdf/read.hpp"
#include "core/session/data_folder.hpp"
#include "core/session/report_json.hpp"
#include "core/session/session.hpp"

#include <chrono>
#include <memory>

namespace kpeg {

namespace {

struct Arguments {
    std::string project, top, sdf, out = "-", early = "min", late = "max", clocks = "ideal";
    std::vector<std::string> netlists, libraries, sdc;
    bool no_credit = false, all_endpoints = false;
    size_t paths = 20, per_endpoint = 1;
};

int member(const std::string& name) { return name == "min" ? 0 : name == "typ" ? 1 : 2; }

int report(const kp::TimingReport& timing, const std::vector<kp::Message>& messages, double read_seconds, const Arguments& a) {
    const bool violated = timing.setup.failing + timing.hold.failing + timing.recovery.failing + timing.removal.failing + timing.pulse_width.failing + timing.period.failing > 0;
    return write_out(kp::timing_json(timing, messages, read_seconds, a.all_endpoints), a.out, violated ? findings : in_order);
}

kp::TimingOptions options_of(const Arguments& a) {
    kp::TimingOptions o;
    o.early_member = member(a.early), o.late_member = member(a.late);
    o.common_path_credit = !a.no_credit;
    o.propagated = a.clocks == "propagated";
    o.paths = a.paths, o.per_endpoint = a.per_endpoint, o.all_endpoints = a.all_endpoints;
    return o;
}

int refuse_unusable(const std::vector<kp::Message>& messages) {
    for (const auto& m : messages)
        if (kp::is_unusable(m)) return refuse({m});
    return in_order;
}

int run_project(const Arguments& a) {
    auto opened = kp::Session::open(kp::real_disk(), a.project, kp::data_folder());
    if (!opened) return refuse(opened.messages());
    auto& session = *opened.value();
    const auto analysis = kp::analyse(session.world(), session.project(), session.folder(), options_of(a));
    if (const int status = refuse_unusable(analysis->constraints.messages)) return status;
    return report(analysis->timing, analysis->constraints.messages, 0, a);
}

int run_files(const Arguments& a) {
    const auto from = std::chrono::steady_clock::now();
    auto& disk = kp::real_disk();
    auto library = kp::load_libraries(disk, a.libraries);
    if (!library) return refuse(library.messages());
    auto netlist = kp::load_netlists(disk, a.netlists, a.top, library.value());
    if (!netlist) return refuse(netlist.messages());
    std::vector<kp::sdc::Script> scripts;
    for (const auto& path : a.sdc) {
        auto text = disk.read(path, size_t{64} << 20);
        if (!text) return refuse(text.messages());
        scripts.push_back({path, path, text.take()});
    }
    std::unique_ptr<kp::DelayFile> delays;
    if (!a.sdf.empty()) {
        auto text = disk.read(a.sdf);
        if (!text) return refuse(text.messages());
        auto read = kp::read_sdf(text.value(), a.sdf);
        if (!read) return refuse(read.messages());
        delays = std::make_unique<kp::DelayFile>(read.take());
    }
    const kp::NetlistIndex index(netlist.value());
    const auto constraints = kp::read_sdc(scripts, netlist.value(), index, library.value());
    if (const int status = refuse_unusable(constraints.messages)) return status;
    const double seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count();
    const auto timing = kp::analyse_timing({netlist.value(), library.value(), constraints, delays.get()}, options_of(a));
    auto messages = library.messages();
    messages.insert(messages.end(), constraints.messages.begin(), constraints.messages.end());
    return report(timing, messages, seconds, a);
}

}  // namespace

void add_time(CLI::App& app, Run& run) {
    auto a = std::make_shared<Arguments>();
    auto* c = app.add_subcommand("time", "Static timing analysis of files or of a project");
    c->add_option("project", a->project, "A project (*.kpeg) instead of single files");
    c->add_option("--netlist", a->netlists, "Structural Verilog");
    c->add_option("--top", a->top, "Top module");
    c->add_option("--lib", a->libraries, "Liberty cell library");
    c->add_option("--sdf", a->sdf, "Delays");
    c->add_option("--sdc", a->sdc, "Constraints, in order");
    c->add_option("--early", a->early, "Member of SDF triples for early delays")->check(CLI::IsMember({"min", "typ", "max"}));
    c->add_option("--late", a->late, "Member of SDF triples for late delays")->check(CLI::IsMember({"min", "typ", "max"}));
    c->add_option("--clocks", a->clocks, "How clock latency is taken")->check(CLI::IsMember({"ideal", "propagated"}));
    c->add_flag("--no-common-path-credit", a->no_credit, "Give nothing back for shared clock network");
    c->add_option("--paths", a->paths, "Worst paths overall");
    c->add_option("--per-endpoint", a->per_endpoint, "Worst paths of each endpoint");
    c->add_flag("--all-endpoints", a->all_endpoints, "List the worst slack of every endpoint");
    c->add_option("--json", a->out, "Where the result goes; - is standard output")->required();
    c->callback([a, &run] {
        run = [a] {
            if (!a->project.empty()) return run_project(*a);
            if (a->netlists.empty() || a->libraries.empty()) return refuse({{kp::Severity::stop, "arguments", "kpeg time needs a project, or --netlist, --lib and --sdc.", "", 0, 0}});
            return run_files(*a);
        };
    });
}

}  // namespace kpeg
