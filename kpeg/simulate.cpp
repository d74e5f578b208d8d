// SPDX-License-Identifier: GPL-3.0-or-later
// simulate: vectors on a netlist, with delays if there are any.
#include "core/format/json/json_text.hpp"
#include "core/base/output.hpp"
#include "core/base/text.hpp"
#include "core/simulation/vectors.hpp"
#include "core/format/sdf/read.hpp"
#include "core/inputs/design.hpp"
#include "core/base/said.hpp"
#include "kpeg/commands.hpp"

#include <memory>

namespace kpeg {

namespace {

struct SimulateArguments {
    std::vector<std::string> netlists, libraries, models, clocks;
    std::string top, sdf, vectors, vcd, json;
    bool combinations = false;
};

kp::Message simulate_error(const std::string& text) {
    return {kp::Severity::stop, kp::Code::arguments, text};
}

kp::Json values(const std::vector<std::pair<std::string, std::string>>& list) {
    kp::Json out = kp::Json::object();
    for (const auto& [name, value] : list) out[kp::json_safe(name)] = value;
    return out;
}

kp::Json answer_json(const kp::simulation::Observed& o, const kp::simulation::EventSimulator& s, const kp::Netlist& n,
                     const kp::simulation::Circuit& c, const std::vector<kp::Message>& messages) {
    kp::Json rows = kp::Json::array(), violations = kp::Json::array();
    for (const auto& r : o.rows) {
        kp::Json row{{"time", r.time}};
        if (!r.inputs.empty()) row["inputs"] = values(r.inputs);
        row["observed"] = values(r.observed);
        row["expected"] = values(r.expected);
        row["ok"] = r.ok;
        rows.push_back(std::move(row));
    }
    for (const auto& v : s.violations())
        violations.push_back(
            {{"time", kp::simulation::ns_of(v.when)},
             {"check", v.setup ? "setup" : "hold"},
             {"pin", kp::json_safe(n.cell_names[v.cell] + "/" + c.plans[c.cells[v.cell].plan].cell->pins[v.data].name)},
             {"missing", kp::simulation::ns_of(v.missing)}});
    return {{"schema", "kitepeg.simulate/1"},
            {"rows", std::move(rows)},
            {"failed", o.failed},
            {"events", s.events()},
            {"violations", std::move(violations)},
            {"messages", kp::messages_json(messages)}};
}

kp::Result<std::vector<kp::simulation::ClockAsk>> clocks_of(const std::vector<std::string>& texts) {
    std::vector<kp::simulation::ClockAsk> out;
    for (const auto& text : texts) {
        const auto equals = text.find('=');
        const auto period = equals == std::string::npos ? std::nullopt : kp::to_number(text.substr(equals + 1));
        if (!period || *period <= 0 || *period > 1e9)
            return simulate_error(kp::said("--clock wants PORT=PERIOD in ns, not '{}'.", text));
        out.push_back({text.substr(0, equals), *period});
    }
    return out;
}

kp::Status annotate(kp::Disk& disk, const std::string& path, kp::simulation::Circuit& circuit,
                    std::vector<kp::Message>& messages) {
    if (path.empty()) return kp::Done{};
    auto stream = disk.stream(path);
    if (!stream) return stream.messages();
    kp::DelayFile delays;
    delays.file = path;
    if (auto read = kp::read_sdf(*stream.value(), path, delays); !read) return read.messages();
    for (auto& m : circuit.annotate(delays)) {
        if (m.severity == kp::Severity::stop) return m;
        messages.push_back(std::move(m));
    }
    return kp::Done{};
}

kp::Result<kp::simulation::Observed> play(kp::Disk& disk, const SimulateArguments& a, const kp::Netlist& netlist,
                                          const kp::simulation::Circuit& circuit,
                                          kp::simulation::EventSimulator& simulator) {
    const auto groups = kp::simulation::groups_of(netlist);
    const auto clocks = clocks_of(a.clocks);
    if (!clocks) return clocks.messages();
    if (a.combinations) {
        if (!a.clocks.empty()) return simulate_error("--clock does not go with --all-combinations.");
        return kp::simulation::run_combinations(simulator, circuit, groups);
    }
    const auto text = disk.read(a.vectors, std::size_t{256} << 20);
    if (!text) return text.messages();
    const auto vectors = kp::simulation::read_vectors(text.value(), a.vectors, groups);
    if (!vectors) return vectors.messages();
    return kp::simulation::run_vectors(simulator, groups, vectors.value(), clocks.value());
}

int run_simulate(const SimulateArguments& a) {
    if (a.combinations == !a.vectors.empty())
        return refuse({simulate_error("kpeg simulate needs --vectors or --all-combinations, one of them.")});
    auto inputs = a.netlists;
    for (const auto* list : {&a.libraries, &a.models}) inputs.insert(inputs.end(), list->begin(), list->end());
    for (const auto& one : {a.sdf, a.vectors})
        if (!one.empty()) inputs.push_back(one);
    if (auto status = kp::check_outputs({a.vcd, a.json}, inputs); !status) return refuse(status.messages());
    const auto disk = kp::disk_with_pipes(inputs);
    const auto design = kp::load_design(*disk, {a.netlists, a.libraries, a.models, a.top, {}});
    if (!design) return refuse(design.messages());
    const auto& netlist = design.value().netlist;
    auto circuit = kp::simulation::Circuit::of(netlist, design.value().library);
    if (!circuit) return refuse(circuit.messages());
    auto messages = design.messages();
    if (auto status = annotate(*disk, a.sdf, circuit.value(), messages); !status) return refuse(status.messages());
    kp::simulation::EventSimulator simulator(circuit.value());
    kp::simulation::Dump dump(netlist);
    std::vector<kp::simulation::Bit> start;
    if (!a.vcd.empty()) {
        for (std::uint32_t n = 0; n < netlist.net_names.size(); ++n) start.push_back(simulator.net(n));
        simulator.watch([&dump](const kp::simulation::Change& c) { dump.take(c); });
    }
    const auto observed = play(*disk, a, netlist, circuit.value(), simulator);
    if (!observed) return refuse(observed.messages());
    int status = observed.value().failed ? findings : in_order;
    if (!a.vcd.empty()) status = write_text(dump.text(start, simulator.now()), a.vcd, status);
    if (status == unusable) return status;
    return write_out(answer_json(observed.value(), simulator, netlist, circuit.value(), messages), a.json, status);
}

}  // namespace

void add_simulate(Command& app, Run& run) {
    auto a = std::make_shared<SimulateArguments>();
    auto* c = app.add_subcommand("simulate", "Vectors on a netlist, in four values, with delays if an SDF gives them");
    c->add_option("--netlist", a->netlists, "Structural Verilog")->required()->one_each();
    c->add_option("--top", a->top, "Module at the top");
    c->add_option("--lib", a->libraries, "Cells (Liberty)")->one_each();
    c->add_option("--models", a->models, "Cells (Verilog models)")->one_each();
    c->add_option("--sdf", a->sdf, "Delays");
    c->add_option("--vectors", a->vectors, "CSV: time, inputs by name, =outputs");
    c->add_flag("--all-combinations", a->combinations, "Every combination of the inputs");
    c->add_option("--clock", a->clocks, "A clock, PORT=PERIOD in ns")->one_each();
    c->add_option("--vcd", a->vcd, "Where every change goes");
    c->add_option("--json", a->json, "Where the result goes; - is standard output")->required();
    c->callback([a, &run] { run = [a] { return run_simulate(*a); }; });
}

}  // namespace kpeg
