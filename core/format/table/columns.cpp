// SPDX-License-Identifier: GPL-3.0-or-later
// Columns are named by heading, whatever its case, or by number from 1; a meaning that is given takes the place of
// whatever was guessed for that column or had that meaning.
#include "core/format/table/columns.hpp"

#include "core/base/said.hpp"
#include "core/base/text.hpp"
#include "core/format/json/json_text.hpp"

#include <algorithm>

namespace kp::table {

namespace {
Message columns_error(const std::string& text, const std::string& file = "") {
    return {Severity::stop, Code::arguments, text, file};
}
}  // namespace

Result<Columns> read_columns(std::string_view text, const std::string& file) {
    Columns out;
    const auto j = parse_json(text);
    const auto bad = [&](const std::string& why) {
        return columns_error(
            why + R"( A file of columns is like {"schema": "kitepeg.columns/1", "columns": {"Ball": "FPGA pin"}, )"
                  R"("heading_row": 1, "leave_out": [7]}.)",
            file);
    };
    const auto word = [&](const char* key) {
        return j->contains(key) && j->at(key).is_string() ? j->at(key).get<std::string>() : std::string();
    };
    if (!j || !j->is_object() || word("schema") != "kitepeg.columns/1")
        return bad("This is not a file of columns (kitepeg.columns/1).");
    if (!j->contains("columns") || !j->at("columns").is_object()) return bad("It has no 'columns'.");
    for (const auto& [heading, role] : j->at("columns").items()) {
        if (!role.is_string()) return bad(said("The meaning of column '{}' is not text.", heading));
        out.roles[heading] = role.get<std::string>();
    }
    if (j->contains("heading_row")) {
        if (!j->at("heading_row").is_number_integer()) return bad("'heading_row' is a line, counted from 1, or 0.");
        out.heading_line = j->at("heading_row").get<int>();
    }
    if (j->contains("leave_out") && !j->at("leave_out").is_array()) return bad("'leave_out' lists lines.");
    for (const auto& line : j->value("leave_out", Json::array()))
        if (line.is_number_integer())
            out.leave_out.push_back(line.get<int>());
        else
            return bad("'leave_out' lists lines.");
    if (const auto seen = word("seen_from"); j->contains("seen_from") && seen != "fpga" && seen != "board")
        return bad("'seen_from' is \"fpga\" or \"board\".");
    out.from_fpga = word("seen_from") != "board";
    if (j->contains("comment") && !j->at("comment").is_string()) return bad("'comment' is the mark of rows left out.");
    out.comment = word("comment");
    for (auto [key, into] : {std::pair{"prefix", &out.prefix}, std::pair{"unit", &out.unit}}) {
        if (!j->contains(key)) continue;
        if (!j->at(key).is_object()) return bad(said("'{}' gives a text for a column.", key));
        for (const auto& [heading, text] : j->at(key).items()) {
            if (!text.is_string()) return bad(said("The {} of column '{}' is not text.", key, heading));
            (*into)[heading] = text.get<std::string>();
        }
    }
    return out;
}

Result<Grid> read_table(std::string_view text, const std::string& file, const Columns& columns) {
    auto grid = read_grid(text, file, columns.heading_line);
    if (!grid) return grid.messages();
    for (auto& row : grid.value().rows)
        row.unused |=
            std::find(columns.leave_out.begin(), columns.leave_out.end(), row.line) != columns.leave_out.end();
    return grid;
}

namespace {
/// The column with a heading, or with a number from 1.
Result<size_t> column_called(const Grid& grid, const std::string& heading) {
    for (size_t c = grid.header.size(); c-- > 0;)
        if (lower(grid.header[c]) == lower(heading) || std::to_string(c + 1) == heading) return c;
    return columns_error(said("The table has no column '{}'; it has {}.", heading, list_names(grid.header, 12)));
}

}  // namespace

Status take_columns(const Grid& grid, const Columns& columns, Mapping& mapping) {
    mapping.seen_from_fpga = columns.from_fpga;
    for (const auto& [heading, role] : columns.roles) {
        const auto at = column_called(grid, heading);
        if (!at) return at.messages();
        std::vector<std::string> known;
        int found = -1;
        for (int r = 0; r < role_count; ++r) {
            known.emplace_back(name_of(static_cast<Role>(r)));
            if (role == known.back()) found = r;
        }
        if (found < 0)
            return columns_error(said("'{}' is not a meaning of a column; there are {}.", role, list_names(known, 30)));
        for (auto& other : mapping.columns)
            if (static_cast<int>(other) == found) other = Role::ignored;
        mapping.columns[at.value()] = static_cast<Role>(found);
    }
    mapping.comment = columns.comment;
    for (const auto& [list, member] :
         {std::pair{&columns.prefix, &CellDress::prefix}, std::pair{&columns.unit, &CellDress::unit}})
        for (const auto& [heading, text] : *list) {
            const auto at = column_called(grid, heading);
            if (!at) return at.messages();
            mapping.dress.resize(grid.header.size());
            mapping.dress[at.value()].*member = text;
        }
    return Done{};
}

}  // namespace kp::table
