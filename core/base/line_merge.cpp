// SPDX-License-Identifier: GPL-3.0-or-later
// Myers 1986, greedy: O(ND) time for N lines with D differences, and memory of D squared for the way back, so D is
// limited and larger differences are one hunk. The merge takes hunks of both sides that touch as one place to decide.
#include "core/base/line_merge.hpp"

#include <algorithm>
#include <cstdint>
#include <unordered_map>

namespace kp {

namespace {

constexpr long most_differences = 2000;  // the way back needs memory of its square

using Ids = std::vector<std::uint32_t>;

/// Numbers for lines, so that they compare as numbers.
std::pair<Ids, Ids> numbered(const std::vector<std::string_view>& a, const std::vector<std::string_view>& b) {
    std::unordered_map<std::string_view, std::uint32_t> known;
    const auto number = [&](const std::vector<std::string_view>& lines) {
        Ids out;
        out.reserve(lines.size());
        for (const auto line : lines)
            out.push_back(known.emplace(line, static_cast<std::uint32_t>(known.size())).first->second);
        return out;
    };
    auto first = number(a);
    return {std::move(first), number(b)};
}

/// Greedy search by the number of differences; the farthest place on each diagonal, kept for the way back.
std::vector<LineHunk> search(const std::uint32_t* a, long n, const std::uint32_t* b, long m) {
    std::vector<std::vector<long>> steps;
    std::vector<long> far(static_cast<size_t>(2 * std::min(n + m, most_differences) + 3), 0);
    const long middle = static_cast<long>(far.size()) / 2;
    const auto at = [&](std::vector<long>& v, long k) -> long& { return v[static_cast<size_t>(middle + k)]; };
    long found = -1;
    for (long d = 0; d <= std::min(n + m, most_differences) && found < 0; ++d) {
        steps.emplace_back(far.begin() + (middle - d - 1), far.begin() + (middle + d + 2));
        for (long k = -d; k <= d; k += 2) {
            long x = k == -d || (k != d && at(far, k - 1) < at(far, k + 1)) ? at(far, k + 1) : at(far, k - 1) + 1;
            while (x < n && x - k < m && a[x] == b[x - k]) ++x;
            at(far, k) = x;
            if (x >= n && x - k >= m) {
                found = d;
                break;
            }
        }
    }
    if (found < 0) return {{0, static_cast<size_t>(n), 0, static_cast<size_t>(m)}};
    std::vector<LineHunk> out;
    long x = n, y = m;
    for (long d = found; d > 0; --d) {
        const auto& before = steps[static_cast<size_t>(d)];
        const auto far_then = [&](long k) { return before[static_cast<size_t>(k + d + 1)]; };
        const long k = x - y, from = k == -d || (k != d && far_then(k - 1) < far_then(k + 1)) ? k + 1 : k - 1;
        const long px = far_then(from), py = px - from;
        const bool takes_b = from == k + 1;
        // One line of the one or the other; those that touch become one hunk.
        LineHunk h{static_cast<size_t>(px), static_cast<size_t>(takes_b ? px : px + 1), static_cast<size_t>(py),
                   static_cast<size_t>(takes_b ? py + 1 : py)};
        if (!out.empty() && out.back().a_from == h.a_to && out.back().b_from == h.b_to) {
            h.a_to = out.back().a_to;
            h.b_to = out.back().b_to;
            out.back() = h;
        } else
            out.push_back(h);
        x = px;
        y = py;
    }
    std::reverse(out.begin(), out.end());
    return out;
}

std::string text_of(const std::vector<std::string_view>& lines, size_t from, size_t to) {
    std::string out;
    for (size_t i = from; i < to; ++i) out += lines[i];
    return out;
}

/// How far a side's line numbers are ahead of the base's behind its first hunks.
struct Side {
    const std::vector<std::string_view>& lines;
    std::vector<LineHunk> hunks;
    size_t next = 0;
    long shift = 0;

