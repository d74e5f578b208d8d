// SPDX-License-Identifier: GPL-3.0-or-later
// One window: tether, station, facts, status line. Palette, search, undo and the like live here.
#pragma once

#include "app/shell/chooser.hpp"
#include "app/shell/desk.hpp"
#include "app/shell/conflict_page.hpp"
#include "app/shell/facts.hpp"
#include "app/shell/notice_bar.hpp"
#include "app/shell/station.hpp"

#include <QTimer>
#include <QMainWindow>
#include <array>

class QLabel;
class QScrollArea;
class QStackedWidget;

namespace kp::app {

class MainWindow : public QMainWindow {
    Q_OBJECT
public:
    MainWindow();
    ~MainWindow() override;
    [[nodiscard]] Desk& desk() { return desk_; }
    void show_station(int index);
    [[nodiscard]] int station() const;
    [[nodiscard]] Station* station_at(int index) { return stations_[static_cast<size_t>(index)]; }
    [[nodiscard]] Tether& tether() { return *tether_; }
    /// Shows what the session is now, everywhere.
    void refresh();
    /// Shows what the news is about; pages that are not in front follow when they are gone to.
    void follow(const News& news);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
    [[nodiscard]] bool is_command(const QKeyEvent& key) const;
    void closeEvent(QCloseEvent* event) override;

private:
    void make_actions();
    QAction* action(const char* id, const QString& name, const QKeySequence& keys, const std::function<void()>& run);
    void build();
    void connect_desk();
    void bring_up_to_date(Station& station, size_t at);
    void refresh_title();
    void refresh_tether(unsigned what);
    void refresh_facts();
    void refresh_notices();
    void session_notices(std::vector<Notice>& out);
    /// What closing would lose has to be decided first.
    void leave_for_good(bool despite);
    void show_conflicts();
    void look_for_conflicts();
    void open_palette();
    void open_search();
    void say(const QString& sentence, bool trouble);
    void show_stage();

    Desk desk_;
    Tether* tether_;
    NoticeBar* notices_;
    ConflictPage* conflict_;
    bool leaving_ = false;  ///< closing was asked for while something could be lost
    bool despite_ = false;
    std::vector<std::string> both_;  ///< files that were changed here and by another program
    QStackedWidget* stack_;
    std::array<Station*, place_count> stations_{};
    std::array<unsigned, place_count> behind_{};  ///< news that a station has not shown yet
    std::array<KnotState, place_count> standings_;
    FactsPane* facts_;
    QScrollArea* facts_area_;
    QWidget* right_;  ///< facts, and below them what the station adds
    QLabel *status_, *hint_;
    QTimer stage_;  ///< looks what a job is at, so that long work says how far it is
    QString keys_;  ///< what the hint says while nothing is worked out
    Chooser* chooser_;
    bool dark_ = false;
    QString said_;
    QString refused_;  ///< what was refused last; stands above the page until something is done
    void clear_refusal();
};

}  // namespace kp::app
