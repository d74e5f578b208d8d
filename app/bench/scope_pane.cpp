// SPDX-License-Identifier: GPL-3.0-or-later
// The scope's memory is core/board_sim/scope; the pane draws what its window of time shows, reduced to one column a
// pixel, and keeps only cursors and zoom.
#include "app/bench/scope_pane.hpp"

#include "app/theme/text.hpp"

#include "core/base/text.hpp"

#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <set>

namespace kp::app {

using board_sim::Scope;
using board_sim::Time;

namespace {

constexpr double left = 6, right = 8;

struct Span {
    const char* name;
    Time length;
};
const Span spans[] = {{"200 ns", 200 * board_sim::nanosecond},
                      {"1 µs", board_sim::microsecond},
                      {"5 µs", 5 * board_sim::microsecond},
                      {"20 µs", 20 * board_sim::microsecond},
                      {"100 µs", 100 * board_sim::microsecond},
                      {"500 µs", 500 * board_sim::microsecond},
                      {"2 ms", 2 * board_sim::millisecond},
                      {"10 ms", 10 * board_sim::millisecond},
                      {"50 ms", 50 * board_sim::millisecond},
                      {"200 ms", 200 * board_sim::millisecond},
                      {"1 s", board_sim::second},
                      {"5 s", 5 * board_sim::second}};

QString time_text(Time t) {
    const double ns = static_cast<double>(t) / board_sim::nanosecond, size = std::abs(ns);
    if (size >= 1e6) return q(fixed(ns / 1e6, 3)) + QStringLiteral(" ms");
    if (size >= 1e3) return q(fixed(ns / 1e3, 3)) + QStringLiteral(" µs");
    return q(fixed(ns, 2)) + QStringLiteral(" ns");
}

QString rate_text(double hz) {
    if (hz >= 1e6) return q(fixed(hz / 1e6, 4)) + QStringLiteral(" MHz");
    if (hz >= 1e3) return q(fixed(hz / 1e3, 4)) + QStringLiteral(" kHz");
    return q(fixed(hz, 2)) + QStringLiteral(" Hz");
}

/// Words of a bus from the channels in their order: serial 1; SPI clock, data, select; two wires clock, data.
std::vector<board_sim::BusWord> read_bus(const Scope::Capture& c, const BusReading& r) {
    switch (r.kind) {
        case BusReading::serial: return board_sim::read_serial(c.edges[0], board_sim::bit_length(c.edges[0]), c.to);
        case BusReading::spi: return board_sim::read_spi(c.edges[0], c.edges[1], c.edges[2], r.mode, c.to);
        case BusReading::two_wire: return board_sim::read_two_wire(c.edges[0], c.edges[1], c.to);
        case BusReading::none: break;
    }
    return {};
}

}  // namespace

ScopeScreen::ScopeScreen() {
    setObjectName(QStringLiteral("bench.scope.screen"));
    setAccessibleName(tr("Waves of four wires; left and right move a cursor, space changes the cursor"));
    setFocusPolicy(Qt::StrongFocus);
    setMinimumHeight(118);
}

void ScopeScreen::show(const Scope& scope, const BusReading& reading) {
    capture_ = scope.capture();
    words_ = read_bus(capture_, reading);
    update();
}

double ScopeScreen::x_of(Time t) const {
    const auto span = std::max<Time>(1, capture_.to - capture_.from);
    return left + (width() - left - right) * static_cast<double>(t - capture_.from) / static_cast<double>(span);
}

Time ScopeScreen::time_at(double x) const {
    const auto share = std::clamp((x - left) / std::max(1.0, width() - left - right), 0.0, 1.0);
    return capture_.from + static_cast<Time>(share * static_cast<double>(capture_.to - capture_.from));
}

void ScopeScreen::draw(QPainter& p) {
    const auto& t = theme();
    draw_sheet(p, rect(), t.bright, t.hairline);
    if (capture_.to <= capture_.from)
        return text(p, {left, 0, width() - left - right, static_cast<double>(height())}, Qt::AlignCenter,
                    tr("no trigger yet"), words(12), t.second);
    const double row = (height() - (words_.empty() ? 6.0 : 24.0)) / Scope::channels;
    for (int k = 0; k <= 10; ++k) {
        const double x = left + (width() - left - right) * k / 10.0;
        p.setPen(QPen(t.hairline, 1));
        p.drawLine(QPointF(x, 2), QPointF(x, height() - 2.0));
    }
    for (size_t c = 0; c < Scope::channels; ++c) draw_wave(p, c, 3 + row * static_cast<double>(c), row);
    if (!words_.empty()) draw_words(p, height() - 21.0);
    if (capture_.trigger >= 0) {
        p.setPen(QPen(t.clock, 1, Qt::DashLine));
        p.drawLine(QPointF(x_of(capture_.trigger), 2), QPointF(x_of(capture_.trigger), height() - 2.0));
    }
    draw_cursors(p);
}

/// Where edges lie closer than a dot, the band between both levels is filled.
void ScopeScreen::draw_wave(QPainter& p, size_t channel, double top, double high) {
    const auto& t = theme();
    const auto colour = t.bank(static_cast<int>(channel));
    const auto& edges = capture_.edges[channel];
    if (edges.empty()) return;
    const double up = top + 3, down = top + high - 4, middle = (up + down) / 2;
    QPolygonF wave;
    double last_x = left;
    std::vector<QRectF> bands;
    for (size_t i = 0; i < edges.size(); ++i) {
        const double x = std::max(left, x_of(edges[i].when));
        const double y = edges[i].level == Level::high ? up : edges[i].level == Level::low ? down : middle;
        if (!wave.isEmpty() && x - last_x < 1.2 && i > 0) {
            // Of what lies in a band only where it ends is drawn: there may be a hundred edges a dot.
            if (!bands.empty() && x - bands.back().right() < 1.5) {
                bands.back().setRight(x);
                wave.last() = QPointF(x, y);
            } else {
                bands.emplace_back(last_x, up, std::max(1.0, x - last_x), down - up);
                wave << QPointF(x, y);
            }
            last_x = x;
            continue;
        }
        if (!wave.isEmpty()) wave << QPointF(x, wave.last().y());
        wave << QPointF(x, y);
        last_x = x;
    }
    wave << QPointF(width() - right, wave.last().y());
    p.setPen(QPen(colour, 1.5));
    p.setBrush(Qt::NoBrush);
    p.drawPolyline(wave);
    auto fill = colour;
    fill.setAlpha(110);
    for (const auto& band : bands) p.fillRect(band, fill);
}

void ScopeScreen::draw_words(QPainter& p, double top) {
    const auto& t = theme();
    double free = left;
    for (const auto& w : words_) {
        const double from = x_of(w.from), to = std::max(from + 6, x_of(w.to));
        if (to < left || from > width() - right) continue;
        p.setPen(QPen(w.good ? t.ink : t.stop, 1));
        p.setBrush(w.good ? t.sheet : t.wash_stop);
        p.drawRoundedRect(QRectF(from, top, to - from, 16), 3, 3);
        const QFontMetricsF metrics(mono(10.5));
        if (from < free || metrics.horizontalAdvance(q(w.text)) > std::max(to - from, 0.0) - 2) continue;
        text(p, {from + 1, top, to - from - 1, 16}, Qt::AlignCenter, q(w.text), mono(10.5), w.good ? t.ink : t.stop,
             true);
        free = to;
    }
}

void ScopeScreen::draw_cursors(QPainter& p) {
    const auto& t = theme();
    for (size_t k = 0; k < 2; ++k) {
        if (cursors_[k] < capture_.from || cursors_[k] > capture_.to) continue;
        const double x = x_of(cursors_[k]);
        p.setPen(QPen(t.select, k == held_ ? 1.8 : 1, Qt::SolidLine));
        p.drawLine(QPointF(x, 2), QPointF(x, height() - 2.0));
        text(p, {x + 2, 1, 14, 12}, Qt::AlignLeft | Qt::AlignTop, k == 0 ? QStringLiteral("a") : QStringLiteral("b"),
             words(10.5, true), t.select);
    }
}

void ScopeScreen::mousePressEvent(QMouseEvent* event) {
    setFocus();
    held_ = event->button() == Qt::RightButton || (event->modifiers() & Qt::ShiftModifier) ? 1 : 0;
    cursors_[held_] = time_at(event->position().x());
    emit cursors_moved();
    update();
}

void ScopeScreen::mouseMoveEvent(QMouseEvent* event) {
    if (!(event->buttons() & (Qt::LeftButton | Qt::RightButton))) return;
    cursors_[held_] = time_at(event->position().x());
    emit cursors_moved();
    update();
}

void ScopeScreen::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Space) {
        held_ = 1 - held_;
        return update();
    }
    if (event->key() != Qt::Key_Left && event->key() != Qt::Key_Right) return Canvas::keyPressEvent(event);
    const auto step = (capture_.to - capture_.from) / (event->modifiers() & Qt::ShiftModifier ? 20 : 500);
    auto& cursor = cursors_[held_];
    if (cursor < capture_.from || cursor > capture_.to) cursor = (capture_.from + capture_.to) / 2;
    cursor = std::clamp(cursor + (event->key() == Qt::Key_Right ? step : -step), capture_.from, capture_.to);
    emit cursors_moved();
    update();
}

