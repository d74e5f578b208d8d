// SPDX-License-Identifier: GPL-3.0-or-later
// Tempo: what is promised about time. The text is the truth; forms edit one command of it.
#pragma once

#include "app/shell/row_sync.hpp"
#include "app/shell/station.hpp"
#include "core/constraints/budget_edits.hpp"
#include "core/constraints/command_list.hpp"

#include <QTimer>

#include <map>
#include <string>

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QStackedWidget;
class QTabBar;
class QTableWidget;
class QTreeWidget;
class QVBoxLayout;

namespace kp::app {

class BudgetLens;
class ClockChart;
class CommandLens;
class DraftLens;
class FindBar;
class RecipeLens;
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
    enum Lens { clock_lens, delay_lens, budget_lens, recipe_lens, command_lens, coverage_lens, draft_lens };
    void show_lens(int lens);
    /// Text and lens side by side under the clocks, or one of them alone, as wide as the window.
    enum class Shows { both, text, lens };
    void show_alone(Shows what);
    /// A new constraint file, which receives new commands from now on.
    void make_file();
    /// All constraints as they are used, evaluated and without Tcl, into a file that is asked for.
    void write_as_used();

private:
    QWidget* make_text_card();
    QWidget* make_lens_card();
    void connect_all();
    void make_actions();
    QWidget* make_clock_lens();
    void make_matrix(QVBoxLayout* box);
    QWidget* make_delay_lens();
    QWidget* make_coverage_lens();
    void show_file();
    void commit_text();
    /// What the command under the cursor is and hits.
    void explain();
    void light();
    [[nodiscard]] const ListedCommand* command_here() const;
    void refresh_lens();
    /// Lets the lines of linked budgets follow when what the board gives has changed; what was undone stays undone.
    void follow_linked();
    void write_clock(const std::string& port, double period, double duty);
    void write_delays(bool late);
    void fill_forms();
    void fill_port_choices();
    void fill_clock_form();
    void fill_delays();
    void fill_matrix();
    void show_wiring();
    [[nodiscard]] const Oscillator* oscillator() const;
    void fill_coverage();
    void take_gap();
    void show_gap();
    /// Files in another order: what stands first is read first.
    void move_file(int from, int to);
    void receive_here();
    /// A use of the file that is shown, on or off.
    void use_file(bool SdcFile::*use);
    void write_out();
    [[nodiscard]] const SdcFile* file() const;
    ClockChart* chart_;
    QTabBar *files_, *lenses_;
    QLabel *target_, *trouble_;
    SdcEditor* editor_;
    QStackedWidget* lens_;
    QComboBox *clock_port_, *delay_port_;
    QLineEdit *period_, *duty_, *latest_, *earliest_;
    QLabel* period_words_;  ///< what stands in period_, in ns and MHz
    QLabel *board_clock_, *delay_origin_, *coverage_head_;
    QTreeWidget *coverage_, *delays_;
    BudgetLens* budgets_;
    DraftLens* draft_;
    RecipeLens* recipes_;
    CommandLens* commands_;
    QLabel* explains_;
    FindBar* find_ = nullptr;
    QTableWidget* matrix_;
    QLabel* pair_;
    std::vector<ListedCommand> listed_;  ///< of the text as it is, for what stands under the cursor
    QWidget *text_card_ = nullptr, *lens_card_ = nullptr;
    QPushButton *text_wide_, *lens_wide_;
    Shows shows_ = Shows::both;
    QPushButton *gap_, *receive_;
    QLabel* gap_asks_;
    QLineEdit* gap_number_;
    QTimer typing_, oldest_;
    FollowedTimes followed_;  ///< when they last followed
    std::string shown_;       ///< the file that the editor shows
    bool typed_ = false;      ///< something is in the editor that is not an edit yet
    bool untaken_ = false;    ///< what was typed could not become an edit; it stays where it is
    bool filling_ = false;
};

}  // namespace kp::app
