// SPDX-License-Identifier: GPL-3.0-or-later
// A board as it is pegged and an oracle are made for one proof and go with it. A proof costs its rows times what the
// board takes for one; the state it looks at is a snapshot, so it may run on any thread.
#include "core/verification/prove_project.hpp"

#include "core/base/text.hpp"
#include "core/planning/meant.hpp"
#include "core/planning/ways.hpp"
#include "core/inputs/source_list.hpp"
#include "core/inputs/source_texts.hpp"
#include "core/base/said.hpp"

#include <algorithm>

namespace kp {

namespace {

Message refusal(std::string text) {
    return {Severity::stop, Code::proof, std::move(text)};
}

using Meant = std::vector<NameMatch>;

/// Which terminal each port is meant for, whatever the pegs say.
Meant meant_of(const Snapshot& state) {
    const auto& w = *state.world;
    const auto& known = state.analysis;
    const auto clocks = clock_rates(w.netlist.ports, known.design().ports, known.constraints());
    return meant_places(w.netlist.ports, w.board, *state.project, {}, clocks);
}

/// The inputs that an oscillator of the board drives where ports sit as they are meant.
std::vector<verification::ProofClock> clocks_of(const World& w, const PegMap& as_meant) {
    std::vector<verification::ProofClock> out;
    for (std::uint32_t i = 0; i < w.netlist.ports.size(); ++i) {
        const auto peg = as_meant.find(w.netlist.ports[i].name);
        const auto* o = peg == as_meant.end() ? nullptr : w.board.oscillator_at_pin(peg->second.pin);
        if (o && o->mhz > 0 && w.netlist.ports[i].direction == Direction::in)
            out.push_back(verification::proof_clock(i, o->mhz));
    }
    return out;
}

/// What is held, by port.
Result<std::map<std::string, bool>> held_ports(const ProofAsk& ask, const std::vector<Port>& ports) {
    std::map<std::string, bool> out;
    std::map<std::string_view, Direction> direction;
    for (const auto& p : ports) direction.emplace(p.name, p.direction);
    for (const auto& text : ask.held) {
        const auto equals = text.rfind('=');
        if (equals == std::string::npos) return refusal(said("'{}' is not PORT=VALUE.", text));
        const auto names = find_ports(text.substr(0, equals), ports);
        if (!names) return names.messages();
        const auto value = simulation::value_of(text.substr(equals + 1), names.value().size(), false);
        if (!value || value->find_first_not_of("01") != std::string::npos)
            return refusal(said("'{}' does not give {} a value of 0s and 1s.", text,
                                counted(static_cast<long long>(names.value().size()), "bit")));
        for (size_t i = 0; i < names.value().size(); ++i) {
            const auto& name = names.value()[i];
            if (direction.at(name) != Direction::in)
                return refusal(said("{} is not an input, so it cannot be held.", name));
            out[name] = (*value)[i] == '1';
        }
    }
    return out;
}

Result<std::set<std::string>> left_out_ports(const ProofAsk& ask, const std::vector<Port>& ports) {
    std::set<std::string> out;
    for (const auto& text : ask.left_out) {
        const auto names = find_ports(text, ports);
        if (!names) return names.messages();
        out.insert(names.value().begin(), names.value().end());
    }
    return out;
}

std::string ports_of(const verification::Stimulus& s) {
    std::vector<std::string> names;
    for (const auto& p : s.inputs) names.push_back(p.name);
    return names.empty() ? "no input" : list_names(names, 5);
}

Result<std::unique_ptr<verification::Oracle>> oracle_of(const Snapshot& state, const ProofAsk& ask,
                                                        const PegMap& as_meant) {
    const auto& w = *state.world;
    const auto clocks = clocks_of(w, as_meant);
    switch (ask.against) {
        case ProofAsk::simulation:
            return verification::oracle_of_simulation(w.netlist, w.library, w.delays ? &*w.delays : nullptr, clocks);
        case ProofAsk::formula: return verification::oracle_of_formula(ask.formula_text, w.netlist);
        case ProofAsk::source: break;
        default: return verification::oracle_of_names(w.netlist, w.library, w.board, as_meant);
    }
    SourceFiles files;
    files.files = ask.sources;
    if (ask.sources.empty()) {
        auto named =
            sources_within(*state.grounds->disk, state.grounds->folder, state.project->sources, state.grounds->reach);
        if (!named) return named.messages();
        files = named.take();
    }
    if (files.files.empty())
        return refusal(
            "The project names no source to prove the netlist against. Add the HDL to it (Site, or kpeg set "
            "sources=FILE), or prove against something else.");
    const auto loaded = load_sources(*state.grounds->disk, files.files,
                                     ask.sources.empty() ? &state.grounds->reach : nullptr, files.folders);
    if (!loaded) return loaded.messages();
    PortRequest reading;
    reading.defines = state.project->defines;
    reading.defines.insert(files.defines.begin(), files.defines.end());
    for (const auto& [name, value] : state.project->parameters)
        if (const auto number = to_integer(value)) reading.parameters[name] = *number;
    reading.include = loaded.value()->include;
    return verification::oracle_of_source(loaded.value()->sources, reading, w.netlist.top, w.netlist, w.library,
                                          clocks);
}

/// The first bit that differs, with its port and cone.
void explain(ProofAnswer& answer, const World& w, const PegMap& pegs) {
    answer.crossed = verification::crossed_in(answer.proof);
    const auto* row = answer.proof.first_difference();
    if (!row) return;
    size_t at = 0;
    for (size_t i = 0; i < row->seen.size() && answer.terminal.empty(); ++i)
        for (size_t k = 0; k < row->seen[i].size(); ++k, ++at)
            if (answer.proof.compares(row->want[i][k]) && row->want[i][k] != row->seen[i][k]) {
                answer.terminal = answer.proof.terminals[at];
                break;
            }
    const auto found = w.board.at_terminal(answer.terminal);
    if (!found.net) return;
    for (std::uint32_t i = 0; i < w.netlist.ports.size(); ++i) {
        const auto peg = pegs.find(w.netlist.ports[i].name);
        if (peg == pegs.end() || peg->second.pin != found.net->pin) continue;
        answer.port = w.netlist.ports[i].name;
        answer.cone = verification::cone_of(w.netlist, w.library, i);
        return;
    }
}

/// A line for each port of the design.
void judge(ProofAnswer& answer, const Snapshot& state, const Meant& meant, const BoardBench& board,
           const verification::Stimulus& stimulus, std::set<std::string> left_out, size_t rows) {
    const auto& w = *state.world;
    const verification::ProofGrounds grounds{w.netlist, w.library,           w.board, meant, state.project->pegs,
                                             stimulus,  std::move(left_out), rows};
    answer.outputs = verification::judge_outputs(answer.proof, grounds);
    answer.inputs = verification::inputs_of(board, grounds);
}

Result<ProofAnswer> replay(const Snapshot& state, const ProofAsk& ask, const Meant& meant,
                           std::set<std::string> left_out) {
    const auto& w = *state.world;
    const auto as_meant = pegs_as_meant(meant);
    auto wanted = BoardBench::make(w.netlist, w.library, w.board, as_meant);
    auto real = BoardBench::make(w.netlist, w.library, w.board, state.project->pegs, {&state.project->attributes});
    if (!wanted) return wanted.messages();
    if (!real) return real.messages();
    ProofAnswer answer;
    answer.what = "what a hand did, " + counted(ask.done.size(), "time");
    answer.proof = verification::compare_doings(wanted.value(), real.value(), ask.done, ask.end);
    auto stimulus = verification::ports_to_prove(w.netlist, w.board, meant, *state.project);
    stimulus.unknown.clear();  // both boards leave them alone in the same way
    judge(answer, state, meant, real.value(), stimulus, std::move(left_out), answer.proof.rows.size());
    explain(answer, w, state.project->pegs);
    return answer;
}

/// A dump by its first words, else a table of vectors.
Result<verification::Stimulus> given_by_file(const verification::Stimulus& ports, const ProofAsk& ask,
                                             const Netlist& netlist) {
    const auto first = ask.vectors_text.find_first_not_of(" \t\r\n");
    if (first == std::string::npos || ask.vectors_text[first] != '$')
        return verification::from_vectors(ports, ask.vectors_text, ask.vectors_file, netlist);
    const auto dump = vcd::read_vcd(ask.vectors_text, ask.vectors_file);
    if (!dump) return dump.messages();
    return verification::from_dump(ports, dump.value(), ask.vectors_file);
}

}  // namespace

bool ProofAnswer::proven() const {
    return std::all_of(outputs.begin(), outputs.end(),
                       [](const auto& o) { return o.state == verification::ProvedOutput::proven || o.left_out; });
}

size_t ProofAnswer::count(verification::ProvedOutput::State state) const {
    return static_cast<size_t>(
        std::count_if(outputs.begin(), outputs.end(), [&](const auto& o) { return o.state == state; }));
}

Result<ProofAnswer> prove_project(const Snapshot& state, const ProofAsk& ask, const verification::GoOn& go_on) {
    const auto& w = *state.world;
    if (w.netlist.cells.empty())
        return refusal(
            "The design has no netlist yet, only its ports, so there is nothing to prove. Build it, or give "
            "the project a netlist (Site, or kpeg set netlists=FILE).");
    auto left_out = left_out_ports(ask, w.netlist.ports);
    if (!left_out) return left_out.messages();
    auto held = held_ports(ask, w.netlist.ports);
    if (!held) return held.messages();
    for (const auto& ref : ask.parts)
        if (std::none_of(w.board.parts.begin(), w.board.parts.end(), [&](const BoardPart& p) { return p.ref == ref; }))
            return refusal(said("The board has no part '{}'.", ref));
    const auto meant = meant_of(state);
    if (ask.given == ProofAsk::doings) return replay(state, ask, meant, left_out.take());
    auto ports = verification::ports_to_prove(w.netlist, w.board, meant, *state.project, {ask.parts, held.take()});
    ports.before = ask.before;
    auto stimulus = ask.given == ProofAsk::vectors ? given_by_file(ports, ask, w.netlist)
                                                   : verification::all_combinations(ports, ask.each);
    if (!stimulus) return stimulus.messages();
    auto rows = stimulus.take();
    rows.before = ask.before;
    std::unique_ptr<verification::Oracle> oracle;
    if (ask.given != ProofAsk::vectors || ask.against != ProofAsk::file) {
        auto made = oracle_of(state, ask, pegs_as_meant(meant));
        if (!made) return made.messages();
        oracle = made.take();
    }
    auto board = BoardBench::make(w.netlist, w.library, w.board, state.project->pegs, {&state.project->attributes});
    if (!board) return board.messages();
    auto proof = verification::prove(board.value(), rows, oracle.get(), go_on);
    if (!proof) return proof.messages();
    ProofAnswer answer;
    answer.proof = proof.take();
    const auto all = std::to_string(rows.rows.size());
    const bool whole = answer.proof.rows.size() == rows.rows.size();
    answer.what = (whole ? "all " : said("the first {} of ", answer.proof.rows.size())) + all +
                  (ask.given == ProofAsk::vectors ? " vectors for " : " combinations of ") + ports_of(rows);
    judge(answer, state, meant, board.value(), rows, left_out.take(), rows.rows.size());
    explain(answer, w, state.project->pegs);
    return answer;
}

Edit proof_record_edit(const Project& project, const ProofAnswer& answer, const ProofState& state,
                       const std::string& who, const std::string& date) {
    ProofNote note;
    note.date = date;
    note.who = who;
    note.what = answer.what;
    note.against = answer.proof.against;
    note.rows = answer.proof.rows.size();
    note.differ = answer.proof.differ;
    note.open = answer.count(verification::ProvedOutput::not_proven);
    note.of_pegs = state.of_pegs;
    note.of_design = state.of_design;
    auto lines = project.proofs;
    lines.push_back(to_line(note));
    return {"keep what was proved", {set_field(project, "proofs", field_text(lines))}};
}

}  // namespace kp
