// SPDX-License-Identifier: GPL-3.0-or-later
// What every disk does alike: paths, and files that are written aside, synced and put in place by a rename, so that
// a reader sees the old text or the new.
#include "core/base/disk.hpp"

#include "core/base/checksum.hpp"

#include <algorithm>
#include <cstring>
#include <filesystem>

namespace kp {

namespace {

/// A text with its stream.
class WholeStream final : public ByteStream {
public:
    explicit WholeStream(std::string text) : text_(std::move(text)), stream_(text_) {}
    size_t read(char* to, size_t most) override { return stream_.read(to, most); }

private:
    std::string text_;
    TextStream stream_;
};

/// Writes `text` to a new file `fresh` (what a dead program left under this name goes first) and puts it in the place
/// of `target`.
Status put_in_place(Disk& disk, const std::string& target, const std::string& fresh, std::string_view text,
                    const std::string& like) {
    if (auto status = disk.remove(fresh); !status) return status;
    auto status = disk.create(fresh, text, like);
    if (status) status = disk.rename(fresh, target);
    // What cannot be finished is not left lying about; the first trouble is the one to tell.
    if (!status) (void)disk.remove(fresh);
    return status;
}

}  // namespace

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

Status replace_file(Disk& disk, const std::string& path, std::string_view text, const std::string& mark) {
    const auto target = disk.kind(path) == FileKind::file ? disk.real_path(path) : path;
    return put_in_place(disk, target, beside(target, mark + ".new"), text, target);
}

Status save_whole(Disk& disk, const std::string& path, std::string_view text, const std::string* expected) {
    const bool there = disk.exists(path);
    const auto target = there ? disk.real_path(path) : path;
    if (there) {
        auto old = disk.read(target);
        if (!old) return old.messages();
        if (expected && old.value() != *expected)
            return Message{Severity::stop, Code::changed, "was changed by another program; nothing was written.", path};
        // The copy is written aside and renamed, so that an interrupted save never damages the last good copy either.
        if (auto status = put_in_place(disk, beside(target, ".bak"), beside(target, ".bak.new"), old.value(), target);
            !status)
            return status;
    }
    return put_in_place(disk, target, beside(target, ".new"), text, target);
}

Status save_new(Disk& disk, const std::string& path, std::string_view text) {
    auto status = disk.create(path, text);
    // A half-written file of a name that was free is ours to take away; one that was there before is not.
    if (!status && status.first().code != Code::exists) (void)disk.remove(path);
    return status;
}

std::string folder_of(const std::string& path) {
    const auto at = path.rfind('/');
    if (at == std::string::npos) return ".";
    return at == 0 ? "/" : path.substr(0, at);
}

std::string beside(const std::string& path, std::string_view ending) {
    constexpr size_t longest = 255, digits = 16;
    const auto name = file_name_of(path);
    if (name.size() + ending.size() <= longest) return path + std::string(ending);
    auto keep = longest - digits - 1 - 20;                                                 // 20: for the longest ending
    while (keep > 0 && (static_cast<unsigned char>(name[keep]) & 0xC0U) == 0x80U) --keep;  // between characters
    return path.substr(0, path.size() - name.size() + keep) + "~" + sha256(name).substr(0, digits) +
           std::string(ending);
}

std::string file_name_of(const std::string& path) {
    const auto at = path.rfind('/');
    return at == std::string::npos ? path : path.substr(at + 1);
}

std::string join_path(const std::string& folder, const std::string& path) {
    if (path.starts_with('/') || folder.empty() || folder == ".") return path;
    return folder.ends_with('/') ? folder + path : folder + "/" + path;
}

bool lies_in(const std::string& path, const std::string& folder) {
    if (folder == "/" || folder == ".")
        return folder == "/" ? path.starts_with('/')
                             : !path.starts_with('/') && path != ".." && !path.starts_with("../");
    return path == folder || (path.size() > folder.size() && path.starts_with(folder) && path[folder.size()] == '/');
}

std::string tidy_path(const std::string& path) {
    auto out = std::filesystem::path(path).lexically_normal().string();
    if (out.size() > 1 && out.ends_with('/')) out.pop_back();
    return out.empty() ? "." : out;
}

}  // namespace kp
