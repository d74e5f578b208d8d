// SPDX-License-Identifier: GPL-3.0-or-later
// The plan as rows, one a port: what a pin sheet, a template, a comparison and the spreadsheet view show.
#pragma once

#include "core/model/board.hpp"
#include "core/model/edit.hpp"
#include "core/model/netlist.hpp"
#include "core/model/part.hpp"

#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace kp {

/// A port with its peg, its attributes, and what follows from part and board. Empty texts: not chosen, not there.
struct SheetRow {
    std::string port, direction, pin, bank, standard, standard_origin, terminal, state, origin, drive, slew, pull,
        termination, partner, pad_register, pad_delay, note, role, sense, open, tie, invert, meant;
    bool operator==(const SheetRow&) const = default;
};

/// A column: its name in files, its field, and whether a sheet that is read may set it.
struct SheetColumn {
    const char* name;
    std::string SheetRow::*field;
    bool settable;
};
[[nodiscard]] std::span<const SheetColumn> sheet_columns();

/// Attributes with one column set; as they were when the column is not an attribute. A standard that is set so is
/// "chosen".
[[nodiscard]] PortAttributes with_sheet_field(PortAttributes attributes, const std::string& column,
                                              const std::string& value);

[[nodiscard]] std::vector<SheetRow> sheet_rows(const std::vector<Port>& ports, const Part& part, const Board& board,
                                               const Project& project);
/// RFC 4180, every column, one row a port. read_sheet gives the same rows back.
[[nodiscard]] std::string write_sheet(const std::vector<SheetRow>& rows);

/// A sheet as read: its rows, the columns it had, and the line of each row.
struct Sheet {
    std::vector<SheetRow> rows;
    std::vector<int> lines;
    std::vector<const SheetColumn*> columns;
};
/// An empty cell leaves a field as it is; this one clears it (a port is set adrift by it in the column of its pin).
inline constexpr const char* sheet_clear = "-";
void take_cell(std::string& field, const std::string& cell);

/// Reads CSV with the columns of write_sheet in any order and any number; other columns are noted and left, and so are
/// rows without a port; lines that start with # before the headings are remarks; fields by comma, semicolon or tab.
/// Errors: no "port" column, a port twice, more than 100,000 rows.
[[nodiscard]] Result<Sheet> read_sheet(std::string_view text, const std::string& file);

/// Differences of two plans, port by port and field by field; what only follows from part and board is left out.
struct SheetDifference {
    std::string port, field, before, after;
};
[[nodiscard]] std::vector<SheetDifference> compare_sheets(const std::vector<SheetRow>& before,
                                                          const std::vector<SheetRow>& after);
/// What a sheet says otherwise than the plan `now`: the columns and ports that it has, and of those the cells that say
/// something.
[[nodiscard]] std::vector<SheetDifference> compare_with_sheet(const Sheet& before, const std::vector<SheetRow>& now);

}  // namespace kp
