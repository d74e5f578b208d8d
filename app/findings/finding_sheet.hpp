// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/paint/canvas.hpp"
#include "core/model/finding.hpp"

#include <optional>

namespace kp::app {

/// One finding drawn: its sentence, its numbers side by side, its rule and source.
class FindingSheet : public Canvas {
    Q_OBJECT
public:
    void show_finding(const Finding* finding);

protected:
    void draw(QPainter& p) override;

private:
    std::optional<Finding> finding_;
};

}  // namespace kp::app
