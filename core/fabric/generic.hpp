// SPDX-License-Identifier: GPL-3.0-or-later
// A fabric for parts whose file does not say what is inside, so that a part made of a pin list, a table or BSDL builds.
#pragma once

#include "core/fabric/power.hpp"
#include "core/model/library.hpp"
#include "core/model/netlist.hpp"
#include "core/model/part.hpp"

#include <optional>
#include <vector>

namespace kp::fabric {

struct FurnishedPart {
    Part part;
    std::vector<PowerReport::Assumed> assumed;  ///< what of it is made up, for people to read; empty: nothing
};

/// The part with a square fabric for the logic cells that its resources name, else for one and a half times what the
/// design needs; as many columns of memories and multipliers as it needs, with the same room. Resources that the file
/// leaves out are as large as that. A part that has a fabric comes back as it is.
[[nodiscard]] FurnishedPart furnished(const Part& part, const Netlist& netlist, const Library& library);

}  // namespace kp::fabric
