// SPDX-License-Identifier: GPL-3.0-or-later
// Which line is read and which is not is worked out once for a pattern; a row looks its answer up.
#include "app/pegs/lines_model.hpp"

#include "app/paint/canvas.hpp"
#include "app/theme/text.hpp"
#include "app/theme/theme.hpp"
#include "core/base/bytes.hpp"
#include "core/base/text.hpp"

namespace kp::app {

void LinesModel::set_text(std::string text) {
    beginResetModel();
    text_ = std::move(text);
    starts_.clear();
    for (size_t at = 0; at < text_.size();) {
        starts_.push_back(at);
        const auto end = text_.find('\n', at);
        at = end == std::string::npos ? text_.size() : end + 1;
    }
    starts_.push_back(text_.size());
    reading_ = {};
    row_of_.assign(starts_.size(), -1);
    unread_of_.assign(starts_.size(), -1);
    endResetModel();
}

void LinesModel::set_reading(lines::Reading reading, const std::string& comment) {
    reading_ = std::move(reading);
    comment_ = comment;
    row_of_.assign(starts_.size(), -1);
    unread_of_.assign(starts_.size(), -1);
    const auto put = [](std::vector<int>& at, int line, size_t i) {
        if (line > 0 && static_cast<size_t>(line) <= at.size()) at[static_cast<size_t>(line) - 1] = static_cast<int>(i);
    };
    for (size_t i = 0; i < reading_.rows.size(); ++i) put(row_of_, reading_.rows[i].line, i);
    for (size_t i = 0; i < reading_.unread.size(); ++i) put(unread_of_, reading_.unread[i].line, i);
    if (rowCount() > 0) emit dataChanged(index(0, 0), index(rowCount() - 1, column_count - 1));
}

std::string LinesModel::line(int row) const {
    if (row < 0 || row >= rowCount()) return {};
    const auto from = starts_[static_cast<size_t>(row)];
    auto out = text_.substr(from, starts_[static_cast<size_t>(row) + 1] - from);
    while (!out.empty() && (out.back() == '\n' || out.back() == '\r')) out.pop_back();
    return out;
}

LinesModel::State LinesModel::state_of(int row) const {
    const auto i = static_cast<size_t>(row);
    if (row < 0 || i >= row_of_.size()) return State::blank;
    if (row_of_[i] >= 0) return reading_.rows[static_cast<size_t>(row_of_[i])].commented ? State::known : State::read;
    if (unread_of_[i] >= 0) return State::unread;
    const auto text = line(row);
    if (trim(text).empty()) return State::blank;
    return !comment_.empty() && trim(text).starts_with(comment_) ? State::comment : State::unread;
}

int LinesModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() || starts_.empty() ? 0 : static_cast<int>(starts_.size()) - 1;
}
int LinesModel::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : column_count;
}

QString LinesModel::value(int row, const char* field) const {
    const int at = row_of_[static_cast<size_t>(row)];
    if (at < 0) return {};
    const auto& values = reading_.rows[static_cast<size_t>(at)].values;
    const auto found = values.find(field);
    return found == values.end() ? QString() : shown_words(found->second);
}

QString LinesModel::state_words(int row) const {
    switch (state_of(row)) {
        case State::read: return tr("read");
        case State::known: return tr("known, not used");
        case State::unread: {
            const int at = unread_of_[static_cast<size_t>(row)];
            return at < 0 ? tr("not read yet")
                          : tr("not read: %1").arg(shown_words(reading_.unread[static_cast<size_t>(at)].why));
        }
        case State::comment: return tr("comment");
        case State::blank: break;
    }
    return {};
}

QVariant LinesModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid() || index.row() >= rowCount()) return {};
    const auto state_now = state_of(index.row());
    if (role == Qt::FontRole && index.column() != state) return mono(12);
    if (role == Qt::ForegroundRole) {
        if (state_now == State::unread) return theme().stop;
        if (state_now == State::read) return theme().ink;
        return theme().second;
    }
    if (role == Qt::TextAlignmentRole && index.column() == number) return QVariant(Qt::AlignRight | Qt::AlignVCenter);
    if (role != Qt::DisplayRole && role != Qt::ToolTipRole) return {};
    switch (index.column()) {
        case number: return index.row() + 1;
        case state: return state_words(index.row());
        case port: return value(index.row(), "port");
        case pin: return value(index.row(), "pin");
        case standard: return value(index.row(), "standard");
        case text: return shown_words(line(index.row()));
        default: return {};
    }
}

QVariant LinesModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (role != Qt::DisplayRole || orientation != Qt::Horizontal) return {};
    switch (section) {
        case number: return tr("line");
        case state: return tr("how it reads");
        case port: return tr("port");
        case pin: return tr("pin");
        case standard: return tr("standard");
        case text: return tr("text");
        default: return {};
    }
}

}  // namespace kp::app
