// SPDX-License-Identifier: GPL-3.0-or-later
// Every change of a column's meaning makes the draft anew (core/format/table); what is wrong stands in its cell.
// State: text and mapping, kept by their headings.
#include "app/site/table_page.hpp"

#include "app/site/part_making.hpp"

#include "app/paint/canvas.hpp"
#include "app/shell/counted.hpp"
#include "app/shell/settings.hpp"
#include "app/theme/text.hpp"
#include "app/theme/theme.hpp"
#include "app/shell/ask_files.hpp"
#include "core/base/names.hpp"
#include "core/base/text.hpp"
#include "core/format/json/world_json.hpp"

#include <QApplication>
#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>
#include <set>
#include <utility>

namespace kp::app {

namespace {
QString key_of(const table::Grid& grid) {
    return QStringLiteral("tables/") + QString::number(qHash(q(table::heading_key(grid))), 16);
}
constexpr int most_shown = 3000;  // rows; more are read, but not shown
}  // namespace

TablePage::TablePage(Desk& desk)
    : desk_(desk),
      cells_(new QTableWidget),
      troubles_(new QListWidget),
      name_(new QLineEdit),
      from_fpga_(new QCheckBox(tr("in and out are seen from the FPGA"))),
      makes_(new QComboBox),
      count_(new QLabel),
      make_(new QPushButton(tr("Make the board"))),
      dressed_(new QLabel),
      prefix_(new QLineEdit),
      unit_(new QLineEdit),
      comment_(new QLineEdit) {
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(20, 14, 16, 12);
    auto* heading = new QLabel(tr("From a table"));
    heading->setProperty("role", "heading");
    auto* top = new QHBoxLayout;
    top->addWidget(heading);
    makes_->addItems({tr("the wires of a board"), tr("the pins of a part")});
    makes_->setObjectName("table.makes");
    makes_->setAccessibleName(tr("What the table is"));
    top->addWidget(makes_);
    top->addStretch(1);
    auto* paste_button = new QPushButton(tr("Paste"));
    auto* open_button = new QPushButton(tr("Open a table…"));
    auto* back = new QPushButton(tr("Back to Site"));
    for (auto* b : {paste_button, open_button, back}) top->addWidget(b);
    all->addLayout(top);
    auto* hint = new QLabel(
        tr("Copy the rows in the spreadsheet or the manual and paste them here. Each row wires a terminal of a board "
           "part to a pin; ranges such as D[7:0] against K1..K8 are understood, and a row that starts with # is kept "
           "out. A cell can be mended here (F2), rows left out or named as the headings."));
    hint->setWordWrap(true);
    hint->setProperty("role", "second");
    all->addWidget(hint);
    cells_->setObjectName("table.cells");
    cells_->setAccessibleName(tr("The table; the first row says what the columns are"));
    cells_->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed);
    cells_->setSelectionMode(QAbstractItemView::ExtendedSelection);
    cells_->setFont(mono(12));
    cells_->verticalHeader()->setDefaultSectionSize(22);
    cells_->setShowGrid(false);
    all->addWidget(cells_, 3);
    all->addLayout(make_row_bar());
    all->addLayout(make_dress_bar());
    count_->setWordWrap(true);
    all->addWidget(count_);
    troubles_->setObjectName("table.troubles");
    troubles_->setAccessibleName(tr("What is wrong in the table"));
    all->addWidget(troubles_, 1);
    all->addLayout(make_foot());
    connect(paste_button, &QPushButton::clicked, this, &TablePage::paste);
    connect(open_button, &QPushButton::clicked, this, &TablePage::open);
    connect(back, &QPushButton::clicked, this, &TablePage::done);
    connect_all();
}

QLayout* TablePage::make_row_bar() {
    auto* rows = new QHBoxLayout;
    auto* skip = new QPushButton(tr("Leave rows out, or take them in"));
    skip->setObjectName("table.skip");
    auto* heading_row = new QPushButton(tr("This row names the columns"));
    heading_row->setObjectName("table.heading");
    auto* no_heading = new QPushButton(tr("No row names them"));
    no_heading->setObjectName("table.no_heading");
    for (auto* b : {skip, heading_row, no_heading}) rows->addWidget(b);
    rows->addStretch(1);
    connect(skip, &QPushButton::clicked, this, &TablePage::skip_rows);
    connect(heading_row, &QPushButton::clicked, this, [this] {
        const int row = cells_->currentRow() - 1;
        if (grid_ && row >= 0 && row < static_cast<int>(grid_->rows.size()))
            read_again(grid_->rows[static_cast<size_t>(row)].line);
    });
    connect(no_heading, &QPushButton::clicked, this, [this] { read_again(0); });
    return rows;
}

