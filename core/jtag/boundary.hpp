// SPDX-License-Identifier: GPL-3.0-or-later
// The chip's boundary register on the simulated board: pins driven and read through the test access port.
#pragma once

#include "core/jtag/chip.hpp"
#include "core/board_sim/board_model.hpp"
#include "core/model/part.hpp"

namespace kp::jtag {

/// The pins of a part, in the order of the part file, on a board model.
class BoundaryPins : public PinSide {
public:
    BoundaryPins(board_sim::BoardModel& model, const Part& part);
    void drive(size_t pin, bool drives, bool value) override;
    [[nodiscard]] bool sees(size_t pin) const override;
    [[nodiscard]] const std::vector<std::string>& pins() const { return pins_; }

private:
    board_sim::BoardModel& model_;
    std::vector<std::string> pins_;
};

/// A chip on a board model, worked pin by pin. Every call goes through the TAP: EXTEST while anything is driven, SAMPLE
/// else.
class BoundaryTester {
public:
    BoundaryTester(board_sim::BoardModel& model, const Part& part);
    BoundaryTester(const BoundaryTester&) = delete;
    BoundaryTester& operator=(const BoundaryTester&) = delete;
    /// Drives a pin, or lets go of it; the others stay as they were. False: the part has no such user pin.
    bool drive(const std::string& pin, board_sim::Drive drive);
    [[nodiscard]] board_sim::Drive driven(const std::string& pin) const;
    /// Shifts the register through once and keeps what was captured.
    void read();
    /// What was captured at a pin; none when it was not read, or there is no such pin.
    [[nodiscard]] std::optional<bool> captured(const std::string& pin) const;

private:
    [[nodiscard]] size_t index(const std::string& pin) const;
    void scan();
    BoundaryPins pins_;
    SimulatedChip chip_;
    std::vector<board_sim::Drive> driven_;
    std::vector<bool> captured_;
    std::unordered_map<std::string, size_t> index_;
};

}  // namespace kp::jtag
