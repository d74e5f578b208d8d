// SPDX-License-Identifier: GPL-3.0-or-later
// Keys and clipboard as spreadsheets have them (common practice, no source). State: selection, sort and filter are
// the view's.
#include "app/pegs/sheet_view.hpp"

#include "app/paint/glyphs.hpp"
#include "app/shell/counted.hpp"
#include "app/theme/text.hpp"
#include "app/theme/theme.hpp"
#include "core/base/text.hpp"
#include "core/format/csv/csv.hpp"
#include "core/format/csv/pin_report.hpp"

#include <QApplication>
#include <QClipboard>
#include <QComboBox>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLineEdit>
#include <QPainter>
#include <QStyledItemDelegate>
#include <algorithm>
#include <set>

namespace kp::app {

namespace {

/// A list of what is legal where there is one, else a line to type into.
class CellEditor : public QStyledItemDelegate {
public:
    CellEditor(SheetModel& model, SheetFilter& filter, QObject* parent)
        : QStyledItemDelegate(parent), model_(model), filter_(filter) {}

    QWidget* createEditor(QWidget* parent, const QStyleOptionViewItem& option,
                          const QModelIndex& index) const override {
        const auto legal = model_.legal(filter_.mapToSource(index));
        if (legal.empty()) return QStyledItemDelegate::createEditor(parent, option, index);
        auto* box = new QComboBox(parent);
        for (const auto& value : legal) box->addItem(value.empty() ? tr("–") : q(value), q(value));
        QObject::connect(box, &QComboBox::activated, this, [this, box] {
            auto* self = const_cast<CellEditor*>(this);
            emit self->commitData(box);
            emit self->closeEditor(box);
        });
        return box;
    }
    /// Drawn by hand: through the style sheet a cell takes ten times as long, and a window shows four hundred.
    void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        const auto& t = theme();
        const bool chosen = option.state & QStyle::State_Selected;
        if (chosen) p->fillRect(option.rect, t.select_fill);
        const auto source = filter_.mapToSource(index);
        const auto words_here = model_.data(source, Qt::DisplayRole).toString();
        if (!words_here.isEmpty()) {
            const auto color = model_.data(source, Qt::ForegroundRole), face = model_.data(source, Qt::FontRole);
            const QFont font = face.isValid() ? face.value<QFont>() : words(12);
            const QRect r = option.rect.adjusted(4, 0, -3, 0);
            p->setFont(font);
            p->setPen(color.isValid() ? color.value<QColor>() : t.ink);
            const auto& whole = laid_out(words_here, font);
            const double y = r.center().y() + 1 - whole.text.size().height() / 2;
            if (whole.width <= r.width())
                p->drawStaticText(QPointF(r.left(), y), whole.text);
            else
                p->drawStaticText(QPointF(r.left(), y), laid_out(shortened(words_here, font, r.width()), font).text);
        }
        if (option.state & QStyle::State_HasFocus) {
            p->setPen(t.select);
            p->setBrush(Qt::NoBrush);
            p->drawRect(option.rect.adjusted(0, 0, -1, -1));
        }
    }
    void setEditorData(QWidget* editor, const QModelIndex& index) const override {
        auto* box = qobject_cast<QComboBox*>(editor);
        if (!box) return QStyledItemDelegate::setEditorData(editor, index);
        box->setCurrentIndex(std::max(0, box->findData(index.data(Qt::EditRole))));
    }
    void setModelData(QWidget* editor, QAbstractItemModel* model, const QModelIndex& index) const override {
        auto* box = qobject_cast<QComboBox*>(editor);
        if (!box) return QStyledItemDelegate::setModelData(editor, model, index);
        model->setData(index, box->currentData(), Qt::EditRole);
    }

private:
    SheetModel& model_;
    SheetFilter& filter_;
};

}  // namespace

void SheetFilter::set_words(const QString& words) {
    words_ = words.split(' ', Qt::SkipEmptyParts);
    invalidateFilter();
}

bool SheetFilter::lessThan(const QModelIndex& a, const QModelIndex& b) const {
    return natural_less(a.data(Qt::EditRole).toString().toStdString(), b.data(Qt::EditRole).toString().toStdString());
}

