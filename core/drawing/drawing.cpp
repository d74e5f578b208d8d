// SPDX-License-Identifier: GPL-3.0-or-later
// Shapes one by one into SVG 1.1; words are escaped, so that no name becomes markup. Linear in the shapes.
#include "core/drawing/drawing.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <cstdio>

namespace kp {

namespace {

std::string number(double v) {
    return shortest(static_cast<double>(static_cast<long long>(v * 100 + (v < 0 ? -0.5 : 0.5))) / 100);
}

std::string color(Ink i) {
    char text[8];
    std::snprintf(text, sizeof text, "#%02X%02X%02X", i.r & 255, i.g & 255, i.b & 255);
    return text;
}

std::string escaped(const std::string& words) {
    std::string out;
    for (const char c : words) switch (c) {
            case '&': out += "&amp;"; break;
            case '<': out += "&lt;"; break;
            case '>': out += "&gt;"; break;
            case '"': out += "&quot;"; break;
            default:
                if (static_cast<unsigned char>(c) >= 32) out += c;
        }
    return out;
}

std::string points_of(const Drawing::Shape& s) {
    std::string out;
    for (const auto& [x, y] : s.points) out += (out.empty() ? "" : " ") + number(x) + "," + number(y);
    return out;
}

std::string text_of(const Drawing::Shape& s) {
    if (s.points.empty()) return {};
    const char* anchor = s.align == Drawing::Align::left     ? "start"
                         : s.align == Drawing::Align::middle ? "middle"
                                                             : "end";
    return said("<text x=\"{}\" y=\"{}\" font-size=\"{}\" fill=\"{}\" text-anchor=\"{}\"{}{}>{}</text>\n",
                number(s.points[0].first), number(s.points[0].second), number(s.size), color(s.ink), anchor,
                (s.bold ? " font-weight=\"bold\"" : ""),
                (s.fixed_pitch ? " font-family=\"DejaVu Sans Mono, monospace\"" : ""), escaped(s.words));
}

std::string svg_of_shape(const Drawing::Shape& s) {
    if (s.kind == Drawing::Shape::text) return text_of(s);
    const bool open = s.kind == Drawing::Shape::line;
    std::string out = said("{} points=\"{}\"", open ? "<polyline" : "<polygon", points_of(s));
    if (!open && s.filled) return said("{} fill=\"{}\"/>\n", out, color(s.ink));
    return said("{} fill=\"none\" stroke=\"{}\" stroke-width=\"{}\"/>\n", out, color(s.ink), number(s.width));
}

}  // namespace

void Drawing::line(double x1, double y1, double x2, double y2, Ink ink, double w) {
    path({{x1, y1}, {x2, y2}}, ink, w);
}

void Drawing::path(std::vector<std::pair<double, double>> points, Ink ink, double w) {
    Shape s;
    s.points = std::move(points);
    s.ink = ink;
    s.width = w;
    shapes.push_back(std::move(s));
}

void Drawing::box(double x, double y, double w, double h, Ink ink, bool filled) {
    area({{x, y}, {x + w, y}, {x + w, y + h}, {x, y + h}}, ink, filled);
}

void Drawing::area(std::vector<std::pair<double, double>> corners, Ink ink, bool filled) {
    Shape s;
    s.kind = Shape::area;
    s.points = std::move(corners);
    s.ink = ink;
    s.filled = filled;
    shapes.push_back(std::move(s));
}

void Drawing::text(double x, double y, std::string words, double size, Ink ink, Align align, bool bold,
                   bool fixed_pitch) {
    Shape s;
    s.kind = Shape::text;
    s.points = {{x, y}};
    s.words = std::move(words);
    s.size = size;
    s.ink = ink;
    s.align = align;
    s.bold = bold;
    s.fixed_pitch = fixed_pitch;
    shapes.push_back(std::move(s));
}

std::string svg_of(const Drawing& d) {
    std::string out = said(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{}\" height=\"{}\" viewBox=\"0 0 {} {}\" "
        "font-family=\"B612, DejaVu Sans, sans-serif\">\n<title>{}</title>\n<rect width=\"{}\" height=\"{}\" "
        "fill=\"#FFFFFF\"/>\n",
        number(d.width), number(d.height), number(d.width), number(d.height), escaped(d.title), number(d.width),
        number(d.height));
    for (const auto& s : d.shapes) out += svg_of_shape(s);
    return out + "</svg>\n";
}

}  // namespace kp
