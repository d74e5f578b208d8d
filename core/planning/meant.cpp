// SPDX-License-Identifier: GPL-3.0-or-later
// What is said by hand takes its pins out of what names may have; the rest is NameMatcher's.
#include "core/planning/meant.hpp"

#include "core/base/said.hpp"
#include "core/base/text.hpp"
#include "core/planning/by_role.hpp"
#include "core/planning/roles.hpp"

#include <algorithm>
#include <cmath>
#include <set>

namespace kp {

namespace {

/// Oscillators whose terminal is wired to the chip.
std::vector<const Oscillator*> wired_oscillators(const Board& board) {
    std::vector<const Oscillator*> out;
    for (const auto& o : board.oscillators)
        if (const auto at = board.at_terminal(o.terminal); at && at.net) out.push_back(&o);
    return out;
}

void clocks_by_name(const std::vector<Port>& ports, ClockRates& out) {
    for (const auto& p : ports)
        if (p.direction == Direction::in && p.index < 0 && looks_like_clock(p.bus)) out.emplace(p.name, 0);
}

}  // namespace

ClockRates clock_rates(const std::vector<Port>& ports, const std::vector<PortFacts>& facts,
                       const Constraints& constraints) {
    ClockRates out, told;
    for (const auto& clock : constraints.clocks)
        for (const auto& o : clock.sources)
            if (!clock.generated && o.kind == ObjectKind::port && o.id < ports.size())
                told.emplace(ports[o.id].name, clock.period > 0 ? 1000 / clock.period : 0);
    if (facts.size() == ports.size() && !facts.empty()) {
        for (size_t i = 0; i < ports.size(); ++i)
            if ((facts[i].clocks_registers || facts[i].feeds_pll) && ports[i].direction == Direction::in) {
                const auto rate = told.find(ports[i].name);
                out.emplace(ports[i].name, rate == told.end() ? 0 : rate->second);
            }
        return out;
    }
    for (const auto& [port, mhz] : told) out.emplace(port, mhz);
    clocks_by_name(ports, out);
    return out;
}

bool has_rate(const Oscillator& oscillator, double mhz) {
    constexpr double least = 1e-4;  // a period is written with few digits: 41.667 ns for 24 MHz
    const double tolerance = std::max(least, oscillator.ppm * 1e-6);
    return mhz <= 0 || (oscillator.mhz > 0 && std::fabs(mhz - oscillator.mhz) <= tolerance * oscillator.mhz);
}

const Oscillator* oscillator_for(const Board& board, double mhz) {
    const Oscillator* only = nullptr;
    for (const auto* o : wired_oscillators(board)) {
        if (!has_rate(*o, mhz)) continue;
        if (only) return nullptr;
        only = o;
    }
    return only;
}

std::vector<NameMatch> meant_places(const std::vector<Port>& ports, const Board& board, const Project& project,
                                    const PegMap& taken, const ClockRates& clocks, const std::set<std::string>* only) {
    std::vector<NameMatch> out;
    PegMap used = taken;
    std::vector<Port> asked;
    for (const auto& port : ports)
        if (!only || only->contains(port.name)) asked.push_back(port);
    for (const auto& port : asked) {
        const auto chosen = project.attributes.find(port.name);
        if (chosen == project.attributes.end() || chosen->second.meant.empty() || taken.contains(port.name)) continue;
        const auto at = board.at_terminal(chosen->second.meant);
        if (!at || !at.net) continue;
        out.push_back({port.name, at.net->pin, at.net->terminal, "it is meant for it", 1});
        used[port.name] = {at.net->pin, PegState::loose, ""};
    }
    const NameMatcher matcher(board, ports);
    for (auto& m : matcher.all(asked, used)) {
        used[m.port] = {m.pin, PegState::loose, ""};
        out.push_back(std::move(m));
    }
    for (auto& m : matcher.by_order(asked, used)) {
        used[m.port] = {m.pin, PegState::loose, ""};
        out.push_back(std::move(m));
    }
    for (auto& m : by_role(asked, board, project, used)) {
        used[m.port] = {m.pin, PegState::loose, ""};
        out.push_back(std::move(m));
    }
    ClockRates rates = clocks;
    for (const auto& port : asked)
        if (const auto chosen = project.attributes.find(port.name);
            chosen != project.attributes.end() && chosen->second.role == "clock")
            rates.emplace(port.name, 0);
    std::set<std::string> pins, known;
    for (const auto& [port, peg] : used) pins.insert(peg.pin);
    for (const auto& p : asked) known.insert(p.name);
    for (const auto& [port, mhz] : rates) {
        const auto* o = used.contains(port) ? nullptr : oscillator_for(board, mhz);
        const auto at = o ? board.at_terminal(o->terminal) : Board::Found{};
        if (!at || !known.contains(port) || !pins.insert(at.net->pin).second) continue;
        constexpr double fairly_sure = 0.8;
        out.push_back({port, at.net->pin, at.net->terminal,
                       mhz > 0 ? said("the only oscillator of {} MHz", shortest(o->mhz))
                               : said("a clock, and the board's only oscillator ({} MHz)", shortest(o->mhz)),
                       fairly_sure});
    }
    std::sort(out.begin(), out.end(),
              [](const NameMatch& a, const NameMatch& b) { return natural_less(a.port, b.port); });
    return out;
}

Result<Edit> meant_edit(const AttributeInput& in, const std::vector<std::string>& ports, const std::string& text) {
    const auto& kind = *attribute_kind("meant");
    if (trim(text).empty()) return attribute_edit(in, ports, kind, "");
    std::vector<std::string> terminals;
    for (const auto word : split(text, ',')) terminals.emplace_back(trim(word));
    const auto part = std::find_if(in.board.parts.begin(), in.board.parts.end(),
                                   [&](const BoardPart& p) { return p.ref == terminals.front(); });
    if (terminals.size() == 1 && part != in.board.parts.end()) {
        std::vector<const Terminal*> wired;
        for (const auto& t : part->terminals)
            if (in.board.at_terminal(part->ref + "." + t.name).net) wired.push_back(&t);
        std::stable_sort(wired.begin(), wired.end(),
                         [](const Terminal* a, const Terminal* b) { return a->order < b->order; });
        terminals.clear();
        for (const auto* t : wired) terminals.push_back(part->ref + "." + t->name);
    }
    if (terminals.size() != ports.size())
        return Message{
            Severity::stop, Code::attribute,
            said("'{}' names {} for {}.", text, counted(static_cast<long long>(terminals.size()), "terminal"),
                 counted(static_cast<long long>(ports.size()), "port"))};
    Edit all{
        said("say what {} meant for",
             ports.size() == 1 ? ports[0] + " is" : counted(static_cast<long long>(ports.size()), "port") + " are"),
        {}};
    for (size_t i = 0; i < ports.size(); ++i) {
        auto one = attribute_edit(in, {ports[i]}, kind, terminals[i]);
        if (!one) return one.messages();
        all.changes.insert(all.changes.end(), one.value().changes.begin(), one.value().changes.end());
    }
    return all;
}

PegMap pegs_as_meant(const std::vector<NameMatch>& meant) {
    PegMap out;
    for (const auto& m : meant) out[m.port] = {m.pin, PegState::loose, "as meant"};
    return out;
}

}  // namespace kp
