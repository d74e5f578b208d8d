// SPDX-License-Identifier: GPL-3.0-or-later
// The user's own work in the window: what is typed, what another program changed, what could not be kept, and projects
// of strangers.
#include "app/log/log_station.hpp"
#include "tests/app/harness.hpp"
#include "tests/app/watchdog.hpp"
#include "tests/hostile/corpus.hpp"

#include <Qsci/qsciscintilla.h>
#include <QLabel>
#include <QPlainTextEdit>
#include <QTabBar>
#include <QTreeWidget>
#include <filesystem>
#include <fstream>

namespace kp::app::test {
namespace {

namespace fs = std::filesystem;

std::string slurp(const std::string& path) {
    std::ifstream in(path, std::ios::binary);
    return {std::istreambuf_iterator<char>(in), {}};
}
void put(const std::string& path, const std::string& text) {
    std::ofstream(path, std::ios::binary) << text;
}

struct Safety : testing::Test {
    Driver d;
    std::string at(const char* name) const { return d.path(name).toStdString(); }
    QsciScintilla* editor() { return d.find<QsciScintilla>("tempo.editor"); }
    void type(const QString& text) {
        d.window.show_station(3);
        editor()->setFocus();
        editor()->setCursorPosition(0, 0);
        for (const QChar c : text) {
            if (c == '\n')
                QTest::keyClick(editor(), Qt::Key_Return);
            else
                QTest::keyClicks(editor(), c);
        }
    }
    QString notice() {
        return d.find<NoticeBar>("notice")->isVisible() ? d.find<QLabel>("notice.text")->text() : QString();
    }
    QStringList notices() {
        QStringList out;
        for (const auto& n : d.find<NoticeBar>("notice")->notices()) out << n.sentence;
        return out;
    }
};

TEST_F(Safety, AFaultInOneStepIsANoticeAndTheWindowGoesOn) {
    struct Faulty : QObject {
        bool event(QEvent*) override { throw std::out_of_range("a step\nthat fails"); }
    } faulty;
    auto& app = WatchedApplication::it();
    app.tell = [this](const QString& sentence) { d.window.desk().say(sentence, true); };
    QCoreApplication::postEvent(&faulty, new QEvent(QEvent::User));
    QCoreApplication::processEvents();
    app.tell = nullptr;
    EXPECT_TRUE(notices().join('|').contains(QStringLiteral("a step that fails"))) << notices().join('|').toStdString();
    type(QStringLiteral("# typed "));
    d.act("project.save");
    EXPECT_TRUE(slurp(at("clocks.sdc")).starts_with("# typed "));
}

TEST_F(Safety, WhatIsTypedStaysInItsFileWhenTheTabChanges) {
    const auto ports = slurp(at("ports.sdc"));
    type(QStringLiteral("# typed "));
    d.find<QTabBar>("tempo.files")->setCurrentIndex(1);
    d.act("project.save");
    EXPECT_TRUE(slurp(at("clocks.sdc")).starts_with("# typed "));
    EXPECT_EQ(slurp(at("ports.sdc")), ports);
    EXPECT_EQ(editor()->text().toStdString(), ports);
}

TEST_F(Safety, WhatIsTypedIsSavedUndoneAndKeptAtOnce) {
    type(QStringLiteral("# a "));
    d.act("project.save");
    EXPECT_TRUE(slurp(at("clocks.sdc")).starts_with("# a "));
    type(QStringLiteral("# b "));
    d.window.show_station(1);
    EXPECT_TRUE(d.session().project().constraints[0].text.starts_with("# b # a "));
    type(QStringLiteral("# c "));
    d.act("edit.undo");
    EXPECT_TRUE(d.session().project().constraints[0].text.starts_with("# b # a "));
    type(QStringLiteral("# d "));
    EXPECT_TRUE(d.window.close());
    Driver again(false);
    d.window.desk().close();
    ASSERT_TRUE(again.window.desk().open(d.path("vane.kpeg")));
    EXPECT_TRUE(again.session().project().constraints[0].text.starts_with("# d # b # a "));
}

TEST_F(Safety, ForeignBytesAreSeenAndStay) {
    const std::string text = std::string("\xEF\xBB\xBF# caf\xE9 \0\r\n", 13) +
                             "create_clock -name osc_20 -period 40 \\\r\n    [get_ports osc_20]\r\n";
    put(at("clocks.sdc"), text);
    ASSERT_TRUE(d.window.desk().open(d.path("vane.kpeg")));
    ASSERT_EQ(d.session().analysis().constraints().clocks.size(), 1u);
    d.window.show_station(3);
    EXPECT_TRUE(editor()->text().startsWith(QStringLiteral("# café \u2400\r\n")));
    type(QStringLiteral("x"));
    d.act("project.save");
    EXPECT_EQ(slurp(at("clocks.sdc")), text.substr(0, 3) + "x" + text.substr(3));
}

TEST_F(Safety, ASaveOverAnothersChangeShowsBothSides) {
    type(QStringLiteral("# 40 ns until it is measured\n"));
    const auto before = slurp(at("clocks.sdc"));
    put(at("clocks.sdc"), "# measured: 20.0004 MHz\n" + before);
    d.act("project.save");
    EXPECT_EQ(slurp(at("clocks.sdc")), "# measured: 20.0004 MHz\n" + before);
    auto* places = d.find<QTreeWidget>("conflict.places");
    ASSERT_TRUE(places->isVisible());
    ASSERT_EQ(places->topLevelItemCount(), 1);
    EXPECT_EQ(places->topLevelItem(0)->text(1), QStringLiteral("# 40 ns until it is measured"));
    EXPECT_EQ(places->topLevelItem(0)->text(2), QStringLiteral("# measured: 20.0004 MHz"));
    d.window.desk().say({});
    d.window.resize(1280, 800);
    d.picture("conflict");
    QTest::keyClick(places, Qt::Key_Space);
    QTest::keyClick(places, Qt::Key_Space);
    EXPECT_EQ(places->topLevelItem(0)->text(0), QStringLiteral("both"));
    d.click("conflict.take");
    EXPECT_FALSE(places->isVisible());
    d.act("project.save");
    EXPECT_EQ(slurp(at("clocks.sdc")), "# 40 ns until it is measured\n# measured: 20.0004 MHz\n" + before);
    d.act("edit.undo");
    EXPECT_TRUE(d.session().project().constraints[0].text.starts_with("# 40 ns until it is measured\n"));
    EXPECT_EQ(d.session().project().constraints[0].text.find("# measured: 20.0004 MHz"), std::string::npos);
}

TEST_F(Safety, AWholeSideCanBeTaken) {
    type(QStringLiteral("# mine\n"));
    const auto theirs = "# theirs\r\n" + slurp(at("clocks.sdc"));
    put(at("clocks.sdc"), theirs);
    d.act("project.save");
    d.click("conflict.theirs");
    d.click("conflict.take");
    d.act("project.save");
    EXPECT_EQ(slurp(at("clocks.sdc")), theirs);
}

TEST_F(Safety, ASecondWindowLooksUntilItTakesOver) {
    Driver second(false);
    ASSERT_TRUE(second.window.desk().open(d.path("vane.kpeg")));
    EXPECT_TRUE(second.session().document().looking());
    auto* text = second.find<QLabel>("notice.text");
    EXPECT_TRUE(text->text().contains(QStringLiteral("the window of "))) << text->text().toStdString();
    second.picture("looking");
    EXPECT_TRUE(second.find<QsciScintilla>("tempo.editor")->isReadOnly() || second.window.station() != 3);
    type(QStringLiteral("# first "));
    second.click("notice.take_over");
    ASSERT_TRUE(second.wait([&] { return !second.session().document().looking(); }));
    EXPECT_FALSE(second.session().document().looking());
    EXPECT_TRUE(d.session().document().taken_over());
    // What was typed in the first one before it knew is not thrown away there, and not taken either.
    d.act("project.save");
    EXPECT_FALSE(slurp(at("clocks.sdc")).starts_with("# first "));
    EXPECT_TRUE(editor()->text().startsWith(QStringLiteral("# first ")));
    second.act("project.save");
}

TEST_F(Safety, WhatCannotBeKeptIsSaidAndAskedAboutAtClosing) {
    // Something else stands where the journal would be.
    fs::create_directories(at("vane.kpeg.journal/in the way"));
    type(QStringLiteral("# risky "));
    d.window.show_station(1);
    ASSERT_TRUE(d.session().document().unkept());
    EXPECT_TRUE(notice().contains(QStringLiteral("A crash now would lose what is not saved")))
        << notice().toStdString();
    d.picture("risk");
    EXPECT_FALSE(d.window.close());
    EXPECT_TRUE(notice().contains(QStringLiteral("closing now would lose them")));
    d.click("notice.stay");
    EXPECT_FALSE(notice().contains(QStringLiteral("closing now would lose them")));
    EXPECT_FALSE(d.window.close());
    d.click("notice.save_close");
    EXPECT_FALSE(d.window.isVisible());
    EXPECT_TRUE(slurp(at("clocks.sdc")).starts_with("# risky "));
}

TEST_F(Safety, AStrangersJournalIsShownFirst) {
    type(QStringLiteral("# theirs "));
    d.window.show_station(1);
    d.window.desk().close();
    fs::remove_all(std::string(std::getenv("KITE_PEG_USER")) + "/seal");  // as on another machine
    ASSERT_TRUE(d.window.desk().open(d.path("vane.kpeg")));
    EXPECT_FALSE(d.session().project().constraints[0].text.starts_with("# theirs "));
    EXPECT_TRUE(notice().contains(QStringLiteral("clocks.sdc: \"theirs # \""))) << notice().toStdString();
    d.picture("offer");
    d.click("notice.take");
    EXPECT_TRUE(d.session().project().constraints[0].text.starts_with("# theirs "));
    EXPECT_TRUE(fs::exists(at("vane.kpeg.journal.aside-1")));
}

TEST_F(Safety, FilesOutsideAreAskedAboutOnce) {
    QTemporaryDir other;
    const auto more = other.path().toStdString() + "/more.sdc";
    put(more, "# more\n");
    auto project = slurp(at("vane.kpeg"));
    project.replace(project.find("ports.sdc"), 9, more);
    put(at("vane.kpeg"), project);
    d.window.desk().close();
    EXPECT_FALSE(d.window.desk().open(d.path("vane.kpeg")));
    EXPECT_TRUE(notice().contains(QString::fromStdString(more))) << notice().toStdString();
    d.picture("outside");
    d.click("notice.allow");
    ASSERT_TRUE(d.wait([this] { return d.window.desk().has_session(); }));
    d.window.desk().close();
    EXPECT_TRUE(d.window.desk().open(d.path("vane.kpeg")));
    // A file that only a script names is asked about as well.
    const auto deep = other.path().toStdString() + "-deep.sdc";
    put(deep, "set_false_path -from [get_ports hold_n]\n");
    put(at("clocks.sdc"), slurp(at("clocks.sdc")) + "source " + deep + "\n");
    ASSERT_TRUE(d.window.desk().open(d.path("vane.kpeg")));
    EXPECT_TRUE(notices().join(' ').contains(QStringLiteral("outside the project's folder")))
        << notices().join('\n').toStdString();
    d.click("notice.allow_source");
    EXPECT_FALSE(notices().join(' ').contains(QStringLiteral("outside the project's folder")));
    fs::remove(deep);
}

TEST_F(Safety, AHandoffElsewhereIsAskedAboutOnce) {
    QTemporaryDir other;
    fs::create_symlink(other.path().toStdString() + "/out", at("handoff"));
    auto& log = *static_cast<LogStation*>(d.window.station_at(6));
    d.window.show_station(6);
    EXPECT_FALSE(log.write(true));
    EXPECT_TRUE(notice().contains(other.path() + QStringLiteral("/out"))) << notice().toStdString();
    EXPECT_FALSE(fs::exists(other.path().toStdString() + "/out"));
    d.click("notice.yes");
    EXPECT_TRUE(fs::exists(other.path().toStdString() + "/out/manifest.json"));
    EXPECT_EQ(notice(), QString());
    EXPECT_TRUE(log.write(true));
}

TEST_F(Safety, AProjectCanBeOpenedWithoutWaiting) {
    QTemporaryDir other;
    for (const char* file : {"vane.kpeg", "vane.v", "vane.sdf", "clocks.sdc", "ports.sdc"})
        QFile::copy(d.path(file), other.path() + '/' + QLatin1String(file));
    auto& desk = d.window.desk();
    desk.open_later(other.path().toStdString() + "/vane.kpeg");
    EXPECT_TRUE(desk.opening());
    d.act("project.cancel");
    EXPECT_FALSE(desk.opening());
    ASSERT_TRUE(d.wait([] { return !Desk::still_reading(); }));
    QCoreApplication::processEvents();
    EXPECT_EQ(QString::fromStdString(d.session().document().path()), d.path("vane.kpeg"));
    desk.open_later(other.path().toStdString() + "/vane.kpeg");
    ASSERT_TRUE(d.wait([&] { return !desk.opening(); }));
    EXPECT_EQ(QString::fromStdString(d.session().document().path()), other.path() + QStringLiteral("/vane.kpeg"));
    // The plan is there at once; the analysis fills in.
    EXPECT_TRUE(d.session().stale());
    ASSERT_TRUE(d.settle());
    EXPECT_FALSE(d.session().stale());
}

TEST_F(Safety, NamesOfAnyBytesOpen) {
    const auto folder = d.folder.path().toStdString() + "/caf\xE9";
    fs::create_directories(folder);
    for (const char* file : {"vane.kpeg", "vane.v", "vane.sdf", "clocks.sdc", "ports.sdc"})
        fs::copy_file(at(file), folder + "/" + file);
    fs::rename(folder + "/vane.kpeg", folder + "/v\xFFne.kpeg");
    ASSERT_TRUE(d.window.desk().open(folder + "/v\xFFne.kpeg"));
    type(QStringLiteral("# x "));
    d.act("project.save");
    EXPECT_TRUE(slurp(folder + "/clocks.sdc").starts_with("# x "));
}

TEST_F(Safety, TextsOfFilesAreNeverMarkup) {
    type(QStringLiteral("set_false_path -from {<img src=x>}\n"));
    ASSERT_TRUE(d.wait([this] { return d.find<QLabel>("tempo.trouble")->isVisible(); }));
    auto* trouble = d.find<QLabel>("tempo.trouble");
    EXPECT_TRUE(trouble->text().contains(QStringLiteral("<img")));
    for (auto* label : d.window.findChildren<QLabel*>())
        EXPECT_NE(label->textFormat(), Qt::AutoText) << label->text().toStdString();
}

TEST(HostileWindow, OpensOrRefusesEveryProjectAndStaysAlive) {
    QTemporaryDir base;
    const auto folder = base.path().toStdString() + "/project", secret = base.path().toStdString() + "/secret.sdc";
    Driver d(false);
    for (const auto& trap : hostile::traps()) {
        const auto project = hostile::lay(trap, folder, secret);
        const auto mine = slurp(secret);
        const bool open = d.window.desk().open(project);
        if (open) {
            d.window.show_station(3);
            auto* editor = d.find<QsciScintilla>("tempo.editor");
            editor->setFocus();
            editor->setCursorPosition(0, 0);
            QTest::keyClicks(editor, QStringLiteral("#x "));
            for (int station = 0; station < 7; ++station) d.window.show_station(station);
            d.act("project.save");
            QCoreApplication::processEvents();
        }
        for (auto* label : d.window.findChildren<QLabel*>())
            EXPECT_FALSE(label->text().contains(QString::fromStdString(hostile::secret))) << trap.name;
        EXPECT_EQ(slurp(secret), mine) << trap.name;
        d.window.desk().close();
    }
}

}  // namespace
}  // namespace kp::app::test
