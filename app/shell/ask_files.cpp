// SPDX-License-Identifier: GPL-3.0-or-later
// Qt's dialogs, unless a test has put an answer in their place.
#include "app/shell/ask_files.hpp"

#include <QFileDialog>

namespace kp::app {

FileQuestions& file_questions() {
    static FileQuestions questions{
        [](QWidget* parent, const QString& title, const QString& where, const QString& filter) {
            return QFileDialog::getOpenFileName(parent, title, where, filter);
        },
        [](QWidget* parent, const QString& title, const QString& where, const QString& filter) {
            return QFileDialog::getOpenFileNames(parent, title, where, filter);
        },
        [](QWidget* parent, const QString& title, const QString& where, const QString& filter) {
            return QFileDialog::getSaveFileName(parent, title, where, filter);
        },
        [](QWidget* parent, const QString& title, const QString& where) {
            return QFileDialog::getExistingDirectory(parent, title, where);
        }};
    return questions;
}

}  // namespace kp::app
