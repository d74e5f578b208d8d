// SPDX-License-Identifier: GPL-3.0-or-later
// Parts by their ordering code, by their file, and out of what others wrote of them.
#pragma once

#include "core/base/disk.hpp"
#include "core/format/table/columns.hpp"
#include "core/inputs/new_project.hpp"
#include "core/model/part.hpp"

#include <string>
#include <vector>

namespace kp {

/// The part of an ordering code (a former one too) among the part files in `folder` and those that ship, or a part file
/// by its path. Errors: no part file knows the code, it is not complete; the reader's.
[[nodiscard]] Result<Part> part_called(Disk& disk, const std::string& code, const std::string& folder,
                                       const std::string& data);

/// A part out of BSDL (*.bsd, *.bsdl, *.bsm), a part file or a table of pins; `name` is that of a part out of a table.
/// What the user should know is among the messages of the answer; a row of a table that cannot be used is an error.
[[nodiscard]] Result<Part> part_from(Disk& disk, const std::string& path, const std::string& name,
                                     const table::Columns& columns, const StandardTable& standards);

/// The cells' troubles as messages at the lines of their rows.
[[nodiscard]] std::vector<Message> messages_of(const std::vector<table::CellTrouble>& troubles, const table::Grid& grid,
                                               const std::string& file);

/// The I/O standards that ship. Errors: the reader's.
[[nodiscard]] Result<StandardTable> shipped_standards(Disk& disk, const std::string& data);

/// A part or board that `wanted` names by its file comes along into its folder, and is called from then on as the
/// folder knows it. `brought`: files that were not there before, for whoever has to take them back.
[[nodiscard]] Status bring_along(Disk& disk, NewProject& wanted, std::vector<std::string>& brought);

}  // namespace kp
