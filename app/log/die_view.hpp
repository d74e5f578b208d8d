// SPDX-License-Identifier: GPL-3.0-or-later
// The fabric of the part with the cells of a build on it.
#pragma once

#include "app/paint/canvas.hpp"
#include "app/shell/fact_sheet.hpp"
#include "core/build_flow/build.hpp"

#include <map>
#include <memory>

namespace kp::app {

class DieView : public Canvas {
    Q_OBJECT
public:
    enum class Shade { kind, slack, module };
    explicit DieView(QWidget* parent = nullptr);
    void show_build(std::shared_ptr<const build_flow::BuildAnswer> built);
    void shade_by(Shade shade);
    /// Draws a path over the cells; -1: none.
    void show_path(int number);
    void select(int cell);
    /// One line about a cell: name, type, place, what it is connected to.
    [[nodiscard]] QString words_of_cell(int cell) const;
    /// The same for the facts pane; `build`: its number.
    [[nodiscard]] FactSheet facts_of_cell(int cell, int build) const;
    [[nodiscard]] int selected() const { return selected_; }

signals:
    void picked(int cell);

protected:
    void draw(QPainter& p) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;

private:
    struct Site {
        std::vector<std::uint32_t> cells;
    };
    void measure();
    void look_at(int cell);
    [[nodiscard]] QRectF rect_of(int column, int row) const;
    [[nodiscard]] QColor colour_of(std::uint32_t cell) const;
    void draw_site(QPainter& p, const std::pair<int, int>& at, const Site& site);
    void draw_path(QPainter& p);
    void draw_legend(QPainter& p);
    std::shared_ptr<const build_flow::BuildAnswer> built_;
    std::map<std::pair<int, int>, Site> sites_;
    std::map<std::string, double> slack_of_;  ///< by cell, worst of its endpoints
    std::vector<fabric::CellKind> kind_;
    Shade shade_ = Shade::kind;
    int path_ = -1, selected_ = -1;
    double left_ = 0, top_ = 0, step_ = 1;
    double zoom_ = 1;
    QPointF middle_{0.5, 0.5};  ///< of the fabric, what lies in the middle of the view, in shares of it
};

}  // namespace kp::app
