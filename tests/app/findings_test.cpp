// SPDX-License-Identifier: GPL-3.0-or-later
// The Findings station as a hand uses it: filters, previews, ways to where a finding lies, and mending a whole kind.
#include "app/paint/canvas.hpp"
#include "app/shell/chooser.hpp"
#include "app/tempo/sdc_editor.hpp"
#include "core/rules/preview.hpp"
#include "tests/app/harness.hpp"

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QTreeWidget>

namespace kp::app {
namespace {

using test::Driver;

/// The demo profiler with its planted troubles, in a folder of its own.
struct Profiler : Driver {
    explicit Profiler(const char* project = "profiler.kpeg") {
        const QString stem = QString(QLatin1String(project)).section('.', 0, 0);
        for (const QString& file : {QString(QLatin1String(project)), QStringLiteral("profiler.v"),
                                    QStringLiteral("profiler.sdf"), stem + "-clocks.sdc", stem + "-ports.sdc"}) {
            QFile::copy(QStringLiteral(KP_SOURCE "/demo/profiler/") + file, folder.path() + '/' + file);
            QFile::setPermissions(folder.path() + '/' + file, QFile::ReadOwner | QFile::WriteOwner);
        }
        EXPECT_TRUE(window.desk().open(path(project)));
        EXPECT_TRUE(settle());
        window.show_station(2);
    }
    /// Texts of the findings in the list, in its order.
    QStringList shown() {
        QStringList out;
        auto* list = find<QTreeWidget>("findings.list");
        for (int g = 0; g < list->topLevelItemCount(); ++g)
            for (int i = 0; i < list->topLevelItem(g)->childCount(); ++i)
                out << list->topLevelItem(g)->child(i)->text(0);
        return out;
    }
    void choose_rule(const char* code) {
        auto* box = find<QComboBox>("findings.rules");
        const int at = box->findData(QLatin1String(code));
        ASSERT_GE(at, 0) << code;
        box->setCurrentIndex(at);
    }
    QPushButton* button(const QString& text) {
        QCoreApplication::processEvents();  // what was just put into a layout is shown then
        for (auto* b : window.findChildren<QPushButton*>())
            if (b->isVisible() && b->text() == text) return b;
        return nullptr;
    }
};

TEST(Findings, TheRuleBoxKeepsOneRuleAndCountsThem) {
    Profiler d;
    const auto all = d.shown().size();
    EXPECT_EQ(all, static_cast<qsizetype>(d.session().findings().size()));
    d.choose_rule("D06");
    EXPECT_EQ(d.shown().size(), 3);
    for (const auto& line : d.shown()) EXPECT_TRUE(line.startsWith("D06")) << line.toStdString();
    EXPECT_EQ(d.find<QComboBox>("findings.rules")->currentText(), QStringLiteral("D06 · 3"));
    d.choose_rule("");
    EXPECT_EQ(d.shown().size(), all);
}

TEST(Findings, TheTextFilterMeetsRuleObjectAndWords) {
    Profiler d;
    auto* filter = d.find<QLineEdit>("findings.filter");
    filter->setText("winch_dir");
    ASSERT_EQ(d.shown().size(), 1);
    EXPECT_TRUE(d.shown()[0].startsWith("E03"));
    filter->setText("adrift");
    EXPECT_EQ(d.shown().size(), 1);
    filter->setText("nothing like it");
    EXPECT_TRUE(d.shown().isEmpty());
}

TEST(Findings, OfWhatIsSelectedFollowsTheSelection) {
    Profiler d;
    d.window.desk().select({QStringLiteral("port"), QStringLiteral("tone")});
    d.click("findings.of_selection");
    ASSERT_EQ(d.shown().size(), 1);
    EXPECT_TRUE(d.shown()[0].startsWith("L11"));
    d.window.desk().select({QStringLiteral("port"), QStringLiteral("enc_z")});
    ASSERT_EQ(d.shown().size(), 1);
    EXPECT_TRUE(d.shown()[0].startsWith("E01"));
    d.click("findings.of_selection");
    EXPECT_GT(d.shown().size(), 5);
}

TEST(Findings, AWayOutSaysWhatGoesAndWhatComesAndDoesJustThat) {
    Profiler d;
    d.choose_rule("E03");
    auto* way = d.find<QPushButton>("findings.way.0");
    ASSERT_TRUE(way);
    EXPECT_EQ(way->text(), QStringLiteral("choose LVCMOS 3.3 V for winch_dir\nclears E03; adds nothing"));
    const auto before = d.session().findings();
    QTest::mouseClick(way, Qt::LeftButton);
    const auto change = compare_findings(before, d.session().findings());
    EXPECT_EQ(codes_of(change.gone), "E03");
    EXPECT_TRUE(change.come.empty());
    d.act("edit.undo");
    EXPECT_TRUE(compare_findings(before, d.session().findings()).gone.empty());
}

TEST(Findings, AllThatTheFilterShowsAreFixedByOneEdit) {
    Profiler d("profiler-closed.kpeg");
    Edit clear{"clear", {}};
    for (int i = 0; i < 4; ++i) {
        const auto port = "lamp[" + std::to_string(i) + "]";
        clear.changes.push_back(AttributeChange{port, d.session().project().attributes.at(port), {}});
    }
    ASSERT_TRUE(d.window.desk().apply(clear));
    ASSERT_TRUE(d.settle());
    d.window.show_station(2);
    d.choose_rule("E01");
    auto* all = d.find<QPushButton>("findings.all");
    ASSERT_TRUE(all->isVisible());
    EXPECT_EQ(all->text(), QStringLiteral("Fix all 4 E01 this way"));
    // The button speaks of what the filter leaves, and does just that.
    d.find<QLineEdit>("findings.filter")->setText("lamp[1");
    EXPECT_FALSE(all->isVisible());
    d.find<QLineEdit>("findings.filter")->setText("lamp[");
    d.click("findings.all");
    ASSERT_TRUE(d.settle());
    for (const auto& f : d.session().findings()) EXPECT_NE(f.rule, "E01") << f.text;
    d.act("edit.undo");
    ASSERT_TRUE(d.settle());
    EXPECT_EQ(std::count_if(d.session().findings().begin(), d.session().findings().end(),
                            [](const Finding& f) { return f.rule == "E01"; }),
              4);
}

TEST(Findings, ANumberThatOnlyTheUserKnowsIsAskedFor) {
    Profiler d;
    d.choose_rule("D06");
    ASSERT_EQ(d.shown().size(), 3);
    EXPECT_FALSE(d.find<QPushButton>("findings.all")->isVisible()) << "nobody knows the numbers of all";
    auto* number = d.find<QLineEdit>("findings.number.0");
    ASSERT_TRUE(number);
    const auto revision = d.session().revision();
    QTest::keyClicks(number, "soon");
    QTest::keyClick(number, Qt::Key_Return);
    EXPECT_EQ(d.session().revision(), revision);
    QCoreApplication::processEvents();
    EXPECT_TRUE(d.find<QPushButton>("notice.refused")->isVisible()) << "what was refused stands above the page";
    number->clear();
    QTest::keyClicks(number, "1.5");
    QTest::keyClick(number, Qt::Key_Return);
    ASSERT_TRUE(d.settle());
    d.choose_rule("D06");
    EXPECT_EQ(d.shown().size(), 2);
    bool written = false;
    for (const auto& f : d.session().project().constraints)
        written |= f.text.find(" 1.5 [get_ports") != std::string::npos;
    EXPECT_TRUE(written);
}

TEST(Findings, TheFixesStandUnderTheSentence) {
    Profiler d;
    d.choose_rule("E03");
    d.window.grab();
    auto* sentence = d.find<QLabel>("findings.sentence");
    auto* way = d.find<QPushButton>("findings.way.0");
    EXPECT_LT(way->mapTo(&d.window, QPoint()).y() - sentence->mapTo(&d.window, QPoint(0, sentence->height())).y(), 100);
}

TEST(Findings, TheSwapOfTwoThatChangedPlacesMendsBoth) {
    Profiler d;
    d.choose_rule("L08");
    auto* way = d.find<QPushButton>("findings.way.0");
    ASSERT_TRUE(way);
    EXPECT_TRUE(way->text().startsWith("swap lamp[3] and rocker[3]\nclears L08 (2)")) << way->text().toStdString();
}

TEST(Findings, AFindingLeadsToItsLine) {
    Profiler d;
    d.choose_rule("D03");
    auto* lead = d.button(QStringLiteral("profiler-ports.sdc, line 22"));
    ASSERT_TRUE(lead);
    QTest::mouseClick(lead, Qt::LeftButton);
    int line = 0, column = 0;
    d.find<SdcEditor>("tempo.editor")->getCursorPosition(&line, &column);
    EXPECT_EQ(line, 21);
    EXPECT_TRUE(d.find<SdcEditor>("tempo.editor")->isVisible());
    EXPECT_TRUE(d.find<SdcEditor>("tempo.editor")->text(line).contains("gps_txd"));
}

TEST(Findings, AFindingLeadsToItsPinAndBoardPart) {
    Profiler d;
    d.choose_rule("L08");
    auto* pin = d.button(QStringLiteral("pin C9"));
    ASSERT_TRUE(pin);
    QTest::mouseClick(pin, Qt::LeftButton);
    EXPECT_EQ(d.window.desk().selection().kind, QStringLiteral("pin"));
    EXPECT_EQ(d.window.desk().selection().name, QStringLiteral("C9"));
    d.window.show_station(2);
    auto* part = d.button(QStringLiteral("SW1.rocker3"));
    ASSERT_TRUE(part);
    QTest::mouseClick(part, Qt::LeftButton);
    EXPECT_EQ(d.window.desk().selection().name, QStringLiteral("SW1"));
}

TEST(Findings, TheScopeOfAWaiverIsSaidBeforeAndAfter) {
    Profiler d;
    d.choose_rule("L11");
    const auto says = [&](const QString& text) {
        for (auto* l : d.window.findChildren<QLabel*>())
            if (l->isVisible() && l->text().contains(text)) return true;
        return false;
    };
    EXPECT_TRUE(says("A waiver would hold for L11 at port tone and nothing else."));
    QTest::keyClicks(d.find<QLineEdit>("findings.reason"), "the sounder comes later");
    d.click("findings.waive");
    EXPECT_TRUE(says("the sounder comes later"));
}

/// The closed profiler with its board or part changed by one replacement.
struct Changed : Profiler {
    Changed(const char* kind, const char* file, const QByteArray& from, const QByteArray& to)
        : Profiler("profiler-closed.kpeg") {
        QFile in(QStringLiteral(KP_SOURCE "/data/%1/%2").arg(QLatin1String(kind), QLatin1String(file)));
        EXPECT_TRUE(in.open(QIODevice::ReadOnly));
        auto text = in.readAll();
        EXPECT_TRUE(text.contains(from)) << from.toStdString();
        QFile out(folder.path() + '/' + QLatin1String(file));
        EXPECT_TRUE(out.open(QIODevice::WriteOnly));
        out.write(text.replace(from, to));
        out.close();
        EXPECT_TRUE(window.desk().open(path("profiler-closed.kpeg")));
        EXPECT_TRUE(settle());
        window.show_station(2);
        window.resize(1280, 800);
    }
    bool draws(const QString& text) {
        window.grab();
        for (auto* c : window.findChildren<Canvas*>())
            if (c->isVisible())
                for (const auto& t : c->drawn())
                    if (t.text == text) return !t.cut;
        return false;
    }
};

TEST(FindingSheet, LevelsAreDrawnWithTheirVolts) {
    Changed d("boards", "saltmarsh.board.json", "\"name\": \"tone\", \"direction\"",
              "\"name\": \"tone\", \"vih\": 2.15, \"direction\"");
    ASSERT_EQ(d.shown().size(), 1);
    for (const char* text : {"VOH 2 V", "VIH 2.15 V", "VOL 0.4 V", "VIL 0.7 V", "driver", "receiver"})
        EXPECT_TRUE(d.draws(QLatin1String(text))) << text;
    d.picture("finding-levels");
    d.act("view.theme");
    d.picture("finding-levels-dark");
    d.act("view.theme");
}

TEST(FindingSheet, ACurrentIsDrawnAgainstItsLimit) {
    Changed d("parts", "skr23-b256.part.json", "\"bank_ma\": 200", "\"bank_ma\": 18");
    d.choose_rule("E08");
    ASSERT_GE(d.shown().size(), 1);
    EXPECT_TRUE(d.draws(QStringLiteral("limit 18 mA")));
    EXPECT_TRUE(d.draws(QStringLiteral("21.38 mA")));
    d.picture("finding-limit");
}

TEST(FindingSheet, SaysWhyItIsEmpty) {
    Profiler closed("profiler-closed.kpeg");
    const auto says = [](Driver& d, const QString& text) {
        d.window.grab();
        for (auto* c : d.window.findChildren<Canvas*>())
            for (const auto& t : c->drawn())
                if (c->isVisible() && t.text == text) return true;
        return d.find<QLabel>("findings.sentence")->text() == text;
    };
    EXPECT_TRUE(says(closed, QStringLiteral("All rules pass: there is nothing to fix.")));
    EXPECT_FALSE(closed.find<QPushButton>("findings.waive")->isVisible());
    closed.picture("finding-none");
    Profiler d;
    d.find<QLineEdit>("findings.filter")->setText("nothing like it");
    EXPECT_TRUE(says(
        d, QStringLiteral("No finding matches the filter; there are %1 in all.").arg(d.session().findings().size())));
    Driver empty(false);
    empty.window.show_station(2);
    EXPECT_TRUE(says(
        empty, QStringLiteral("No project is open. What the rules find in one is listed here, with possible fixes.")));
    EXPECT_FALSE(empty.find<QLineEdit>("findings.filter")->isVisible());
    empty.picture("finding-empty-window");
}

TEST(Settings, OfThePartAreChosenAndUndone) {
    Profiler d("profiler-closed.kpeg");
    EXPECT_TRUE(d.session().findings().empty());
    auto* chooser = d.window.findChild<Chooser*>();
    ASSERT_TRUE(chooser);
    d.act("site.load");
    QTest::keyClicks(chooser->findChild<QLineEdit*>(), "volatile");
    QTest::keyClick(chooser->findChild<QLineEdit*>(), Qt::Key_Return);
    EXPECT_EQ(d.session().project().load, "volatile");
    ASSERT_EQ(d.session().findings().size(), 1u);
    EXPECT_EQ(d.session().findings()[0].rule, "P03");
    d.act("edit.undo");
    EXPECT_TRUE(d.session().findings().empty());
    // And it lasts.
    d.act("edit.redo");
    d.act("project.save");
    auto again = Session::open(real_disk(), d.path("profiler-closed.kpeg").toStdString(), KP_SOURCE "/data");
    ASSERT_TRUE(again.ok());
    EXPECT_EQ(again.value()->project().load, "volatile");
}

TEST(Slack, SaysWhetherClocksArePropagated) {
    Profiler d("profiler-closed.kpeg");
    d.window.show_station(4);
    const auto says = [&](const QString& text) {
        for (auto* l : d.window.findChildren<QLabel*>())
            if (l->isVisible() && l->text().startsWith(text)) return true;
        return false;
    };
    EXPECT_TRUE(says(QStringLiteral("ideal clocks · delays from profiler.sdf")));
    const auto& file = d.session().project().constraints.at(1);
    d.window.desk().apply(
        Edit{"propagate",
             {TextChange{file.path, file.text.size(), "", "set_propagated_clock [get_clocks {rxc adc_clk}]\n"}}});
    ASSERT_TRUE(d.settle());
    EXPECT_TRUE(says(QStringLiteral("2 of 6 clocks propagated")));
}

TEST(Findings, AnotherChipAtTheCableIsOne) {
    Profiler d("profiler-closed.kpeg");
    d.window.show_station(5);
    d.act("bench.load");
    EXPECT_TRUE(d.session().findings().empty());
    d.window.desk().note_idcode(0x1A2460FF);
    ASSERT_EQ(d.session().findings().size(), 1u);
    EXPECT_EQ(d.session().findings()[0].rule, "P01");
    d.window.desk().note_idcode(d.session().world().part.idcode);
    EXPECT_TRUE(d.session().findings().empty());
}

}  // namespace
}  // namespace kp::app
