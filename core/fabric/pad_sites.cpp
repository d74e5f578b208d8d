// SPDX-License-Identifier: GPL-3.0-or-later
// A pin that names a region lies beside it: on the side of the fabric that the region touches, spread over its length
// in the order of the pins; at most eight to a site.
#include "core/fabric/placement.hpp"

#include <algorithm>

namespace kp::fabric {

namespace {

bool special(const Fabric& f, int column) {
    return std::any_of(f.special.begin(), f.special.end(), [&](const auto& s) {
        return std::find(s.columns.begin(), s.columns.end(), column) != s.columns.end();
    });
}

/// Sites beside a region, in order along it.
std::vector<std::pair<int, int>> beside(const Fabric& f, const ClockRegion& r) {
    std::vector<std::pair<int, int>> out;
    const bool left = r.left <= 0, right = r.right >= f.columns - 1;
    if (left || right) {
        for (int y = r.bottom; y <= r.top; ++y) out.emplace_back(left ? r.left - 1 : r.right + 1, y);
        return out;
    }
    if (r.bottom <= 0 || r.top >= f.rows - 1) {
        for (int x = r.left; x <= r.right; ++x) out.emplace_back(x, r.bottom <= 0 ? r.bottom - 1 : r.top + 1);
        return out;
    }
    for (int x = r.left; x <= r.right && out.empty(); ++x)
        if (!special(f, x))
            for (int y = r.bottom; y <= r.top; ++y) out.emplace_back(x, y);
    return out;
}

}  // namespace

std::map<std::string, std::pair<int, int>> pad_sites(const Part& part) {
    std::map<std::string, std::pair<int, int>> out;
    std::map<std::string, std::vector<const Pin*>> by_region;
    for (const auto& pin : part.pins) {
        if (pin.site.size() == 2)
            out[pin.name] = {static_cast<int>(pin.site[0]), static_cast<int>(pin.site[1])};
        else if (pin.usable())
            by_region[pin.region].push_back(&pin);
    }
    for (const auto& [name, pins] : by_region) {
        const auto at = std::find_if(part.regions.begin(), part.regions.end(),
                                     [&](const ClockRegion& r) { return r.name == name; });
        const ClockRegion all{"", 0, 0, part.fabric.columns - 1, part.fabric.rows - 1};
        const auto sites = beside(part.fabric, at == part.regions.end() ? all : *at);
        for (size_t k = 0; k < pins.size() && !sites.empty(); ++k)
            out[pins[k]->name] = sites[k * sites.size() / pins.size()];
    }
    return out;
}

}  // namespace kp::fabric
