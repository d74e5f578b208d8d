// SPDX-License-Identifier: GPL-3.0-or-later
// An allocator for arrays of many megabytes that are read at random, such as tables of names: with pages of 4 KB nearly
// each such read also misses the processor's table of pages. Asks the kernel for pages of 2 MB (madvise, "transparent
// huge pages"); where it has none, nothing changes. Small arrays come from the heap as ever.
#pragma once

#include <cstddef>
#include <cstdlib>
#include <new>

#include <sys/mman.h>

namespace kp {

template <class T>
struct LargePages {
    using value_type = T;
    LargePages() = default;
    template <class U>
    LargePages(const LargePages<U>&) {}  // NOLINT: allocators convert

    [[nodiscard]] T* allocate(std::size_t n) {
        constexpr std::size_t page = std::size_t{2} << 20;
        const std::size_t bytes = n * sizeof(T), whole = (bytes + page - 1) / page * page;
        void* p = bytes < page ? std::malloc(bytes) : std::aligned_alloc(page, whole);
        if (!p) throw std::bad_alloc();
        if (bytes >= page) madvise(p, whole, MADV_HUGEPAGE);
        return static_cast<T*>(p);
    }
    void deallocate(T* p, std::size_t) { std::free(p); }
    bool operator==(const LargePages&) const = default;
};

}  // namespace kp
