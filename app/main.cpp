// SPDX-License-Identifier: GPL-3.0-or-later
// kite-peg [PROJECT.kpeg] [--dark] [--shot FOLDER]
#include "app/window/application.hpp"
#include "app/window/main_window.hpp"
#include "app/window/pictures.hpp"
#include "core/base/process.hpp"

#include <QApplication>
#include <QCommandLineParser>
#include <QElapsedTimer>
#include <QSettings>
#include <QTemporaryDir>
#include <cstdio>
#include <cstdlib>

int main(int argc, char** argv) {
    QElapsedTimer since_start;
    since_start.start();
    kp::open_standard_streams();
    kp::end_tidily("kite-peg");
    kp::app::Application app(argc, argv);
    QApplication::setApplicationName(QStringLiteral("Kite Peg"));
    QCommandLineParser parser;
    parser.setApplicationDescription(
        QStringLiteral("Maps the ports of an FPGA design to pins and board, and checks its timing constraints."));
    parser.addHelpOption();
    parser.addPositionalArgument(QStringLiteral("project"), QStringLiteral("A project (*.kpeg) to open"));
    parser.addOption({QStringLiteral("dark"), QStringLiteral("Dark theme")});
    parser.addOption({QStringLiteral("shot"), QStringLiteral("Write a PNG of each station into this folder and end"),
                      QStringLiteral("folder")});
    parser.addOption(
        {QStringLiteral("size"), QStringLiteral("Window size, such as 1920x1080"), QStringLiteral("size")});
    parser.addOption(
        {QStringLiteral("say-start"), QStringLiteral("Print the time from start to a usable window, in ms, and end")});
    parser.process(app);
    // Pictures show the demo and nothing of this user's: settings and memory of their own, gone at the end.
    QTemporaryDir nobody;
    if (parser.isSet(QStringLiteral("shot"))) {
        QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, nobody.path());
        qputenv("KITE_PEG_USER", nobody.path().toLocal8Bit());
    }
    kp::app::load_fonts();
    kp::app::use_theme(parser.isSet(QStringLiteral("dark")));
    kp::app::MainWindow window;
    app.tell = [&window](const QString& sentence) { window.desk().say(sentence, true); };
    const auto size = (parser.isSet(QStringLiteral("shot")) && !parser.isSet(QStringLiteral("size"))
                           ? QStringLiteral("1280x800")
                           : parser.value(QStringLiteral("size")))
                          .split('x');
    if (size.size() == 2) window.resize(size[0].toInt(), size[1].toInt());
    window.show();
    bool opened = true;
    const bool at_once = parser.isSet(QStringLiteral("shot")) || parser.isSet(QStringLiteral("say-start"));
    if (!parser.positionalArguments().isEmpty()) {
        // A file name is bytes; the parser's texts are not, so the argument is taken as the program got it.
        std::string path = parser.positionalArguments().first().toStdString();
        for (int i = 1; i < argc; ++i)
            if (QString::fromLocal8Bit(argv[i]) == parser.positionalArguments().first()) path = argv[i];
        if (at_once)
            opened = window.desk().open(path);
        else
            window.desk().open_later(path);
    }
    if (parser.isSet(QStringLiteral("say-start"))) {
        QCoreApplication::processEvents();
        std::printf("%lld\n", static_cast<long long>(since_start.elapsed()));
        return 0;
    }
    if (parser.isSet(QStringLiteral("shot")) && !window.desk().has_session()) {
        std::fprintf(stderr, "kite-peg: --shot needs a project that opens.\n");
        return 2;
    }
    if (parser.isSet(QStringLiteral("shot")))
        return opened && kp::app::shoot(window, parser.value(QStringLiteral("shot"))) ? 0 : 2;
    const int status = QApplication::exec();
    // A thread that still reads a project nobody waits for must not meet a program that is being taken apart.
    if (kp::app::Desk::still_reading()) std::_Exit(status);
    return status;
}
