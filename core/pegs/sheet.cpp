// SPDX-License-Identifier: GPL-3.0-or-later
// The pin sheet: columns by heading, in any order, more than ours passed over. Written as RFC 4180.
#include "core/pegs/sheet.hpp"

#include "core/base/bytes.hpp"
#include "core/base/text.hpp"
#include "core/format/csv/csv.hpp"

#include <algorithm>
#include <array>
#include <map>
#include <set>

namespace kp {

namespace {

using R = SheetRow;
constexpr std::array<SheetColumn, 21> columns{{{"port", &R::port, false},
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
                                               {"tie", &R::tie, true}}};

constexpr size_t most_rows = 100000;

/// The attributes of a row and back, by field.
constexpr std::array<std::pair<std::string R::*, std::string PortAttributes::*>, 14> row_fields{
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
     {&R::tie, &PortAttributes::tie}}};

std::string shown(const std::string& text) {
    return text.empty() ? "none" : text;
}

/// Whether a cell asks to have its field cleared.
bool clears(const std::string& cell) {
    return cell == sheet_clear;
}

bool has(const Sheet& sheet, std::string R::*field) {
    return std::any_of(sheet.columns.begin(), sheet.columns.end(),
                       [&](const SheetColumn* c) { return c->field == field; });
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
    if (rows.empty()) return Message{Severity::stop, "sheet", "The sheet is empty.", file, 0, 0};
    if (rows.size() > most_rows)
        return Message{Severity::stop, "sheet", "A sheet of more than 100,000 rows is not read.", file, 0, 0};
    std::vector<Message> errors, notes;
    for (const auto& word : rows[0]) {
        const auto name = lower(trim(word));
        const auto at =
            std::find_if(columns.begin(), columns.end(), [&](const SheetColumn& c) { return name == c.name; });
        sheet.columns.push_back(at == columns.end() ? nullptr : &*at);
        if (at == columns.end())
            notes.push_back({Severity::note, "sheet",
                             "The column '" + std::string(trim(word)) + "' is not one of a pin sheet and is left.",
                             file, 1, 0});
    }
    const auto port = std::find_if(sheet.columns.begin(), sheet.columns.end(),
                                   [](const SheetColumn* c) { return c && c->field == &R::port; });
    if (port == sheet.columns.end())
        return Message{
            Severity::stop, "sheet", "The first row has no column 'port'; a pin sheet has at least 'port' and 'pin'.",
            file,           1,       0};
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
            errors.push_back({Severity::stop, "sheet", "The port '" + r.port + "' is there twice.", file, lines[i], 0});
        sheet.rows.push_back(std::move(r));
        sheet.lines.push_back(lines[i]);
    }
    std::erase(sheet.columns, nullptr);
    if (!errors.empty()) return errors;
    return Result<Sheet>(std::move(sheet), std::move(notes));
}

namespace {

class Importer {
public:
    Importer(const Project& project, const std::vector<Port>& ports, const Part& part, const Sheet& sheet)
        : project_(project), part_(part), sheet_(sheet) {
        for (const auto& p : ports) {
            names_.push_back(p.name);
            known_.insert(p.name);
        }
        for (const auto& [port, peg] : project.pegs) stays_[peg.pin] = port;
    }

    SheetImport run() {
        out_.edit.title = "take a pin sheet";
        for (size_t i = 0; i < sheet_.rows.size(); ++i) {
            const auto& r = sheet_.rows[i];
            if (!known_.contains(r.port))
                refuse(i, "The design has no port '" + r.port + "'." + did_you_mean(r.port, names_));
            else if (has(sheet_, &R::pin) && !r.pin.empty() && !clears(r.pin) && !part_.pins.empty() &&
                     !part_.pin(r.pin))
                refuse(i, "The part has no pin '" + r.pin + "' for port " + r.port + ".");
            else {
                peg(r);
                attributes(r);
            }
        }
        crowded();
        // All leave before any comes: pins may change hands.
        for (auto* some : {&leave_, &arrive_, &attributes_})
            out_.edit.changes.insert(out_.edit.changes.end(), some->begin(), some->end());
        return std::move(out_);
    }

private:
    void refuse(size_t row, const std::string& text) {
        out_.troubles.push_back({Severity::stop, "sheet", text, "", sheet_.lines[row], 0});
    }