void ScopeScreen::wheelEvent(QWheelEvent* event) {
    event->ignore();
}

ScopePane::ScopePane()
    : screen_(new ScopeScreen),
      edge_(new QComboBox),
      mode_(new QComboBox),
      span_(new QComboBox),
      reading_(new QComboBox),
      arm_(new QPushButton(tr("Arm"))),
      expected_(new QLineEdit),
      measured_(new QLabel) {
    setObjectName(QStringLiteral("bench.scope"));
    auto* row = new QHBoxLayout;
    row->setSpacing(5);
    auto* column = new QVBoxLayout;
    column->setSpacing(3);
    for (size_t c = 0; c < Scope::channels; ++c) {
        channels_[c] = new QComboBox;
        channels_[c]->setObjectName(QStringLiteral("bench.scope.%1").arg(c + 1));
        channels_[c]->setAccessibleName(tr("Wire of channel %1").arg(c + 1));
        channels_[c]->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        channels_[c]->setMinimumContentsLength(8);
        channels_[c]->setFixedWidth(104);
        column->addWidget(channels_[c], 1);
        edge_->addItem(tr("%1 rises").arg(c + 1));
        edge_->addItem(tr("%1 falls").arg(c + 1));
    }
    mode_->addItems({tr("free run"), tr("every trigger"), tr("single")});
    for (const auto& s : spans) span_->addItem(QString::fromUtf8(s.name));
    span_->setCurrentIndex(6);
    reading_->addItems({tr("no bus"), tr("serial"), tr("SPI mode 0"), tr("SPI mode 1"), tr("SPI mode 2"),
                        tr("SPI mode 3"), tr("two wires")});
    reading_->setToolTip(tr("serial: channel 1; SPI: clock, data, select; two wires: clock, data"));
    const std::pair<QComboBox*, std::pair<const char*, QString>> named[] = {
        {mode_, {"bench.scope.mode", tr("Trigger mode")}},
        {edge_, {"bench.scope.edge", tr("Trigger edge")}},
        {span_, {"bench.scope.span", tr("Time shown")}},
        {reading_, {"bench.scope.reading", tr("How the channels are read as a bus")}}};
    for (const auto& [box, names] : named) {
        box->setObjectName(QLatin1String(names.first));
        box->setAccessibleName(names.second);
        box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        box->setMinimumContentsLength(5);
        row->addWidget(box);
    }
    arm_->setObjectName(QStringLiteral("bench.scope.arm"));
    arm_->setProperty("small", true);
    arm_->setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Fixed);
    row->addWidget(arm_);
    row->addStretch(1);
    auto* waves = new QHBoxLayout;
    waves->setSpacing(5);
    waves->addLayout(column);
    waves->addWidget(screen_, 1);
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(5);
    all->addLayout(row);
    all->addLayout(waves, 1);
    all->addLayout(line_below());
    connect_all();
}

