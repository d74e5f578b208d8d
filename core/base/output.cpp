// SPDX-License-Identifier: GPL-3.0-or-later
// Results are whole when this returns well: a file is replaced by rename, everything else is written to its last byte.
// The descriptors of standard output and the like are used as they are and stay open.
#include "core/base/output.hpp"

#include "core/base/disk.hpp"
#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <cerrno>
#include <chrono>
#include <cstring>
#include <fcntl.h>
#include <poll.h>
#include <sys/stat.h>
#include <thread>
#include <unistd.h>

namespace kp {

namespace {

constexpr int patience_ms = 30'000, reader_ms = 5'000;  // for a reader that is busy; for one to come

Message trouble(const std::string& path) {
    return {Severity::stop, Code::file, said("cannot be written: {}.", std::strerror(errno)), path};
}

/// The descriptor that a name such as /dev/stdout stands for, -1 for other names. To open it anew would begin at its
/// start again.
int descriptor_of(const std::string& path) {
    if (path == "-" || path == "/dev/stdout") return STDOUT_FILENO;
    if (path == "/dev/stderr") return STDERR_FILENO;
    for (const std::string start : {"/dev/fd/", "/proc/self/fd/"})
        if (path.starts_with(start))
            if (const auto n = to_integer(path.substr(start.size())); n && *n >= 0 && *n < 1'000'000)
                return static_cast<int>(*n);
    return -1;
}

Status put(int fd, const std::string& name, std::string_view text, bool impatient) {
    while (!text.empty()) {
        if (impatient) {
            pollfd p{fd, POLLOUT, 0};
            const int ready = ::poll(&p, 1, patience_ms);
            if (ready < 0 && errno == EINTR) continue;
            if (ready == 0)
                return Message{Severity::stop, Code::file,
                               "is a pipe from which nobody read for 30 s; it was given up.", name};
        }
        const auto n = ::write(fd, text.data(), text.size());
        if (n < 0 && (errno == EINTR || errno == EAGAIN)) continue;
        if (n < 0) return trouble(name);
        text.remove_prefix(static_cast<size_t>(n));
    }
    return Done{};
}

/// A pipe, a device or a socket, as it is.
Status write_straight(const std::string& path, std::string_view text) {
    const auto end = std::chrono::steady_clock::now() + std::chrono::milliseconds(reader_ms);
    int fd = -1;
    // A pipe can be opened as soon as somebody reads from it.
    while ((fd = ::open(path.c_str(), O_WRONLY | O_NONBLOCK | O_NOCTTY | O_CLOEXEC)) < 0 && errno == ENXIO &&
           std::chrono::steady_clock::now() < end)
        std::this_thread::sleep_for(std::chrono::milliseconds(20));
    if (fd < 0)
        return errno == ENXIO
                   ? Status(Message{Severity::stop, Code::file,
                                    "is a pipe that nobody opened for reading within 5 s; it was given up.", path})
                   : Status(trouble(path));
    auto status = put(fd, path, text, true);
    if (::close(fd) != 0 && status) status = trouble(path);
    return status;
}

}  // namespace

Status write_output(const std::string& path, std::string_view text) {
    if (const int fd = descriptor_of(path); fd >= 0)
        return put(fd, fd == STDOUT_FILENO ? "standard output" : path, text, false);
    auto& disk = real_disk();
    switch (disk.kind(path)) {
        case FileKind::folder: return Message{Severity::stop, Code::file, "is a folder; name a file in it.", path};
        case FileKind::other: return write_straight(path, text);
        default: return replace_file(disk, path, text, "." + std::to_string(::getpid()));
    }
}

bool same_file(const std::string& a, const std::string& b) {
    struct stat x {
    }, y{};
    if (::stat(a.c_str(), &x) == 0 && ::stat(b.c_str(), &y) == 0) return x.st_dev == y.st_dev && x.st_ino == y.st_ino;
    return real_disk().real_path(a) == real_disk().real_path(b);
}

Status check_outputs(const std::vector<std::string>& results, const std::vector<std::string>& inputs) {
    const auto file = [](const std::string& path) {
        return !path.empty() && descriptor_of(path) < 0 && real_disk().kind(path) != FileKind::other;
    };
    for (size_t i = 0; i < results.size(); ++i) {
        for (size_t k = 0; k < i && descriptor_of(results[i]) >= 0; ++k)
            if (descriptor_of(results[k]) == descriptor_of(results[i]))
                return Message{Severity::stop, Code::arguments,
                               "is named for two results, which would be mixed. Name a file for one of them.",
                               results[i] == "-" ? "standard output" : results[i]};
        if (!file(results[i])) continue;
        if (real_disk().kind(results[i]) == FileKind::folder)
            return Message{Severity::stop, Code::arguments, "is a folder; name a file in it.", results[i]};
        for (const auto& input : inputs)
            if (!input.empty() && same_file(results[i], input))
                return Message{Severity::stop, Code::arguments,
                               "is read by this command, or belongs to the project; a result would write over it. Name "
                               "another file.",
                               results[i]};
        for (size_t k = 0; k < i; ++k)
            if (file(results[k]) && same_file(results[i], results[k]))
                return Message{Severity::stop, Code::arguments,
                               "is named for two results; the second would write over the first.", results[i]};
    }
    return Done{};
}

}  // namespace kp
