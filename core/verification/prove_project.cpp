// SPDX-License-Identifier: GPL-3.0-or-later
// A board as it is pegged and an oracle are made for one proof and go with it. A proof costs its rows times what the
// board takes for one; the state it looks at is a snapshot, so it may run on any thread.
#include "core/verification/prove_project.hpp"

#include "core/base/text.hpp"
#include "core/planning/place.hpp"
#include "core/inputs/source_list.hpp"
#include "core/inputs/source_texts.hpp"
#include "core/base/said.hpp"

#include <algorithm>

namespace kp {

namespace {

Message refusal(std::string text) {
    return {Severity::stop, Code::proof, std::move(text)};
}

/// The port that the board's oscillator reaches where names are right, and its period.
std::pair<std::uint32_t, board_sim::Time> clock_of(const World& w, const PegMap& by_name) {
    for (std::uint32_t i = 0; i < w.netlist.ports.size(); ++i) {
        const auto peg = by_name.find(w.netlist.ports[i].name);
        const auto* o = peg == by_name.end() ? nullptr : w.board.oscillator_at_pin(peg->second.pin);
        if (o && o->mhz > 0) return {i, static_cast<board_sim::Time>(1e9 / o->mhz)};
    }
    return {no_id, 0};
}

bool has_pll(const World& w) {
    return std::any_of(w.netlist.types.begin(), w.netlist.types.end(), [&](const std::string& type) {
        const auto* cell = w.library.cell(type);
        return cell && !cell->multiply_parameter.empty();
    });
}

std::string ports_of(const verification::Stimulus& s) {
    std::vector<std::string> names;
    for (const auto& p : s.inputs) names.push_back(p.name);
    return list_names(names, 5);
}

Result<std::unique_ptr<verification::Oracle>> oracle_of(const Snapshot& state, const ProofAsk& ask,
                                                        const PegMap& by_name) {
    const auto& w = *state.world;
    const auto [clock, period] = clock_of(w, by_name);
    if ((ask.against == ProofAsk::simulation || ask.against == ProofAsk::source) && has_pll(w))
        return refusal(
            "The design has a PLL, which keeps its frequency only on the board. Prove it against the names, a "
            "formula, or a vector file.");
    switch (ask.against) {
        case ProofAsk::simulation:
            return verification::oracle_of_simulation(w.netlist, w.library, w.delays ? &*w.delays : nullptr, clock,
                                                      period);
        case ProofAsk::formula: return verification::oracle_of_formula(ask.formula_text, w.netlist);
        case ProofAsk::source: break;
        default: return verification::oracle_of_names(w.netlist, w.library, w.board, by_name);
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
            "The project names no source to prove the netlist against. Add the HDL in Site, or prove "
            "against something else.");
    const auto loaded = load_sources(*state.grounds->disk, files.files,
                                     ask.sources.empty() ? &state.grounds->reach : nullptr, files.folders);
    if (!loaded) return loaded.messages();
    PortRequest reading;
    reading.defines = state.project->defines;
    reading.defines.insert(files.defines.begin(), files.defines.end());
    reading.include = loaded.value()->include;
    return verification::oracle_of_source(loaded.value()->sources, reading, w.netlist.top, w.netlist, clock, period);
}

/// The first bit that differs, with its port and cone.
void explain(ProofAnswer& answer, const World& w, const PegMap& pegs) {
    answer.crossed = verification::crossed_in(answer.proof);
    const auto* row = answer.proof.first_difference();
    if (!row) return;
    size_t at = 0;
    for (size_t i = 0; i < row->seen.size() && answer.terminal.empty(); ++i)
        for (size_t k = 0; k < row->seen[i].size(); ++k, ++at)
            if (row->want[i][k] != '-' && row->want[i][k] != row->seen[i][k]) {
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

Result<ProofAnswer> replay(const Snapshot& state, const ProofAsk& ask, const PegMap& by_name) {
    const auto& w = *state.world;
    auto wanted = BoardBench::make(w.netlist, w.library, w.board, by_name);
    auto real = BoardBench::make(w.netlist, w.library, w.board, state.project->pegs, {&state.project->attributes});
    if (!wanted) return wanted.messages();
    if (!real) return real.messages();
    ProofAnswer answer;
    answer.what = "what a hand did, " + counted(ask.done.size(), "time");
    answer.proof = verification::compare_doings(wanted.value(), real.value(), ask.done, ask.end);
    explain(answer, w, state.project->pegs);
    return answer;
}

/// Some bit of some row is asked for; a proof of nothing must not agree.
bool compares(const verification::Proof& proof) {
    const auto asked = [](const std::string& want) { return want.find_first_not_of('-') != std::string::npos; };
    return std::any_of(proof.rows.begin(), proof.rows.end(),
                       [&](const auto& row) { return std::any_of(row.want.begin(), row.want.end(), asked); });
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

PegMap pegs_by_name(const World& world) {
    PegMap out;
    for (const auto& m : match_names(world.netlist.ports, world.board, {}))
        out[m.port] = {m.pin, PegState::loose, "by name"};
    return out;
}

Result<ProofAnswer> prove_project(const Snapshot& state, const ProofAsk& ask, const verification::GoOn& go_on) {
    const auto& w = *state.world;
    if (w.netlist.cells.empty())
        return refusal(
            "The design has no netlist yet, only its ports, so there is nothing to prove. Give the netlist "
            "in Site.");
    const auto by_name = pegs_by_name(w);
    if (ask.given == ProofAsk::doings) return replay(state, ask, by_name);
    auto ports = verification::ports_to_prove(w.netlist, w.board, by_name, ask.parts);
    if (ports.outputs.empty())
        return refusal("No output port belongs to a part of the board by its name, so there is nothing to read.");
    ports.before = ask.before;
    auto stimulus = ask.given == ProofAsk::vectors ? given_by_file(ports, ask, w.netlist)
                                                   : verification::all_combinations(ports, ask.each);
    if (!stimulus) return stimulus.messages();
    auto rows = stimulus.take();
    if (ask.given == ProofAsk::vectors) rows.before = ask.before;
    std::unique_ptr<verification::Oracle> oracle;
    if (ask.given != ProofAsk::vectors || ask.against != ProofAsk::file) {
        auto made = oracle_of(state, ask, by_name);
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
    if (whole && !compares(answer.proof))
        return refusal(
            said("Nothing was compared: what this is proved against does not say what should come out at {}. Say it "
                 "for one of them at least.",
                 list_names(answer.proof.outputs, 5)));
    answer.what = (whole ? "all " : said("the first {} of ", answer.proof.rows.size())) + all +
                  (ask.given == ProofAsk::vectors ? " vectors for " : " combinations of ") + ports_of(rows);
    explain(answer, w, state.project->pegs);
    return answer;
}

}  // namespace kp
