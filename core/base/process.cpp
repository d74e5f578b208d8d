// SPDX-License-Identifier: GPL-3.0-or-later
// A handler may only do what POSIX calls async-signal-safe (POSIX.1-2008, 2.4.3): names lie in fixed arrays, and a slot
// is taken and given back by one atomic word, so that the handler sees a whole name or none.
#include "core/base/process.hpp"

#include <array>
#include <atomic>
#include <cerrno>
#include <csignal>
#include <cstring>
#include <exception>
#include <fcntl.h>
#include <mutex>
#include <new>
#include <unistd.h>

namespace kp {

namespace {

struct Slot {
    std::atomic<bool> taken{false};
    char path[4096] = {};
};
std::array<Slot, 8> slots;
std::mutex slots_turn;
char program[64] = "";
std::new_handler new_handler_before = nullptr;
std::terminate_handler terminate_before = nullptr;

void remove_unfinished() {
    for (auto& slot : slots)
        if (slot.taken.load(std::memory_order_acquire)) ::unlink(slot.path);
}

void say(const char* text) {
    (void)!::write(STDERR_FILENO, program, std::strlen(program));
    (void)!::write(STDERR_FILENO, text, std::strlen(text));
}

void at_signal(int number) {
    remove_unfinished();
    // The default action ends the program as the signal would have.
    std::signal(number, SIG_DFL);
    ::raise(number);
}

[[noreturn]] void at_lack_of_memory() {
    remove_unfinished();
    say(": There is not enough memory for this. Give a smaller input, or more memory.\n");
    ::_exit(2);
}

[[noreturn]] void at_terminate() {
    remove_unfinished();
    say(": This input met a mistake of the program, and it ended; what was saved or is in the journal is kept. Please "
        "report the input.\n");
    ::_exit(2);
}

}  // namespace

void open_standard_streams() {
    for (int fd = 0; fd <= 2; ++fd)
        if (::fcntl(fd, F_GETFD) < 0 && errno == EBADF) {
            // The lowest free number is this one, since those below it are open.
            const int got = ::open("/dev/null", fd == STDERR_FILENO ? O_WRONLY : O_RDONLY);
            if (got >= 0 && got != fd) {
                ::dup2(got, fd);
                ::close(got);
            }
        }
}

void end_tidily(const char* name) {
    std::strncpy(program, name, sizeof program - 1);
    for (const int number : {SIGINT, SIGTERM, SIGHUP, SIGXCPU}) {
        struct sigaction now {};
        // nohup and the like have them ignored, which stays so.
        if (::sigaction(number, nullptr, &now) == 0 && now.sa_handler == SIG_IGN) continue;
        std::signal(number, at_signal);
    }
    std::signal(SIGXFSZ, SIG_IGN);
    new_handler_before = std::set_new_handler(at_lack_of_memory);
    terminate_before = std::set_terminate(at_terminate);
}

void end_as_ever() {
    for (const int number : {SIGINT, SIGTERM, SIGHUP, SIGXCPU, SIGXFSZ}) std::signal(number, SIG_DFL);
    std::set_new_handler(new_handler_before);
    if (terminate_before) std::set_terminate(terminate_before);
}

void remember_unfinished(const std::string& path) {
    const std::scoped_lock turn(slots_turn);
    for (auto& slot : slots) {
        if (slot.taken.load(std::memory_order_relaxed) || path.size() >= sizeof slot.path) continue;
        std::memcpy(slot.path, path.c_str(), path.size() + 1);
        slot.taken.store(true, std::memory_order_release);
        return;
    }
}

void forget_unfinished(const std::string& path) {
    const std::scoped_lock turn(slots_turn);
    for (auto& slot : slots)
        if (slot.taken.load(std::memory_order_relaxed) && path == slot.path)
            slot.taken.store(false, std::memory_order_release);
}

}  // namespace kp
