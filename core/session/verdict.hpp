// SPDX-License-Identifier: GPL-3.0-or-later
// What a place would say to a port, asked before it is taken.
#pragma once

#include "core/rules/rules.hpp"
#include "core/session/snapshot.hpp"

#include <memory>
#include <string>
#include <vector>

namespace kp {

/// What places would say to ports: the same rules as Findings, tried on a copy of the plan that follows each question,
/// so that a question costs what one port and one pin cost. It owns the snapshot it speaks of and does not follow the
/// session; old() tells when that has gone on. One thread at a time.
class Trial {
public:
    explicit Trial(std::shared_ptr<const Snapshot> snapshot);
    Trial(const Trial&) = delete;
    Trial& operator=(const Trial&) = delete;

    /// The first stop of the location and electrical rules that would name `port` if it were pegged to `pin`, as
    /// "L02: Pin 46 holds …"; empty when the place is legal. That no I/O standard is chosen yet does not count, nor
    /// does what is waived.
    [[nodiscard]] std::string trouble(const std::string& port, const std::string& pin);
    /// The same for several at once: first all move, then each is asked. The first trouble, with the port in front.
    [[nodiscard]] std::string trouble_of_all(const std::vector<std::string>& ports,
                                             const std::vector<std::string>& pins);
    [[nodiscard]] const Snapshot& snapshot() const { return *snapshot_; }
    [[nodiscard]] bool old(unsigned long long revision) const { return snapshot_->revision != revision; }

private:
    void move(const Edit& edit);
    [[nodiscard]] std::string ask(const std::string& port, const std::string& pin) const;
    std::shared_ptr<const Snapshot> snapshot_;
    Project project_;
    RuleInput input_;
};

}  // namespace kp
