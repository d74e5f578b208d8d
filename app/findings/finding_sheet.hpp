// SPDX-License-Identifier: GPL-3.0-or-later
// The drawn half of a finding.
#pragma once

#include "app/findings/finding_context.hpp"
#include "app/paint/canvas.hpp"
#include "core/model/finding.hpp"

#include <optional>

namespace kp::app {

/// What one finding is about, drawn: its numbers side by side, the lines around its command, the thread from port to
/// terminal, the bank, its rule and source. The sentence stands above, with the fixes.
class FindingSheet : public Canvas {
    Q_OBJECT
public:
    /// `otherwise`: what is said when there is none.
    void show_finding(const Finding* finding, FindingContext context = {}, const QString& otherwise = {});

protected:
    void draw(QPainter& p) override;

private:
    /// The levels of both ends of a wire on one scale of volts: what drives on the left, what the other end asks for on
    /// the right. Gives the height; 0 when the finding has no such numbers.
    double draw_levels(QPainter& p, double y);
    /// A current or a sum against its limit: the bar ends where the limit is, what is beyond stands out. Gives the
    /// height; 0 without a limit.
    double draw_limit(QPainter& p, double y);
    double draw_numbers(QPainter& p, double y);
    double draw_lines(QPainter& p, double y);
    double draw_thread(QPainter& p, double y);
    double draw_bank(QPainter& p, double y, double bottom);
    [[nodiscard]] std::optional<double> value(const char* name) const;
    std::optional<Finding> finding_;
    FindingContext context_;
    QString otherwise_;
};

}  // namespace kp::app
