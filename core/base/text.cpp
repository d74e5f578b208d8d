// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers and words without a locale: what is read or written is the same on every machine. Natural order compares
// runs of digits as numbers.
#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <cstdio>
#include <algorithm>
#include <cctype>
#include <charconv>
#include <cmath>
#include <cstdint>
#include <numeric>

namespace kp {

namespace {
char low(char c) {
    return static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
}
bool digit(char c) {
    return c >= '0' && c <= '9';
}
}  // namespace

LineColumn place_of(std::string_view text, size_t offset) {
    offset = std::min(offset, text.size());
    LineColumn at;
    size_t start = 0;
    for (size_t i = 0; i < offset; ++i) {
        if (text[i] == '\n') {
            ++at.line;
            start = i + 1;
        }
    }
    at.column = static_cast<int>(offset - start) + 1;
    return at;
}

int edit_distance(std::string_view a, std::string_view b) {
    std::vector<int> row(b.size() + 1);
    std::iota(row.begin(), row.end(), 0);
    for (size_t i = 1; i <= a.size(); ++i) {
        int diagonal = row[0];
        row[0] = static_cast<int>(i);
        for (size_t j = 1; j <= b.size(); ++j) {
            const int replaced = diagonal + (a[i - 1] == b[j - 1] ? 0 : 1);
            diagonal = row[j];
            row[j] = std::min({row[j] + 1, row[j - 1] + 1, replaced});
        }
    }
    return row[b.size()];
}

std::optional<std::string> nearest(std::string_view word, std::span<const std::string> candidates) {
    constexpr size_t longest = 200;  // a longer name is not typing slip, and the comparison is quadratic
    if (word.empty() || word.size() > longest) return std::nullopt;
    // In a word of one or two letters every other letter is "near"; only its case may differ there.
    const int limit = word.size() < 3 ? 1 : 2 * ((static_cast<int>(word.size()) + 2) / 3) + 1;
    int best = limit + 1;
    const std::string* found = nullptr;
    for (const auto& candidate : candidates) {
        const auto gap =
            candidate.size() > word.size() ? candidate.size() - word.size() : word.size() - candidate.size();
        if (candidate.size() > longest || 2 * static_cast<int>(gap) >= best) continue;
        const int d = 2 * edit_distance(lower(word), lower(candidate)) + (word == candidate ? 0 : 1);
        if (d < best) {
            best = d;
            found = &candidate;
        }
    }
    return found ? std::optional<std::string>(*found) : std::nullopt;
}

std::string did_you_mean(std::string_view word, std::span<const std::string> candidates) {
    const auto name = nearest(word, candidates);
    return name ? said(" Did you mean '{}'?", *name) : "";
}

bool glob_match(std::string_view p, std::string_view t, bool ignore_case) {
    size_t i = 0, j = 0, star = std::string_view::npos, mark = 0;
    while (j < t.size()) {
        const bool same = i < p.size() && (p[i] == '?' || p[i] == t[j] || (ignore_case && low(p[i]) == low(t[j])));
        if (i < p.size() && p[i] == '*') {
            star = i++;
            mark = j;
        } else if (same) {
            ++i;
            ++j;
        } else if (star != std::string_view::npos) {
            i = star + 1;
            j = ++mark;
        } else {
            return false;
        }
    }
    while (i < p.size() && p[i] == '*') ++i;
    return i == p.size();
}

bool is_pattern(std::string_view text) {
    return text.find_first_of("*?") != std::string_view::npos;
}

std::string_view trim(std::string_view text) {
    while (!text.empty() && std::isspace(static_cast<unsigned char>(text.front()))) text.remove_prefix(1);
    while (!text.empty() && std::isspace(static_cast<unsigned char>(text.back()))) text.remove_suffix(1);
    return text;
}

std::vector<std::string_view> split(std::string_view text, char by) {
    std::vector<std::string_view> parts;
    size_t start = 0;
    for (;;) {
        const auto at = text.find(by, start);
        parts.push_back(text.substr(start, at == std::string_view::npos ? at : at - start));
        if (at == std::string_view::npos) return parts;
        start = at + 1;
    }
}

std::string lower(std::string_view text) {
    std::string out(text);
    std::transform(out.begin(), out.end(), out.begin(), low);
    return out;
}

std::string upper(std::string_view text) {
    std::string out(text);
    for (auto& c : out) c = static_cast<char>(std::toupper(static_cast<unsigned char>(c)));
    return out;
}

namespace {

/// Plain decimals of at most 15 digits: a whole number below 2^53 divided by an exact power of ten is rounded once, so
/// it is the nearest double (Clinger 1990, the fast case). Nothing for all other texts.
std::optional<double> plain_decimal(std::string_view text) {
    constexpr double powers[] = {1e0, 1e1, 1e2, 1e3, 1e4, 1e5, 1e6, 1e7, 1e8, 1e9, 1e10, 1e11, 1e12, 1e13, 1e14, 1e15};
    if (text.empty() || text.size() > 16) return std::nullopt;
    const bool minus = text[0] == '-';
    std::uint64_t digits = 0;
    size_t behind = 0, count = 0;
    bool point = false;
    for (size_t i = minus ? 1 : 0; i < text.size(); ++i) {
        const char c = text[i];
        if (c == '.' && !point) {
            point = true;
            continue;
        }
        if (c < '0' || c > '9') return std::nullopt;
        digits = digits * 10 + static_cast<std::uint64_t>(c - '0');
        ++count;
        behind += point;
    }
    // "1." and ".5" are left to the library.
    if (count == 0 || count > 15 || (point && (behind == 0 || behind == count))) return std::nullopt;
    const double value = static_cast<double>(digits) / powers[behind];
    return minus ? -value : value;
}

}  // namespace

std::optional<double> to_number(std::string_view text) {
    if (const auto plain = plain_decimal(text)) return plain;
    text = trim(text);
    if (text.starts_with('+')) text.remove_prefix(1);
    double value = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (error != std::errc{} || end != text.data() + text.size() || !std::isfinite(value)) return std::nullopt;
    return value;
}

std::optional<long long> to_integer(std::string_view text) {
    text = trim(text);
    if (text.starts_with('+')) text.remove_prefix(1);
    long long value = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (error != std::errc{} || end != text.data() + text.size()) return std::nullopt;
    return value;
}

std::string shortest(double value) {
    char buffer[64];
    const auto end = std::to_chars(buffer, buffer + sizeof buffer, value).ptr;
    return {buffer, end};
}

std::string fixed(double value, int decimals) {
    char buffer[400];
    const auto end =
        std::to_chars(buffer, buffer + sizeof buffer, std::fabs(value), std::chars_format::fixed, decimals).ptr;
    std::string digits(buffer, end);
    const bool zero = digits.find_first_not_of("0.") == std::string::npos;
    return value < 0 && !zero ? "\u2212" + digits : digits;
}

bool natural_less(std::string_view a, std::string_view b) {
    size_t i = 0, j = 0;
    while (i < a.size() && j < b.size()) {
        if (digit(a[i]) && digit(b[j])) {
            size_t i2 = i, j2 = j;
            while (i2 < a.size() && digit(a[i2])) ++i2;
            while (j2 < b.size() && digit(b[j2])) ++j2;
            auto x = a.substr(i, i2 - i), y = b.substr(j, j2 - j);
            while (x.size() > 1 && x.front() == '0') x.remove_prefix(1);
            while (y.size() > 1 && y.front() == '0') y.remove_prefix(1);
            if (x.size() != y.size()) return x.size() < y.size();
            if (x != y) return x < y;
            i = i2;
            j = j2;
        } else {
            if (a[i] != b[j]) return a[i] < b[j];
            ++i;
            ++j;
        }
    }
    return a.size() - i < b.size() - j;
}

std::string list_names(std::span<const std::string> names, size_t most) {
    std::string out;
    const size_t shown = names.size() > most + 1 ? most : names.size();
    for (size_t i = 0; i < shown; ++i) {
        if (i) out += (i + 1 == names.size()) ? " and " : ", ";
        out += names[i];
    }
    if (shown < names.size()) out += said(" and {} more", names.size() - shown);
    return out;
}

std::string hex(unsigned long long v, int digits) {
    char text[24];
    std::snprintf(text, sizeof text, "0x%0*llX", digits, v);
    return text;
}

std::string counted(long long n, std::string_view one, std::string_view many) {
    std::string out = std::to_string(n) + ' ';
    if (n == 1 || many.empty())
        out += one;
    else
        out += many;
    if (n != 1 && many.empty()) out += 's';
    return out;
}

}  // namespace kp
