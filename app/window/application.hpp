// SPDX-License-Identifier: GPL-3.0-or-later
// The application, which outlives a fault in one step of it.
#pragma once

#include <QApplication>
#include <functional>

namespace kp::app {

class Application : public QApplication {
public:
    using QApplication::QApplication;
    /// Gets the sentence about an exception that nobody took; what was done before stands, and the window goes on.
    /// Without it the exception ends the program, as ever.
    std::function<void(const QString&)> tell;
    bool notify(QObject* receiver, QEvent* event) override;
};

}  // namespace kp::app
