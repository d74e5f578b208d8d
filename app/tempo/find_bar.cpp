// SPDX-License-Identifier: GPL-3.0-or-later
// Works on the editor's text; replacing all is one step of the editor's undo.
#include "app/tempo/find_bar.hpp"

#include "app/theme/theme.hpp"
#include "app/tempo/sdc_editor.hpp"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

namespace kp::app {

FindBar::FindBar(SdcEditor* editor) : editor_(editor), what_(new QLineEdit), with_(new QLineEdit), says_(new QLabel) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(8, 2, 8, 2);
    const auto field = [&](QLineEdit* edit, const char* name, const QString& label) {
        edit->setObjectName(QLatin1String(name));
        edit->setPlaceholderText(label);
        edit->setAccessibleName(label);
        edit->setFont(mono(12));
        row->addWidget(edit, 2);
    };
    field(what_, "tempo.find.what", tr("find"));
    field(with_, "tempo.find.with", tr("replace with"));
    const auto button = [&](const QString& label, const char* name, auto run) {
        auto* b = new QPushButton(label);
        b->setObjectName(QLatin1String(name));
        row->addWidget(b);
        connect(b, &QPushButton::clicked, this, run);
    };
    button(tr("Next"), "tempo.find.next", [this] { next(); });
    button(tr("Replace"), "tempo.find.replace", [this] { replace(); });
    button(tr("All"), "tempo.find.all", [this] { replace_all(); });
    row->addWidget(says_, 1);
    connect(what_, &QLineEdit::returnPressed, this, [this] { next(); });
    connect(with_, &QLineEdit::returnPressed, this, [this] { replace(); });
    hide();
}

void FindBar::begin() {
    if (editor_->hasSelectedText() && !editor_->selectedText().contains(QLatin1Char('\n')))
        what_->setText(editor_->selectedText());
    show();
    what_->setFocus();
    what_->selectAll();
}

void FindBar::next(bool backwards) {
    if (what_->text().isEmpty()) return;
    int line = 0, column = 0;
    editor_->getCursorPosition(&line, &column);
    if (backwards && editor_->hasSelectedText()) editor_->getSelection(&line, &column, &line, &column);
    const bool found = editor_->findFirst(what_->text(), false, false, false, true, !backwards);
    says_->setText(found ? QString() : tr("not found"));
}

void FindBar::replace() {
    if (what_->text().isEmpty() || editor_->isReadOnly()) return;
    if (editor_->hasSelectedText() && editor_->selectedText().compare(what_->text(), Qt::CaseInsensitive) == 0)
        editor_->replaceSelectedText(with_->text());
    next();
}

void FindBar::replace_all() {
    if (what_->text().isEmpty() || editor_->isReadOnly()) return;
    editor_->beginUndoAction();
    int count = 0;
    // From the top, without going round: what was put in is not looked at again.
    bool found = editor_->findFirst(what_->text(), false, true, false, false, true, 0, 0);
    while (found && count < 100'000) {
        editor_->replace(with_->text());
        ++count;
        found = editor_->findNext();
    }
    editor_->endUndoAction();
    says_->setText(tr("%1 replaced").arg(count));
}

void FindBar::keyPressEvent(QKeyEvent* event) {
    if (event->key() != Qt::Key_Escape) return QWidget::keyPressEvent(event);
    hide();
    editor_->setFocus();
}

}  // namespace kp::app
