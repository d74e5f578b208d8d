// SPDX-License-Identifier: GPL-3.0-or-later
// Design facts know where data go between clocks; the constraints know what is taken out; the engine's own relation of
// waveforms gives the edges.
#include "core/constraints/clock_matrix.hpp"

#include "core/base/text.hpp"
#include "core/format/sdc/sdc_text.hpp"
#include "core/timing/clocks.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <map>

namespace kp {

namespace {

/// The command that separates two clocks, by groups or by a false path between clocks; null when none does.
const CommandSpan* separates(const Constraints& k, std::uint32_t from, std::uint32_t to) {
    for (const auto& g : k.groups) {
        int a = -1, b = -1;
        for (int i = 0; i < static_cast<int>(g.groups.size()); ++i)
            for (const auto clock : g.groups[static_cast<size_t>(i)]) {
                if (clock == from) a = i;
                if (clock == to) b = i;
            }
        if (g.groups.size() == 1 ? (a == 0) != (b == 0) : a >= 0 && b >= 0 && a != b) return &g.span;
    }
    const auto names = [](const std::optional<PathException::Point>& p, std::uint32_t clock) {
        return p && std::any_of(p->objects.begin(), p->objects.end(),
                                [&](const ObjectRef& o) { return o.kind == ObjectKind::clock && o.id == clock; });
    };
    for (const auto& e : k.exceptions)
        if (e.kind == PathException::false_path && e.setup && e.through.empty() && names(e.from, from) &&
            names(e.to, to))
            return &e.span;
    return nullptr;
}

/// The tightest of all pairs of edges that data between the two may meet.
void tightest(const Constraints& k, ClockPair& pair) {
    const auto &a = k.clocks[pair.from], &b = k.clocks[pair.to];
    if (a.period <= 0 || b.period <= 0 || a.waveform.size() < 2 || b.waveform.size() < 2) return;
    const auto r = timing::relate(a, 0, b, 0);
    pair.launch = r.setup.launch;
    pair.capture = r.setup.capture;
    pair.common_period = r.common_base;
}

}  // namespace

std::vector<ClockPair> clock_matrix(const Analysis& analysis) {
    const auto& k = analysis.constraints();
    const auto& facts = analysis.design();
    std::map<std::pair<std::uint32_t, std::uint32_t>, const ClockCrossing*> apart, related;
    for (const auto& x : facts.crossings) apart[{x.from, x.to}] = &x;
    for (const auto& x : facts.related) related[{x.from, x.to}] = &x;
    std::vector<ClockPair> out;
    const auto n = static_cast<std::uint32_t>(k.clocks.size());
    for (std::uint32_t from = 0; from < n; ++from)
        for (std::uint32_t to = 0; to < n; ++to) {
            ClockPair pair;
            pair.from = from;
            pair.to = to;
            const auto across = apart.find({from, to});
            const auto beside = related.find({from, to});
            const auto* found = across != apart.end()     ? across->second
                                : beside != related.end() ? beside->second
                                                          : nullptr;
            if (found) {
                pair.open = found->open;
                pair.synchronised = found->synchronised;
            }
            tightest(k, pair);
            if (from == to) {
                pair.kind = ClockPair::Kind::same;
            } else if (const auto* span = separates(k, from, to)) {
                pair.kind = ClockPair::Kind::excluded;
                if (static_cast<size_t>(span->file) < k.files.size())
                    pair.file = k.files[static_cast<size_t>(span->file)];
                pair.line = span->line;
            } else if (beside != related.end()) {
                pair.kind = ClockPair::Kind::related;
            } else if (across != apart.end()) {
                pair.kind = across->second->open > 0 ? ClockPair::Kind::open : ClockPair::Kind::synchronised;
                pair.proposal = said("set_clock_groups -asynchronous -group [get_clocks {}] -group [get_clocks {}]",
                                     sdc::quote(k.clocks[from].name), sdc::quote(k.clocks[to].name));
            }
            out.push_back(std::move(pair));
        }
    return out;
}

std::string words_of(const ClockPair& p) {
    const auto edges =
        said("{} → {} ns", shortest(std::round(p.launch * 1e3) / 1e3), shortest(std::round(p.capture * 1e3) / 1e3));
    switch (p.kind) {
        case ClockPair::Kind::same: return "itself: " + edges;
        case ClockPair::Kind::related:
            return said("related: {}{}{}", edges, (p.common_period ? "" : ", no common period"),
                        (p.synchronised > 0 ? ", " + std::to_string(p.synchronised) + " through synchronisers" : ""));
        case ClockPair::Kind::synchronised: return said("unrelated, {} through synchronisers", p.synchronised);
        case ClockPair::Kind::open: return said("unrelated, {} without a synchroniser", p.open);
        case ClockPair::Kind::excluded: return said("taken out by {}:{}", p.file, p.line);
        case ClockPair::Kind::never: return "never meet";
    }
    return {};
}

}  // namespace kp
