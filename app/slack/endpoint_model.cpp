// SPDX-License-Identifier: GPL-3.0-or-later
// Rows are positions in the report, sorted once for a filter; texts are made for rows that are seen.
#include "app/slack/endpoint_model.hpp"

#include "app/theme/text.hpp"
#include "app/theme/theme.hpp"
#include "core/base/text.hpp"
#include "core/model/path_cause.hpp"
#include "core/model/path_query.hpp"
#include "core/model/timing_words.hpp"

#include <algorithm>
#include <unordered_map>

namespace kp::app {

namespace {

QString in_ns(double v) {
    return q(fixed(v, 3));
}

/// "wire 3.210": where most of the delay comes from.
QString mostly(const TimingPath& path) {
    const auto share = share_of(path);
    auto worst = std::pair{QObject::tr("wire"), share.wire};
    if (share.cell > worst.second) worst = {QObject::tr("cells"), share.cell};
    if (share.outside > worst.second) worst = {QObject::tr("outside"), share.outside};
    return QStringLiteral("%1 %2").arg(worst.first, in_ns(worst.second));
}

}  // namespace

bool EndpointModel::listed(const EndpointSlack& e) const {
    switch (kind_) {
        case Kind::setup: return e.check == "setup";
        case Kind::hold: return e.check == "hold";
        case Kind::others: return e.check != "setup" && e.check != "hold";
        case Kind::unconstrained: break;
    }
    return false;
}

std::vector<int> EndpointModel::rows_for(const QString& filter) const {
    std::vector<int> out;
    if (!report_) return out;
    // A line that is being typed may not be whole yet; what it says so far shows nothing wrong.
    const auto parsed = PathQuery::parse(filter.toStdString());
    const auto query = parsed ? parsed.value() : PathQuery();
    if (kind_ == Kind::unconstrained) {
        for (size_t i = 0; i < report_->unconstrained.size(); ++i)
            if (query.fits(report_->unconstrained[i])) out.push_back(static_cast<int>(i));
        // Who asks for certain paths is answered with all of them, not with the worst start of each end.
        for (size_t i = 0; i < report_->other_starts.size() && !query.empty(); ++i)
            if (query.fits(report_->other_starts[i]))
                out.push_back(static_cast<int>(i + report_->unconstrained.size()));
        std::stable_sort(out.begin(), out.end(), [this](int a, int b) {
            return free_path(static_cast<size_t>(a)).max_delay > free_path(static_cast<size_t>(b)).max_delay;
        });
        return out;
    }
    for (size_t i = 0; i < report_->endpoints.size(); ++i) {
        const auto& e = report_->endpoints[i];
        if (!listed(e)) continue;
        const int at = query.needs_path() ? lookup_->path_of(e) : -1;
        if (query.fits(e, at < 0 ? nullptr : &report_->paths[static_cast<size_t>(at)], report_->clocks))
            out.push_back(static_cast<int>(i));
    }
    return out;
}

const UnconstrainedPath& EndpointModel::free_path(size_t at) const {
    const auto& worst = report_->unconstrained;
    return at < worst.size() ? worst[at] : report_->other_starts[at - worst.size()];
}

std::string EndpointModel::key(int row) const {
    const auto at = static_cast<size_t>(rows_[static_cast<size_t>(row)]);
    if (kind_ == Kind::unconstrained) return "free " + free_path(at).startpoint + " " + free_path(at).endpoint;
    return report_->endpoints[at].check + " " + report_->endpoints[at].endpoint;
}

void EndpointModel::clear() {
    beginResetModel();
    report_.reset();
    lookup_.reset();
    rows_.clear();
    endResetModel();
}

void EndpointModel::show(std::shared_ptr<const TimingReport> report, std::shared_ptr<const TimingIndex> index,
                         Kind kind, const QString& filter) {
    const auto kept = persistentIndexList();
    std::vector<std::string> keys;
    for (const auto& at : kept) keys.push_back(key(at.row()));
    // The number of rows first, then which they are: a layout may not change its size.
    EndpointModel next;
    next.report_ = std::move(report);
    next.lookup_ = std::move(index);
    next.kind_ = kind;
    next.rows_ = next.rows_for(filter);
    const int before = rowCount(), after = static_cast<int>(next.rows_.size());
    std::unordered_map<std::string, int> place;
    for (const auto& k : keys) place.emplace(k, -1);
    for (int row = 0; !place.empty() && row < after; ++row)
        if (const auto at = place.find(next.key(row)); at != place.end()) at->second = row;
    const auto take = [&] {
        report_ = next.report_;
        lookup_ = next.lookup_;
        kind_ = next.kind_;
        rows_ = next.rows_;
    };
    // Rows come and go at the end, as copies of the last one, so that what is seen meanwhile is always whole.
    if (before == 0 && after > 0) {
        beginInsertRows({}, 0, after - 1);
        take();
        return endInsertRows();
    }
    if (after == 0) {
        if (before > 0) beginRemoveRows({}, 0, before - 1);
        take();
        if (before > 0) endRemoveRows();
        return;
    }
    if (before < after) {
        beginInsertRows({}, before, after - 1);
        rows_.resize(static_cast<size_t>(after), rows_.back());
        endInsertRows();
    }
    emit layoutAboutToBeChanged();
    take();
    rows_.resize(static_cast<size_t>(std::max(before, after)), rows_.back());
    for (qsizetype i = 0; i < kept.size(); ++i) {
        const int row = place.at(keys[static_cast<size_t>(i)]);
        changePersistentIndex(kept[i], row < 0 ? QModelIndex() : this->index(row, kept[i].column()));
    }
    emit layoutChanged();
    if (before > after) {
        beginRemoveRows({}, after, before - 1);
        rows_.resize(static_cast<size_t>(after));
        endRemoveRows();
    }
}

std::vector<double> EndpointModel::slacks() const {
    std::vector<double> out;
    if (!report_) return out;
    for (const auto& e : report_->endpoints)
        if (listed(e)) out.push_back(e.slack);
    return out;
}

int EndpointModel::path_at(int row) const {
    if (row < 0 || row >= rowCount() || kind_ == Kind::unconstrained) return -1;
    return lookup_->path_of(report_->endpoints[static_cast<size_t>(rows_[static_cast<size_t>(row)])]);
}

const EndpointSlack* EndpointModel::endpoint_at(int row) const {
    if (row < 0 || row >= rowCount() || kind_ == Kind::unconstrained) return nullptr;
    return &report_->endpoints[static_cast<size_t>(rows_[static_cast<size_t>(row)])];
}

const UnconstrainedPath* EndpointModel::free_at(int row) const {
    if (row < 0 || row >= rowCount() || kind_ != Kind::unconstrained) return nullptr;
    return &free_path(static_cast<size_t>(rows_[static_cast<size_t>(row)]));
}

int EndpointModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(rows_.size());
}

