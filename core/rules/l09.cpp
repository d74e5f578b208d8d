// SPDX-License-Identifier: GPL-3.0-or-later
// The order of a bus on numbered terminals: all steps by one in one way are in order, all in the other way are turned,
// and the rest is mixed. A bus over several parts has no order and is left alone.
#include "core/plan/ways.hpp"
#include "core/rules/say.hpp"

#include <algorithm>
#include <cctype>
#include <set>

namespace kp::rules {

namespace {

/// "lamp12" → ("lamp", 12); -1 without a number at the end.
std::pair<std::string, long long> stem_and_number(const std::string& name) {
    size_t digits = name.size();
    while (digits > 0 && std::isdigit(static_cast<unsigned char>(name[digits - 1]))) --digits;
    return {name.substr(0, digits),
            digits == name.size() ? -1 : to_integer(std::string_view(name).substr(digits)).value_or(-1)};
}

struct Bit {
    int index;
    long long number;
    std::string port, pin;
};

/// The way the numbers go when the index grows by one: 1 up, -1 down, 0 neither.
int step_of(const std::vector<Bit>& bits) {
    int step = 0;
    for (size_t i = 1; i < bits.size(); ++i) {
        const long long by = (bits[i].number - bits[i - 1].number), of = bits[i].index - bits[i - 1].index;
        const int here = by == of ? 1 : by == -of ? -1 : 0;
        if (here == 0 || (step != 0 && here != step)) return 0;
        step = here;
    }
    return step;
}

}  // namespace

/// The first bit of a bus answers for all.
void l09(const RuleInput& in, const RuleRow& row, const Seat& seat, std::vector<Finding>& out) {
    const auto& all = in.bus_of(seat);
    if (all.size() < 3 || all.front() != &seat) return;
    const auto& bus = seat.port->bus;
    std::string where;  // board part and stem of its terminals
    std::vector<Bit> bits;
    for (const auto* bit : all) {
        if (!bit->at) continue;
        const auto [stem, number] = stem_and_number(bit->at.terminal->name);
        if (number < 0) continue;
        const auto place = bit->at.part->ref + "." + stem;
        if (!where.empty() && place != where) return;  // spread over several: nobody can say what its order would be
        where = place;
        bits.push_back({bit->port->index, number, bit->name, bit->on});
    }
    if (bits.size() < 3) return;
    std::sort(bits.begin(), bits.end(), [](const Bit& a, const Bit& b) { return a.index < b.index; });
    // Two on one terminal: that is another mistake, and another rule names it.
    std::set<long long> numbers;
    if (!std::all_of(bits.begin(), bits.end(), [&](const Bit& b) { return numbers.insert(b.number).second; })) return;
    const int step = step_of(bits);
    if (step == 1) return;
    const auto base = bits.front().number - bits.front().index;
    const auto wrong =
        std::find_if(bits.begin(), bits.end(), [&](const Bit& b) { return step != -1 && b.number - b.index != base; });
    const Bit odd = wrong == bits.end() ? bits.front() : *wrong;
    auto f = finding(row,
                     "The bits of " + bus + " lie on " + where + std::to_string(bits.front().number) + " … " +
                         where.substr(where.find('.') + 1) + std::to_string(bits.back().number) +
                         (step == -1 ? " in reversed order" : " out of order") + ": bit " + std::to_string(odd.index) +
                         " is on number " + std::to_string(odd.number) + ".",
                     {{"bus", bus}});
    for (const auto& bit : bits) f.objects.push_back({"port", bit.port});
    if (in.with_fixes) {
        std::vector<std::string> ports;
        std::vector<std::pair<long long, std::string>> pins;
        for (const auto& bit : bits) {
            ports.push_back(bit.port);
            pins.emplace_back(bit.number, bit.pin);
        }
        std::sort(pins.begin(), pins.end());
        std::vector<std::string> ordered;
        for (const auto& [number, pin] : pins) ordered.push_back(pin);
        f.fixes.push_back(
            {"put the bits of " + bus + " in order", peg_many(in.project, in.board, ports, ordered, "by a fix").edit});
    }
    out.push_back(std::move(f));
}

}  // namespace kp::rules
