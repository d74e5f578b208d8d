// SPDX-License-Identifier: GPL-3.0-or-later
// Each reader walks the edges of its wires once.
#include "core/board_sim/edges.hpp"

#include "core/base/text.hpp"

#include <algorithm>
#include <cstdio>

namespace kp::board_sim {

Level level_at(std::span<const Edge> edges, Time when) {
    const auto at =
        std::upper_bound(edges.begin(), edges.end(), when, [](Time t, const Edge& e) { return t < e.when; });
    return at == edges.begin() ? Level::floating : (at - 1)->level;
}

namespace {

/// Times at which a wire rises (or falls), from a known other level.
std::vector<Time> turns(std::span<const Edge> edges, Level to, Time from, Time end) {
    std::vector<Time> out;
    const auto other = to == Level::high ? Level::low : Level::high;
    for (size_t i = 1; i < edges.size(); ++i)
        if (edges[i].level == to && edges[i - 1].level == other && edges[i].when >= from && edges[i].when < end)
            out.push_back(edges[i].when);
    return out;
}

}  // namespace

Measured measure(std::span<const Edge> edges, Time from, Time to) {
    Measured m;
    const auto rises = turns(edges, Level::high, from, to);
    m.rises = rises.size();
    Time high = 0;
    for (size_t i = 0; i + 1 < edges.size(); ++i) {
        const auto length = edges[i + 1].when - edges[i].when;
        if (edges[i].when < from || edges[i + 1].when > to || i == 0) continue;
        auto& shortest = edges[i].level == Level::high ? m.shortest_high : m.shortest_low;
        if (edges[i].level != Level::high && edges[i].level != Level::low) continue;
        if (shortest == 0 || length < shortest) shortest = length;
        if (rises.size() > 1 && edges[i].level == Level::high && edges[i].when >= rises.front() &&
            edges[i].when < rises.back())
            high += length;
    }
    if (rises.size() < 2) return m;
    const auto whole = static_cast<double>(rises.back() - rises.front());
    m.hz = static_cast<double>(rises.size() - 1) * static_cast<double>(second) / whole;
    m.duty = static_cast<double>(high) / whole;
    return m;
}

std::string beat_verdict(double expected_hz, const Measured& m) {
    if (m.hz <= 0) return "no whole blink yet";
    if (expected_hz <= 0) return "nothing is expected";
    const double ratio = m.hz / expected_hz;
    const auto near = [ratio](double wanted) { return ratio > wanted * 0.99 && ratio < wanted * 1.01; };
    char text[96];
    if (near(1)) {
        std::snprintf(text, sizeof text, "blinks as expected, %+.0f ppm", (ratio - 1) * 1e6);
        return text;
    }
    if (near(0.5)) return "blinks half as often: it toggles at the frequency that was expected of blinks";
    if (near(2)) return "blinks twice as often: the frequency expected is that of a signal half as fast";
    std::snprintf(text, sizeof text, "blinks %.4g times as often as expected", ratio);
    return text;
}

Skew skew(std::span<const Edge> a, std::span<const Edge> b, Time from, Time to) {
    const auto first = turns(a, Level::high, from, to), other = turns(b, Level::high, from, to);
    Skew s;
    Time sum = 0;
    for (const auto t : first) {
        const auto at = std::lower_bound(other.begin(), other.end(), t);
        Time best = never;
        if (at != other.end()) best = *at - t;
        if (at != other.begin() && (best == never || t - *(at - 1) < best)) best = *(at - 1) - t;
        if (best == never) continue;
        s.least = s.pairs ? std::min(s.least, best) : best;
        s.most = s.pairs ? std::max(s.most, best) : best;
        sum += best;
        ++s.pairs;
    }
    if (s.pairs) s.mean = sum / static_cast<Time>(s.pairs);
    return s;
}

std::vector<BusWord> read_serial(std::span<const Edge> line, Time bit, Time end) {
    std::vector<BusWord> out;
    if (bit <= 0) return out;
    Time free = 0;  // the line may begin a word from here on
    for (size_t i = 1; i < line.size(); ++i) {
        const auto start = line[i].when;
        if (line[i].level != Level::low || line[i - 1].level != Level::high || start < free) continue;
        if (start + 10 * bit > end + bit / 2) break;  // still coming
        if (level_at(line, start + bit / 2) != Level::low) continue;
        BusWord w;
        w.from = start;
        w.to = start + 10 * bit;
        for (int k = 0; k < 8; ++k)
            w.value |= static_cast<std::uint64_t>(level_at(line, start + bit * (k + 1) + bit / 2) == Level::high) << k;
        w.good = level_at(line, start + 9 * bit + bit / 2) == Level::high;
        w.text = hex(w.value, 2);
        if (w.value >= 32 && w.value < 127) w.text += std::string(" ") + static_cast<char>(w.value);
        if (!w.good) w.text += ", no stop bit";
        free = start + 9 * bit + bit / 2;
        out.push_back(std::move(w));
    }
    return out;
}

Time bit_length(std::span<const Edge> line) {
    if (line.size() < 5) return 0;
    Time shortest = never;
    for (size_t i = 2; i < line.size(); ++i) shortest = std::min(shortest, line[i].when - line[i - 1].when);
    return shortest == never ? 0 : shortest;
}

std::vector<BusWord> read_spi(std::span<const Edge> clock, std::span<const Edge> data, std::span<const Edge> select,
                              unsigned mode, Time end) {
    std::vector<BusWord> out;
    // Data are taken when the clock leaves its rest, or when it comes back to it.
    const bool rests_high = mode & 2, at_second = mode & 1;
    const auto taken = rests_high == at_second ? Level::high : Level::low;
    BusWord w;
    int bits = 0;
    const auto ups = turns(select, Level::high, 0, end);
    size_t up = 0;
    const auto cut = [&](Time at) {
        if (bits > 0) {
            w.to = at;
            w.good = false;
            w.text = "cut off after " + counted(bits, "bit");
            out.push_back(w);
        }
        bits = 0;
    };
    for (const auto t : turns(clock, taken, 0, end)) {
        const bool chosen = select.empty() || level_at(select, t) == Level::low;
        // The select went up in between: what was begun is cut off, and words begin anew.
        if (up < ups.size() && ups[up] < t) cut(ups[up]);
        while (up < ups.size() && ups[up] < t) ++up;
        if (!chosen) continue;
        if (bits == 0) w = {t, t, "", 0, true};
        // Data that move with this very edge are taken from before it.
        w.value = (w.value << 1) | (level_at(data, t - 1) == Level::high);
        if (++bits < 8) continue;
        w.to = t;
        w.text = hex(w.value, 2);
        out.push_back(w);
        bits = 0;
    }
    return out;
}

std::vector<BusWord> read_two_wire(std::span<const Edge> scl, std::span<const Edge> sda, Time end) {
    struct Turn {
        Time when;
        bool clock;
        Level to;
    };
    std::vector<Turn> all;
    for (size_t i = 1; i < scl.size(); ++i) all.push_back({scl[i].when, true, scl[i].level});
    for (size_t i = 1; i < sda.size(); ++i) all.push_back({sda[i].when, false, sda[i].level});
    std::stable_sort(all.begin(), all.end(), [](const Turn& a, const Turn& b) { return a.when < b.when; });
    std::vector<BusWord> out;
    bool running = false, first = true;
    int bits = 0;
    BusWord w;
    for (const auto& t : all) {
        if (t.when >= end) break;
        if (!t.clock) {
            if (level_at(scl, t.when) != Level::high) continue;
            if (t.to == Level::low) {
                out.push_back({t.when, t.when, running ? "start again" : "start", 0, true});
                running = first = true;
                bits = 0;
            } else if (t.to == Level::high && running) {
                out.push_back({t.when, t.when, "stop", 0, true});
                running = false;
            }
            continue;
        }
        if (!running || t.to != Level::high) continue;
        const bool one = level_at(sda, t.when) == Level::high;
        if (bits == 0) w = {t.when, t.when, "", 0, true};
        if (bits < 8) {
            w.value = (w.value << 1) | (one ? 1u : 0u);
            ++bits;
            continue;
        }
        w.to = t.when;
        w.good = !one || !first;
        w.text = first ? "address " + hex(w.value >> 1, 2) + (w.value & 1 ? " read" : " write") : hex(w.value, 2);
        if (one) w.text += first ? ", no answer" : ", last";
        out.push_back(w);
        first = false;
        bits = 0;
    }
    return out;
}

}  // namespace kp::board_sim
