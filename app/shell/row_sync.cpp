// SPDX-License-Identifier: GPL-3.0-or-later
// Walks old and new rows side by side by id: linear when nothing moved, a hash of ids otherwise.
#include "app/shell/row_sync.hpp"

#include <QHash>
#include <QScrollBar>
#include <QSet>
#include <QSignalBlocker>
#include <algorithm>

namespace kp::app {

namespace {

void dress(QTreeWidgetItem* item, const Row& row) {
    for (int c = 0; c < row.cells.size(); ++c)
        if (item->text(c) != row.cells[c]) item->setText(c, row.cells[c]);
    if (row.dress) row.dress(item);
}

void sync_children(QTreeWidgetItem* parent, const std::vector<Row>& rows);

QTreeWidgetItem* make(const Row& row) {
    auto* item = new QTreeWidgetItem(row.cells);
    item->setData(0, row_id_role, row.id);
    for (const auto& child : row.below) item->addChild(make(child));
    return item;
}

/// Items that were just made are dressed when they are in the list: what they show may depend on it.
void dress_all(QTreeWidgetItem* item, const Row& row) {
    dress(item, row);
    for (int i = 0; i < item->childCount(); ++i) dress_all(item->child(i), row.below[static_cast<size_t>(i)]);
}

void fill(QTreeWidgetItem* parent, const std::vector<Row>& rows) {
    qDeleteAll(parent->takeChildren());
    QList<QTreeWidgetItem*> items;
    items.reserve(static_cast<qsizetype>(rows.size()));
    for (const auto& row : rows) items << make(row);
    parent->addChildren(items);
    for (size_t i = 0; i < rows.size(); ++i) dress_all(items[static_cast<qsizetype>(i)], rows[i]);
}

/// How many of the rows that stay stand in another order.
int moved(const QTreeWidgetItem* parent, const std::vector<Row>& rows, const QHash<QString, QTreeWidgetItem*>& there) {
    int out = 0, at = 0;
    for (const auto& row : rows) {
        if (!there.contains(row.id)) continue;
        while (at < parent->childCount() && !there.contains(row_id(parent->child(at)))) ++at;
        out += at < parent->childCount() && row_id(parent->child(at)) != row.id;
        ++at;
    }
    return out;
}

void sync_children(QTreeWidgetItem* parent, const std::vector<Row>& rows) {
    QSet<QString> wanted;
    for (const auto& row : rows) wanted.insert(row.id);
    QHash<QString, QTreeWidgetItem*> there;
    int gone = 0;
    for (int i = 0; i < parent->childCount(); ++i)
        if (wanted.contains(row_id(parent->child(i))))
            there.insert(row_id(parent->child(i)), parent->child(i));
        else
            ++gone;
    // Each row that comes or goes alone moves all behind it; when most do, the list is made anew.
    const auto come = static_cast<int>(rows.size()) - static_cast<int>(there.size());
    const int changes = gone + come + moved(parent, rows, there);
    if (changes > 64 && changes > static_cast<int>(rows.size()) / 4) return fill(parent, rows);
    for (int i = parent->childCount(); i-- > 0;)
        if (!wanted.contains(row_id(parent->child(i)))) delete parent->takeChild(i);
    for (int i = 0; i < static_cast<int>(rows.size()); ++i) {
        const auto& row = rows[static_cast<size_t>(i)];
        auto* at = i < parent->childCount() ? parent->child(i) : nullptr;
        if (row_id(at) == row.id) {
            dress(at, row);
            sync_children(at, row.below);
            continue;
        }
        if (auto* item = there.value(row.id)) {
            const bool open = item->isExpanded(), chosen = item->isSelected();
            parent->takeChild(parent->indexOfChild(item));
            parent->insertChild(i, item);
            item->setExpanded(open);
            item->setSelected(chosen);
            dress(item, row);
            sync_children(item, row.below);
        } else {
            item = make(row);
            parent->insertChild(i, item);
            dress_all(item, row);
        }
    }
}

}  // namespace

QString row_id(const QTreeWidgetItem* item) {
    return item ? item->data(0, row_id_role).toString() : QString();
}

QTreeWidgetItem* row_with(QTreeWidget* list, const QString& id) {
    for (QTreeWidgetItemIterator at(list); *at; ++at)
        if (row_id(*at) == id) return *at;
    return nullptr;
}

void sync_rows(QTreeWidget* list, const std::vector<Row>& rows) {
    const QSignalBlocker quiet(list);
    const auto* current = list->currentItem();
    const QString id = row_id(current);
    const auto* group = current ? current->parent() : nullptr;
    const int place = !current ? -1
                      : group  ? group->indexOfChild(const_cast<QTreeWidgetItem*>(current))
                               : list->indexOfTopLevelItem(const_cast<QTreeWidgetItem*>(current));
    const QString group_id = row_id(group);
    const int scrolled = list->verticalScrollBar()->value();
    list->setUpdatesEnabled(false);
    sync_children(list->invisibleRootItem(), rows);
    if (place >= 0) {
        auto* now = row_with(list, id);
        if (!now) {
            auto* in = group_id.isEmpty() ? list->invisibleRootItem() : row_with(list, group_id);
            if (in && in->childCount() > 0) now = in->child(std::min(place, in->childCount() - 1));
        }
        list->setCurrentItem(now);
    }
    list->setUpdatesEnabled(true);
    list->verticalScrollBar()->setValue(scrolled);
}

}  // namespace kp::app
