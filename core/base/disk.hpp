// SPDX-License-Identifier: GPL-3.0-or-later
// All access to files goes through one interface, so that tests can fail any step of it. A project may come from a
// stranger: nothing here waits for a pipe, reads a device, or follows a link that somebody laid where this program
// writes.
#pragma once

#include "core/base/result.hpp"

#include <map>
#include <memory>
#include <optional>
#include <set>
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

/// What stands at a path, links followed; `link`: nothing, behind a link that leads nowhere.
enum class FileKind { none, file, folder, link, other };

/// A lock that is held as long as this lives, and let go when the program dies.
class FileLock {
public:
    virtual ~FileLock() = default;
    /// False once another has taken it over.
    [[nodiscard]] virtual bool held() const = 0;
    /// Before and after something is written: whoever takes the lock over waits until that is done, and what begins
    /// later finds it lost. False when it is. Calls nest; each enter() has its leave().
    [[nodiscard]] virtual bool enter() = 0;
    virtual void leave() = 0;
};

/// enter() and leave() of a lock, if there is one, at the ends of a scope.
class WriteTurn {
public:
    explicit WriteTurn(FileLock* lock) : lock_(lock), held_(!lock || lock->enter()) {}
    ~WriteTurn() {
        if (lock_) lock_->leave();
    }
    WriteTurn(const WriteTurn&) = delete;
    WriteTurn& operator=(const WriteTurn&) = delete;
    [[nodiscard]] bool held() const { return held_; }

private:
    FileLock* lock_;
    bool held_;
};

/// The answer to a wish for a lock: the lock, or the text of whoever has it.
struct LockAnswer {
    std::unique_ptr<FileLock> lock;
    std::string owner;
};

inline constexpr size_t largest_input = size_t{1} << 31;  ///< bytes; where a reader sets no smaller limit

/// Files by path. Every call answers with a message that names the file and the reason; nothing throws.
class Disk {
public:
    virtual ~Disk() = default;
    /// The whole file. Errors: not there, not readable, a folder, pipe or device, larger than `limit` bytes.
    virtual Result<std::string> read(const std::string& path, size_t limit = largest_input) = 0;
    /// The same of one of this program's own files: a link at the end of the path is not followed.
    virtual Result<std::string> read_own(const std::string& path, size_t limit) = 0;
    /// For files that need not stand in memory. Errors: as read().
    virtual Result<std::unique_ptr<ByteStream>> stream(const std::string& path);
    /// Makes a new file and syncs it; it may be half-written after an error. It gets mode and owner of the file `like`,
    /// if that is there, else `mode` less the user's mask. Errors: the disk's, and whatever stands at `path` already,
    /// were it a link that leads nowhere.
    virtual Status create(const std::string& path, std::string_view text, const std::string& like = {},
                          unsigned mode = 0666) = 0;
    /// Appends to a file and syncs; after an error a part of the text may be there. A link at the end is not followed.
    virtual Status append(const std::string& path, std::string_view text) = 0;
    /// Replaces `to` in one step (a link there, not what it leads to).
    virtual Status rename(const std::string& from, const std::string& to) = 0;
    /// Removes a file or a link; what is not there is removed already.
    virtual Status remove(const std::string& path) = 0;
    virtual Status make_folder(const std::string& path) = 0;
    [[nodiscard]] virtual FileKind kind(const std::string& path) = 0;
    [[nodiscard]] bool exists(const std::string& path) {
        return kind(path) != FileKind::none && kind(path) != FileKind::link;
    }
    /// The path without links and dots, as far as it is there.
    [[nodiscard]] virtual std::string real_path(const std::string& path) = 0;
    /// Paths of the files right in `folder` that end in `ending`, sorted.
    [[nodiscard]] virtual std::vector<std::string> list(const std::string& folder, const std::string& ending) = 0;
    /// Names of the folders right in `folder`, sorted; links are none.
    [[nodiscard]] virtual std::vector<std::string> folders(const std::string& folder) = 0;
    /// A number that changes when the file changes (time and size); 0 when it is not there.
    [[nodiscard]] virtual unsigned long long stamp(const std::string& path) = 0;
    /// Takes the lock that the file `path` stands for, and writes `text`, who has it, into it. One that a dead program
    /// left is taken; one that is held is taken over only with `take_over`. Errors: the disk's.
    virtual Result<LockAnswer> lock(const std::string& path, std::string_view text, bool take_over) = 0;
};

/// The disk of the machine.
[[nodiscard]] Disk& real_disk();

/// The disk of the machine, where besides files these pipes may be read, each once: those that a command line names. A
/// pipe that nobody opens for five seconds, that brings nothing for half a minute, or more than ten minutes of text, is
/// given up.
[[nodiscard]] std::unique_ptr<Disk> disk_with_pipes(const std::vector<std::string>& named);

/// Promise: after this call, or a crash at any moment in it, `path` holds either the old text or the new, whole.
/// Temporary file beside it, sync, rename. Through a link it is the file behind it that is replaced; mode and owner
/// stay. `mark` keeps the temporary files of several programs apart.
Status replace_file(Disk& disk, const std::string& path, std::string_view text, const std::string& mark = {});

/// The same, and the old text is kept as beside(path, ".bak"). With `expected`: an error of code "changed", and nothing
/// written, when a file of another text stands there.
Status save_whole(Disk& disk, const std::string& path, std::string_view text, const std::string* expected = nullptr);

/// Puts a new file where nothing is; whole or not at all. Errors: as Disk::create.
Status save_new(Disk& disk, const std::string& path, std::string_view text);

[[nodiscard]] std::string folder_of(const std::string& path);
/// A file of the program's own beside `path`: `path` + `ending`. Where the name would have more than the 255 bytes that
/// file systems take, the end of the long name is its SHA-256 instead.
[[nodiscard]] std::string beside(const std::string& path, std::string_view ending);
[[nodiscard]] std::string file_name_of(const std::string& path);
/// `path` seen from `folder`, unless it is absolute.
[[nodiscard]] std::string join_path(const std::string& folder, const std::string& path);
/// True when `path` is `folder` or lies in it; both without links and dots.
[[nodiscard]] bool lies_in(const std::string& path, const std::string& folder);
/// Without "." and "..", as far as the text alone tells.
[[nodiscard]] std::string tidy_path(const std::string& path);

}  // namespace kp
