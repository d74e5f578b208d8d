// SPDX-License-Identifier: GPL-3.0-or-later
// A model as a cell of a library.
#pragma once

#include "core/base/result.hpp"
#include "core/hdl/models/model.hpp"
#include "core/model/library.hpp"

namespace kp::models {

/// `unit`: ns a unit of the file. Errors (without place): a terminal that is not a port, too many arcs.
[[nodiscard]] Result<LibraryCell> cell_of(const Model& model, double unit);

}  // namespace kp::models
