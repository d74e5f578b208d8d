// SPDX-License-Identifier: GPL-3.0-or-later
// Tempo: what is promised about time. The text is the truth; forms edit one command of it.
#pragma once

#include "app/shell/row_sync.hpp"
#include "app/shell/station.hpp"

#include <QTimer>

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QStackedWidget;
class QTabBar;
class QTreeWidget;

namespace kp::app {

class ClockChart;
class SdcEditor;

class TempoStation : public Station {
    Q_OBJECT
public:
    TempoStation(Desk& desk, QWidget* parent);
    void refresh() override;
    void follow(unsigned what) override;
    [[nodiscard]] unsigned cares() const override { return News::text | News::plan | News::inputs | News::analysis; }
    [[nodiscard]] KnotState standing() const override;
    [[nodiscard]] unsigned standing_cares() const override { return News::analysis | News::findings | News::inputs; }
    [[nodiscard]] QString status() const override;
    [[nodiscard]] SdcEditor& editor() { return *editor_; }
    void show_lens(int lens);

private:
    QWidget* make_text_card();
    QWidget* make_lens_card();
    void connect_all();
    void make_actions();
    QWidget* make_clock_lens();
    QWidget* make_delay_lens();
    QWidget* make_coverage_lens();
    void show_file();
    void commit_text();
    void write_clock(const std::string& port, double period, double duty);
    void write_delays(bool late);
    void fill_forms();
    void fill_port_choices();
    void fill_clock_form();
    void fill_delays();
    void show_wiring();
    [[nodiscard]] const Oscillator* oscillator() const;
    void fill_coverage();
    void take_gap();
    void show_gap();
    /// Files in another order: what stands first is read first.
    void move_file(int from, int to);
    void receive_here();
    [[nodiscard]] const SdcFile* file() const;
    ClockChart* chart_;
    QTabBar *files_, *lenses_;
    QLabel *target_, *trouble_;
    SdcEditor* editor_;
    QStackedWidget* lens_;
    QComboBox *clock_port_, *delay_port_;
    QLineEdit *period_, *duty_, *latest_, *earliest_;
    QLabel *board_clock_, *delay_origin_, *coverage_head_;
    QTreeWidget *coverage_, *delays_;
    QPushButton *gap_, *receive_;
    QLabel* gap_asks_;
    QLineEdit* gap_number_;
    QTimer typing_, oldest_;
    std::string shown_;     ///< the file that the editor shows
    bool typed_ = false;    ///< something is in the editor that is no edit yet
    bool untaken_ = false;  ///< what was typed could not become an edit; it stays where it is
    bool filling_ = false;
};

}  // namespace kp::app
