// SPDX-License-Identifier: GPL-3.0-or-later
// The Sheet: the plan as a spreadsheet. Type, choose, paste, fill down, sort, filter; what is selected gets what is
// typed.
#pragma once

#include "app/pegs/sheet_model.hpp"

#include <QSortFilterProxyModel>
#include <QTableView>

namespace kp::app {

/// Sorts names as people count (a2 before a10) and keeps the rows in which every typed word is found.
class SheetFilter : public QSortFilterProxyModel {
    Q_OBJECT
public:
    using QSortFilterProxyModel::QSortFilterProxyModel;
    void set_words(const QString& words);

protected:
    [[nodiscard]] bool lessThan(const QModelIndex& a, const QModelIndex& b) const override;
    [[nodiscard]] bool filterAcceptsRow(int row, const QModelIndex& parent) const override;

private:
    QStringList words_;
};

class SheetView : public QTableView {
    Q_OBJECT
public:
    explicit SheetView(Desk& desk);
    void refresh(const QString& filter);
    [[nodiscard]] SheetModel& sheet() { return model_; }
    void show_all_columns(bool all);
    /// The topmost of the selected cells into those below it, column by column; one edit.
    void fill_down();
    void copy();
    /// Rows and columns of the clipboard from the current cell on; one value goes into every selected cell. One edit.
    void paste();
    void clear_cells();

protected:
    void paintEvent(QPaintEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void selectionChanged(const QItemSelection& selected, const QItemSelection& deselected) override;

private:
    void follow_selection();
    [[nodiscard]] QModelIndexList chosen() const;
    Desk& desk_;
    SheetModel model_;
    SheetFilter filter_;
    bool following_ = false;
};

}  // namespace kp::app
