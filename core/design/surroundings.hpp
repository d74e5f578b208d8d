// SPDX-License-Identifier: GPL-3.0-or-later
// What lies around a path: its cells in series, what drives their other inputs and what else they drive, as
// a small drawing's worth of boxes and wires.
#pragma once

#include "core/model/library.hpp"
#include "core/model/netlist.hpp"

#include <string>
#include <vector>

namespace kp {

struct DrawnCell {
    std::string name, type;          ///< a port has no type
    std::string equation;            ///< "Y = (A & B)", "Q takes D at CK"; empty when it is not known
    std::vector<std::string> table;  ///< of a function of at most four inputs: "A B : Y", then a line each
    int column = 0, row = 0;
    bool on_path = false, port = false;
    int hidden = 0;  ///< loads that are not drawn
};

struct DrawnWire {
    size_t from = 0, to = 0;  ///< positions in `cells`
    std::string net, pin;     ///< pin at `to`
    bool on_path = false;
};

struct Surroundings {
    std::vector<DrawnCell> cells;
    std::vector<DrawnWire> wires;
};

/// `pins`: of a path, in its order. `levels`: how far from it cells are looked for, 0 for the path alone. Of each net
/// at most six loads, and at most 400 cells in all.
[[nodiscard]] Surroundings surroundings_of(const Netlist& netlist, const NetlistIndex& index, const Library& library,
                                           const std::vector<std::string>& pins, int levels);

/// What a cell computes, by its library: its equation and, for few inputs, its truth table.
void tell_function(const LibraryCell& cell, const Netlist& netlist, std::uint32_t instance, DrawnCell& into);

}  // namespace kp
