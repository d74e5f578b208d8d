// SPDX-License-Identifier: GPL-3.0-or-later
// The list of Slack: endpoints of some kinds of check, worst first, or the paths that nothing constrains. A view of the
// report; rows are positions in it, so that a hundred thousand endpoints cost a hundred thousand numbers.
#pragma once

#include "core/model/timing_index.hpp"

#include <QAbstractTableModel>
#include <QString>
#include <memory>
#include <vector>

namespace kp::app {

class EndpointModel : public QAbstractTableModel {
    Q_OBJECT
public:
    enum class Kind { setup, hold, others, unconstrained };
    enum Column { slack_column, from_column, endpoint_column, clocks_column, delay_column, mostly_column, columns };
    using QAbstractTableModel::QAbstractTableModel;

    /// Shows another report, another kind, or what meets another filter. Rows that stay keep their persistent indexes.
    void show(std::shared_ptr<const TimingReport> report, std::shared_ptr<const TimingIndex> index, Kind kind,
              const QString& filter);
    void clear();
    /// Slacks of all endpoints of the kind, whatever the filter says.
    [[nodiscard]] std::vector<double> slacks() const;
    /// Position in TimingReport::paths of a row's path; -1 for none.
    [[nodiscard]] int path_at(int row) const;
    /// What a row is about; null beyond the rows and for the other kind.
    [[nodiscard]] const EndpointSlack* endpoint_at(int row) const;
    [[nodiscard]] const UnconstrainedPath* free_at(int row) const;

    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] int columnCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] QVariant data(const QModelIndex& at, int role) const override;
    [[nodiscard]] QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

private:
    [[nodiscard]] QString text(int row, int column) const;
    [[nodiscard]] bool listed(const EndpointSlack& endpoint) const;
    [[nodiscard]] std::vector<int> rows_for(const QString& filter) const;
    /// By position in TimingReport::unconstrained, and behind those in other_starts.
    [[nodiscard]] const UnconstrainedPath& free_path(size_t at) const;
    /// What a row is about, whatever report it is in.
    [[nodiscard]] std::string key(int row) const;
    std::shared_ptr<const TimingReport> report_;
    std::shared_ptr<const TimingIndex> lookup_;
    Kind kind_ = Kind::setup;
    std::vector<int> rows_;  ///< positions in endpoints, or as free_path takes them
};

}  // namespace kp::app
