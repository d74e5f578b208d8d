// SPDX-License-Identifier: GPL-3.0-or-later
// Site as a user meets it: a new project, a pasted table, a file that changes on disk, a code that is nearly right.
#include "app/paint/board_view.hpp"
#include "app/shell/chooser.hpp"
#include "app/site/cards.hpp"
#include "app/site/files_card.hpp"
#include "app/site/new_page.hpp"
#include "app/site/site_station.hpp"
#include "app/site/table_page.hpp"
#include "core/model/by_hand.hpp"
#include "core/inputs/new_project.hpp"
#include "tests/app/harness.hpp"

#include <QClipboard>
#include <QDir>
#include <QComboBox>
#include <QLineEdit>
#include <QListWidget>
#include <QTableWidget>
#include <QTreeWidget>

namespace kp::app::test {
namespace {

SiteStation& site(Driver& d) {
    return *static_cast<SiteStation*>(d.window.station_at(0));
}

void write(const QString& path, const QByteArray& text) {
    QFile f(path);
    ASSERT_TRUE(f.open(QIODevice::WriteOnly));
    f.write(text);
}
QByteArray content(const QString& path) {
    QFile f(path);
    EXPECT_TRUE(f.open(QIODevice::ReadOnly)) << path.toStdString();
    return f.readAll();
}

TEST(NewProject, IsMadeOnOnePageAndOpened) {
    Driver d(false);
    d.act("project.new");
    auto* folder = d.find<QLineEdit>("new.folder");
    auto* make = d.find<QPushButton>("new.make");
    folder->setText(d.folder.path() + "/fresh");
    EXPECT_FALSE(make->isEnabled()) << "a name is missing";
    d.find<QLineEdit>("new.name")->setText("kite");
    EXPECT_TRUE(make->isEnabled()) << "all else may come later";
    auto* board = d.find<QComboBox>("new.board");
    board->setCurrentIndex(board->findData("saltmarsh"));
    EXPECT_EQ(d.find<QComboBox>("new.part")->currentText(), "SKR23-B256-MN") << "the board brings its part";
    site(d).new_page().add_sources({QStringLiteral(KP_SOURCE "/demo/profiler/profiler_shell.vhd")});
    d.click("new.make");
    ASSERT_TRUE(d.window.desk().has_session());
    EXPECT_EQ(d.session().world().netlist.ports.size(), 149u);
    EXPECT_EQ(d.session().world().language, "vhdl");
    EXPECT_TRUE(QFile::exists(d.folder.path() + "/fresh/profiler_shell.vhd")) << "copied in";
    EXPECT_EQ(d.find<QTreeWidget>("site.files")->topLevelItemCount(), 4);
}

TEST(BoardByHand, ADragMovesAPartAndUndoPutsItBack) {
    Driver d;
    d.window.show_station(0);
    auto* card = d.window.findChild<BoardCard*>();
    ASSERT_TRUE(card);
    const auto& board = d.session().world().board;
    const BoardPart* lamps = nullptr;
    for (const auto& part : board.parts)
        if (part.kind == "lamp") lamps = &part;
    ASSERT_TRUE(lamps);
    const auto ref = lamps->ref;
    const BoardMap map(board, QRectF(card->rect()).adjusted(16, 38, -16, -16));
    const auto at = map.rect(*lamps).center().toPoint();
    // A click is not a move.
    QTest::mouseClick(card, Qt::LeftButton, {}, at);
    EXPECT_TRUE(d.session().project().part_places.empty());
    EXPECT_EQ(d.window.desk().selection(), (Selection{"part", QString::fromStdString(ref)}));
    const double by = lamps->x > board.width_mm / 2 ? -40 : 40;
    Driver::drag(card, at, at + QPoint(static_cast<int>(by), 0));
    ASSERT_TRUE(d.session().project().part_places.contains(ref));
    EXPECT_NEAR(place_of(*lamps, d.session().project()).first, lamps->x + by / map.scale, 0.1);
    d.window.desk().undo();
    EXPECT_TRUE(d.session().project().part_places.empty());
    // By keyboard, and back to where the board has it.
    card->setFocus();
    QTest::keyClick(card, by < 0 ? Qt::Key_Left : Qt::Key_Right, Qt::AltModifier);
    EXPECT_NEAR(place_of(*lamps, d.session().project()).first, lamps->x + by / 40, 0.051);
    QTest::keyClick(card, Qt::Key_Home, Qt::AltModifier);
    EXPECT_TRUE(d.session().project().part_places.empty());
}

TEST(BoardByHand, NotesOrderAndTicksAreTypedInOneLine) {
    Driver d;
    d.window.show_station(0);
    auto* chooser = d.window.findChild<Chooser*>();
    auto* line = chooser->findChild<QLineEdit*>();
    const auto type = [&](const char* action, const char* text) {
        d.act(action);
        line->setText(QString());
        QTest::keyClicks(line, text);
        QTest::keyClick(line, Qt::Key_Return);
    };
    const auto& board = d.session().world().board;
    const BoardPart* keys = nullptr;
    for (const auto& part : board.parts)
        if (part.terminals.size() > 2) keys = &part;
    ASSERT_TRUE(keys);
    const auto ref = keys->ref;
    d.window.desk().select({"part", QString::fromStdString(ref)});
    type("site.part_note", "glue it down");
    EXPECT_EQ(d.session().project().part_notes.at(ref), "glue it down");
    // Opened again the line holds it; Enter keeps it as it is.
    d.act("site.part_note");
    EXPECT_EQ(line->text(), QStringLiteral("glue it down"));
    QTest::keyClick(line, Qt::Key_Return);
    EXPECT_EQ(d.session().project().part_notes.at(ref), "glue it down");
    type("site.before_power", "bring gloves");
    EXPECT_EQ(d.session().project().power_notes, std::vector<std::string>{"[ ] bring gloves"});
    type("site.before_power", "gloves");
    EXPECT_EQ(d.session().project().power_notes, std::vector<std::string>{"[x] bring gloves"}) << "found, so ticked";
    d.window.desk().select({"part", QString::fromStdString(ref)});
    d.act("site.part_order");
    line->setText(QStringLiteral("nonsense"));
    QTest::keyClick(line, Qt::Key_Return);
    EXPECT_TRUE(d.session().project().part_orders.empty()) << "no such terminal";
    const auto names = terminals_in_order(*keys);
    d.act("site.part_order");
    line->setText(QStringLiteral("reverse"));
    QTest::keyClick(line, Qt::Key_Down);
    QTest::keyClick(line, Qt::Key_Return);
    ASSERT_TRUE(d.settle());
    ASSERT_TRUE(d.session().project().part_orders.contains(ref));
    for (const auto& part : d.session().world().board.parts)
        if (part.ref == ref) EXPECT_EQ(terminals_in_order(part).front(), names.back());
}

TEST(NewProject, TheEmptyWindowOffersBothWaysIn) {
    Driver d(false);
    d.picture("empty");
    int offered = 0;
    for (auto* b : d.window.findChildren<QPushButton*>())
        if (b->isVisible() && (b->text() == "New project…" || b->text() == "Open a project…")) ++offered;
    EXPECT_EQ(offered, 2);
}

TEST(NewProject, LeftHalfDoneIsThereAgain) {
    Driver d(false);
    d.act("project.new");
    d.find<QLineEdit>("new.folder")->setText(d.folder.path() + "/a place");
    d.find<QLineEdit>("new.name")->setText("2 kites");
    site(d).show_page(0);
    Driver again(false);
    again.act("project.new");
    EXPECT_EQ(again.find<QLineEdit>("new.name")->text(), "2 kites");
    // Names that other tools stumble over are told, with a better one at hand.
    bool offered = false;
    for (auto* b : again.window.findChildren<QPushButton*>())
        if (b->text() == "Take n2_kites") {
            offered = true;
            b->click();
        }
    ASSERT_TRUE(offered);
    EXPECT_TRUE(again.wait([&] { return again.find<QLineEdit>("new.name")->text() == "n2_kites"; }));
}

TEST(Table, PastedRowsBecomeABoard) {
    Driver d;
    QString text = "Component\tSignal\tPin\tDir\tStandard\n";
    const char* pins[] = {"2", "3", "4", "5", "8", "9"};
    for (int i = 0; i < 6; ++i)
        text += QStringLiteral("LED%1\tlamp%1\t%2\tout\t3.3\n").arg(i).arg(QLatin1String(pins[i]));
    text += "KEY1\tgo\t999\tin\t3.3\n";
    d.act("site.table");
    QApplication::clipboard()->setText(text);
    site(d).table_page().show_text(text, "clipboard");
    auto* troubles = d.find<QListWidget>("table.troubles");
    ASSERT_EQ(troubles->count(), 1);
    EXPECT_TRUE(troubles->item(0)->text().startsWith("line 8: The part has no pin 999."));
    auto* cells = d.find<QTableWidget>("table.cells");
    troubles->setCurrentRow(0);
    EXPECT_EQ(cells->currentRow(), 7);
    // The rows and the row above them that says what the columns are.
    EXPECT_EQ(cells->rowCount(), 8);
    d.find<QLineEdit>("table.name")->setText("My table");
    d.click("table.make");
    EXPECT_TRUE(QFile::exists(d.path("my_table.board.json")));
    ASSERT_TRUE(d.settle());
    EXPECT_EQ(d.session().project().board, "my_table");
    EXPECT_EQ(d.session().world().board.nets.size(), 6u);
    d.act("edit.undo");
    ASSERT_TRUE(d.settle());
    EXPECT_EQ(d.session().project().board, "tussock");
}

TEST(Table, ARoleIsGivenOnceAndRemembered) {
    Driver d;
    d.act("site.table");
    const QString text = "what\twhere\twho\nlamp0\t2\tD1\nlamp1\t3\tD1\n";
    auto& page = site(d).table_page();
    page.show_text(text, "clipboard");
    auto* cells = d.find<QTableWidget>("table.cells");
    auto* third = qobject_cast<QComboBox*>(cells->cellWidget(0, 2));
    ASSERT_NE(third, nullptr);
    third->setCurrentIndex(static_cast<int>(table::Role::part));
    emit third->activated(static_cast<int>(table::Role::part));
    ASSERT_TRUE(page.draft().has_value());
    EXPECT_TRUE(page.draft()->board.at_terminal("D1.lamp1"));
    d.find<QLineEdit>("table.name")->setText("kept");
    d.click("table.make");
    page.show_text(text, "clipboard");
    EXPECT_EQ(qobject_cast<QComboBox*>(cells->cellWidget(0, 2))->currentIndex(), static_cast<int>(table::Role::part))
        << "the mapping for these headings is remembered";
}

TEST(Watching, AChangedFileIsOfferedAndTakenOnlyThen) {
    Driver d;
    QFile::setPermissions(d.path("vane.v"), QFile::ReadOwner | QFile::WriteOwner);
    QFile::setPermissions(d.path("clocks.sdc"), QFile::ReadOwner | QFile::WriteOwner);
    auto text = content(d.path("vane.v"));
    text.replace("tone", "buzz");
    write(d.path("vane.v"), text);
    auto* again = d.find<QPushButton>("site.again");
    ASSERT_TRUE(d.wait([&] { return !again->isHidden(); }));
    EXPECT_EQ(again->text(), "1 file changed on disk…");
    EXPECT_TRUE(d.session().project().pegs.contains("tone"));
    again->click();
    ASSERT_TRUE(d.settle());
    auto* list = d.find<QTreeWidget>("reread.list");
    ASSERT_GE(list->topLevelItemCount(), 1);
    EXPECT_TRUE(list->topLevelItem(0)->text(0).startsWith("Renamed, it seems: tone is now buzz"));
    EXPECT_EQ(list->topLevelItem(0)->checkState(0), Qt::Checked);
    d.picture("reread");
    d.click("reread.take");
    EXPECT_FALSE(d.session().project().pegs.contains("tone"));
    EXPECT_EQ(d.session().project().pegs.at("buzz").pin, "112");
    EXPECT_TRUE(again->isHidden());
}

TEST(Watching, ConstraintTextFromDiskIsAnEditThatCanBeUndone) {
    Driver d;
    const auto before = d.session().project().constraints[0].text;
    write(d.path("clocks.sdc"), "create_clock -name osc_20 -period 50 [get_ports osc_20]\n");
    ASSERT_TRUE(d.wait([&] { return !d.find<QPushButton>("site.again")->isHidden(); }));
    EXPECT_EQ(d.session().project().constraints[0].text, before);
    d.act("site.reread");
    ASSERT_TRUE(d.settle());
    d.click("reread.take");
    EXPECT_EQ(d.session().project().constraints[0].text, "create_clock -name osc_20 -period 50 [get_ports osc_20]\n");
    d.act("edit.undo");
    EXPECT_EQ(d.session().project().constraints[0].text, before);
}

TEST(Files, AreTakenInAndOutWithUndo) {
    Driver d;
    write(d.folder.path() + "/more.sdc", "set_load 1 [get_ports tone]\n");
    auto* list = d.find<QTreeWidget>("site.files");
    const int before = list->topLevelItemCount();
    SdcFile more;
    more.path = "more.sdc";
    more.text = "set_load 1 [get_ports tone]\n";
    ASSERT_TRUE(d.window.desk().apply(Edit{"add more.sdc", {SdcFileChange{std::nullopt, more}}}));
    EXPECT_EQ(list->topLevelItemCount(), before + 1);
    for (int i = 0; i < list->topLevelItemCount(); ++i)
        if (list->topLevelItem(i)->text(0) == "more.sdc") list->setCurrentItem(list->topLevelItem(i));
    d.click("site.takeout");
    EXPECT_EQ(list->topLevelItemCount(), before);
    d.act("edit.undo");
    EXPECT_EQ(d.session().project().constraints.back().text, more.text);
}

TEST(Files, SeveralTopsAreAskedFor) {
    Driver d(false);
    d.act("project.new");
    d.find<QLineEdit>("new.folder")->setText(d.folder.path() + "/two");
    d.find<QLineEdit>("new.name")->setText("two");
    d.click("new.make");
    ASSERT_TRUE(d.window.desk().has_session());
    d.picture("half-done");
    write(d.folder.path() + "/tops.v", "module alpha(input a); endmodule\nmodule beta(input b, c); endmodule\n");
    auto* card = d.window.findChild<FilesCard*>();
    ASSERT_NE(card, nullptr);
    card->add({d.folder.path() + "/tops.v"}, true);
    EXPECT_TRUE(d.session().project().sources.empty()) << "nothing is taken before the top is known";
    auto* chooser = d.window.findChild<Chooser*>();
    ASSERT_TRUE(chooser->isVisible());
    auto* line = chooser->findChild<QLineEdit*>();
    QTest::keyClicks(line, "beta");
    QTest::keyClick(line, Qt::Key_Return);
    ASSERT_TRUE(d.settle());
    ASSERT_EQ(d.session().world().netlist.ports.size(), 2u);
    EXPECT_EQ(d.session().project().top, "beta");
    d.act("edit.undo");
    ASSERT_TRUE(d.settle());
    EXPECT_TRUE(d.session().project().sources.empty());
    EXPECT_TRUE(d.session().project().top.empty());
}

TEST(OrderingCode, ANearMissIsShownLetterByLetterAndTaken) {
    Driver d;
    auto* line = d.find<QLineEdit>("site.code");
    line->setText("SKR11-Q14-MN");
    QTest::keyClick(line, Qt::Key_Return);
    ASSERT_TRUE(d.settle());
    d.picture("near-miss");
    EXPECT_EQ(d.session().project().part, "SKR11-Q144-MN");
    auto* card = d.window.findChild<PartCard*>();
    ASSERT_NE(card, nullptr);
    card->grab();
    bool offered = false;
    QPointF at;
    for (const auto& t : card->drawn())
        if (t.text == "Take SKR11-Q144-MN") {
            offered = true;
            at = t.rect.center();
        }
    ASSERT_TRUE(offered);
    line->setText("SKR11-Q144-H");
    emit line->textEdited(line->text());
    card->grab();
    for (const auto& t : card->drawn()) EXPECT_FALSE(t.cut) << t.text.toStdString();
    QTest::mouseClick(card, Qt::LeftButton, {}, at.toPoint());
    ASSERT_TRUE(d.settle());
    EXPECT_TRUE(d.session().project().part.starts_with("SKR11-Q144-H")) << d.session().project().part;
}

TEST(BoardLabels, FitOnEveryShippedBoard) {
    for (const char* name : {"tussock", "saltmarsh", "headland"}) {
        Driver d;
        ASSERT_TRUE(d.window.desk().apply(Edit{"board", {set_field(d.session().project(), "board", name)}}));
        auto* card = d.window.findChild<BoardCard*>();
        card->grab();
        for (const auto& t : card->drawn()) EXPECT_FALSE(t.cut) << name << ": " << t.text.toStdString();
    }
}

TEST(Table, RowsAreLeftOutCellsMendedAndHeadingsNamed) {
    Driver d;
    d.window.show_station(0);
    auto& site = *static_cast<SiteStation*>(d.window.station_at(0));
    site.show_page(2);
    site.table_page().show_text("a remark,in two,cells\nRef,Signal,Pin\nD9,one,112\nD9,two,Z9\nD9,three,110\n",
                                "t.csv");
    auto* cells = d.find<QTableWidget>("table.cells");
    auto* troubles = d.find<QListWidget>("table.troubles");
    // The second line names the columns.
    cells->setCurrentCell(1, 0);
    d.click("table.heading");
    ASSERT_EQ(cells->horizontalHeaderItem(1)->text(), QStringLiteral("Signal"));
    ASSERT_EQ(cells->rowCount(), 4);
    ASSERT_EQ(troubles->count(), 1);
    // The wrong cell is mended where it stands.
    cells->item(2, 2)->setText("111");
    EXPECT_EQ(troubles->count(), 0);
    cells->item(2, 2)->setText("Z9");
    EXPECT_EQ(troubles->count(), 1);
    // Or its row is left out.
    cells->setCurrentCell(2, 0);
    d.click("table.skip");
    EXPECT_EQ(troubles->count(), 0);
    d.find<QLineEdit>("table.name")->setText("twice");
    d.click("table.make");
    ASSERT_TRUE(QFile::exists(d.path("twice.board.json")));
    ASSERT_TRUE(d.settle());
    EXPECT_EQ(d.session().project().board, "twice");
    // Made once more under its name: asked, then replaced and read again.
    site.show_page(2);
    site.table_page().show_text("Ref,Signal,Pin\nD9,one,112\n", "t.csv");
    d.click("table.make");
    QCoreApplication::processEvents();
    EXPECT_TRUE(d.find<QPushButton>("notice.yes")->isVisible());
    EXPECT_EQ(d.session().world().board.nets.size(), 2u);
    d.click("notice.yes");
    ASSERT_TRUE(d.settle());
    EXPECT_EQ(d.session().world().board.nets.size(), 1u);
}

TEST(Files, ARefusedCopyLeavesNothingBehind) {
    QTemporaryDir from, to;
    const auto write = [&](const char* name, const char* text) {
        QFile f(from.path() + '/' + QLatin1String(name));
        EXPECT_TRUE(f.open(QFile::WriteOnly));
        f.write(text);
        return f.fileName().toStdString();
    };
    Project empty;
    std::vector<std::string> copied;
    const auto broken = write("cells.lib", "library (l) { cell (");
    EXPECT_FALSE(add_files(real_disk(), empty, to.path().toStdString(), {broken}, true, {}, &copied).ok());
    EXPECT_TRUE(QDir(to.path()).isEmpty());
    EXPECT_TRUE(copied.empty());
    const auto good = write("top.v", "module top(input a); endmodule");
    EXPECT_TRUE(add_files(real_disk(), empty, to.path().toStdString(), {good}, true, {}, &copied).ok());
    EXPECT_EQ(copied.size(), 1u) << "for who is refused later";
}

}  // namespace
}  // namespace kp::app::test