QLayout* TablePage::make_dress_bar() {
    auto* bar = new QHBoxLayout;
    const auto field = [&](QLineEdit* edit, const QString& label, const char* name, const QString& hint, int width) {
        auto* word = new QLabel(label);
        word->setBuddy(edit);
        bar->addWidget(word);
        edit->setObjectName(QLatin1String(name));
        edit->setAccessibleName(label);
        edit->setPlaceholderText(hint);
        edit->setFont(mono(12));
        edit->setFixedWidth(width);
        bar->addWidget(edit);
        connect(edit, &QLineEdit::textEdited, this, &TablePage::dress_typed);
    };
    dressed_->setObjectName("table.dressed");
    bar->addWidget(dressed_);
    field(prefix_, tr("cells begin with"), "table.prefix", tr("ball-"), 90);
    field(unit_, tr("bare numbers are in"), "table.unit", tr("mil"), 70);
    bar->addSpacing(24);
    field(comment_, tr("Rows left out begin with"), "table.comment", tr("!"), 60);
    bar->addStretch(1);
    connect(cells_, &QTableWidget::currentCellChanged, this, [this](int, int column, int, int before) {
        if (column != before) show_dress();
    });
    return bar;
}

void TablePage::show_dress() {
    const int c = cells_->currentColumn();
    const bool some = grid_ && c >= 0 && c < static_cast<int>(grid_->header.size());
    dressed_->setText(some ? tr("In column %1").arg(q(grid_->header[static_cast<size_t>(c)])) : tr("Choose a column:"));
    for (auto* edit : {prefix_, unit_}) edit->setEnabled(some);
    const auto dress = some && static_cast<size_t>(c) < mapping_.dress.size() ? mapping_.dress[static_cast<size_t>(c)]
                                                                              : table::CellDress{};
    prefix_->setText(q(dress.prefix));
    unit_->setText(q(dress.unit));
    if (comment_->text() != q(mapping_.comment)) comment_->setText(q(mapping_.comment));
}

void TablePage::dress_typed() {
    if (!grid_) return;
    mapping_.comment = comment_->text().trimmed().toStdString();
    const int c = cells_->currentColumn();
    if (c >= 0 && c < static_cast<int>(grid_->header.size())) {
        mapping_.dress.resize(grid_->header.size());
        mapping_.dress[static_cast<size_t>(c)] = {prefix_->text().trimmed().toStdString(),
                                                  unit_->text().trimmed().toStdString()};
    }
    draft_again();
}

QLayout* TablePage::make_foot() {
    auto* foot = new QHBoxLayout;
    foot->addWidget(new QLabel(tr("Name")));
    name_->setObjectName("table.name");
    name_->setAccessibleName(tr("Name of the board or part"));
    name_->setMaximumWidth(220);
    foot->addWidget(name_);
    foot->addWidget(from_fpga_);
    foot->addStretch(1);
    foot->addWidget(make_);
    make_->setObjectName("table.make");
    return foot;
}

void TablePage::connect_all() {
    connect(cells_, &QTableWidget::itemChanged, this, &TablePage::cell_changed);
    connect(make_, &QPushButton::clicked, this, &TablePage::make);
    connect(name_, &QLineEdit::textChanged, this, &TablePage::draft_again);
    connect(makes_, &QComboBox::currentIndexChanged, this, [this] {
        from_fpga_->setVisible(!makes_part());
        make_->setText(makes_part() ? tr("Make the part") : tr("Make the board"));
        guess();
        fill();
    });
    connect(from_fpga_, &QCheckBox::toggled, this, [this](bool on) {
        mapping_.seen_from_fpga = on;
        draft_again();
    });
    connect(troubles_, &QListWidget::currentRowChanged, this, [this](int row) {
        const auto* list = draft_ ? &draft_->troubles : pins_ ? &pins_->troubles : nullptr;
        if (!list || row < 0 || row >= static_cast<int>(list->size())) return;
        const auto& t = (*list)[static_cast<size_t>(row)];
        cells_->setCurrentCell(static_cast<int>(t.row) + 1, std::max(0, t.column));
    });
}

void TablePage::begin() {
    if (!grid_) {
        name_->setText(tr("my_board"));
        fill();
        const auto clip = QApplication::clipboard()->text();
        if (clip.count('\n') > 2 && clip.contains('\t')) paste();
    }
}

void TablePage::paste() {
    show_text(QApplication::clipboard()->text(), tr("clipboard"));
}

void TablePage::open() {
    const auto path = ask_file(this, tr("Open a table"), {}, tr("Tables (*.csv *.tsv *.txt);;All files (*)"));
    if (path.isEmpty()) return;
    auto text = real_disk().read(path.toStdString(), size_t{16} << 20);
    if (!text) return desk_.say(q(text.first().sentence()), true);
    show_text(q(text.value()), path);
}

