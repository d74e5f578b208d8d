// SPDX-License-Identifier: GPL-3.0-or-later
// The log of a build while it runs: a line for each stage and message with the time since the start, of all severities
// or of the worse ones only.
#pragma once

#include "core/base/result.hpp"

#include <QElapsedTimer>
#include <QTimer>
#include <QWidget>
#include <vector>

class QComboBox;
class QLabel;
class QPlainTextEdit;

namespace kp::app {

class BuildLog : public QWidget {
    Q_OBJECT
public:
    explicit BuildLog(QWidget* parent = nullptr);
    /// Forgets the lines of before; time counts from here.
    void begin();
    /// What runs now: "build 3, seed 2: place".
    void runs(const QString& what);
    void add(Severity severity, const QString& text);
    /// Nothing runs any more.
    void end(const QString& how);
    /// Seconds since begin(); those up to end() when it has ended.
    [[nodiscard]] double seconds() const;

signals:
    /// Some tenths of a second passed while something runs.
    void ticked();

private:
    struct Line {
        Severity severity = Severity::note;
        QString text;
    };
    void show_lines();
    void show(const Line& line);
    QLabel* now_;
    QComboBox* least_;
    QPlainTextEdit* text_;
    std::vector<Line> lines_;
    QElapsedTimer since_;
    QTimer tick_;
    QString what_;
    double ended_ = -1;  ///< seconds, once it has
};

}  // namespace kp::app
