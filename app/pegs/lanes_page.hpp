// SPDX-License-Identifier: GPL-3.0-or-later
// Lanes: what of a lane block reaches what, and the links that span it. Each is pegged, loose or adrift.
#pragma once

#include "app/paint/canvas.hpp"
#include "app/shell/desk.hpp"
#include "core/lane_planning/lanes.hpp"

#include <QWidget>
#include <optional>

class QComboBox;
class QLabel;
class QPushButton;
class QTreeWidget;

namespace kp::app {

/// A block from the engines above down to the lanes and the crossings into the fabric.
class LaneChart : public Canvas {
    Q_OBJECT
public:
    /// `spots`: legal ones of the link that is selected. All of it lives as long as it is shown.
    void show_block(const LaneBlock* block, std::vector<LaneLink> links, std::optional<LaneAnswer> answer,
                    std::vector<LaneSpot> spots, const QString& selected);
    [[nodiscard]] const std::vector<LaneSpot>& spots() const { return spots_; }
signals:
    /// The first lane of a legal spot was chosen for the selected link.
    void spot_chosen(int lane);
    void pin_chosen(const QString& pin);

protected:
    void draw(QPainter& p) override;
    void mousePressEvent(QMouseEvent* event) override;

private:
    [[nodiscard]] double x_of(size_t lane) const;
    void draw_engines(QPainter& p);
    void draw_lanes(QPainter& p);
    void draw_clocks(QPainter& p);
    void draw_crossings(QPainter& p);
    void draw_links(QPainter& p);
    const LaneBlock* block_ = nullptr;
    std::vector<LaneLink> links_;
    std::optional<LaneAnswer> answer_;
    std::vector<LaneSpot> spots_;
    QString selected_;
};

class LanesPage : public QWidget {
    Q_OBJECT
public:
    explicit LanesPage(Desk& desk);
    void refresh();
    void solve(bool only_selected);
    void add();
    void remove();
    /// Pegged becomes loose, loose and placed becomes pegged.
    void turn_peg();
    /// A peg is left out for a trial, and back.
    void turn_off();
    void take();

private:
    [[nodiscard]] std::vector<LaneLink> links() const;
    [[nodiscard]] QString selected() const;
    void keep(const std::vector<LaneLink>& list, const std::string& title);
    void show_answer(const Result<LaneAnswer>& answer, const std::set<std::string>& relax);
    void ask(const std::set<std::string>& relax, const std::set<std::string>& only);
    void go_to_link();
    void ask_spots();
    void move_to(int lane);
    void draw_it();
    void fill_blocks();
    /// The block that is shown; null when the part has none.
    [[nodiscard]] const LaneBlock* block() const;
    Desk& desk_;
    QComboBox* block_;
    QTreeWidget *list_, *conflict_;
    LaneChart* chart_;
    QLabel* says_;
    QPushButton *solve_, *some_, *take_, *add_, *remove_, *peg_, *off_;
    std::optional<LaneAnswer> answer_;
    std::set<std::string> relax_;
    std::vector<LaneSpot> spots_;
    QString shown_;  ///< the links that the answer is of
    bool filling_ = false;
};

}  // namespace kp::app
