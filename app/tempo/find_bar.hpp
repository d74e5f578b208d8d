// SPDX-License-Identifier: GPL-3.0-or-later
// A line under the editor that finds and replaces; hidden until it is asked for.
#pragma once

#include <QWidget>

class QLabel;
class QLineEdit;

namespace kp::app {

class SdcEditor;

class FindBar : public QWidget {
    Q_OBJECT
public:
    explicit FindBar(SdcEditor* editor);
    /// Shows itself with what is selected in the text.
    void begin();
    void next(bool backwards = false);
    void replace();
    /// All occurrences of the file, as one undo of the editor.
    void replace_all();

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    SdcEditor* editor_;
    QLineEdit *what_, *with_;
    QLabel* says_;
};

}  // namespace kp::app
