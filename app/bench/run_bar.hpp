// SPDX-License-Identifier: GPL-3.0-or-later
// How board time passes: on and on, one clock, up to a time, until a wire moves; and what share of real time that is.
#pragma once

#include "core/board_sim/board_bench.hpp"

#include <QElapsedTimer>
#include <QTimer>
#include <QWidget>
#include <optional>

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;

namespace kp::app {

class RunBar : public QWidget {
    Q_OBJECT
public:
    RunBar();
    /// The board whose time passes; null: none. Time passes from here on.
    void show_bench(BoardBench* bench);
    void run();
    void pause();
    /// One period of the first oscillator.
    void step();
    /// Up to a time of the board, ms; only from where it is on.
    void run_to(double ms);
    /// Until a terminal rises or falls.
    void run_until(const std::string& terminal, bool rises);
    [[nodiscard]] bool runs() const { return timer_.isActive(); }
    /// Board time that passes in a second of real time, of late; 0 while it does not run.
    [[nodiscard]] double share() const { return share_; }

signals:
    /// Some time has passed.
    void passed();

private:
    void tick();
    void show_time();
    BoardBench* bench_ = nullptr;
    QTimer timer_;
    QElapsedTimer since_;
    QPushButton *run_, *step_;
    QLineEdit* to_;
    QComboBox* until_;
    QLabel* time_;
    board_sim::Time goal_ = board_sim::never, slice_ = board_sim::microsecond;
    std::optional<std::pair<std::uint32_t, bool>> wanted_;  ///< terminal, and to which level
    Level before_ = Level::floating;
    double share_ = 0;
};

}  // namespace kp::app
