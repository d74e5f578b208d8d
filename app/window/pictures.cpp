// SPDX-License-Identifier: GPL-3.0-or-later
// One function a station; what a station needs to be in the right state is done by its own commands.
#include "app/window/pictures.hpp"

#include "app/bench/bench_station.hpp"
#include "app/bench/proof_page.hpp"
#include "app/bench/wires_page.hpp"
#include "app/log/build_page.hpp"
#include "app/pegs/lines_page.hpp"
#include "app/pegs/out_page.hpp"
#include "app/pegs/pegs_station.hpp"
#include "app/site/folder_page.hpp"
#include "app/site/new_page.hpp"
#include "app/site/site_station.hpp"
#include "app/site/table_page.hpp"
#include "app/tempo/tempo_station.hpp"
#include "app/window/main_window.hpp"
#include "core/format/lines/pattern_json.hpp"
#include "core/inputs/data_folder.hpp"

#include <QAction>
#include <QComboBox>
#include <QCoreApplication>
#include <QDir>
#include <QElapsedTimer>
#include <QEventLoop>
#include <QFile>
#include <QLineEdit>
#include <QTemporaryDir>
#include <QTreeWidget>
#include <cstdio>
#include <functional>

namespace kp::app {

namespace {

/// Board time passes in the event loop; a picture wants some of it to have passed.
void settle(int ms) {
    QElapsedTimer timer;
    timer.start();
    while (timer.elapsed() < ms) QCoreApplication::processEvents(QEventLoop::AllEvents, 20);
}

/// The project's board as a table that somebody could have pasted, with two rows that cannot be right.
QString board_as_table(const Session& session) {
    QString out = QStringLiteral("Component\tSignal\tFPGA ball\tDir\tI/O standard\tTrace (mil)\tSeries R\n");
    const auto& board = session.world().board;
    int row = 0;
    for (const auto& net : board.nets) {
        const auto at = board.at_terminal(net.terminal);
        const char* way = at.terminal->direction == TerminalDirection::drives  ? "in"
                          : at.terminal->direction == TerminalDirection::reads ? "out"
                                                                               : "inout";
        const bool wrong = ++row == 5 || row == 9;
        out += QString::fromStdString(
            at.part->ref + "\t" + at.terminal->name + "\t" + (wrong ? "Z" + net.pin : net.pin) + "\t" + way + "\t" +
            at.terminal->standard + "\t" + std::to_string(static_cast<int>(net.trace_mm / 0.0254)) + "\t" +
            (net.series_ohm > 0 ? std::to_string(static_cast<int>(net.series_ohm)) : "") + "\n");
    }
    return out;
}

/// A PNG of each station; true when all could be written.
using Take = std::function<void(const char*)>;

void shoot_site(MainWindow& window, const Take& take) {
    window.show_station(0);
    take("site");
    auto& site = *static_cast<SiteStation*>(window.station_at(0));
    site.show_page(1);
    for (const auto& [id, words] : {std::pair{"new.folder", "/home/me/my kites"}, std::pair{"new.name", "profiler"}})
        if (auto* line = window.findChild<QLineEdit*>(QLatin1String(id))) line->setText(QLatin1String(words));
    if (auto* board = window.findChild<QComboBox*>(QStringLiteral("new.board")))
        board->setCurrentIndex(board->findData(QStringLiteral("saltmarsh")));
    site.new_page().add_sources(
        {QString::fromStdString(join_path(window.desk().session().document().folder(), "profiler_shell.vhd"))});
    take("new");
    site.show_page(2);
    site.table_page().show_text(board_as_table(window.desk().session()), QStringLiteral("clipboard"));
    take("table");
    site.show_page(4);
    site.folder_page().look(QString::fromStdString(window.desk().session().document().folder()));
    settle(1000);
    take("folder");
    site.show_page(0);
}

/// The pads of the demo's board as its manual might list them, with the pattern that reads them.
void shoot_lines(PegsStation& pegs, const Take& take) {
    const auto example = data_folder() + "/../docs/examples/tussock-pads.";
    const auto text = real_disk().read(example + "txt"), learned = real_disk().read(example + "lines.json");
    if (!text || !learned) return;  // an installed program brings no examples
    const auto pattern = lines::read_pattern(learned.value(), "example");
    if (!pattern) return;
    pegs.show_view(PegsStation::lines_view);
    pegs.lines_page().use(pattern.value());
    pegs.lines_page().show_text(QString::fromStdString(text.value()), QStringLiteral("tussock-pads.txt"));
    settle(600);
    take("lines");
}

void shoot_pegs(MainWindow& window, const Take& take) {
    auto& pegs = *static_cast<PegsStation*>(window.station_at(1));
    window.show_station(1);
    pegs.show_view(0);
    // A port with something to tell: one that a finding names.
    const auto& session = window.desk().session();
    QString port = session.world().netlist.ports.empty()
                       ? QString()
                       : QString::fromStdString(session.world().netlist.ports[0].name);
    bool told = false;
    for (const auto& f : session.findings())
        for (const auto& o : f.objects)
            if (!told && f.rule == "L08" && f.severity == Severity::stop && o.kind == Subject::port) {
                port = QString::fromStdString(o.name);
                told = true;
            }
    if (!port.isEmpty()) window.desk().select({QStringLiteral("port"), port});
    take("loom");
    pegs.show_view(1);
    take("footprint");
    pegs.show_view(2);
    take("sheet");
    pegs.show_view(3);
    // With the plan where it leads, when that lies beside it; else with a stand-in build.
    const auto closed = QString::fromStdString(session.document().path())
                            .replace(QStringLiteral(".kpeg"), QStringLiteral("-closed.kpeg"));
    if (QFile::exists(closed))
        pegs.compare_page().compare(ComparePage::With::project, closed);
    else
        pegs.compare_page().compare(ComparePage::With::stand_in);
    take("compare");
    pegs.show_view(4);
    pegs.out_page().choose(OutPage::own);
    take("out");
    shoot_lines(pegs, take);
    if (auto* place = window.findChild<QAction*>(QStringLiteral("pegs.place"))) place->trigger();
    settle(2500);
    take("places");
    if (!session.world().part.lane_blocks.empty()) {
        if (auto* solve = window.findChild<QAction*>(QStringLiteral("lanes.solve"))) solve->trigger();
        settle(2500);
        take("lanes");
    }
    pegs.show_view(0);
}

/// The lenses of Tempo that are drawn.
void shoot_lenses(MainWindow& window, const Take& take) {
    auto& tempo = *static_cast<TempoStation*>(window.station_at(3));
    tempo.show_lens(TempoStation::budget_lens);
    take("tempo-budgets");
    tempo.show_lens(TempoStation::recipe_lens);
    if (auto* want = window.findChild<QLineEdit*>(QStringLiteral("tempo.recipe.want"))) {
        want->setText(QStringLiteral("100 125 150"));
        emit want->returnPressed();
        settle(600);
    }
    take("tempo-recipes");
    tempo.show_lens(TempoStation::command_lens);
    take("tempo-commands");
    if (auto* draft = window.findChild<QAction*>(QStringLiteral("tempo.draft"))) draft->trigger();
    settle(1500);
    take("tempo-draft");
    tempo.show_lens(TempoStation::clock_lens);
}

/// A build, and the way of its worst path over the die.
void shoot_build(MainWindow& window, const Take& take) {
    auto* start = window.findChild<QAction*>(QStringLiteral("build.start"));
    auto* page = window.findChild<BuildPage*>(QStringLiteral("build"));
    if (!start || !page) return;
    start->trigger();
    for (int k = 0; k < 300 && page->working(); ++k) settle(100);
    if (auto* paths = window.findChild<QTreeWidget*>(QStringLiteral("build.paths"));
        paths && paths->topLevelItemCount())
        paths->setCurrentItem(paths->topLevelItem(0));
    take("build");
}

}  // namespace

bool shoot(MainWindow& window, const QString& folder) {
    if (!QDir().mkpath(folder)) {
        std::fprintf(stderr, "kite-peg: %s: cannot be made; give --shot a folder for the pictures.\n",
                     qUtf8Printable(folder));
        return false;
    }
    QDir().mkpath(folder);
    bool good = true;
    const Take take = [&](const char* name) {
        settle(150);
        good = window.grab().save(folder + '/' + QLatin1String(name) + QStringLiteral(".png")) && good;
    };
    shoot_site(window, take);
    shoot_pegs(window, take);
    auto& bench = *static_cast<BenchStation*>(window.station_at(5));
    const auto& session = window.desk().session();
    window.show_station(2);
    take("findings");
    window.show_station(3);
    take("tempo");
    shoot_lenses(window, take);
    window.show_station(4);
    if (auto* line = window.findChild<QLineEdit*>(QStringLiteral("slack.whatif"));
        line && !session.analysis().constraints().clocks.empty()) {
        line->setText(QStringLiteral("set_clock_uncertainty 0.5 [all_clocks]"));
        emit line->returnPressed();
        settle(1000);
    }
    take("slack");
    if (auto* cures = window.findChild<QAction*>(QStringLiteral("slack.cures"))) cures->trigger();
    settle(4000);
    take("slack-what-if");
    window.show_station(5);
    bench.load();
    for (const auto& part : session.world().board.parts)
        if (part.kind == "vane") bench.work(part.ref, "position", "6");
    bench.proof().prove();
    settle(2500);
    take("bench");
    for (const int page : {1, 2}) {
        bench.show_side(page);
        if (page == 2) bench.wires().test_wires();
        take(page == 1 ? "bench-power" : "bench-wires");
    }
    bench.show_side(0);
    window.show_station(6);
    take("log");
    shoot_build(window, take);
    if (!good)
        std::fprintf(stderr, "kite-peg: %s: not all pictures could be written; is there room on the disk?\n",
                     qUtf8Printable(folder));
    return good;
}

}  // namespace kp::app
