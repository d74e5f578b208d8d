// SPDX-License-Identifier: GPL-3.0-or-later
// What can be chosen for the selected ports: only what is legal, each with where it comes from and what it means.
#pragma once

#include "app/shell/desk.hpp"
#include "core/planning/attributes.hpp"

#include <QWidget>
#include <vector>

class QComboBox;
class QLabel;

namespace kp::app {

class AttributePane : public QWidget {
    Q_OBJECT
public:
    explicit AttributePane(Desk& desk);
    void refresh();

private:
    struct Row {
        QLabel* label;
        QComboBox* value;
        QLabel* origin;
    };
    void fill(size_t i, const AttributeInput& input, const std::vector<std::string>& ports);
    void choose(size_t i, const QString& value);
    void explain(size_t i);
    Desk& desk_;
    QLabel *title_, *sentence_;
    std::vector<Row> rows_;
    bool filling_ = false;
};

}  // namespace kp::app
