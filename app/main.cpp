// SPDX-License-Identifier: GPL-3.0-or-later
// kite-peg [PROJECT.kpeg] [--dark] [--shot FOLDER]
#include "app/bench/bench_board.hpp"
#include "app/bench/bench_station.hpp"
#include "app/pegs/pegs_station.hpp"
#include "app/shell/main_window.hpp"

#include <QApplication>
#include <QCommandLineParser>
#include <QDir>
#include <QElapsedTimer>
#include <QTimer>
#include <cstdio>

namespace {

/// Board time passes in the event loop; a picture wants some of it to have passed.
void settle(int ms) {
    QElapsedTimer timer;
    timer.start();
    while (timer.elapsed() < ms) QCoreApplication::processEvents(QEventLoop::AllEvents, 20);
}

/// A PNG of each station; true when all could be written.
bool shoot(kp::app::MainWindow& window, const QString& folder) {
    using namespace kp::app;
    QDir().mkpath(folder);
    bool good = true;
    const auto take = [&](const char* name) {
        settle(150);
        good = window.grab().save(folder + '/' + QLatin1String(name) + QStringLiteral(".png")) && good;
    };
    auto& pegs = *static_cast<PegsStation*>(window.station_at(1));
    auto& bench = *static_cast<BenchStation*>(window.station_at(5));
    window.show_station(0);
    take("site");
    pegs.show_view(0);
    window.desk().select({QStringLiteral("port"), QStringLiteral("rose_n[5]")});
    take("loom");
    pegs.show_view(1);
    take("footprint");
    window.show_station(2);
    take("findings");
    window.show_station(3);
    take("tempo");
    window.show_station(4);
    take("slack");
    window.show_station(5);
    bench.load();
    bench.board().turn_vane(6);
    bench.compare_all();
    settle(1500);
    take("bench");
    window.show_station(6);
    take("log");
    return good;
}

}  // namespace

int main(int argc, char** argv) {
    QElapsedTimer since_start;
    since_start.start();
    QApplication app(argc, argv);
    QApplication::setApplicationName(QStringLiteral("Kite Peg"));
    QCommandLineParser parser;
    parser.setApplicationDescription(QStringLiteral("Maps the ports of an FPGA design to pins and board, and checks what is promised about time."));
    parser.addHelpOption();
    parser.addPositionalArgument(QStringLiteral("project"), QStringLiteral("A project (*.kpeg) to open"));
    parser.addOption({QStringLiteral("dark"), QStringLiteral("Dark theme")});
    parser.addOption({QStringLiteral("shot"), QStringLiteral("Write a PNG of each station into this folder and end"), QStringLiteral("folder")});
    parser.addOption({QStringLiteral("size"), QStringLiteral("Window size, such as 1920x1080"), QStringLiteral("size")});
    parser.addOption({QStringLiteral("say-start"), QStringLiteral("Print the time from start to a usable window, in ms, and end")});
    parser.process(app);
    kp::app::load_fonts();
    kp::app::use_theme(parser.isSet(QStringLiteral("dark")));
    kp::app::MainWindow window;
    const auto size = parser.value(QStringLiteral("size")).split('x');
    if (size.size() == 2) window.resize(size[0].toInt(), size[1].toInt());
    window.show();
    bool opened = true;
    if (!parser.positionalArguments().isEmpty()) opened = window.desk().open(parser.positionalArguments().first());
    if (parser.isSet(QStringLiteral("say-start"))) {
        QCoreApplication::processEvents();
        std::printf("%lld\n", static_cast<long long>(since_start.elapsed()));
        return 0;
    }
    if (parser.isSet(QStringLiteral("shot")) && !window.desk().has_session()) {
        std::fprintf(stderr, "kite-peg: --shot needs a project that opens.\n");
        return 2;
    }
    if (parser.isSet(QStringLiteral("shot"))) return opened && shoot(window, parser.value(QStringLiteral("shot"))) ? 0 : 2;
    return QApplication::exec();
}
