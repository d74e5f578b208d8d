// SPDX-License-Identifier: GPL-3.0-or-later
// Waits for something that another thread brings about, and gives up instead of hanging.
#pragma once

#include <chrono>
#include <functional>
#include <thread>

namespace kp {

[[nodiscard]] inline bool wait_for(const std::function<bool()>& so,
                                   std::chrono::seconds most = std::chrono::seconds(60)) {
    const auto until = std::chrono::steady_clock::now() + most;
    while (!so()) {
        if (std::chrono::steady_clock::now() > until) return false;
        std::this_thread::sleep_for(std::chrono::milliseconds(1));
    }
    return true;
}

}  // namespace kp
