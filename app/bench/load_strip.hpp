// SPDX-License-Identifier: GPL-3.0-or-later
// What loading did, step by step, as it was reported; nothing is computed here.
#pragma once

#include "app/paint/canvas.hpp"
#include "core/jtag/chip.hpp"

namespace kp::app {

/// The steps of loading as a row of knots.
class LoadStrip : public Canvas {
    Q_OBJECT
public:
    void show_steps(const std::vector<LoadStep>& steps) {
        steps_ = steps;
        update();
    }

protected:
    void draw(QPainter& p) override;

private:
    std::vector<LoadStep> steps_;
};

}  // namespace kp::app
