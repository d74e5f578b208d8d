// SPDX-License-Identifier: GPL-3.0-or-later
// What the window knows of a station.
#pragma once

#include "app/shell/desk.hpp"
#include "app/shell/tether.hpp"

#include <QAction>
#include <QWidget>

namespace kp::app {

/// One of the seven places of the window. It listens to the desk, brings its actions, and says how it stands.
class Station : public QWidget {
    Q_OBJECT
public:
    Station(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) { setObjectName("page"); }
    /// Shows the session anew; only called while there is one. What the user is doing (typing, ticks, row, scroll)
    /// stays.
    virtual void refresh() = 0;
    /// The same after news; `what` is that part of it that the page cares for.
    virtual void follow(unsigned what) {
        (void)what;
        refresh();
    }
    /// The news that this page depends on; it is not shown anew for others.
    [[nodiscard]] virtual unsigned cares() const { return News::all & ~unsigned{News::document}; }
    /// Words and standing for the tether; worked out again for news that standing_cares() names.
    [[nodiscard]] virtual KnotState standing() const = 0;
    [[nodiscard]] virtual unsigned standing_cares() const { return News::all; }
    /// One line for the status bar while this station is shown.
    [[nodiscard]] virtual QString status() const { return {}; }

    /// What this station shows below the facts; none for most. Owned by the window once it was given.
    [[nodiscard]] virtual QWidget* side() { return nullptr; }

protected:
    /// An action of this station: known to palette and menus by its id, runs only while a project is open.
    QAction* add_action(const char* id, const QString& name, const QKeySequence& keys,
                        const std::function<void()>& run) {
        auto* action = new QAction(name, this);
        action->setObjectName(QLatin1String(id));
        if (!keys.isEmpty()) action->setShortcut(keys);
        connect(action, &QAction::triggered, this, [this, run] {
            desk_.settle();
            if (desk_.has_session()) run();
        });
        addAction(action);
        return action;
    }
    Desk& desk_;
};

}  // namespace kp::app
