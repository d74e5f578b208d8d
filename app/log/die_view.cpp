// SPDX-License-Identifier: GPL-3.0-or-later
// A site is a square: look-ups to the left, registers to the right, each bar as high as the site is full of them.
#include "app/log/die_view.hpp"

#include "app/theme/text.hpp"

#include "core/base/text.hpp"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QWheelEvent>
#include <algorithm>
#include <functional>

namespace kp::app {

namespace {

/// The instance a cell lies in, as the mapper writes names; the top has none.
std::string module_of(const std::string& name) {
    const auto cut = name.rfind("__");
    return cut == std::string::npos ? std::string() : name.substr(0, cut);
}

}  // namespace

DieView::DieView(QWidget* parent) : Canvas(parent) {
    setObjectName("build.die");
    setAccessibleName(tr("The fabric with the cells of the build"));
    setFocusPolicy(Qt::StrongFocus);
    setMinimumSize(320, 240);
}

void DieView::show_build(std::shared_ptr<const build_flow::BuildAnswer> built) {
    built_ = std::move(built);
    sites_.clear();
    slack_of_.clear();
    kind_.clear();
    path_ = selected_ = -1;
    if (built_ && built_->world) {
        const auto& n = built_->world->netlist;
        for (std::uint32_t c = 0; c < built_->spots.size(); ++c) {
            kind_.push_back(fabric::kind_of(*built_->world->library.cell(n.type_of(c))));
            sites_[{built_->spots[c].column, built_->spots[c].row}].cells.push_back(c);
        }
        if (built_->timing)
            for (const auto& e : built_->timing->endpoints) {
                if (e.check != "setup") continue;
                const auto cell = e.endpoint.substr(0, e.endpoint.rfind('/'));
                const auto [at, fresh] = slack_of_.try_emplace(cell, e.slack);
                if (!fresh) at->second = std::min(at->second, e.slack);
            }
    }
    update();
}

void DieView::shade_by(Shade shade) {
    shade_ = shade;
    update();
}

void DieView::show_path(int number) {
    path_ = number;
    update();
}

void DieView::select(int cell) {
    selected_ = cell;
    update();
}

void DieView::measure() {
    const auto& f = built_->world->part.fabric;
    const QRectF room(12, 12, width() - 24.0, height() - 50.0);
    step_ = zoom_ * std::min(room.width() / (f.columns + 2), room.height() / (f.rows + 2));
    left_ = room.center().x() - step_ * f.columns * middle_.x();
    top_ = room.center().y() - step_ * f.rows * middle_.y();
}

/// Row 0 lies at the bottom, as on the package seen from above.
QRectF DieView::rect_of(int column, int row) const {
    const auto rows = built_->world->part.fabric.rows;
    return {left_ + step_ * column, top_ + step_ * (rows - 1 - row), step_, step_};
}

QColor DieView::colour_of(std::uint32_t cell) const {
    const auto& t = theme();
    if (cell >= kind_.size()) return t.second;
    if (shade_ == Shade::slack) {
        const auto at = slack_of_.find(built_->world->netlist.cell_names[cell]);
        if (at == slack_of_.end()) return t.hairline;
        return at->second < 0 ? t.stop : at->second < 0.5 ? t.caution : t.good;
    }
    if (shade_ == Shade::module) {
        const auto module = module_of(built_->world->netlist.cell_names[cell]);
        return module.empty() ? t.second : t.banks[std::hash<std::string>()(module) % 8];
    }
    switch (kind_[cell]) {
        case fabric::CellKind::registers: return t.banks[5];
        case fabric::CellKind::pad: return t.pad;
        case fabric::CellKind::memory: return t.banks[2];
        case fabric::CellKind::root:
        case fabric::CellKind::pll: return t.banks[4];
        default: return t.cell;
    }
}

void DieView::draw_site(QPainter& p, const std::pair<int, int>& at, const Site& site) {
    const auto r = rect_of(at.first, at.second);
    const auto each = std::max(1, built_->world->part.fabric.cells_per_site);
    std::vector<std::uint32_t> left, right;
    for (const auto c : site.cells) (kind_[c] == fabric::CellKind::registers ? right : left).push_back(c);
    const auto bar = [&](const std::vector<std::uint32_t>& cells, double x) {
        double y = r.bottom();
        for (const auto c : cells) {
            const double h = r.height() / each;
            y -= h;
            p.fillRect(QRectF(x, y, r.width() * 0.46, std::max(0.6, h * 0.9)), colour_of(c));
        }
    };
    bar(left, r.left() + r.width() * 0.03);
    bar(right, r.left() + r.width() * 0.52);
    if (selected_ >= 0 &&
        std::find(site.cells.begin(), site.cells.end(), static_cast<std::uint32_t>(selected_)) != site.cells.end()) {
        p.setPen(QPen(theme().select, 2));
        p.setBrush(Qt::NoBrush);
        p.drawRect(r.adjusted(-1, -1, 1, 1));
    }
}

void DieView::draw_path(QPainter& p) {
    if (path_ < 0 || !built_->timing || static_cast<size_t>(path_) >= built_->timing->paths.size()) return;
    const NetlistIndex index(built_->world->netlist);
    const auto& path = built_->timing->paths[static_cast<size_t>(path_)];
    QPolygonF line;
    for (const auto& point : path.points) {
        const auto cell = index.cell(point.pin.substr(0, point.pin.rfind('/')));
        if (cell == no_id || cell >= built_->spots.size()) continue;
        line << rect_of(built_->spots[cell].column, built_->spots[cell].row).center();
    }
    p.setPen(QPen(path.slack < 0 ? theme().stop : theme().ink, 1.6));
    p.setBrush(Qt::NoBrush);
    p.drawPolyline(line);
    for (const auto& point : line) p.drawRect(QRectF(point.x() - 2.5, point.y() - 2.5, 5, 5));
}

void DieView::draw_legend(QPainter& p) {
    const auto& t = theme();
    std::vector<std::pair<QColor, QString>> rows;
    if (shade_ == Shade::slack)
        rows = {{t.stop, tr("fails")},
                {t.caution, tr("below 0.5 ns")},
                {t.good, tr("met")},
                {t.hairline, tr("no endpoint")}};
    else if (shade_ == Shade::module)
        rows = {{t.second, tr("top")}, {t.banks[0], tr("each module its own")}};
    else
        rows = {{t.cell, tr("look-up, carry")},
                {t.banks[5], tr("register")},
                {t.pad, tr("pad")},
                {t.banks[2], tr("memory")},
                {t.banks[4], tr("clock root, PLL")}};
    double x = 16;
    const double y = height() - 26.0;
    for (const auto& [colour, name] : rows) {
        p.fillRect(QRectF(x, y + 3, 11, 11), colour);
        x += 16 + text_at(p, {x + 16, y + 13}, name, words(11.5), t.second) + 14;
    }
}

void DieView::draw(QPainter& p) {
    const auto& t = theme();
    draw_sheet(p, rect(), t.bright, t.hairline);
    if (!built_ || !built_->world || built_->spots.empty()) {
        paragraph(p, {20, 18}, width() - 40.0,
                  tr("Nothing is placed yet. Build the design: its cells then lie here on the fabric of the part."),
                  words(), t.second);
        return;
    }
    measure();
    const auto& f = built_->world->part.fabric;
    p.save();
    p.setClipRect(QRectF(6, 6, width() - 12.0, height() - 38.0));
    p.fillRect(QRectF(left_, top_, step_ * f.columns, step_ * f.rows), t.sheet);
    for (const auto& special : f.special)
        for (const int c : special.columns)
            p.fillRect(QRectF(left_ + step_ * c, top_, step_, step_ * f.rows), t.select_fill);
    p.setPen(QPen(t.hairline, 1));
    p.setBrush(Qt::NoBrush);
    for (const auto& r : built_->world->part.regions)
        p.drawRect(QRectF(rect_of(r.left, r.top).topLeft(), rect_of(r.right, r.bottom).bottomRight()));
    for (const auto& [at, site] : sites_) draw_site(p, at, site);
    draw_path(p);
    p.restore();
    draw_legend(p);
}

void DieView::mousePressEvent(QMouseEvent* event) {
    if (!built_ || built_->spots.empty()) return;
    measure();
    const auto where = event->position();
    for (const auto& [at, site] : sites_) {
        const auto r = rect_of(at.first, at.second);
        if (!r.contains(where)) continue;
        const bool right = where.x() > r.center().x();
        std::vector<std::uint32_t> half;
        for (const auto c : site.cells)
            if ((kind_[c] == fabric::CellKind::registers) == right) half.push_back(c);
        if (half.empty()) half = site.cells;
        // Pressed again: the next one of the site.
        const auto now = std::find(half.begin(), half.end(), static_cast<std::uint32_t>(selected_));
        selected_ = static_cast<int>(now == half.end() || now + 1 == half.end() ? half.front() : *(now + 1));
        update();
        emit picked(selected_);
        return;
    }
}

/// The wheel goes nearer, to where the mouse is; a double click shows all again.
void DieView::wheelEvent(QWheelEvent* event) {
    if (!built_ || built_->spots.empty()) return;
    measure();
    const auto& f = built_->world->part.fabric;
    const auto where = event->position();
    const QPointF at((where.x() - left_) / (step_ * f.columns), (where.y() - top_) / (step_ * f.rows));
    const double before = zoom_;
    zoom_ = std::clamp(zoom_ * (event->angleDelta().y() > 0 ? 1.25 : 0.8), 1.0, 40.0);
    middle_ = zoom_ <= 1.0 ? QPointF(0.5, 0.5) : at + (middle_ - at) * before / zoom_;
    event->accept();
    update();
}

void DieView::mouseDoubleClickEvent(QMouseEvent*) {
    zoom_ = 1;
    middle_ = {0.5, 0.5};
    update();
}

/// Arrows go to the next cell that way, so that the drawing can be walked without a mouse.
void DieView::keyPressEvent(QKeyEvent* event) {
    const int dx = event->key() == Qt::Key_Left ? -1 : event->key() == Qt::Key_Right ? 1 : 0;
    const int dy = event->key() == Qt::Key_Down ? -1 : event->key() == Qt::Key_Up ? 1 : 0;
    if (built_ && (event->key() == Qt::Key_Plus || event->key() == Qt::Key_Minus)) {
        zoom_ = std::clamp(zoom_ * (event->key() == Qt::Key_Plus ? 1.25 : 0.8), 1.0, 40.0);
        if (selected_ >= 0) look_at(selected_);
        return update();
    }
    if (!built_ || built_->spots.empty() || (dx == 0 && dy == 0)) return Canvas::keyPressEvent(event);
    const auto from = selected_ < 0 ? fabric::Spot{} : built_->spots[static_cast<size_t>(selected_)];
    int best = -1, nearest = 1 << 30;
    for (const auto& [at, site] : sites_) {
        const int x = at.first - from.column, y = at.second - from.row;
        const int along = x * dx + y * dy, aside = std::abs(x * dy) + std::abs(y * dx);
        if (along <= 0 || along + 3 * aside >= nearest) continue;
        nearest = along + 3 * aside;
        best = static_cast<int>(site.cells.front());
    }
    if (best < 0) return;
    selected_ = best;
    update();
    emit picked(best);
}

/// A cell into the middle of the view.
void DieView::look_at(int cell) {
    const auto& f = built_->world->part.fabric;
    const auto& s = built_->spots[static_cast<size_t>(cell)];
    middle_ = {(s.column + 0.5) / f.columns, (f.rows - s.row - 0.5) / f.rows};
}

QString DieView::words_of_cell(int cell) const {
    if (!built_ || cell < 0 || static_cast<size_t>(cell) >= built_->spots.size()) return {};
    const auto& n = built_->world->netlist;
    const auto c = static_cast<std::uint32_t>(cell);
    const auto& s = built_->spots[c];
    QString out = tr("%1 (%2), column %3, row %4, slot %5")
                      .arg(q(n.cell_names[c]), q(n.type_of(c)))
                      .arg(s.column)
                      .arg(s.row)
                      .arg(s.slot);
    if (!s.pin.empty()) out += tr(", pin %1").arg(q(s.pin));
    for (const auto& parameter : n.parameters)
        if (parameter.cell == c) out += QStringLiteral(" · %1 = %2").arg(q(parameter.name), q(parameter.value));
    if (const auto at = slack_of_.find(n.cell_names[c]); at != slack_of_.end())
        out += tr(" · slack %1 ns").arg(q(fixed(at->second, 3)));
    QStringList nets;
    for (auto p = n.cells[c].first_pin; p < n.cells[c].first_pin + n.cells[c].pin_count; ++p)
        if (n.pins[p].net != no_id)
            nets << QStringLiteral("%1: %2").arg(q(n.pin_names[n.pins[p].name]), q(n.net_names[n.pins[p].net]));
    return out + QStringLiteral("\n") + nets.join(QStringLiteral(", "));
}

FactSheet DieView::facts_of_cell(int cell, int build) const {
    FactSheet sheet;
    if (!built_ || cell < 0 || static_cast<size_t>(cell) >= built_->spots.size()) return sheet;
    const auto& n = built_->world->netlist;
    const auto c = static_cast<std::uint32_t>(cell);
    const auto& spot = built_->spots[c];
    sheet.title = q(n.cell_names[c]);
    sheet.under = tr("cell of build %1 · %2").arg(build).arg(q(n.type_of(c)));
    FactGroup place{tr("PLACE"), {}}, settings{tr("SETTINGS"), {}}, nets{tr("CONNECTIONS"), {}};
    place.facts = {{tr("column"), QString::number(spot.column), {}},
                   {tr("row"), QString::number(spot.row), {}},
                   {tr("slot"), QString::number(spot.slot), {}}};
    if (!spot.pin.empty()) place.facts.push_back({tr("pin"), q(spot.pin), {}});
    if (const auto at = slack_of_.find(n.cell_names[c]); at != slack_of_.end())
        place.facts.push_back({tr("slack"), tr("%1 ns").arg(q(fixed(at->second, 3))), tr("worst of its endpoints")});
    for (const auto& parameter : n.parameters)
        if (parameter.cell == c) settings.facts.push_back({q(parameter.name), q(parameter.value), {}});
    for (auto p = n.cells[c].first_pin; p < n.cells[c].first_pin + n.cells[c].pin_count; ++p)
        if (n.pins[p].net != no_id)
            nets.facts.push_back({q(n.pin_names[n.pins[p].name]), q(n.net_names[n.pins[p].net]), {}});
    for (auto* g : {&place, &settings, &nets}) sheet.groups.push_back(std::move(*g));
    return sheet;
}

}  // namespace kp::app
