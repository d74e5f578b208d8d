// SPDX-License-Identifier: GPL-3.0-or-later
// A mark, a sentence, and the ways out of it as buttons.
#pragma once

#include "core/base/result.hpp"

#include <QString>
#include <QWidget>
#include <functional>

class QVBoxLayout;

namespace kp::app {

class TroubleRow : public QWidget {
    Q_OBJECT
public:
    TroubleRow(Severity severity, const QString& text);
    void add_way(const QString& name, const std::function<void()>& run);

private:
    QVBoxLayout* column_;
};

/// Takes all rows out of a layout.
void clear_rows(QVBoxLayout* layout);

}  // namespace kp::app