/// What is measured, and what it is held against.
QLayout* ScopePane::line_below() {
    expected_->setObjectName(QStringLiteral("bench.scope.expected"));
    expected_->setAccessibleName(tr("Expected frequency of channel 1, Hz"));
    expected_->setPlaceholderText(tr("expect … Hz"));
    expected_->setFixedWidth(96);
    measured_->setObjectName(QStringLiteral("bench.scope.measured"));
    measured_->setFont(mono(11.5));
    measured_->setWordWrap(true);
    measured_->setFixedHeight(34);  // two lines, so that waves do not move when there is more to say
    measured_->setAlignment(Qt::AlignLeft | Qt::AlignTop);
    auto* below = new QHBoxLayout;
    below->addWidget(measured_, 1);
    below->addWidget(expected_, 0, Qt::AlignTop);
    return below;
}

void ScopePane::connect_all() {
    for (size_t c = 0; c < Scope::channels; ++c)
        connect(channels_[c], &QComboBox::activated, this, [this, c](int index) {
            if (model_) scope_.choose(*model_, c, index <= 0 ? "" : channels_[c]->currentText().toStdString());
            look();
        });
    for (auto* box : {mode_, edge_}) connect(box, &QComboBox::activated, this, [this] { set_trigger(); });
    connect(span_, &QComboBox::activated, this, [this] { choose_span(); });
    connect(reading_, &QComboBox::activated, this, [this] { look(); });
    connect(arm_, &QPushButton::clicked, this, [this] {
        mode_->setCurrentIndex(2);
        set_trigger();
    });
    connect(expected_, &QLineEdit::textChanged, this, [this] { show_measured(); });
    connect(screen_, &ScopeScreen::cursors_moved, this, [this] { show_measured(); });
    choose_span();
    set_trigger();
}

