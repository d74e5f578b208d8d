// SPDX-License-Identifier: GPL-3.0-or-later
// Text of any table to a grid: delimiter by counting, heading row by its words, rows that say nothing left out with
// their reasons.
#include "core/format/table/grid.hpp"

#include "core/base/text.hpp"
#include "core/format/csv/csv.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cctype>

namespace kp::table {

namespace {

constexpr size_t largest = size_t{16} << 20, most_rows = 20000, most_columns = 200;

/// Lines on which each candidate stands, and how evenly: the delimiter has nearly the same count on every line.
char find_delimiter(std::string_view text) {
    char best = ',';
    double best_score = 0;
    for (const char d : {'\t', ';', ',', '|'}) {
        std::vector<int> counts;
        bool quoted = false;
        int now = 0;
        for (size_t i = 0; i < text.size() && counts.size() < 40; ++i) {
            if (text[i] == '"') quoted = !quoted;
            if (quoted) continue;
            if (text[i] == d) ++now;
            if (text[i] == '\n') {
                counts.push_back(now);
                now = 0;
            }
        }
        if (now > 0 || counts.empty()) counts.push_back(now);
        std::sort(counts.begin(), counts.end());
        const int middle = counts[counts.size() / 2];
        if (middle == 0) continue;
        const auto even = std::count(counts.begin(), counts.end(), middle);
        const double score = static_cast<double>(even) / static_cast<double>(counts.size()) * (1 + 0.01 * middle);
        if (score > best_score) {
            best_score = score;
            best = d;
        }
    }
    return best;
}

/// Cells of a heading are words; a data row has a number, a pin or something like a range in it.
bool looks_like_heading(const std::vector<std::string>& cells) {
    size_t words = 0, filled = 0;
    for (const auto& c : cells) {
        if (c.empty()) continue;
        ++filled;
        const bool digit = std::any_of(c.begin(), c.end(), [](unsigned char x) { return std::isdigit(x); });
        words += !digit || c.find('(') != std::string::npos;
    }
    return filled >= 2 && words == filled;
}

size_t filled(const Row& row) {
    return static_cast<size_t>(
        std::count_if(row.cells.begin(), row.cells.end(), [](const std::string& c) { return !c.empty(); }));
}

/// The row that names the columns: the first that is in use, or the next below rows that fill no more than half of the
/// table, if it looks like a heading and those do not look like data.
std::vector<Row>::iterator find_heading(std::vector<Row>& rows, size_t columns) {
    constexpr size_t most_titles = 8;
    auto at = std::find_if(rows.begin(), rows.end(), [](const Row& r) { return !r.unused; });
    const auto first = at;
    for (size_t passed = 0; at != rows.end() && passed <= most_titles; ++at) {
        if (at->unused) continue;
        const bool narrow = columns > 2 && filled(*at) * 2 <= columns;
        if (!narrow) return looks_like_heading(at->cells) ? at : first;
        ++passed;
    }
    return first;
}

}  // namespace

std::string Grid::title_words() const {
    if (titles.empty()) return {};
    std::vector<std::string> words;
    for (const auto& row : titles)
        for (const auto& cell : row.cells)
            if (!cell.empty()) {
                words.push_back(cell);
                break;
            }
    return said("{} '{}' {} taken for a title; the columns are named in line {}.",
                titles.size() == 1 ? said("Line {},", titles[0].line) : said("The rows above, such as"), words[0],
                titles.size() == 1 ? "is" : "are", heading_line);
}

Result<Grid> read_grid(std::string_view text, const std::string& file, std::optional<int> heading_line) {
    const auto refuse = [&](const std::string& why) { return Message{Severity::stop, Code::table, why, file}; };
    if (text.starts_with("\xEF\xBB\xBF")) text.remove_prefix(3);
    if (text.size() > largest) return refuse("A table of more than 16 MB is not read.");
    Grid grid;
    grid.delimiter = find_delimiter(text);
    std::vector<int> lines;
    const auto raw = read_csv(text, grid.delimiter, &lines);
    size_t columns = 0;
    for (size_t i = 0; i < raw.size(); ++i) {
        Row row;
        row.line = i < lines.size() ? lines[i] : 0;
        for (const auto& cell : raw[i]) row.cells.emplace_back(trim(cell));
        if (std::all_of(row.cells.begin(), row.cells.end(), [](const std::string& c) { return c.empty(); })) continue;
        for (const std::string_view mark : {"#", "//", "--", "%"})
            if (row.cells[0].starts_with(mark)) {
                row.unused = true;
                row.cells[0] = std::string(trim(std::string_view(row.cells[0]).substr(mark.size())));
                break;
            }
        columns = std::max(columns, row.cells.size());
        grid.rows.push_back(std::move(row));
        if (grid.rows.size() > most_rows) return refuse("A table of more than 20,000 rows is not read.");
    }
    if (grid.rows.empty()) return refuse("The table is empty.");
    if (columns > most_columns) return refuse("A table of more than 200 columns is not read.");
    // A remark above the table is not its heading.
    const auto first = heading_line ? std::find_if(grid.rows.begin(), grid.rows.end(),
                                                   [&](const Row& r) { return r.line == *heading_line; })
                                    : find_heading(grid.rows, columns);
    if (heading_line && *heading_line > 0 && first == grid.rows.end())
        return refuse(said("Line {}, which should name the columns, is empty or not there.", *heading_line));
    if (first != grid.rows.end() && (heading_line || looks_like_heading(first->cells))) {
        grid.has_header = true;
        grid.header = first->cells;
        grid.heading_line = first->line;
        // Rows above that are not in use stay known as such.
        for (auto row = grid.rows.begin(); row != first && !heading_line; ++row)
            if (!row->unused) grid.titles.push_back(*row);
        const auto line = first->line;
        std::erase_if(grid.rows,
                      [&](const Row& r) { return r.line == line || (r.line < line && (heading_line || !r.unused)); });
    }
    while (grid.header.size() < columns) grid.header.push_back(said("column {}", grid.header.size() + 1));
    for (auto& row : grid.rows) row.cells.resize(columns);
    return grid;
}

double length_factor(std::string_view heading) {
    const auto h = lower(heading);
    if (h.find("mil") != std::string::npos && h.find("milli") == std::string::npos) return 0.0254;
    if (h.find("inch") != std::string::npos || h.find("[in]") != std::string::npos ||
        h.find("(in)") != std::string::npos)
        return 25.4;
    return h.find("cm") != std::string::npos ? 10 : 1;
}

std::optional<double> length_mm(std::string_view text, double factor) {
    std::string number(trim(text));
    const auto end = number.find_first_not_of("0123456789.,-+eE");
    std::string unit = end == std::string::npos ? "" : lower(trim(std::string_view(number).substr(end)));
    if (end != std::string::npos) number.resize(end);
    number = std::string(trim(number));
    std::replace(number.begin(), number.end(), ',', '.');
    const auto v = to_number(number);
    if (!v || *v < 0) return std::nullopt;
    if (unit.empty()) return *v * factor;
    if (unit == "mm") return *v;
    if (unit == "cm") return *v * 10;
    if (unit == "mil" || unit == "mils") return *v * 0.0254;
    if (unit == "in" || unit == "inch" || unit == "\"") return *v * 25.4;
    return std::nullopt;
}

std::optional<double> amount(std::string_view text) {
    std::string s(trim(text));
    std::replace(s.begin(), s.end(), ',', '.');
    size_t end = 0;
    while (end < s.size() && (std::isdigit(static_cast<unsigned char>(s[end])) || s[end] == '.')) ++end;
    if (end == 0) return std::nullopt;
    std::string whole = s.substr(0, end), rest = s.substr(end);
    while (!rest.empty() && rest[0] == ' ') rest.erase(0, 1);
    double scale = 1;
    if (!rest.empty()) {
        const std::string letters = "pnumkKMR";
        const double scales[] = {1e-12, 1e-9, 1e-6, 1e-3, 1e3, 1e3, 1e6, 1};
        const bool micro = rest.starts_with("\xC2\xB5") || rest.starts_with("\xCE\xBC");
        const auto at = letters.find(rest[0]);
        if (micro) {
            scale = 1e-6;
            rest.erase(0, 2);
        } else if (at != std::string::npos) {
            scale = scales[at];
            rest.erase(0, 1);
        }
    }
    // 4k7: the letter stands for the point.
    size_t more = 0;
    while (more < rest.size() && std::isdigit(static_cast<unsigned char>(rest[more]))) ++more;
    if (more > 0 && whole.find('.') == std::string::npos) {
        whole += "." + rest.substr(0, more);
        rest.erase(0, more);
    }
    rest = lower(rest);
    if (!rest.empty() && rest != "ohm" && rest != "ohms" && rest != "f" && rest != "\xCE\xA9" &&
        rest != "\xE2\x84\xA6" && rest != "hz" && rest != "a")
        return std::nullopt;
    const auto v = to_number(whole);
    return v ? std::optional(*v * scale) : std::nullopt;
}

}  // namespace kp::table