    [[nodiscard]] bool starts_before(size_t base_line) const {
        return next < hunks.size() && hunks[next].a_from <= base_line;
    }
    /// Takes the hunks that touch base lines up to `to`; gives the new end.
    size_t take(size_t to, bool& any) {
        while (next < hunks.size() && (hunks[next].a_from < to || hunks[next].a_from == to)) {
            const auto& h = hunks[next++];
            to = std::max(to, h.a_to);
            shift = static_cast<long>(h.b_to) - static_cast<long>(h.a_to);
            any = true;
        }
        return to;
    }
    [[nodiscard]] size_t line(size_t base_line, long with) const {
        return static_cast<size_t>(static_cast<long>(base_line) + with);
    }
};

}  // namespace

std::vector<std::string_view> lines_with_ends(std::string_view text) {
    std::vector<std::string_view> out;
    while (!text.empty()) {
        const auto end = text.find('\n');
        const auto n = end == std::string_view::npos ? text.size() : end + 1;
        out.push_back(text.substr(0, n));
        text.remove_prefix(n);
    }
    return out;
}

std::vector<LineHunk> line_hunks(const std::vector<std::string_view>& a, const std::vector<std::string_view>& b) {
    const auto [x, y] = numbered(a, b);
    size_t head = 0, tail = 0;
    while (head < x.size() && head < y.size() && x[head] == y[head]) ++head;
    while (tail < x.size() - head && tail < y.size() - head && x[x.size() - 1 - tail] == y[y.size() - 1 - tail]) ++tail;
    if (x.size() == y.size() && head == x.size()) return {};
    auto out = search(x.data() + head, static_cast<long>(x.size() - head - tail), y.data() + head,
                      static_cast<long>(y.size() - head - tail));
    for (auto& h : out) {
        h.a_from += head;
        h.a_to += head;
        h.b_from += head;
        h.b_to += head;
    }
    return out;
}

std::vector<MergePiece> merge_lines(std::string_view base, std::string_view mine, std::string_view theirs) {
    const auto o = lines_with_ends(base), a = lines_with_ends(mine), b = lines_with_ends(theirs);
    Side left{a, line_hunks(o, a)}, right{b, line_hunks(o, b)};
    std::vector<MergePiece> out;
    const auto same = [&](const std::string& text) {
        if (text.empty()) return;
        if (!out.empty() && !out.back().differs)
            out.back().both += text;
        else
            out.push_back({false, text, {}, {}, {}});
    };
    size_t at = 0;
    while (left.next < left.hunks.size() || right.next < right.hunks.size()) {
        const size_t from = std::min(left.next < left.hunks.size() ? left.hunks[left.next].a_from : o.size(),
                                     right.next < right.hunks.size() ? right.hunks[right.next].a_from : o.size());
        same(text_of(o, at, from));
        const long left_before = left.shift, right_before = right.shift;
        bool left_any = false, right_any = false;
        size_t to = from;
        for (size_t last = to + 1; last != to;) {
            last = to;
            to = left.take(to, left_any);
            to = right.take(to, right_any);
        }
        const auto l = text_of(a, left.line(from, left_before), left.line(to, left.shift)),
                   r = text_of(b, right.line(from, right_before), right.line(to, right.shift)),
                   was = text_of(o, from, to);
        if (l == r || r == was)
            same(l);
        else if (l == was)
            same(r);
        else
            out.push_back({true, {}, was, l, r});
        at = to;
    }
    same(text_of(o, at, o.size()));
    return out;
}

std::string merged_text(const std::vector<MergePiece>& pieces, const std::vector<MergeChoice>& choices) {
    std::string out;
    size_t decided = 0;
    for (const auto& p : pieces) {
        if (!p.differs) {
            out += p.both;
            continue;
        }
        const auto choice = decided < choices.size() ? choices[decided] : MergeChoice::mine;
        ++decided;
        if (choice != MergeChoice::theirs) out += p.mine;
        if (choice == MergeChoice::both && !p.mine.empty() && !p.mine.ends_with('\n') && !p.theirs.empty()) out += '\n';
        if (choice != MergeChoice::mine) out += p.theirs;
    }
    return out;
}

}  // namespace kp
