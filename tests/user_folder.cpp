// SPDX-License-Identifier: GPL-3.0-or-later
// Tests keep their hands off what the program remembers for the user who runs them.
#include <cstdlib>
#include <filesystem>
#include <string>
#include <unistd.h>

namespace {

struct OwnUserFolder {
    std::string path = (std::filesystem::temp_directory_path() / ("kpeg-user-" + std::to_string(::getpid()))).string();
    OwnUserFolder() { ::setenv("KITE_PEG_USER", path.c_str(), 1); }
    ~OwnUserFolder() {
        std::error_code ignored;
        std::filesystem::remove_all(path, ignored);
    }
} const own_user_folder;

}  // namespace
