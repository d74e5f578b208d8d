// SPDX-License-Identifier: GPL-3.0-or-later
// Three cells a pin, in the order of the register: what it drives, whether it drives, what is seen.
#include "core/jtag/boundary.hpp"

#include <algorithm>

namespace kp::jtag {

BoundaryPins::BoundaryPins(board_sim::BoardModel& model, const Part& part) : model_(model) {
    for (const auto& pin : part.pins)
        if (pin.usable()) pins_.push_back(pin.name);
}

void BoundaryPins::drive(size_t pin, bool drives, bool value) {
    model_.drive_pin(pins_[pin], drives ? board_sim::drive_of(value) : board_sim::Drive::off);
}

bool BoundaryPins::sees(size_t pin) const {
    return model_.level_at_pin(pins_[pin]) == Level::high;
}

BoundaryTester::BoundaryTester(board_sim::BoardModel& model, const Part& part)
    : pins_(model, part), chip_(part.idcode, pins_.pins().size()), driven_(pins_.pins().size(), board_sim::Drive::off) {
    for (size_t i = 0; i < pins_.pins().size(); ++i) index_.emplace(pins_.pins()[i], i);
    chip_.attach(&pins_);
}

size_t BoundaryTester::index(const std::string& pin) const {
    const auto at = index_.find(pin);
    return at == index_.end() ? SIZE_MAX : at->second;
}

void BoundaryTester::scan() {
    std::vector<bool> bits;
    for (const auto d : driven_) {
        bits.push_back(d == board_sim::Drive::high);
        bits.push_back(d != board_sim::Drive::off);
        bits.push_back(false);
    }
    const bool drives =
        std::any_of(driven_.begin(), driven_.end(), [](board_sim::Drive d) { return d != board_sim::Drive::off; });
    captured_ = exchange(chip_, drives ? SimulatedChip::ir_extest : SimulatedChip::ir_sample, bits);
}

bool BoundaryTester::drive(const std::string& pin, board_sim::Drive drive) {
    const auto i = index(pin);
    if (i == SIZE_MAX) return false;
    driven_[i] = drive;
    scan();  // drives
    scan();  // and sees what that made of the wires
    return true;
}

board_sim::Drive BoundaryTester::driven(const std::string& pin) const {
    const auto i = index(pin);
    return i == SIZE_MAX ? board_sim::Drive::off : driven_[i];
}

void BoundaryTester::read() {
    scan();
}

std::optional<bool> BoundaryTester::captured(const std::string& pin) const {
    const auto i = index(pin);
    if (i == SIZE_MAX || 3 * i + 2 >= captured_.size()) return {};
    return captured_[3 * i + 2];
}

}  // namespace kp::jtag
