// SPDX-License-Identifier: GPL-3.0-or-later
// Ports that are being dragged, and what each place would say to them. Shared by loom and footprint.
#pragma once

#include "app/shell/desk.hpp"
#include "core/planning/ways.hpp"
#include "core/session/verdict.hpp"

#include <QElapsedTimer>
#include <QPointF>
#include <map>
#include <memory>
#include <string>

namespace kp::app {

class PortDrag {
public:
    /// What a place would do with the ports.
    struct Answer {
        std::vector<std::string> pins, left;  ///< pins they would take, ports for which none is left
        std::string why;                      ///< why not; empty: yes
    };
    explicit PortDrag(Desk& desk) : desk_(desk) {}
    void press(std::vector<std::string> ports, const QPointF& at);
    /// True once the mouse has moved far enough to mean it.
    bool move(const QPointF& at);
    [[nodiscard]] bool moving() const { return moving_; }
    [[nodiscard]] const std::vector<std::string>& ports() const { return ports_; }
    [[nodiscard]] QPointF now() const { return now_; }
    /// Turned round: the last bit goes where the first would.
    void turn(bool round) { round_ = round; }

    /// Why the first of the ports may not lie on a pin; empty: it may. Asked once per pin and drag.
    [[nodiscard]] const std::string& trouble(const std::string& pin);
    /// To be said when a frame is begun: fades() asks the rules for some milliseconds of it and leaves the rest to the
    /// next.
    void begin_frame() {
        frame_.start();
        unfinished_ = false;
    }
    /// True where the port may not lie, and while that is not known yet.
    [[nodiscard]] bool fades(const std::string& pin);
    [[nodiscard]] bool unfinished() const { return unfinished_; }
    [[nodiscard]] const Answer& answer(const DropTarget& target);
    /// One sentence for the place under the mouse.
    [[nodiscard]] QString sentence(const DropTarget& target);
    /// Drops there; a place the rules refuse is refused with the reason. Ends the drag.
    void drop(const DropTarget& target);
    void end();

private:
    Desk& desk_;
    std::vector<std::string> ports_;
    QPointF from_, now_;
    bool moving_ = false, round_ = false, unfinished_ = false;
    QElapsedTimer frame_;
    std::unique_ptr<Trial> trial_;  ///< while moving
    std::map<std::string, std::string> verdicts_;
    std::map<std::string, Answer> answers_;
};

}  // namespace kp::app
