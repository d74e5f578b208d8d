// SPDX-License-Identifier: GPL-3.0-or-later
// Drawings and reports for files: the same bytes each time, nothing of a name becomes markup.
#include "core/drawing/pdf.hpp"
#include "core/drawing/pictures.hpp"
#include "core/inputs/data_folder.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

size_t count_of(const std::string& text, const std::string& what) {
    size_t n = 0;
    for (auto at = text.find(what); at != std::string::npos; at = text.find(what, at + 1)) ++n;
    return n;
}

TEST(Drawings, NamesAreTextAndNothingElse) {
    Drawing d;
    d.title = "<script>&\"";
    d.width = d.height = 10;
    d.text(1, 2, "</text><a\x01>");
    const auto svg = svg_of(d);
    EXPECT_EQ(svg.find("<script>"), std::string::npos);
    EXPECT_EQ(svg.find("<a"), std::string::npos);
    EXPECT_EQ(svg.find('\x01'), std::string::npos);
    EXPECT_NE(svg.find("&lt;/text&gt;&lt;a&gt;"), std::string::npos);
}

TEST(Drawings, APathShowsItsPiecesToScale) {
    TimingPath path{"setup", "a/CK", "b/D", 1, "c", "c", 10, 20, 15, 19, 0, 0, 1, "", "", {}};
    path.points = {{"a/CK", true, PointKind::launch, 0, 10, ""},
                   {"a/Q", true, PointKind::cell, 2, 12, "DFF"},
                   {"b/D", true, PointKind::wire, 3, 15, ""},
                   {"b/D", true, PointKind::check, -1, 19, ""}};
    const ClockReport clock{"c", 10, {0, 5}, false, {}, {}, 2};
    const auto d = path_drawing(path, std::span(&clock, 1));
    std::vector<double> widths;
    for (const auto& s : d.shapes)
        if (s.kind == Drawing::Shape::area && s.filled) widths.push_back(s.points[1].first - s.points[0].first);
    ASSERT_EQ(widths.size(), 2u);
    EXPECT_NEAR(widths[1] / widths[0], 1.5, 1e-9);  // 3 ns beside 2 ns
    EXPECT_EQ(svg_of(d), svg_of(path_drawing(path, std::span(&clock, 1))));
}

TEST(Drawings, NothingToDrawGivesNoShapes) {
    EXPECT_TRUE(footprint_drawing(Part{}, {}).shapes.empty());
    EXPECT_TRUE(board_drawing(Board{}, {}).shapes.empty());
}

TEST(Pdf, IsTheSameEachTimeAndGoesOnOverPages) {
    PdfReport report;
    report.title = "a report";
    report.add_heading("Ports");
    report.add_paragraph("Ω, −1.2 ns and a name without a blank " + std::string(400, 'x'));
    PdfTable table{{"port", "pin"}, {0.5, 0.5}, {false, true}, {}};
    for (int i = 0; i < 300; ++i) table.rows.push_back({"data[" + std::to_string(i) + "]", std::to_string(i)});
    report.add_table(table);
    Drawing d;
    d.width = d.height = 100;
    d.box(0, 0, 50, 50, inks::stop, true);
    report.add_drawing(d);
    for (const auto& font : {report_font(data_folder()), std::string(), std::string("/nowhere.ttf")}) {
        const auto a = pdf_of(report, font), b = pdf_of(report, font);
        ASSERT_TRUE(a.ok()) << font << a.first().text;
        EXPECT_TRUE(a.value().starts_with("%PDF-"));
        EXPECT_EQ(a.value(), b.value());
        EXPECT_GE(count_of(a.value(), "/Type /Page\n"), 6u) << font;
    }
    EXPECT_FALSE(report_font(data_folder()).empty());
}

}  // namespace
}  // namespace kp
