// SPDX-License-Identifier: GPL-3.0-or-later
// How long the window's thread is busy with one event: the application of the tests measures every event that is not
// inside another, by the processor time of the thread, so that what else the machine does is not counted.
#pragma once

#include "app/window/application.hpp"

#include <QEvent>
#include <ctime>
#include <string>

namespace kp::app::test {

class WatchedApplication : public Application {
public:
    using Application::Application;
    bool notify(QObject* receiver, QEvent* event) override {
        if (depth_ > 0) return Application::notify(receiver, event);
        const auto type = event->type();
        const std::string name = receiver->objectName().toStdString() + " " + receiver->metaObject()->className();
        const auto begun = busy_ms();
        ++depth_;
        const bool taken = Application::notify(receiver, event);
        --depth_;
        note(busy_ms() - begun, std::to_string(type) + " at " + name);
        return taken;
    }
    /// For what a test does itself in the place of an event.
    template <class Do>
    void as_event(const std::string& name, Do what) {
        const auto begun = busy_ms();
        ++depth_;
        what();
        --depth_;
        note(busy_ms() - begun, name);
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
    static double busy_ms() {
        timespec t{};
        clock_gettime(CLOCK_THREAD_CPUTIME_ID, &t);
        return static_cast<double>(t.tv_sec) * 1e3 + static_cast<double>(t.tv_nsec) / 1e6;
    }
    void note(double ms, const std::string& what) {
        if (ms > longest_.ms) longest_ = {ms, what};
    }
    int depth_ = 0;
    Longest longest_;
};

}  // namespace kp::app::test
