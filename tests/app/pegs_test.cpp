// SPDX-License-Identifier: GPL-3.0-or-later
// Pegs as a user works it: views, attributes, comparing, handing out, and a whole design mapped by keys alone.
#include "app/pegs/attribute_pane.hpp"
#include "app/pegs/compare_page.hpp"
#include "app/pegs/footprint.hpp"
#include "app/pegs/footprint_side.hpp"
#include "app/pegs/loom.hpp"
#include "app/pegs/out_page.hpp"
#include "app/pegs/pegs_station.hpp"
#include "app/pegs/sheet_view.hpp"
#include "core/handoff/adapter.hpp"
#include "core/planning/sheet.hpp"
#include "tests/app/harness.hpp"

#include <QApplication>
#include <QClipboard>
#include <QComboBox>
#include <QElapsedTimer>
#include <QImage>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QTabBar>
#include <QTreeWidget>
#include <QXmlStreamReader>
#include <cmath>

namespace kp::app {
namespace {

using test::Driver;

std::string pin_of(Driver& d, const char* port) {
    const auto at = d.session().project().pegs.find(port);
    return at == d.session().project().pegs.end() ? std::string() : at->second.pin;
}

PegsStation& pegs_of(Driver& d) {
    return *static_cast<PegsStation*>(d.window.station_at(1));
}

void choose(QComboBox* box, const char* data) {
    const int at = box->findData(QLatin1String(data));
    ASSERT_GE(at, 0) << data;
    box->setCurrentIndex(at);
    emit box->activated(at);
}

/// Keys as a hand sends them: to whoever has the focus; without one, to the window.
struct Hands {
    Driver& d;
    int strokes = 0;
    void key(int k, Qt::KeyboardModifiers mods = {}) {
        ++strokes;
        QTest::keyClick(QApplication::focusWidget() ? QApplication::focusWidget() : &d.window, static_cast<Qt::Key>(k),
                        mods);
    }
    void type(const QString& text) {
        strokes += static_cast<int>(text.size());
        QTest::keyClicks(QApplication::focusWidget(), text);
    }
};

TEST(Pegs, AWholeDesignIsMappedByKeysAlone) {
    // All 149 ports of profiler from nothing: proposals from the board's names are taken, the rest is typed. At two key
    // strokes a second five minutes are 600 strokes; three seconds of thought for each typed line come on top.
    Driver d(false);
    for (const char* file : {"profiler-closed.kpeg", "profiler.v", "profiler.sdf", "profiler-closed-clocks.sdc",
                             "profiler-closed-ports.sdc"}) {
        QFile::copy(QStringLiteral(KP_SOURCE "/demo/profiler/") + QLatin1String(file), d.path(file));
        QFile::setPermissions(d.path(file), QFile::ReadOwner | QFile::WriteOwner);
    }
    ASSERT_TRUE(d.window.desk().open(d.path("profiler-closed.kpeg")));
    const auto wanted = d.session().project().pegs;
    Edit clear{"clear", {}};
    for (const auto& [port, peg] : wanted) clear.changes.emplace_back(PegChange{port, peg, std::nullopt});
    for (const auto& [port, a] : d.session().project().attributes)
        clear.changes.emplace_back(AttributeChange{port, a, {}});
    ASSERT_TRUE(d.window.desk().apply(clear));
    ASSERT_TRUE(d.session().project().pegs.empty());
    d.window.activateWindow();
    ASSERT_TRUE(QTest::qWaitForWindowActive(&d.window));

    QElapsedTimer clock;
    clock.start();
    Hands hands{d};
    int lines = 0;
    hands.key(Qt::Key_2, Qt::AltModifier);
    EXPECT_EQ(d.window.station(), 1);
    hands.key(Qt::Key_M, Qt::ControlModifier);
    EXPECT_GT(pegs_of(d).compare_page().proposals().size(), 100u);
    hands.key(Qt::Key_Return, Qt::ControlModifier);
    // What is left or lies elsewhere than it should: typed port by port, as the board's manual says it.
    for (int i = 0; i < 60; ++i) {
        std::string port;
        for (const auto& [name, peg] : wanted)
            if (const auto at = d.session().project().pegs.find(name);
                port.empty() && (at == d.session().project().pegs.end() || at->second.pin != peg.pin))
                port = name;
        if (port.empty()) break;
        ++lines;
        hands.key(Qt::Key_P, Qt::ControlModifier);
        hands.type(QString::fromStdString(port + "=" + wanted.at(port).pin));
        hands.key(Qt::Key_Return);
    }
    for (const auto& [port, peg] : wanted) EXPECT_EQ(pin_of(d, port.c_str()), peg.pin) << port;
    ASSERT_TRUE(d.settle());
    EXPECT_EQ(count(d.session().findings()).stops, 0);
    std::printf("[  keys    ] %d strokes, %d typed lines, %lld ms in the window\n", hands.strokes, lines,
                static_cast<long long>(clock.elapsed()));
    EXPECT_LT(hands.strokes * 0.5 + lines * 3.0, 300.0);
    EXPECT_LT(clock.elapsed(), 60000);
    // What else can be drawn, close by: no word is cut.
    auto& pegs = pegs_of(d);
    pegs.show_view(PegsStation::footprint_view);
    d.window.desk().select({QStringLiteral("port"), QStringLiteral("osc_25"), {}});
    for (const char* extra : {"footprint.pairs", "footprint.bytes", "footprint.regions", "footprint.reach"})
        d.click(extra);
    d.picture("footprint-extras");
    d.window.desk().select({QStringLiteral("bus"), QStringLiteral("mem_dq"), {}});
    pegs.footprint().zoom_to_selection();
    d.picture("footprint-close");
    EXPECT_GT(pegs.footprint().look().zoom, 1.0);
    for (const auto& text : pegs.footprint().drawn())
        EXPECT_FALSE(text.cut && text.rect.left() > 0 && text.rect.right() < pegs.footprint().width())
            << text.text.toStdString();
}

TEST(Pegs, ProposalsAreTakenOneByOneOrAll) {
    Driver d;
    Edit clear{"clear", {}};
    for (const auto& [port, peg] : d.session().project().pegs)
        clear.changes.emplace_back(PegChange{port, peg, std::nullopt});
    d.window.desk().apply(clear);
    d.window.show_station(1);
    d.click("pegs.match");
    auto& page = pegs_of(d).compare_page();
    ASSERT_EQ(page.proposals().size(), 22u);
    EXPECT_TRUE(d.session().project().pegs.empty()) << "a proposal is not a peg";
    auto* list = d.find<QTreeWidget>("compare.list");
    QTest::keyClick(list, Qt::Key_Return);
    EXPECT_EQ(d.session().project().pegs.size(), 1u);
    ASSERT_EQ(page.proposals().size(), 21u);
    list->topLevelItem(0)->setCheckState(0, Qt::Unchecked);
    d.click("compare.take");
    EXPECT_EQ(d.session().project().pegs.size(), 21u);
    for (const auto& [port, peg] : d.session().project().pegs) EXPECT_EQ(peg.origin, "by name");
    d.act("edit.undo");
    EXPECT_EQ(d.session().project().pegs.size(), 1u);
}

TEST(Pegs, AnAdriftPortIsDraggedFromBesideTheFootprint) {
    Driver d;
    auto& pegs = pegs_of(d);
    d.window.desk().select({QStringLiteral("port"), QStringLiteral("tone"), {}});
    pegs.show_view(PegsStation::loom_view);
    d.act("pegs.unpeg");
    EXPECT_EQ(pin_of(d, "tone"), "");
    pegs.show_view(PegsStation::footprint_view);
    QCoreApplication::processEvents();
    auto& footprint = pegs.footprint();
    auto& tray = pegs.footprint_side().tray();
    const auto at = d.session().world().part.by_name.at("113");
    const auto to = tray.mapFromGlobal(footprint.mapToGlobal(footprint.map_now().pins[at].center().toPoint()));
    Driver::drag(&tray, tray.place_of("tone").center().toPoint(), to);
    EXPECT_EQ(pin_of(d, "tone"), "113");
    // And one that the rules refuse stays where it is.
    const auto taken = footprint.map_now().pins[d.session().world().part.by_name.at("46")].center().toPoint();
    Driver::drag(&footprint, footprint.map_now().pins[at].center().toPoint(), taken);
    EXPECT_EQ(pin_of(d, "tone"), "113");
    EXPECT_NE(d.find<QLabel>("status")->text().indexOf("L02"), -1);
}

TEST(Pegs, ABusIsDraggedOntoABoardPartAndTurnedRound) {
    Driver d;
    auto& pegs = pegs_of(d);
    pegs.show_view(PegsStation::loom_view);
    Edit clear{"clear", {}};
    for (const auto& [port, peg] : d.session().project().pegs)
        if (port.starts_with("rose_n")) clear.changes.emplace_back(PegChange{port, peg, std::nullopt});
    d.window.desk().apply(clear);
    QCoreApplication::processEvents();
    auto& loom = pegs.loom();
    const auto& l = loom.layout_now();
    QPoint from, to;
    for (const auto& h : l.headings)
        if (h.bus == "rose_n") from = h.rect.center().toPoint();
    for (const auto& p : l.parts)
        if (p.ref == "D1") to = QPoint(static_cast<int>(p.rect.center().x()), static_cast<int>(p.rect.top()) + 8);
    Driver::drag(&loom, from, to);
    EXPECT_EQ(d.window.desk().selection().kind, QStringLiteral("bus"));
    // rose_n is declared [7:0], the lamps count from 0: in order is the wrong way round, and the board's names tell.
    EXPECT_EQ(d.session().world().board.at_pin(pin_of(d, "rose_n[7]")).net->terminal, "D1.rose0");
    d.act("edit.undo");
    EXPECT_EQ(pin_of(d, "rose_n[7]"), "");
}

TEST(Pegs, SeveralRowsAreSelectedSwappedAndCleared) {
    Driver d;
    auto& pegs = pegs_of(d);
    pegs.show_view(PegsStation::loom_view);
    QCoreApplication::processEvents();
    auto& loom = pegs.loom();
    const auto place = [&](const char* port) { return loom.layout_now().port(port)->rect.center().toPoint(); };
    QTest::mouseClick(&loom, Qt::LeftButton, {}, place("rose_n[0]"));
    QTest::mouseClick(&loom, Qt::LeftButton, Qt::ControlModifier, place("rose_n[1]"));
    EXPECT_EQ(d.window.desk().chosen_ports().size(), 2u);
    const auto a = pin_of(d, "rose_n[0]"), b = pin_of(d, "rose_n[1]");
    d.act("pegs.swap");
    EXPECT_EQ(pin_of(d, "rose_n[0]"), b);
    EXPECT_EQ(pin_of(d, "rose_n[1]"), a);
    d.act("pegs.unpeg");
    EXPECT_EQ(pin_of(d, "rose_n[0]") + pin_of(d, "rose_n[1]"), "");
    d.act("edit.undo");
    EXPECT_EQ(pin_of(d, "rose_n[1]"), a);
    QTest::mouseClick(&loom, Qt::LeftButton, {}, place("rose_n[7]"));
    QTest::mouseClick(&loom, Qt::LeftButton, Qt::ShiftModifier, place("rose_n[4]"));
    EXPECT_EQ(d.window.desk().chosen_ports().size(), 4u);
    QTest::keyClick(&loom, Qt::Key_Down);
    QTest::keyClick(&loom, Qt::Key_Down, Qt::ShiftModifier);
    EXPECT_EQ(d.window.desk().chosen_ports().size(), 2u);
}

TEST(Pegs, AttributesOfSeveralPortsAreOneEdit) {
    Driver d;
    d.window.show_station(1);
    d.window.desk().select(
        {QStringLiteral("port"), QStringLiteral("rose_n[0]"), {QStringLiteral("rose_n[1]"), QStringLiteral("tone")}});
    choose(d.find<QComboBox>("attribute.drive"), "8");
    for (const char* port : {"rose_n[0]", "rose_n[1]", "tone"})
        EXPECT_EQ(d.session().project().attributes.at(port).drive, "8") << port;
    d.act("edit.undo");
    EXPECT_EQ(d.session().project().attributes.at("tone").drive, "");
    // Only what is legal can be chosen, and a standard is marked as chosen.
    d.window.desk().select({QStringLiteral("port"), QStringLiteral("tone"), {}});
    auto* box = d.find<QComboBox>("attribute.standard");
    EXPECT_LT(box->findData(QStringLiteral("LVCMOS 2.5 V")), 0);
    choose(box, "LVTTL 3.3 V");
    EXPECT_EQ(d.session().project().attributes.at("tone").standard, "LVTTL 3.3 V");
    EXPECT_EQ(d.session().project().attributes.at("tone").standard_origin, "chosen");
    EXPECT_FALSE(d.find<QComboBox>("attribute.pull")->isEnabled());
    auto* note = d.find<QComboBox>("attribute.note");
    note->setEditText(QStringLiteral("loud"));
    emit note->lineEdit()->editingFinished();
    EXPECT_EQ(d.session().project().attributes.at("tone").note, "loud");
}

TEST(Sheet, IsTypedPastedFilledAndSorted) {
    Driver d;
    auto& pegs = pegs_of(d);
    pegs.show_view(PegsStation::sheet_view);
    QCoreApplication::processEvents();
    auto& sheet = pegs.sheet();
    auto& model = sheet.sheet();
    const int pin = model.column_of("pin"), drive = model.column_of("drive");
    const auto cell = [&](const char* port, int column) { return sheet.model()->index(model.row_of(port), column); };
    // Typed, by terminal name as well.
    EXPECT_TRUE(sheet.model()->setData(cell("tone", pin), QStringLiteral("113"), Qt::EditRole));
    EXPECT_EQ(pin_of(d, "tone"), "113");
    EXPECT_TRUE(sheet.model()->setData(cell("tone", pin), QStringLiteral("sounder"), Qt::EditRole));
    EXPECT_EQ(pin_of(d, "tone"), "112");
    EXPECT_FALSE(sheet.model()->setData(cell("tone", pin), QStringLiteral("nowhere"), Qt::EditRole));
    EXPECT_FALSE(sheet.model()->setData(cell("tone", drive), QStringLiteral("77"), Qt::EditRole));
    EXPECT_NE(d.find<QLabel>("status")->text().indexOf("tone cannot have the drive strength '77'"), -1);
    // What follows from the board cannot be written.
    EXPECT_FALSE(sheet.model()->flags(cell("tone", model.column_of("bank"))) & Qt::ItemIsEditable);
    // One value into several cells, then taken down by one undo.
    sheet.selectionModel()->clear();
    for (const char* port : {"rose_n[0]", "rose_n[1]", "rose_n[2]"})
        sheet.selectionModel()->select(cell(port, drive), QItemSelectionModel::Select);
    EXPECT_EQ(d.window.desk().chosen_ports().size(), 3u);
    QApplication::clipboard()->setText(QStringLiteral("8"));
    sheet.paste();
    EXPECT_EQ(d.session().project().attributes.at("rose_n[2]").drive, "8");
    d.act("edit.undo");
    EXPECT_EQ(d.session().project().attributes.at("rose_n[2]").drive, "");
    // Rows of a spreadsheet: pins change hands.
    const auto a = pin_of(d, "rose_n[7]"), b = pin_of(d, "rose_n[6]");
    sheet.setCurrentIndex(cell("rose_n[7]", pin));
    sheet.selectionModel()->select(cell("rose_n[7]", pin), QItemSelectionModel::ClearAndSelect);
    QApplication::clipboard()->setText(QString::fromStdString(b + "\n" + a + "\n"));
    sheet.paste();
    EXPECT_EQ(pin_of(d, "rose_n[7]"), b);
    EXPECT_EQ(pin_of(d, "rose_n[6]"), a);
    // Filled down, sorted as people count, filtered by words.
    sheet.model()->setData(cell("rose_n[7]", drive), QStringLiteral("8"), Qt::EditRole);
    sheet.selectionModel()->clear();
    for (const char* port : {"rose_n[7]", "rose_n[6]", "rose_n[5]"})
        sheet.selectionModel()->select(cell(port, drive), QItemSelectionModel::Select);
    sheet.fill_down();
    EXPECT_EQ(d.session().project().attributes.at("rose_n[5]").drive, "8");
    sheet.sortByColumn(model.column_of("port"), Qt::AscendingOrder);
    std::string last;
    for (int r = 0; r < sheet.model()->rowCount(); ++r) {
        const auto port = sheet.model()->index(r, 0).data().toString().toStdString();
        EXPECT_GT(port, last);
        last = port;
    }
    d.find<QLineEdit>("pegs.filter")->setText(QStringLiteral("rose 3.3"));
    EXPECT_EQ(sheet.model()->rowCount(), 8);
}

TEST(Sheet, AsksBeforeATypedPinTakesAnothersPin) {
    Driver d;
    auto& pegs = pegs_of(d);
    pegs.show_view(PegsStation::sheet_view);
    QCoreApplication::processEvents();
    auto& model = pegs.sheet().sheet();
    const auto type = [&](const char* port, const std::string& place) {
        auto* shown = pegs.sheet().model();
        return shown->setData(shown->index(model.row_of(port), model.column_of("pin")), QString::fromStdString(place),
                              Qt::EditRole);
    };
    const auto mine = pin_of(d, "tone"), theirs = pin_of(d, "rose_n[0]");
    EXPECT_FALSE(type("tone", theirs));
    EXPECT_EQ(pin_of(d, "tone"), mine) << "asked first";
    ASSERT_TRUE(d.window.desk().question());
    EXPECT_NE(d.window.desk().question()->sentence.indexOf(QStringLiteral("rose_n[0]")), -1);
    d.window.desk().answer(kp::app::Desk::Answer::other);
    EXPECT_EQ(pin_of(d, "tone"), theirs);
    EXPECT_EQ(pin_of(d, "rose_n[0]"), mine);
    EXPECT_FALSE(type("tone", mine));
    ASSERT_TRUE(d.window.desk().question());
    d.window.desk().answer(true);
    EXPECT_EQ(pin_of(d, "tone"), mine);
    EXPECT_EQ(pin_of(d, "rose_n[0]"), "") << "taken knowingly";
}

TEST(Footprint, TurnsZoomsAndFindsItsPinsInEveryLook) {
    Driver d;
    auto& pegs = pegs_of(d);
    pegs.show_view(PegsStation::footprint_view);
    QCoreApplication::processEvents();
    auto& f = pegs.footprint();
    const auto& part = d.session().world().part;
    const auto first = [&] { return f.map_now().pins[part.by_name.at("1")].center() - f.map_now().body.center(); };
    const auto at = first();
    f.rotate();
    EXPECT_NEAR(first().x(), -at.y(), 1e-6);  // with the clock
    EXPECT_NEAR(first().y(), at.x(), 1e-6);
    f.rotate();
    f.rotate();
    f.rotate();
    EXPECT_NEAR(first().x(), at.x(), 1e-6);
    f.turn_over();
    EXPECT_NEAR(first().x(), -at.x(), 1e-6);
    EXPECT_NEAR(first().y(), at.y(), 1e-6);
    // What lies under the mouse stays there while zooming.
    const auto pin = f.map_now().pins[part.by_name.at("61")].center();
    f.zoom_by(2, pin);
    EXPECT_NEAR(f.map_now().pins[part.by_name.at("61")].center().x(), pin.x(), 1e-6);
    for (size_t i = 0; i < part.pins.size(); ++i)
        EXPECT_EQ(f.map_now().at(f.map_now().pins[i].center()), static_cast<int>(i));
    d.window.desk().select({QStringLiteral("port"), QStringLiteral("tone"), {}});
    f.zoom_to_selection();
    EXPECT_TRUE(f.rect().contains(f.map_now().pins[part.by_name.at("112")].center().toPoint()));
    f.show_all();
    EXPECT_EQ(f.look().zoom, 1);
    // By keys from pin to pin.
    QTest::keyClick(&f, Qt::Key_Down);
    EXPECT_NE(d.window.desk().selection().name, QStringLiteral("tone"));
}

TEST(Footprint, EveryWayOfTellingPinsApartCountsEachOnce) {
    Driver d;
    const PlanView plan(d.session());
    const auto& part = d.session().world().part;
    for (const auto by : {Shade::bank, Shade::kind, Shade::standard, Shade::supply, Shade::slack, Shade::finding}) {
        const Shading s(part, &d.session(), plan, by);
        ASSERT_EQ(s.of_pin.size(), part.pins.size());
        std::vector<int> counts(s.entries.size());
        for (const int e : s.of_pin) {
            ASSERT_GE(e, 0);
            ++counts[static_cast<size_t>(e)];
        }
        for (size_t i = 0; i < counts.size(); ++i)
            EXPECT_TRUE(s.entries[i].count.endsWith(QString::number(counts[i]))) << s.entries[i].name.toStdString();
    }
    // The two ports on one pin and the one against a driver are stops; the pins say so.
    const Shading f(part, &d.session(), plan, Shade::finding);
    EXPECT_EQ(f.entries[static_cast<size_t>(f.of_pin[part.by_name.at("34")])].name, QStringLiteral("stop"));
}

TEST(Footprint, IsWrittenAsDrawingPictureAndPaper) {
    Driver d;
    auto& pegs = pegs_of(d);
    pegs.show_view(PegsStation::footprint_view);
    QCoreApplication::processEvents();
    auto& f = pegs.footprint();
    ASSERT_TRUE(export_footprint(f, d.path("f.svg")).ok());
    QFile svg(d.path("f.svg"));
    ASSERT_TRUE(svg.open(QIODevice::ReadOnly));
    QXmlStreamReader xml(&svg);
    double width = 0;
    while (!xml.atEnd())
        if (xml.readNext() == QXmlStreamReader::StartElement && xml.name() == QLatin1String("svg"))
            width = xml.attributes().value(QLatin1String("width")).toString().remove(QStringLiteral("mm")).toDouble();
    EXPECT_FALSE(xml.hasError()) << xml.errorString().toStdString();
    EXPECT_NEAR(width, f.size_mm(), 0.2) << "a millimetre is a millimetre";
    ASSERT_TRUE(export_footprint(f, d.path("f.png"), 20).ok());
    const QImage image(d.path("f.png"));
    EXPECT_EQ(image.width(), static_cast<int>(std::ceil(f.size_mm() * 20)));
    EXPECT_EQ(image.dotsPerMeterX(), 20000);
    ASSERT_TRUE(export_footprint(f, d.path("f.pdf")).ok());
    EXPECT_GT(QFileInfo(d.path("f.pdf")).size(), 2000);
    EXPECT_NE(export_footprint(f, d.path("f.gif")).first().text.find("none of them"), std::string::npos);
    EXPECT_FALSE(export_footprint(f, QStringLiteral("/nowhere/at/all/f.svg")).ok());
}

TEST(Compare, SheetsReportsAndRunsAreTakenAndKept) {
    Driver d;
    auto& pegs = pegs_of(d);
    pegs.show_view(PegsStation::compare_view);
    auto& page = pegs.compare_page();
    const auto write = [&](const char* name, const std::string& text) {
        ASSERT_TRUE(save_whole(real_disk(), d.path(name).toStdString(), text).ok());
    };
    // A sheet as it was written makes no difference.
    const auto& s = d.session();
    write("same.csv", write_sheet(sheet_rows(s.world().netlist.ports, s.world().part, s.world().board, s.project())));
    page.compare(ComparePage::With::sheet, d.path("same.csv"));
    EXPECT_TRUE(page.proposals().empty());
    // Rows from a spreadsheet, without headings.
    QApplication::clipboard()->setText(QStringLiteral("tone\t113\nnobody\t1\n"));
    d.act("pegs.paste");
    ASSERT_EQ(page.proposals().size(), 2u);
    EXPECT_FALSE(page.proposals()[0].refused.empty());
    page.take_ticked();
    EXPECT_EQ(pin_of(d, "tone"), "113");
    ASSERT_TRUE(d.settle());
    // Pins of a build: kept with the project, so that the sheet shows both.
    write("built.csv", "port,pin\ntone,112\n");
    page.compare(ComparePage::With::report, d.path("built.csv"));
    EXPECT_EQ(page.proposals().front().then, "112");
    d.click("compare.keep");
    ASSERT_TRUE(d.settle());
    ASSERT_EQ(d.session().world().obtained.size(), 1u);
    EXPECT_EQ(d.session().project().pin_report, "built.csv");
    pegs.show_view(PegsStation::sheet_view);
    auto& model = pegs.sheet().sheet();
    EXPECT_EQ(model.index(model.row_of("tone"), model.column_of("obtained")).data().toString(), QStringLiteral("112"));
    EXPECT_FALSE(pegs.sheet().isColumnHidden(model.column_of("obtained")));
    // A run of the log, and a file that is not there.
    ASSERT_TRUE(d.settle());
    pegs.show_view(PegsStation::compare_view);
    page.compare(ComparePage::With::log, QString::number(d.session().log().runs().front().number));
    // Its standard came from the board and went with the pin.
    ASSERT_EQ(page.proposals().size(), 2u);
    EXPECT_EQ(page.proposals()[0].then, "112");
    EXPECT_EQ(page.proposals()[1].field, "standard");
    page.compare(ComparePage::With::sheet, d.path("gone.csv"));
    EXPECT_TRUE(page.proposals().empty());
    page.compare(ComparePage::With::stand_in);
    EXPECT_TRUE(page.proposals().empty()) << "nothing is adrift";
}

TEST(HandOut, IsHeldByStopsAndSaysSoInItsHead) {
    Driver d;
    auto& pegs = pegs_of(d);
    pegs.show_view(PegsStation::out_view);
    auto& out = pegs.out_page();
    for (const auto kind :
         {OutPage::csv, OutPage::markdown, OutPage::html, OutPage::own, OutPage::verilog, OutPage::vhdl}) {
        out.choose(kind);
        EXPECT_GT(out.preview().size(), 100) << kind;
        EXPECT_FALSE(out.write_to(d.path("out.txt"))) << kind;
        EXPECT_FALSE(QFile::exists(d.path("out.txt")));
    }
    QTest::mouseClick(d.find<QWidget>("out.despite"), Qt::LeftButton, {}, {6, 8});
    for (const auto kind :
         {OutPage::csv, OutPage::markdown, OutPage::html, OutPage::own, OutPage::verilog, OutPage::vhdl}) {
        out.choose(kind);
        EXPECT_NE(out.preview().left(500).indexOf(QStringLiteral("open:")), -1)
            << out.preview().left(200).toStdString();
        EXPECT_TRUE(out.write_to(d.path("out.txt"))) << kind;
    }
    // What was written is a sheet that reads back, remark and all.
    out.choose(OutPage::csv);
    const auto sheet = read_sheet(out.preview().toStdString(), "sheet");
    ASSERT_TRUE(sheet.ok());
    EXPECT_EQ(sheet.value().rows.size(), 22u);
    // A template of one's own: seen while it is typed, with its mistakes.
    out.use_template(QStringLiteral("-- {{project}}\n{{#ports}}{{port}} at {{pin}}\n{{/ports}}"), QString());
    EXPECT_EQ(out.preview().section('\n', 0, 1),
              QStringLiteral("-- 3 stops are open: this was written all the same.\n-- vane"));
    EXPECT_NE(out.preview().indexOf(QStringLiteral("tone at ")), -1);
    out.use_template(QStringLiteral("{{#ports}}{{port}}"), QString());
    EXPECT_FALSE(out.write_to(d.path("bad.txt")));
    EXPECT_FALSE(QFile::exists(d.path("bad.txt")));
}

TEST(LoomOrder, RightPegsRunWithoutCrossingAndNoEditMovesARow) {
    Driver d;
    ASSERT_TRUE(d.settle());
    const LoomLayout before(d.session(), 1200, "");
    // Ports on the pin where their name belongs, by height: their pins are in the same order, and so are the terminals.
    std::vector<std::pair<double, double>> threads;
    for (const auto& port : before.ports) {
        if (port.pin_box < 0 || port.port == "rose_n[5]") continue;  // the planted mistake
        const auto& pin = before.pins[static_cast<size_t>(port.pin_box)];
        threads.emplace_back(port.rect.center().y(), pin.rect.center().y());
        ASSERT_GE(pin.terminal, 0) << port.port;
        EXPECT_LT(
            std::abs(before.terminals[static_cast<size_t>(pin.terminal)].rect.center().y() - pin.rect.center().y()), 40)
            << port.port << " is nearly level";
    }
    std::sort(threads.begin(), threads.end());
    EXPECT_TRUE(std::is_sorted(threads.begin(), threads.end(),
                               [](const auto& a, const auto& b) { return a.second < b.second; }));
    // The wrong one sticks out.
    const auto* wrong = before.port("rose_n[5]");
    ASSERT_NE(wrong, nullptr);
    EXPECT_GT(std::abs(before.pins[static_cast<size_t>(wrong->pin_box)].rect.center().y() - wrong->rect.center().y()),
              100);
    ASSERT_TRUE(d.window.desk().apply(
        peg_edit(d.session().project(), d.session().world().board, "rose_n[5]", "59", "by hand")));
    ASSERT_TRUE(d.settle());
    const LoomLayout after(d.session(), 1200, "");
    ASSERT_EQ(after.ports.size(), before.ports.size());
    for (size_t i = 0; i < after.ports.size(); ++i) EXPECT_EQ(after.ports[i].rect, before.ports[i].rect);
    // One interface alone.
    const LoomLayout alone(d.session(), 1200, "part:D1");
    EXPECT_EQ(alone.ports.size(), 8u);
    EXPECT_EQ(alone.parts.size(), 1u);
    EXPECT_EQ(alone.terminals.size(), 8u);
}

}  // namespace
}  // namespace kp::app
