// SPDX-License-Identifier: GPL-3.0-or-later
// Is there any legal placement at all? Exact: what a bank, a byte and a pair are used for is decided by a solver (Z3),
// and whether the ports then fit by the greatest flow. Where they do not, the narrowest cut says which ports crowd
// which pins (Hall 1935), and the solver learns that so many more pins are needed there (Benders 1962).
#pragma once

#include "core/pin_placement/problem.hpp"

#include <algorithm>
#include <chrono>
#include <memory>
#include <optional>
#include <stop_token>
#include <vector>

namespace kp::pin_placement {

/// What banks, bytes and pairs are used for.
struct Configuration {
    std::vector<int> supply, reference;  ///< per bank: an option; -1: none
    std::vector<int> group;              ///< per byte: its strobe group
    std::vector<bool> pair_used;         ///< per pair of pins
};

struct Limits {
    std::chrono::steady_clock::time_point until = std::chrono::steady_clock::time_point::max();
    std::stop_token stop;
    unsigned seed = 0;
    /// For the solver, which looks at its own watch: at most a minute at a time, so that a stop is seen.
    [[nodiscard]] unsigned milliseconds_left() const {
        const auto left =
            std::chrono::duration_cast<std::chrono::milliseconds>(until - std::chrono::steady_clock::now());
        return static_cast<unsigned>(std::clamp<long long>(left.count(), 1, 60'000));
    }
    [[nodiscard]] bool reached() const { return stop.stop_requested() || std::chrono::steady_clock::now() > until; }
};

class Feasibility {
public:
    explicit Feasibility(const Problem& problem, Limits limits = {});
    ~Feasibility();
    Feasibility(const Feasibility&) = delete;
    Feasibility& operator=(const Feasibility&) = delete;

    enum class Answer { yes, no, unknown };  ///< unknown: the limits were reached
    /// With the facts that count; `like`: a configuration to stay near, if it can be.
    Answer check(const std::vector<bool>& active, const Configuration* like = nullptr);
    /// After no: facts of the units that crowded each other on the way to that answer; mostly they conflict alone.
    [[nodiscard]] std::vector<int> crowd() const;
    /// After yes.
    [[nodiscard]] const Configuration& found() const;
    /// A place may be used as banks, bytes and facts are; whether its pins are taken is another matter.
    [[nodiscard]] static bool holds(const Problem& problem, const Kind& kind, const Candidate& place,
                                    const Configuration& as, const std::vector<bool>& active);
    /// The place does not need a fact to be left out that counts.
    [[nodiscard]] static bool open(const Candidate& place, const std::vector<bool>& active);

private:
    class Solver;
    std::unique_ptr<Solver> solver_;
};

}  // namespace kp::pin_placement
