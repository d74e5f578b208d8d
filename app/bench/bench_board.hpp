// SPDX-License-Identifier: GPL-3.0-or-later
// The board model with every part of the board on it, in the order in which they stand on the board.
#pragma once

#include "app/bench/bench_card.hpp"

#include <QScrollArea>

class QLabel;

namespace kp::app {

class BenchBoard : public QScrollArea {
    Q_OBJECT
public:
    explicit BenchBoard(QWidget* parent = nullptr);
    /// Shows the parts of a board model, which outlives them or is taken away by show_table(nullptr); `places`: left
    /// and top of parts on the board, by ref.
    void show_table(const board_sim::BoardModel* model, BenchCard::Work work,
                    const std::map<std::string, std::pair<double, double>>& places = {});
    /// Every card looks at its part again.
    void look();
    /// Says on cards, by ref of their part, why not to trust what they show; on all others nothing.
    void mark(const std::map<std::string, QString>& why);
    /// What stands over everything, such as a conflict; empty: nothing.
    void say(const QString& sentence);
    [[nodiscard]] const std::vector<BenchCard*>& cards() const { return cards_; }
    [[nodiscard]] BenchCard* card(const std::string& ref) const;

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    void place();
    QWidget* inside_;
    QLabel* banner_;
    std::vector<BenchCard*> cards_;
};

}  // namespace kp::app
