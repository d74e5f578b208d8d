// SPDX-License-Identifier: GPL-3.0-or-later
// lanes: links on the lanes of a lane block, or why they do not fit.
#include "core/format/json/json_text.hpp"
#include "core/lane_planning/lanes.hpp"

#include "core/base/output.hpp"
#include "core/format/json/links_json.hpp"
#include "core/inputs/data_folder.hpp"
#include "core/model/lane_pins.hpp"
#include "kpeg/commands.hpp"

#include <memory>

namespace kpeg {

namespace {

struct LanesArguments {
    std::string project, part, ask, spots, json;
    std::vector<std::string> relax, allow;
    bool write = false;
};

kp::Message lanes_error(const std::string& text) {
    return {kp::Severity::stop, kp::Code::arguments, text};
}

kp::Json names(const std::vector<std::string>& list) {
    kp::Json out = kp::Json::array();
    for (const auto& n : list) out.push_back(kp::json_safe(n));
    return out;
}

/// The pins of each lane, by the part.
kp::Json pins_json(const kp::Part& part, const std::vector<std::string>& lanes) {
    kp::Json out = kp::Json::array();
    for (const auto& name : lanes)
        if (const auto at = kp::lane_of_part(part, name))
            out.push_back({{"lane", kp::json_safe(name)},
                           {"tx_p", at.lane->tx[0]},
                           {"tx_n", at.lane->tx[1]},
                           {"rx_p", at.lane->rx[0]},
                           {"rx_n", at.lane->rx[1]}});
    return out;
}

kp::Json answer_json(const kp::Part& part, const kp::LaneAnswer& a, bool with_spots) {
    kp::Json placed = kp::Json::array(), conflict = kp::Json::array();
    for (const auto& p : a.placed)
        placed.push_back({{"link", kp::json_safe(p.link)},
                          {"block", kp::json_safe(p.block)},
                          {"engine", kp::json_safe(p.engine)},
                          {"lanes", names(p.lanes)},
                          {"pins", pins_json(part, p.lanes)},
                          {"crossings", p.crossings},
                          {"clock", kp::json_safe(p.clock)}});
    for (const auto& f : a.conflict)
        conflict.push_back({{"id", kp::json_safe(f.id)},
                            {"kind", f.kind},
                            {"objects", names(f.objects)},
                            {"text", kp::json_safe(f.text)},
                            {"relax", kp::json_safe(f.relax)}});
    kp::Json out{{"schema", "kitepeg.lanes/1"},
                 {"status", a.solved ? "placed" : "conflict"},
                 {"placed", std::move(placed)},
                 {"moved", a.moved},
                 {"cost", a.cost},
                 {"bound", a.bound},
                 {"left_adrift", names(a.left_adrift)},
                 {"conflict", std::move(conflict)},
                 {"messages", kp::Json::array()}};
    if (with_spots) {
        out["spots"] = kp::Json::array();
        for (const auto& s : a.spots)
            out["spots"].push_back({{"block", kp::json_safe(s.block)},
                                    {"engine", kp::json_safe(s.engine)},
                                    {"lanes", names(s.lanes)},
                                    {"clock", kp::json_safe(s.clock)}});
    }
    return out;
}

int finish(const kp::Part& part, const kp::LaneAnswer& answer, const LanesArguments& a) {
    return write_out(answer_json(part, answer, !a.spots.empty()), a.json, answer.solved ? in_order : findings);
}

kp::LaneQuestion question_of(const LanesArguments& a, std::vector<kp::LaneLink> links) {
    kp::LaneQuestion q;
    q.links = std::move(links);
    q.relax = {a.relax.begin(), a.relax.end()};
    q.spots = a.spots;
    return q;
}

int run_ask(const LanesArguments& a) {
    if (a.write) return refuse({lanes_error("--write goes with a project; an ask is not written.")});
    if (a.part.empty() || a.ask.empty())
        return refuse({lanes_error("kpeg lanes needs a project, or --part and --ask.")});
    if (auto status = kp::check_outputs({a.json}, {a.ask}); !status) return refuse(status.messages());
    const auto text = kp::disk_with_pipes({a.ask})->read(a.ask, std::size_t{16} << 20);
    if (!text) return refuse(text.messages());
    auto asked = kp::read_ask(text.value(), a.ask);
    if (!asked) return refuse(asked.messages());
    kp::Project project;
    project.part = a.part;
    const auto world = kp::load_world(kp::real_disk(), project, kp::folder_of(a.ask), kp::data_folder());
    if (!world) return refuse(world.messages());
    const auto answer = kp::place_lanes(world.value()->part, question_of(a, asked.take()));
    if (!answer) return refuse(answer.messages());
    return finish(world.value()->part, answer.value(), a);
}

int run_project(const LanesArguments& a) {
    if (!a.ask.empty() || !a.part.empty())
        return refuse({lanes_error("A project brings its own part and links; leave out --part and --ask.")});
    auto opened = open_project(a.project, a.allow, a.write ? kp::OpenTo::work : kp::OpenTo::look, "lanes");
    if (!opened) return refuse(opened.messages());
    auto& s = *opened.value();
    if (auto status = kp::check_outputs({a.json}, files_of(s)); !status) return refuse(status.messages());
    std::vector<kp::LaneLink> links;
    for (const auto& line : s.project().links) links.push_back(kp::link_of(line));
    auto question = question_of(a, links);
    question.board = &s.world().board;
    const auto answer = kp::place_lanes(s.world().part, question);
    if (!answer) return refuse(answer.messages());
    if (a.write && answer.value().solved) {
        const auto edit = kp::lanes_edit(s.project(), answer.value(), question.relax);
        if (auto status = apply_and_save(s, edit); !status) return refuse(status.messages());
    }
    return finish(s.world().part, answer.value(), a);
}

}  // namespace

void add_lanes(Command& app, Run& run) {
    auto a = std::make_shared<LanesArguments>();
    auto* c = app.add_subcommand("lanes", "Links on lanes, or the smallest set that conflicts");
    c->add_option("project", a->project, "A project (*.kpeg) with links");
    c->add_option("--part", a->part, "Ordering code of the part, with --ask");
    c->add_option("--ask", a->ask, "A file of links (kitepeg.links/1)");
    c->add_option("--relax", a->relax, "A fact of a conflict to leave out of account, by its id");
    c->add_option("--spots", a->spots, "List every legal spot of this link beside what is pegged");
    c->add_flag("--write", a->write, "Keep the answer in the project, loose");
    c->add_option("--json", a->json, "Where the result goes; - is standard output")->required();
    add_allow(*c, a->allow);
    c->callback([a, &run] { run = [a] { return a->project.empty() ? run_ask(*a) : run_project(*a); }; });
}

}  // namespace kpeg
