// SPDX-License-Identifier: GPL-3.0-or-later
// place: legal places for ports, or why there are none.
#include "core/format/json/json_text.hpp"
#include "core/pin_placement/place_rest.hpp"

#include "core/base/output.hpp"
#include "core/planning/ways.hpp"
#include "kpeg/commands.hpp"

#include <memory>

namespace kpeg {

namespace {

struct PlaceArguments {
    std::string project, ports, json;
    std::vector<std::string> relax, allow;
    unsigned seed = 0;
    double seconds = 60;
    bool write = false;
};

kp::Json facts_json(const std::vector<kp::pin_placement::Fact>& facts) {
    kp::Json out = kp::Json::array();
    for (const auto& f : facts) {
        kp::Json objects = kp::Json::array();
        for (const auto& o : f.objects) objects.push_back(kp::json_safe(o));
        out.push_back({{"id", kp::json_safe(f.id)},
                       {"kind", f.kind},
                       {"objects", std::move(objects)},
                       {"text", kp::json_safe(f.text)},
                       {"relax", kp::json_safe(f.relax)}});
    }
    return out;
}

const char* name_of(kp::PlaceAnswer::Status status) {
    return status == kp::PlaceAnswer::Status::placed    ? "placed"
           : status == kp::PlaceAnswer::Status::partial ? "partial"
                                                        : "conflict";
}

kp::Json answer_json(const kp::PlaceAnswer& a) {
    kp::Json placed = kp::Json::array(), adrift = kp::Json::array(), messages = kp::Json::array();
    for (const auto& p : a.placed)
        placed.push_back({{"port", kp::json_safe(p.port)},
                          {"pin", kp::json_safe(p.pin)},
                          {"was", p.was.empty() ? kp::Json(nullptr) : kp::Json(kp::json_safe(p.was))}});
    for (const auto& p : a.left_adrift) adrift.push_back(kp::json_safe(p));
    for (const auto& f : a.wrong) {
        kp::Json objects = kp::Json::array();
        for (const auto& o : f.objects) objects.push_back(kp::json_safe(o.name));
        messages.push_back({{"severity", kp::name_of(f.severity)},
                            {"code", f.rule.empty() ? "place" : f.rule},
                            {"objects", std::move(objects)},
                            {"text", kp::json_safe(f.text)}});
    }
    return {{"schema", "kitepeg.place/1"},
            {"status", name_of(a.status)},
            {"placed", std::move(placed)},
            {"moved", a.moved},
            {"cost", a.cost},
            {"bound", a.bound},
            {"left_adrift", std::move(adrift)},
            {"conflict", facts_json(a.conflict)},
            {"messages", std::move(messages)}};
}

int run_place(const PlaceArguments& a) {
    auto opened = open_project(a.project, a.allow, a.write ? kp::OpenTo::work : kp::OpenTo::look, "place");
    if (!opened) return refuse(opened.messages());
    auto& s = *opened.value();
    if (auto status = kp::check_outputs({a.json}, files_of(s)); !status) return refuse(status.messages());
    s.analyse_now();
    kp::PlaceQuestion question;
    question.seed = a.seed;
    question.seconds = a.seconds;
    question.relax = {a.relax.begin(), a.relax.end()};
    if (!a.ports.empty()) {
        const auto ports = kp::find_ports(a.ports, s.world().netlist.ports);
        if (!ports) return refuse(ports.messages());
        question.ports = {ports.value().begin(), ports.value().end()};
    }
    const auto input = kp::rule_input(s.world(), s.project(), s.analysis());
    const auto answer = kp::place_rest(input, question);
    if (!answer) return refuse(answer.messages());
    const auto& found = answer.value();
    const bool whole = found.status == kp::PlaceAnswer::Status::placed;
    if (a.write && whole)
        if (auto status = apply_and_save(s, found.edit); !status) return refuse(status.messages());
    return write_out(answer_json(found), a.json, whole ? in_order : findings);
}

}  // namespace

void add_place(Command& app, Run& run) {
    auto a = std::make_shared<PlaceArguments>();
    auto* c = app.add_subcommand("place", "Legal places for ports that have none, or the smallest set that conflicts");
    c->add_option("project", a->project, "A project (*.kpeg)")->required();
    c->add_option("--ports", a->ports, "Only these: names, buses, slices, with commas between");
    c->add_option("--seed", a->seed, "Random seed");
    c->add_option("--seconds", a->seconds, "Time limit, s")->positive();
    c->add_option("--relax", a->relax, "A fact of a conflict to leave out of account, by its id");
    c->add_flag("--write", a->write, "Peg them, loose, in the project");
    c->add_option("--json", a->json, "Where the result goes; - is standard output")->required();
    add_allow(*c, a->allow);
    c->callback([a, &run] { run = [a] { return run_place(*a); }; });
}

}  // namespace kpeg
