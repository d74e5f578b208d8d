// SPDX-License-Identifier: GPL-3.0-or-later
// The page that takes a folder over: seen first, made then, merged later.
#include "app/site/folder_page.hpp"
#include "app/site/site_station.hpp"
#include "tests/app/harness.hpp"

#include <QComboBox>
#include <QDir>
#include <QLabel>
#include <QTreeWidget>

namespace kp::app::test {
namespace {

struct Design {
    QTemporaryDir folder;
    Design() {
        put("rtl/top.v", "module top(input clk, output q, r);\n leaf a(clk, q); leaf b(clk, r);\nendmodule\n");
        put("rtl/leaf.v", "module leaf(input c, output reg q); always @(posedge c) q <= ~q; endmodule\n");
        put("sim/tb.v", "module tb; reg c; top t(c); initial #10 $finish; endmodule\n");
        put("top.sdc", "create_clock -period 10 [get_ports clk]\n");
    }
    [[nodiscard]] QString path(const QString& name = {}) const { return folder.filePath(name); }
    void put(const QString& name, const QByteArray& text) const {
        QDir().mkpath(QFileInfo(path(name)).path());
        QFile f(path(name));
        ASSERT_TRUE(f.open(QIODevice::WriteOnly));
        f.write(text);
    }
};

struct FolderDriver : Driver {
    FolderPage& page = static_cast<SiteStation*>(window.station_at(0))->folder_page();
    explicit FolderDriver(bool open) : Driver(open) {
        window.show_station(0);
        static_cast<SiteStation*>(window.station_at(0))->show_page(4);
    }
    void look(const QString& path) {
        page.look(path);
        ASSERT_TRUE(QTest::qWaitFor([&] { return !page.looking(); }, 5000));
    }
    [[nodiscard]] QString comes() { return page.findChild<QLabel*>(QStringLiteral("folder.comes"))->text(); }
};

TEST(FolderPage, IsSeenFirstThenMadeThenMerged) {
    Design design;
    {
        FolderDriver d(false);
        EXPECT_EQ(d.comes(), QStringLiteral("Nothing is made before you have seen it."));
        d.look(design.path());
        ASSERT_TRUE(d.page.view());
        EXPECT_EQ(d.page.view()->top, "top");
        auto* tree = d.page.findChild<QTreeWidget*>(QStringLiteral("folder.tree"));
        ASSERT_EQ(tree->topLevelItemCount(), 2);
        EXPECT_EQ(tree->topLevelItem(0)->child(0)->text(0), QStringLiteral("leaf"));
        EXPECT_EQ(tree->topLevelItem(0)->child(0)->text(1), QStringLiteral("2"));
        EXPECT_EQ(tree->topLevelItem(1)->text(0), QStringLiteral("tb (simulation only)"));
        EXPECT_TRUE(d.comes().contains(QStringLiteral("1 × constraints, 2 × HDL of the design")))
            << d.comes().toStdString();
        EXPECT_FALSE(QDir(design.path("plan")).exists()) << "nothing is made before it is asked for";
        d.page.set_role(QStringLiteral("sim/tb.v"), QStringLiteral("hdl"));
        EXPECT_TRUE(d.comes().contains(QStringLiteral("3 × HDL of the design")));
        d.page.set_role(QStringLiteral("sim/tb.v"), QStringLiteral("bench"));
        d.picture("folder");
        d.click("folder.make");
        ASSERT_TRUE(d.settle());
        EXPECT_EQ(d.session().world().netlist.ports.size(), 3u);
        EXPECT_EQ(d.session().project().constraints.size(), 1u);
        ASSERT_TRUE(QFile::exists(design.path("plan/top.kpeg")));
        design.put("rtl/more.sdc", "# more\n");
        static_cast<SiteStation*>(d.window.station_at(0))->show_page(4);
        d.look(design.path());
        EXPECT_TRUE(d.comes().contains(QStringLiteral("would get 1 new file"))) << d.comes().toStdString();
        d.click("folder.add");
        ASSERT_TRUE(d.settle());
        EXPECT_EQ(d.session().project().constraints.size(), 2u);
        EXPECT_TRUE(d.session().document().can_undo());
    }
}

TEST(FolderPage, AFolderThatIsNotThereIsSaid) {
    FolderDriver d(true);
    d.look(QStringLiteral("/nowhere/at/all"));
    EXPECT_FALSE(d.page.view());
    EXPECT_FALSE(d.find<QPushButton>("folder.make")->isEnabled());
}

}  // namespace
}  // namespace kp::app::test
