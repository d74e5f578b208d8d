// SPDX-License-Identifier: GPL-3.0-or-later
// Lanes are columns, equally wide; everything else lies above or below the lanes it reaches.
#include "app/pegs/lanes_page.hpp"

#include "app/theme/text.hpp"

#include "core/base/text.hpp"

#include <QMouseEvent>
#include <algorithm>

namespace kp::app {

namespace {

constexpr double lanes_left = 92, engine_top = 40, engine_high = 24, lane_top = 190, lane_high = 92;

/// First and last place of lanes in a block; -1 when one is none of it.
std::pair<int, int> span_of(const LaneBlock& block, const std::vector<std::string>& lanes) {
    int first = -1, last = -1;
    for (size_t l = 0; l < block.lanes.size(); ++l)
        if (std::find(lanes.begin(), lanes.end(), block.lanes[l].name) != lanes.end()) {
            if (first < 0) first = static_cast<int>(l);
            last = static_cast<int>(l);
        }
    return {first, last};
}

}  // namespace

void LaneChart::show_block(const LaneBlock* block, std::vector<LaneLink> links, std::optional<LaneAnswer> answer,
                           std::vector<LaneSpot> spots, const QString& selected) {
    block_ = block;
    links_ = std::move(links);
    answer_ = std::move(answer);
    spots_ = std::move(spots);
    selected_ = selected;
    update();
}

double LaneChart::x_of(size_t lane) const {
    return lanes_left + (width() - lanes_left - 14) * static_cast<double>(lane) /
                            static_cast<double>(std::max<size_t>(1, block_->lanes.size()));
}

void LaneChart::draw(QPainter& p) {
    const auto& t = theme();
    draw_sheet(p, rect(), t.bright, t.hairline);
    if (!block_ || block_->lanes.empty()) {
        text(p, {14, 8, width() - 28.0, 20}, Qt::AlignVCenter, tr("Nothing to draw: the part has no lanes."), words(),
             t.second);
        return;
    }
    text(
        p, {14, 8, width() - 28.0, 18}, Qt::AlignVCenter,
        tr("%1: engines above, lanes with their pins, clocks and crossings into the fabric below").arg(q(block_->name)),
        words(11.5), t.second, true);
    draw_engines(p);
    draw_lanes(p);
    draw_clocks(p);
    draw_crossings(p);
    draw_links(p);
}

/// A bar over the lanes an engine reaches; where it reaches none between two it is thin.
void LaneChart::draw_engines(QPainter& p) {
    const auto& t = theme();
    double y = engine_top;
    for (const auto& e : block_->engines) {
        text(p, {8, y, lanes_left - 14, engine_high}, Qt::AlignVCenter | Qt::AlignRight, q(e.name), words(12, true),
             t.ink, true);
        const auto [first, last] = span_of(*block_, e.lanes);
        if (first >= 0) {
            p.setPen(QPen(t.second, 1));
            p.drawLine(QPointF(x_of(static_cast<size_t>(first)), y + engine_high / 2),
                       QPointF(x_of(static_cast<size_t>(last) + 1) - 4, y + engine_high / 2));
        }
        for (size_t l = 0; l < block_->lanes.size(); ++l)
            if (std::find(e.lanes.begin(), e.lanes.end(), block_->lanes[l].name) != e.lanes.end()) {
                p.setPen(QPen(t.hairline, 1));
                p.setBrush(t.sheet);
                p.drawRect(QRectF(x_of(l), y + 3, x_of(l + 1) - x_of(l) - 4, engine_high - 6));
            }
        y += engine_high + 6;
    }
}

void LaneChart::draw_lanes(QPainter& p) {
    const auto& t = theme();
    text(p, {8, lane_top, lanes_left - 14, 18}, Qt::AlignRight | Qt::AlignVCenter, tr("lanes"), words(12, true), t.ink);
    for (size_t l = 0; l < block_->lanes.size(); ++l) {
        const auto& lane = block_->lanes[l];
        const QRectF box(x_of(l), lane_top, x_of(l + 1) - x_of(l) - 4, lane_high);
        p.setPen(QPen(t.hairline, 1));
        p.setBrush(t.sheet);
        p.drawRect(box);
        text(p, {box.left() + 3, box.top() + 2, box.width() - 4, 16}, Qt::AlignVCenter, q(lane.name), words(11, true),
             t.ink, true);
        text(p, {box.left() + 3, box.top() + 20, box.width() - 4, 15}, Qt::AlignVCenter,
             tr("tx %1 %2").arg(q(lane.tx[0]), q(lane.tx[1])), mono(10), t.second, true);
        text(p, {box.left() + 3, box.top() + 36, box.width() - 4, 15}, Qt::AlignVCenter,
             tr("rx %1 %2").arg(q(lane.rx[0]), q(lane.rx[1])), mono(10), t.second, true);
        text(p, {box.left() + 3, box.top() + 54, box.width() - 4, 15}, Qt::AlignVCenter,
             tr("%1 to %2 G").arg(lane.gbps[0]).arg(lane.gbps[1]), words(10), t.second, true);
    }
}

void LaneChart::draw_clocks(QPainter& p) {
    const auto& t = theme();
    double y = lane_top + lane_high + 18;
    for (const auto& c : block_->clocks) {
        text(p, {8, y - 8, lanes_left - 14, 16}, Qt::AlignRight | Qt::AlignVCenter, q(c.name), words(11), t.second,
             true);
        p.setPen(QPen(t.clock, 2));
        bool any = false;
        double from = 0, to = 0;
        for (size_t l = 0; l < block_->lanes.size(); ++l)
            if (std::find(block_->lanes[l].clocks.begin(), block_->lanes[l].clocks.end(), c.name) !=
                block_->lanes[l].clocks.end()) {
                const double x = (x_of(l) + x_of(l + 1)) / 2 - 2;
                if (!any) from = x;
                to = x;
                any = true;
                p.drawLine(QPointF(x, y - 5), QPointF(x, y + 5));
            }
        if (any) p.drawLine(QPointF(from, y), QPointF(to, y));
        y += 20;
    }
}

void LaneChart::draw_crossings(QPainter& p) {
    const auto& t = theme();
    const double y = lane_top + lane_high + 26 + 20.0 * static_cast<double>(block_->clocks.size());
    text(p, {8, y, lanes_left - 14, 18}, Qt::AlignRight | Qt::AlignVCenter, tr("crossings"), words(11), t.second);
    if (block_->crossings <= 0) return;
    const double wide = (width() - lanes_left - 14) / block_->crossings;
    for (int c = 0; c < block_->crossings; ++c) {
        const LanePlace* by = nullptr;
        if (answer_)
            for (const auto& place : answer_->placed)
                if (std::find(place.crossings.begin(), place.crossings.end(), c) != place.crossings.end()) by = &place;
        const QRectF box(lanes_left + wide * c, y, wide - 3, 22);
        p.setPen(QPen(t.hairline, 1));
        p.setBrush(by ? t.select_fill : t.sheet);
        p.drawRect(box);
        text(p, box, Qt::AlignCenter, by ? q(by->link) : QString::number(c), words(10), by ? t.ink : t.second, true);
    }
}

/// One piece from its engine down over its lanes. Solid where it is pegged, an outline where it is loose, dashed where
/// it is only proposed; legal spots of the selected one as small wedges.
void LaneChart::draw_links(QPainter& p) {
    const auto& t = theme();
    for (const auto& i : links_) {
        std::vector<std::string> at = i.at;
        const LanePlace* placed = nullptr;
        if (answer_)
            for (const auto& place : answer_->placed)
                if (place.link == i.name) placed = &place;
        const bool proposed = placed && placed->lanes != at;
        if (placed) at = placed->lanes;
        const auto [first, last] = span_of(*block_, at);
        if (first < 0 || (i.state == LaneLink::State::off && !placed)) continue;
        const bool chosen = q(i.name) == selected_;
        const QColor color = chosen ? t.select : t.good;
        const QRectF box(x_of(static_cast<size_t>(first)) + 3, lane_top + 70,
                         x_of(static_cast<size_t>(last) + 1) - x_of(static_cast<size_t>(first)) - 10, 18);
        p.setPen(QPen(color, 1.6, proposed ? Qt::DashLine : Qt::SolidLine));
        const bool solid = i.state == LaneLink::State::pegged && !proposed;
        p.setBrush(solid ? QBrush(color) : QBrush(t.bright));
        p.drawRect(box);
        item(box, i.name);
        text(p, box.adjusted(4, 0, -2, 0), Qt::AlignVCenter, q(i.name), words(11, true), solid ? t.bright : t.ink,
             true);
        if (!placed) continue;
        for (size_t e = 0; e < block_->engines.size(); ++e)
            if (block_->engines[e].name == placed->engine) {
                const double y = engine_top + (engine_high + 6) * static_cast<double>(e);
                const QRectF top(box.left(), y + 3, box.width(), engine_high - 6);
                p.setBrush(t.select_fill);
                p.drawRect(top);
                text(p, top.adjusted(4, 0, -2, 0), Qt::AlignVCenter, q(i.name), words(11), t.ink, true);
                p.drawLine(QPointF(box.center().x(), top.bottom()), QPointF(box.center().x(), lane_top));
            }
    }
    std::vector<int> marked;
    for (const auto& s : spots_) {
        const int first = span_of(*block_, s.lanes).first;
        if (first < 0 || std::find(marked.begin(), marked.end(), first) != marked.end()) continue;
        marked.push_back(first);
        const double x = x_of(static_cast<size_t>(first)) + 8;
        draw_peg(p, {x, lane_top - 10}, PegMark::loose, t.select);
    }
}

void LaneChart::mousePressEvent(QMouseEvent* event) {
    if (!block_) return;
    for (size_t l = 0; l < block_->lanes.size(); ++l) {
        if (event->position().x() < x_of(l) || event->position().x() >= x_of(l + 1)) continue;
        const double y = event->position().y();
        if (y > lane_top + 18 && y < lane_top + 52)
            emit pin_chosen(q(y < lane_top + 35 ? block_->lanes[l].tx[0] : block_->lanes[l].rx[0]));
        if (y < lane_top - 24 || y > lane_top + 18) return;
        for (const auto& s : spots_)
            if (span_of(*block_, s.lanes).first == static_cast<int>(l)) return emit spot_chosen(static_cast<int>(l));
        return;
    }
}

}  // namespace kp::app
