// SPDX-License-Identifier: GPL-3.0-or-later
// get_lib_cells and get_lib_pins: patterns against the library, case as written.
#include "core/format/sdc/library_query.hpp"

#include <algorithm>

namespace kp::sdc {

std::vector<std::string> library_names(const Library& library, const std::string& pattern, bool pins,
                                       const QueryOptions& options) {
    std::vector<std::string> out;
    const NamePattern matches(pattern, options);
    const auto take = [&](const std::string& name) {
        const std::string full = library.name + "/" + name;
        if (matches(name) || matches(full)) out.push_back(full);
    };
    for (const auto& cell : library.cells) {
        if (!pins) take(cell.name);
        for (size_t i = 0; pins && i < cell.pins.size(); ++i) take(cell.name + "/" + cell.pins[i].name);
    }
    return out;
}

std::vector<std::string> library_names_of(const Netlist& n, const Library& library, const Element& object, bool pins) {
    const auto kind = static_cast<ObjectKind>(object.kind);
    if (object.kind < 0 || kind != (pins ? ObjectKind::pin : ObjectKind::cell)) return {};
    const auto cell = pins ? n.pins[object.id].cell : object.id;
    std::string name = library.name + "/" + n.type_of(cell);
    if (pins) name += "/" + n.pin_names[n.pins[object.id].name];
    return {name};
}

namespace {

bool is_kind(const LibraryCell& cell, std::uint32_t pin, RegisterPins wanted) {
    return std::any_of(cell.arcs.begin(), cell.arcs.end(), [&](const LibraryArc& a) {
        const bool launches = a.kind == ArcKind::rising_edge || a.kind == ArcKind::falling_edge;
        const bool asynchronous = a.kind >= ArcKind::recovery_rising && a.kind <= ArcKind::removal_falling;
        switch (wanted) {
            case RegisterPins::clock: return a.from == pin && (launches || a.is_check());
            case RegisterPins::data: return a.to == pin && a.is_check() && !asynchronous;
            case RegisterPins::asynchronous:
                return (a.to == pin && asynchronous) ||
                       (a.from == pin && (a.kind == ArcKind::clear || a.kind == ArcKind::preset));
            case RegisterPins::output: return a.to == pin && launches;
            case RegisterPins::none: break;
        }
        return false;
    });
}

}  // namespace

ObjectSet registers(const Netlist& n, const Library& library, RegisterPins wanted) {
    ObjectSet out;
    for (std::uint32_t c = 0; c < n.cells.size(); ++c) {
        const auto* cell = library.cell(n.type_of(c));
        if (!cell || !cell->flip_flop) continue;
        if (wanted == RegisterPins::none) out.push_back({ObjectKind::cell, c});
        const auto first = n.cells[c].first_pin;
        for (auto p = first; wanted != RegisterPins::none && p < first + n.cells[c].pin_count; ++p)
            if (const int at = cell->pin(n.pin_names[n.pins[p].name]);
                at >= 0 && is_kind(*cell, static_cast<std::uint32_t>(at), wanted))
                out.push_back({ObjectKind::pin, p});
    }
    return out;
}

}  // namespace kp::sdc
