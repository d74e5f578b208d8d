// SPDX-License-Identifier: GPL-3.0-or-later
// What the user is doing survives edits and analyses: half-typed text, ticks, the current row, what is folded, the
// history of selections. And every list keeps the rules of Qt's models while it follows.
#include "app/pegs/compare_page.hpp"
#include "app/pegs/pegs_station.hpp"
#include "app/pegs/sheet_model.hpp"
#include "core/planning/place.hpp"
#include "tests/app/harness.hpp"

#include <QAbstractItemModelTester>
#include <QAction>
#include <QComboBox>
#include <QLineEdit>
#include <QTableView>
#include <QTreeView>
#include <QTreeWidget>
#include <gtest/gtest.h>

#include <map>
#include <random>

namespace kp::app::test {
namespace {

/// Text from elsewhere, so that everything is read and analysed again.
Edit more_text(const Session& s, const std::string& line) {
    const auto& file = s.project().constraints.front();
    return {"more text", {TextChange{file.path, file.text.size(), "", line + "\n"}}};
}

QTreeWidgetItem* row(QTreeWidget* list, const QString& starts) {
    for (QTreeWidgetItemIterator at(list); *at; ++at)
        if ((*at)->text(0).startsWith(starts) && (*at)->childCount() == 0) return *at;
    return nullptr;
}

TEST(PageState, HalfATypedPeriodIsNotOverwritten) {
    Driver d;
    d.window.show_station(number_of(Place::tempo));
    auto* period = d.find<QLineEdit>("tempo.clock.period");
    period->selectAll();
    QTest::keyClicks(period, "33.");
    ASSERT_TRUE(d.window.desk().apply(more_text(d.session(), "set_clock_uncertainty 0.3 [all_clocks]")));
    ASSERT_TRUE(d.settle());
    EXPECT_EQ(period->text(), QStringLiteral("33."));
    QTest::keyClicks(period, "5");
    d.click("tempo.clock.write");
    ASSERT_TRUE(d.settle());
    EXPECT_NE(d.session().project().constraints.front().text.find("-period 33.5"), std::string::npos);
    EXPECT_EQ(period->text(), QStringLiteral("33.5"));
}

TEST(PageState, HalfATypedDelayIsNotOverwrittenButGoesWithItsPort) {
    Driver d;
    d.window.show_station(number_of(Place::tempo));
    auto* port = d.find<QComboBox>("tempo.delay.port");
    port->setCurrentText("hold_n");
    auto* latest = d.find<QLineEdit>("tempo.delay.latest");
    const auto was = latest->text();
    latest->selectAll();
    QTest::keyClicks(latest, "7.");
    ASSERT_TRUE(d.window.desk().apply(more_text(d.session(), "set_clock_uncertainty 0.3 [all_clocks]")));
    ASSERT_TRUE(d.settle());
    EXPECT_EQ(latest->text(), QStringLiteral("7."));
    port->setCurrentText("zero_n");
    EXPECT_NE(latest->text(), QStringLiteral("7."));
    port->setCurrentText("hold_n");
    EXPECT_EQ(latest->text(), was);
}

TEST(PageState, AnUntickedRowStaysUnticked) {
    Driver d;
    auto& pegs = *static_cast<PegsStation*>(d.window.station_at(number_of(Place::pegs)));
    auto& page = pegs.compare_page();
    d.window.show_station(number_of(Place::pegs));
    pegs.show_view(PegsStation::compare_view);
    // A file that is gone a moment later: it was read when it was chosen.
    QFile file(d.path("sheet.csv"));
    ASSERT_TRUE(file.open(QIODevice::WriteOnly));
    file.write("port,pin\ntone,113\nhold_n,114\nzero_n,115\n");
    file.close();
    page.compare(ComparePage::With::sheet, d.path("sheet.csv"));
    ASSERT_EQ(page.proposals().size(), 3u);
    ASSERT_TRUE(file.remove());
    auto* list = d.find<QTreeWidget>("compare.list");
    list->topLevelItem(1)->setCheckState(0, Qt::Unchecked);
    const auto name = list->topLevelItem(1)->text(1);
    ASSERT_TRUE(d.window.desk().apply(unpeg_edit(d.session().project(), "raw[0]")));
    ASSERT_TRUE(d.window.desk().apply(more_text(d.session(), "set_clock_uncertainty 0.3 [all_clocks]")));
    ASSERT_TRUE(d.settle());
    ASSERT_EQ(page.proposals().size(), 3u);
    for (int i = 0; i < 3; ++i)
        EXPECT_EQ(list->topLevelItem(i)->checkState(0) == Qt::Checked, list->topLevelItem(i)->text(1) != name);
    page.take_ticked();
    EXPECT_EQ(page.proposals().size(), 1u);
    EXPECT_EQ(list->topLevelItem(0)->text(1), name);
    EXPECT_EQ(list->topLevelItem(0)->checkState(0), Qt::Unchecked);
}

TEST(PageState, SlackKeepsItsRowAndLeavesTheHistoryAlone) {
    Driver d;
    d.window.show_station(number_of(Place::slack));
    auto* list = d.find<QTreeView>("slack.list");
    list->setCurrentIndex(list->model()->index(9, 0));
    const auto name = list->model()->index(9, 2).data().toString();
    auto& desk = d.window.desk();
    desk.select({QStringLiteral("port"), QStringLiteral("tone"), {}});
    const bool back = desk.can_back();
    ASSERT_TRUE(desk.apply(unpeg_edit(d.session().project(), "raw[0]")));
    ASSERT_TRUE(desk.apply(more_text(d.session(), "set_clock_uncertainty 0.3 [all_clocks]")));
    ASSERT_TRUE(d.settle());
    EXPECT_EQ(list->currentIndex().siblingAtColumn(2).data().toString(), name);
    EXPECT_EQ(desk.selection().name, QStringLiteral("tone"));
    EXPECT_EQ(desk.can_back(), back);
    d.window.show_station(number_of(Place::findings));
    d.window.show_station(number_of(Place::slack));
    EXPECT_EQ(desk.selection().name, QStringLiteral("tone"));
}

TEST(PageState, FindingsKeepTheirRowTheirFoldsAndWhatIsTyped) {
    Driver d;
    auto& desk = d.window.desk();
    Edit loose{"unpeg some", {}};
    for (const char* port : {"tone", "raw[0]", "raw[1]"})
        for (const auto& change : unpeg_edit(d.session().project(), port).changes) loose.changes.push_back(change);
    ASSERT_TRUE(desk.apply(loose));
    ASSERT_TRUE(d.settle());
    d.window.show_station(number_of(Place::findings));
    auto* list = d.find<QTreeWidget>("findings.list");
    auto* one = row(list, "L11");
    ASSERT_NE(one, nullptr) << list->topLevelItemCount();
    list->setCurrentItem(one);
    const auto line = one->text(0);
    auto* reason = d.find<QLineEdit>("findings.reason");
    QTest::keyClicks(reason, "because it is");
    auto* fold = list->topLevelItem(list->topLevelItemCount() - 1);
    fold->setExpanded(fold == one->parent());
    const auto folded = fold->text(0);
    ASSERT_TRUE(desk.apply(more_text(d.session(), "set_clock_uncertainty 0.3 [all_clocks]")));
    ASSERT_TRUE(d.settle());
    ASSERT_NE(list->currentItem(), nullptr);
    EXPECT_EQ(list->currentItem()->text(0), line);
    EXPECT_EQ(reason->text(), QStringLiteral("because it is"));
    for (int i = 0; i < list->topLevelItemCount(); ++i)
        if (list->topLevelItem(i)->text(0) == folded)
            EXPECT_EQ(list->topLevelItem(i)->isExpanded(), list->topLevelItem(i) == list->currentItem()->parent());
}

TEST(PageState, TheRunsThatWereChosenStayChosen) {
    Driver d;
    auto& desk = d.window.desk();
    auto* runs = d.find<QTreeWidget>("log.runs");
    d.window.show_station(number_of(Place::log));
    for (int i = 0; i < 3; ++i) {
        ASSERT_TRUE(
            desk.apply(more_text(d.session(), "set_clock_uncertainty 0." + std::to_string(i + 1) + " [all_clocks]")));
        ASSERT_TRUE(d.settle());
        ASSERT_TRUE(d.wait([&] { return runs->topLevelItemCount() == i + 2; }));
    }
    runs->clearSelection();
    runs->topLevelItem(3)->setSelected(true);
    const auto chosen = runs->topLevelItem(3)->text(0);
    ASSERT_TRUE(desk.apply(unpeg_edit(d.session().project(), "tone")));
    ASSERT_TRUE(d.wait([&] { return runs->topLevelItemCount() == 5; }));
    ASSERT_EQ(runs->selectedItems().size(), 1);
    EXPECT_EQ(runs->selectedItems().front()->text(0), chosen);
}

TEST(PageState, APageIsShownAnewOnlyForWhatItDependsOn) {
    Driver d;
    const auto cares = [&](Place place) { return d.window.station_at(number_of(place))->cares(); };
    EXPECT_EQ(cares(Place::slack) & (News::plan | News::waivers | News::settings), 0u);
    EXPECT_EQ(cares(Place::tempo) & (News::waivers | News::settings), 0u);
    EXPECT_EQ(cares(Place::findings) & News::document, 0u);
    EXPECT_NE(cares(Place::findings) & News::findings, 0u);
    EXPECT_EQ(news_of({"w", {WaiverChange{}}}), unsigned(News::document | News::findings | News::waivers));
    EXPECT_EQ(news_of({"f", {FieldChange{"part", "", ""}}}), unsigned(News::all));
}

TEST(Models, KeepTheRulesOfQtWhileTheyFollow) {
    Driver d;
    auto& desk = d.window.desk();
    using Mode = QAbstractItemModelTester::FailureReportingMode;
    std::vector<std::unique_ptr<QAbstractItemModelTester>> testers;
    for (const char* name : {"findings.list", "compare.list", "log.runs", "tempo.delays", "tempo.coverage.list"})
        testers.push_back(std::make_unique<QAbstractItemModelTester>(d.find<QTreeWidget>(name)->model(), Mode::Fatal));
    testers.push_back(
        std::make_unique<QAbstractItemModelTester>(d.find<QTreeView>("slack.list")->model(), Mode::Fatal));
    SheetModel sheet(desk);
    sheet.refresh();
    testers.push_back(std::make_unique<QAbstractItemModelTester>(&sheet, Mode::Fatal));
    std::mt19937 random(11);
    const auto& ports = d.session().world().netlist.ports;
    for (int i = 0; i < 40; ++i) {
        const auto& port = ports[random() % ports.size()].name;
        const auto& p = d.session().project();
        if (i % 8 == 7) {
            ASSERT_TRUE(
                desk.apply(more_text(d.session(), "set_clock_uncertainty 0." + std::to_string(i) + " [all_clocks]")));
            ASSERT_TRUE(d.settle());
        } else if (i % 4 == 3) {
            desk.undo();
        } else if (p.pegs.contains(port)) {
            ASSERT_TRUE(desk.apply(unpeg_edit(p, port)));
        } else {
            ASSERT_TRUE(desk.apply({"waive", {WaiverChange{{"L11", {port}, "r", "me", ""}, true}}}));
        }
        d.window.show_station(static_cast<int>(random() % 7));
        d.find<QLineEdit>("slack.filter")->setText(i % 5 == 0 ? QStringLiteral("count") : QString());
        sheet.refresh();
    }
    ASSERT_TRUE(d.settle());
}

TEST(Commands, NoTwoShareAKeyAndEachHasWords) {
    Driver d;
    std::map<QString, QString> of_key;
    for (auto* action : d.window.findChildren<QAction*>()) {
        if (action->objectName().isEmpty()) continue;
        EXPECT_FALSE(action->text().isEmpty()) << action->objectName().toStdString();
        for (const auto& key : action->shortcuts()) {
            const auto [at, fresh] = of_key.emplace(key.toString(), action->objectName());
            EXPECT_TRUE(fresh) << key.toString().toStdString() << ": " << at->second.toStdString() << " and "
                               << action->objectName().toStdString();
        }
    }
    EXPECT_GT(of_key.size(), 20u);
}

TEST(Edits, OfInputsComeInTheirOrderAndAreUndoneInIt) {
    Driver d;
    auto& desk = d.window.desk();
    const auto sdf = d.session().project().delays;
    ASSERT_TRUE(desk.apply({"no delays", {set_field(d.session().project(), "delays", "")}}));
    EXPECT_TRUE(desk.preparing());
    // While it is read, more is done; that waits for it.
    ASSERT_TRUE(desk.apply(unpeg_edit(d.session().project(), "tone")));
    EXPECT_EQ(d.session().project().delays, sdf);
    ASSERT_TRUE(d.settle());
    EXPECT_TRUE(d.session().project().delays.empty());
    EXPECT_FALSE(d.session().project().pegs.contains("tone"));
    EXPECT_EQ(d.session().document().done().front().title, "no delays");
    desk.undo();
    desk.undo();
    ASSERT_TRUE(d.settle());
    EXPECT_EQ(d.session().project().delays, sdf);
    EXPECT_TRUE(d.session().project().pegs.contains("tone"));
}

}  // namespace
}  // namespace kp::app::test
