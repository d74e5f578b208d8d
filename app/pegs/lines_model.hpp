// SPDX-License-Identifier: GPL-3.0-or-later
// The lines of a text with what a learned pattern makes of each. One row a line; the text is kept once.
#pragma once

#include "core/format/lines/read.hpp"

#include <QAbstractTableModel>
#include <string>
#include <vector>

namespace kp::app {

class LinesModel : public QAbstractTableModel {
    Q_OBJECT
public:
    enum class State { blank, comment, read, known, unread };
    enum Column { number, state, port, pin, standard, text, column_count };
    using QAbstractTableModel::QAbstractTableModel;

    void set_text(std::string text);
    /// What the pattern made of the text; without one nothing is read.
    void set_reading(lines::Reading reading, const std::string& comment);
    [[nodiscard]] const std::string& whole() const { return text_; }
    [[nodiscard]] const lines::Reading& reading() const { return reading_; }
    [[nodiscard]] std::string line(int row) const;
    [[nodiscard]] State state_of(int row) const;

    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

private:
    [[nodiscard]] QString value(int row, const char* field) const;
    [[nodiscard]] QString state_words(int row) const;
    std::string text_, comment_ = "#";
    std::vector<size_t> starts_;  ///< of lines, and one behind the last
    lines::Reading reading_;
    std::vector<int> row_of_, unread_of_;  ///< by line: position in the reading, -1: none
};

}  // namespace kp::app
