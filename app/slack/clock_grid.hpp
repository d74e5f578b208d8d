// SPDX-License-Identifier: GPL-3.0-or-later
// From which clock to which: the worst slack and how many fail, a cell for each pair that is checked.
#pragma once

#include "core/model/timing_report.hpp"

#include <QTableWidget>

namespace kp::app {

class ClockGrid : public QTableWidget {
    Q_OBJECT
public:
    explicit ClockGrid(QWidget* parent = nullptr);
    /// Endpoints of one kind of check; empty: of all.
    void show_report(const TimingReport& report, const std::string& check);
signals:
    /// A cell was chosen: what filters the list to it.
    void pair_chosen(const QString& filter);
};

}  // namespace kp::app
