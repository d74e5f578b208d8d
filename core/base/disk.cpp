// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/disk.hpp"

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <filesystem>
#include <sys/stat.h>
#include <unistd.h>

namespace kp {

namespace {

Message trouble(const std::string& path, const std::string& what) {
    return {Severity::stop, "file", what + ": " + std::strerror(errno) + ".", path, 0, 0};
}

/// Closes its descriptor at the end of the scope.
struct Descriptor {
    int fd = -1;
    explicit Descriptor(int value) : fd(value) {}
    Descriptor(const Descriptor&) = delete;
    Descriptor& operator=(const Descriptor&) = delete;
    ~Descriptor() {
        if (fd >= 0) ::close(fd);
    }
};

Status put(const std::string& path, std::string_view text, int flags) {
    const Descriptor file(::open(path.c_str(), flags | O_CREAT | O_WRONLY | O_CLOEXEC, 0644));
    if (file.fd < 0) return trouble(path, "cannot be opened for writing");
    while (!text.empty()) {
        const auto n = ::write(file.fd, text.data(), text.size());
        if (n < 0 && errno == EINTR) continue;
        if (n < 0) return trouble(path, "cannot be written");
        text.remove_prefix(static_cast<size_t>(n));
    }
    if (::fsync(file.fd) != 0 && errno != EINVAL) return trouble(path, "cannot be written to the disk");
    return Done{};
}

class FileStream final : public ByteStream {
public:
    FileStream(int fd, std::string path) : file_(fd), path_(std::move(path)) {}
    size_t read(char* to, size_t most) override {
        for (;;) {
            const auto n = ::read(file_.fd, to, most);
            if (n >= 0) return static_cast<size_t>(n);
            if (errno == EINTR) continue;
            trouble_ = kp::trouble(path_, "cannot be read");
            return 0;
        }
    }
    [[nodiscard]] std::optional<Message> trouble() const override { return trouble_; }

private:
    Descriptor file_;
    std::string path_;
    std::optional<Message> trouble_;
};

/// A text with its stream.
class WholeStream final : public ByteStream {
public:
    explicit WholeStream(std::string text) : text_(std::move(text)), stream_(text_) {}
    size_t read(char* to, size_t most) override { return stream_.read(to, most); }

private:
    std::string text_;
    TextStream stream_;
};

class RealDisk final : public Disk {
public:
    Result<std::unique_ptr<ByteStream>> stream(const std::string& path) override {
        const int fd = ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
        if (fd < 0) return trouble(path, "cannot be read");
        auto out = std::make_unique<FileStream>(fd, path);
        struct stat info {};
        if (::fstat(fd, &info) == 0 && S_ISDIR(info.st_mode)) return Message{Severity::stop, "file", "is a folder; a file was expected.", path, 0, 0};
        return std::unique_ptr<ByteStream>(std::move(out));
    }
    Result<std::string> read(const std::string& path, size_t limit) override {
        const Descriptor file(::open(path.c_str(), O_RDONLY | O_CLOEXEC));
        if (file.fd < 0) return trouble(path, "cannot be read");
        struct stat info {};
        if (::fstat(file.fd, &info) != 0) return trouble(path, "cannot be read");
        if (S_ISDIR(info.st_mode)) return Message{Severity::stop, "file", "is a folder; a file was expected.", path, 0, 0};
        if (static_cast<size_t>(info.st_size) > limit)
            return Message{Severity::stop, "limit", "is larger than " + std::to_string(limit) + " bytes, the limit for this kind of file.", path, 0, 0};
        std::string text;
        text.reserve(static_cast<size_t>(info.st_size) + 1);
        char buffer[1 << 16];
        for (;;) {
            const auto n = ::read(file.fd, buffer, sizeof buffer);
            if (n < 0 && errno == EINTR) continue;
            if (n < 0) return trouble(path, "cannot be read");
            if (n == 0) return text;
            text.append(buffer, static_cast<size_t>(n));
            if (text.size() > limit) return Message{Severity::stop, "limit", "is too large for this kind of file.", path, 0, 0};
        }
    }
    Status write(const std::string& path, std::string_view text) override { return put(path, text, O_TRUNC); }
    Status append(const std::string& path, std::string_view text) override { return put(path, text, O_APPEND); }
    Status rename(const std::string& from, const std::string& to) override {
        if (::rename(from.c_str(), to.c_str()) != 0) return trouble(to, "cannot be replaced");
        const Descriptor folder(::open(folder_of(to).c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC));
        if (folder.fd >= 0) ::fsync(folder.fd);
        return Done{};
    }
    Status remove(const std::string& path) override {
        if (::unlink(path.c_str()) != 0 && errno != ENOENT) return trouble(path, "cannot be removed");
        return Done{};
    }
    Status make_folder(const std::string& path) override {
        std::error_code error;
        std::filesystem::create_directories(path, error);
        if (error) return Message{Severity::stop, "file", "cannot be made: " + error.message() + ".", path, 0, 0};
        return Done{};
    }
    bool exists(const std::string& path) override { return ::access(path.c_str(), F_OK) == 0; }
    std::vector<std::string> list(const std::string& folder, const std::string& ending) override {
        std::vector<std::string> out;
        std::error_code error;
        for (std::filesystem::directory_iterator at(folder, error), end; !error && at != end; at.increment(error))
            if (at->path().string().ends_with(ending)) out.push_back(at->path().string());
        std::sort(out.begin(), out.end());
        return out;
    }
    unsigned long long stamp(const std::string& path) override {
        struct stat info {};
        if (::stat(path.c_str(), &info) != 0) return 0;
        return static_cast<unsigned long long>(info.st_mtim.tv_sec) * 1000000007ULL + static_cast<unsigned long long>(info.st_mtim.tv_nsec) +
               static_cast<unsigned long long>(info.st_size) * 31ULL + 1;
    }
};

Message simulated(const std::string& path) { return {Severity::stop, "file", "cannot be used: simulated fault.", path, 0, 0}; }

}  // namespace

Disk& real_disk() {
    static RealDisk disk;
    return disk;
}

bool MemoryDisk::fails() { return ++calls == fail_at; }

size_t TextStream::read(char* to, size_t most) {
    const auto n = std::min(most, rest_.size());
    std::memcpy(to, rest_.data(), n);
    rest_.remove_prefix(n);
    return n;
}

Result<std::unique_ptr<ByteStream>> Disk::stream(const std::string& path) {
    auto text = read(path);
    if (!text) return text.messages();
    return std::unique_ptr<ByteStream>(std::make_unique<WholeStream>(text.take()));
}

Result<std::string> MemoryDisk::read(const std::string& path, size_t) {
    if (fails()) return simulated(path);
    const auto at = files.find(path);
    if (at == files.end()) return Message{Severity::stop, "file", "cannot be read: No such file or directory.", path, 0, 0};
    return at->second;
}

Status MemoryDisk::write(const std::string& path, std::string_view text) {
    if (fails()) {
        files[path] = std::string(text.substr(0, text.size() / 2));
        return simulated(path);
    }
    files[path] = std::string(text);
    return Done{};
}

Status MemoryDisk::append(const std::string& path, std::string_view text) {
    if (fails()) {
        files[path] += std::string(text.substr(0, text.size() / 2));
        return simulated(path);
    }
    files[path] += std::string(text);
    return Done{};
}

Status MemoryDisk::rename(const std::string& from, const std::string& to) {
    if (fails() || !files.contains(from)) return simulated(to);
    files[to] = std::move(files[from]);
    files.erase(from);
    return Done{};
}

Status MemoryDisk::remove(const std::string& path) {
    if (fails()) return simulated(path);
    files.erase(path);
    return Done{};
}

Status MemoryDisk::make_folder(const std::string& path) { return fails() ? Status(simulated(path)) : Status(Done{}); }

bool MemoryDisk::exists(const std::string& path) { return files.contains(path); }

std::vector<std::string> MemoryDisk::list(const std::string& folder, const std::string& ending) {
    std::vector<std::string> out;
    for (const auto& [path, text] : files)
        if (folder_of(path) == folder && path.ends_with(ending)) out.push_back(path);
    return out;
}

unsigned long long MemoryDisk::stamp(const std::string& path) {
    const auto at = files.find(path);
    return at == files.end() ? 0 : std::hash<std::string>{}(at->second) | 1;
}

Status save_whole(Disk& disk, const std::string& path, std::string_view text) {
    const std::string fresh = path + ".new";
    if (auto status = disk.write(fresh, text); !status) return status;
    if (disk.exists(path)) {
        auto old = disk.read(path);
        if (!old) return old.messages();
        // The copy is written aside and renamed, so that an interrupted save never damages the last good copy either.
        if (auto status = disk.write(path + ".bak.new", old.value()); !status) return status;
        if (auto status = disk.rename(path + ".bak.new", path + ".bak"); !status) return status;
    }
    return disk.rename(fresh, path);
}

std::string folder_of(const std::string& path) {
    const auto at = path.rfind('/');
    if (at == std::string::npos) return ".";
    return at == 0 ? "/" : path.substr(0, at);
}

std::string file_name_of(const std::string& path) {
    const auto at = path.rfind('/');
    return at == std::string::npos ? path : path.substr(at + 1);
}

std::string join_path(const std::string& folder, const std::string& path) {
    if (path.starts_with('/') || folder.empty() || folder == ".") return path;
    return folder.ends_with('/') ? folder + path : folder + "/" + path;
}

}  // namespace kp
