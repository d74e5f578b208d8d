// SPDX-License-Identifier: GPL-3.0-or-later
// For tests. Nothing is synced or late here: what a call did is there at once, and what it was to do is torn where a
// test says so.
#include "core/base/memory_disk.hpp"

#include <functional>

namespace kp {

namespace {

Message simulated(const std::string& path) {
    return {Severity::stop, Code::file, "cannot be used: simulated fault.", path};
}

/// The present holder of a lock is the one that took it last.
class MemoryLock final : public FileLock {
public:
    MemoryLock(MemoryDisk& disk, std::string path, std::string text)
        : disk_(disk), path_(std::move(path)), text_(std::move(text)) {}
    ~MemoryLock() override {
        if (held()) disk_.holders.erase(path_);
    }
    [[nodiscard]] bool held() const override {
        const auto at = disk_.holders.find(path_);
        return at != disk_.holders.end() && at->second == text_;
    }
    [[nodiscard]] bool enter() override { return held(); }
    void leave() override {}

private:
    MemoryDisk& disk_;
    std::string path_, text_;
};

}  // namespace

MemoryDisk::Fate MemoryDisk::fate(bool writes) {
    ++calls;
    if (calls == crash_at) return Fate::crashes;
    return calls == fail_at || (writes && full_from > 0 && calls >= full_from) ? Fate::fails : Fate::good;
}

/// Half of the text is there after a failure.
Status MemoryDisk::tear(Fate fate, const std::string& path, std::string whole, std::string_view text) {
    if (fate == Fate::good) {
        files[path] = whole.append(text);
        return Done{};
    }
    files[path] = whole.append(text.substr(0, text.size() * torn / of));
    if (fate == Fate::crashes) throw PowerCut{};
    return simulated(path);
}

Result<std::string> MemoryDisk::read(const std::string& path, size_t limit) {
    if (const auto f = fate(false); f != Fate::good) {
        if (f == Fate::crashes) throw PowerCut{};
        return simulated(path);
    }
    const auto at = files.find(path);
    if (at == files.end())
        return Message{Severity::stop, Code::file, "cannot be read: No such file or directory.", path};
    if (at->second.size() > limit)
        return Message{Severity::stop, Code::limit, "is too large for this kind of file.", path};
    return at->second;
}

Status MemoryDisk::create(const std::string& path, std::string_view text, const std::string&, unsigned) {
    if (files.contains(path) || links.contains(path))
        return Message{Severity::stop, Code::exists, "is there already.", path};
    return tear(fate(true), path, {}, text);
}

Status MemoryDisk::append(const std::string& path, std::string_view text) {
    if (!files.contains(path)) return simulated(path);
    const auto f = fate(true);
    if (f != Fate::good) return tear(f, path, files[path], text);
    files[path].append(text);
    return Done{};
}

Status MemoryDisk::rename(const std::string& from, const std::string& to) {
    const auto f = fate(false);
    // Power may go before or after the step itself.
    if (f == Fate::crashes && torn * 2 <= of) throw PowerCut{};
    if (f == Fate::fails || !files.contains(from)) return simulated(to);
    files[to] = std::move(files[from]);
    files.erase(from);
    links.erase(to);
    if (f == Fate::crashes) throw PowerCut{};
    return Done{};
}

Status MemoryDisk::remove(const std::string& path) {
    if (const auto f = fate(false); f != Fate::good) {
        if (f == Fate::crashes) throw PowerCut{};
        return simulated(path);
    }
    files.erase(path);
    links.erase(path);
    return Done{};
}

Status MemoryDisk::make_folder(const std::string& path) {
    return fate(true) != Fate::good ? Status(simulated(path)) : Status(Done{});
}

FileKind MemoryDisk::kind(const std::string& path) {
    return files.contains(path) ? FileKind::file : links.contains(path) ? FileKind::link : FileKind::none;
}

std::vector<std::string> MemoryDisk::list(const std::string& folder, const std::string& ending) {
    std::vector<std::string> out;
    for (const auto& [path, text] : files)
        if (folder_of(path) == folder && path.ends_with(ending)) out.push_back(path);
    return out;
}

std::vector<std::string> MemoryDisk::folders(const std::string& folder) {
    std::set<std::string> out;
    for (const auto& [path, text] : files) {
        if (!path.starts_with(folder + "/")) continue;
        const auto below = path.substr(folder.size() + 1);
        if (const auto slash = below.find('/'); slash != std::string::npos) out.insert(below.substr(0, slash));
    }
    return {out.begin(), out.end()};
}

unsigned long long MemoryDisk::stamp(const std::string& path) {
    const auto at = files.find(path);
    return at == files.end() ? 0 : std::hash<std::string>{}(at->second) | 1;
}

Result<LockAnswer> MemoryDisk::lock(const std::string& path, std::string_view text, bool take_over) {
    if (const auto at = holders.find(path); at != holders.end() && !take_over) return LockAnswer{nullptr, at->second};
    holders[path] = std::string(text);
    return LockAnswer{std::make_unique<MemoryLock>(*this, path, std::string(text)), {}};
}

}  // namespace kp
