// SPDX-License-Identifier: GPL-3.0-or-later
// The disk of the machine. Every open says O_NONBLOCK and looks at what it got: a pipe with nobody at its other end, or
// a device, must not stop the program. Every open for writing says O_EXCL or O_NOFOLLOW: what a stranger laid under our
// names is not written through.
#include "core/base/disk.hpp"

#include "core/base/process.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cerrno>
#include <chrono>
#include <cstring>
#include <deque>
#include <fcntl.h>
#include <filesystem>
#include <poll.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <sys/sysmacros.h>
#include <unistd.h>
#include <utility>

namespace kp {

namespace {

using Clock = std::chrono::steady_clock;
constexpr auto pipe_writer = std::chrono::seconds(5);    // a script starts both ends at once
constexpr auto pipe_silence = std::chrono::seconds(30);  // whoever writes into a pipe is computing, not asleep
constexpr auto pipe_whole = std::chrono::minutes(10);

Message trouble(const std::string& path, const std::string& what) {
    return {Severity::stop,
            errno == EEXIST ? Code::exists : Code::file,
            said("{}: {}.", what, std::strerror(errno)),
            path,
            0,
            0};
}
Message refused(const std::string& path, const std::string& what) {
    return {Severity::stop, Code::file, what, path};
}
Message too_large(const std::string& path, size_t limit) {
    return {Severity::stop, Code::limit, said("is larger than {} bytes, the limit for this kind of file.", limit),
            path};
}

/// Closes its descriptor at the end of the scope.
struct Descriptor {
    int fd = -1;
    explicit Descriptor(int value) : fd(value) {}
    Descriptor(Descriptor&& other) noexcept : fd(std::exchange(other.fd, -1)) {}
    Descriptor(const Descriptor&) = delete;
    Descriptor& operator=(const Descriptor&) = delete;
    ~Descriptor() {
        if (fd >= 0) ::close(fd);
    }
};

const char* kind_of(const struct stat& info) {
    if (S_ISDIR(info.st_mode)) return "is a folder; a file was expected.";
    if (S_ISFIFO(info.st_mode)) return "is a pipe; a file was expected. A pipe can be read where a command names it.";
    if (S_ISSOCK(info.st_mode)) return "is a socket; a file was expected.";
    if (S_ISLNK(info.st_mode)) return "is a link, which is not followed here; a file was expected.";
    return "is a device; a file was expected.";
}

Status put(int fd, const std::string& path, std::string_view text) {
    while (!text.empty()) {
        const auto n = ::write(fd, text.data(), text.size());
        if (n < 0 && errno == EINTR) continue;
        if (n < 0) return trouble(path, "cannot be written");
        text.remove_prefix(static_cast<size_t>(n));
    }
    if (::fsync(fd) != 0 && errno != EINVAL) return trouble(path, "cannot be written to the disk");
    return Done{};
}

class FileStream final : public ByteStream {
public:
    FileStream(Descriptor file, std::string path, bool pipe)
        : file_(std::move(file)), path_(std::move(path)), pipe_(pipe) {}
    size_t read(char* to, size_t most) override {
        const auto asked = Clock::now();
        while (!trouble_) {
            const auto n = ::read(file_.fd, to, most);
            if (n > 0) writer_ = true;
            // A pipe that nobody has opened yet reads like one that ended.
            if (n > 0 || (n == 0 && (!pipe_ || writer_))) return static_cast<size_t>(n);
            if (n < 0 && errno == EAGAIN) writer_ = true;
            if (n < 0 && errno != EINTR && errno != EAGAIN)
                trouble_ = kp::trouble(path_, "cannot be read");
            else if (pipe_)
                wait(asked);
        }
        return 0;
    }
    [[nodiscard]] std::optional<Message> trouble() const override { return trouble_; }

private:
    /// A moment, or until there is something; with trouble when that is too long.
    void wait(Clock::time_point asked) {
        const auto now = Clock::now();
        if (now - begun_ > pipe_whole)
            trouble_ = refused(path_, "is a pipe that does not end; it was given up after 10 minutes.");
        else if (!writer_ && now - begun_ > pipe_writer)
            trouble_ = refused(path_, "is a pipe that nobody opened for writing within 5 s; it was given up.");
        else if (now - asked > pipe_silence)
            trouble_ = refused(path_, "is a pipe into which nobody wrote for 30 s; it was given up.");
        pollfd p{file_.fd, POLLIN, 0};
        if (!trouble_ && ::poll(&p, 1, 100) > 0 && (p.revents & POLLHUP)) writer_ = true;
    }
    Descriptor file_;
    std::string path_;
    bool pipe_, writer_ = false;
    std::optional<Message> trouble_;
    Clock::time_point begun_ = Clock::now();
};

class RealLock final : public FileLock {
public:
    RealLock(Descriptor file, std::string path) : file_(std::move(file)), path_(std::move(path)) {}
    ~RealLock() override {
        if (held()) ::unlink(path_.c_str());
    }
    [[nodiscard]] bool held() const override { return same(file_.fd, path_); }
    // A second, short lock on the file's first byte. Order matters: first the turn, then the question who holds the
    // file.
    [[nodiscard]] bool enter() override {
        if (depth_++ == 0) (void)first_byte(file_.fd, F_WRLCK, F_OFD_SETLKW);
        return held();
    }
    void leave() override {
        if (--depth_ == 0) (void)first_byte(file_.fd, F_UNLCK, F_OFD_SETLK);
    }
    static bool first_byte(int fd, short kind, int command) {
        struct flock byte {};
        byte.l_type = kind;
        byte.l_whence = SEEK_SET;
        byte.l_start = 0;
        byte.l_len = 1;
        return ::fcntl(fd, command, &byte) == 0;
    }
    static bool same(int fd, const std::string& path) {
        struct stat mine {
        }, there{};
        return ::fstat(fd, &mine) == 0 && ::lstat(path.c_str(), &there) == 0 && mine.st_dev == there.st_dev &&
               mine.st_ino == there.st_ino;
    }

private:
    Descriptor file_;
    std::string path_;
    int depth_ = 0;
};

std::string first_line(const std::string& text) {
    return text.substr(0, text.find('\n'));
}

class RealDisk final : public Disk {
public:
    explicit RealDisk(std::set<std::string> pipes = {}) : pipes_(std::move(pipes)) {}

