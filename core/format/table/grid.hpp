// SPDX-License-Identifier: GPL-3.0-or-later
// A table as it comes out of a spreadsheet or a manual, before anybody knows what its columns mean.
#pragma once

#include "core/base/ranges.hpp"
#include "core/base/result.hpp"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace kp::table {

struct Row {
    int line = 0;
    std::vector<std::string> cells;  ///< trimmed, as many as the table has columns
    bool unused = false;             ///< a mark at its start (#, //, --, %) says: known, but not used
};

struct Grid {
    char delimiter = ',';
    std::vector<std::string> header;  ///< "column 1" … where the table has none
    bool has_header = false;
    int heading_line = 0;     ///< where it stands; 0 without one
    std::vector<Row> titles;  ///< rows above the headings that are none of the table's
    std::vector<Row> rows;
    /// "Line 1, 'Rev. B', is taken for a title; the columns are named in line 3." Empty without such rows.
    [[nodiscard]] std::string title_words() const;
};

/// Finds the delimiter (tab, comma, semicolon, bar) and whether the first row names the columns. Errors: no row at all,
/// more than 20,000 rows, 200 columns or 16 MB. `heading_line`: the line whose cells name the columns, counted from 1;
/// rows above it are left out; 0: there is none; not given: the first row that looks like it, be it below rows of one
/// cell or two in a wider table, which are titles. Errors also: there is not such a line.
[[nodiscard]] Result<Grid> read_grid(std::string_view text, const std::string& file,
                                     std::optional<int> heading_line = {});

/// A length in mm; `factor` is that of the column's heading: "23.5", "1 in", "900 mil", "2,5 cm" (decimal comma too).
[[nodiscard]] std::optional<double> length_mm(std::string_view text, double factor);
/// An amount with an SI letter, such as "4.7k", "4k7", "33R", "100n", "10 pF": in the base unit.
[[nodiscard]] std::optional<double> amount(std::string_view text);
/// 25.4 for a heading with "inch", 0.0254 for "mil", 10 for "cm", else 1.
[[nodiscard]] double length_factor(std::string_view heading);

}  // namespace kp::table
