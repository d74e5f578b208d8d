// SPDX-License-Identifier: GPL-3.0-or-later
// All access to files goes through one interface, so that tests can fail any step of it.
#pragma once

#include "core/base/result.hpp"

#include <map>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace kp {

/// Bytes of a file, a piece at a time.
class ByteStream {
public:
    virtual ~ByteStream() = default;
    /// Up to `most` bytes; 0 at the end, or after an error.
    virtual size_t read(char* to, size_t most) = 0;
    /// What went wrong, if something did.
    [[nodiscard]] virtual std::optional<Message> trouble() const { return std::nullopt; }
};

/// A text that is in memory already; it outlives the stream.
class TextStream : public ByteStream {
public:
    explicit TextStream(std::string_view text) : rest_(text) {}
    size_t read(char* to, size_t most) override;

private:
    std::string_view rest_;
};

/// Files by path. Every call answers with a message that names the file and the reason; nothing throws.
class Disk {
public:
    virtual ~Disk() = default;
    /// The whole file. Errors: not there, not readable, larger than `limit` bytes.
    virtual Result<std::string> read(const std::string& path, size_t limit = size_t{1} << 31) = 0;
    /// For files that need not stand in memory. Errors: not there, not readable.
    virtual Result<std::unique_ptr<ByteStream>> stream(const std::string& path);
    /// Writes and syncs; the file may be half-written after an error.
    virtual Status write(const std::string& path, std::string_view text) = 0;
    /// Appends and syncs; after an error a part of the text may be there.
    virtual Status append(const std::string& path, std::string_view text) = 0;
    /// Replaces `to` in one step.
    virtual Status rename(const std::string& from, const std::string& to) = 0;
    virtual Status remove(const std::string& path) = 0;
    virtual Status make_folder(const std::string& path) = 0;
    [[nodiscard]] virtual bool exists(const std::string& path) = 0;
    /// Paths of the files right in `folder` that end in `ending`, sorted.
    [[nodiscard]] virtual std::vector<std::string> list(const std::string& folder, const std::string& ending) = 0;
    /// A number that changes when the file changes (time and size); 0 when it is not there.
    [[nodiscard]] virtual unsigned long long stamp(const std::string& path) = 0;
};

/// The disk of the machine.
[[nodiscard]] Disk& real_disk();

/// A disk in memory for tests. When `fail_at` is n > 0, the n-th call that changes or reads something fails, and a
/// failing write leaves half of its text behind, as a power cut would.
class MemoryDisk : public Disk {
public:
    std::map<std::string, std::string> files;
    int fail_at = 0;
    int calls = 0;

    Result<std::string> read(const std::string& path, size_t limit) override;
    Status write(const std::string& path, std::string_view text) override;
    Status append(const std::string& path, std::string_view text) override;
    Status rename(const std::string& from, const std::string& to) override;
    Status remove(const std::string& path) override;
    Status make_folder(const std::string& path) override;
    bool exists(const std::string& path) override;
    std::vector<std::string> list(const std::string& folder, const std::string& ending) override;
    unsigned long long stamp(const std::string& path) override;

private:
    bool fails();
};

/// Promise: after this call, or a crash at any moment in it, `path` holds either the old text or the new, whole.
/// The old text is kept as `path` + ".bak". Temporary file, sync, rename.
Status save_whole(Disk& disk, const std::string& path, std::string_view text);

[[nodiscard]] std::string folder_of(const std::string& path);
[[nodiscard]] std::string file_name_of(const std::string& path);
/// `path` seen from `folder`, unless it is absolute.
[[nodiscard]] std::string join_path(const std::string& folder, const std::string& path);

}  // namespace kp
