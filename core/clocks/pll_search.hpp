// SPDX-License-Identifier: GPL-3.0-or-later
// Settings of a part's PLLs that make wanted frequencies out of one: every legal setting is considered, none is
// guessed. detector = in / D, VCO = detector * M, output k = VCO / Ok; a phase is a whole number of eighths of a VCO
// period.
#pragma once

#include "core/clocks/fraction.hpp"
#include "core/model/part.hpp"

#include <optional>
#include <stop_token>
#include <string>
#include <vector>

namespace kp::clocks {

struct PllWish {
    Fraction in;                     ///< MHz
    std::vector<Fraction> want;      ///< MHz, at least one, at most most_wants
    std::vector<Fraction> phase;     ///< degrees, one for each want, or none
    std::string pll;                 ///< only this one; empty: all of the part
    std::optional<Fraction> within;  ///< greatest |ppm| of any output
    std::size_t best = 20;           ///< how many settings are given
};
constexpr std::size_t most_wants = 16, most_settings = 1'000'000;

struct PllOutput {
    Fraction want, made, error_ppm;
    int divide = 1;
    int phase_steps = 0;  ///< eighths of a VCO period
    Fraction phase_deg;   ///< what they make of the output's period, in [0, 360)
};

struct PllSetting {
    std::string pll;
    int divide = 1, multiply = 1;
    Fraction detector, vco;
    std::vector<PllOutput> outputs;
    Fraction worst_ppm, sum_ppm;  ///< of |ppm|
};

/// A range that a setting leaves, or that leaves none.
struct PllLimit {
    std::string
        what;  ///< "input", "detector", "vco", "output", "divide", "multiply", "output_divide", "outputs", "within"
    Fraction value, least, most;
};

/// "The VCO would run at 480 MHz; this part takes 620 to 1540 MHz."
[[nodiscard]] std::string sentence(const PllLimit& limit);

struct PllAnswer {
    std::vector<PllSetting> solutions;         ///< the best first; empty: see `nearest` and `limit`
    boost::multiprecision::cpp_int legal = 0;  ///< settings inside all ranges, whatever they make
    std::optional<PllSetting> nearest;         ///< the best legal one when nothing is near enough
    std::optional<PllLimit> limit;
    /// A setting that would be nearer than all legal ones, and the first range it leaves; none when there is none.
    std::optional<PllSetting> beyond;
    std::optional<PllLimit> beyond_limit;
    bool stopped = false;
};

/// Ranked by: smallest worst |ppm|, smallest sum of |ppm|, highest detector, highest VCO, then the order of the part
/// file. Errors: no such PLL, a part without any, more wants than most_wants, phases that do not count up to the wants,
/// more settings than most_settings.
[[nodiscard]] Result<PllAnswer> search_pll(const Part& part, const PllWish& wish, const std::stop_token& stop = {});

/// One create_generated_clock for each output, from the pin `source` to the pins `outputs`, named by `names`. A phase
/// is said with -edges and -edge_shift, since SDC has no other way.
[[nodiscard]] std::vector<std::string> generated_clocks(const PllSetting& setting, const std::string& source,
                                                        const std::vector<std::string>& outputs,
                                                        const std::vector<std::string>& names, double in_period_ns);

}  // namespace kp::clocks
