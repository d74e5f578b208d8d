// SPDX-License-Identifier: GPL-3.0-or-later
// Drives the real window: clicks, keys, drags, and waiting on conditions, never on sleeps.
#pragma once

#include "app/window/main_window.hpp"

#include <QAction>
#include <QApplication>
#include <QPushButton>
#include <QTemporaryDir>
#include <QTest>
#include <functional>
#include <gtest/gtest.h>

namespace kp::app::test {

/// A window with a fresh copy of the demo.
struct Driver {
    QTemporaryDir folder;
    MainWindow window;

    explicit Driver(bool open = true) {
        for (const char* file : {"vane.kpeg", "vane.v", "vane.sdf", "clocks.sdc", "ports.sdc"})
            QFile::copy(QStringLiteral(KP_SOURCE "/demo/vane/") + QLatin1String(file), path(file));
        for (const char* file : {"vane.kpeg", "clocks.sdc", "ports.sdc"})
            QFile::setPermissions(path(file), QFile::ReadOwner | QFile::WriteOwner);
        window.show();
        if (open) EXPECT_TRUE(window.desk().open(path("vane.kpeg")));
    }
    [[nodiscard]] QString path(const char* file) const { return folder.path() + '/' + QLatin1String(file); }
    [[nodiscard]] Session& session() { return window.desk().session(); }

    /// Handles events until the condition holds; fails after ten seconds.
    bool wait(const std::function<bool()>& condition) { return QTest::qWaitFor(condition, 10000); }
    bool settle() {
        const auto at_rest = [this] {
            return !window.desk().preparing() && !session().stale() && session().jobs().idle();
        };
        // What a job hands over comes as an event, and may start the next one.
        return wait([&] {
            if (!at_rest()) return false;
            QCoreApplication::processEvents();
            return at_rest();
        });
    }
    /// Runs an action by its id, which must exist and be enabled.
    void act(const char* id) {
        auto* action = window.findChild<QAction*>(QLatin1String(id));
        ASSERT_NE(action, nullptr) << id;
        ASSERT_TRUE(action->isEnabled()) << id;
        action->trigger();
    }
    template <class T>
    T* find(const char* name) {
        auto* w = window.findChild<T*>(QLatin1String(name));
        EXPECT_NE(w, nullptr) << name;
        return w;
    }
    void click(const char* button) { QTest::mouseClick(find<QPushButton>(button), Qt::LeftButton); }
    /// A picture for the eye, into the folder that KITE_PEG_PICTURES names; nothing without it.
    void picture(const char* name) {
        const auto folder = qEnvironmentVariable("KITE_PEG_PICTURES");
        QCoreApplication::processEvents();  // what was just laid out takes its place
        if (!folder.isEmpty())
            EXPECT_TRUE(window.grab().save(folder + '/' + QLatin1String(name) + QStringLiteral(".png")));
    }
    /// Press, move in steps, release: as a hand drags.
    static void drag(QWidget* on, QPoint from, QPoint to) {
        QTest::mousePress(on, Qt::LeftButton, {}, from);
        for (int i = 1; i <= 4; ++i) {
            QMouseEvent move(QEvent::MouseMove, QPointF(from + (to - from) * i / 4),
                             on->mapToGlobal(QPointF(from + (to - from) * i / 4)), Qt::NoButton, Qt::LeftButton, {});
            QApplication::sendEvent(on, &move);
        }
        QTest::mouseRelease(on, Qt::LeftButton, {}, to);
    }
};

}  // namespace kp::app::test
