// SPDX-License-Identifier: GPL-3.0-or-later
// Plain arithmetic and one table of published rates.
#include "core/clocks/rates.hpp"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>

namespace kp::clocks {

namespace {

constexpr const char* dmt = "VESA DMT (from memory)";
constexpr const char* cta = "CTA-861 (from memory)";
constexpr const char* network = "IEEE 802.3 (from memory)";
constexpr const char* audio = "IEC 60958, 256 samples a frame (from memory)";

// Pixel clock = horizontal total * vertical total * frames a second, as published to 10 kHz.
constexpr std::array rates{
    PublishedRate{"640 x 480 at 60 Hz (800 x 525)", 25.175, dmt},
    PublishedRate{"800 x 600 at 60.3 Hz (1056 x 628)", 40.0, dmt},
    PublishedRate{"1024 x 768 at 60 Hz (1344 x 806)", 65.0, dmt},
    PublishedRate{"1280 x 800 at 60 Hz (1680 x 831)", 83.5, dmt},
    PublishedRate{"1366 x 768 at 60 Hz (1792 x 798)", 85.5, dmt},
    PublishedRate{"1440 x 900 at 60 Hz (1904 x 934)", 106.5, dmt},
    PublishedRate{"1280 x 1024 at 60 Hz (1688 x 1066)", 108.0, dmt},
    PublishedRate{"1680 x 1050 at 60 Hz (2240 x 1089)", 146.25, dmt},
    PublishedRate{"1600 x 1200 at 60 Hz (2160 x 1250)", 162.0, dmt},
    PublishedRate{"720 x 480 at 59.94 Hz (858 x 525)", 27.0, cta},
    PublishedRate{"720 x 576 at 50 Hz (864 x 625)", 27.0, cta},
    PublishedRate{"1280 x 720 at 60 Hz (1650 x 750)", 74.25, cta},
    PublishedRate{"1280 x 720 at 50 Hz (1980 x 750)", 74.25, cta},
    PublishedRate{"1920 x 1080 at 60 Hz (2200 x 1125)", 148.5, cta},
    PublishedRate{"1920 x 1080 at 50 Hz (2640 x 1125)", 148.5, cta},
    PublishedRate{"1920 x 1080 at 59.94 Hz (2200 x 1125)", 148.5 / 1.001, cta},
    PublishedRate{"1920 x 1080 at 24 Hz (2750 x 1125)", 74.25, cta},
    PublishedRate{"10 Mb/s, four bits wide", 2.5, network},
    PublishedRate{"100 Mb/s, four bits wide", 25.0, network},
    PublishedRate{"100 Mb/s, two bits wide", 50.0, "RMII 1.2 (from memory)"},
    PublishedRate{"1 Gb/s, eight bits wide or four at both edges", 125.0, network},
    PublishedRate{"audio of 44.1 kHz", 11.2896, audio},
    PublishedRate{"audio of 48 kHz", 12.288, audio},
    PublishedRate{"audio of 96 kHz", 24.576, audio},
    PublishedRate{"serial bus of 12 Mb/s", 48.0, "USB 2.0, four samples a bit (from memory)"},
    PublishedRate{"watch, one second at bit 15", 0.032768, "common practice, no source"},
};

constexpr std::array<double, 16> bauds{300,    1200,   2400,   4800,   9600,    19200,   38400,   57600,
                                       115200, 230400, 460800, 921600, 1000000, 1500000, 2000000, 3000000};

}  // namespace

Divider divider(double clock_mhz, double wanted_hz) {
    const double exact = clock_mhz * 1e6 / wanted_hz;
    const double n = std::clamp(std::round(exact), 1.0, 9e18);
    Divider out;
    out.terminal = static_cast<std::uint64_t>(n) - 1;
    out.width = std::max(1, static_cast<int>(std::bit_width(out.terminal)));
    out.hz = clock_mhz * 1e6 / n;
    out.error_ppm = (out.hz / wanted_hz - 1) * 1e6;
    out.shortened_terminal = std::max(0.0, std::round(n / 100) - 1);
    return out;
}

CounterBit counter_bit(double clock_mhz, int bit) {
    const double toggles = clock_mhz * 1e6 / std::ldexp(1.0, bit);
    return {toggles, toggles / 2};
}

int blink_bit(double clock_mhz, double wanted_hz) {
    const double exact = std::log2(clock_mhz * 1e6 / wanted_hz) - 1;
    int best = 0;
    for (const int bit : {static_cast<int>(std::floor(exact)), static_cast<int>(std::ceil(exact))})
        if (bit >= 0 && std::fabs(counter_bit(clock_mhz, bit).cycles_hz - wanted_hz) <
                            std::fabs(counter_bit(clock_mhz, best).cycles_hz - wanted_hz))
            best = bit;
    return best;
}

Baud baud(double clock_mhz, double wanted, int oversampling) {
    Baud out;
    out.wanted = wanted;
    out.divide = static_cast<std::uint64_t>(std::max(1.0, std::round(clock_mhz * 1e6 / (wanted * oversampling))));
    out.made = clock_mhz * 1e6 / static_cast<double>(out.divide) / oversampling;
    out.error_percent = (out.made / wanted - 1) * 100;
    // The start edge is seen up to one sample late.
    out.frame_error_bits = 9.5 * std::fabs(out.made / wanted - 1) + 1.0 / oversampling;
    if (oversampling == 1) out.frame_error_bits = 9.5 * std::fabs(out.made / wanted - 1);
    return out;
}

std::span<const PublishedRate> published_rates() {
    return rates;
}

std::vector<NearRate> near_rates(double clock_mhz, double most_ppm) {
    std::vector<NearRate> out;
    for (const auto& rate : rates) {
        const double exact = clock_mhz / rate.mhz;
        const int divide = static_cast<int>(std::clamp(std::round(exact), 1.0, 1e6));
        const double error = (clock_mhz / divide / rate.mhz - 1) * 1e6;
        if (std::fabs(error) <= most_ppm) out.push_back({&rate, divide, error});
    }
    std::stable_sort(out.begin(), out.end(), [](const NearRate& a, const NearRate& b) {
        return std::fabs(a.error_ppm) < std::fabs(b.error_ppm);
    });
    return out;
}

}  // namespace kp::clocks
