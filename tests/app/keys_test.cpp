// SPDX-License-Identifier: GPL-3.0-or-later
// Keys of commands while somebody types, and facts of what is selected.
#include "app/log/build_page.hpp"
#include "app/shell/facts.hpp"
#include "tests/app/harness.hpp"

#include <QComboBox>
#include <QLineEdit>
#include <QSignalSpy>
#include <QTreeView>
#include <QTreeWidget>

namespace kp::app::test {
namespace {

/// Whether a field would keep a key that is pressed in it for itself.
bool keeps(QWidget& field, const QKeySequence& keys) {
    const auto one = keys[0];
    QKeyEvent event(QEvent::ShortcutOverride, one.key(), one.keyboardModifiers());
    event.ignore();
    QApplication::sendEvent(&field, &event);
    return event.isAccepted();
}

TEST(Keys, TextFieldsDoNotKeepTheKeysOfCommands) {
    Driver d;
    d.window.show_station(number_of(Place::tempo));
    QLineEdit* line = nullptr;
    for (auto* one : d.window.findChildren<QLineEdit*>())
        if (one->isVisible() && one->isEnabled()) line = one;
    auto* text = d.window.findChild<QWidget*>(QStringLiteral("tempo.editor"));
    if (!text)
        for (auto* one : d.window.findChildren<QWidget*>())
            if (one->inherits("QsciScintilla") && !text) text = one;
    ASSERT_NE(text, nullptr);
    for (QWidget* field : {static_cast<QWidget*>(line), text}) {
        if (!field) continue;
        int asked = 0;
        for (const auto* action : d.window.findChildren<QAction*>()) {
            const auto keys = action->shortcut();
            if (keys.isEmpty() || action->objectName().startsWith(QLatin1String("edit.")) ||
                keys == QKeySequence(Qt::Key_Delete) || keys == QKeySequence(QStringLiteral("/")))
                continue;
            EXPECT_FALSE(keeps(*field, keys))
                << action->objectName().toStdString() << " " << keys.toString().toStdString() << " in "
                << field->metaObject()->className();
            ++asked;
        }
        EXPECT_GT(asked, 20);
        // What is typed stays typed, and an edit of the text is undone in the text.
        QKeyEvent letter(QEvent::ShortcutOverride, Qt::Key_A, Qt::NoModifier, QStringLiteral("a"));
        letter.ignore();
        QApplication::sendEvent(field, &letter);
        EXPECT_TRUE(letter.isAccepted());
        EXPECT_TRUE(keeps(*field, QKeySequence(QKeySequence::Undo)));
    }
}

TEST(Keys, ABuildStartsFromATextFieldOfAnotherPage) {
    Driver d;
    d.window.activateWindow();
    ASSERT_TRUE(QTest::qWaitForWindowActive(&d.window));
    d.window.show_station(number_of(Place::slack));
    auto* filter = d.find<QLineEdit>("slack.filter");
    filter->setFocus();
    auto* start = d.find<QAction>("build.start");
    QSignalSpy spy(start, &QAction::triggered);
    QTest::keyClick(filter, Qt::Key_B, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_EQ(spy.count(), 1);
    EXPECT_EQ(d.window.station(), number_of(Place::log));
    d.act("build.cancel");
    EXPECT_TRUE(
        QTest::qWaitFor([&] { return !d.window.findChild<BuildPage*>(QStringLiteral("build"))->working(); }, 60000));
}

TEST(Facts, FollowWhatIsSelectedOnEachPage) {
    Driver d;
    ASSERT_TRUE(d.settle());
    auto& desk = d.window.desk();
    desk.select({QStringLiteral("port"), QStringLiteral("tone")});
    const auto title = [&] { return facts_of(d.session(), desk.selection()).title; };
    EXPECT_EQ(title(), QStringLiteral("tone"));
    // An endpoint inside the design.
    d.window.show_station(number_of(Place::slack));
    auto* list = d.find<QTreeView>("slack.list");
    const auto& endpoints = d.session().analysis().timing().endpoints;
    std::string inner;
    for (const auto& e : endpoints)
        if (inner.empty() && e.check == "setup" && !d.session().plan().port(e.endpoint)) inner = e.endpoint;
    ASSERT_FALSE(inner.empty());
    const auto sheet = facts_of(d.session(), {QStringLiteral("endpoint"), QString::fromStdString("setup " + inner)});
    EXPECT_EQ(sheet.title.toStdString(), inner);
    ASSERT_GE(sheet.groups.size(), 1u);
    EXPECT_EQ(sheet.groups[0].title, QStringLiteral("CHECKS"));
    bool chosen = false;
    for (int row = 0; row < list->model()->rowCount() && !chosen; ++row) {
        list->setCurrentIndex(list->model()->index(row, 0));
        chosen = desk.selection().kind == QLatin1String("endpoint");
    }
    ASSERT_TRUE(chosen);
    EXPECT_EQ(desk.selection().name.section(QLatin1Char(' '), 1), title());
    // A finding without a port.
    d.window.show_station(number_of(Place::findings));
    for (const auto& f : d.session().findings()) {
        const auto of = facts_of(d.session(), {QStringLiteral("finding"), QString::fromStdString(f.identity())});
        EXPECT_EQ(of.title.toStdString(), f.rule);
        break;
    }
    // A line of the constraints, and what is gone: the project.
    const auto& file = d.session().project().constraints.front().path;
    EXPECT_EQ(facts_of(d.session(), {QStringLiteral("line"), QString::fromStdString(file + ":1")}).title,
              QStringLiteral("line 1"));
    EXPECT_EQ(facts_of(d.session(), {QStringLiteral("endpoint"), QStringLiteral("setup nowhere/D")}).under,
              QStringLiteral("nothing selected"));
}

}  // namespace
}  // namespace kp::app::test
