// SPDX-License-Identifier: GPL-3.0-or-later
// All steps by one in one way are in order, all in the other way are turned, and the rest is mixed.
#include "core/planning/bus_order.hpp"

#include "core/base/text.hpp"

#include <algorithm>
#include <cctype>
#include <set>

namespace kp {

namespace {

/// "lamp12" → ("lamp", 12); -1 without a number at the end.
std::pair<std::string, long long> stem_and_number(const std::string& name) {
    size_t digits = name.size();
    while (digits > 0 && std::isdigit(static_cast<unsigned char>(name[digits - 1]))) --digits;
    return {name.substr(0, digits),
            digits == name.size() ? -1 : to_integer(std::string_view(name).substr(digits)).value_or(-1)};
}

/// The way the numbers go when the index grows by one: 1 up, -1 down, 0 neither.
int step_of(const std::vector<BusOrder::Bit>& bits) {
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

BusOrder order_of(const std::vector<const PlannedPort*>& bus) {
    BusOrder out;
    for (const auto* seat : bus) {
        if (!seat->at || !seat->port) continue;
        const auto [stem, number] = stem_and_number(seat->at.terminal->name);
        if (number < 0) continue;
        const auto place = seat->at.part->ref + "." + stem;
        if (!out.place.empty() && place != out.place) {
            out.kind = BusOrder::Kind::spread;
            return out;
        }
        out.place = place;
        out.bits.push_back({seat->port->index, number, seat->name, seat->on});
    }
    if (out.bits.size() < 2) return out;
    std::sort(out.bits.begin(), out.bits.end(), [](const auto& a, const auto& b) { return a.index < b.index; });
    // Two on one terminal: that is another mistake, and another rule names it.
    std::set<long long> numbers;
    for (const auto& bit : out.bits)
        if (!numbers.insert(bit.number).second) return out;
    const int step = step_of(out.bits);
    out.kind = step == 1 ? BusOrder::Kind::in_order : step == -1 ? BusOrder::Kind::reversed : BusOrder::Kind::mixed;
    out.shift = out.bits.front().number - out.bits.front().index;
    out.odd = out.bits.front();
    if (step == 0)
        for (const auto& bit : out.bits)
            if (bit.number - bit.index != out.shift) {
                out.odd = bit;
                break;
            }
    return out;
}

}  // namespace kp
