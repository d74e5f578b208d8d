// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pegs/sheet.hpp"

#include "core/base/text.hpp"
#include "core/format/csv/csv.hpp"

#include <algorithm>
#include <array>
#include <map>
#include <set>

namespace kp {

namespace {

using R = SheetRow;
constexpr std::array<SheetColumn, 17> columns{{{"port", &R::port, false},
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
                                               {"note", &R::note, true}}};

constexpr size_t most_rows = 100000;

/// The attributes of a row and back, by field.
constexpr std::array<std::pair<std::string R::*, std::string PortAttributes::*>, 10> attribute_fields{{{&R::standard, &PortAttributes::standard},
                                                                                                      {&R::standard_origin, &PortAttributes::standard_origin},
                                                                                                      {&R::drive, &PortAttributes::drive},
                                                                                                      {&R::slew, &PortAttributes::slew},
                                                                                                      {&R::pull, &PortAttributes::pull},
                                                                                                      {&R::termination, &PortAttributes::termination},
                                                                                                      {&R::partner, &PortAttributes::partner},
                                                                                                      {&R::pad_register, &PortAttributes::pad_register},
                                                                                                      {&R::pad_delay, &PortAttributes::pad_delay},
                                                                                                      {&R::note, &PortAttributes::note}}};

std::string shown(const std::string& text) { return text.empty() ? "none" : text; }

bool has(const Sheet& sheet, std::string R::*field) {
    return std::any_of(sheet.columns.begin(), sheet.columns.end(), [&](const SheetColumn* c) { return c->field == field; });
}

}  // namespace

std::span<const SheetColumn> sheet_columns() { return columns; }

std::vector<SheetRow> sheet_rows(const std::vector<Port>& ports, const Part& part, const Board& board, const Project& project) {
    std::vector<SheetRow> rows;
    for (const auto& port : ports) {
        SheetRow r;
        r.port = port.name, r.direction = name_of(port.direction), r.state = "adrift";
        if (const auto a = project.attributes.find(port.name); a != project.attributes.end())
            for (const auto& [row, attribute] : attribute_fields) r.*row = a->second.*attribute;
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
    Sheet sheet;
    std::vector<int> lines;
    // A first row with tabs and no comma was copied out of a spreadsheet.
    const auto first = text.substr(0, text.find('\n'));
    const char delimiter = first.find('\t') != std::string_view::npos ? '\t' : first.find(';') != std::string_view::npos && first.find(',') == std::string_view::npos ? ';' : ',';
    const auto rows = read_csv(text, delimiter, &lines);
    if (rows.empty()) return Message{Severity::stop, "sheet", "The sheet is empty.", file, 0, 0};
    if (rows.size() > most_rows) return Message{Severity::stop, "sheet", "A sheet of more than 100,000 rows is not read.", file, 0, 0};
    std::vector<Message> errors, notes;
    for (const auto& word : rows[0]) {
        const auto name = lower(trim(word));
        const auto at = std::find_if(columns.begin(), columns.end(), [&](const SheetColumn& c) { return name == c.name; });
        sheet.columns.push_back(at == columns.end() ? nullptr : &*at);
        if (at == columns.end()) notes.push_back({Severity::note, "sheet", "The column '" + std::string(trim(word)) + "' is not one of a pin sheet and is left.", file, 1, 0});
    }
    const auto port = std::find_if(sheet.columns.begin(), sheet.columns.end(), [](const SheetColumn* c) { return c && c->field == &R::port; });
    if (port == sheet.columns.end()) return Message{Severity::stop, "sheet", "The first row has no column 'port'; a pin sheet has at least 'port' and 'pin'.", file, 1, 0};
    std::set<std::string> seen;
    for (size_t i = 1; i < rows.size(); ++i) {
        if (std::all_of(rows[i].begin(), rows[i].end(), [](const std::string& c) { return trim(c).empty(); })) continue;
        SheetRow r;
        for (size_t c = 0; c < rows[i].size() && c < sheet.columns.size(); ++c)
            if (sheet.columns[c]) r.*(sheet.columns[c]->field) = sheet.columns[c]->field == &R::note ? rows[i][c] : std::string(trim(rows[i][c]));
        if (!seen.insert(r.port).second) errors.push_back({Severity::stop, "sheet", "The port '" + r.port + "' is there twice.", file, lines[i], 0});
        sheet.rows.push_back(std::move(r));
        sheet.lines.push_back(lines[i]);
    }
    std::erase(sheet.columns, nullptr);
    if (!errors.empty()) return errors;
    return Result<Sheet>(std::move(sheet), std::move(notes));
}

SheetImport import_sheet(const Project& project, const std::vector<Port>& ports, const Part& part, const Sheet& sheet) {
    SheetImport out;
    out.edit.title = "take a pin sheet";
    std::vector<std::string> names;
    std::set<std::string> known;
    for (const auto& p : ports) names.push_back(p.name), known.insert(p.name);
    std::map<std::string, std::string> taken;  // pin → port, as it would be
    for (const auto& [port, peg] : project.pegs) taken[peg.pin] = port;
    std::vector<Change> leave, arrive, attributes;
    for (size_t i = 0; i < sheet.rows.size(); ++i) {
        const auto& r = sheet.rows[i];
        const auto refuse = [&](const std::string& text) { out.troubles.push_back({Severity::stop, "sheet", text, "", sheet.lines[i], 0}); };
        if (!known.contains(r.port)) {
            refuse("The design has no port '" + r.port + "'." + did_you_mean(r.port, names));
            continue;
        }
        const auto at = project.pegs.find(r.port);
        const std::optional<Peg> before = at == project.pegs.end() ? std::nullopt : std::optional(at->second);
        std::optional<Peg> after = before;
        if (has(sheet, &R::pin)) {
            const auto* pin = part.pin(r.pin);
            if (r.pin.empty()) after.reset();
            else if (!part.pins.empty() && !pin) {
                refuse("The part has no pin '" + r.pin + "' for port " + r.port + ".");
                continue;
            } else {
                const bool same = before && before->pin == r.pin;
                after = Peg{r.pin, same ? before->state : PegState::pegged, same ? before->origin : "from a sheet"};
            }
        }
        if (after && has(sheet, &R::state) && !r.state.empty() && r.state != "adrift") after->state = r.state == "loose" ? PegState::loose : PegState::pegged;
        if (after && has(sheet, &R::origin) && !r.origin.empty()) after->origin = r.origin;
        if (before != after) {
            if (before) leave.push_back(PegChange{r.port, before, std::nullopt}), taken.erase(before->pin);
            if (after) arrive.push_back(PegChange{r.port, std::nullopt, after});
            out.differences.push_back(r.port + ": " + (before ? before->pin : "adrift") + " → " + (after ? after->pin + (before && before->pin == after->pin ? " (" + after->origin + ")" : "") : "adrift"));
        }
        const auto now = project.attributes.find(r.port);
        const PortAttributes old = now == project.attributes.end() ? PortAttributes{} : now->second;
        PortAttributes next = old;
        for (const auto& [row, attribute] : attribute_fields)
            if (has(sheet, row)) next.*attribute = r.*row;
        if (next.standard != old.standard && !has(sheet, &R::standard_origin)) next.standard_origin = next.standard.empty() ? "" : "chosen";
        if (next == old) continue;
        attributes.push_back(AttributeChange{r.port, old, next});
        for (const auto& [row, attribute] : attribute_fields)
            if (next.*attribute != old.*attribute)
                for (const auto& c : columns)
                    if (c.field == row) out.differences.push_back(r.port + ": " + c.name + " " + shown(old.*attribute) + " → " + shown(next.*attribute));
    }
    // Two ports on one pin of the sheet: neither is taken, both are told.
    std::map<std::string, std::vector<std::string>> on;
    for (const auto& change : arrive) on[std::get<PegChange>(change).after->pin].push_back(std::get<PegChange>(change).port);
    for (const auto& [pin, list] : on) {
        const auto stays = taken.find(pin);
        if (list.size() > 1) out.troubles.push_back({Severity::stop, "sheet", "Pin " + pin + " is given to " + list_names(list) + ".", "", 0, 0});
        else if (stays != taken.end() && stays->second != list[0]) out.troubles.push_back({Severity::stop, "sheet", "Pin " + pin + " is given to " + list[0] + " and belongs to " + stays->second + ", which the sheet does not move.", "", 0, 0});
    }
    for (auto* part_of : {&leave, &arrive, &attributes}) out.edit.changes.insert(out.edit.changes.end(), part_of->begin(), part_of->end());
    return out;
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
            if ((c.settable || c.field == &R::direction) && at->second->*c.field != r.*c.field) out.push_back({r.port, c.name, at->second->*c.field, r.*c.field});
    }
    for (const auto& r : before)
        if (!seen.contains(r.port)) out.push_back({r.port, "port", r.port, ""});
    return out;
}

}  // namespace kp
