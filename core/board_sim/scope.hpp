// SPDX-License-Identifier: GPL-3.0-or-later
// Four channels on wires of the board: when to look, what was there, and how far two cursors lie apart.
#pragma once

#include "core/board_sim/board_model.hpp"

#include <array>
#include <string>
#include <vector>

namespace kp::board_sim {

class Scope {
public:
    static constexpr size_t channels = 4;
    enum Mode : std::uint8_t {
        rolling,   ///< the last span, always
        repeated,  ///< the newest edge that fits
        once       ///< the first edge after arm()
    };
    struct Trigger {
        size_t channel = 0;
        bool rise = true;
        Mode mode = rolling;
    };
    struct Capture {
        Time from = 0, to = 0;
        Time trigger = -1;                              ///< -1: it only rolls
        std::array<std::vector<Edge>, channels> edges;  ///< the first one stands at or before `from`
    };

    /// A wire for a channel, by terminal; empty: none. What is kept begins now.
    void choose(BoardModel& model, size_t channel, const std::string& terminal);
    [[nodiscard]] const std::string& terminal(size_t channel) const { return terminals_[channel]; }
    void set(const Trigger& trigger);
    [[nodiscard]] const Trigger& trigger() const { return trigger_; }
    /// Length of what is shown; a tenth of it lies before the trigger.
    void set_span(Time span) { span_ = std::max<Time>(span, 1000); }
    [[nodiscard]] Time span() const { return span_; }
    void arm(Time now);
    [[nodiscard]] bool waits() const { return trigger_.mode == once && armed_; }
    /// Looks whether something has come; to be called now and then. True when there is a new capture.
    bool look(const BoardModel& model);
    [[nodiscard]] const Capture& capture() const { return capture_; }
    /// Another board takes the place of the one before: channels stay, what they kept does not.
    void moved_to(BoardModel& model);

private:
    [[nodiscard]] Time newest_trigger(const BoardModel& model) const;
    void take(const BoardModel& model, Time from, Time to, Time trigger);
    std::array<std::string, channels> terminals_;
    std::array<std::uint32_t, channels> numbers_{no_id, no_id, no_id, no_id};
    Trigger trigger_;
    Time span_ = millisecond, since_ = 0;
    bool armed_ = false;
    Capture capture_;
};

}  // namespace kp::board_sim
