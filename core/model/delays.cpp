// SPDX-License-Identifier: GPL-3.0-or-later
// What an SDF file said, kept in flat arrays with names as ids.
#include "core/model/delays.hpp"

#include <cstring>

namespace kp {

void DelayFile::take(const DelayEntry& e) {
    const auto triple = [&](const Triple& t) {
        // Neighbours are often alike, and an absent member never equals itself.
        if (triples_.empty() || std::memcmp(&triples_.back(), &t, sizeof t) != 0) triples_.push_back(t);
        return static_cast<std::uint32_t>(triples_.size() - 1);
    };
    Record r{names_.add(e.cell_type),
             names_.add(e.instance),
             names_.add(e.from),
             names_.add(e.to),
             names_.add(e.condition),
             e.line,
             e.kind,
             e.from_edge,
             e.to_edge,
             e.increment,
             0,
             0};
    r.rise = triple(e.rise);
    r.fall = triple(e.fall);
    records_.push_back(r);
}

DelayEntry DelayFile::operator[](size_t i) const {
    const auto& r = records_[i];
    return {r.kind,       names_[r.cell_type], names_[r.instance], names_[r.from],
            names_[r.to], names_[r.condition], r.from_edge,        r.to_edge,
            r.increment,  triples_[r.rise],    triples_[r.fall],   r.line};
}

}  // namespace kp
