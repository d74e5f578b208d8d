// SPDX-License-Identifier: GPL-3.0-or-later
// By what the pins of the footprint are told apart: for each pin an entry of a legend. A value; no painter, no widget.
#pragma once

#include "app/pegs/plan_view.hpp"

#include <QColor>
#include <QString>
#include <vector>

namespace kp::app {

enum class Shade { bank, kind, standard, supply, slack, finding };

struct Shading {
    struct Entry {
        QString name, count;
        QColor color;
    };
    std::vector<Entry> entries;
    std::vector<int> of_pin;  ///< entry of each pin, by position

    /// Entries without a pin are left out.
    Shading(const Part& part, const Session* session, const PlanView& plan, Shade by);
    Shading() = default;
};

/// Slack in steps that tell more than its sign, ns.
inline constexpr double slack_steps[] = {0.0, 0.5, 2.0};

}  // namespace kp::app
