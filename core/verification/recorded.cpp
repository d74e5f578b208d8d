// SPDX-License-Identifier: GPL-3.0-or-later
// A recording becomes rows: what inputs did is given again, what outputs showed is wanted again.
#include "core/verification/proof.hpp"

#include <algorithm>

namespace kp::verification {

namespace {

constexpr size_t most_rows = 100'000;

/// A port of the board, the signal that recorded it, and what that showed last.
struct Recorded {
    ProofPort port;
    std::uint32_t signal = 0;
    std::string value;
};

/// Ports that have a signal of their name and width.
std::vector<Recorded> recorded(const vcd::Dump& dump, const std::vector<ProofPort>& ports,
                               std::vector<ProofPort>* others) {
    std::vector<Recorded> out;
    for (const auto& p : ports) {
        const auto at = std::find_if(dump.variables.begin(), dump.variables.end(), [&](const vcd::Signal& s) {
            return s.name == p.name && static_cast<size_t>(s.width) == p.ports.size();
        });
        if (at != dump.variables.end())
            out.push_back(
                {p, static_cast<std::uint32_t>(at - dump.variables.begin()), std::string(p.ports.size(), 'x')});
        else if (others)
            others->push_back(p);
    }
    return out;
}

}  // namespace

Result<Stimulus> from_dump(Stimulus ports, const vcd::Dump& dump, const std::string& file) {
    auto s = without_ports(ports);
    auto in = recorded(dump, ports.inputs, &s.resting), out = recorded(dump, ports.outputs, nullptr);
    if (in.empty())
        return Message{Severity::stop, Code::vcd,
                       "No signal of the dump has the name and width of an input port that belongs to the board.",
                       file};
    for (const auto& r : in) s.inputs.push_back(r.port);
    for (const auto& r : out) s.outputs.push_back(r.port);
    if (out.empty()) s.outputs = ports.outputs;
    std::vector<std::vector<Recorded*>> told(dump.variables.size());
    std::vector<bool> moves(dump.variables.size(), false);
    for (auto* list : {&in, &out})
        for (auto& r : *list) {
            told[r.signal].push_back(&r);
            moves[r.signal] = moves[r.signal] || list == &in;
        }
    board_sim::Time begun = 0;
    const auto end_row = [&](board_sim::Time until) {
        Stimulus::Row row;
        row.lasts = until - begun;
        for (const auto& r : in) row.in.push_back(r.value);
        for (const auto& r : out) {
            row.want.push_back(r.value);
            std::replace(row.want.back().begin(), row.want.back().end(), 'x', '-');  // it knows no better
        }
        s.rows.push_back(std::move(row));
        begun = until;
    };
    for (const auto& c : dump.changes) {
        if (moves[c.signal] && c.fs > begun) end_row(c.fs);
        if (s.rows.size() > most_rows)
            return Message{Severity::stop, Code::vcd, "The dump moves inputs at more than 100,000 times; cut it.",
                           file};
        for (auto* r : told[c.signal]) r->value = c.value;
    }
    end_row(std::max(dump.end, begun + board_sim::nanosecond));
    return s;
}

}  // namespace kp::verification
