// SPDX-License-Identifier: GPL-3.0-or-later
// Columns of the proof by terminal, what hangs on inputs that nobody drove, and whether rows could have told a wrong
// peg. Linear in rows and in the netlist.
#include "core/verification/outputs.hpp"

#include "core/base/said.hpp"
#include "core/base/text.hpp"

#include <algorithm>
#include <map>
#include <unordered_map>

namespace kp::verification {

namespace {

/// What the rows wanted and saw of one terminal.
struct Column {
    std::string want, seen;
    size_t differ = 0, first = 0;  ///< first: row that differs
};

std::unordered_map<std::string, Column> columns_of(const Proof& proof) {
    std::vector<Column> list(proof.terminals.size());
    for (size_t r = 0; r < proof.rows.size(); ++r) {
        const auto& row = proof.rows[r];
        size_t at = 0;
        for (size_t i = 0; i < row.want.size(); ++i)
            for (size_t k = 0; k < row.want[i].size() && at < list.size(); ++k, ++at) {
                auto& c = list[at];
                const char want = row.want[i][k];
                c.want += proof.compares(want) ? want : '-';
                c.seen += row.seen[i][k];
                if (c.want.back() != '-' && want != row.seen[i][k] && c.differ++ == 0) c.first = r;
            }
    }
    std::unordered_map<std::string, Column> out;
    for (size_t i = 0; i < list.size(); ++i) out.emplace(proof.terminals[i], std::move(list[i]));
    return out;
}

/// By net: an input that nobody drove and that it hangs on, through registers too; no_id: none.
std::vector<std::uint32_t> behind(const ProofGrounds& g, const std::vector<std::uint32_t>& inputs) {
    const auto& n = g.netlist;
    std::vector<std::uint32_t> from(n.net_names.size(), no_id);
    if (inputs.empty()) return from;
    std::vector<std::vector<std::uint32_t>> readers(n.net_names.size());
    const auto drives = [&](const LibraryCell* lib, std::uint32_t pin) {
        const auto at = lib ? lib->pin(n.pin_names[n.pins[pin].name]) : -1;
        return at >= 0 && lib->pins[static_cast<size_t>(at)].direction != Direction::in;
    };
    for (std::uint32_t c = 0; c < n.cells.size(); ++c) {
        const auto* lib = g.library.cell(n.type_of(c));
        for (auto p = n.cells[c].first_pin; p < n.cells[c].first_pin + n.cells[c].pin_count; ++p)
            if (n.pins[p].net != no_id && !drives(lib, p)) readers[n.pins[p].net].push_back(c);
    }
    std::vector<std::uint32_t> todo;
    const auto reach = [&](std::uint32_t net, std::uint32_t input) {
        if (net == no_id || from[net] != no_id) return;
        from[net] = input;
        todo.push_back(net);
    };
    for (const auto input : inputs) reach(n.ports[input].net, input);
    while (!todo.empty()) {
        const auto net = todo.back();
        todo.pop_back();
        for (const auto c : readers[net]) {
            const auto* lib = g.library.cell(n.type_of(c));
            for (auto p = n.cells[c].first_pin; p < n.cells[c].first_pin + n.cells[c].pin_count; ++p)
                if (n.pins[p].net != no_id && drives(lib, p)) reach(n.pins[p].net, from[net]);
        }
    }
    return from;
}

class Judge {
public:
    Judge(const Proof& proof, const ProofGrounds& g) : proof_(proof), g_(g), columns_(columns_of(proof)) {
        for (const auto& m : g.meant) meant_.emplace(m.port, &m);
        for (const auto& [terminal, column] : columns_) ++alike_[column.want];
        behind_ = behind(g, g.stimulus.unknown);
    }

    ProvedOutput of(std::uint32_t port) const {
        ProvedOutput out;
        out.port = g_.netlist.ports[port].name;
        const auto at = meant_.find(out.port);
        if (at != meant_.end()) out.terminal = at->second->terminal;
        out.left_out = g_.left_out.contains(out.port);
        if (out.left_out) {
            out.why = "it is left out, as was asked";
        } else if (at == meant_.end()) {
            out.why = said("nobody said what {} is meant for", out.port);
        } else if (const auto column = columns_.find(out.terminal); column == columns_.end()) {
            out.why = unread(port, *at->second);
        } else {
            compared(port, *at->second, column->second, out);
        }
        return out;
    }

private:
    [[nodiscard]] std::string unread(std::uint32_t port, const NameMatch& meant) const {
        if (g_.netlist.ports[port].direction == Direction::inout)
            return "it goes both ways, and what this is proved against does not see who drives";
        const auto part = g_.board.at_terminal(meant.terminal).part;
        return said("it is meant for {}, which was not asked for", part ? part->ref : meant.terminal);
    }

