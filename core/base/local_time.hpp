// SPDX-License-Identifier: GPL-3.0-or-later
// The clock on the wall and who looks at it, for words a person reads (the log, who holds a project); the manifest
// uses UTC.
#pragma once

#include <cstdlib>
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

/// Who works here, for waivers and records: $USER, else "user".
[[nodiscard]] inline std::string user_name() {
    const char* name = std::getenv("USER");
    return name && *name ? name : "user";
}

}  // namespace kp
