// SPDX-License-Identifier: GPL-3.0-or-later
// A board, or the pins of a part, out of a table that was pasted or opened: say what the columns are, see what is wrong
// per cell, make it.
#pragma once

#include "app/shell/desk.hpp"
#include "core/format/table/board_table.hpp"

#include <QWidget>
#include <optional>

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;
class QTableWidget;
class QTableWidgetItem;

class QLayout;

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
    QLayout* make_row_bar();
    QLayout* make_foot();
    /// Prefix and unit of the column chosen, and the mark of rows left out.
    QLayout* make_dress_bar();
    void show_dress();
    void dress_typed();
    void connect_all();
    void paste();
    void open();
    void fill();
    void draft_again();
    void make();
    void read_again(std::optional<int> heading_line);
    /// The rows chosen are known and not used, or used again.
    void skip_rows();
    void cell_changed(QTableWidgetItem* item);
    void show_troubles(const std::vector<table::CellTrouble>& troubles);
    [[nodiscard]] bool makes_part() const;
    void guess();
    void role_chosen(int column, int role);

    Desk& desk_;
    std::optional<table::Grid> grid_;
    std::string text_, file_;  ///< as it came
    table::Mapping mapping_;
    std::optional<table::BoardDraft> draft_;
    std::optional<table::PartDraft> pins_;
    QTableWidget* cells_;
    QListWidget* troubles_;
    QLineEdit* name_;
    QCheckBox* from_fpga_;
    QComboBox* makes_;
    QLabel* count_;
    QPushButton* make_;
    QLabel* dressed_;
    QLineEdit *prefix_, *unit_, *comment_;
    bool filling_ = false;
};

}  // namespace kp::app
