// SPDX-License-Identifier: GPL-3.0-or-later
// Cells of a netlist to slot groups of a part's fabric.
#pragma once

#include "core/base/result.hpp"
#include "core/model/library.hpp"
#include "core/model/netlist.hpp"
#include "core/model/part.hpp"

#include <functional>
#include <map>
#include <stop_token>
#include <string>
#include <vector>

namespace kp::fabric {

enum class CellKind : std::uint8_t { look_up, registers, memory, multiply, pad, root, pll, other };
[[nodiscard]] CellKind kind_of(const LibraryCell& cell);

struct Spot {
    int column = 0, row = 0, slot = 0;
    std::string pin;  ///< of a pad: the pin of the part
};

/// Spots by cell. The wirelength is the sum over nets, clock nets left out, of half the box around their cells.
struct Placement {
    std::vector<Spot> spots;
    long long wirelength = 0;
};

/// Two ends of a wire, for weights: a driver and one of its loads.
struct WireWeights {
    std::vector<float> of_pin;  ///< by pin of the netlist: how much its wire matters, 0 to 1; empty: all alike
};

struct PlaceSettings {
    unsigned seed = 1;
    double effort = 1;  ///< moves, against the usual number
    std::function<void(double done, long long wirelength)> progress;
    std::stop_token stop;
    /// Asked a few times on the way, to say which wires matter now.
    std::function<WireWeights(const Placement&)> weigh;
};

/// Where pads lie on the fabric: at their pin's site if the part says one, else at the edge of its clock region.
[[nodiscard]] std::map<std::string, std::pair<int, int>> pad_sites(const Part& part);

/// `pin_of`: pin of the part by port. Errors: more cells of a kind than the part has slots for, a pad whose port has no
/// pin. The same input and seed give the same answer.
[[nodiscard]] Result<Placement> place_cells(const Netlist& netlist, const Library& library, const Part& part,
                                            const std::map<std::string, std::string>& pin_of,
                                            const PlaceSettings& settings);

/// The wirelength of spots as they are.
[[nodiscard]] long long wirelength_of(const Netlist& netlist, const Library& library, const std::vector<Spot>& spots);

}  // namespace kp::fabric
