// SPDX-License-Identifier: GPL-3.0-or-later
// A wire that comes back as another's number is crossed with it; wires that come back alike are shorted, and whether as
// "and" or as "or" is told by the bits that both halves lack or have. Patterns: twice the logarithm of the wires, and
// one of zeros: what is one there is open.
#include "core/board_sim/interconnect.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <map>

namespace kp {

std::vector<ScanWire> wires_of(const Board& board) {
    std::vector<ScanWire> out;
    for (const auto& net : board.nets) {
        const auto at = board.at_terminal(net.terminal);
        if (at && at.terminal->direction != TerminalDirection::drives) out.push_back({net.pin, net.terminal});
    }
    return out;
}

std::vector<std::vector<bool>> counting_patterns(size_t wires) {
    size_t bits = 1;
    while ((size_t{1} << bits) < wires + 2) ++bits;
    std::vector<std::vector<bool>> out;
    for (const bool turned : {false, true})
        for (size_t k = 0; k < bits; ++k) {
            out.emplace_back();
            for (size_t w = 0; w < wires; ++w) out.back().push_back((((w + 1) >> k) & 1) != turned);
        }
    out.emplace_back(wires, false);
    return out;
}

std::vector<std::vector<bool>> answers_of(const std::vector<std::vector<bool>>& driven,
                                          const std::vector<WireFault>& faults) {
    auto out = driven;
    for (size_t row = 0; row < driven.size(); ++row) {
        // Shorts join what is driven, whichever order they were made in.
        for (size_t round = 0; round <= faults.size(); ++round)
            for (const auto& f : faults) {
                if (f.kind != WireFault::short_and && f.kind != WireFault::short_or) continue;
                const bool a = out[row][f.a], b = out[row][f.b];
                out[row][f.a] = out[row][f.b] = f.kind == WireFault::short_and ? a && b : a || b;
            }
        for (const auto& f : faults) {
            if (f.kind == WireFault::swap) {
                const bool a = out[row][f.a];
                out[row][f.a] = out[row][f.b];
                out[row][f.b] = a;
            }
            if (f.kind == WireFault::open) out[row][f.a] = true;
        }
    }
    return out;
}

namespace {

using WireCode = std::vector<bool>;

std::vector<WireCode> codes_of(const std::vector<std::vector<bool>>& rows) {
    std::vector<WireCode> out(rows.empty() ? 0 : rows[0].size());
    for (const auto& row : rows)
        for (size_t w = 0; w < out.size(); ++w) out[w].push_back(row[w]);
    return out;
}

bool all(const WireCode& c, bool value) {
    return std::all_of(c.begin(), c.end(), [&](bool b) { return b == value; });
}

}  // namespace

std::vector<WireFault> faults_in(const std::vector<std::vector<bool>>& driven,
                                 const std::vector<std::vector<bool>>& received) {
    const auto sent = codes_of(driven), got = codes_of(received);
    std::map<WireCode, size_t> wire_of;
    std::map<WireCode, std::vector<size_t>> alike;
    for (size_t w = 0; w < sent.size(); ++w) {
        wire_of[sent[w]] = w;
        if (got[w] != sent[w]) alike[got[w]].push_back(w);
    }
    std::vector<WireFault> out;
    for (size_t w = 0; w < sent.size(); ++w) {
        if (got[w] == sent[w]) continue;
        const auto other = wire_of.find(got[w]);
        const auto& group = alike[got[w]];
        if (other != wire_of.end()) {
            const auto k = other->second;
            if (got[k] == sent[w] && w < k) out.push_back({WireFault::swap, w, k});
            if (got[k] != sent[w]) out.push_back({WireFault::swap, std::min(w, k), std::max(w, k)});
        } else if (group.size() > 1 && !all(got[w], true)) {
            if (w == group.front()) continue;
            // In a number and its opposite a bit that is 0 in both is an "and" of different numbers.
            const auto half = (got[w].size() - 1) / 2;
            bool neither = false;
            for (size_t k = 0; k < half; ++k) neither |= !got[w][k] && !got[w][k + half];
            out.push_back({neither ? WireFault::short_and : WireFault::short_or, group.front(), w});
        } else {
            out.push_back({WireFault::open, w, 0});
        }
    }
    return out;
}

std::string sentence_of(const WireFault& f, const std::vector<ScanWire>& wires) {
    const auto name = [&](size_t w) { return said("{} (pin {})", wires[w].terminal, wires[w].pin); };
    if (f.kind == WireFault::open) return name(f.a) + " is open.";
    if (f.kind == WireFault::swap) return said("{} and {} are crossed.", name(f.a), name(f.b));
    return said("{} and {} are shorted.", name(f.a), name(f.b));
}

}  // namespace kp
