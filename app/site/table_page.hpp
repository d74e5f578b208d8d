// SPDX-License-Identifier: GPL-3.0-or-later
// A board out of a table that was pasted or opened: say what the columns are, see what is wrong per cell, make it.
#pragma once

#include "app/shell/desk.hpp"
#include "core/format/table/board_table.hpp"

#include <QWidget>
#include <optional>

class QCheckBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;
class QTableWidget;

namespace kp::app {

class TablePage : public QWidget {
    Q_OBJECT
public:
    explicit TablePage(Desk& desk);
    void begin();
    /// Shows a table; a mapping that was used for the same headings before is taken.
    void show_text(const QString& text, const QString& file);
    [[nodiscard]] const std::optional<table::BoardDraft>& draft() const { return draft_; }

signals:
    void done();

private:
    void paste();
    void open();
    void fill();
    void draft_again();
    void make();
    void role_chosen(int column, int role);

    Desk& desk_;
    std::optional<table::Grid> grid_;
    table::Mapping mapping_;
    std::optional<table::BoardDraft> draft_;
    QTableWidget* cells_;
    QListWidget* troubles_;
    QLineEdit* name_;
    QCheckBox* from_fpga_;
    QLabel* count_;
    QPushButton* make_;
    bool filling_ = false;
};

}  // namespace kp::app
