// SPDX-License-Identifier: GPL-3.0-or-later
// The page of learned lines: marks by click and key, what reads, another shape, the way to Compare and back to text.
#include "app/pegs/example_line.hpp"
#include "app/pegs/lines_model.hpp"
#include "app/pegs/lines_page.hpp"
#include "app/pegs/pegs_station.hpp"
#include "app/shell/ask_files.hpp"
#include "core/inputs/pattern_memory.hpp"
#include "tests/app/harness.hpp"

#include <QAbstractItemModelTester>
#include <QLabel>
#include <QTableView>
#include <QTest>
#include <gtest/gtest.h>

namespace kp::app::test {
namespace {

const char* const text =
    "# pads\n#put LAMP<0> on 46 ;\n#put LAMP<1> on 47;\n#std LAMP<0> \"3V3 LVCMOS\"\nput HORN upon 3\n";

struct LinesDriver : Driver {
    PegsStation& pegs = *static_cast<PegsStation*>(window.station_at(1));
    LinesPage& page = pegs.lines_page();
    LinesDriver() {
        window.show_station(1);
        pegs.show_view(PegsStation::lines_view);
    }
    [[nodiscard]] QString summary() { return page.findChild<QLabel*>(QStringLiteral("lines.summary"))->text(); }
    void wait_for(const QString& beginning) {
        EXPECT_TRUE(QTest::qWaitFor([&] { return summary().startsWith(beginning); }, 5000)) << summary().toStdString();
    }
    void choose(int row) {
        auto* list = page.findChild<QTableView*>(QStringLiteral("lines.list"));
        list->selectRow(row);
    }
};

TEST(LinesPage, AnExampleTeachesHowAllLinesRead) {
    LinesDriver d;
    QAbstractItemModelTester tester(&d.page.model());
    d.page.show_text(QString::fromUtf8(text), QStringLiteral("pads.txt"));
    EXPECT_EQ(d.page.example().shape().example, "put HORN upon 3") << "the first line that is not a comment";
    d.choose(1);
    d.page.add_shape();
    ASSERT_EQ(d.page.pattern().shapes.size(), 1u) << "a line that was only looked at gives way";
    d.page.example().mark(6, QStringLiteral("port"));
    d.page.example().mark(17, QStringLiteral("pin"));
    d.wait_for(QStringLiteral("2 lines read, 2 known"));
    EXPECT_EQ(d.page.model().state_of(1), LinesModel::State::known);
    EXPECT_EQ(d.page.model().state_of(4), LinesModel::State::unread);
    EXPECT_TRUE(d.summary().contains(QStringLiteral("Line 5 is not read: 'on' is expected at column 10")))
        << d.summary().toStdString();
    d.choose(3);
    d.page.add_shape();
    ASSERT_EQ(d.page.pattern().shapes.size(), 2u);
    auto& example = d.page.example();
    example.setFocus();
    QTest::keyClick(&example, Qt::Key_Right);
    QTest::keyClick(&example, Qt::Key_P);
    QTest::keyClick(&example, Qt::Key_Right);
    QTest::keyClick(&example, Qt::Key_S);
    d.wait_for(QStringLiteral("3 lines read"));
    EXPECT_EQ(d.page.pattern().shapes[1].marks.size(), 2u);
    EXPECT_EQ(sheet_of(d.page.model().reading(), d.session().world().standards),
              "port,pin,standard\nLAMP[0],46,LVCMOS 3.3 V\nLAMP[1],47,\n");
    EXPECT_TRUE(
        d.page.rewritten().find("\nput rose_n<0> on 46 ;\nput rose_n<1> on 47;\nstd rose_n<0> \"3V3 LVCMOS\"\n") !=
        std::string::npos)
        << d.page.rewritten();
    d.page.forget_shape();
    d.wait_for(QStringLiteral("2 lines read"));
}

TEST(LinesPage, WhatWasReadIsComparedWithThePlan) {
    LinesDriver d;
    lines::Pattern pattern;
    pattern.shapes = {{"io tone 112", {{"port", 3, 4}, {"pin", 8, 3}}}};
    d.page.use(pattern);
    d.page.show_text(QStringLiteral("io tone 3\nio nobody 4\n"), QStringLiteral("x"));
    d.wait_for(QStringLiteral("2 lines read"));
    d.click("lines.compare");
    const auto& list = d.pegs.compare_page().proposals();
    ASSERT_FALSE(list.empty());
    EXPECT_EQ(list.back().port + " " + list.back().now + ">" + list.back().then, "tone 112>3");
    EXPECT_EQ(list[0].port, "nobody") << "what cannot be taken comes first";
    EXPECT_FALSE(list[0].refused.empty());
}

TEST(LinesPage, WritesTheTextWhereItIsAsked) {
    LinesDriver d;
    lines::Pattern pattern;
    pattern.shapes = {{"#io HORN 112", {{"port", 4, 4}, {"pin", 9, 3}}}};
    d.page.use(pattern);
    d.page.show_text(QStringLiteral("#io HORN 112\n"), QStringLiteral("x"));
    d.wait_for(QStringLiteral("1 line read"));
    const auto path = d.folder.filePath("out.txt");
    auto& questions = file_questions();
    const auto before = questions;
    questions.save = [&](QWidget*, const QString&, const QString&, const QString&) { return path; };
    d.click("lines.write");
    questions = before;
    QFile f(path);
    ASSERT_TRUE(f.open(QIODevice::ReadOnly));
    EXPECT_EQ(f.readAll().toStdString(), "io tone 112\n");
}

TEST(LinesPage, APatternIsKeptForItsUser) {
    LinesDriver d;
    lines::Pattern pattern;
    pattern.name = "Mine, of 2026";
    pattern.shapes = {{"io tone 112", {{"port", 3, 4}, {"pin", 8, 3}}}};
    PatternMemory memory(real_disk(), user_folder());
    ASSERT_TRUE(memory.keep(pattern).ok());
    const auto all = memory.all();
    const auto at = std::find_if(all.begin(), all.end(), [&](const auto& p) { return p.name == pattern.name; });
    ASSERT_NE(at, all.end());
    EXPECT_EQ(at->shapes, pattern.shapes);
    pattern.name = " ";
    EXPECT_FALSE(memory.keep(pattern).ok());
    EXPECT_FALSE(PatternMemory(real_disk(), "").keep({"x", "#", {}, {}, ""}).ok());
}

}  // namespace
}  // namespace kp::app::test
