// SPDX-License-Identifier: GPL-3.0-or-later
// Runs kpeg as a script would.
#pragma once

#include <filesystem>
#include <fstream>
#include <string>

namespace kpeg_test {

struct Answer {
    int status = -1;  ///< exit status; 128 and more: ended by a signal, or by the time limit (137)
    std::string out, err;
};
/// `arguments` for a shell; no run may take longer than `seconds`.
[[nodiscard]] Answer run(const std::string& arguments, int seconds = 60);
/// The same behind a command of the shell, such as "ulimit -f 0" or "exec 1>&-".
[[nodiscard]] Answer run_with(const std::string& before, const std::string& arguments, int seconds = 60);

[[nodiscard]] inline std::string slurp(const std::string& path) {
    std::ifstream in(path, std::ios::binary);
    return {std::istreambuf_iterator<char>(in), {}};
}

/// A folder of its own with the demo in it, gone at the end.
struct Demo {
    std::string folder;
    explicit Demo(const std::string& name);
    ~Demo() {
        std::error_code ignored;
        std::filesystem::remove_all(folder, ignored);
    }
    Demo(const Demo&) = delete;
    Demo& operator=(const Demo&) = delete;
    [[nodiscard]] std::string operator/(const std::string& file) const { return folder + "/" + file; }
};

}  // namespace kpeg_test
