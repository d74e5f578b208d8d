// SPDX-License-Identifier: GPL-3.0-or-later
// Each picture is laid out once, to the width of a page: linear in pins, terminals or points of the path.
#include "core/drawing/pictures.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cmath>

namespace kp {

namespace {

using Align = Drawing::Align;

/// The sign of a peg: a wedge whose point is at the pin.
void wedge(Drawing& d, double x, double y, double size, const PinMark& mark) {
    d.area({{x - size / 2, y - size / 2}, {x + size / 2, y - size / 2}, {x, y + size / 2}},
           mark.loose ? inks::caution : inks::good, !mark.loose);
}

Ink ink_of(const Pin& pin) {
    switch (pin.kind) {
        case PinKind::ground:
        case PinKind::supply:
        case PinKind::bank_supply: return inks::second;
        case PinKind::not_connected: return inks::hairline;
        default: return inks::ink;
    }
}

std::string shortened(const std::string& name, size_t most) {
    return name.size() <= most ? name : name.substr(0, most - 1) + "…";
}

void quad_flat(Drawing& d, const Part& part, const std::map<std::string, PinMark>& marks) {
    const double size = 500, body = 290, edge = (size - body) / 2;
    d.width = size;
    d.height = size;
    d.box(edge, edge, body, body, inks::ink, false);
    const int per_side = std::max(1, part.package.per_side);
    const double pitch = body * 5 / 6 / per_side, free = body / 12;
    for (const auto& pin : part.pins) {
        // Side 0 left downwards, 1 bottom to the right, 2 right upwards, 3 top to the left.
        const double along = edge + free + (pin.slot + 0.5) * pitch, back = size - along;
        const double at[4][2] = {{edge, along}, {along, size - edge}, {size - edge, back}, {back, edge}};
        const auto side = static_cast<size_t>(std::clamp(pin.side, 0, 3));
        const double x = at[side][0], y = at[side][1];
        const double out[4][2] = {{-7, 0}, {0, 7}, {7, 0}, {0, -7}};
        d.line(x, y, x + out[side][0], y + out[side][1], ink_of(pin), 1.2);
        const auto mark = marks.find(pin.name);
        if (mark == marks.end()) continue;
        wedge(d, x - out[side][0] * 0.9, y - out[side][1] * 0.9, std::min(5.0, pitch), mark->second);
        // Names stand along the leads at the sides; above and below they go upright to keep their order.
        const auto label = shortened(mark->second.port, 20);
        if (side == 0)
            d.text(x - 9, y + 2, label, 5, inks::ink, Align::right);
        else if (side == 2)
            d.text(x + 9, y + 2, label, 5);
        else
            d.text(x, side == 1 ? y + 13 + 6 * (pin.slot % 5) : y - 9 - 6 * (pin.slot % 5), label, 4.6, inks::ink,
                   Align::middle);
    }
}

void ball_grid(Drawing& d, const Part& part, const std::map<std::string, PinMark>& marks) {
    const double size = 470;
    const int rows = std::max(1, part.package.rows), columns = std::max(1, part.package.columns);
    const double pitch = (size - 40) / std::max(rows, columns);
    d.width = 500;
    const double left = 30, top = 20;
    d.box(left - pitch / 2, top - pitch / 2, pitch * columns + pitch / 2, pitch * rows + pitch / 2, inks::ink, false);
    std::vector<std::string> list;
    for (const auto& pin : part.pins) {
        const double x = left + pitch * (pin.column + 0.25), y = top + pitch * (pin.row + 0.25), r = pitch * 0.28;
        const auto mark = marks.find(pin.name);
        if (mark == marks.end()) {
            d.box(x - r / 2, y - r / 2, r, r, ink_of(pin), pin.kind == PinKind::ground);
            continue;
        }
        wedge(d, x, y, pitch * 0.7, mark->second);
        list.push_back(pin.name + " " + mark->second.port);
    }
    std::sort(list.begin(), list.end(), natural_less);
    double y = top + pitch * rows + 20;
    constexpr size_t across = 4;
    for (size_t i = 0; i < list.size(); ++i) {
        d.text(left + static_cast<double>(i % across) * 115, y, shortened(list[i], 26), 6);
        if (i % across == across - 1) y += 9;
    }
    d.height = y + 14;
}

}  // namespace

Drawing footprint_drawing(const Part& part, const std::map<std::string, PinMark>& marks) {
    Drawing d;
    d.title = part.name + " from above";
    if (part.pins.empty()) return d;
    if (part.package.ball_grid)
        ball_grid(d, part, marks);
    else
        quad_flat(d, part, marks);
    return d;
}

Drawing board_drawing(const Board& board, const std::map<std::string, PinMark>& marks) {
    Drawing d;
    d.title = board.name;
    if (board.parts.empty() || board.width_mm <= 0 || board.height_mm <= 0) return d;
    const double scale = 500 / board.width_mm;
    d.width = 500;
    d.height = board.height_mm * scale;
    d.box(0, 0, d.width, d.height, inks::board, true);
    for (const auto& part : board.parts) {
        const double x = part.x * scale, y = part.y * scale, w = part.w * scale, h = part.h * scale;
        d.box(x, y, w, h, inks::bright, true);
        d.box(x, y, w, h, inks::ink, false);
        std::vector<std::string> ports;
        for (const auto& t : part.terminals)
            if (const auto at = board.at_terminal(part.ref + "." + t.name); at && at.net)
                if (const auto mark = marks.find(at.net->pin); mark != marks.end())
                    ports.push_back(t.name + " " + mark->second.port);
        d.text(x + 2, y + 7, part.ref + " " + shortened(part.label.empty() ? part.name : part.label, 24), 5.5,
               inks::ink, Align::left, true);
        double line = y + 13;
        for (const auto& p : ports) {
            if (line > y + h - 1) break;
            d.text(x + 2, line, shortened(p, static_cast<size_t>(std::max(6.0, w / 2.6))), 4.4, inks::second);
            line += 5;
        }
    }
    return d;
}

namespace {

struct Axis {
    double from = 0, to = 1, left = 0, right = 1;
    [[nodiscard]] double x(double ns) const { return left + (right - left) * (ns - from) / std::max(to - from, 1e-9); }
};

void wave(Drawing& d, const ClockReport& clock, const Axis& axis, double zero, double edge, double top) {
    if (clock.period <= 0 || clock.waveform.size() < 2) return;
    const double high = top, low = top + 10;
    std::vector<std::pair<double, double>> line;
    const double first = std::floor((axis.from + zero) / clock.period - 1) * clock.period - zero;
    for (double base = first; base < axis.to; base += clock.period)
        for (const auto& [time, y] :
             {std::pair{base + clock.waveform[0], high}, std::pair{base + clock.waveform[1], low}}) {
            if (time < axis.from || time > axis.to) continue;
            if (line.empty()) line.emplace_back(axis.left, y == high ? low : high);
            line.emplace_back(axis.x(time), line.back().second);
            line.emplace_back(axis.x(time), y);
        }
    if (line.empty()) return;
    line.emplace_back(axis.right, line.back().second);
    d.path(std::move(line), inks::second);
    d.line(axis.x(edge), high - 1, axis.x(edge), low + 1, inks::ink, 2);
}

const ClockReport* called(std::span<const ClockReport> clocks, const std::string& name) {
    for (const auto& c : clocks)
        if (c.name == name) return &c;
    return nullptr;
}

}  // namespace

Drawing path_drawing(const TimingPath& path, std::span<const ClockReport> clocks) {
    Drawing d;
    d.width = 500;
    d.height = 168;
    d.title = path.startpoint + " to " + path.endpoint;
    const double zero = path.launch_edge, arrival = path.arrival - zero, required = path.required - zero,
                 capture = path.capture_edge - zero;
    const bool checked = path.check != "unconstrained";
    const bool late = path.check != "hold" && path.check != "removal";
    d.text(8, 13, shortened(path.startpoint, 60) + " → " + shortened(path.endpoint, 60), 8, inks::ink, Align::left,
           true);
    std::string verdict = said("delay {} ns", fixed(arrival, 3));
    if (checked)
        verdict = path.check + (path.slack >= 0 ? said(" is met with {} ns to spare", fixed(path.slack, 3))
                                                : said(" fails by {} ns", fixed(-path.slack, 3)));
    d.text(8, 24, verdict + (path.corner.empty() ? "" : ", corner " + path.corner), 7,
           !checked          ? inks::second
           : path.slack >= 0 ? inks::good
                             : inks::stop);
    const double begin = std::min({0.0, required, capture}), end = std::max({arrival, required, capture});
    const double beyond = std::max((end - begin) * 0.05, 0.01);
    const Axis axis{begin - beyond, end + beyond, 90, 488};
    if (const auto* c = called(clocks, path.launch_clock)) {
        d.text(8, 46, shortened(c->name, 16) + " launches", 6, inks::second);
        wave(d, *c, axis, zero, 0, 38);
    }
    if (const auto* c = called(clocks, path.capture_clock)) {
        d.text(8, 64, shortened(c->name, 16) + " captures", 6, inks::second);
        wave(d, *c, axis, zero, capture, 56);
    }
    double from = 0;
    for (const auto& p : path.points) {
        if (is_end(p.kind) || p.delay == 0) continue;
        const double x = axis.x(from), w = std::max(0.6, axis.x(from + p.delay) - x);
        d.box(x, 78, w, 28,
              p.kind == PointKind::wire   ? inks::wire
              : p.kind != PointKind::cell ? inks::clock
              : p.pad                     ? inks::pad
                                          : inks::cell,
              true);
        if (w > 26) d.text(x + 2, 95, fixed(p.delay, 2), 6, p.kind == PointKind::cell ? inks::bright : inks::ink);
        from += p.delay;
    }
    if (checked) {
        d.line(axis.x(required), 72, axis.x(required), 118, inks::ink, 1.2);
        const double label = std::clamp(axis.x(required), 92.0, 486.0);
        d.text(label, 126, (late ? "must be there by " : "not before ") + fixed(required, 3), 6, inks::ink,
               label > 300 ? Align::right : Align::left);
    }
    d.line(axis.left, 136, axis.right, 136, inks::second);
    const double step = std::pow(10, std::floor(std::log10((axis.to - axis.from) / 4)));
    const double wide = step * ((axis.to - axis.from) / step > 20 ? 5 : (axis.to - axis.from) / step > 8 ? 2 : 1);
    for (double tick = std::ceil(axis.from / wide) * wide; tick <= axis.to; tick += wide) {
        d.line(axis.x(tick), 136, axis.x(tick), 139, inks::second);
        d.text(axis.x(tick), 147, shortest(std::round(tick * 1e6) / 1e6), 6, inks::second, Align::middle);
    }
    d.text(488, 160, "ns from the launching edge", 6, inks::second, Align::right);
    return d;
}

}  // namespace kp
