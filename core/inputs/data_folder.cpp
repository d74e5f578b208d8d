// SPDX-License-Identifier: GPL-3.0-or-later
// KITE_PEG_DATA, then beside the program, then the source tree it was built in.
#include "core/inputs/data_folder.hpp"

#include <cstdlib>
#include <filesystem>

namespace kp {

std::string data_folder() {
    if (const char* chosen = std::getenv("KITE_PEG_DATA"); chosen && *chosen) return chosen;
    std::error_code error;
    const auto program = std::filesystem::read_symlink("/proc/self/exe", error);
    if (!error) {
        const auto beside = program.parent_path().parent_path() / "share" / "kite-peg";
        if (std::filesystem::exists(beside, error)) return beside.string();
    }
    return KITE_PEG_DATA;
}

}  // namespace kp
