// SPDX-License-Identifier: GPL-3.0-or-later
// What somebody says of the columns of a table (kitepeg.columns/1), over what the program guesses of them.
#pragma once

#include "core/format/table/board_table.hpp"
#include "core/format/table/grid.hpp"

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace kp::table {

struct Columns {
    std::map<std::string, std::string> roles;  ///< by heading, or by number from 1
    std::optional<int> heading_line;
    std::vector<int> leave_out;
    bool from_fpga = true;
    std::string comment;                              ///< mark of rows that are not used
    std::map<std::string, std::string> prefix, unit;  ///< by heading, or by number from 1
};

/// Errors: not such a file, with an example of one.
[[nodiscard]] Result<Columns> read_columns(std::string_view text, const std::string& file);
/// As read_grid, with the heading line and the rows left out that `columns` says.
[[nodiscard]] Result<Grid> read_table(std::string_view text, const std::string& file, const Columns& columns);
/// Puts what `columns` says over what was guessed. Errors: a column or a meaning that there is not.
[[nodiscard]] Status take_columns(const Grid& grid, const Columns& columns, Mapping& mapping);

}  // namespace kp::table
