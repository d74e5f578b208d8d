// SPDX-License-Identifier: GPL-3.0-or-later
// Projects and files as nobody well-meaning makes them. Every reader, kpeg and the window are given all of them.
#pragma once

#include <functional>
#include <string>
#include <vector>

namespace kp::hostile {

/// What stands in the user's file that no message, report or handoff may show.
inline const std::string secret = "TOP-SECRET-WORD";

struct Trap {
    const char* name;
    /// Changes a fresh copy of the small demo in `folder` into the trap; `secret` is the path of the user's file
    /// outside of it.
    std::function<void(const std::string& folder, const std::string& secret)> lay;
};
[[nodiscard]] const std::vector<Trap>& traps();

/// A fresh copy of the demo with the trap laid; gives the path of the project.
[[nodiscard]] std::string lay(const Trap& trap, const std::string& folder, const std::string& secret);

/// All files below a folder with their contents, links and pipes by what they are.
[[nodiscard]] std::string contents(const std::string& folder);

}  // namespace kp::hostile