    void compared(std::uint32_t port, const NameMatch& meant, const Column& c, ProvedOutput& out) const {
        out.rows =
            static_cast<size_t>(std::count_if(c.want.begin(), c.want.end(), [](char letter) { return letter != '-'; }));
        if (c.differ > 0) {
            out.state = ProvedOutput::differs;
            out.why = difference(meant, c);
            return;
        }
        out.why = open_question(port, meant, c, out.rows);
        if (!out.why.empty()) return;
        out.state = ProvedOutput::proven;
        if (!moves(c.want))
            out.why = said("it stayed {} in every row, and its peg leads where it is meant", level_of(c.want));
    }

    /// Why rows that agree do not prove it; empty: they do.
    [[nodiscard]] std::string open_question(std::uint32_t port, const NameMatch& meant, const Column& c,
                                            size_t rows) const {
        if (rows == 0) return "nothing said what it should be in any row";
        if (proof_.rows.size() < g_.rows)
            return said("the proof was ended after {} of {} rows", proof_.rows.size(), g_.rows);
        const auto net = g_.netlist.ports[port].net;
        if (net != no_id && behind_[net] != no_id)
            return said("it hangs on {}, and nobody said what that is meant for", g_.netlist.ports[behind_[net]].name);
        // Rows in which two outputs look the same cannot tell them apart: then the peg itself has to.
        const auto peg = g_.pegs.find(g_.netlist.ports[port].name);
        const bool home = peg != g_.pegs.end() && peg->second.pin == meant.pin;
        if (!home && (!moves(c.want) || alike_.at(c.want) > 1))
            return said("its peg leads elsewhere than to {}, and no row could tell", meant.terminal);
        return {};
    }

    [[nodiscard]] std::string difference(const NameMatch& meant, const Column& c) const {
        const auto peg = g_.pegs.find(meant.port);
        std::string place;
        if (peg == g_.pegs.end())
            place = "it has no peg";
        else if (peg->second.pin != meant.pin)
            place = said("its peg leads to pin {} and {} is on pin {}", peg->second.pin, meant.terminal, meant.pin);
        else
            place = said("its peg leads to {}", meant.terminal);
        return said("{}, first in row {}: {} expected, {} observed; {}",
                    counted(c.differ, "row differs", "rows differ"), c.first + 1, c.want[c.first], c.seen[c.first],
                    place);
    }

    static bool moves(const std::string& want) {
        char level = 0;
        for (const char letter : want) {
            if (letter == '-') continue;
            if (level && level != letter) return true;
            level = letter;
        }
        return false;
    }
    static char level_of(const std::string& want) {
        const auto at = want.find_first_not_of('-');
        return at == std::string::npos ? '-' : want[at];
    }

    const Proof& proof_;
    const ProofGrounds& g_;
    std::unordered_map<std::string, Column> columns_;
    std::unordered_map<std::string, size_t> alike_;
    std::map<std::string_view, const NameMatch*> meant_;
    std::vector<std::uint32_t> behind_;
};

}  // namespace

const char* name_of(ProvedOutput::State state) {
    constexpr const char* names[] = {"proven", "differs", "not proven"};
    return names[state];
}

std::vector<ProvedOutput> judge_outputs(const Proof& proof, const ProofGrounds& grounds) {
    const Judge judge(proof, grounds);
    std::vector<ProvedOutput> out;
    for (std::uint32_t i = 0; i < grounds.netlist.ports.size(); ++i)
        if (grounds.netlist.ports[i].direction != Direction::in) out.push_back(judge.of(i));
    return out;
}

std::vector<ProvedInput> inputs_of(const BoardBench& board, const ProofGrounds& g) {
    std::map<std::uint32_t, ProvedInput> rows;
    const auto add = [&](std::uint32_t port, const std::string& terminal, bool given, std::string value) {
        rows[port] = {g.netlist.ports[port].name, terminal, given, std::move(value)};
    };
    for (const auto& p : g.stimulus.inputs)
        for (size_t k = 0; k < p.ports.size(); ++k) add(p.ports[k], p.terminals[k], true, "by rows");
    for (const auto& p : g.stimulus.resting)
        for (size_t k = 0; k < p.ports.size(); ++k)
            add(p.ports[k], p.terminals[k], false, board.gives_high(p.terminals[k]) ? "1" : "0");
    for (const auto& h : g.stimulus.held) add(h.port, h.terminal, false, h.high ? "1" : "0");
    std::map<std::string_view, const NameMatch*> meant;
    for (const auto& m : g.meant) meant.emplace(m.port, &m);
    for (const auto port : g.stimulus.clocks) {
        const auto at = meant.find(g.netlist.ports[port].name);
        const auto* o = at == meant.end() ? nullptr : g.board.oscillator_at_pin(at->second->pin);
        add(port, at == meant.end() ? "" : at->second->terminal, true, o ? shortest(o->mhz) + " MHz" : "");
    }
    for (const auto port : g.stimulus.unknown)
        add(port, "", false, g.pegs.contains(g.netlist.ports[port].name) ? "whatever its peg leads to" : "0");
    std::vector<ProvedInput> out;
    for (auto& [port, row] : rows) out.push_back(std::move(row));
    return out;
}

}  // namespace kp::verification
