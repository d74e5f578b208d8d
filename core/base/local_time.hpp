// SPDX-License-Identifier: GPL-3.0-or-later
// The clock on the wall, for words a person reads (the log, who holds a project); the manifest uses UTC.
#pragma once

#include <ctime>
#include <string>

namespace kp {

/// The time of the place where the program runs, in the form of strftime(3), at most 63 characters.
[[nodiscard]] inline std::string local_time(const char* form) {
    const std::time_t t = std::time(nullptr);
    std::tm local{};
    localtime_r(&t, &local);
    char text[64];
    return {text, std::strftime(text, sizeof text, form, &local)};
}

}  // namespace kp
