// SPDX-License-Identifier: GPL-3.0-or-later
// The pin sheet: columns by heading, in any order, more than ours passed over. Written as RFC 4180.
#include "core/planning/sheet.hpp"

#include "core/base/bytes.hpp"
#include "core/base/text.hpp"
#include "core/format/csv/csv.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <array>
#include <map>
#include <set>

namespace kp {

namespace {

using R = SheetRow;
constexpr std::array<SheetColumn, 23> columns{{{"port", &R::port, false},
                                               {"direction", &R::direction, false},
                                               {"pin", &R::pin, true},
                                               {"bank", &R::bank, false},
                                               {"standard", &R::standard, true},
                                               {"standard_origin", &R::standard_origin, true},
                                               {"terminal", &R::terminal, false},
                                               {"state", &R::state, true},
                                               {"origin", &R::origin, true},
                                               {"drive", &R::drive, true},
                                               {"slew", &R::slew, true},
                                               {"pull", &R::pull, true},
                                               {"termination", &R::termination, true},
                                               {"partner", &R::partner, true},
                                               {"pad_register", &R::pad_register, true},
                                               {"pad_delay", &R::pad_delay, true},
                                               {"note", &R::note, true},
                                               {"role", &R::role, true},
                                               {"sense", &R::sense, true},
                                               {"open", &R::open, true},
                                               {"tie", &R::tie, true},
                                               {"invert", &R::invert, true},
                                               {"meant", &R::meant, true}}};

constexpr size_t most_rows = 100000;

/// The attributes of a row and back, by field.
constexpr std::array<std::pair<std::string R::*, std::string PortAttributes::*>, 16> row_fields{
    {{&R::standard, &PortAttributes::standard},
     {&R::standard_origin, &PortAttributes::standard_origin},
     {&R::drive, &PortAttributes::drive},
     {&R::slew, &PortAttributes::slew},
     {&R::pull, &PortAttributes::pull},
     {&R::termination, &PortAttributes::termination},
     {&R::partner, &PortAttributes::partner},
     {&R::pad_register, &PortAttributes::pad_register},
     {&R::pad_delay, &PortAttributes::pad_delay},
     {&R::note, &PortAttributes::note},
     {&R::role, &PortAttributes::role},
     {&R::sense, &PortAttributes::sense},
     {&R::open, &PortAttributes::open},
     {&R::tie, &PortAttributes::tie},
     {&R::invert, &PortAttributes::invert},
     {&R::meant, &PortAttributes::meant}}};

/// Whether a cell asks to have its field cleared.
bool clears(const std::string& cell) {
    return cell == sheet_clear;
}

}  // namespace

std::span<const SheetColumn> sheet_columns() {
    return columns;
}

void take_cell(std::string& field, const std::string& cell) {
    if (!cell.empty()) field = clears(cell) ? "" : cell;
}

PortAttributes with_sheet_field(PortAttributes attributes, const std::string& column, const std::string& value) {
    for (const auto& c : columns)
        for (const auto& [row, attribute] : row_fields)
            if (column == c.name && c.field == row) attributes.*attribute = value;
    if (column == "standard") attributes.standard_origin = value.empty() ? "" : "chosen";
    return attributes;
}

std::vector<SheetRow> sheet_rows(const std::vector<Port>& ports, const Part& part, const Board& board,
                                 const Project& project) {
    std::vector<SheetRow> rows;
    for (const auto& port : ports) {
        SheetRow r;
        r.port = port.name;
        r.direction = name_of(port.direction);
        r.state = "adrift";
        if (const auto a = project.attributes.find(port.name); a != project.attributes.end())
            for (const auto& [row, attribute] : row_fields) r.*row = a->second.*attribute;
        if (const auto p = project.pegs.find(port.name); p != project.pegs.end()) {
            r.pin = p->second.pin;
            r.state = p->second.state == PegState::loose ? "loose" : "pegged";
            r.origin = p->second.origin;
            if (const auto* pin = part.pin(r.pin)) r.bank = pin->bank;
            if (const auto at = board.at_pin(r.pin)) r.terminal = at.net->terminal;
        }
        rows.push_back(std::move(r));
    }
    return rows;
}

std::string write_sheet(const std::vector<SheetRow>& rows) {
    std::vector<std::string> fields;
    for (const auto& c : columns) fields.emplace_back(c.name);
    std::string out = csv_row(fields);
    for (const auto& r : rows) {
        fields.clear();
        for (const auto& c : columns) fields.push_back(r.*c.field);
        out += csv_row(fields);
    }
    return out;
}

Result<Sheet> read_sheet(std::string_view text, const std::string& file) {
    if (text.starts_with("\xEF\xBB\xBF")) text.remove_prefix(3);
    int remarks = 0;
    text = without_mark(text);
    for (; text.starts_with('#') && text.find('\n') != std::string_view::npos; ++remarks)
        text.remove_prefix(text.find('\n') + 1);
    Sheet sheet;
    std::vector<int> lines;
    // A first row with tabs and no comma was copied out of a spreadsheet.
    const auto first = text.substr(0, text.find('\n'));
    const char delimiter = first.find('\t') != std::string_view::npos ? '\t'
                           : first.find(';') != std::string_view::npos && first.find(',') == std::string_view::npos
                               ? ';'
                               : ',';
    const auto rows = read_csv(text, delimiter, &lines);
    for (auto& line : lines) line += remarks;
    if (rows.empty()) return Message{Severity::stop, Code::sheet, "The sheet is empty.", file};
    if (rows.size() > most_rows)
        return Message{Severity::stop, Code::sheet, "A sheet of more than 100,000 rows is not read.", file};
    std::vector<Message> errors, notes;
    for (const auto& word : rows[0]) {
        const auto name = lower(trim(word));
        const auto at =
            std::find_if(columns.begin(), columns.end(), [&](const SheetColumn& c) { return name == c.name; });
        sheet.columns.push_back(at == columns.end() ? nullptr : &*at);
        if (at == columns.end())
            notes.push_back({Severity::note, Code::sheet,
                             said("The column '{}' is not one of a pin sheet and is left.", trim(word)), file, 1});
    }
    const auto port = std::find_if(sheet.columns.begin(), sheet.columns.end(),
                                   [](const SheetColumn* c) { return c && c->field == &R::port; });
    if (port == sheet.columns.end())
        return Message{Severity::stop, Code::sheet,
                       "The first row has no column 'port'; a pin sheet has at least 'port' and 'pin'.", file, 1};
    std::set<std::string> seen;
    for (size_t i = 1; i < rows.size(); ++i) {
        if (std::all_of(rows[i].begin(), rows[i].end(), [](const std::string& c) { return trim(c).empty(); })) continue;
        SheetRow r;
        for (size_t c = 0; c < rows[i].size() && c < sheet.columns.size(); ++c)
            if (sheet.columns[c])
                r.*(sheet.columns[c]->field) =
                    sheet.columns[c]->field == &R::note ? rows[i][c] : std::string(trim(rows[i][c]));
        if (r.port.empty()) continue;  // a free pin, or a remark of somebody's
        if (!seen.insert(r.port).second && errors.size() < 100)
            errors.push_back(
                {Severity::stop, Code::sheet, said("The port '{}' is there twice.", r.port), file, lines[i]});
        sheet.rows.push_back(std::move(r));
        sheet.lines.push_back(lines[i]);
    }
    std::erase(sheet.columns, nullptr);
    if (!errors.empty()) return errors;
    return Result<Sheet>(std::move(sheet), std::move(notes));
}

std::vector<SheetDifference> compare_sheets(const std::vector<SheetRow>& before, const std::vector<SheetRow>& after) {
    std::vector<SheetDifference> out;
    std::map<std::string, const SheetRow*> old;
    for (const auto& r : before) old[r.port] = &r;
    std::set<std::string> seen;
    for (const auto& r : after) {
        seen.insert(r.port);
        const auto at = old.find(r.port);
        if (at == old.end()) {
            out.push_back({r.port, "port", "", r.port});
            continue;
        }
        for (const auto& c : columns)
            if ((c.settable || c.field == &R::direction) && at->second->*c.field != r.*c.field)
                out.push_back({r.port, c.name, at->second->*c.field, r.*c.field});
    }
    for (const auto& r : before)
        if (!seen.contains(r.port)) out.push_back({r.port, "port", r.port, ""});
    return out;
}

std::vector<SheetDifference> compare_with_sheet(const Sheet& before, const std::vector<SheetRow>& now) {
    std::map<std::string, const SheetRow*> at;
    for (const auto& r : now) at[r.port] = &r;
    std::vector<SheetRow> then, here;
    for (const auto& row : before.rows) {
        const auto found = at.find(row.port);
        if (found == at.end()) {
            then.push_back(row);
            continue;
        }
        auto full = *found->second;
        for (const auto* c : before.columns)
            if (c->settable || c->field == &R::direction) take_cell(full.*(c->field), row.*(c->field));
        then.push_back(std::move(full));
        here.push_back(*found->second);
    }
    return compare_sheets(then, here);
}

}  // namespace kp
