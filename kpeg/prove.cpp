// SPDX-License-Identifier: GPL-3.0-or-later
// prove: the project at the simulated bench, as its pegs are, against something that knows better.
#include "core/format/json/json_text.hpp"
#include "core/verification/prove_project.hpp"

#include "core/base/local_time.hpp"
#include "core/base/output.hpp"
#include "kpeg/commands.hpp"

#include <memory>

namespace kpeg {

namespace {

struct ProveArguments {
    std::string project, vectors, against, formula, json;
    std::vector<std::string> parts, sources, allow, held, left_out;
    double each_ns = 1000, before_ms = 0;
    bool record = false;
};

kp::Json answer_json(const kp::ProofAnswer& a) {
    kp::Json rows = kp::Json::array(), crossed = kp::Json::array();
    const auto bits = [](const std::vector<std::string>& names, const std::vector<std::string>& values) {
        kp::Json out = kp::Json::object();
        for (size_t i = 0; i < names.size(); ++i) out[names[i]] = values[i];
        return out;
    };
    for (const auto& r : a.proof.rows)
        rows.push_back({{"ms", r.ms},
                        {"inputs", bits(a.proof.inputs, r.in)},
                        {"expected", bits(a.proof.outputs, r.want)},
                        {"observed", bits(a.proof.outputs, r.seen)},
                        {"ok", r.agrees}});
    for (const auto& c : a.crossed) crossed.push_back(kp::Json::array({c.a, c.b}));
    kp::Json outputs = kp::Json::array(), inputs = kp::Json::array();
    for (const auto& o : a.outputs)
        outputs.push_back({{"port", o.port},
                           {"terminal", o.terminal},
                           {"state", kp::verification::name_of(o.state)},
                           {"why", o.why},
                           {"rows", o.rows}});
    for (const auto& i : a.inputs)
        inputs.push_back(
            {{"port", i.port}, {"terminal", i.terminal}, {"state", i.given ? "given" : "held"}, {"value", i.value}});
    kp::Json first = nullptr;
    if (const auto* r = a.proof.first_difference())
        first = {{"ms", r->ms},
                 {"terminal", a.terminal},
                 {"port", a.port},
                 {"cone", {{"cells", a.cone.all}, {"nearest", a.cone.cells}, {"from", a.cone.from}}}};
    return {{"schema", "kitepeg.proof/1"},
            {"stand_in", "A simulated board; no hardware was touched."},
            {"what", a.what},
            {"against", a.proof.against},
            {"proven", a.proven()},
            {"outputs", std::move(outputs)},
            {"inputs", std::move(inputs)},
            {"rows", std::move(rows)},
            {"differ", a.proof.differ},
            {"seen", a.proof.seen},
            {"crossed", std::move(crossed)},
            {"first_difference", std::move(first)}};
}

int run_prove(const ProveArguments& a) {
    kp::ProofAsk ask;
    ask.parts = a.parts;
    ask.sources = a.sources;
    ask.held = a.held;
    ask.left_out = a.left_out;
    ask.formula_text = a.formula;
    ask.each = kp::simulation::time_of(a.each_ns);
    ask.before = kp::simulation::time_of(a.before_ms * 1e6);
    ask.given = a.vectors.empty() ? kp::ProofAsk::combinations : kp::ProofAsk::vectors;
    const auto against = a.against.empty() ? (a.vectors.empty() ? "names" : "file") : a.against;
    static const std::map<std::string, kp::ProofAsk::Against> known{{"names", kp::ProofAsk::names},
                                                                    {"simulation", kp::ProofAsk::simulation},
                                                                    {"source", kp::ProofAsk::source},
                                                                    {"formula", kp::ProofAsk::formula},
                                                                    {"file", kp::ProofAsk::file}};
    const auto at = known.find(against);
    const auto wrong = [](const char* text) { return refuse({{kp::Severity::stop, kp::Code::arguments, text}}); };
    if (at == known.end()) return wrong("--against takes names, simulation, source, formula or file.");
    ask.against = at->second;
    if (ask.against == kp::ProofAsk::file && a.vectors.empty()) return wrong("--against file needs --vectors.");
    if ((ask.against == kp::ProofAsk::formula) == a.formula.empty())
        return wrong("--formula and --against formula belong together.");
    if (!(a.each_ns > 0 && a.each_ns <= 1e9) || !(a.before_ms >= 0 && a.before_ms <= 1e5))
        return wrong("--each is more than 0 and at most 1e9 ns, --before from 0 to 1e5 ms.");
    auto opened = open_project(a.project, a.allow, a.record ? kp::OpenTo::work : kp::OpenTo::look, "prove");
    if (!opened) return refuse(opened.messages());
    auto& s = *opened.value();
    auto inputs = files_of(s);
    inputs.insert(inputs.end(), a.sources.begin(), a.sources.end());
    if (!a.vectors.empty()) inputs.push_back(a.vectors);
    if (auto status = kp::check_outputs({a.json}, inputs); !status) return refuse(status.messages());
    if (!a.vectors.empty()) {
        const auto text = kp::disk_with_pipes({a.vectors})->read(a.vectors, std::size_t{64} << 20);
        if (!text) return refuse(text.messages());
        ask.vectors_text = text.value();
        ask.vectors_file = a.vectors;
    }
    s.analyse_now();  // which ports are clocks, and how fast
    const auto answer = kp::prove_project(*s.snapshot(), ask);
    if (!answer) return refuse(answer.messages());
    if (a.record) {
        const auto of = kp::proof_state(s.world().netlist, s.project().pegs);
        const auto edit =
            kp::proof_record_edit(s.project(), answer.value(), of, kp::user_name(), kp::local_time("%Y-%m-%d"));
        if (auto status = apply_and_save(s, edit); !status) return refuse(status.messages());
    }
    return write_out(answer_json(answer.value()), a.json, answer.value().proven() ? in_order : findings);
}

}  // namespace

void add_prove(Command& app, Run& run) {
    auto a = std::make_shared<ProveArguments>();
    auto* c = app.add_subcommand("prove", "The pin map at the simulated bench, against what should come out");
    c->add_option("project", a->project, "A project (*.kpeg)")->required();
    c->add_option("--vectors", a->vectors, "CSV: time, inputs by name, =outputs; else all combinations");
    c->add_option("--against", a->against, "names, simulation, source, formula or file");
    c->add_option("--formula", a->formula, "OUT = EXPRESSION of the inputs; several with ; between them");
    c->add_option("--source", a->sources, "HDL in place of the project's sources")->one_each();
    c->add_option("--board-part", a->parts, "Only ports that are meant for this board part, by REF")->one_each();
    c->add_option("--held", a->held, "PORT=VALUE: an input that keeps a level in all combinations")->one_each();
    c->add_option("--leave-out", a->left_out, "An output or bus that need not be proven")->one_each();
    c->add_option("--each", a->each_ns, "Board time of a row, ns (1000)");
    c->add_option("--before", a->before_ms, "Board time before the first row, ms (0)");
    c->add_flag("--record", a->record, "Keep what came out as a record of the project, and save");
    c->add_option("--json", a->json, "Where the result goes; - is standard output")->required();
    add_allow(*c, a->allow);
    c->callback([a, &run] { run = [a] { return run_prove(*a); }; });
}

}  // namespace kpeg