void ScopePane::set_trigger() {
    const auto edge = std::max(0, edge_->currentIndex());
    scope_.set({static_cast<size_t>(edge / 2), edge % 2 == 0, static_cast<Scope::Mode>(mode_->currentIndex())});
    edge_->setEnabled(mode_->currentIndex() > 0);
    if (mode_->currentIndex() == 2 && model_) scope_.arm(model_->now());
    look();
}

void ScopePane::choose_span() {
    scope_.set_span(spans[std::max(0, span_->currentIndex())].length);
    look();
}

BusReading ScopePane::reading() const {
    const int i = reading_->currentIndex();
    if (i == 1) return {BusReading::serial, 0};
    if (i >= 2 && i <= 5) return {BusReading::spi, static_cast<unsigned>(i - 2)};
    return {i == 6 ? BusReading::two_wire : BusReading::none, 0};
}

/// What changes at different speeds is worth seeing first: the sounder, a serial line, a lamp, what a hand moves.
std::vector<std::string> ScopePane::proposed() const {
    std::vector<std::string> out;
    for (const char* kind : {"sounder", "lamp", "vane", "serial", "rocker", "key"})
        for (const auto& part : model_->board().parts)
            if (part.kind == kind && !part.terminals.empty() && out.size() < Scope::channels) {
                const auto name = part.ref + "." + part.terminals[0].name;
                if (!model_->pin_of(model_->terminal(name)).empty()) out.push_back(name);
            }
    return out;
}

void ScopePane::show_table(board_sim::BoardModel* model) {
    model_ = model;
    QStringList names{tr("no wire")};
    if (model_)
        for (std::uint32_t t = 0; t < model_->terminal_count(); ++t)
            if (!model_->pin_of(t).empty()) names << q(model_->name_of(t));
    const bool fresh =
        model_ && std::all_of(channels_.begin(), channels_.end(), [](auto* c) { return c->count() < 2; });
    const auto first = fresh ? proposed() : std::vector<std::string>();
    for (size_t c = 0; c < Scope::channels; ++c) {
        const auto was = fresh && c < first.size() ? q(first[c]) : channels_[c]->currentText();
        channels_[c]->clear();
        channels_[c]->addItems(names);
        const auto at = names.indexOf(was);
        channels_[c]->setCurrentIndex(std::max<int>(0, static_cast<int>(at)));
        if (model_) scope_.choose(*model_, c, at > 0 ? was.toStdString() : "");
    }
    if (model_) scope_.moved_to(*model_);
    screen_->show(scope_, reading());
    show_measured();
}

void ScopePane::look() {
    if (!model_) return;
    if (scope_.look(*model_) || !scope_.capture().edges[0].empty()) screen_->show(scope_, reading());
    arm_->setText(scope_.waits() ? tr("armed") : tr("Arm"));
    show_measured();
}

QString ScopePane::measured() const {
    QStringList out;
    const auto& c = scope_.capture();
    if (const double hz = expected_->text().trimmed().toDouble(); hz > 0 && !scope_.terminal(0).empty())
        out << tr("1 %1").arg(q(board_sim::beat_verdict(hz, board_sim::measure(c.edges[0], c.from, c.to))));
    for (size_t k = 0; k < Scope::channels; ++k) {
        if (scope_.terminal(k).empty()) continue;
        const auto m = board_sim::measure(c.edges[k], c.from, c.to);
        out << (m.hz > 0 ? tr("%1: %2, %3 % high").arg(k + 1).arg(rate_text(m.hz)).arg(q(fixed(m.duty * 100, 1)))
                         : tr("%1: %2").arg(k + 1).arg(m.rises ? tr("one rising edge") : tr("no rising edge")));
    }
    if (const auto s = board_sim::skew(c.edges[0], c.edges[1], c.from, c.to);
        s.pairs > 0 && !scope_.terminal(1).empty())
        out << tr("1 to 2: %1").arg(time_text(s.mean));
    const auto [a, b] = screen_->cursors();
    if (a >= 0 && b >= 0)
        out << tr("a to b: %1").arg(time_text(b - a)) + (b != a ? QStringLiteral(" (") +
                                                                      rate_text(static_cast<double>(board_sim::second) /
                                                                                std::abs(static_cast<double>(b - a))) +
                                                                      QStringLiteral(")")
                                                                : QString());
    return out.join(QStringLiteral("   "));
}

void ScopePane::show_measured() {
    const auto now = measured();
    measured_->setText(now.isEmpty() ? tr("Choose a wire for each channel; click sets cursor a, right click b.") : now);
}

}  // namespace kp::app
