// SPDX-License-Identifier: GPL-3.0-or-later
// Seven fields with tabs between; what cannot be read keeps its default, since files are checked where they are read.
#include "core/model/lane_link.hpp"

#include "core/base/text.hpp"

#include <array>

namespace kp {

namespace {
constexpr std::array<const char*, 4> states{"adrift", "loose", "pegged", "off"};
}

std::string line_of(const LaneLink& i) {
    std::string at;
    for (const auto& lane : i.at) at += (at.empty() ? "" : " ") + lane;
    return i.name + "\t" + i.protocol + "\t" + std::to_string(i.lanes) + "\t" + shortest(i.gbps) + "\t" +
           shortest(i.clock_mhz) + "\t" + states[static_cast<size_t>(i.state)] + "\t" + at;
}

LaneLink link_of(const std::string& line) {
    const auto fields = split(line, '\t');
    const auto field = [&](size_t n) { return n < fields.size() ? std::string(fields[n]) : std::string(); };
    LaneLink out{field(0),
                 field(1),
                 static_cast<int>(to_integer(field(2)).value_or(1)),
                 to_number(field(3)).value_or(0),
                 to_number(field(4)).value_or(0),
                 {},
                 {}};
    for (size_t s = 0; s < states.size(); ++s)
        if (field(5) == states[s]) out.state = static_cast<LaneLink::State>(s);
    const auto at = field(6);  // split gives views of it
    for (const auto lane : split(at, ' '))
        if (!lane.empty()) out.at.emplace_back(lane);
    return out;
}

}  // namespace kp
