// SPDX-License-Identifier: GPL-3.0-or-later
// Where the window asks for files: one seam, so that a test answers instead of a person. Answers are empty when nothing
// was chosen. On the window's thread only.
#pragma once

#include <QString>
#include <QStringList>
#include <functional>

class QWidget;

namespace kp::app {

/// What stands behind the seam; a test puts its own functions in, and the old ones back.
struct FileQuestions {
    std::function<QString(QWidget* parent, const QString& title, const QString& where, const QString& filter)> open;
    std::function<QStringList(QWidget* parent, const QString& title, const QString& where, const QString& filter)>
        several;
    std::function<QString(QWidget* parent, const QString& title, const QString& where, const QString& filter)> save;
    std::function<QString(QWidget* parent, const QString& title, const QString& where)> folder;
};
[[nodiscard]] FileQuestions& file_questions();

inline QString ask_file(QWidget* parent, const QString& title, const QString& where = {}, const QString& filter = {}) {
    return file_questions().open(parent, title, where, filter);
}
inline QStringList ask_files(QWidget* parent, const QString& title, const QString& where = {},
                             const QString& filter = {}) {
    return file_questions().several(parent, title, where, filter);
}
inline QString ask_where_to_save(QWidget* parent, const QString& title, const QString& where = {},
                                 const QString& filter = {}) {
    return file_questions().save(parent, title, where, filter);
}
inline QString ask_folder(QWidget* parent, const QString& title, const QString& where = {}) {
    return file_questions().folder(parent, title, where);
}

}  // namespace kp::app
