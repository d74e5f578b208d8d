// SPDX-License-Identifier: GPL-3.0-or-later
// How long the window's thread is busy with one event: the application of the tests measures every event that is not
// inside another.
#pragma once

#include "app/window/application.hpp"

#include <QElapsedTimer>
#include <QEvent>
#include <string>

namespace kp::app::test {

class WatchedApplication : public Application {
public:
    using Application::Application;
    bool notify(QObject* receiver, QEvent* event) override {
        if (depth_ > 0) return Application::notify(receiver, event);
        const auto type = event->type();
        const std::string name = receiver->objectName().toStdString() + " " + receiver->metaObject()->className();
        QElapsedTimer clock;
        clock.start();
        ++depth_;
        const bool taken = Application::notify(receiver, event);
        --depth_;
        note(static_cast<double>(clock.nsecsElapsed()) / 1e6, std::to_string(type) + " at " + name);
        return taken;
    }
    /// For what a test does itself in the place of an event.
    template <class Do>
    void as_event(const std::string& name, Do what) {
        QElapsedTimer clock;
        clock.start();
        ++depth_;
        what();
        --depth_;
        note(static_cast<double>(clock.nsecsElapsed()) / 1e6, name);
    }
    /// The longest since the last time somebody asked, ms, and what it was.
    struct Longest {
        double ms = 0;
        std::string what;
    };
    Longest take_longest() {
        const auto out = longest_;
        longest_ = {};
        return out;
    }
    static WatchedApplication& it() { return *static_cast<WatchedApplication*>(qApp); }

private:
    void note(double ms, const std::string& what) {
        if (ms > longest_.ms) longest_ = {ms, what};
    }
    int depth_ = 0;
    Longest longest_;
};

}  // namespace kp::app::test