int EndpointModel::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : columns;
}

QString EndpointModel::text(int row, int column) const {
    const auto at = static_cast<size_t>(rows_[static_cast<size_t>(row)]);
    if (kind_ == Kind::unconstrained) {
        const auto& u = free_path(at);
        const QString cells[] = {tr("none"), q(u.startpoint),    q(u.endpoint),
                                 tr("none"), in_ns(u.max_delay), tr("shortest %1 ns").arg(in_ns(u.min_delay))};
        return cells[column];
    }
    const auto& e = report_->endpoints[at];
    const int path_at = lookup_->path_of(e);
    const auto* path = path_at < 0 ? nullptr : &report_->paths[static_cast<size_t>(path_at)];
    switch (column) {
        case slack_column: return in_ns(e.slack);
        case from_column:
            if (path) return q(path->startpoint);
            return kind_ == Kind::others ? q(words_of_check(e.check)) : QString();
        case endpoint_column: return q(e.endpoint);
        case clocks_column:
            return e.launch_clock == e.capture_clock
                       ? q(e.launch_clock)
                       : QStringLiteral("%1 → %2").arg(q(e.launch_clock), q(e.capture_clock));
        case delay_column: return path ? in_ns(path->arrival - path->launch_edge) : QString();
        case mostly_column:
            if (!path) return {};
            return path->slack < 0 ? q(name_of(why_failing(*path, report_->clocks).cause)) : mostly(*path);
        default: return {};
    }
}

QVariant EndpointModel::data(const QModelIndex& at, int role) const {
    if (!at.isValid() || at.row() >= rowCount()) return {};
    switch (role) {
        case Qt::DisplayRole: return text(at.row(), at.column());
        case Qt::FontRole: return at.column() == mostly_column ? QVariant() : QVariant(mono(12));
        case Qt::TextAlignmentRole:
            if (at.column() == slack_column || at.column() == delay_column)
                return int(Qt::AlignRight | Qt::AlignVCenter);
            return {};
        case Qt::ForegroundRole:
            if (at.column() != slack_column || kind_ == Kind::unconstrained) return {};
            return report_->endpoints[static_cast<size_t>(rows_[static_cast<size_t>(at.row())])].slack < 0
                       ? QVariant(theme().stop)
                       : QVariant();
        case Qt::ToolTipRole: {
            const int path = path_at(at.row());
            if (at.column() != mostly_column || path < 0) return {};
            return q(why_failing(report_->paths[static_cast<size_t>(path)], report_->clocks).text);
        }
        default: return {};
    }
}

QVariant EndpointModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation != Qt::Horizontal) return {};
    if (role == Qt::TextAlignmentRole && (section == slack_column || section == delay_column))
        return int(Qt::AlignRight | Qt::AlignVCenter);
    if (role != Qt::DisplayRole) return {};
    const QString names[] = {tr("slack, ns"), tr("from"), tr("to"), tr("clocks"), tr("delay, ns"), tr("cause")};
    return section < columns ? names[section] : QString();
}

}  // namespace kp::app
