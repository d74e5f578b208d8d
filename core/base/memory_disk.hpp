// SPDX-License-Identifier: GPL-3.0-or-later
// A disk in memory, for tests: any call can fail, or the power can go in the middle of it.
#pragma once

#include "core/base/disk.hpp"

namespace kp {

/// Thrown by a MemoryDisk at `crash_at`: the moment at which the program dies. Only tests catch it.
struct PowerCut {};

class MemoryDisk : public Disk {
public:
    std::map<std::string, std::string> files;
    std::set<std::string> links;                 ///< paths that are links which lead nowhere
    std::map<std::string, std::string> holders;  ///< of locks, by path
    int fail_at =
        0;  ///< n > 0: the n-th call that changes or reads something fails, and a failing write leaves half of its text
    int full_from = 0;  ///< n > 0: from the n-th such call on every write fails, as on a full disk
    int crash_at = 0;   ///< n > 0: the n-th such call leaves half of its work and throws PowerCut
    int calls = 0;
    size_t torn = 1, of = 2;  ///< how much of a failing write is left: torn / of

    Result<std::string> read(const std::string& path, size_t limit = largest_input) override;
    Result<std::string> read_own(const std::string& path, size_t limit) override { return read(path, limit); }
    Status create(const std::string& path, std::string_view text, const std::string& like = {},
                  unsigned mode = 0666) override;
    Status append(const std::string& path, std::string_view text) override;
    Status rename(const std::string& from, const std::string& to) override;
    Status remove(const std::string& path) override;
    Status make_folder(const std::string& path) override;
    FileKind kind(const std::string& path) override;
    std::string real_path(const std::string& path) override { return tidy_path(path); }
    std::vector<std::string> list(const std::string& folder, const std::string& ending) override;
    std::vector<std::string> folders(const std::string& folder) override;
    unsigned long long stamp(const std::string& path) override;
    Result<LockAnswer> lock(const std::string& path, std::string_view text, bool take_over) override;

private:
    enum class Fate { good, fails, crashes };
    Fate fate(bool writes);
    Status tear(Fate fate, const std::string& path, std::string whole, std::string_view text);
};

}  // namespace kp
