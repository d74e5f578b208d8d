// SPDX-License-Identifier: GPL-3.0-or-later
// Draws what the session has of part, board and design; figures are counted where they are drawn, since they are
// few. State: a code that is being typed.
#include "app/site/cards.hpp"

#include "app/shell/ground.hpp"
#include "app/paint/board_view.hpp"
#include "app/site/board_by_hand.hpp"
#include "app/site/site_station.hpp"
#include "app/theme/text.hpp"
#include "core/base/text.hpp"
#include "core/design/part_use.hpp"
#include "core/model/by_hand.hpp"
#include "core/inputs/new_project.hpp"

#include <QFontMetricsF>
#include <QKeyEvent>
#include <QMouseEvent>
#include <algorithm>
#include <cmath>
#include <map>

namespace kp::app {

void PartCard::show_typed(const std::string& code, const std::vector<CodeElement>& grammar,
                          const std::vector<std::string>& existing) {
    typed_ = code;
    decoded_ = decode_ordering_code(grammar, code);
    nearest_ = code.empty() || decoded_.complete ? "" : nearest_code(existing, code);
    if (decoded_.complete) typed_.clear();
    update();
}

void PartCard::draw_fields(QPainter& p, const std::vector<DecodedCode::Field>& fields) {
    const auto& t = theme();
    double x = 14;
    for (const auto& field : fields) {
        const double w = std::max(QFontMetricsF(mono(17)).horizontalAdvance(q(field.code)) + 16,
                                  QFontMetricsF(words(11)).horizontalAdvance(q(field.name)) + 2);
        draw_sheet(p, {x, 36, w, 32}, t.sheet, t.hairline);
        text(p, {x, 36, w, 32}, Qt::AlignCenter, q(field.code), mono(17), t.ink);
        text(p, {x, 70, w, 16}, Qt::AlignCenter, q(field.name), words(11), t.second);
        x += w + 6;
    }
}

/// Letter by letter: what was typed above, the nearest legal code below, a line between where they differ.
void PartCard::draw_near_miss(QPainter& p) {
    const auto& t = theme();
    take_ = {};
    if (nearest_.empty()) {
        paragraph(p, {14, 38}, width() - 28, q(decoded_.trouble), words(11.5), t.stop);
        return;
    }
    double x = 14;
    const double w = QFontMetricsF(mono(15)).horizontalAdvance('M') + 3;
    for (const auto& letter : compare_codes(typed_, nearest_)) {
        const auto shown = [](char c) { return c ? QString(QLatin1Char(c)) : QString(QChar(0x00B7)); };
        const bool same = letter.agrees();
        if (!same) p.fillRect(QRectF(x, 34, w, 44), t.wash_stop);
        text(p, {x, 34, w, 20}, Qt::AlignCenter, shown(letter.given), mono(15), same ? t.second : t.stop);
        text(p, {x, 56, w, 20}, Qt::AlignCenter, shown(letter.wanted), mono(15), same ? t.second : t.good);
        x += w;
    }
    take_ = QRectF(14, 82, width() - 28.0, 20);
    text(p, take_, Qt::AlignVCenter, tr("Take %1").arg(q(nearest_)), words(12), t.select, true);
}

void PartCard::mousePressEvent(QMouseEvent* event) {
    if (!nearest_.empty() && take_.contains(event->position())) emit code_wanted(q(nearest_));
}

void PartCard::draw(QPainter& p) {
    const auto& t = theme();
    draw_sheet(p, rect(), t.bright, t.hairline);
    text(p, {14, 8, 116, 20}, Qt::AlignVCenter, tr("Part"), words(15, true), t.ink);
    if (!desk_.has_session()) return;
    const auto& s = desk_.session();
    if (!typed_.empty())
        draw_near_miss(p);
    else
        draw_fields(p, s.world().code.fields);
    if (s.project().part.empty()) {
        if (typed_.empty())
            paragraph(p, {14, 40}, width() - 28,
                      tr("No part yet. Type the code that stands on the chip, or press Ctrl+K and pick one."), words(),
                      t.second);
        return;
    }
    static const std::map<Resource, QString> names{{Resource::logic_cells, tr("logic cells")},
                                                   {Resource::registers, tr("registers")},
                                                   {Resource::user_pins, tr("user pins")},
                                                   {Resource::clock_networks, tr("clock networks")},
                                                   {Resource::memory_bits, tr("memory, kbit")},
                                                   {Resource::plls, tr("PLLs")},
                                                   {Resource::lanes, tr("lanes")}};
    double y = 130;
    const double right = width() - 14;
    text(p, {right - 150, y - 18, 76, 16}, Qt::AlignRight | Qt::AlignVCenter, tr("has"), words(11), t.second);
    text(p, {right - 70, y - 18, 70, 16}, Qt::AlignRight | Qt::AlignVCenter, tr("used"), words(11), t.second);
    for (const auto& row : use_of(s.world().netlist, s.world().library, s.world().part)) {
        if (row.has == 0 && row.used.value_or(0) == 0) continue;
        const long long unit = row.resource == Resource::memory_bits ? 1024 : 1, used = row.used.value_or(0);
        const bool over = used > row.has;
        text(p, {14, y, 130, 18}, Qt::AlignVCenter, names.at(row.resource), words(), t.ink);
        text(p, {right - 150, y, 76, 18}, Qt::AlignRight | Qt::AlignVCenter, QString::number(row.has / unit), mono(),
             t.ink);
        if (row.used)
            text(p, {right - 70, y, 70, 18}, Qt::AlignRight | Qt::AlignVCenter, QString::number(used / unit), mono(),
                 over ? t.stop : t.ink);
        else
            text(p, {right - 70, y, 70, 18}, Qt::AlignRight | Qt::AlignVCenter, tr("unknown"), words(11.5), t.second);
        p.fillRect(QRectF(14, y + 20, right - 14, 4), t.paper);
        const double share = row.has > 0 ? std::min(1.0, static_cast<double>(used) / static_cast<double>(row.has)) : 0;
        if (used > 0) p.fillRect(QRectF(14, y + 20, std::max(2.0, (right - 14) * share), 4), over ? t.stop : t.cell);
        y += 33;
    }
    char id[16];
    std::snprintf(id, sizeof id, "0x%08X", s.world().part.idcode);
    text(p, {14, y + 2, right - 14, 18}, Qt::AlignVCenter, tr("IDCODE %1 · an invented part").arg(QLatin1String(id)),
         words(11.5), t.second, true);
}

void BoardCard::draw(QPainter& p) {
    const auto& t = theme();
    draw_sheet(p, rect(), t.bright, t.hairline);
    if (!desk_.has_session()) {
        text(p, {14, 8, width() - 28.0, 20}, Qt::AlignVCenter, tr("No project is open"), words(15, true), t.ink);
        paragraph(p, {14, 40}, width() - 28,
                  tr("Ctrl+N makes one, from an ordering code, a board or some HDL. Ctrl+O opens one; "
                     "demo/vane/vane.kpeg is a small demo, demo/profiler/profiler.kpeg a large one."),
                  words(), t.second);
        return;
    }
    const auto& b = desk_.session().world().board;
    const double w = text_at(p, {14, 24}, q(b.name), words(15, true), t.ink);
    text_at(p, {14 + w + 12, 24},
            tr("from above, %1 mm × %2 mm · revision %3").arg(b.width_mm).arg(b.height_mm).arg(q(b.revision)),
            words(11.5), t.second);
    const BoardMap map(b, area());
    p.setPen(QPen(t.second, 1));
    p.setBrush(t.board);
    p.drawRoundedRect(map.area, 8, 8);
    for (const auto& part : b.parts) {
        const auto r = place(part);
        const bool chosen = desk_.selection() == Selection{QStringLiteral("part"), q(part.ref)};
        draw_sheet(p, r, part.ref == b.fpga || chosen ? t.select_fill : t.bright, chosen ? t.select : t.second);
        draw_label(p, r, q(part.label.empty() ? part.name : part.label), q(part.ref));
    }
}

/// Label and ref inside a part's outline: as large as fits, on two lines where one is too short, upright in a tall one.
void BoardCard::draw_label(QPainter& p, const QRectF& r, const QString& label, const QString& ref) {
    const auto& t = theme();
    const auto width_of = [](const QString& s, double px) { return QFontMetricsF(words(px)).horizontalAdvance(s); };
    const double room = r.width() - 4;
    if (r.height() < 27)
        return text(p, r.adjusted(2, 0, -2, 0), Qt::AlignCenter, width_of(label, 10) <= room ? label : ref, words(10),
                    t.ink, true);
    for (const double px : {12.0, 11.0, 10.0})
        if (width_of(label, px) <= room) {
            text(p, QRectF(r.left(), r.center().y() - 15, r.width(), 15), Qt::AlignCenter, label, words(px), t.ink);
            return text(p, QRectF(r.left(), r.center().y() + 1, r.width(), 14), Qt::AlignCenter, ref, words(11),
                        t.second, true);
        }
    if (r.height() > 1.3 * r.width() && width_of(label + QStringLiteral("  ") + ref, 11) + 4 <= r.height()) {
        p.save();
        p.translate(r.center());
        p.rotate(-90);
        text(p, QRectF(-r.height() / 2, -9, r.height(), 18), Qt::AlignCenter, label + QStringLiteral("  ") + ref,
             words(11), t.ink);
        p.restore();
        return;
    }
    const auto gap = label.lastIndexOf(' ', -1);
    if (gap > 0 && r.height() >= 34 &&
        std::max(width_of(label.left(gap), 10), width_of(label.mid(gap + 1), 10)) <= room) {
        text(p, QRectF(r.left(), r.center().y() - 18, r.width(), 12), Qt::AlignCenter, label.left(gap), words(10),
             t.ink);
        text(p, QRectF(r.left(), r.center().y() - 6, r.width(), 12), Qt::AlignCenter, label.mid(gap + 1), words(10),
             t.ink);
        return text(p, QRectF(r.left(), r.center().y() + 6, r.width(), 12), Qt::AlignCenter, ref, words(10), t.second,
                    true);
    }
    text(p, QRectF(r.left() + 2, r.center().y() - 15, room, 15), Qt::AlignCenter, label, words(10), t.ink, true);
    text(p, QRectF(r.left(), r.center().y() + 1, r.width(), 14), Qt::AlignCenter, ref, words(11), t.second, true);
}

QPointF BoardCard::held_at(const BoardPart& part) const {
    const auto& s = desk_.session();
    const BoardMap map(s.world().board, area());
    auto [x, y] = place_of(part, s.project());
    if (part.ref == held_) {
        x += by_.x() / map.scale;
        y += by_.y() / map.scale;
    }
    const auto& b = s.world().board;
    return {std::clamp(x, 0.0, std::max(0.0, b.width_mm - part.w)),
            std::clamp(y, 0.0, std::max(0.0, b.height_mm - part.h))};
}

QRectF BoardCard::place(const BoardPart& part) const {
    const BoardMap map(desk_.session().world().board, area());
    auto as_made = map.rect(part);
    // A board may have parts that reach over its edge; only what the hand put somewhere is kept inside.
    if (part.ref != held_ && !desk_.session().project().part_places.contains(part.ref)) return as_made;
    const auto at = held_at(part);
    as_made.moveTo(map.area.left() + at.x() * map.scale, map.area.top() + at.y() * map.scale);
    return as_made;
}

void BoardCard::mousePressEvent(QMouseEvent* event) {
    if (!desk_.has_session()) return;
    setFocus();
    from_ = event->position();
    by_ = {};
    held_.clear();
    for (const auto& part : desk_.session().world().board.parts)
        if (place(part).contains(event->position())) {
            desk_.select({QStringLiteral("part"), q(part.ref)});
            held_ = part.ref;
        }
    update();
}

void BoardCard::mouseMoveEvent(QMouseEvent* event) {
    constexpr double wanted = 4;  // px; less is a click with an unsteady hand
    const QPointF by = event->position() - from_;
    if (held_.empty() || (by_.isNull() && std::hypot(by.x(), by.y()) < wanted)) return;
    by_ = by;
    update();
}

void BoardCard::mouseReleaseEvent(QMouseEvent*) {
    if (!held_.empty() && !by_.isNull() && desk_.has_session())
        for (const auto& part : desk_.session().world().board.parts)
            if (part.ref == held_) {
                const auto at = held_at(part);
                held_.clear();
                BoardByHand::move_part(desk_, part.ref, at.x(), at.y());
                break;
            }
    held_.clear();
    by_ = {};
    update();
}

void BoardCard::keyPressEvent(QKeyEvent* event) {
    const auto& selected = desk_.selection();
    if (!desk_.has_session() || selected.kind != QLatin1String("part") || !(event->modifiers() & Qt::AltModifier))
        return Canvas::keyPressEvent(event);
    const double dx = event->key() == Qt::Key_Left ? -1 : event->key() == Qt::Key_Right ? 1 : 0;
    const double dy = event->key() == Qt::Key_Up ? -1 : event->key() == Qt::Key_Down ? 1 : 0;
    const bool back = event->key() == Qt::Key_Home;
    if (dx == 0 && dy == 0 && !back) return Canvas::keyPressEvent(event);
    for (const auto& part : desk_.session().world().board.parts)
        if (q(part.ref) == selected.name) {
            const auto [x, y] = place_of(part, desk_.session().project());
            BoardByHand::move_part(desk_, part.ref, x + dx, y + dy, back);
            break;
        }
    update();
}

void AgreementCard::draw(QPainter& p) {
    const auto& t = theme();
    draw_sheet(p, rect(), t.bright, t.hairline);
    text(p, {14, 8, width() - 28.0, 20}, Qt::AlignVCenter, tr("Mismatches"), words(15, true), t.ink);
    if (!desk_.has_session()) return;
    double y = 38;
    const auto list = disagreements(desk_.session());
    for (const auto& d : list) {
        if (y > height() - 60) {
            text(p, {34, y, width() - 48.0, 18}, Qt::AlignVCenter, tr("and more in Findings"), words(11.5), t.second);
            return;
        }
        draw_severity(p, {20, y + 9}, d.severity);
        y += paragraph(p, {34, y}, width() - 48, d.what, words(), t.ink) + 1;
        if (!d.more.isEmpty()) y += paragraph(p, {34, y}, width() - 48, d.more, words(11.5), t.second);
        y += 10;
    }
    if (const auto missing = missing_ground(desk_.session()); !missing.isEmpty()) {
        paragraph(p, {14, height() - 30.0}, width() - 28, tr("Not compared: %1 yet.").arg(missing), words(), t.second);
        return;
    }
    paragraph(
        p, {14, height() - 30.0}, width() - 28,
        list.empty() ? tr("Part, board and design agree.") : tr("Part, board and design agree in everything else."),
        words(), t.good);
}

}  // namespace kp::app