void TablePage::show_text(const QString& text, const QString& file) {
    text_ = text.toStdString();
    file_ = file_name_of(file.toStdString());
    read_again({});
}

/// The table anew, with another row of headings; cells that were mended are as they came.
void TablePage::read_again(std::optional<int> heading_line) {
    auto grid = table::read_grid(text_, file_, heading_line);
    if (!grid) return desk_.say(q(grid.first().sentence()), true);
    grid_ = grid.take();
    guess();
    fill();
}

void TablePage::skip_rows() {
    if (!grid_) return;
    std::set<int> rows;
    for (const auto& index : cells_->selectionModel()->selectedIndexes()) rows.insert(index.row() - 1);
    for (const int row : rows) {
        if (row < 0 || row >= static_cast<int>(grid_->rows.size())) continue;
        auto& r = grid_->rows[static_cast<size_t>(row)];
        r.unused = !r.unused;
        for (int c = 0; c < cells_->columnCount(); ++c)
            if (auto* item = cells_->item(row + 1, c))
                item->setForeground(r.unused ? QBrush(theme().second) : QBrush(theme().ink));
    }
    draft_again();
}

void TablePage::cell_changed(QTableWidgetItem* item) {
    if (filling_ || !grid_ || item->row() < 1) return;
    auto& cell = grid_->rows[static_cast<size_t>(item->row() - 1)].cells[static_cast<size_t>(item->column())];
    const auto text = std::string(trim(item->text().toStdString()));
    if (cell == text) return;
    cell = text;
    draft_again();
}

bool TablePage::makes_part() const {
    return makes_->currentIndex() == 1;
}

void TablePage::guess() {
    if (!grid_) return;
    if (makes_part()) {
        mapping_ = table::guess_pin_mapping(*grid_);
        return;
    }
    mapping_ = table::guess_mapping(*grid_, desk_.session().world().part);
    const auto kept = table::mapping_from_line(settings().value(key_of(*grid_)).toString().toStdString());
    if (kept && kept->columns.size() == grid_->header.size()) mapping_ = *kept;
    from_fpga_->setChecked(mapping_.seen_from_fpga);
}

void TablePage::fill() {
    filling_ = true;
    cells_->clear();
    const int columns = grid_ ? static_cast<int>(grid_->header.size()) : 0;
    const int rows = grid_ ? std::min<int>(most_shown, static_cast<int>(grid_->rows.size())) : 0;
    cells_->setColumnCount(columns);
    cells_->setRowCount(grid_ ? rows + 1 : 0);
    QStringList headings, lines{tr("type")};
    for (int c = 0; c < columns; ++c) {
        headings << q(grid_->header[static_cast<size_t>(c)]);
        auto* box = new QComboBox;
        for (int r = 0; r < table::role_count; ++r)
            box->addItem(QLatin1String(table::name_of(static_cast<table::Role>(r))));
        box->setCurrentIndex(static_cast<int>(mapping_.columns[static_cast<size_t>(c)]));
        box->setAccessibleName(tr("What column %1 is").arg(headings.back()));
        connect(box, &QComboBox::activated, this, [this, c](int role) { role_chosen(c, role); });
        cells_->setCellWidget(0, c, box);
    }
    for (int r = 0; r < rows; ++r) {
        const auto& row = grid_->rows[static_cast<size_t>(r)];
        lines << QString::number(row.line);
        for (int c = 0; c < columns; ++c) {
            auto* item = new QTableWidgetItem(q(row.cells[static_cast<size_t>(c)]));
            if (row.unused) item->setForeground(theme().second);
            cells_->setItem(r + 1, c, item);
        }
    }
    cells_->setHorizontalHeaderLabels(headings);
    cells_->setVerticalHeaderLabels(lines);
    if (grid_) cells_->setRowHeight(0, 30);
    cells_->resizeColumnsToContents();
    for (int c = 0; c < columns; ++c) cells_->setColumnWidth(c, std::clamp(cells_->columnWidth(c), 118, 220));
    filling_ = false;
    show_dress();
    draft_again();
}

void TablePage::role_chosen(int column, int role) {
    // A role is given once: who had it before is not used now.
    const auto chosen = static_cast<table::Role>(role);
    if (chosen != table::Role::ignored)
        for (auto& r : mapping_.columns)
            if (r == chosen) r = table::Role::ignored;
    mapping_.columns[static_cast<size_t>(column)] = chosen;
    for (int c = 0; c < cells_->columnCount(); ++c)
        if (auto* box = qobject_cast<QComboBox*>(cells_->cellWidget(0, c)))
            box->setCurrentIndex(static_cast<int>(mapping_.columns[static_cast<size_t>(c)]));
    draft_again();
}

