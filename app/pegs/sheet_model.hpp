// SPDX-License-Identifier: GPL-3.0-or-later
// The plan as a table: what a cell shows and what typing into it does. Every change goes through the desk as one edit.
#pragma once

#include "app/shell/desk.hpp"
#include "core/planning/sheet.hpp"

#include <QAbstractTableModel>
#include <map>
#include <vector>

namespace kp::app {

class SheetModel : public QAbstractTableModel {
    Q_OBJECT
public:
    explicit SheetModel(Desk& desk) : desk_(desk) {}
    void refresh();
    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] int columnCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
    [[nodiscard]] QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    [[nodiscard]] Qt::ItemFlags flags(const QModelIndex& index) const override;
    bool setData(const QModelIndex& index, const QVariant& value, int role) override;

    /// The field a column shows, such as "pin"; "obtained" and "finding" belong to the view alone.
    [[nodiscard]] std::string field(int column) const;
    [[nodiscard]] int column_of(const std::string& field) const;
    [[nodiscard]] std::string port(int row) const { return rows_[static_cast<size_t>(row)].port; }
    [[nodiscard]] int row_of(const std::string& port) const;
    [[nodiscard]] const SheetRow& row(int at) const { return rows_[static_cast<size_t>(at)]; }
    /// What can be written into a cell; empty where any text can.
    [[nodiscard]] std::vector<std::string> legal(const QModelIndex& index) const;

    struct Cell {
        int row, column;
        std::string text;
    };
    /// Writes cells as one edit. A cell that cannot take its text refuses all of them, with the reason.
    bool write(const std::vector<Cell>& cells, const std::string& title);

private:
    /// Whether another port holds the place that was typed; then the window asks who shall have it, and nothing was
    /// written.
    bool ask_for_held(const std::string& port, const std::string& place);

    Desk& desk_;
    std::vector<SheetRow> rows_;
    std::vector<std::string> obtained_;
    std::vector<int> severity_;
    std::map<std::string, int> row_of_;
};

}  // namespace kp::app