    Result<std::unique_ptr<ByteStream>> stream(const std::string& path) override {
        bool pipe = false;
        struct stat info {};
        auto file = open_input(path, 0, info, pipe);
        if (!file) return file.messages();
        return std::unique_ptr<ByteStream>(std::make_unique<FileStream>(file.take(), path, pipe));
    }
    Result<std::string> read(const std::string& path, size_t limit) override { return read_with(path, limit, 0); }
    Result<std::string> read_own(const std::string& path, size_t limit) override {
        return read_with(path, limit, O_NOFOLLOW);
    }

    Status create(const std::string& path, std::string_view text, const std::string& like, unsigned mode) override {
        struct stat model {};
        const bool modelled = !like.empty() && ::stat(like.c_str(), &model) == 0 && S_ISREG(model.st_mode);
        // A file that is write-protected is so on purpose; replacing it would go round that.
        if (modelled && ::access(like.c_str(), W_OK) != 0) return trouble(like, "cannot be written");
        const Descriptor file(
            ::open(path.c_str(), O_CREAT | O_EXCL | O_NOFOLLOW | O_WRONLY | O_CLOEXEC, modelled ? 0600 : mode));
        if (file.fd < 0) return trouble(path, "cannot be made");
        if (path.ends_with(".new")) remember_unfinished(path);
        if (modelled) {
            // Only root may give files away; for all others the owner is theirs already, or cannot be kept.
            if (model.st_uid != ::geteuid() || model.st_gid != ::getegid())
                (void)!::fchown(file.fd, model.st_uid, model.st_gid);
            if (::fchmod(file.fd, model.st_mode & 07777) != 0) return trouble(path, "cannot be given its mode");
        }
        return put(file.fd, path, text);
    }
    Status append(const std::string& path, std::string_view text) override {
        const Descriptor file(::open(path.c_str(), O_APPEND | O_NOFOLLOW | O_NONBLOCK | O_WRONLY | O_CLOEXEC));
        if (file.fd < 0) return trouble(path, "cannot be opened for writing");
        struct stat info {};
        if (::fstat(file.fd, &info) != 0) return trouble(path, "cannot be written");
        if (!S_ISREG(info.st_mode)) return refused(path, kind_of(info));
        return put(file.fd, path, text);
    }
    Status rename(const std::string& from, const std::string& to) override {
        if (::rename(from.c_str(), to.c_str()) != 0) return trouble(to, "cannot be replaced");
        forget_unfinished(from);
        const Descriptor folder(::open(folder_of(to).c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC));
        if (folder.fd >= 0) ::fsync(folder.fd);
        return Done{};
    }
    Status remove(const std::string& path) override {
        if (::unlink(path.c_str()) != 0 && errno != ENOENT) return trouble(path, "cannot be removed");
        forget_unfinished(path);
        return Done{};
    }
    Status make_folder(const std::string& path) override {
        std::error_code error;
        std::filesystem::create_directories(path, error);
        if (error) return Message{Severity::stop, Code::file, said("cannot be made: {}.", error.message()), path};
        return Done{};
    }
    FileKind kind(const std::string& path) override {
        struct stat info {};
        if (::stat(path.c_str(), &info) != 0)
            return ::lstat(path.c_str(), &info) == 0 && S_ISLNK(info.st_mode) ? FileKind::link : FileKind::none;
        return S_ISREG(info.st_mode) ? FileKind::file : S_ISDIR(info.st_mode) ? FileKind::folder : FileKind::other;
    }
    std::string real_path(const std::string& path) override {
        namespace fs = std::filesystem;
        std::error_code error;
        const auto whole = fs::absolute(path, error);
        if (error) return "/";
        // Step by step, since a link that leads to nothing yet still says where a file would come to lie.
        std::deque<fs::path> ahead(whole.begin(), whole.end());
        fs::path out;
        for (int links = 0; !ahead.empty();) {
            const auto step = ahead.front();
            ahead.pop_front();
            if (step.empty() || step == ".") continue;
            if (step == "..") {
                out = out.parent_path();
                continue;
            }
            const auto next = out / step;
            const auto target = fs::read_symlink(next, error);
            if (error) {
                out = next;
                continue;
            }
            // Links in a circle have no real path; "/" is outside of everything.
            if (++links > 40) return "/";
            ahead.insert(ahead.begin(), target.begin(), target.end());
            if (target.is_absolute()) out.clear();
        }
        return out.empty() ? "/" : out.string();
    }
    std::vector<std::string> list(const std::string& folder, const std::string& ending) override {
        std::vector<std::string> out;
        std::error_code error;
        for (std::filesystem::directory_iterator at(folder, error), end; !error && at != end; at.increment(error))
            if (at->path().native().ends_with(ending)) out.push_back(at->path().native());
        std::sort(out.begin(), out.end());
        return out;
    }
    std::vector<std::string> folders(const std::string& folder) override {
        std::vector<std::string> out;
        std::error_code error;
        for (std::filesystem::directory_iterator at(folder, error), end; !error && at != end; at.increment(error)) {
            std::error_code ignored;
            if (at->symlink_status(ignored).type() == std::filesystem::file_type::directory)
                out.push_back(at->path().filename().native());
        }
        std::sort(out.begin(), out.end());
        return out;
    }
    unsigned long long stamp(const std::string& path) override {
        struct stat info {};
        if (::stat(path.c_str(), &info) != 0) return 0;
        return static_cast<unsigned long long>(info.st_mtim.tv_sec) * 1000000007ULL +
               static_cast<unsigned long long>(info.st_mtim.tv_nsec) +
               static_cast<unsigned long long>(info.st_size) * 31ULL + 1;
    }

