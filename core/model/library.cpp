// SPDX-License-Identifier: GPL-3.0-or-later
// Look-ups of cells and pins by name, and the merge of libraries: the first one that has a cell keeps it.
#include "core/model/library.hpp"

#include "core/model/former_names.hpp"

#include <algorithm>

namespace kp {

namespace {

/// The segment for x: the last axis point at or below it, kept inside so that both ends extrapolate.
size_t segment(const std::vector<double>& axis, double x) {
    const auto up = std::upper_bound(axis.begin(), axis.end(), x);
    const auto at = static_cast<size_t>(up - axis.begin());
    return std::min(at > 0 ? at - 1 : 0, axis.size() - 2);
}

double along(double x0, double x1, double v0, double v1, double x) {
    return v0 + (v1 - v0) * ((x - x0) / (x1 - x0));
}

}  // namespace

double TimingTable::at(double x, double y) const {
    if (values.empty()) return 0;
    const size_t columns = std::max<size_t>(1, second.size());
    const auto row = [&](size_t r) {
        if (second.size() < 2) return values[r * columns];
        const size_t c = segment(second, y);
        return along(second[c], second[c + 1], values[r * columns + c], values[r * columns + c + 1], y);
    };
    if (first.size() < 2) return row(0);
    const size_t r = segment(first, x);
    return along(first[r], first[r + 1], row(r), row(r + 1), x);
}

int LibraryCell::pin(const std::string& wanted) const {
    for (size_t i = 0; i < pins.size(); ++i)
        if (pins[i].name == wanted) return static_cast<int>(i);
    return -1;
}

const LibraryCell::Bus* LibraryCell::bus(std::string_view wanted) const {
    const auto at = std::find_if(buses.begin(), buses.end(), [&](const Bus& b) { return b.name == wanted; });
    return at == buses.end() ? nullptr : &*at;
}

const LibraryCell* Library::cell(const std::string& wanted) const {
    const auto at = by_name.find(wanted);
    return at == by_name.end() ? nullptr : &cells[at->second];
}

void Library::merge(const Library& other) {
    for (const auto& cell : other.cells)
        if (by_name.emplace(cell.name, cells.size()).second) cells.push_back(cell);
    name_former();
}

void Library::name_former() {
    for (const auto& [former, now] : former_cells())
        if (const auto at = by_name.find(std::string(now)); at != by_name.end())
            by_name.emplace(std::string(former), at->second);
}

}  // namespace kp
