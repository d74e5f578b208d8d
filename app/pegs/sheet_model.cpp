// SPDX-License-Identifier: GPL-3.0-or-later
// A cell asks core/planning what it holds and what is legal; writing gathers all cells into one edit and says what
// was refused. No state but the order of rows.
#include "app/pegs/sheet_model.hpp"

#include "app/pegs/peg_asking.hpp"
#include "app/pegs/plan_view.hpp"
#include "app/theme/text.hpp"
#include "app/theme/theme.hpp"
#include "core/planning/attributes.hpp"
#include "core/planning/proposals.hpp"
#include "core/planning/ways.hpp"

#include <algorithm>

namespace kp::app {

namespace {

struct Column {
    const char *field, *title;
};
constexpr Column columns[] = {{"port", "port"},
                              {"direction", "direction"},
                              {"pin", "pin"},
                              {"bank", "bank"},
                              {"terminal", "on the board"},
                              {"standard", "I/O standard"},
                              {"drive", "drive mA"},
                              {"slew", "slew"},
                              {"pull", "pull"},
                              {"state", "state"},
                              {"obtained", "obtained"},
                              {"note", "note"},
                              {"origin", "peg from"},
                              {"standard_origin", "standard from"},
                              {"termination", "term. Ω"},
                              {"partner", "partner"},
                              {"pad_register", "pad register"},
                              {"pad_delay", "pad delay"}};
constexpr int column_count = static_cast<int>(std::size(columns));

std::string SheetRow::*member_of(const std::string& field) {
    for (const auto& c : sheet_columns())
        if (field == c.name) return c.field;
    return nullptr;
}

}  // namespace

void SheetModel::refresh() {
    const auto& s = desk_.session();
    auto rows = sheet_rows(s.world().netlist.ports, s.world().part, s.world().board, s.project());
    const bool same_ports = rows.size() == rows_.size() &&
                            std::equal(rows.begin(), rows.end(), rows_.begin(),
                                       [](const SheetRow& a, const SheetRow& b) { return a.port == b.port; });
    if (!same_ports) beginResetModel();
    rows_ = std::move(rows);
    obtained_.assign(rows_.size(), {});
    severity_.assign(rows_.size(), 3);
    row_of_.clear();
    for (size_t i = 0; i < rows_.size(); ++i) row_of_[rows_[i].port] = static_cast<int>(i);
    for (const auto& r : s.world().obtained)
        if (const auto at = row_of_.find(r.port); at != row_of_.end())
            obtained_[static_cast<size_t>(at->second)] = r.pin;
    const PlanView plan(s);
    for (size_t i = 0; i < rows_.size() && i < plan.ports.size(); ++i) severity_[i] = plan.ports[i].severity;
    if (!same_ports)
        endResetModel();
    else if (!rows_.empty())
        emit dataChanged(index(0, 0), index(rowCount() - 1, column_count - 1));
}

int SheetModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(rows_.size());
}
int SheetModel::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : column_count;
}
std::string SheetModel::field(int column) const {
    return columns[column].field;
}

int SheetModel::column_of(const std::string& field) const {
    for (int i = 0; i < column_count; ++i)
        if (field == columns[i].field) return i;
    return -1;
}

int SheetModel::row_of(const std::string& port) const {
    const auto at = row_of_.find(port);
    return at == row_of_.end() ? -1 : at->second;
}

QVariant SheetModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid()) return {};
    const auto row = static_cast<size_t>(index.row());
    const std::string name = field(index.column());
    const auto& r = rows_[row];
    if (role == Qt::DisplayRole || role == Qt::EditRole) {
        if (name == "obtained") return q(obtained_[row]);
        const auto value = q(r.*member_of(name));
        if (role == Qt::DisplayRole && value.isEmpty() && (name == "standard" || name == "pin"))
            return name == "pin" ? tr("adrift") : r.pin.empty() ? QString() : tr("missing");
        return value;
    }
    const auto& t = theme();
    if (role == Qt::ForegroundRole) {
        if ((name == "standard" && r.standard.empty()) || (name == "pin" && r.pin.empty())) return t.stop;
        if (name == "obtained" && !obtained_[row].empty() && obtained_[row] != r.pin) return t.caution;
        if (name == "port" && severity_[row] < 2) return severity_[row] == 0 ? t.stop : t.caution;
        if (!(flags(index) & Qt::ItemIsEditable) && name != "port") return t.second;
    }
    if (role == Qt::FontRole &&
        (name == "port" || name == "pin" || name == "obtained" || name == "terminal" || name == "partner"))
        return mono(12);
    if (role == Qt::ToolTipRole) {
        if (const auto* kind = attribute_kind(name)) {
            const auto state = attribute_state(desk_.session().plan().attributes(), r.port, *kind);
            return QString::fromUtf8(kind->meaning) + QStringLiteral("\n") + q(word_of(state.origin)) +
                   (state.remark.empty() ? QString() : QStringLiteral(". ") + q(state.remark));
        }
        if (name == "obtained" && !obtained_[row].empty() && obtained_[row] != r.pin)
            return tr("The build put it on %1; requested is %2.")
                .arg(q(obtained_[row]), r.pin.empty() ? tr("nothing") : q(r.pin));
        if (name == "port") return q(r.port);
    }
    return {};
}

