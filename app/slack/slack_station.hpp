// SPDX-License-Identifier: GPL-3.0-or-later
// Slack: does the design keep what is promised? A sentence, the spread, the endpoints, and one path as a ribbon.
#pragma once

#include "app/slack/endpoint_model.hpp"
#include "app/shell/station.hpp"
#include "core/model/timing_report.hpp"

class QLabel;
class QLineEdit;
class QPushButton;
class QStackedWidget;
class QTreeView;

namespace kp {
struct TimingReport;
struct PathAnswer;
struct WhatIf;
}  // namespace kp

namespace kp::app {

class ClockGrid;
class CornerPage;
class CurePage;
class NetView;
class PathRibbon;
class PathTable;
class SpreadChart;

class SlackStation : public Station {
    Q_OBJECT
public:
    SlackStation(Desk& desk, QWidget* parent);
    void refresh() override;
    [[nodiscard]] unsigned cares() const override { return News::analysis | News::inputs; }
    [[nodiscard]] KnotState standing() const override;
    [[nodiscard]] unsigned standing_cares() const override { return News::analysis | News::inputs; }
    [[nodiscard]] QString status() const override;

    /// What stands below the list.
    enum class Below { path, table, cures, clocks, corners, cells };

private:
    void fill_list();
    void show_path();
    void select_row(int row);
    void ask_detail();
    void show_detail(const PathAnswer& asked);
    void step_path(int by);
    void show_below(Below page);
    void copy_path();
    void save_path();
    void add_below_actions();
    [[nodiscard]] std::string listed_check() const;
    [[nodiscard]] QString beside(const PathAnswer& asked) const;
    void build();
    void build_card();
    [[nodiscard]] QLayout* below_bar();
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
    QStackedWidget* below_;
    QList<QPushButton*> below_buttons_;
    QLabel* which_;  ///< "path 2 of 8"
    PathTable* table_;
    CurePage* cures_;
    ClockGrid* grid_;
    CornerPage* corners_;
    NetView* cells_;
    void ask_cells();
    std::vector<PathDetail> details_;  ///< of the current row, the worst first
    size_t detail_ = 0;
    QString beside_;  ///< what else is known of the endpoint
};

/// "With this line setup would be met with …; hold would …", and by how much each moves.
[[nodiscard]] QString what_if_sentence(const TimingReport& now, const WhatIf& then);

/// "Setup is met with 23.605 ns to spare on 74 endpoints; …": the whole outcome in one or two sentences.
[[nodiscard]] QString summary_sentence(const TimingReport& report);

}  // namespace kp::app