bool SheetFilter::filterAcceptsRow(int row, const QModelIndex& parent) const {
    return std::all_of(words_.begin(), words_.end(), [&](const QString& word) {
        for (int c = 0; c < sourceModel()->columnCount(parent); ++c)
            if (sourceModel()->index(row, c, parent).data().toString().contains(word, Qt::CaseInsensitive)) return true;
        return false;
    });
}

SheetView::SheetView(Desk& desk) : desk_(desk), model_(desk) {
    setObjectName("sheet");
    setAccessibleName(tr("Sheet: one row a port"));
    filter_.setSourceModel(&model_);
    setModel(&filter_);
    setItemDelegate(new CellEditor(model_, filter_, this));
    setSortingEnabled(true);
    filter_.sort(-1);
    horizontalHeader()->setSortIndicator(-1, Qt::AscendingOrder);
    setSelectionMode(ExtendedSelection);
    setEditTriggers(DoubleClicked | EditKeyPressed | AnyKeyPressed);
    setShowGrid(true);
    setWordWrap(false);
    setTextElideMode(Qt::ElideMiddle);  // the index at the end tells bits apart
    verticalHeader()->setDefaultSectionSize(22);
    verticalHeader()->hide();
    horizontalHeader()->setHighlightSections(false);
    horizontalHeader()->setStretchLastSection(true);
    horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    setHorizontalScrollMode(ScrollPerPixel);
    const int widths[] = {164, 66, 62, 46, 152, 142, 70, 52, 56, 64, 74, 130, 100, 110, 64, 100, 90, 76};
    for (int i = 0; i < model_.columnCount(); ++i) setColumnWidth(i, widths[i]);
    show_all_columns(false);
    connect(&desk_, &Desk::selected, this, &SheetView::follow_selection);
}

void SheetView::show_all_columns(bool all) {
    for (const char* field : {"origin", "standard_origin", "termination", "partner", "pad_register", "pad_delay"})
        setColumnHidden(model_.column_of(field), !all);
}

void SheetView::refresh(const QString& filter) {
    model_.refresh();
    filter_.set_words(filter);
    if (!desk_.session().world().obtained.empty())
        setColumnHidden(model_.column_of("obtained"), false);
    else
        setColumnHidden(model_.column_of("obtained"), true);
    follow_selection();
}

/// The rows of what is selected elsewhere.
void SheetView::follow_selection() {
    if (following_ || !desk_.has_session() || !isVisible()) return;
    const auto ports = desk_.chosen_ports();
    if (ports.empty()) return;
    std::set<int> rows;
    for (const auto& index : selectionModel()->selectedIndexes()) rows.insert(filter_.mapToSource(index).row());
    std::set<int> wanted;
    for (const auto& port : ports) wanted.insert(model_.row_of(port));
    if (rows == wanted) return;
    following_ = true;
    const int column = currentIndex().isValid() ? currentIndex().column() : model_.column_of("pin");
    QItemSelection cells;
    QModelIndex first;
    for (const int row : wanted)
        if (const auto at = filter_.mapFromSource(model_.index(row, column)); at.isValid()) {
            cells.select(at, at);
            if (!first.isValid()) first = at;
        }
    if (first.isValid()) selectionModel()->setCurrentIndex(first, QItemSelectionModel::NoUpdate);
    selectionModel()->select(cells, QItemSelectionModel::ClearAndSelect);
    if (first.isValid()) scrollTo(first);
    following_ = false;
}

void SheetView::selectionChanged(const QItemSelection& selected, const QItemSelection& deselected) {
    QTableView::selectionChanged(selected, deselected);
    if (following_ || !desk_.has_session()) return;
    std::set<int> rows;
    for (const auto& index : selectionModel()->selectedIndexes()) rows.insert(filter_.mapToSource(index).row());
    if (rows.empty()) return;
    const int current = currentIndex().isValid() ? filter_.mapToSource(currentIndex()).row() : *rows.begin();
    Selection s{QStringLiteral("port"), q(model_.port(rows.contains(current) ? current : *rows.begin())), {}};
    for (const int row : rows)
        if (const auto name = q(model_.port(row)); name != s.name) s.also << name;
    following_ = true;
    desk_.select(s);
    following_ = false;
}

QModelIndexList SheetView::chosen() const {
    auto list = selectionModel()->selectedIndexes();
    std::sort(list.begin(), list.end(), [](const QModelIndex& a, const QModelIndex& b) {
        return std::pair(a.row(), a.column()) < std::pair(b.row(), b.column());
    });
    return list;
}

