// SPDX-License-Identifier: GPL-3.0-or-later
// Open addressing with linear probing over one block of text (Knuth, TAOCP 3, 6.4): a name costs its bytes and some
// 13 more, a look-up one or two cache lines. Grows at five eighths.
#include "core/base/name_table.hpp"

#include <algorithm>
#include <cstring>

namespace kp {

namespace {
std::uint64_t load(const char* from, size_t bytes) {
    std::uint64_t v = 0;
    if (bytes > 0) std::memcpy(&v, from, bytes);  // an empty name may have no place at all
    return v;
}

}  // namespace

/// Eight bytes at a time, each mixed in by a multiplication whose upper half comes down; names are short.
std::uint64_t NameTable::hash_of(std::string_view name) {
    constexpr std::uint64_t odd = 0x9E3779B97F4A7C15ull;  // 2^64 over the golden ratio (Knuth, volume 3, 6.4)
    std::uint64_t h = name.size() * odd;
    const char* p = name.data();
    size_t left = name.size();
    for (; left > 8; p += 8, left -= 8) {
        h = (h ^ load(p, 8)) * odd;
        h ^= h >> 32;
    }
    h = (h ^ load(p, left)) * odd;
    return h ^ (h >> 29);
}

NameTable::Entry NameTable::like(std::string_view name, std::uint64_t hash) {
    return {
        static_cast<std::uint32_t>(hash >> 40) << 8 | static_cast<std::uint32_t>(std::min<size_t>(name.size(), 255)),
        none, load(name.data(), std::min<size_t>(name.size(), 8))};
}

/// Where the name stands, or the free entry where it would.
size_t NameTable::place(std::string_view name, const Entry& like, std::uint64_t hash) const {
    const size_t mask = entries_.size() - 1;
    for (size_t at = hash & mask;; at = (at + 1) & mask) {
        const auto& e = entries_[at];
        if (e.id == none) return at;
        if (e.key == like.key && e.head == like.head && (name.size() <= 8 || (*this)[e.id] == name)) return at;
    }
}

void NameTable::grow(size_t entries) {
    entries_.assign(entries, {});
    const size_t mask = entries - 1;
    for (std::uint32_t id = 0; id < size(); ++id) {
        const auto name = (*this)[id];
        const auto hash = hash_of(name);
        size_t at = hash & mask;
        while (entries_[at].id != none) at = (at + 1) & mask;
        entries_[at] = like(name, hash);
        entries_[at].id = id;
    }
}

void NameTable::reserve(size_t names, size_t bytes) {
    start_.reserve(names + 1);
    text_.reserve(bytes);
    size_t entries = entries_.size();
    while (entries * 5 < names * 8) entries *= 2;
    if (entries > entries_.size()) grow(entries);
}

std::uint32_t NameTable::add(std::string_view name, std::uint64_t hash) {
    auto entry = like(name, hash);
    auto at = place(name, entry, hash);
    if (entries_[at].id != none) return entries_[at].id;
    if ((size() + 1) * size_t{8} > entries_.size() * 5) {
        grow(entries_.size() * 2);
        at = place(name, entry, hash);
    }
    entry.id = size();
    entries_[at] = entry;
    text_.append(name);
    start_.push_back(text_.size());
    return entry.id;
}

std::uint32_t NameTable::find(std::string_view name) const {
    const auto hash = hash_of(name);
    return entries_[place(name, like(name, hash), hash)].id;
}

}  // namespace kp
