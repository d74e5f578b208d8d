// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/name_table.hpp"

#include <functional>

namespace kp {

namespace {
std::uint32_t hash_of(std::string_view name) {
    const auto h = std::hash<std::string_view>{}(name);
    return static_cast<std::uint32_t>(h ^ (h >> 32));
}
}  // namespace

/// Where the name stands, or the free entry where it would.
size_t NameTable::place(std::string_view name, std::uint32_t hash) const {
    const size_t mask = entries_.size() - 1;
    for (size_t at = hash & mask;; at = (at + 1) & mask) {
        const auto& e = entries_[at];
        if (e.id == none || (e.hash == hash && (*this)[e.id] == name)) return at;
    }
}

void NameTable::grow(size_t entries) {
    std::vector<Entry> old(entries);
    old.swap(entries_);
    const size_t mask = entries - 1;
    for (const auto& e : old) {
        if (e.id == none) continue;
        size_t at = e.hash & mask;
        while (entries_[at].id != none) at = (at + 1) & mask;
        entries_[at] = e;
    }
}

void NameTable::reserve(size_t names, size_t bytes) {
    start_.reserve(names + 1), text_.reserve(bytes);
    size_t entries = entries_.size();
    while (entries * 5 < names * 8) entries *= 2;
    if (entries > entries_.size()) grow(entries);
}

std::uint32_t NameTable::add(std::string_view name) {
    const auto hash = hash_of(name);
    auto at = place(name, hash);
    if (entries_[at].id != none) return entries_[at].id;
    if ((size() + 1) * size_t{8} > entries_.size() * 5) grow(entries_.size() * 2), at = place(name, hash);
    const auto id = size();
    entries_[at] = {hash, id};
    text_.append(name);
    start_.push_back(text_.size());
    return id;
}

std::uint32_t NameTable::find(std::string_view name) const { return entries_[place(name, hash_of(name))].id; }

}  // namespace kp
