// SPDX-License-Identifier: GPL-3.0-or-later
// Counters and dividers, baud rates, and the published rates that a clock gives without a PLL.
#pragma once

#include <cstdint>
#include <span>
#include <string>
#include <vector>

namespace kp::clocks {

/// A counter that divides a clock: it counts 0 … terminal and starts again.
struct Divider {
    std::uint64_t terminal = 0;  ///< last value; the division is terminal + 1
    int width = 1;               ///< bits that hold it
    double hz = 0;               ///< real rate of its wrap
    double error_ppm = 0;        ///< against what was wanted
    double shortened_terminal =
        0;  ///< the same with the clock divided by 100 for simulation, rounded; see docs/tempo.md
};
/// The nearest division of `clock_mhz` to `wanted_hz`; at least 1. Both above 0.
[[nodiscard]] Divider divider(double clock_mhz, double wanted_hz);

/// Bit `bit` of a free counter: it turns so often a second; a full blink is two turns.
struct CounterBit {
    double toggles_hz = 0, cycles_hz = 0;
};
[[nodiscard]] CounterBit counter_bit(double clock_mhz, int bit);
/// The bit of a free counter whose full cycles come nearest to `wanted_hz`.
[[nodiscard]] int blink_bit(double clock_mhz, double wanted_hz);

/// A serial rate made by dividing. The receiver samples each bit `oversampling` times; over a frame of start bit, eight
/// data bits and stop bit the error adds up to where the stop bit is sampled, 9.5 bits after the start edge.
struct Baud {
    double wanted = 0, made = 0, error_percent = 0;
    std::uint64_t divide = 1;
    double frame_error_bits = 0;  ///< where the stop bit is sampled, in bits off its middle; 0.5 is lost
    [[nodiscard]] bool usable() const { return frame_error_bits < 0.3; }  ///< common practice, no source
};
[[nodiscard]] Baud baud(double clock_mhz, double wanted, int oversampling);

/// A rate that somebody published.
struct PublishedRate {
    const char* what;
    double mhz;
    const char* source;
};
/// Display timings of VESA DMT and CTA-861, network, audio and other rates. All from memory.
[[nodiscard]] std::span<const PublishedRate> published_rates();

struct NearRate {
    const PublishedRate* rate = nullptr;
    int divide = 1;        ///< of the clock
    double error_ppm = 0;  ///< what is made against what was published
};
/// Published rates that a whole division of the clock gives within `most_ppm`, the nearest first.
[[nodiscard]] std::vector<NearRate> near_rates(double clock_mhz, double most_ppm);

}  // namespace kp::clocks
