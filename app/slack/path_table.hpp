// SPDX-License-Identifier: GPL-3.0-or-later
// A path as a table: the ways of both clocks, then the data point by point, each with what a table of delays asks for.
#pragma once

#include "core/model/timing_report.hpp"

#include <QTreeWidget>

namespace kp::app {

class PathTable : public QTreeWidget {
    Q_OBJECT
public:
    explicit PathTable(QWidget* parent = nullptr);
    void show_path(const PathDetail& detail);
    /// All rows as text with tabs between, for the clipboard.
    [[nodiscard]] QString as_text() const;
signals:
    /// The user went to a pin.
    void pin_chosen(const QString& pin);
};

}  // namespace kp::app
