// SPDX-License-Identifier: GPL-3.0-or-later
// Drawings as values: lines, areas and words on a sheet, for files that leave the program. The window draws by itself.
#pragma once

#include <string>
#include <vector>

namespace kp {

/// Red, green, blue, 0 to 255.
struct Ink {
    int r = 0, g = 0, b = 0;
    bool operator==(const Ink&) const = default;
};

namespace inks {
inline constexpr Ink ink{31, 42, 51}, second{92, 103, 112}, hairline{214, 207, 192}, bright{255, 255, 255},
    good{46, 125, 91}, stop{194, 59, 34}, caution{168, 107, 18}, cell{53, 92, 125}, wire{200, 214, 226},
    pad{112, 88, 140}, clock{226, 208, 150}, board{223, 230, 218};
}  // namespace inks

/// Lengths in points (1/72 inch), x to the right, y downwards.
struct Drawing {
    enum class Align { left, middle, right };
    struct Shape {
        enum Kind { line, area, text } kind = line;
        std::vector<std::pair<double, double>>
            points;  ///< of an area its corners; of a text where it stands (base line)
        Ink ink;
        bool filled = false;
        double width = 0.7;  ///< of a line
        std::string words;
        double size = 8;
        bool bold = false, fixed_pitch = false;
        Align align = Align::left;
    };
    std::string title;
    double width = 0, height = 0;
    std::vector<Shape> shapes;

    void line(double x1, double y1, double x2, double y2, Ink ink, double width = 0.7);
    void path(std::vector<std::pair<double, double>> points, Ink ink, double width = 0.7);
    void box(double x, double y, double w, double h, Ink ink, bool filled);
    void area(std::vector<std::pair<double, double>> corners, Ink ink, bool filled);
    void text(double x, double y, std::string words, double size = 8, Ink ink = inks::ink, Align align = Align::left,
              bool bold = false, bool fixed_pitch = false);
};

/// As one SVG 1.1 document without scripts or outside references. Control characters are left out of words.
[[nodiscard]] std::string svg_of(const Drawing& drawing);

}  // namespace kp
