// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace kp::fuzz {

/// A reader under test: what it is fed, the files it starts from, and words it knows.
struct Target {
    const char* name;
    void (*run)(std::string_view text);
    std::vector<std::string> seeds;  ///< below the source folder; a folder takes all its files
    std::vector<std::string> words;
};
[[nodiscard]] const std::vector<Target>& targets();

}  // namespace kp::fuzz