    void peg(const SheetRow& r) {
        const auto at = project_.pegs.find(r.port);
        const std::optional<Peg> before = at == project_.pegs.end() ? std::nullopt : std::optional(at->second);
        std::optional<Peg> after = before;
        if (has(sheet_, &R::pin)) {
            if (clears(r.pin))
                after.reset();
            else if (!r.pin.empty() && (!before || before->pin != r.pin))
                after = Peg{r.pin, PegState::pegged, "from a sheet"};
        }
        if (after && has(sheet_, &R::state) && !r.state.empty() && !clears(r.state) && r.state != "adrift")
            after->state = r.state == "loose" ? PegState::loose : PegState::pegged;
        if (after && has(sheet_, &R::origin) && !r.origin.empty() && !clears(r.origin)) after->origin = r.origin;
        if (before == after) return;
        if (before) {
            leave_.push_back(PegChange{r.port, before, std::nullopt});
            stays_.erase(before->pin);
        }
        if (after) arrive_.push_back(PegChange{r.port, std::nullopt, after});
        const bool same_pin = before && after && before->pin == after->pin;
        out_.differences.push_back(r.port + ": " + (before ? before->pin : "adrift") + " → " +
                                   (after ? after->pin : "adrift") + (same_pin ? " (" + after->origin + ")" : ""));
    }

    void attributes(const SheetRow& r) {
        const auto now = project_.attributes.find(r.port);
        const PortAttributes old = now == project_.attributes.end() ? PortAttributes{} : now->second;
        PortAttributes next = old;
        for (const auto& [row, attribute] : row_fields)
            if (has(sheet_, row)) take_cell(next.*attribute, r.*row);
        if (next.standard != old.standard && !has(sheet_, &R::standard_origin))
            next.standard_origin = next.standard.empty() ? "" : "chosen";
        if (next == old) return;
        attributes_.push_back(AttributeChange{r.port, old, next});
        for (const auto& c : columns)
            for (const auto& [row, attribute] : row_fields)
                if (row == c.field && next.*attribute != old.*attribute)
                    out_.differences.push_back(r.port + ": " + c.name + " " + shown(old.*attribute) + " → " +
                                               shown(next.*attribute));
    }

    /// Two ports on one pin, both of the sheet or one of them left where it is.
    void crowded() {
        std::map<std::string, std::vector<std::string>> on;
        for (const auto& change : arrive_)
            on[std::get<PegChange>(change).after->pin].push_back(std::get<PegChange>(change).port);
        for (const auto& [pin, list] : on) {
            const auto stays = stays_.find(pin);
            if (list.size() > 1)
                out_.troubles.push_back(
                    {Severity::stop, "sheet", "Pin " + pin + " is given to " + list_names(list) + ".", "", 0, 0});
            else if (stays != stays_.end())
                out_.troubles.push_back({Severity::stop, "sheet",
                                         "Pin " + pin + " is given to " + list[0] + " and belongs to " + stays->second +
                                             ", which the sheet does not move.",
                                         "", 0, 0});
        }
    }

    const Project& project_;
    const Part& part_;
    const Sheet& sheet_;
    std::vector<std::string> names_;
    std::set<std::string> known_;
    std::map<std::string, std::string> stays_;  ///< pin → port that the sheet has not moved
    std::vector<Change> leave_, arrive_, attributes_;
    SheetImport out_;
};

}  // namespace

SheetImport import_sheet(const Project& project, const std::vector<Port>& ports, const Part& part, const Sheet& sheet) {
    return Importer(project, ports, part, sheet).run();
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

}  // namespace kp