void TablePage::draft_again() {
    if (filling_) return;
    draft_.reset();
    pins_.reset();
    troubles_->clear();
    make_->setEnabled(false);
    if (!grid_ || !desk_.has_session())
        return count_->setText(grid_ ? QString()
                                     : tr("No table yet: paste rows with the button above, or open a CSV file."));
    const auto& w = desk_.session().world();
    if (makes_part()) {
        pins_ = table::draft_part(*grid_, mapping_, w.standards, name_->text().trimmed().toStdString());
        show_troubles(pins_->troubles);
        const bool placed = std::none_of(pins_->troubles.begin(), pins_->troubles.end(),
                                         [](const table::CellTrouble& t) { return t.severity == Severity::stop; });
        count_->setText(tr("%1 of the table, %2 not used; %3 in %4. A pin list says nothing of ordering codes, IDCODE, "
                           "limits and resources: they are filled in in the file.")
                            .arg(counted(static_cast<int>(pins_->rows), "row"), QString::number(pins_->unused),
                                 counted(static_cast<int>(pins_->pins), "pin"),
                                 counted(static_cast<int>(pins_->part.banks.size()), "bank")));
        make_->setEnabled(placed && pins_->pins > 0 && !name_->text().trimmed().isEmpty());
        return;
    }
    draft_ = table::draft_board(*grid_, mapping_, w.part, w.standards, name_->text().toStdString(),
                                desk_.session().project().part);
    show_troubles(draft_->troubles);
    const auto stops =
        static_cast<int>(std::count_if(draft_->troubles.begin(), draft_->troubles.end(),
                                       [](const table::CellTrouble& t) { return t.severity == Severity::stop; }));
    const auto left = draft_->rows - draft_->unused;
    count_->setText(tr("%1 of the table, %2 not used; %3 wired to %4. %5")
                        .arg(counted(static_cast<int>(draft_->rows), "row"), QString::number(draft_->unused),
                             counted(static_cast<int>(draft_->wired), "terminal"),
                             counted(static_cast<int>(draft_->board.parts.size()) - 1, "board part"),
                             stops > 0  ? counted(stops, "row cannot be wired as it stands and would be left out.",
                                                  "rows cannot be wired as they stand and would be left out.")
                             : left > 0 ? tr("Nothing is wrong.")
                                        : QString()));
    make_->setEnabled(draft_->wired > 0 && !name_->text().trimmed().isEmpty());
}

void TablePage::show_troubles(const std::vector<table::CellTrouble>& troubles) {
    const bool was = std::exchange(filling_, true);  // colours are not typing
    for (int r = 1; r < cells_->rowCount(); ++r)
        for (int c = 0; c < cells_->columnCount(); ++c)
            if (auto* item = cells_->item(r, c)) {
                item->setBackground(QBrush());
                item->setToolTip({});
            }
    for (const auto& t : troubles) {
        const auto line = t.row < grid_->rows.size() ? grid_->rows[t.row].line : 0;
        // What a row of titles is told of is not about a row of the table.
        auto* entry = new QListWidgetItem(
            t.column < 0 && t.severity == Severity::note ? q(t.text) : tr("line %1: %2").arg(line).arg(q(t.text)));
        entry->setForeground(t.severity == Severity::stop      ? theme().stop
                             : t.severity == Severity::caution ? theme().caution
                                                               : theme().second);
        troubles_->addItem(entry);
        auto* item = t.column >= 0 ? cells_->item(static_cast<int>(t.row) + 1, t.column) : nullptr;
        if (!item) continue;
        if (t.severity != Severity::note)
            item->setBackground(t.severity == Severity::stop ? theme().wash_stop : theme().wash_caution);
        item->setToolTip(q(t.text));
    }
    troubles_->setVisible(!troubles.empty());
    troubles_->setMaximumHeight(8 + 26 * std::min(6, troubles_->count()));
    filling_ = was;
}

void TablePage::make() {
    if ((!draft_ && !pins_) || !desk_.has_session()) return;
    const auto finished = [this] { emit done(); };
    if (pins_) return take_part(desk_, pins_->part, finished);
    const auto& s = desk_.session();
    const auto file = kp::lower(portable_name(name_->text().trimmed().toStdString()));
    const auto path = join_path(s.document().folder(), file + ".board.json");
    const auto write = [this, path, file, finished, text = write_board(draft_->board), key = key_of(*grid_),
                        line = q(table::mapping_line(mapping_))](bool replace) {
        settings().setValue(key, line);
        take_file(desk_, path, text, replace, "board", file, finished);
    };
    if (!real_disk().exists(path)) return write(false);
    // Made once more under its name: only who says so loses the older one.
    desk_.ask({tr("There is a board file %1 in the project's folder already.").arg(q(file_name_of(path))),
               tr("Replace it"), [write] { write(true); }});
}

}  // namespace kp::app
