// SPDX-License-Identifier: GPL-3.0-or-later
// What somebody says of the columns of a table, and each way in which it can be wrong.
#include "core/format/table/columns.hpp"

#include <gtest/gtest.h>

namespace kp::table {
namespace {

constexpr const char* example =
    R"( A file of columns is like {"schema": "kitepeg.columns/1", "columns": {"Ball": "FPGA pin"}, "heading_row": 1, )"
    R"("leave_out": [7]}.)";

std::string refusal(const std::string& text) {
    const auto read = read_columns(text, "c.json");
    return read ? "read" : read.first().sentence();
}

std::string with(const std::string& more) {
    return R"({"schema": "kitepeg.columns/1", "columns": {"Ball": "FPGA pin"}, )" + more + "}";
}

TEST(Columns, EachMistakeHasItsSentence) {
    const std::string at = "c.json: ";
    EXPECT_EQ(refusal("{"), at + "This is not a file of columns (kitepeg.columns/1)." + example);
    EXPECT_EQ(refusal("[]"), at + "This is not a file of columns (kitepeg.columns/1)." + example);
    EXPECT_EQ(refusal(R"({"schema": "kitepeg.columns/1"})"), at + "It has no 'columns'." + example);
    EXPECT_EQ(refusal(R"({"schema": "kitepeg.columns/1", "columns": {"Ball": 3}})"),
              at + "The meaning of column 'Ball' is not text." + example);
    EXPECT_EQ(refusal(with(R"("heading_row": "1")")), at + "'heading_row' is a line, counted from 1, or 0." + example);
    EXPECT_EQ(refusal(with(R"("leave_out": 4)")), at + "'leave_out' lists lines." + example);
    EXPECT_EQ(refusal(with(R"("leave_out": ["4"])")), at + "'leave_out' lists lines." + example);
    EXPECT_EQ(refusal(with(R"("seen_from": "chip")")), at + "'seen_from' is \"fpga\" or \"board\"." + example);
    EXPECT_EQ(refusal(with(R"("comment": 3)")), at + "'comment' is the mark of rows left out." + example);
    EXPECT_EQ(refusal(with(R"("prefix": [])")), at + "'prefix' gives a text for a column." + example);
    EXPECT_EQ(refusal(with(R"("unit": {"Trace": 3})")), at + "The unit of column 'Trace' is not text." + example);
    EXPECT_EQ(refusal(with(R"("comment": "--")")), "read");
}

TEST(Columns, WhatIsSaidStandsOverWhatWasGuessed) {
    const std::string text = "made by hand\nWire;Ball;Way\nD1.a;pad 7;in\nD1.b;pad 8;in\nnot fitted;pad 9;in\n";
    const auto columns = read_columns(
        R"({"schema": "kitepeg.columns/1", "columns": {"wire": "terminal", "2": "FPGA pin", "WAY": "direction"},
            "heading_row": 2, "leave_out": [5], "seen_from": "board", "prefix": {"ball": "pad "}})",
        "c.json");
    ASSERT_TRUE(columns.ok()) << columns.first().sentence();
    auto grid = read_table(text, "t.csv", columns.value());
    ASSERT_TRUE(grid.ok()) << grid.first().sentence();
    ASSERT_EQ(grid.value().rows.size(), 3U);
    EXPECT_FALSE(grid.value().rows[1].unused);
    EXPECT_TRUE(grid.value().rows[2].unused) << "the line that is left out";
    Mapping mapping;
    mapping.columns.assign(3, Role::ignored);
    mapping.columns[0] = Role::pin;  // a wrong guess
    ASSERT_TRUE(take_columns(grid.value(), columns.value(), mapping).ok());
    EXPECT_EQ(mapping.column(Role::terminal), 0);
    EXPECT_EQ(mapping.column(Role::pin), 1);
    EXPECT_EQ(mapping.column(Role::direction), 2);
    EXPECT_FALSE(mapping.seen_from_fpga);
    EXPECT_EQ(mapping.cell(grid.value().rows[0], Role::pin), "7");
}

TEST(Columns, AColumnOrAMeaningThatIsNotThereIsNamed) {
    const auto grid = read_grid("Ball,Wire\n1,a\n", "t.csv").take();
    const auto told = [&](const std::string& heading, const std::string& role) {
        Columns c;
        c.roles[heading] = role;
        Mapping mapping;
        mapping.columns.assign(2, Role::ignored);
        const auto status = take_columns(grid, c, mapping);
        return status ? std::string("taken") : status.first().text;
    };
    EXPECT_EQ(told("Bal", "FPGA pin"), "The table has no column 'Bal'; it has Ball and Wire.");
    EXPECT_EQ(told("3", "FPGA pin"), "The table has no column '3'; it has Ball and Wire.");
    EXPECT_TRUE(told("Ball", "FPGA ball").starts_with("'FPGA ball' is not a meaning of a column; there are "));
    EXPECT_EQ(told("BALL", "FPGA pin"), "taken");
}

}  // namespace
}  // namespace kp::table
