// SPDX-License-Identifier: GPL-3.0-or-later
// The scope: four wires, a trigger, two cursors, what is measured, and words read from a bus.
#pragma once

#include "app/paint/canvas.hpp"
#include "core/board_sim/scope.hpp"

#include <QWidget>
#include <array>

class QComboBox;
class QLabel;
class QLayout;
class QLineEdit;
class QPushButton;

namespace kp::app {

/// How the channels are read as a bus.
struct BusReading {
    enum Kind : std::uint8_t { none, serial, spi, two_wire } kind = none;
    unsigned mode = 0;  ///< of SPI
};

class ScopeScreen : public Canvas {
    Q_OBJECT
public:
    ScopeScreen();
    void show(const board_sim::Scope& scope, const BusReading& reading);
    [[nodiscard]] std::array<board_sim::Time, 2> cursors() const { return cursors_; }
    [[nodiscard]] const std::vector<board_sim::BusWord>& read() const { return words_; }

signals:
    void cursors_moved();

protected:
    void draw(QPainter& p) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;

private:
    [[nodiscard]] double x_of(board_sim::Time t) const;
    [[nodiscard]] board_sim::Time time_at(double x) const;
    void draw_wave(QPainter& p, size_t channel, double top, double high);
    void draw_words(QPainter& p, double top);
    void draw_cursors(QPainter& p);
    board_sim::Scope::Capture capture_;
    std::vector<board_sim::BusWord> words_;
    std::array<board_sim::Time, 2> cursors_{-1, -1};
    size_t held_ = 0;
};

class ScopePane : public QWidget {
    Q_OBJECT
public:
    ScopePane();
    /// The wires of a board; what was chosen stays where it is there too. Null: there is no board.
    void show_table(board_sim::BoardModel* model);
    /// Looks whether there is something new to show.
    void look();
    [[nodiscard]] board_sim::Scope& scope() { return scope_; }
    [[nodiscard]] ScopeScreen& screen() { return *screen_; }
    /// What stands below the waves: rates, shares, skew, cursors.
    [[nodiscard]] QString measured() const;

private:
    QLayout* line_below();
    void connect_all();
    void set_trigger();
    void choose_span();
    void show_measured();
    [[nodiscard]] BusReading reading() const;
    [[nodiscard]] std::vector<std::string> proposed() const;
    board_sim::BoardModel* model_ = nullptr;
    board_sim::Scope scope_;
    ScopeScreen* screen_;
    std::array<QComboBox*, board_sim::Scope::channels> channels_;
    QComboBox *edge_, *mode_, *span_, *reading_;
    QPushButton* arm_;
    QLineEdit* expected_;
    QLabel* measured_;
};

}  // namespace kp::app
