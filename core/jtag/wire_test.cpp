// SPDX-License-Identifier: GPL-3.0-or-later
// The wires are one object with two ends: the chip drives one through its cells, the probes look at the other.
#include "core/jtag/wire_test.hpp"

#include <map>

namespace kp::jtag {

namespace {

/// Wires between the pins of a part and where they end.
class Wires : public PinSide {
public:
    Wires(std::vector<size_t> wire_of_pin, size_t wires, const std::vector<WireFault>& faults)
        : wire_of_pin_(std::move(wire_of_pin)), driven_(wires, true), faults_(faults) {}

    void drive(size_t pin, bool drives, bool value) override {
        // What nobody drives is held high by its pull-up.
        if (const auto wire = wire_of_pin_[pin]; wire != none) driven_[wire] = !drives || value;
    }
    [[nodiscard]] bool sees(size_t pin) const override {
        const auto wire = wire_of_pin_[pin];
        if (wire == none) return true;
        std::vector<WireFault> near;  // an open or a swap lies further out
        for (const auto& f : faults_)
            if (f.kind == WireFault::short_and || f.kind == WireFault::short_or) near.push_back(f);
        return answers_of({driven_}, near)[0][wire];
    }
    [[nodiscard]] std::vector<bool> far_ends() const { return answers_of({driven_}, faults_)[0]; }

    static constexpr size_t none = SIZE_MAX;

private:
    std::vector<size_t> wire_of_pin_;
    std::vector<bool> driven_;
    const std::vector<WireFault>& faults_;
};

}  // namespace

WireTest test_wires(const Part& part, const std::vector<ScanWire>& wires,
                    const std::vector<std::vector<bool>>& patterns, const std::vector<WireFault>& made) {
    std::map<std::string, size_t> wire_at;
    for (size_t w = 0; w < wires.size(); ++w) wire_at.emplace(wires[w].pin, w);
    std::vector<size_t> wire_of_pin;
    for (const auto& pin : part.pins) {
        if (!pin.usable()) continue;
        const auto at = wire_at.find(pin.name);
        wire_of_pin.push_back(at == wire_at.end() ? Wires::none : at->second);
    }
    Wires board(wire_of_pin, wires.size(), made);
    SimulatedChip chip(part.idcode, wire_of_pin.size());
    chip.attach(&board);
    WireTest out;
    const auto scan = [&](const std::vector<bool>& pattern) {
        std::vector<bool> bits;
        for (const auto wire : wire_of_pin) {
            bits.push_back(wire != Wires::none && pattern[wire]);
            bits.push_back(wire != Wires::none);
            bits.push_back(false);
        }
        out.bits += bits.size();
        return exchange(chip, SimulatedChip::ir_extest, bits);
    };
    for (size_t row = 0; row < patterns.size(); ++row) {
        scan(patterns[row]);
        out.received.push_back(board.far_ends());
        // The register captures before it is updated: what the pins show of this pattern comes out with the same again.
        const auto seen = scan(patterns[row]);
        out.captured.emplace_back(wires.size(), true);
        for (size_t pin = 0; pin < wire_of_pin.size() && 3 * pin + 2 < seen.size(); ++pin)
            if (wire_of_pin[pin] != Wires::none) out.captured.back()[wire_of_pin[pin]] = seen[3 * pin + 2];
    }
    out.faults = faults_in(patterns, out.received);
    return out;
}

}  // namespace kp::jtag
