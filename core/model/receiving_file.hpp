// SPDX-License-Identifier: GPL-3.0-or-later
// Where a proposed SDC command is written. SDC is read from top to bottom, so a command that names a clock has to stand
// behind its definition. One pass over the files; the answer points into `project` and lives as long as it is not
// changed.
#pragma once

#include "core/model/constraints.hpp"
#include "core/model/project.hpp"

#include <string>

namespace kp {

/// The constraint file that a new command goes to: the one that receives, or a later one when the command speaks of
/// `clock` and that is defined behind it, since a line goes behind what it needs. Files that are not analysed do not
/// count. Null: there is none.
[[nodiscard]] const SdcFile* receiving_file(const Project& project, const Constraints& constraints,
                                            const std::string& clock = {});

}  // namespace kp
