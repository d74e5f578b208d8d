// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/process.hpp"

#include "core/base/disk.hpp"

#include <csignal>
#include <filesystem>
#include <fstream>
#include <gtest/gtest.h>
#include <new>
#include <sys/wait.h>
#include <unistd.h>

namespace kp {
namespace {

namespace fs = std::filesystem;

/// What a child that does `work` ends with, and what it said on standard error.
struct Ended {
    int status = 0;
    std::string said;
};
template <class Work>
Ended child(Work work) {
    int ends[2];
    if (::pipe(ends) != 0) return {};
    const auto pid = ::fork();
    if (pid == 0) {
        ::dup2(ends[1], STDERR_FILENO);
        ::close(ends[0]);
        work();
        ::_exit(0);
    }
    ::close(ends[1]);
    Ended out;
    char buffer[4096];
    for (ssize_t n; (n = ::read(ends[0], buffer, sizeof buffer)) > 0;) out.said.append(buffer, static_cast<size_t>(n));
    ::close(ends[0]);
    ::waitpid(pid, &out.status, 0);
    return out;
}

struct ProcessTest : testing::Test {
    std::string folder = (fs::temp_directory_path() / ("kp_process_" + std::to_string(::getpid()))).string();
    ProcessTest() { fs::create_directories(folder); }
    ~ProcessTest() override { fs::remove_all(folder); }
};

TEST_F(ProcessTest, ASignalRemovesWhatWasBeingWrittenAndNothingElse) {
    for (const int number : {SIGTERM, SIGINT, SIGHUP}) {
        const auto ended = child([&] {
            end_tidily("test");
            (void)real_disk().create(folder + "/a.txt.new", "half");
            (void)real_disk().create(folder + "/b.txt.new", "whole");
            (void)real_disk().rename(folder + "/b.txt.new", folder + "/b.txt");
            (void)real_disk().create(folder + "/c.txt", "mine");
            ::raise(number);
        });
        EXPECT_TRUE(WIFSIGNALED(ended.status) && WTERMSIG(ended.status) == number);
        EXPECT_FALSE(fs::exists(folder + "/a.txt.new"));
        EXPECT_TRUE(fs::exists(folder + "/b.txt"));
        EXPECT_TRUE(fs::exists(folder + "/c.txt"));
        fs::remove(folder + "/c.txt");
    }
}

TEST_F(ProcessTest, AFileBeyondTheLimitIsAnErrorAndNoEnd) {
    const auto ended = child([&] {
        end_tidily("test");
        ::raise(SIGXFSZ);
    });
    EXPECT_TRUE(WIFEXITED(ended.status) && WEXITSTATUS(ended.status) == 0);
}

TEST_F(ProcessTest, LackingMemoryAndForgottenExceptionsSayOneLineAndEndWithTwo) {
    const auto lacking = child([&] {
        end_tidily("test");
        (void)real_disk().create(folder + "/d.new", "half");
        std::get_new_handler()();
    });
    EXPECT_TRUE(WIFEXITED(lacking.status) && WEXITSTATUS(lacking.status) == 2);
    EXPECT_EQ(lacking.said, "test: There is not enough memory for this. Give a smaller input, or more memory.\n");
    EXPECT_FALSE(fs::exists(folder + "/d.new"));
    const auto forgotten = child([] {
        end_tidily("test");
        std::terminate();
    });
    EXPECT_TRUE(WIFEXITED(forgotten.status) && WEXITSTATUS(forgotten.status) == 2);
    EXPECT_EQ(std::count(forgotten.said.begin(), forgotten.said.end(), '\n'), 1);
}

TEST_F(ProcessTest, ClosedStandardStreamsTakeNoFilesNumber) {
    const auto path = folder + "/file";
    const auto ended = child([&] {
        for (const int fd : {0, 1, 2}) ::close(fd);
        open_standard_streams();
        std::ofstream(path) << "text";
        // A result that nobody gets is an error of its write; a message that nobody sees is none.
        const bool out = ::write(STDOUT_FILENO, "x", 1) < 0, err = ::write(STDERR_FILENO, "x", 1) == 1;
        ::_exit(out && err ? 0 : 1);
    });
    EXPECT_TRUE(WIFEXITED(ended.status) && WEXITSTATUS(ended.status) == 0);
    std::ifstream in(path);
    EXPECT_EQ(std::string(std::istreambuf_iterator<char>(in), {}), "text");
}

}  // namespace
}  // namespace kp
