// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/paint/canvas.hpp"
#include "app/shell/desk.hpp"
#include "core/bench/board_bench.hpp"

#include <array>
#include <deque>
#include <map>
#include <set>

namespace kp::app {

/// What the hand did to the board: where the vane points and which keys are down.
struct HandState {
    unsigned vane = 0;
    std::set<std::string> down;  ///< terminals of keys
};

/// Draws the working board and takes the hand's doings. Vane, lamps, keys, rockers, sounder and the first header have a
/// drawing; every other part is a card with its terminals.
class BenchBoard : public Canvas {
    Q_OBJECT
public:
    explicit BenchBoard(Desk& desk) : desk_(desk) {
        setObjectName("bench.board");
        setAccessibleName(tr("The simulated board"));
        setFocusPolicy(Qt::StrongFocus);
    }
    void show_bench(BoardBench* bench) {
        bench_ = bench;
        update();
    }
    [[nodiscard]] const HandState& hand() const { return hand_; }
    void turn_vane(int steps);
    /// Presses or releases a key, by its terminal.
    void press(const std::string& terminal, bool down);
    /// Gives everything the hand holds to a bench that has just been started.
    void give_all();
    /// Takes the levels of the probed wires down; called in even steps of board time.
    void sample();
    static constexpr std::uint64_t cycles_per_sample = 1000;
    [[nodiscard]] QPointF lamp_row_place(size_t i) const;
    [[nodiscard]] double lamps_bottom() const;
    [[nodiscard]] double probes_top() const;
    [[nodiscard]] QRectF key_place(const std::string& terminal) const;
    [[nodiscard]] QRectF rocker_place(const std::string& terminal) const;
    [[nodiscard]] const BoardPart* of_kind(const char* kind) const;

protected:
    void draw(QPainter& p) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    /// A part without a drawing of its own; an empty place: there is no room for it.
    struct Card {
        const BoardPart* part;
        QRectF place;
    };
    static constexpr double keys_room = 140;
    [[nodiscard]] bool has_drawing(const BoardPart& part) const;
    [[nodiscard]] std::vector<Card> cards() const;
    [[nodiscard]] static QRectF terminal_row(const Card& card, size_t i);
    void draw_cards(QPainter& p);
    void draw_terminals(QPainter& p, const Card& card);
    void draw_digits(QPainter& p, const Card& card);
    void sample_parts();
    bool turn_terminal(const QPointF& at);
    void draw_vane(QPainter& p, const BoardPart& part);
    void draw_lamps(QPainter& p, const BoardPart& part);
    void draw_keys(QPainter& p);
    void draw_sounder(QPainter& p, const BoardPart& part);
    void draw_probes(QPainter& p);
    [[nodiscard]] std::vector<std::string> probed() const;
    void draw_header(QPainter& p, const BoardPart& part);
    void draw_rockers(QPainter& p);
    void give_vane();
    struct Circle {
        double x, y, r;
    };
    [[nodiscard]] Circle vane_circle() const;
    Desk& desk_;
    BoardBench* bench_ = nullptr;
    HandState hand_;
    std::string held_;
    std::deque<std::vector<Level>> samples_;  ///< the newest last
    std::map<std::string, double> duty_;      ///< share of time a wire was active of late, by terminal
    std::map<std::string, std::vector<std::array<double, 8>>> digits_;  ///< the same of segments, by display and digit
};

}  // namespace kp::app
