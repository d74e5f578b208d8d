// SPDX-License-Identifier: GPL-3.0-or-later
// Counts and legend are asked of Shades; the controls hold the choice, the footprint follows them.
#include "app/pegs/footprint_side.hpp"

#include "app/paint/marks.hpp"

#include "app/pegs/footprint.hpp"
#include "app/theme/text.hpp"

#include <QComboBox>
#include <QGridLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QPainterPath>
#include <QPushButton>
#include <QScrollArea>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace kp::app {

namespace {
QIcon swatch(const QColor& color) {
    QPixmap map(12, 12);
    map.fill(Qt::transparent);
    QPainter p(&map);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(Qt::NoPen);
    p.setBrush(color);
    p.drawEllipse(QRectF(1, 1, 10, 10));
    return QIcon(map);
}
}  // namespace

MarksKey::MarksKey(QWidget* parent) : Canvas(parent) {
    setFixedHeight(130);
    setAccessibleName(tr("What the marks mean"));
}

void MarksKey::draw(QPainter& p) {
    const auto& t = theme();
    const QColor color = t.bank(0);
    const double column = width() / 2.0;
    const auto entry = [&](int c, int r, const QString& name) {
        const QPointF at(8 + c * column, 10 + r * 18);
        text(p, {at.x() + 14, at.y() - 9, column - 24, 18}, Qt::AlignVCenter, name, words(11), t.ink, true);
        p.setPen(QPen(t.second, 1.1));
        p.setBrush(Qt::NoBrush);
        return at;
    };
    const auto user = [&](const QPointF& c, const UserPin& look, PinTrait trait = PinTrait::none) {
        draw_user_pin(p, QRectF(c.x() - 6, c.y() - 6, 12, 12), look);
        draw_trait(p, c + QPointF(0, -1), 9, trait, look.line);
    };
    QColor pale = color;
    pale.setAlphaF(0.25f);
    user(entry(0, 0, tr("pegged")), {color, color});
    user(entry(1, 0, tr("loose")), {color, pale, true});
    user(entry(0, 1, tr("wired")), {color, color, false, true});
    user(entry(1, 1, tr("free")), {color, t.bright});
    user(entry(0, 2, tr("clock pin")), {color, t.bright}, PinTrait::clock);
    user(entry(1, 2, tr("reference")), {color, t.bright}, PinTrait::reference);
    user(entry(0, 3, tr("dual-purpose")), {color, t.bright}, PinTrait::dual_purpose);
    draw_fixed_pin(p, entry(1, 3, tr("configuration")), 5, FixedPin::configuration, t.second);
    draw_fixed_pin(p, entry(0, 4, tr("core supply")), 5, FixedPin::supply, t.second);
    draw_fixed_pin(p, entry(1, 4, tr("bank supply")), 5, FixedPin::bank_supply, t.second);
    draw_fixed_pin(p, entry(0, 5, tr("ground")), 5, FixedPin::ground, t.second);
    draw_fixed_pin(p, entry(1, 5, tr("lane")), 5, FixedPin::transceiver, t.second);
    auto at = entry(0, 6, tr("strobe group"));
    p.drawRoundedRect(QRectF(at.x() - 6, at.y() - 6, 12, 12), 3, 3);
    p.drawRoundedRect(QRectF(at.x() - 3.6, at.y() - 3.6, 7.2, 7.2), 2, 2);
    draw_fixed_pin(p, entry(1, 6, tr("not connected")), 5, FixedPin::not_connected, t.second);
}

Tray::Tray(Desk& desk, Footprint& footprint) : desk_(desk), footprint_(footprint) {
    setObjectName("footprint.tray");
    setAccessibleName(tr("Ports that are adrift"));
    setFocusPolicy(Qt::StrongFocus);
}

void Tray::refresh(const PlanView& plan) {
    ports_.clear();
    for (const int i : plan.adrift)
        ports_.push_back(desk_.session().world().netlist.ports[static_cast<size_t>(i)].name);
    setMinimumHeight(static_cast<int>(ports_.size()) * 22 + 2);
    update();
}

QRectF Tray::place(size_t i) const {
    return {0, static_cast<double>(i) * 22, width() - 4.0, 20};
}

QRectF Tray::place_of(const std::string& port) const {
    const auto at = std::find(ports_.begin(), ports_.end(), port);
    return at == ports_.end() ? QRectF() : place(static_cast<size_t>(at - ports_.begin()));
}

void Tray::draw(QPainter& p) {
    const auto& t = theme();
    for (size_t i = 0; i < ports_.size(); ++i) {
        const auto r = place(i);
        if (!r.intersects(dirty())) continue;
        const bool chosen = desk_.selection().has(QStringLiteral("port"), q(ports_[i]));
        draw_sheet(p, r, chosen ? t.select_fill : t.bright, chosen ? t.select : t.hairline);
        draw_peg(p, {r.left() + 10, r.center().y()}, PegMark::adrift, t.ink);
        text(p, r.adjusted(22, 0, -4, 0), Qt::AlignVCenter, q(ports_[i]), mono(11.5), t.ink, true);
    }
}

void Tray::mousePressEvent(QMouseEvent* event) {
    setFocus();
    for (size_t i = 0; i < ports_.size(); ++i)
        if (place(i).contains(event->position())) {
            desk_.select({QStringLiteral("port"), q(ports_[i]), {}});
            dragging_ = true;
            footprint_.drag_from_outside(ports_[i], QPointF(footprint_.mapFromGlobal(event->globalPosition())));
        }
    update();
}

