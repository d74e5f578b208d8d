// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/paint/canvas.hpp"
#include "core/model/timing_report.hpp"

#include <vector>

namespace kp::app {

/// How many endpoints have how much slack; misses apart, in the colour of a stop.
struct Histogram {
    double low = 0, width = 1;
    std::vector<int> counts;
    /// About `bars` bars with round borders, one of them at 0. Sum of counts = number of slacks.
    Histogram(const std::vector<double>& slacks, int bars);
};

class SpreadChart : public Canvas {
    Q_OBJECT
public:
    void show_slacks(std::vector<double> slacks, const QString& what);

protected:
    void draw(QPainter& p) override;

private:
    std::vector<double> slacks_;
    QString what_;
};

/// One path between its clock edges, each piece as long as it takes, coloured by cause.
class PathRibbon : public Canvas {
    Q_OBJECT
public:
    /// `why`: of a path that fails, why it does.
    void show_path(const TimingPath* path, const ClockReport* launch, const ClockReport* capture,
                   const QString& why = {});
    /// What stands there while no path is shown.
    void say(const QString& words);

protected:
    void draw(QPainter& p) override;

private:
    QString says_;
    TimingPath path_;  ///< its times count from the launching edge
    double edge_ = 0;  ///< where that lies, ns
    QString why_;
    ClockReport launch_, capture_;
    bool any_ = false;
};

}  // namespace kp::app
