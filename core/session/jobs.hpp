// SPDX-License-Identifier: GPL-3.0-or-later
// Work that takes longer than a call: one thread, first come, first served. Whoever asks never waits.
#pragma once

#include <condition_variable>
#include <deque>
#include <functional>
#include <mutex>
#include <optional>
#include <stop_token>
#include <string>
#include <thread>

namespace kp {

/// Every call from any thread. A job holds all it works on (a Snapshot, copies), polls its stop token, and says itself
/// when it is done.
class Jobs {
public:
    using Work = std::function<void(const std::stop_token&)>;
    Jobs() = default;
    /// Asks all to stop and waits for the one that runs.
    ~Jobs();
    Jobs(const Jobs&) = delete;
    Jobs& operator=(const Jobs&) = delete;

    /// Work of a kind takes the place of earlier work of the same kind: what waits is dropped, what runs is asked to
    /// stop.
    void start(const std::string& kind, Work work);
    void stop(const std::string& kind);
    /// Something of the kind waits or runs and was not asked to stop.
    [[nodiscard]] bool busy(const std::string& kind) const;
    /// Nothing waits or runs.
    [[nodiscard]] bool idle() const;

private:
    struct Job {
        std::string kind;
        Work work;
        std::stop_source stop;
    };
    void run();
    void drop(const std::string& kind);
    mutable std::mutex lock_;
    std::condition_variable come_;
    std::deque<Job> waiting_;
    std::string running_kind_;  ///< while something runs
    std::optional<std::stop_source> running_stop_;
    bool ended_ = false;
    std::thread thread_;
};

}  // namespace kp
