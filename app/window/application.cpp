// SPDX-License-Identifier: GPL-3.0-or-later
// Every event passes here, so that an exception of any slot ends with the event that led to it.
#include "app/window/application.hpp"

#include "core/base/bytes.hpp"

#include <exception>

namespace kp::app {

bool Application::notify(QObject* receiver, QEvent* event) {
    if (!tell) return QApplication::notify(receiver, event);
    try {
        return QApplication::notify(receiver, event);
    } catch (const std::exception& e) {
        tell(tr("This step failed inside of Kite Peg (%1). Your project is as it was before it; save, and report what "
                "you did.")
                 .arg(QString::fromStdString(one_line(e.what()))));
    }
    return true;
}

}  // namespace kp::app
