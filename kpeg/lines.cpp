// SPDX-License-Identifier: GPL-3.0-or-later
// lines: a text of somebody's by a learned pattern, and the way back.
#include "core/base/output.hpp"
#include "core/format/json/json_text.hpp"
#include "core/format/json/world_json.hpp"
#include "core/format/lines/pattern_json.hpp"
#include "core/inputs/data_folder.hpp"
#include "kpeg/commands.hpp"

#include <memory>

namespace kpeg {

namespace {

struct LinesArguments {
    std::string text, pattern, project, out, json = "-";
    std::vector<std::string> allow;
    bool keep_unused = false;
};

int run_lines(const LinesArguments& a) {
    if (a.out.empty() != a.project.empty())
        return refuse({{kp::Severity::stop, kp::Code::arguments,
                        "--project and --out go together: the project says which lines are used, the other where the "
                        "text goes."}});
    std::vector<std::string> inputs{a.text, a.pattern};
    std::unique_ptr<kp::Session> session;
    if (!a.project.empty()) {
        auto opened = open_project(a.project, a.allow, kp::OpenTo::look, "lines");
        if (!opened) return refuse(opened.messages());
        session = opened.take();
        const auto own = files_of(*session);
        inputs.insert(inputs.end(), own.begin(), own.end());
    }
    if (auto status = kp::check_outputs({a.json, a.out}, inputs); !status) return refuse(status.messages());
    auto& disk = kp::real_disk();
    auto pattern_text = disk.read(a.pattern, size_t{1} << 20);
    if (!pattern_text) return refuse(pattern_text.messages());
    const auto pattern = kp::lines::read_pattern(pattern_text.value(), a.pattern);
    if (!pattern) return refuse(pattern.messages());
    auto text = disk.read(a.text, size_t{256} << 20);
    if (!text) return refuse(text.messages());
    const auto reading = kp::lines::read(pattern.value(), text.value(), a.text);
    if (!reading) return refuse(reading.messages());
    const auto& r = reading.value();
    if (session) {
        const auto used = kp::lines::used_by(r, session->world().netlist.ports, session->project());
        const auto rewritten = kp::lines::rewrite(pattern.value(), text.value(), r, used, a.keep_unused);
        if (const int status = write_text(rewritten, a.out, in_order)) return status;
    }
    const auto standards_file = kp::data_folder() + "/standards/io.standards.json";
    const auto standards_text = disk.read(standards_file);
    const auto standards = standards_text ? kp::read_standards(standards_text.value(), standards_file)
                                          : kp::Result<kp::StandardTable>(standards_text.messages());
    const bool nothing = r.rows.empty() && !r.unread.empty();
    return write_out(kp::lines::reading_json(r, standards ? &standards.value() : nullptr), a.json,
                     nothing ? findings : in_order);
}

}  // namespace

void add_lines(Command& app, Run& run) {
    auto a = std::make_shared<LinesArguments>();
    auto* c = app.add_subcommand("lines", "Reads a text whose lines somebody showed how to read, and writes it back");
    c->add_option("text", a->text, "The text")->required();
    c->add_option("--pattern", a->pattern, "How its lines read (kitepeg.lines/1)")->required();
    c->add_option("--json", a->json, "Where the result goes; - is standard output")->required();
    c->add_option("--project", a->project, "A project (*.kpeg) whose ports the text is written for");
    c->add_option("--out", a->out, "The text again, with the lines of used ports active and under its names");
    c->add_flag("--keep-unused", a->keep_unused, "Keep lines of ports that are not used, as comments");
    add_allow(*c, a->allow);
    c->callback([a, &run] { run = [a] { return run_lines(*a); }; });
}

}  // namespace kpeg
