// SPDX-License-Identifier: GPL-3.0-or-later
// QTreeView asks a row's height without telling the width of its columns, so the delegate looks it up.
#include "app/shell/wrapping.hpp"

#include <QHeaderView>
#include <QStyledItemDelegate>
#include <QTreeWidget>

namespace kp::app {

namespace {

class Wrapped : public QStyledItemDelegate {
public:
    explicit Wrapped(QTreeWidget* list) : QStyledItemDelegate(list), list_(list) {}

    [[nodiscard]] QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& at) const override {
        auto size = QStyledItemDelegate::sizeHint(option, at);
        QStyleOptionViewItem told = option;
        initStyleOption(&told, at);
        int beside = 12;  // what the style leaves at both sides of a text
        if (told.features & QStyleOptionViewItem::HasDecoration) beside += told.decorationSize.width() + 6;
        if (at.column() == 0)
            for (auto above = at; above.isValid(); above = above.parent())
                if (above.parent().isValid() || list_->rootIsDecorated()) beside += list_->indentation();
        const QRect room(0, 0, qMax(20, list_->columnWidth(at.column()) - beside), 10000);
        const int height = QFontMetrics(told.font).boundingRect(room, Qt::TextWordWrap, told.text).height();
        size.setHeight(qMax(size.height(), height + 8));
        return size;
    }

private:
    QTreeWidget* list_;
};

}  // namespace

void wrap_rows(QTreeWidget& list) {
    list.setWordWrap(true);
    list.setUniformRowHeights(false);
    list.setTextElideMode(Qt::ElideNone);
    list.setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    list.setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list.header()->setStretchLastSection(true);
    list.setItemDelegate(new Wrapped(&list));
    // Queued: a column also changes while the rows are being laid out.
    QObject::connect(
        list.header(), &QHeaderView::sectionResized, &list, [&list] { list.doItemsLayout(); }, Qt::QueuedConnection);
}

}  // namespace kp::app