void Tray::mouseMoveEvent(QMouseEvent* event) {
    if (dragging_)
        footprint_.drag_to(footprint_.mapFromGlobal(event->globalPosition()), event->modifiers() & Qt::ShiftModifier);
}

void Tray::mouseReleaseEvent(QMouseEvent* event) {
    if (dragging_) footprint_.drag_ends(footprint_.mapFromGlobal(event->globalPosition()));
    dragging_ = false;
}

void Tray::keyPressEvent(QKeyEvent* event) {
    const int by = event->key() == Qt::Key_Down ? 1 : event->key() == Qt::Key_Up ? -1 : 0;
    if (by == 0 || ports_.empty()) return Canvas::keyPressEvent(event);
    int at = -1;
    for (size_t i = 0; i < ports_.size(); ++i)
        if (q(ports_[i]) == desk_.selection().name) at = static_cast<int>(i);
    at = std::clamp(at + by, 0, static_cast<int>(ports_.size()) - 1);
    desk_.select({QStringLiteral("port"), q(ports_[static_cast<size_t>(at)]), {}});
    update();
}

FootprintSide::FootprintSide(Desk& desk, Footprint& footprint)
    : footprint_(footprint),
      shade_(new QComboBox),
      legend_(new QTreeWidget),
      adrift_(new QLabel),
      tray_area_(new QScrollArea),
      tray_(new Tray(desk, footprint)) {
    setFixedWidth(252);
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 8, 14, 8);
    all->setSpacing(6);
    auto* top = new QHBoxLayout;
    auto* by = new QLabel(tr("colour by"));
    by->setProperty("role", "second");
    top->addWidget(by);
    top->addWidget(shade_, 1);
    all->addLayout(top);
    for (const auto& name : {tr("bank"), tr("kind"), tr("standard"), tr("supply"), tr("slack"), tr("finding")})
        shade_->addItem(name);
    shade_->setObjectName("footprint.shade");
    shade_->setAccessibleName(tr("What the colours of pins say"));
    legend_->setObjectName("footprint.legend");
    legend_->setAccessibleName(tr("Legend; what is not ticked fades"));
    legend_->setColumnCount(2);
    legend_->header()->hide();
    legend_->header()->setStretchLastSection(false);
    legend_->header()->setSectionResizeMode(0, QHeaderView::Stretch);
    legend_->header()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
    legend_->setRootIsDecorated(false);
    legend_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    all->addWidget(legend_);
    auto* grid = new QGridLayout;
    grid->setSpacing(4);
    int n = 0;
    for (const auto& [id, name, extra] : {std::tuple{"pairs", tr("pairs"), Footprint::pairs},
                                          {"bytes", tr("strobe groups"), Footprint::bytes},
                                          {"banks", tr("banks"), Footprint::banks},
                                          {"regions", tr("regions"), Footprint::regions},
                                          {"reach", tr("clock reach"), Footprint::reach}}) {
        auto* b = new QPushButton(name);
        b->setObjectName(QStringLiteral("footprint.%1").arg(QLatin1String(id)));
        b->setCheckable(true);
        b->setChecked(extra == Footprint::banks);
        b->setStyleSheet(QStringLiteral("padding: 3px 4px;"));
        connect(b, &QPushButton::toggled, this, [this, extra = extra](bool on) { footprint_.show_extra(extra, on); });
        grid->addWidget(b, n / 3, n % 3);
        ++n;
    }
    all->addLayout(grid);
    all->addWidget(new MarksKey);
    adrift_->setProperty("role", "second");
    all->addWidget(adrift_);
    tray_area_->setWidget(tray_);
    tray_area_->setWidgetResizable(true);
    tray_area_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    all->addWidget(tray_area_, 1);
    connect(shade_, &QComboBox::currentIndexChanged, this, [this](int i) {
        footprint_.set_shade(static_cast<Shade>(i));
        fill_legend();
    });
    connect(legend_, &QTreeWidget::itemChanged, this, [this] {
        if (!filling_) hide_unchecked();
    });
}

void FootprintSide::refresh(const PlanView& plan) {
    fill_legend();
    tray_->refresh(plan);
    adrift_->setText(plan.adrift.empty() ? tr("No port is adrift")
                                         : tr("Adrift: %1, drag one to a pin").arg(plan.adrift.size()));
    tray_area_->setVisible(!plan.adrift.empty());
}

void FootprintSide::fill_legend() {
    filling_ = true;
    std::set<QString> off;
    for (int i = 0; i < legend_->topLevelItemCount(); ++i)
        if (legend_->topLevelItem(i)->checkState(0) == Qt::Unchecked) off.insert(legend_->topLevelItem(i)->text(0));
    legend_->clear();
    for (const auto& entry : footprint_.shading().entries) {
        auto* item = new QTreeWidgetItem(legend_, {entry.name, entry.count});
        item->setIcon(0, swatch(entry.color));
        item->setCheckState(0, off.contains(entry.name) ? Qt::Unchecked : Qt::Checked);
        item->setTextAlignment(1, Qt::AlignRight | Qt::AlignVCenter);
    }
    const int rows = std::clamp(legend_->topLevelItemCount(), 3, 8);
    legend_->setFixedHeight(rows * 26 + 4);
    filling_ = false;
    hide_unchecked();
}

void FootprintSide::hide_unchecked() {
    std::set<QString> off;
    for (int i = 0; i < legend_->topLevelItemCount(); ++i)
        if (legend_->topLevelItem(i)->checkState(0) == Qt::Unchecked) off.insert(legend_->topLevelItem(i)->text(0));
    footprint_.set_hidden(std::move(off));
}

}  // namespace kp::app
