// SPDX-License-Identifier: GPL-3.0-or-later
// Tables in text (RFC 4180), read with what spreadsheets really write.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace kp {

/// A field as RFC 4180 writes it: quoted when it holds a comma, a quote or a line end. A text that starts with = + - @,
/// tab or CR is one that a spreadsheet would run as a formula: it gets an apostrophe in front, the spreadsheets' own
/// mark for text (common practice, no source), which read_csv takes away again. The same for texts that begin with
/// apostrophes and one of these.
[[nodiscard]] std::string csv_field(std::string_view text);
[[nodiscard]] std::string csv_row(const std::vector<std::string>& fields);

/// Reads RFC 4180 text into rows, without a byte order mark and without the apostrophes of csv_field; tolerant of \n
/// and \r\n, of a missing last line end, and of quotes left open at the end. `delimiter` stands between fields;
/// `lines`, when given, gets the line (from 1) at which each row starts; `left_open` the line at which a quote begins
/// that nothing ends, else 0.
[[nodiscard]] std::vector<std::vector<std::string>> read_csv(std::string_view text, char delimiter = ',',
                                                             std::vector<int>* lines = nullptr,
                                                             int* left_open = nullptr);

}  // namespace kp
