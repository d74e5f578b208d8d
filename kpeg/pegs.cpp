// SPDX-License-Identifier: GPL-3.0-or-later
// pegs: the pin map of a project: show, change, compare, write.
#include "core/format/json/json_text.hpp"
#include "kpeg/commands.hpp"

#include "core/base/text.hpp"
#include "core/base/output.hpp"
#include "core/handoff/adapter.hpp"
#include "core/handoff/handoff.hpp"
#include "core/handoff/template.hpp"
#include "core/planning/proposals.hpp"
#include "core/planning/ways.hpp"
#include "core/inputs/data_folder.hpp"
#include "core/session/session.hpp"
#include "core/base/said.hpp"

#include <iostream>
#include <memory>

namespace kpeg {

namespace {

struct PegsArguments {
    std::string project, csv, text_template, out, compare, adapter, adapter_sdc, json = "-";
    std::vector<std::string> set, allow;
    bool match = false, despite = false;
};

kp::Json row_json(const kp::SheetRow& row) {
    kp::Json j;
    for (const auto& c : kp::sheet_columns()) j[c.name] = row.*c.field;
    return j;
}

/// Pegs what --set and --match ask for; the first message when something cannot be done. `told`: who lost a pin by it.
kp::Status change(kp::Session& session, const PegsArguments& a, std::vector<kp::Message>& told) {
    const auto take = [&](const kp::Edit& edit) -> kp::Status { return session.apply(edit); };
    const auto& w = session.world();
    for (const auto& text : a.set) {
        const auto equals = text.find('=');
        if (equals == std::string::npos)
            return kp::Message{kp::Severity::stop, kp::Code::arguments,
                               kp::said("--set wants PORT=PIN, not '{}'.", text)};
        const auto ports = kp::find_ports(text.substr(0, equals), w.netlist.ports);
        if (!ports) return ports.messages();
        if (equals + 1 == text.size()) {
            for (const auto& port : ports.value())
                if (auto status = take(kp::unpeg_edit(session.project(), port)); !status) return status;
            continue;
        }
        const auto pins = kp::find_places(text.substr(equals + 1), w.part, w.board);
        if (!pins) return pins.messages();
        if (ports.value().size() != pins.value().size())
            return kp::Message{kp::Severity::stop, kp::Code::arguments,
                               kp::said("'{}' gives {} {}.", text, kp::counted(ports.value().size(), "port"),
                                        kp::counted(pins.value().size(), "pin"))};
        const auto many = kp::peg_many(session.project(), w.board, ports.value(), pins.value(), "by hand");
        if (auto status = take(many.edit); !status) return status;
        for (const auto& [port, pin] : many.evicted)
            told.push_back({kp::Severity::caution,
                            kp::Code::evicted,
                            kp::said("{} was on pin {} and is adrift now; {} took its place.", port, pin, text),
                            "",
                            0,
                            0,
                            {{kp::Subject::port, port}}});
    }
    if (!a.match) return kp::Done{};
    // Which ports are clocks, and how fast.
    const auto known = kp::analyse(w, session.project(), session.document().folder(), {});
    const auto all =
        kp::proposals_by_name(w.netlist.ports, w.board, session.project(),
                              kp::clock_rates(w.netlist.ports, known->design().ports, known->constraints()));
    if (auto status = take(kp::take_proposals(session.project(), w.board, all, "match names")); !status) return status;
    return kp::Done{};
}

/// Says that stops hold a file back.
int held(int stops) {
    std::cerr << "kpeg: Nothing was written: " << kp::counted(stops, "stop is", "stops are")
              << " open. Fix or waive them, or say --despite-stops.\n";
    return findings;
}

/// The adapter top, VHDL for .vhd and .vhdl, otherwise Verilog.
int write_adapter(const PegsArguments& a, const kp::Session& s, int stops) {
    const auto& w = s.world();
    const auto language = a.adapter.ends_with(".vhd") || a.adapter.ends_with(".vhdl") ? kp::AdapterLanguage::vhdl
                                                                                      : kp::AdapterLanguage::verilog;
    const auto text = kp::adapter_text(
        kp::plan_adapter(w.netlist.ports, w.netlist.top, w.board, s.project(), w.standards, true), language);
    if (!text) return refuse(text.messages());
    if (stops > 0 && !a.despite) return held(stops);
    if (!a.adapter_sdc.empty())
        if (const int status = write_text(
                kp::adapter_constraints(
                    kp::plan_adapter(w.netlist.ports, w.netlist.top, w.board, s.project(), w.standards, true),
                    s.project()),
                a.adapter_sdc, in_order))
            return status;
    return write_text(kp::stops_remark(stops, text.value()) + text.value(), a.adapter, in_order);
}

/// Makes the template's file unless stops hold it back. Exit::in_order when it was written.
int write_template(const PegsArguments& a, const kp::TemplateInput& input) {
    auto text = kp::disk_with_pipes({a.text_template})->read(a.text_template);
    if (!text) return refuse(text.messages());
    auto made = kp::render_template(text.value(), a.text_template, input);
    if (!made) return refuse(made.messages());
    if (input.stops > 0 && !a.despite) return held(input.stops);
    return write_text(made.value(), a.out, in_order);
}

/// What another project or a pin sheet says otherwise.
kp::Result<std::vector<kp::SheetDifference>> differences(const PegsArguments& a, const std::vector<kp::SheetRow>& now) {
    if (a.compare.ends_with(".kpeg")) {
        auto other = open_project(a.compare, a.allow, kp::OpenTo::look, "pegs");
        if (!other) return other.messages();
        const auto& o = *other.value();
        return kp::compare_sheets(kp::sheet_rows(o.world().netlist.ports, o.world().part, o.world().board, o.project()),
                                  now);
    }
    auto text = kp::disk_with_pipes({a.compare})->read(a.compare);
    if (!text) return text.messages();
    auto sheet = kp::read_sheet(text.value(), a.compare);
    if (!sheet) return sheet.messages();
    return kp::compare_with_sheet(sheet.value(), now);
}

int run_pegs(const PegsArguments& a) {
    const bool works = a.match || !a.set.empty();
    auto opened = open_project(a.project, a.allow, works ? kp::OpenTo::work : kp::OpenTo::look, "pegs");
    if (!opened) return refuse(opened.messages());
    auto& s = *opened.value();
    auto inputs = files_of(s);
    inputs.insert(inputs.end(), {a.text_template, a.compare});
    if (auto status = kp::check_outputs({a.csv, a.out, a.adapter, a.adapter_sdc, a.json}, inputs); !status)
        return refuse(status.messages());
    std::vector<kp::Message> told;
    const auto before = s.document().done().size();
    if (auto status = change(s, a, told); !status) {
        take_back(s, before);
        return refuse(status.messages());
    }
    // Who comes in by a later --set has lost nothing.
    std::erase_if(told, [&](const kp::Message& m) { return s.project().pegs.contains(m.subjects.at(0).name); });
    // Edits that a crash had left count as well: what is shown is saved.
    const bool changed = works && s.document().unsaved();
    if (changed) {
        if (auto status = s.document().save(); !status) {
            take_back(s, before);
            return refuse(status.messages());
        }
        s.analyse_now();  // and a line in the log
    }
    const auto analysis = kp::analyse(s.world(), s.project(), s.document().folder(), {});
    const auto input = kp::template_input(s, kp::count(kp::find(s.world(), s.project(), *analysis)).stops);
    if (!a.csv.empty())
        if (const int status = write_text(kp::write_sheet(input.rows), a.csv, in_order)) return status;
    kp::Json j{{"schema", "kitepeg.pegs/1"}, {"project", input.project}, {"part", input.part},
               {"board", input.board},       {"changed", changed},       {"stops", input.stops}};
    int adrift = 0;
    j["ports"] = kp::Json::array();
    for (const auto& row : input.rows) {
        adrift += row.state == "adrift";
        j["ports"].push_back(row_json(row));
    }
    j["adrift"] = adrift;
    j["messages"] = kp::Json::array();
    for (const auto& m : told) j["messages"].push_back(kp::message_json(m));
    int status = adrift > 0 ? findings : in_order;
    if (!a.text_template.empty())
        if (const int made = write_template(a, input); made != in_order) status = made;
    if (!a.adapter.empty())
        if (const int made = write_adapter(a, s, input.stops); made != in_order) status = made;
    if (status == unusable) return status;
    if (!a.compare.empty()) {
        const auto found = differences(a, input.rows);
        if (!found) return refuse(found.messages());
        j["differences"] = kp::Json::array();
        for (const auto& d : found.value())
            j["differences"].push_back(
                {{"port", d.port}, {"field", d.field}, {"before", d.before}, {"after", d.after}});
        status = j["differences"].empty() ? in_order : findings;
    }
    return write_out(j, a.json, status);
}

}  // namespace

void add_pegs(Command& app, Run& run) {
    auto a = std::make_shared<PegsArguments>();
    auto* c = app.add_subcommand("pegs", "The pin map of a project: show, change, compare, write");
    c->add_option("project", a->project, "A project (*.kpeg)")->required();
    c->add_option("--csv", a->csv, "Write the pin sheet here");
    auto* text = c->add_option("--template", a->text_template, "A Mustache template, see docs/templates.md");
    auto* out = c->add_option("--out", a->out, "Where the template's text goes")->needs(text);
    text->needs(out);
    auto* adapter =
        c->add_option("--adapter", a->adapter,
                      "Write a top with the names of the board around the design: VHDL for .vhd, otherwise Verilog");
    c->add_option("--adapter-sdc", a->adapter_sdc, "Write the constraints with the adapter's names here")
        ->needs(adapter);
    c->add_flag("--despite-stops", a->despite, "Write although stops are open");
    c->add_flag("--match", a->match, "Peg what is adrift where the names agree, and save");
    c->add_option("--set", a->set, "PORT=PIN, also bus=K1..K8, bus[3:0]=D1; PORT= sets it adrift; saved")->one_each();
    c->add_option("--compare", a->compare, "Another project or pin sheet, taken as the state before");
    c->add_option("--json", a->json, "Where the result goes; - is standard output")->required();
    add_allow(*c, a->allow);
    c->callback([a, &run] { run = [a] { return run_pegs(*a); }; });
}

}  // namespace kpeg
