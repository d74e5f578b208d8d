// SPDX-License-Identifier: GPL-3.0-or-later
// Board and oracle are given the same rows and read at the same times.
#include "core/verification/proof.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <deque>
#include <map>
#include <set>

namespace kp::verification {

namespace {

Message refusal(std::string text) {
    return {Severity::stop, Code::proof, std::move(text)};
}

char letter(Level level) {
    return level == Level::high ? '1' : level == Level::low ? '0' : level == Level::conflict ? 'x' : 'z';
}

/// What the board's parts give the design at rest, the oracle is given too; that a wrong peg drives against one of them
/// is what the proof is to show.
void rest(BoardBench& board, Oracle* oracle, const Stimulus& stimulus) {
    for (const auto& h : stimulus.held) {
        if (h.terminal.empty())
            board.model().simulator().set_port(h.port, h.high);
        else
            board.drive(h.terminal, h.high);
        if (oracle) oracle->set(h.port, h.high);
    }
    if (!oracle) return;
    for (const auto* ports : {&stimulus.inputs, &stimulus.resting})
        for (const auto& p : *ports)
            for (size_t k = 0; k < p.ports.size(); ++k) oracle->set(p.ports[k], board.gives_high(p.terminals[k]));
}

/// Where one port goes in a stimulus.
enum class Where { nowhere, asked, resting };

}  // namespace

ProofClock proof_clock(std::uint32_t port, double mhz) {
    // Half a period in femtoseconds is 5e8 / MHz; a thousandth of a hertz is kept.
    return {port, 500'000'000'000'000'000, static_cast<std::int64_t>(mhz * 1e9 + 0.5)};
}

Stimulus ports_to_prove(const Netlist& netlist, const Board& board, const std::vector<NameMatch>& meant,
                        const Project& project, const ProofLimits& limits) {
    std::map<std::string_view, const NameMatch*> place;
    for (const auto& m : meant) place.emplace(m.port, &m);
    Stimulus s;
    const auto hold = [&](std::uint32_t port, const NameMatch* at) {
        const auto& name = netlist.ports[port].name;
        if (const auto held = limits.held.find(name); held != limits.held.end()) {
            s.held.push_back({port, at ? at->terminal : "", held->second});
            return true;
        }
        const auto chosen = project.attributes.find(name);
        if (at || chosen == project.attributes.end() || chosen->second.open.empty()) return false;
        s.held.push_back({port, "", chosen->second.tie == "1"});
        return true;
    };
    const auto where = [&](std::uint32_t port, const NameMatch* at, bool input) {
        if (input && hold(port, at)) return Where::nowhere;
        if (!at) {
            if (input) s.unknown.push_back(port);
            return Where::nowhere;
        }
        if (input && board.oscillator_at_pin(at->pin)) {
            s.clocks.push_back(port);
            return Where::nowhere;
        }
        const auto part = board.at_terminal(at->terminal).part;
        const bool asked = limits.parts.empty() || (part && std::find(limits.parts.begin(), limits.parts.end(),
                                                                      part->ref) != limits.parts.end());
        return asked ? Where::asked : input ? Where::resting : Where::nowhere;
    };
    for (const auto& group : simulation::groups_of(netlist)) {
        ProofPort p, still;
        p.name = still.name = group.name;
        const bool input = group.direction == Direction::in;
        for (const auto port : group.ports) {
            const auto found = place.find(netlist.ports[port].name);
            const auto* at = found == place.end() ? nullptr : found->second;
            const auto to = where(port, at, input);
            if (to == Where::nowhere) continue;
            auto& list = to == Where::asked ? p : still;
            list.ports.push_back(port);
            list.terminals.push_back(at->terminal);
        }
        if (!p.ports.empty()) (input ? s.inputs : s.outputs).push_back(std::move(p));
        if (!still.ports.empty()) s.resting.push_back(std::move(still));
    }
    return s;
}

Result<Stimulus> all_combinations(Stimulus s, board_sim::Time each) {
    size_t bits = 0;
    for (const auto& p : s.inputs) bits += p.ports.size();
    constexpr size_t most_bits = 16;
    if (bits > most_bits)
        return refusal(
            said("All combinations of {} input bits are too many (at most {}); hold some of them still (--held "
                 "PORT=VALUE), choose fewer parts of the board, or give a vector file.",
                 bits, most_bits));
    for (unsigned n = 0; n < (1u << bits); ++n) {
        // In Gray order one bit moves at a time, as by hand.
        const auto v = to_gray(n);
        Stimulus::Row row;
        row.lasts = each;
        auto at = bits;
        for (const auto& p : s.inputs) {
            row.in.emplace_back();
            for (size_t k = 0; k < p.ports.size(); ++k) row.in.back() += (v >> --at) & 1 ? '1' : '0';
        }
        s.rows.push_back(std::move(row));
    }
    return s;
}

Stimulus without_ports(const Stimulus& s) {
    Stimulus out;
    out.resting = s.resting;
    out.held = s.held;
    out.clocks = s.clocks;
    out.unknown = s.unknown;
    return out;
}

Result<Stimulus> from_vectors(Stimulus ports, std::string_view text, const std::string& file, const Netlist& netlist) {
    const auto groups = simulation::groups_of(netlist);
    const auto read = simulation::read_vectors(text, file, groups);
    if (!read) return read.messages();
    const auto& v = read.value();
    auto s = without_ports(ports);
    const auto take = [&](const std::vector<size_t>& columns, const std::vector<ProofPort>& known,
                          std::vector<ProofPort>& out) -> std::string {
        for (const auto g : columns) {
            const auto at =
                std::find_if(known.begin(), known.end(), [&](const auto& p) { return p.name == groups[g].name; });
            if (at == known.end() || at->ports.size() != groups[g].ports.size()) return groups[g].name;
            out.push_back(*at);
        }
        return {};
    };
    auto lost = take(v.in, ports.inputs, s.inputs);
    if (lost.empty()) lost = take(v.want, ports.outputs, s.outputs);
    if (!lost.empty())
        return Message{Severity::stop, Code::vectors,
                       said("Not all bits of {} belong to the board, so its column cannot be proved there. Take the "
                            "column out, or simulate the netlist alone (kpeg simulate).",
                            lost),
                       file, 1};
    if (v.want.empty()) s.outputs = ports.outputs;
    for (const auto& p : ports.inputs)
        if (std::none_of(s.inputs.begin(), s.inputs.end(), [&](const auto& q) { return q.name == p.name; }))
            s.resting.push_back(p);
    for (size_t r = 0; r < v.rows.size(); ++r) {
        Stimulus::Row row;
        const double step = r + 1 < v.rows.size() ? v.rows[r + 1].time - v.rows[r].time
                            : r > 0               ? v.rows[r].time - v.rows[r - 1].time
                                                  : 1000;
        row.lasts = simulation::time_of(step);
        row.in = v.rows[r].in;
        row.want = v.rows[r].want;
        s.rows.push_back(std::move(row));
    }
    return s;
}

const ProofRow* Proof::first_difference() const {
    for (const auto& row : rows)
        if (!row.agrees) return &row;
    return nullptr;
}

Result<Proof> prove(BoardBench& board, const Stimulus& stimulus, Oracle* oracle, const GoOn& go_on) {
    Proof proof;
    proof.against = oracle ? oracle->name() : "what the vectors say";
    for (const auto& p : stimulus.inputs) proof.inputs.push_back(p.name);
    for (const auto& p : stimulus.outputs) {
        proof.outputs.push_back(p.name);
        proof.terminals.insert(proof.terminals.end(), p.terminals.begin(), p.terminals.end());
    }
    proof.against_file = !oracle;
    proof.boards = oracle && oracle->is_board();
    rest(board, oracle, stimulus);
    board.run_for(stimulus.before);
    if (oracle && stimulus.before > 0)
        if (auto status = oracle->run(stimulus.before); !status) return status.messages();
    for (const auto& row : stimulus.rows) {
        if (go_on && !go_on(proof.rows.size(), stimulus.rows.size())) break;
        ProofRow out;
        out.in = row.in;
        for (size_t i = 0; i < stimulus.inputs.size(); ++i)
            for (size_t k = 0; k < stimulus.inputs[i].ports.size(); ++k) {
                if (row.in[i][k] != '0' && row.in[i][k] != '1') continue;  // left as it is
                board.drive(stimulus.inputs[i].terminals[k], row.in[i][k] == '1');
                if (oracle) oracle->set(stimulus.inputs[i].ports[k], row.in[i][k] == '1');
            }
        board.run_for(row.lasts);
        if (oracle)
            if (auto status = oracle->run(row.lasts); !status) return status.messages();
        out.ms = board.seconds() * 1e3;
        for (size_t i = 0; i < stimulus.outputs.size(); ++i) {
            const auto& p = stimulus.outputs[i];
            std::string seen, want = oracle ? "" : i < row.want.size() ? row.want[i] : "";
            for (size_t k = 0; k < p.ports.size(); ++k) {
                seen += letter(board.level(p.terminals[k]));
                if (oracle) want += oracle->port(p.ports[k]);
            }
            if (want.empty()) want.assign(seen.size(), '-');
            for (size_t k = 0; k < seen.size(); ++k) out.agrees &= !proof.compares(want[k]) || want[k] == seen[k];
            out.want.push_back(std::move(want));
            out.seen.push_back(std::move(seen));
        }
        proof.differ += !out.agrees;
        proof.rows.push_back(std::move(out));
    }
    if (oracle) proof.seen = oracle->seen();
    return proof;
}

std::vector<Crossed> crossed_in(const Proof& proof) {
    std::vector<std::string> want(proof.terminals.size()), seen(proof.terminals.size());
    for (const auto& row : proof.rows) {
        size_t at = 0;
        for (size_t i = 0; i < row.want.size(); ++i)
            for (size_t k = 0; k < row.want[i].size() && at < want.size(); ++k, ++at) {
                want[at] += row.want[i][k];
                seen[at] += row.seen[i][k];
            }
    }
    std::map<std::string, std::vector<size_t>> shows;  ///< by what is seen
    for (size_t i = 0; i < seen.size(); ++i) shows[seen[i]].push_back(i);
    std::vector<Crossed> out;
    std::set<size_t> told;
    for (size_t a = 0; a < want.size(); ++a) {
        if (want[a] == seen[a] || told.count(a)) continue;
        const auto at = shows.find(want[a]);
        if (at == shows.end()) continue;
        for (const auto b : at->second)
            if (b != a && !told.count(b) && want[b] == seen[a] && want[b] != want[a]) {
                out.push_back({std::min(proof.terminals[a], proof.terminals[b]),
                               std::max(proof.terminals[a], proof.terminals[b])});
                told.insert({a, b});
                break;
            }
    }
    return out;
}

Cone cone_of(const Netlist& n, const Library& library, std::uint32_t port, size_t most) {
    Cone cone;
    if (port >= n.ports.size()) return cone;
    std::vector<std::uint32_t> driver(n.net_names.size(), no_id);
    for (std::uint32_t c = 0; c < n.cells.size(); ++c) {
        const auto* lib = library.cell(n.type_of(c));
        if (!lib) continue;
        for (auto p = n.cells[c].first_pin; p < n.cells[c].first_pin + n.cells[c].pin_count; ++p) {
            const auto pin = lib->pin(n.pin_names[n.pins[p].name]);
            if (pin >= 0 && lib->pins[static_cast<size_t>(pin)].direction != Direction::in && n.pins[p].net != no_id)
                driver[n.pins[p].net] = c;
        }
    }
    std::map<std::uint32_t, std::string> entry;
    for (const auto& p : n.ports)
        if (p.direction != Direction::out) entry.emplace(p.net, p.name);
    std::deque<std::uint32_t> nets{n.ports[port].net};
    std::set<std::uint32_t> seen_cells, seen_nets{n.ports[port].net};
    const auto begins = [&](std::string name) {
        if (cone.from.size() < most) cone.from.push_back(std::move(name));
    };
    while (!nets.empty()) {
        const auto net = nets.front();
        nets.pop_front();
        const auto c = driver[net];
        if (c == no_id) {
            if (const auto at = entry.find(net); at != entry.end() && at->first != n.ports[port].net)
                begins(at->second);
            continue;
        }
        if (!seen_cells.insert(c).second) continue;
        const auto* lib = library.cell(n.type_of(c));
        // The last register before the port belongs to what is looked at; the ones behind it do not.
        const bool state = lib->flip_flop || !lib->memory.empty();
        if (state && cone.all > 0 && seen_cells.size() > 2) {
            begins(n.cell_names[c]);
            continue;
        }
        ++cone.all;
        if (cone.cells.size() < most) cone.cells.push_back(n.cell_names[c]);
        for (auto p = n.cells[c].first_pin; p < n.cells[c].first_pin + n.cells[c].pin_count; ++p) {
            const auto pin = lib->pin(n.pin_names[n.pins[p].name]);
            if (pin < 0 || lib->pins[static_cast<size_t>(pin)].direction == Direction::out || n.pins[p].net == no_id)
                continue;
            if (lib->pins[static_cast<size_t>(pin)].clock) continue;
            if (seen_nets.insert(n.pins[p].net).second) nets.push_back(n.pins[p].net);
        }
    }
    return cone;
}

Proof compare_doings(BoardBench& wanted, BoardBench& real, const std::vector<Doing>& doings, board_sim::Time end) {
    Proof proof;
    proof.against = "the same hand on the board as the names ask";
    proof.inputs = {"done"};
    const auto& table = real.model();
    std::vector<std::uint32_t> read;
    for (std::uint32_t t = 0; t < table.terminal_count(); ++t) {
        const auto found = table.board().at_terminal(table.name_of(t));
        if (found && found.net && found.terminal->direction != TerminalDirection::drives) read.push_back(t);
    }
    for (const auto t : read) {
        proof.outputs.push_back(table.name_of(t));
        proof.terminals.push_back(table.name_of(t));
    }
    const auto look = [&](board_sim::Time when, std::string done) {
        ProofRow row;
        row.ms = static_cast<double>(when) / board_sim::millisecond;
        row.in = {std::move(done)};
        for (const auto t : read) {
            row.want.emplace_back(1, letter(wanted.model().level(t)));
            row.seen.emplace_back(1, letter(table.level(t)));
            row.agrees &= row.want.back() == row.seen.back();
        }
        proof.differ += !row.agrees;
        proof.rows.push_back(std::move(row));
    };
    for (const auto& d : doings) {
        for (auto* b : {&wanted, &real}) b->model().run_until(d.when);
        look(d.when, said("{} {} {}", d.ref, d.control, d.value));
        for (auto* b : {&wanted, &real}) (void)b->set(d.ref, d.control, d.value);
    }
    for (auto* b : {&wanted, &real}) b->model().run_until(end);
    look(end, "end");
    return proof;
}

}  // namespace kp::verification
