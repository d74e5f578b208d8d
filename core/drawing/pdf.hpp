// SPDX-License-Identifier: GPL-3.0-or-later
// Pages of text, tables and drawings as PDF (ISO 32000-1), by libharu. The same input gives the same bytes: no dates.
#pragma once

#include "core/base/result.hpp"
#include "core/drawing/drawing.hpp"

#include <string>
#include <vector>

namespace kp {

struct PdfTable {
    std::vector<std::string> head;
    std::vector<double> shares;  ///< of the width, by column; they sum to 1
    std::vector<bool> right;     ///< columns of numbers
    std::vector<std::vector<std::string>> rows;
};

/// What comes below what; a table goes on on the next page, with its head.
struct PdfBlock {
    enum Kind { heading, paragraph, table, drawing } kind = paragraph;
    std::string words;
    Ink ink = inks::ink;
    PdfTable rows;
    Drawing picture;  ///< drawn as wide as the page, on a page of its own where it does not fit
};

struct PdfReport {
    std::string title, subject;
    std::vector<PdfBlock> blocks;
    void add_heading(std::string words);
    void add_paragraph(std::string words, Ink ink = inks::ink);
    void add_table(PdfTable table);
    void add_drawing(Drawing drawing);
};

/// A4 pages with numbers. `font`: a TrueType file, embedded; where it is missing a built-in font stands in, which
/// knows Latin letters only. Errors: what the library says.
[[nodiscard]] Result<std::string> pdf_of(const PdfReport& report, const std::string& font);

/// Where the font of reports lies: with the program's data, else where the system has it.
[[nodiscard]] std::string report_font(const std::string& data_folder);

}  // namespace kp
