// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/kpeg/runner.hpp"

#include <array>
#include <cstdio>
#include <sys/wait.h>
#include <unistd.h>

namespace kpeg_test {

namespace fs = std::filesystem;

Answer run(const std::string& arguments, int seconds) {
    return run_with("true", arguments, seconds);
}

Answer run_with(const std::string& before, const std::string& arguments, int seconds) {
    const auto error = (fs::temp_directory_path() / ("kpeg_err_" + std::to_string(::getpid()))).string();
    Answer a;
    FILE* pipe =
        ::popen(("exec 2>'" + error + "'; " + before + "; KITE_PEG_DATA='" KP_SOURCE "/data' timeout -s KILL " +
                 std::to_string(seconds) + " '" KP_KPEG "' " + arguments)
                    .c_str(),
                "r");
    std::array<char, 4096> buffer{};
    while (const size_t n = std::fread(buffer.data(), 1, buffer.size(), pipe)) a.out.append(buffer.data(), n);
    const int status = ::pclose(pipe);
    a.status = WIFEXITED(status) ? WEXITSTATUS(status) : 128 + WTERMSIG(status);
    a.err = slurp(error);
    std::remove(error.c_str());
    return a;
}

Demo::Demo(const std::string& name)
    : folder((fs::temp_directory_path() / ("kpeg-" + name + "-" + std::to_string(::getpid()))).string()) {
    fs::remove_all(folder);
    fs::create_directories(folder);
    for (const char* file : {"vane.kpeg", "vane.v", "vane.sdf", "clocks.sdc", "ports.sdc"}) {
        fs::copy_file(std::string(KP_SOURCE "/demo/vane/") + file, folder + "/" + file);
        fs::permissions(folder + "/" + file, fs::perms::owner_read | fs::perms::owner_write);
    }
}

}  // namespace kpeg_test
