// SPDX-License-Identifier: GPL-3.0-or-later
// One window: tether, station, facts, status line. Palette, search, undo and the like live here.
#pragma once

#include "app/shell/chooser.hpp"
#include "app/shell/desk.hpp"
#include "app/shell/facts.hpp"
#include "app/shell/station.hpp"

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

protected:
    void closeEvent(QCloseEvent* event) override;

private:
    void make_actions();
    QAction* action(const char* id, const QString& name, const QKeySequence& keys, const std::function<void()>& run);
    void refresh_tether();
    void refresh_facts();
    void open_palette();
    void open_search();
    void say(const QString& sentence, bool trouble);

    Desk desk_;
    Tether* tether_;
    QStackedWidget* stack_;
    std::array<Station*, 7> stations_{};
    FactsPane* facts_;
    QScrollArea* facts_area_;
    QWidget* right_;  ///< facts, and below them what the station adds
    QLabel *status_, *hint_;
    Chooser* chooser_;
    bool dark_ = false;
    QString said_;
};

}  // namespace kp::app
