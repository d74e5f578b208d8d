// SPDX-License-Identifier: GPL-3.0-or-later
// The timing engine of an open project, kept from one edit to the next: an edit of the text, of an attribute or of a
// peg is followed instead of timing all anew. A report has the same bits either way.
#pragma once

#include "core/inputs/world.hpp"
#include "core/timing/engine.hpp"

#include <mutex>

namespace kp {

/// What the delay lines of the pads add to the inputs pegged to them, ns by port: steps chosen times the bank's step.
[[nodiscard]] std::map<std::string, double> pad_delays(const World& world, const Project& project);

/// From any thread. Reports wait for each other; a question of the kind "what if" does not wait, it is refused while a
/// report is under way.
class Timekeeper {
public:
    /// Builds the engine when the world or the options are others than last time, otherwise follows what is different.
    /// Cancelled by `stop`: the report says so, and the next one starts anew.
    [[nodiscard]] TimingReport report(std::shared_ptr<const World> world, const Constraints& constraints,
                                      const std::map<std::string, double>& pads, const TimingOptions& options,
                                      std::stop_token stop = {});

    /// Asks the engine under other constraints and puts everything back. False when there is no engine yet, a report is
    /// under way, or `stop` cancelled it; then the next report starts anew.
    bool what_if(const Constraints& constraints, const std::function<void(const TimingEngine&)>& ask,
                 std::stop_token stop = {});
    /// The same with other delays of pads.
    bool what_if(const Constraints& constraints, const std::map<std::string, double>& pads,
                 const std::function<void(const TimingEngine&)>& ask, std::stop_token stop = {});
    /// Asks the engine as it stands. False when there is none yet or a report is under way.
    bool ask(const std::function<void(const TimingEngine&)>& question) const;

    /// What the last report had to do.
    [[nodiscard]] TimingEngine::Work work() const;

private:
    mutable std::mutex lock_;
    std::shared_ptr<const World> world_;
    TimingOptions options_;
    std::map<std::string, double> pads_;
    std::unique_ptr<TimingEngine> engine_;
};

}  // namespace kp
