// SPDX-License-Identifier: GPL-3.0-or-later
// Names as numbers: each different text once, in one piece of memory, found by open addressing. For the millions of
// names of a netlist.
#pragma once

#include "core/base/large_pages.hpp"

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

namespace kp {

class NameTable {
public:
    static constexpr std::uint32_t none = 0xFFFFFFFFu;

    /// Number of the name, counted from 0 in order of first addition.
    std::uint32_t add(std::string_view name) { return add(name, hash_of(name)); }
    /// The same in two steps, so that memory can be asked for many names ahead: see expect.
    std::uint32_t add(std::string_view name, std::uint64_t hash);
    [[nodiscard]] static std::uint64_t hash_of(std::string_view name);
    void expect(std::uint64_t hash) const { __builtin_prefetch(&entries_[hash & (entries_.size() - 1)]); }
    /// `none` when it was never added.
    [[nodiscard]] std::uint32_t find(std::string_view name) const;
    /// Valid until the next addition.
    [[nodiscard]] std::string_view operator[](std::uint32_t id) const {
        return std::string_view(text_).substr(start_[id], start_[id + 1] - start_[id]);
    }
    [[nodiscard]] std::uint32_t size() const { return static_cast<std::uint32_t>(start_.size() - 1); }
    void reserve(size_t names, size_t bytes);

private:
    /// The first bytes stand in the entry: most names are settled by one look at memory.
    struct Entry {
        std::uint32_t key = 0;  ///< of the hash 24 bits, and the size, at most 255
        std::uint32_t id = none;
        std::uint64_t head = 0;
    };
    [[nodiscard]] size_t place(std::string_view name, const Entry& like, std::uint64_t hash) const;
    void grow(size_t entries);
    /// An entry for the name, without its number.
    [[nodiscard]] static Entry like(std::string_view name, std::uint64_t hash);

    std::string text_;
    std::vector<size_t> start_{0};
    std::vector<Entry, LargePages<Entry>> entries_ = std::vector<Entry, LargePages<Entry>>(16);
};

/// Positions in a list by name; of equal names the first one counts.
class NameIndex {
public:
    /// The name of the next position.
    void add(std::string_view name) {
        if (const auto id = names_.add(name); id == first_.size()) first_.push_back(next_);
        ++next_;
    }
    [[nodiscard]] std::uint32_t find(std::string_view name) const {
        const auto id = names_.find(name);
        return id == NameTable::none ? NameTable::none : first_[id];
    }

private:
    NameTable names_;
    std::vector<std::uint32_t> first_;
    std::uint32_t next_ = 0;
};

}  // namespace kp
