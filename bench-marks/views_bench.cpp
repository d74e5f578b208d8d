// SPDX-License-Identifier: GPL-3.0-or-later
// The three views of the pegs, painted into memory at 1920 x 1080 with plans of growing size: scrolling, zooming,
// hovering and dragging. One iteration is one frame: the event and the painting it causes. 60 frames a second are 16.7
// ms each.
//
//     QT_QPA_PLATFORM=offscreen build/bench/bench-marks/views_bench
//
// The argument is the number of balls; the design has about three ports for four of them.
#include "app/pegs/footprint.hpp"
#include "app/pegs/loom.hpp"
#include "app/pegs/pegs_station.hpp"
#include "app/pegs/sheet_view.hpp"
#include "app/window/main_window.hpp"
#include "core/session/verdict.hpp"

#include <QApplication>
#include <QImage>
#include <QMouseEvent>
#include <QProcess>
#include <QScrollArea>
#include <QScrollBar>
#include <QTemporaryDir>
#include <benchmark/benchmark.h>
#include <cmath>
#include <map>
#include <memory>

namespace {

using namespace kp::app;

/// A window with a plan of so many balls, kept for all benchmarks of that size.
struct Large {
    QTemporaryDir folder;
    MainWindow window;
    PegsStation* pegs = nullptr;

    explicit Large(long balls) {
        const int side = static_cast<int>(std::lround(std::sqrt(static_cast<double>(balls))));
        QProcess::execute(QStringLiteral("python3"),
                          {QStringLiteral(KP_SOURCE "/bench-marks/make_large.py"), folder.path(), QString::number(side),
                           QString::number(side * side * 1500 / 2025)});
        window.resize(1920, 1080);
        window.show();
        if (!window.desk().open(folder.path() + QStringLiteral("/large.kpeg"))) std::abort();
        pegs = static_cast<PegsStation*>(window.station_at(1));
    }
};

std::map<long, std::unique_ptr<Large>> all;  // emptied before the application ends

Large& large(benchmark::State& state) {
    auto& one = all[state.range(0)];
    if (!one) one = std::make_unique<Large>(state.range(0));
    state.counters["ports"] = static_cast<double>(one->window.desk().session().world().netlist.ports.size());
    return *one;
}

/// Paints what a widget shows, as the window would after an update.
void paint(QWidget& widget, QImage& image) {
    image.fill(0);
    widget.render(&image);
    benchmark::DoNotOptimize(image.constBits());
}

void send(QWidget& to, QEvent::Type type, const QPointF& at, Qt::MouseButtons held) {
    QMouseEvent event(type, at, to.mapToGlobal(at), type == QEvent::MouseMove ? Qt::NoButton : Qt::LeftButton, held,
                      {});
    QApplication::sendEvent(&to, &event);
}

QScrollArea& area_of(Loom& loom) {
    return *qobject_cast<QScrollArea*>(loom.parentWidget()->parentWidget());
}

void loom_scroll(benchmark::State& state) {
    auto& l = large(state);
    l.pegs->show_view(PegsStation::loom_view);
    QApplication::processEvents();
    auto& area = area_of(l.pegs->loom());
    QImage image(area.viewport()->size(), QImage::Format_RGB32);
    int at = 0;
    for (auto _ : state) {
        at = (at + 97) % std::max(1, area.verticalScrollBar()->maximum());
        area.verticalScrollBar()->setValue(at);
        paint(*area.viewport(), image);
    }
}

void loom_hover(benchmark::State& state) {
    auto& l = large(state);
    l.pegs->show_view(PegsStation::loom_view);
    QApplication::processEvents();
    auto& area = area_of(l.pegs->loom());
    area.verticalScrollBar()->setValue(0);
    QImage image(area.viewport()->size(), QImage::Format_RGB32);
    int i = 0;
    for (auto _ : state) {
        send(l.pegs->loom(), QEvent::MouseMove, {60.0, 60.0 + 19 * (i++ % 40)}, Qt::NoButton);
        paint(*area.viewport(), image);
    }
}

void loom_drag(benchmark::State& state) {
    auto& l = large(state);
    l.pegs->show_view(PegsStation::loom_view);
    QApplication::processEvents();
    auto& loom = l.pegs->loom();
    auto& area = area_of(loom);
    area.verticalScrollBar()->setValue(0);
    QImage image(area.viewport()->size(), QImage::Format_RGB32);
    send(loom, QEvent::MouseButtonPress, loom.layout_now().ports.front().rect.center(), Qt::LeftButton);
    int i = 0;
    for (auto _ : state) {
        send(loom, QEvent::MouseMove, {700.0 + i % 60, 120.0 + 11 * (i % 60)}, Qt::LeftButton);
        ++i;
        paint(*area.viewport(), image);
    }
    QKeyEvent escape(QEvent::KeyPress, Qt::Key_Escape, {});
    QApplication::sendEvent(&loom, &escape);
}

void footprint_zoom(benchmark::State& state) {
    auto& l = large(state);
    l.pegs->show_view(PegsStation::footprint_view);
    QApplication::processEvents();
    auto& f = l.pegs->footprint();
    QImage image(f.size(), QImage::Format_RGB32);
    int i = 0;
    for (auto _ : state) {
        f.zoom_by(++i % 40 < 20 ? 1.07 : 1 / 1.07, {400, 400});
        paint(f, image);
    }
    f.show_all();
}

void footprint_hover(benchmark::State& state) {
    auto& l = large(state);
    l.pegs->show_view(PegsStation::footprint_view);
    QApplication::processEvents();
    auto& f = l.pegs->footprint();
    f.show_all();
    QImage image(f.size(), QImage::Format_RGB32);
    int i = 0;
    for (auto _ : state) {
        send(f, QEvent::MouseMove, {200.0 + 13 * (i % 40), 200.0 + 7 * (i % 60)}, Qt::NoButton);
        ++i;
        paint(f, image);
    }
}

/// `state.range(1)`: 0 the frames after the first, 1 the first one, in which every pin is asked.
void footprint_drag(benchmark::State& state) {
    auto& l = large(state);
    l.pegs->show_view(PegsStation::footprint_view);
    QApplication::processEvents();
    auto& f = l.pegs->footprint();
    f.show_all();
    QImage image(f.size(), QImage::Format_RGB32);
    const auto& port = l.window.desk().session().world().netlist.ports.front().name;
    const bool first = state.range(1) == 1;
    int i = 0;
    f.drag_from_outside(port, {5, 5});
    f.drag_to({100, 100}, false);
    if (!first) paint(f, image);
    for (auto _ : state) {
        if (first) {
            state.PauseTiming();
            f.drag_ends({-10, -10});
            f.drag_from_outside(port, {5, 5});
            state.ResumeTiming();
        }
        f.drag_to({200.0 + 13 * (i % 40), 200.0 + 7 * (i % 60)}, false);
        ++i;
        paint(f, image);
    }
    f.drag_ends({-10, -10});
}

void sheet_scroll(benchmark::State& state) {
    auto& l = large(state);
    l.pegs->show_view(PegsStation::sheet_view);
    QApplication::processEvents();
    auto& sheet = l.pegs->sheet();
    QImage image(sheet.size(), QImage::Format_RGB32);
    int at = 0;
    for (auto _ : state) {
        at = (at + 7) % std::max(1, sheet.verticalScrollBar()->maximum());
        sheet.verticalScrollBar()->setValue(at);
        paint(sheet, image);
    }
}

/// An edit until the view stands again: rules, refresh and painting.
void edit_and_show(benchmark::State& state) {
    auto& l = large(state);
    l.pegs->show_view(static_cast<int>(state.range(1)));
    QApplication::processEvents();
    QWidget& view = state.range(1) == PegsStation::loom_view
                        ? static_cast<QWidget&>(*area_of(l.pegs->loom()).viewport())
                    : state.range(1) == PegsStation::footprint_view ? static_cast<QWidget&>(l.pegs->footprint())
                                                                    : static_cast<QWidget&>(l.pegs->sheet());
    QImage image(view.size(), QImage::Format_RGB32);
    auto& desk = l.window.desk();
    const auto& ports = desk.session().world().netlist.ports;
    for (auto _ : state) {
        desk.apply(kp::swap_edit(desk.session().project(), ports[0].name, ports[1].name));
        paint(view, image);
    }
}

/// One question of a drag.
void verdict(benchmark::State& state) {
    auto& l = large(state);
    kp::Trial trial(l.window.desk().session().snapshot());
    const auto& pins = l.window.desk().session().world().part.pins;
    const auto& ports = l.window.desk().session().world().netlist.ports;
    size_t i = 0;
    for (auto _ : state) {
        ++i;
        benchmark::DoNotOptimize(trial.trouble(ports[i * 7 % ports.size()].name, pins[i * 13 % pins.size()].name));
    }
}

void sizes(benchmark::internal::Benchmark* b) {
    for (const long balls : {256, 529, 1024, 2025}) b->Arg(balls);
    b->Unit(benchmark::kMillisecond);
}

}  // namespace

