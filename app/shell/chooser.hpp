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
    void open(const QString& prompt, std::vector<Item> items);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void narrow();
    void run_current();
    QLineEdit* line_;
    QListWidget* list_;
    std::vector<Item> items_;
};

}  // namespace kp::app
