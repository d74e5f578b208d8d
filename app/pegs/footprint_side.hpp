// SPDX-License-Identifier: GPL-3.0-or-later
// Beside the footprint: by what pins are told apart and how many there are of each, what else is drawn, how it is
// looked at, what the marks mean, and the ports that are adrift.
#pragma once

#include "app/paint/canvas.hpp"
#include "app/pegs/plan_view.hpp"
#include "app/shell/desk.hpp"

#include <QWidget>
#include <vector>

class QComboBox;
class QLabel;
class QPushButton;
class QScrollArea;
class QTreeWidget;

namespace kp::app {

class Footprint;

/// The meaning of the marks.
class MarksKey : public Canvas {
    Q_OBJECT
public:
    explicit MarksKey(QWidget* parent = nullptr);

protected:
    void draw(QPainter& p) override;
};

/// Ports without a pin; one is dragged from here onto the package.
class Tray : public Canvas {
    Q_OBJECT
public:
    Tray(Desk& desk, Footprint& footprint);
    void refresh(const PlanView& plan);
    /// Where a port lies; empty when it is not adrift.
    [[nodiscard]] QRectF place_of(const std::string& port) const;

protected:
    void draw(QPainter& p) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] QRectF place(size_t i) const;
    Desk& desk_;
    Footprint& footprint_;
    std::vector<std::string> ports_;
    bool dragging_ = false;
};

class FootprintSide : public QWidget {
    Q_OBJECT
public:
    FootprintSide(Desk& desk, Footprint& footprint);
    void refresh(const PlanView& plan);
    [[nodiscard]] Tray& tray() { return *tray_; }

private:
    void fill_legend();
    void hide_unchecked();
    Footprint& footprint_;
    QComboBox* shade_;
    QTreeWidget* legend_;
    QLabel* adrift_;
    QScrollArea* tray_area_;
    Tray* tray_;
    bool filling_ = false;
};

/// Writes the footprint as it is looked at. By the ending of the path: SVG, PNG (at `dots` per millimetre) or a PDF
/// page to scale. Errors: an ending that is none of these, a file that cannot be written, a package larger than the
/// paper.
[[nodiscard]] Status export_footprint(Footprint& footprint, const QString& path, double dots = 40);

}  // namespace kp::app
