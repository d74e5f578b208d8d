// SPDX-License-Identifier: GPL-3.0-or-later
// A line to type into and a list that narrows: the palette of actions and the search for objects.
#pragma once

#include <QFrame>
#include <functional>
#include <vector>

class QLineEdit;
class QListWidget;

namespace kp::app {

class Chooser : public QFrame {
    Q_OBJECT
public:
    struct Item {
        QString name, hint;  ///< hint at the right: a shortcut, or what kind of object it is
        std::function<void()> run;
    };
    explicit Chooser(QWidget* parent);
    /// Shows itself over the parent with these items; runs one when it is chosen.
    /// With `typed`, what stands in the line can be taken as it is, too: first of all when the line begins with a text
    /// to edit, otherwise after what it finds.
    void open(const QString& prompt, std::vector<Item> items, std::function<void(const QString&)> typed = {},
              const QString& begin_with = {});

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void narrow();
    void run_current();
    QLineEdit* line_;
    QListWidget* list_;
    std::vector<Item> items_;
    std::function<void(const QString&)> typed_;
    bool typed_first_ = false;
    void offer_typed();
};

}  // namespace kp::app
