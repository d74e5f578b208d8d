// SPDX-License-Identifier: GPL-3.0-or-later
// Tempo as a hand uses it: from an empty text to full coverage, budgets, recipes, and the switch of commands.
#include "app/shell/ask_files.hpp"
#include "app/shell/chooser.hpp"
#include "app/tempo/budget_bars.hpp"
#include "app/tempo/budget_lens.hpp"
#include "app/tempo/clock_chart.hpp"
#include "app/tempo/draft_lens.hpp"
#include "app/tempo/sdc_editor.hpp"
#include "app/tempo/tempo_station.hpp"
#include "core/constraints/budget_edits.hpp"
#include "core/constraints/recipes.hpp"
#include "tests/app/harness.hpp"

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QTabBar>
#include <QTreeWidget>

namespace kp::app::test {
namespace {

/// The large demo in a folder of its own, its constraint texts replaced.
struct Large : Driver {
    explicit Large(const char* name, bool empty) : Driver(false) {
        QDir source(QStringLiteral(KP_SOURCE "/demo/profiler"));
        for (const auto& file : source.entryList(QDir::Files)) {
            QFile::copy(source.filePath(file), path(file.toUtf8()));
            QFile::setPermissions(path(file.toUtf8()), QFile::ReadOwner | QFile::WriteOwner);
            if (!empty || !file.endsWith(QStringLiteral(".sdc"))) continue;
            QFile text(path(file.toUtf8()));
            EXPECT_TRUE(text.open(QIODevice::WriteOnly | QIODevice::Truncate));
        }
        EXPECT_TRUE(window.desk().open(path(name)));
        EXPECT_TRUE(settle());
        window.show_station(3);
    }
    TempoStation& tempo() { return *static_cast<TempoStation*>(window.station_at(3)); }
};

TEST(Tempo, FromAnEmptyTextToFullCoverageByKeyboard) {
    Large d("profiler-closed.kpeg", true);
    const auto& coverage = [&]() -> const Coverage& { return d.session().analysis().timing().coverage; };
    EXPECT_LT(coverage().constrained, coverage().endpoints);
    d.act("tempo.draft");
    auto* lens = d.window.findChild<DraftLens*>();
    ASSERT_TRUE(d.wait([&] { return lens->shown().has_value(); }));
    auto* lines = d.find<QTreeWidget>("tempo.draft.lines");
    ASSERT_GT(lines->topLevelItemCount(), 2);
    // One line is left out with the blank, and taken in again.
    lines->setFocus();
    auto* first = lines->topLevelItem(0)->child(0);
    lines->setCurrentItem(first);
    QTest::keyClick(lines, Qt::Key_Space);
    EXPECT_EQ(first->checkState(0), Qt::Unchecked);
    QTest::keyClick(lines, Qt::Key_Space);
    d.act("tempo.draft.accept");
    ASSERT_TRUE(d.settle());
    EXPECT_EQ(coverage().constrained, coverage().endpoints);
    EXPECT_TRUE(coverage().untimed.empty());
    for (const auto& m : d.session().analysis().constraints().messages) EXPECT_EQ(m.severity, Severity::note) << m.text;
    for (const auto& b : budgets_of(d.session())) EXPECT_TRUE(b.agrees()) << b.name;
    // All of it is one undo.
    d.window.desk().undo();
    ASSERT_TRUE(d.settle());
    for (const auto& f : d.session().project().constraints) EXPECT_TRUE(f.text.empty());
}

TEST(Tempo, ABudgetIsWrittenChangedAndLinkedByKeyboard) {
    Large d("profiler.kpeg", false);
    d.act("tempo.budgets");
    auto* groups = d.find<QTreeWidget>("tempo.budgets");
    ASSERT_GT(groups->topLevelItemCount(), 3);
    const auto of = [&](const char* name) {
        for (const auto& b : budgets_of(d.session()))
            if (b.name == name) return b;
        ADD_FAILURE() << name;
        return clocks::Budget{};
    };
    auto* item = row_with(groups, QStringLiteral("U2.rxc in"));
    ASSERT_TRUE(item);
    groups->setCurrentItem(item);
    EXPECT_FALSE(of("U2.rxc in").agrees());
    QTest::keyClick(groups, Qt::Key_Return);
    ASSERT_TRUE(d.wait([&] { return !d.session().stale() && of("U2.rxc in").agrees(); }));
    // A term of one's own: the row is opened, the numbers typed.
    auto* bars = d.find<BudgetBars>("tempo.budget.bars");
    bars->choose(0);
    QTest::keyClick(bars, Qt::Key_Down);
    EXPECT_EQ(bars->chosen(), "data trace");
    QTest::keyClick(bars, Qt::Key_Return);
    auto* line = d.window.findChild<Chooser*>()->findChild<QLineEdit*>();
    ASSERT_TRUE(line->isVisible());
    line->setText(QStringLiteral("0.5 0.1"));
    QTest::keyClick(line, Qt::Key_Return);
    ASSERT_TRUE(d.settle());
    const auto now = of("U2.rxc in");
    EXPECT_FALSE(now.agrees()) << "the text is older";
    EXPECT_DOUBLE_EQ(now.terms[1].max, 0.5);
    d.act("tempo.budget.write");
    ASSERT_TRUE(d.wait([&] { return !d.session().stale() && of("U2.rxc in").agrees(); }));
    // Linked, the text follows by itself when a term moves; undone, it stays undone.
    d.click("tempo.budget.link");
    ASSERT_TRUE(d.settle());
    ASSERT_TRUE(of("U2.rxc in").linked);
    bars->setFocus();
    bars->choose(1);
    QTest::keyClick(bars, Qt::Key_Return);
    line->setText(QStringLiteral("0.7"));
    QTest::keyClick(line, Qt::Key_Return);
    ASSERT_TRUE(d.wait([&] { return !d.session().stale() && of("U2.rxc in").agrees(); }));
    d.window.desk().undo();
    ASSERT_TRUE(d.settle());
    EXPECT_FALSE(of("U2.rxc in").agrees());
}

TEST(Tempo, ARecipeIsSearchedAndWritten) {
    Large d("profiler.kpeg", false);
    d.act("tempo.recipes");
    auto* want = d.find<QLineEdit>("tempo.recipe.want");
    want->setText(QStringLiteral("100 125 150"));
    QTest::keyClick(want, Qt::Key_Return);
    auto* settings = d.find<QTreeWidget>("tempo.recipe.settings");
    ASSERT_TRUE(d.wait([&] { return settings->topLevelItemCount() > 0; }));
    EXPECT_EQ(settings->topLevelItem(0)->text(5), QStringLiteral("0.000"));
    d.click("tempo.recipe.write");
    ASSERT_TRUE(d.settle());
    const auto recipes = recipes_of(d.session().project());
    ASSERT_EQ(recipes.size(), 1u);
    EXPECT_EQ(recipes[0].cell, "pll");
    EXPECT_EQ(recipes[0].in, "25") << "what the board gives, not what the text says";
    EXPECT_EQ(recipes[0].lines.size(), 3u);
    // What cannot be read is said and changes nothing.
    want->setText(QStringLiteral("fast"));
    QTest::keyClick(want, Qt::Key_Return);
    EXPECT_EQ(recipes_of(d.session().project()).size(), 1u);
}

TEST(Tempo, ACommandIsSwitchedOffAndOnAndExplained) {
    Driver d;
    ASSERT_TRUE(d.settle());
    d.act("tempo.commands");
    auto* list = d.find<QTreeWidget>("tempo.commands");
    ASSERT_GT(list->topLevelItemCount(), 0);
    const auto before = d.session().project().constraints[0].text;
    auto* clock = list->topLevelItem(0)->child(0);
    ASSERT_TRUE(clock->text(0).startsWith(QStringLiteral("create_clock")));
    clock->setCheckState(0, Qt::Unchecked);
    ASSERT_TRUE(d.wait([&] { return d.session().project().constraints[0].text != before; }));
    ASSERT_TRUE(d.settle());
    EXPECT_NE(d.session().project().constraints[0].text.find("# create_clock"), std::string::npos);
    EXPECT_TRUE(d.session().analysis().constraints().clocks.empty());
    list->topLevelItem(0)->child(0)->setCheckState(0, Qt::Checked);
    EXPECT_TRUE(d.wait([&] { return d.session().project().constraints[0].text == before; }));
    ASSERT_TRUE(d.settle());
    EXPECT_EQ(d.session().project().constraints[0].text, before);
    // The cursor on it says what it is and what it hits.
    auto& editor = static_cast<TempoStation*>(d.window.station_at(3))->editor();
    for (int i = 0; i < editor.lines(); ++i)
        if (editor.text(i).startsWith(QStringLiteral("create_clock"))) editor.setCursorPosition(i, 3);
    EXPECT_TRUE(d.wait([&] {
        return d.find<QLabel>("tempo.explains")->text().contains(QStringLiteral("It hits 1 object"));
    })) << d.find<QLabel>("tempo.explains")->text().toStdString();
    EXPECT_TRUE(d.find<QLabel>("tempo.explains")->text().startsWith(QStringLiteral("create_clock: ")));
    d.act("tempo.light");
    EXPECT_EQ(d.window.desk().selection().kind, QStringLiteral("port"));
}

TEST(Tempo, FindAndReplaceIsOneUndoAndAsUsedIsWritten) {
    Driver d;
    ASSERT_TRUE(d.settle());
    d.act("tempo.find");
    d.find<QLineEdit>("tempo.find.what")->setText(QStringLiteral("osc_20"));
    d.find<QLineEdit>("tempo.find.with")->setText(QStringLiteral("wind"));
    const auto before = d.session().project().constraints[0].text;
    d.click("tempo.find.all");
    ASSERT_TRUE(d.wait([&] { return d.session().project().constraints[0].text.find("osc_20") == std::string::npos; }));
    EXPECT_NE(d.session().project().constraints[0].text.find("create_clock -name wind"), std::string::npos);
    d.window.desk().undo();
    EXPECT_EQ(d.session().project().constraints[0].text, before);
    ASSERT_TRUE(d.settle());
    const auto kept = file_questions();
    const auto path = d.folder.path() + QStringLiteral("/used.sdc");
    file_questions().save = [&](QWidget*, const QString&, const QString&, const QString&) { return path; };
    d.act("tempo.as_used");
    EXPECT_TRUE(d.wait([&] { return QFile::exists(path); }));
    QFile used(path);
    ASSERT_TRUE(used.open(QIODevice::ReadOnly));
    const auto text = used.readAll();
    EXPECT_TRUE(text.contains("set_input_delay -clock osc_20 -max 6.2 [get_ports {"));
    EXPECT_FALSE(text.contains("expr"));
    file_questions() = kept;
}

TEST(Tempo, AnyCommandIsWrittenByItsFormWithAPicker) {
    Driver d;
    ASSERT_TRUE(d.settle());
    d.act("tempo.commands");
    d.click("tempo.commands.new");
    auto* name = d.find<QComboBox>("tempo.form.name");
    name->setCurrentText(QStringLiteral("set_max_delay"));
    auto* kind = d.find<QComboBox>("tempo.form.kind");
    kind->setCurrentIndex(0);
    d.find<QLineEdit>("tempo.form.filter")->setText(QStringLiteral("tone"));
    auto* objects = d.find<QListWidget>("tempo.form.objects");
    ASSERT_EQ(objects->count(), 1);
    objects->setCurrentRow(0);
    auto* to = d.find<QLineEdit>("tempo.form.value-to");
    to->setFocus();
    d.click("tempo.form.put");
    if (to->text().isEmpty()) {  // without a window manager nothing gets the focus
        to->setText(QStringLiteral("[get_ports tone]"));
        QTest::keyClick(to, Qt::Key_End);
        QTest::keyClick(to, Qt::Key_Space);
    }
    auto* value = d.find<QLineEdit>("tempo.form.value");
    value->clear();
    QTest::keyClicks(value, "7.5");
    QTest::keyClicks(to, " ");
    d.click("tempo.form.write");
    ASSERT_TRUE(d.settle());
    bool there = false;
    for (const auto& f : d.session().project().constraints)
        there |= f.text.find("set_max_delay -to [get_ports tone] 7.5") != std::string::npos;
    EXPECT_TRUE(there);
}

TEST(Tempo, TheTextAloneHasRoomForALineOf110Columns) {
    Driver d;
    d.window.resize(1280, 800);
    d.act("tempo.wide");
    QCoreApplication::processEvents();
    auto& editor = static_cast<TempoStation*>(d.window.station_at(3))->editor();
    const auto column = editor.SendScintilla(QsciScintilla::SCI_TEXTWIDTH, QsciScintilla::STYLE_DEFAULT, "0");
    int margins = 0;
    for (int i = 0; i < 3; ++i) margins += editor.marginWidth(i);
    EXPECT_GE((editor.viewport()->width() - margins) / static_cast<int>(column), 110);
    d.act("tempo.wide");
    QCoreApplication::processEvents();
    EXPECT_TRUE(d.find<QWidget>("tempo.lenses")->isVisible());
}

TEST(Tempo, AFileIsLeftOutKeptBackAndWrittenElsewhere) {
    Driver d;
    ASSERT_TRUE(d.settle());
    d.window.show_station(3);
    ASSERT_FALSE(d.session().analysis().constraints().clocks.empty());
    d.act("tempo.file_analysis");
    ASSERT_TRUE(d.settle());
    EXPECT_FALSE(d.session().project().constraints[0].analysis);
    EXPECT_TRUE(d.session().analysis().constraints().clocks.empty());
    EXPECT_TRUE(d.find<QTabBar>("tempo.files")->tabText(0).contains(QStringLiteral("not read")));
    d.window.desk().undo();
    d.act("tempo.file_handoff");
    EXPECT_FALSE(d.session().project().constraints[0].handoff);
    d.window.desk().undo();
    const auto kept = file_questions();
    QString path = d.folder.path() + QStringLiteral("/copy.sdc");
    file_questions().save = [&](QWidget*, const QString&, const QString&, const QString&) { return path; };
    d.act("tempo.write_out");
    QFile copy(path);
    ASSERT_TRUE(copy.open(QIODevice::ReadOnly));
    EXPECT_EQ(copy.readAll().toStdString(), d.session().project().constraints[0].text);
    // Not over a file of the project.
    path = d.folder.path() + QStringLiteral("/ports.sdc");
    d.act("tempo.write_out");
    QFile ports(path);
    ASSERT_TRUE(ports.open(QIODevice::ReadOnly));
    EXPECT_EQ(ports.readAll().toStdString(), d.session().project().constraints[1].text);
    file_questions() = kept;
}

TEST(Tempo, AnEdgeIsDraggedToAnotherPeriodAndDuty) {
    Driver d;
    ASSERT_TRUE(d.settle());
    d.window.show_station(3);
    QCoreApplication::processEvents();
    auto* chart = d.window.findChild<ClockChart*>();
    chart->grab();
    const auto before = d.session().project().constraints[0].text;
    const auto clock = [&] { return d.session().analysis().constraints().clocks[0]; };
    const double period = clock().period;
    const auto end = chart->edge_place(QStringLiteral("osc_20"), false).toPoint();
    ASSERT_FALSE(end.isNull());
    QTest::mouseClick(chart, Qt::LeftButton, {}, end);
    EXPECT_EQ(d.session().project().constraints[0].text, before) << "a click is not a drag";
    Driver::drag(chart, end, end + QPoint(40, 0));
    ASSERT_TRUE(d.wait([&] { return d.session().project().constraints[0].text != before; }));
    ASSERT_TRUE(d.settle());
    EXPECT_GT(clock().period, period + 1);
    EXPECT_NEAR(clock().waveform[1] / clock().period, 0.5, 1e-6);
    d.window.desk().undo();
    ASSERT_TRUE(d.settle());
    EXPECT_EQ(d.session().project().constraints[0].text, before);
    chart->grab();
    const auto fall = chart->edge_place(QStringLiteral("osc_20"), true).toPoint();
    Driver::drag(chart, fall, fall - QPoint(40, 0));
    ASSERT_TRUE(d.wait([&] { return d.session().project().constraints[0].text != before; }));
    ASSERT_TRUE(d.settle());
    EXPECT_EQ(clock().period, period);
    EXPECT_LT(clock().waveform[1] / clock().period, 0.49);
}

TEST(Tempo, ANewFileReceivesNewCommands) {
    Driver d;
    const auto count = d.session().project().constraints.size();
    d.act("tempo.new_file");
    ASSERT_EQ(d.session().project().constraints.size(), count + 1);
    EXPECT_TRUE(d.session().project().constraints.back().receives);
    EXPECT_EQ(std::count_if(d.session().project().constraints.begin(), d.session().project().constraints.end(),
                            [](const SdcFile& f) { return f.receives; }),
              1);
    d.window.desk().undo();
    EXPECT_EQ(d.session().project().constraints.size(), count);
}

}  // namespace
}  // namespace kp::app::test
