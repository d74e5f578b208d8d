// SPDX-License-Identifier: GPL-3.0-or-later
// Forwards from each register: a wrong bit goes wherever its value goes, clocks left out.
#include "core/verification/late_outputs.hpp"

#include "core/base/said.hpp"
#include "core/base/text.hpp"
#include "core/model/timing_words.hpp"

#include <algorithm>
#include <set>

namespace kp::verification {

namespace {

/// Follows what a register's value can reach, and gives the nets that nothing followed before has.
class Reach {
public:
    explicit Reach(const design::Connections& d)
        : d_(d), nets_(d.netlist.net_names.size(), false), cells_(d.netlist.cells.size(), false) {}

    std::set<std::uint32_t> from(std::uint32_t cell) {
        std::set<std::uint32_t> fresh;
        std::vector<std::uint32_t> open{cell};
        cells_[cell] = true;
        while (!open.empty()) {
            const auto at = open.back();
            open.pop_back();
            for (const auto net : d_.register_outputs(at)) {
                if (nets_[net]) continue;
                nets_[net] = true;
                fresh.insert(net);
                for (const auto load : d_.loads(net)) add(load, open);
            }
        }
        return fresh;
    }

private:
    void add(std::uint32_t load, std::vector<std::uint32_t>& open) {
        const auto cell = d_.netlist.pins[load].cell;
        if (d_.is_clock_pin(load) || cells_[cell]) return;
        cells_[cell] = true;
        open.push_back(cell);
    }
    const design::Connections& d_;
    std::vector<bool> nets_, cells_;
};

std::vector<std::string> terminals_on(const design::Connections& d, const std::set<std::uint32_t>& nets,
                                      const Board& board, const PegMap& pegs) {
    std::set<std::string> out;
    for (const auto& port : d.netlist.ports) {
        if (port.direction == Direction::in || !nets.contains(port.net)) continue;
        const auto peg = pegs.find(port.name);
        const auto at = peg == pegs.end() ? Board::Found{} : board.at_pin(peg->second.pin);
        if (at) out.insert(at.net->terminal);
    }
    std::vector<std::string> sorted(out.begin(), out.end());
    std::sort(sorted.begin(), sorted.end(), natural_less);
    return sorted;
}

}  // namespace

std::vector<LateRegister> late_registers(const design::Connections& d, const NetlistIndex& index,
                                         const TimingReport& report, const Board& board, const PegMap& pegs) {
    std::vector<const EndpointSlack*> failing;
    for (const auto& e : report.endpoints) {
        const bool of_data = e.check == "setup" || e.check == "hold" || e.check == "recovery" || e.check == "removal";
        if (of_data && e.slack < 0) failing.push_back(&e);
    }
    std::stable_sort(failing.begin(), failing.end(), [](const auto* a, const auto* b) { return a->slack < b->slack; });
    std::vector<LateRegister> out;
    std::set<std::uint32_t> told;
    Reach reach(d);
    for (const auto* e : failing) {
        const auto pin = index.pin(e->endpoint);
        if (pin == no_id || !told.insert(pin).second) continue;
        const auto nets = reach.from(d.netlist.pins[pin].cell);
        out.push_back({e->endpoint, e->check, e->slack, d.netlist.pins[pin].net, terminals_on(d, nets, board, pegs)});
    }
    return out;
}

std::string sentence_of(const std::vector<LateRegister>& late) {
    if (late.empty()) return {};
    std::set<std::string> all;
    for (const auto& l : late) all.insert(l.terminals.begin(), l.terminals.end());
    std::vector<std::string> terminals(all.begin(), all.end());
    std::sort(terminals.begin(), terminals.end(), natural_less);
    const auto& worst = late.front();
    const auto more = late.size() - 1;
    return said("{} is missed at {} by {} ns{}{}.", words_of_check(worst.check), worst.endpoint, fixed(-worst.slack, 3),
                more == 0 ? "" : said(" and at {} more", more),
                terminals.empty() ? std::string(": no part of the board shows what hangs on it")
                                  : said(": what {} would show is not to be trusted", list_names(terminals, 6)));
}

}  // namespace kp::verification
