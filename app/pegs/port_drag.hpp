// SPDX-License-Identifier: GPL-3.0-or-later
// A port that is being dragged, and what each place would say to it. Shared by loom and footprint.
#pragma once

#include "app/shell/desk.hpp"

#include <QPointF>
#include <map>
#include <string>

namespace kp::app {

class PortDrag {
public:
    explicit PortDrag(Desk& desk) : desk_(desk) {}
    void press(const std::string& port, const QPointF& at) { port_ = port, from_ = now_ = at, moving_ = false, verdicts_.clear(); }
    /// True once the mouse has moved far enough to mean it.
    bool move(const QPointF& at) {
        now_ = at;
        if (!port_.empty() && (at - from_).manhattanLength() > 6) moving_ = true;
        return moving_;
    }
    [[nodiscard]] bool moving() const { return moving_; }
    [[nodiscard]] const std::string& port() const { return port_; }
    [[nodiscard]] QPointF now() const { return now_; }
    /// Empty: legal there. Asked once per pin and drag.
    [[nodiscard]] const std::string& trouble(const std::string& pin);
    /// Drops on a pin; a place the rules refuse is refused with the reason. Ends the drag.
    void drop(const std::string& pin);
    void end() { port_.clear(), moving_ = false; }

private:
    Desk& desk_;
    std::string port_;
    QPointF from_, now_;
    bool moving_ = false;
    std::map<std::string, std::string> verdicts_;
};

}  // namespace kp::app
