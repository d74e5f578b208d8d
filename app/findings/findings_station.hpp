// SPDX-License-Identifier: GPL-3.0-or-later
// Findings: everything the rules found, grouped by what would mend it, each with its numbers and possible fixes.
#pragma once

#include "app/shell/station.hpp"
#include "app/shell/row_sync.hpp"
#include "core/rules/preview.hpp"
#include "core/closing/fix_many.hpp"

class QLabel;
class QLineEdit;
class QPushButton;
class QTreeWidget;
class QVBoxLayout;
class QComboBox;
class QBoxLayout;
class QHBoxLayout;

namespace kp::app {

class FindingSheet;

class FindingsStation : public Station {
    Q_OBJECT
public:
    FindingsStation(Desk& desk, QWidget* parent);
    void refresh() override;
    [[nodiscard]] unsigned cares() const override { return News::findings | News::inputs; }
    [[nodiscard]] KnotState standing() const override;
    [[nodiscard]] unsigned standing_cares() const override { return News::findings | News::inputs; }
    [[nodiscard]] QString status() const override;
    /// Applies possible fix `index` of the finding that is shown.
    void take_way_out(int index);

private:
    void build_bar();
    void build();
    void connect_all();
    void fill_list();
    void show_finding();
    void waive();
    void fill_rules();
    void show_closed();
    [[nodiscard]] Row row_of(const Finding& finding, size_t index) const;
    void select_object(const Finding& finding);
    static void empty(QBoxLayout* row);
    void offer_ways(const Finding& finding, bool same);
    QWidget* fix_button(size_t index);
    void show_outcome(size_t index, const FindingsChange& change);
    void work_out_outcomes();
    void take_all(const FixMany& many, const QString& rule);
    QWidget* fix_question(size_t index);
    /// Findings of a rule that are open and that the filter shows.
    [[nodiscard]] std::vector<Finding> shown_of(const std::string& rule) const;
    [[nodiscard]] bool listed(const Finding& finding) const;
    void offer_leads(const Finding& finding);
    void mend_all();
    [[nodiscard]] bool shown(const Finding& finding) const;
    [[nodiscard]] const Finding* current() const;
    QLineEdit *filter_, *reason_;
    QPushButton *stops_, *cautions_, *notes_, *waived_, *waive_, *of_selection_, *all_;
    QComboBox* rules_;
    QLabel* held_;
    QTreeWidget* list_;
    FindingSheet* sheet_;
    QVBoxLayout* ways_;
    QHBoxLayout* leads_;
    QLabel *scope_, *ways_title_, *sentence_;
    QWidget* bar_;
    bool filling_ = false;    ///< the list follows the session, not the user
    bool leading_ = false;    ///< the selection changes because a finding is shown
    std::vector<Fix> fixes_;  ///< of the finding that is shown
    QString shown_;           ///< rule and objects of the finding that is shown, to find it again
};

}  // namespace kp::app
