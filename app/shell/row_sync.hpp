// SPDX-License-Identifier: GPL-3.0-or-later
// Lists that are shown anew without being made anew: rows have ids, and only those that came, went or say something
// else are touched. So the current row, what is selected, ticked or folded, and the scroll position survive every edit
// and analysis.
#pragma once

#include <QStringList>
#include <QTreeWidget>
#include <functional>
#include <vector>

namespace kp::app {

struct Row {
    QString id;  ///< the same for the same thing, whatever it says; unique in its list
    QStringList cells;
    /// Colours, fonts, tool tips, data; called for every row each time, so it sets what it sets always.
    std::function<void(QTreeWidgetItem*)> dress = {};
    std::vector<Row> below = {};
};

inline constexpr int row_id_role = Qt::UserRole + 40;

/// Makes the list show `rows`, in their order. The current row stays current; when it went, the one in its place is.
/// Signals of the list are blocked meanwhile. Linear when the order of what stays is the same.
void sync_rows(QTreeWidget* list, const std::vector<Row>& rows);

/// The id of an item, empty for none.
[[nodiscard]] QString row_id(const QTreeWidgetItem* item);
/// The item with an id; null when there is none.
[[nodiscard]] QTreeWidgetItem* row_with(QTreeWidget* list, const QString& id);

}  // namespace kp::app
