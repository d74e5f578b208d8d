// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/site/cards.hpp"

#include "app/paint/board_view.hpp"
#include "app/site/site_station.hpp"
#include "core/base/text.hpp"

#include <QFontMetricsF>
#include <QMouseEvent>
#include <cmath>

namespace kp::app {

namespace {
QString q(const std::string& s) { return QString::fromStdString(s); }
}  // namespace

void PartCard::draw(QPainter& p) {
    const auto& t = theme();
    draw_sheet(p, rect(), t.bright, t.hairline);
    text(p, {14, 8, 120, 20}, Qt::AlignVCenter, tr("Part"), words(15, true), t.ink);
    if (!desk_.has_session()) return;
    const auto& s = desk_.session();
    const auto& code = s.world().code;
    double x = 14;
    for (const auto& field : code.fields) {
        const double w = std::max(QFontMetricsF(mono(17)).horizontalAdvance(q(field.code)) + 16, QFontMetricsF(words(11)).horizontalAdvance(q(field.name)) + 2);
        draw_sheet(p, {x, 36, w, 32}, t.sheet, t.hairline);
        text(p, {x, 36, w, 32}, Qt::AlignCenter, q(field.code), mono(17), t.ink);
        text(p, {x, 70, w, 16}, Qt::AlignCenter, q(field.name), words(11), t.second);
        x += w + 6;
    }
    const auto& r = s.world().part.resources;
    int registers = 0, cells = 0, pegged = 0;
    const auto& n = s.world().netlist;
    for (std::uint32_t c = 0; c < n.cells.size(); ++c) {
        const auto* cell = s.world().library.cell(n.type_of(c));
        if (cell && cell->flip_flop) ++registers;
        if (cell && !cell->truth_table_parameter.empty()) ++cells;
    }
    pegged = static_cast<int>(n.ports.size());
    struct Row {
        QString name;
        long long has, used;
    };
    const Row rows[] = {{tr("logic cells"), r.logic_cells, cells}, {tr("registers"), r.registers, registers}, {tr("user pins"), s.world().part.usable_pins(), pegged}, {tr("clock networks"), r.clock_networks, static_cast<long long>(s.analysis().constraints.clocks.size())},
                        {tr("memory, kbit"), r.memory_bits / 1024, 0}, {tr("PLLs"), r.plls, 0}};
    double y = 130;
    const double right = width() - 14;
    text(p, {right - 150, y - 18, 76, 16}, Qt::AlignRight | Qt::AlignVCenter, tr("has"), words(11), t.second);
    text(p, {right - 70, y - 18, 70, 16}, Qt::AlignRight | Qt::AlignVCenter, tr("used"), words(11), t.second);
    for (const auto& row : rows) {
        const bool over = row.used > row.has;
        text(p, {14, y, 130, 18}, Qt::AlignVCenter, row.name, words(), t.ink);
        text(p, {right - 150, y, 76, 18}, Qt::AlignRight | Qt::AlignVCenter, QString::number(row.has), mono(), t.ink);
        text(p, {right - 70, y, 70, 18}, Qt::AlignRight | Qt::AlignVCenter, QString::number(row.used), mono(), over ? t.stop : t.ink);
        p.fillRect(QRectF(14, y + 20, right - 14, 4), t.paper);
        const double share = row.has > 0 ? std::min(1.0, static_cast<double>(row.used) / static_cast<double>(row.has)) : 0;
        if (row.used > 0) p.fillRect(QRectF(14, y + 20, std::max(2.0, (right - 14) * share), 4), over ? t.stop : t.cell);
        y += 33;
    }
    char id[16];
    std::snprintf(id, sizeof id, "0x%08X", s.world().part.idcode);
    text(p, {14, y + 2, right - 14, 18}, Qt::AlignVCenter, tr("IDCODE %1 · invented, like all parts here").arg(QLatin1String(id)), words(11.5), t.second, true);
}

void BoardCard::draw(QPainter& p) {
    const auto& t = theme();
    draw_sheet(p, rect(), t.bright, t.hairline);
    if (!desk_.has_session()) {
        text(p, {14, 8, width() - 28.0, 20}, Qt::AlignVCenter, tr("No project is open"), words(15, true), t.ink);
        paragraph(p, {14, 40}, width() - 28, tr("Ctrl+O opens a project. The demo is demo/vane/vane.kpeg; ./scripts/demo starts with it."), words(), t.second);
        return;
    }
    const auto& b = desk_.session().world().board;
    const double w = text_at(p, {14, 24}, q(b.name), words(15, true), t.ink);
    text_at(p, {14 + w + 12, 24}, tr("from above, %1 mm × %2 mm · revision %3").arg(b.width_mm).arg(b.height_mm).arg(q(b.revision)), words(11.5), t.second);
    const BoardMap map(b, area());
    p.setPen(QPen(t.second, 1));
    p.setBrush(t.board);
    p.drawRoundedRect(map.area, 8, 8);
    for (const auto& part : b.parts) {
        const auto r = map.rect(part);
        const bool chosen = desk_.selection() == Selection{QStringLiteral("part"), q(part.ref)};
        draw_sheet(p, r, part.ref == b.fpga || chosen ? t.select_fill : t.bright, chosen ? t.select : t.second);
        text(p, QRectF(r.left(), r.center().y() - 15, r.width(), 15), Qt::AlignCenter, q(part.label), words(12), t.ink, true);
        text(p, QRectF(r.left(), r.center().y() + 1, r.width(), 14), Qt::AlignCenter, q(part.ref), words(11), t.second, true);
    }
}

void BoardCard::mousePressEvent(QMouseEvent* event) {
    if (!desk_.has_session()) return;
    const auto& b = desk_.session().world().board;
    const BoardMap map(b, area());
    for (const auto& part : b.parts)
        if (map.rect(part).contains(event->position())) desk_.select({QStringLiteral("part"), q(part.ref)});
    update();
}

void AgreementCard::draw(QPainter& p) {
    const auto& t = theme();
    draw_sheet(p, rect(), t.bright, t.hairline);
    text(p, {14, 8, width() - 28.0, 20}, Qt::AlignVCenter, tr("What does not agree"), words(15, true), t.ink);
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
    paragraph(p, {14, height() - 30.0}, width() - 28, list.empty() ? tr("Part, board and design agree.") : tr("Part, board and design agree in everything else."), words(), t.good);
}

void FilesCard::draw(QPainter& p) {
    const auto& t = theme();
    draw_sheet(p, rect(), t.bright, t.hairline);
    text(p, {14, 8, width() - 28.0, 20}, Qt::AlignVCenter, tr("Files"), words(15, true), t.ink);
    if (!desk_.has_session()) return;
    const auto& s = desk_.session();
    double y = 36;
    const double c1 = 14, c2 = c1 + 166, c3 = c2 + 88;
    const auto row = [&](const QString& name, const QString& role, const QString& state, const QColor& color) {
        if (y > height() - 22) return;
        text(p, {c1, y, c2 - c1 - 6, 18}, Qt::AlignVCenter, name, mono(12), t.ink, true);
        text(p, {c2, y, c3 - c2 - 4, 18}, Qt::AlignVCenter, role, words(12), t.second);
        text(p, {c3, y, width() - c3 - 12.0, 18}, Qt::AlignVCenter, state, words(12), color, true);
        y += 23;
    };
    for (const auto& f : s.world().files) {
        const bool changed = real_disk().stamp(f.full) != f.stamp;
        row(q(file_name_of(f.path)), q(f.role), changed ? tr("changed on disk: open again to read it") : f.with_program ? tr("ships with the program") : tr("beside the project"), changed ? t.caution : t.second);
    }
    for (const auto& f : s.project().constraints) row(q(f.path), tr("constraints"), f.target ? tr("new commands go here") : f.analysis ? tr("in use") : tr("off"), t.second);
}

}  // namespace kp::app