QVariant SheetModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (role != Qt::DisplayRole || section < 0) return {};
    if (orientation == Qt::Horizontal && section >= columnCount()) return {};
    return orientation == Qt::Horizontal ? tr(columns[section].title) : QVariant(section + 1);
}

Qt::ItemFlags SheetModel::flags(const QModelIndex& index) const {
    if (!index.isValid()) return {};
    const auto name = field(index.column());
    auto f = Qt::ItemIsEnabled | Qt::ItemIsSelectable;
    if (name == "pin" || (name == "state" && !rows_[static_cast<size_t>(index.row())].pin.empty()) ||
        attribute_kind(name))
        f |= Qt::ItemIsEditable;
    return f;
}

std::vector<std::string> SheetModel::legal(const QModelIndex& index) const {
    const auto name = field(index.column());
    if (name == "state") return {"pegged", "loose"};
    const auto* kind = attribute_kind(name);
    if (!kind || kind->free_text) return {};
    auto out = attribute_state(desk_.session().plan().attributes(), port(index.row()), *kind).legal;
    out.insert(out.begin(), "");
    return out;
}

bool SheetModel::setData(const QModelIndex& index, const QVariant& value, int role) {
    if (role != Qt::EditRole) return false;
    const auto text = value.toString().trimmed().toStdString();
    if (data(index, Qt::EditRole).toString().toStdString() == text) return false;
    if (field(index.column()) == "pin" && ask_for_held(port(index.row()), text)) return false;
    return write({{index.row(), index.column(), text}}, "");
}

bool SheetModel::ask_for_held(const std::string& port, const std::string& place) {
    if (place.empty() || place == "adrift") return false;
    const auto& s = desk_.session();
    const auto pin = find_place(place, s.world().part, s.world().board);
    if (!pin) return false;
    const auto& pegs = s.project().pegs;
    const bool held = std::any_of(pegs.begin(), pegs.end(),
                                  [&](const auto& peg) { return peg.first != port && peg.second.pin == pin.value(); });
    if (held) peg_asking(desk_, {port}, {pin.value()});
    return held;
}

bool SheetModel::write(const std::vector<Cell>& cells, const std::string& title) {
    const auto& s = desk_.session();
    std::vector<Proposal> pegs;
    std::map<std::string, std::vector<std::string>> by_attribute;  // "key=value" → ports, so that each is judged once
    Project next = s.project();
    Edit edit{title, {}};
    const auto refuse = [&](const std::string& why) {
        desk_.say(q(why), true);
        return false;
    };
    for (const auto& cell : cells) {
        const auto name = field(cell.column);
        if (!(flags(index(cell.row, cell.column)) & Qt::ItemIsEditable))
            return refuse("The column '" + std::string(columns[cell.column].title) +
                          "' follows from part, board and design; it cannot be written.");
        if (name == "pin") {
            std::string pin;
            if (!cell.text.empty() && cell.text != "adrift") {
                auto found = find_place(cell.text, s.world().part, s.world().board);
                if (!found) return refuse(port(cell.row) + ": " + found.first().text);
                pin = found.take();
            }
            pegs.push_back({port(cell.row), "pin", "", pin, "by hand", "", -1, ""});
        } else if (name == "state") {
            if (cell.text != "pegged" && cell.text != "loose") return refuse("A peg is 'pegged' or 'loose'.");
            pegs.push_back({port(cell.row), "state", "", cell.text, "", "", -1, ""});
        } else {
            by_attribute[name + "=" + cell.text].push_back(port(cell.row));
        }
    }
    const auto add = [&](const Edit& one) {
        if (one.empty() || !kp::apply(next, one)) return;
        if (edit.title.empty()) edit.title = one.title;
        edit.changes.insert(edit.changes.end(), one.changes.begin(), one.changes.end());
    };
    if (!pegs.empty())
        add(take_proposals(next, s.world().board, pegs,
                           title.empty() ? (pegs[0].field == "state" ? "make " + pegs[0].port + " " + pegs[0].then
                                            : pegs[0].then.empty()   ? "set " + pegs[0].port + " adrift"
                                                                     : "peg " + pegs[0].port + " to " + pegs[0].then)
                                         : title));
    for (const auto& [what, ports] : by_attribute) {
        const auto equals = what.find('=');
        const auto one =
            attribute_edit({s.world().part, s.world().board, s.world().standards, s.world().netlist.ports, next}, ports,
                           *attribute_kind(what.substr(0, equals)), what.substr(equals + 1));
        if (!one) return refuse(one.first().text);
        add(one.value());
    }
    return edit.empty() || desk_.apply(edit);
}

}  // namespace kp::app
