// SPDX-License-Identifier: GPL-3.0-or-later
// A board out of a table: which column means what, what is wrong per cell, and the board it makes.
#pragma once

#include "core/format/table/grid.hpp"
#include "core/model/board.hpp"
#include "core/model/part.hpp"
#include "core/model/standards.hpp"

#include <map>

namespace kp::table {

enum class Role : unsigned char {
    ignored,
    part,
    terminal,
    pin,
    direction,
    active,
    standard,
    trace,
    series,
    pull,
    pull_ohm,
    capacitance,
    frequency,
    kind,
    bank,
    pair,
    half,
    remarks
};
constexpr int role_count = 18;
/// Words for the screen and for keeping a mapping: "board part", "terminal", …
[[nodiscard]] const char* name_of(Role role);

/// What the cells of a column have around what they mean.
struct CellDress {
    std::string prefix;  ///< taken off when a cell starts with it, such as "ball-"
    std::string unit;    ///< of cells that are bare numbers, such as "mil" or "MHz"
    bool operator==(const CellDress&) const = default;
};

struct Mapping {
    std::vector<Role> columns;
    bool seen_from_fpga = true;      ///< "in" means into the FPGA; otherwise into the board part
    std::string comment{};           ///< a row that starts with it is known but not used, beside the marks of read_grid
    std::vector<CellDress> dress{};  ///< by column; may be shorter than `columns`
    [[nodiscard]] int column(Role role) const;  ///< -1 when no column has it
    /// The cell of a role as it is meant: without prefix, with its unit. Empty when no column has the role.
    [[nodiscard]] std::string cell(const Row& row, Role role) const;
    [[nodiscard]] bool leaves_out(const Row& row) const;
    bool operator==(const Mapping&) const = default;
};

/// Guesses by headings first, then by what stands in the columns; each role is given once.
[[nodiscard]] Mapping guess_mapping(const Grid& grid, const Part& part);
/// The same for a table that lists the pins of a part: pin, function (as the terminal), bank, kind, pair.
[[nodiscard]] Mapping guess_pin_mapping(const Grid& grid);

/// One line of text that keeps a mapping for tables with the same headings, and back. None when the line is not one.
[[nodiscard]] std::string mapping_line(const Mapping& mapping);
[[nodiscard]] std::optional<Mapping> mapping_from_line(const std::string& line);
/// Headings as one key, under which a mapping is remembered.
[[nodiscard]] std::string heading_key(const Grid& grid);

/// The pin that a cell means: "16" also for pad 16, "Pin 16" or "ball K4". As it stands, in
/// capitals, when the part has none such.
[[nodiscard]] std::string pin_of_cell(const std::string& text, const Part& part);
/// "n.c.", "spare", "not used", "-": a row that names a pin and wires nothing.
[[nodiscard]] bool says_unused(const std::string& text);

struct CellTrouble {
    size_t row = 0;                      ///< position in the grid's rows
    int column = 0;                      ///< -1: the whole row
    Severity severity = Severity::stop;  ///< a row with a stop is left out of the board
    std::string text;
};

struct BoardDraft {
    Board board;
    std::vector<CellTrouble> troubles;
    size_t rows = 0, wired = 0, unused = 0;
    size_t merged = 0;  ///< rows without a part of their own, read with the one above
};

/// Makes the board. Parts stand around the FPGA in the order they come; rails follow from the standards of each bank.
[[nodiscard]] BoardDraft draft_board(const Grid& grid, const Mapping& mapping, const Part& part,
                                     const StandardTable& standards, const std::string& name,
                                     const std::string& part_code);

struct PartDraft {
    Part part;
    std::vector<CellTrouble> troubles;
    size_t rows = 0, pins = 0, unused = 0;
};

/// Makes a part from its pin list: kinds from the column or from what the functions are called, pairs from the column
/// or from functions that differ in a last P and N, banks with every standard of the table. What a pin list does not
/// say (ordering code, IDCODE, limits, resources) is left to be filled in.
[[nodiscard]] PartDraft draft_part(const Grid& grid, const Mapping& mapping, const StandardTable& standards,
                                   const std::string& name);

}  // namespace kp::table
