// SPDX-License-Identifier: GPL-3.0-or-later
// Slack: does the design keep what is promised? A sentence, the spread, the endpoints, and one path as a ribbon.
#pragma once

#include "app/shell/station.hpp"

class QLabel;
class QLineEdit;
class QPushButton;
class QTreeWidget;

namespace kp::app {

class SpreadChart;
class PathRibbon;

class SlackStation : public Station {
    Q_OBJECT
public:
    SlackStation(Desk& desk, QWidget* parent);
    void refresh() override;
    [[nodiscard]] KnotState standing() const override;
    [[nodiscard]] QString status() const override;

private:
    void fill_list();
    void show_path();
    QLabel *sentence_, *under_;
    SpreadChart* spread_;
    PathRibbon* ribbon_;
    QLineEdit* filter_;
    QPushButton *setup_, *hold_, *free_;
    QTreeWidget* list_;
};

/// "Setup is met with 23.605 ns to spare on 74 endpoints; …": the whole outcome in one or two sentences.
[[nodiscard]] QString summary_sentence(const TimingReport& report);

}  // namespace kp::app
