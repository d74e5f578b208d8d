// SPDX-License-Identifier: GPL-3.0-or-later
// What leaves the plan as text, as it would be written: pin sheets, the user's own templates, an adapter top.
#pragma once

#include "app/shell/desk.hpp"

#include <QTimer>
#include <QWidget>

class QCheckBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QPlainTextEdit;
class QPushButton;

namespace kp::app {

class OutPage : public QWidget {
    Q_OBJECT
public:
    enum Kind { csv, markdown, html, own, verilog, vhdl };
    explicit OutPage(Desk& desk);
    void refresh();
    void choose(Kind kind);
    /// Takes a template's text; the preview follows.
    void use_template(const QString& text, const QString& path);
    [[nodiscard]] QString preview() const;
    /// Writes the preview. False (and a sentence) while stops hold it or the disk refuses.
    bool write_to(const QString& path);

private:
    void build_template_box();
    void build();
    void make();
    void open_template();
    void write();
    [[nodiscard]] Kind kind() const;
    Desk& desk_;
    QListWidget *kinds_, *fields_;
    QPlainTextEdit *template_, *preview_;
    QWidget* template_box_;
    QLabel *state_, *path_;
    QCheckBox *despite_, *polarity_;
    QPushButton* write_;
    QTimer soon_;  ///< the preview follows typing
    QString made_;
    bool good_ = false;
};

}  // namespace kp::app
