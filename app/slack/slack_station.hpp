// SPDX-License-Identifier: GPL-3.0-or-later
// Slack: does the design keep what is promised? A sentence, the spread, the endpoints, and one path as a ribbon.
#pragma once

#include "app/slack/endpoint_model.hpp"
#include "app/shell/station.hpp"

class QLabel;
class QLineEdit;
class QPushButton;
class QTreeView;

namespace kp {
struct TimingReport;
struct WhatIf;
}  // namespace kp

namespace kp::app {

class SpreadChart;
class PathRibbon;

class SlackStation : public Station {
    Q_OBJECT
public:
    SlackStation(Desk& desk, QWidget* parent);
    void refresh() override;
    [[nodiscard]] unsigned cares() const override { return News::analysis | News::inputs; }
    [[nodiscard]] KnotState standing() const override;
    [[nodiscard]] unsigned standing_cares() const override { return News::analysis | News::inputs; }
    [[nodiscard]] QString status() const override;

private:
    void fill_list();
    void show_path();
    void copy_path();
    void build();
    void build_card();
    void connect_all();
    void ask_what_if();
    void forget_answer();
    QLabel *sentence_, *under_, *answer_;
    SpreadChart* spread_;
    PathRibbon* ribbon_;
    QLineEdit *filter_, *what_if_;
    QPushButton* missing_;  ///< leads to what is not timed
    QWidget* card_;
    QPushButton *setup_, *hold_, *others_, *free_;
    QTreeView* list_;
    EndpointModel* model_;
    EndpointModel::Kind listed_ = EndpointModel::Kind::setup;  ///< which list is shown
    bool filling_ = false;                                     ///< the list follows the session, not the user
};

/// "With this line setup would be met with …; hold would …", and by how much each moves.
[[nodiscard]] QString what_if_sentence(const TimingReport& now, const WhatIf& then);

/// "Setup is met with 23.605 ns to spare on 74 endpoints; …": the whole outcome in one or two sentences.
[[nodiscard]] QString summary_sentence(const TimingReport& report);

}  // namespace kp::app