void SheetView::fill_down() {
    std::map<int, std::string> top;
    std::vector<SheetModel::Cell> cells;
    for (const auto& index : chosen()) {
        const auto source = filter_.mapToSource(index);
        const auto [at, first] =
            top.try_emplace(index.column(), model_.data(source, Qt::EditRole).toString().toStdString());
        if (!first) cells.push_back({source.row(), source.column(), at->second});
    }
    if (cells.empty()) return desk_.say(tr("Select the cell with the value and those below it."), true);
    model_.write(cells, "fill down " + counted(static_cast<int>(cells.size()), "cell").toStdString());
}

void SheetView::copy() {
    const auto list = chosen();
    if (list.isEmpty()) return;
    QString text;
    int row = list.front().row();
    bool start = true;
    for (const auto& index : list) {
        if (index.row() != row) {
            text += '\n';
            start = true;
        }
        if (!start) text += '\t';
        text += index.data(Qt::EditRole).toString();
        row = index.row();
        start = false;
    }
    QApplication::clipboard()->setText(text + '\n');
}

void SheetView::paste() {
    const auto text = QApplication::clipboard()->text().toStdString();
    if (text.empty() || (chosen().isEmpty() && !currentIndex().isValid())) return;
    const auto rows = read_csv(text, delimiter_of(text) == ';' ? ';' : '\t');
    std::vector<SheetModel::Cell> cells;
    if (rows.size() == 1 && rows[0].size() == 1) {
        for (const auto& index : chosen()) {
            const auto source = filter_.mapToSource(index);
            cells.push_back({source.row(), source.column(), std::string(trim(rows[0][0]))});
        }
    } else {
        const auto all = chosen();
        int top = currentIndex().row(), left = currentIndex().column();
        if (!all.isEmpty()) top = all.front().row();
        for (const auto& index : all) left = std::min(left, index.column());
        for (size_t r = 0; r < rows.size(); ++r) {
            int column = left;
            for (const auto& field : rows[r]) {
                while (column < model_.columnCount() && isColumnHidden(column)) ++column;
                const auto at = filter_.index(top + static_cast<int>(r), column++);
                if (!at.isValid())
                    return desk_.say(
                        tr("The clipboard has %1, and there is no room for that from here on; nothing was pasted.")
                            .arg(counted(static_cast<int>(rows.size()), "row")),
                        true);
                const auto source = filter_.mapToSource(at);
                if (trim(field).empty()) continue;  // says nothing; Delete clears
                if (model_.data(source, Qt::EditRole).toString().toStdString() != trim(field))
                    cells.push_back({source.row(), source.column(), std::string(trim(field))});
            }
        }
    }
    if (model_.write(cells, "paste " + counted(static_cast<int>(cells.size()), "cell").toStdString()))
        desk_.say(tr("%1 changed by pasting").arg(counted(static_cast<int>(cells.size()), "cell")));
}

void SheetView::clear_cells() {
    std::vector<SheetModel::Cell> cells;
    for (const auto& index : chosen()) {
        const auto source = filter_.mapToSource(index);
        if (!model_.data(source, Qt::EditRole).toString().isEmpty())
            cells.push_back({source.row(), source.column(), ""});
    }
    if (!cells.empty()) model_.write(cells, "clear " + counted(static_cast<int>(cells.size()), "cell").toStdString());
}

void SheetView::paintEvent(QPaintEvent* event) {
    QTableView::paintEvent(event);
    if (filter_.rowCount() > 0) return;
    QPainter p(viewport());
    p.setFont(words(13));
    p.setPen(theme().second);
    p.drawText(viewport()->rect(), Qt::AlignCenter,
               model_.rowCount() > 0 ? tr("No row has these words; the filter above can be cleared.")
                                     : tr("The design has no ports yet; Site takes its HDL or its netlist."));
}

void SheetView::keyPressEvent(QKeyEvent* event) {
    if (event->matches(QKeySequence::Copy)) return copy();
    if (event->matches(QKeySequence::Paste)) return paste();
    if (event->key() == Qt::Key_Delete) return clear_cells();
    if (event->key() == Qt::Key_D && event->modifiers() == Qt::ControlModifier) return fill_down();
    if ((event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) && currentIndex().isValid() &&
        state() != EditingState)
        return edit(currentIndex());
    QTableView::keyPressEvent(event);
}

}  // namespace kp::app
