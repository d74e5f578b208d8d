// SPDX-License-Identifier: GPL-3.0-or-later
// The pane on the right: all that is known of what is selected, and where each value comes from.
#pragma once

#include "app/paint/canvas.hpp"
#include "app/shell/fact_sheet.hpp"
#include "app/shell/desk.hpp"

#include <vector>

namespace kp::app {

/// Collects what is known of an object. No drawing here; tests read it.
[[nodiscard]] FactSheet facts_of(const Session& session, const Selection& selection);

class FactsPane : public Canvas {
    Q_OBJECT
public:
    explicit FactsPane(QWidget* parent = nullptr) : Canvas(parent) {}
    void show_sheet(FactSheet sheet);

protected:
    void draw(QPainter& p) override;

private:
    FactSheet sheet_;
};

}  // namespace kp::app