BENCHMARK(loom_scroll)->Apply(sizes);
BENCHMARK(loom_hover)->Apply(sizes);
BENCHMARK(loom_drag)->Apply(sizes);
BENCHMARK(footprint_zoom)->Apply(sizes);
BENCHMARK(footprint_hover)->Apply(sizes);
BENCHMARK(footprint_drag)
    ->Args({256, 0})
    ->Args({1024, 0})
    ->Args({2025, 0})
    ->Args({256, 1})
    ->Args({1024, 1})
    ->Args({2025, 1})
    ->Unit(benchmark::kMillisecond);
BENCHMARK(sheet_scroll)->Apply(sizes);
BENCHMARK(edit_and_show)->Args({2025, 0})->Args({2025, 1})->Args({2025, 2})->Unit(benchmark::kMillisecond);
BENCHMARK(verdict)->Args({256})->Args({1024})->Args({2025})->Unit(benchmark::kMicrosecond);

int main(int argc, char** argv) {
    if (qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM")) qputenv("QT_QPA_PLATFORM", "offscreen");
    QApplication app(argc, argv);
    kp::app::load_fonts();
    kp::app::use_theme(false);
    benchmark::Initialize(&argc, argv);
    benchmark::RunSpecifiedBenchmarks();
    all.clear();
    return 0;
}