    Result<LockAnswer> lock(const std::string& path, std::string_view text, bool take_over) override {
        // A holder that lets go removes the file; one that opened it a moment before then holds a file without a name
        // and tries again.
        for (int tries = 0; tries < 16; ++tries) {
            Descriptor file(::open(path.c_str(), O_RDWR | O_CREAT | O_NOFOLLOW | O_NONBLOCK | O_CLOEXEC, 0644));
            if (file.fd < 0 && errno == ELOOP) {
                if (auto status = remove(path); !status) return status.messages();
                continue;
            }
            if (file.fd < 0) return trouble(path, "cannot be made");
            struct stat info {};
            if (::fstat(file.fd, &info) != 0) return trouble(path, "cannot be read");
            if (!S_ISREG(info.st_mode)) return refused(path, kind_of(info));
            const auto owner = text_of(file.fd);
            // A file system without such locks protects nobody; whoever works there alone must not be kept from it.
            const bool mine = ::flock(file.fd, LOCK_EX | LOCK_NB) == 0 || errno != EWOULDBLOCK;
            if (mine && !RealLock::same(file.fd, path)) continue;
            // Whether a program of another machine still runs cannot be seen from here; the first line names the
            // machine.
            const bool elsewhere = mine && !owner.empty() && first_line(owner) != first_line(std::string(text));
            if ((!mine || elsewhere) && !take_over) return LockAnswer{nullptr, owner.empty() ? "\n" : owner};
            if (!mine) return take(path, text, file.fd);
            if (::ftruncate(file.fd, 0) != 0 || ::lseek(file.fd, 0, SEEK_SET) != 0)
                return trouble(path, "cannot be written");
            if (auto status = put(file.fd, path, text); !status) return status.messages();
            return LockAnswer{std::make_unique<RealLock>(std::move(file), path), {}};
        }
        return refused(path, "changes hands without end; try again.");
    }

private:
    static std::string text_of(int fd) {
        char buffer[2000];
        const auto n = ::pread(fd, buffer, sizeof buffer, 0);
        return n > 0 ? std::string(buffer, static_cast<size_t>(n)) : std::string();
    }
    /// A lock file of our own in the place of theirs; they find that out before they write next.
    Result<LockAnswer> take(const std::string& path, std::string_view text, int theirs) {
        const auto fresh = beside(path, "." + std::to_string(::getpid()) + ".new");
        if (auto status = remove(fresh); !status) return status.messages();
        Descriptor file(::open(fresh.c_str(), O_RDWR | O_CREAT | O_EXCL | O_NOFOLLOW | O_CLOEXEC, 0644));
        if (file.fd < 0) return trouble(fresh, "cannot be made");
        remember_unfinished(fresh);
        if (::flock(file.fd, LOCK_EX | LOCK_NB) != 0) return trouble(fresh, "cannot be locked");
        auto status = put(file.fd, fresh, text);
        if (status) status = rename(fresh, path);
        if (!status) {
            (void)remove(fresh);
            return status.messages();
        }
        // What they are writing right now they may finish; a program that hangs in it is not waited for.
        for (int i = 0; i < 500 && !RealLock::first_byte(theirs, F_WRLCK, F_OFD_SETLK); ++i) ::usleep(10'000);
        return LockAnswer{std::make_unique<RealLock>(std::move(file), path), {}};
    }

    Result<Descriptor> open_input(const std::string& path, int flags, struct stat& info, bool& pipe) const {
        Descriptor file(::open(path.c_str(), O_RDONLY | O_NONBLOCK | O_NOCTTY | O_CLOEXEC | flags));
        if (file.fd < 0 && errno == ELOOP && flags != 0)
            return refused(path, "is a link, which is not followed here; a file was expected.");
        if (file.fd < 0) return trouble(path, "cannot be read");
        if (::fstat(file.fd, &info) != 0) return trouble(path, "cannot be read");
        const bool named = pipes_.contains(path);
        pipe = named && S_ISFIFO(info.st_mode);
        const bool nothing =
            named && S_ISCHR(info.st_mode) && info.st_rdev == makedev(1, 3);  // /dev/null, the empty file
        if (!S_ISREG(info.st_mode) && !pipe && !nothing) return refused(path, kind_of(info));
        return file;
    }
    Result<std::string> read_with(const std::string& path, size_t limit, int flags) const {
        bool pipe = false;
        struct stat info {};
        auto file = open_input(path, flags, info, pipe);
        if (!file) return file.messages();
        if (!pipe && static_cast<size_t>(info.st_size) > limit) return too_large(path, limit);
        FileStream stream(file.take(), path, pipe);
        std::string text;
        text.reserve(static_cast<size_t>(info.st_size) + 1);
        char buffer[1 << 16];
        while (const auto n = stream.read(buffer, sizeof buffer)) {
            text.append(buffer, n);
            if (text.size() > limit) return too_large(path, limit);
        }
        if (const auto what = stream.trouble()) return *what;
        return text;
    }

    std::set<std::string> pipes_;
};

}  // namespace

Disk& real_disk() {
    static RealDisk disk;
    return disk;
}

std::unique_ptr<Disk> disk_with_pipes(const std::vector<std::string>& named) {
    return std::make_unique<RealDisk>(std::set<std::string>(named.begin(), named.end()));
}

}  // namespace kp
