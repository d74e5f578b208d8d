// SPDX-License-Identifier: GPL-3.0-or-later
// The editor of Tempo.
#pragma once

#include "core/model/constraints.hpp"

#include <Qsci/qsciscintilla.h>

namespace kp::app {

/// The constraint text: SDC highlighting, completion, marks in the margin where the check found something.
class SdcEditor : public QsciScintilla {
    Q_OBJECT
public:
    explicit SdcEditor(QWidget* parent = nullptr);
    /// Colours of the theme in use.
    void restyle();
    /// Words that completion offers beside the commands: ports, clocks.
    void offer(const QStringList& names);
    /// Marks the lines that messages of this file speak of.
    void mark(const QString& file, const std::vector<Message>& messages);

private:
    std::vector<std::pair<int, QString>> notes_;
};

}  // namespace kp::app
