// SPDX-License-Identifier: GPL-3.0-or-later
// What is drawn around a path: each wire is one of the netlist, tables agree with the functions.
#include "core/design/surroundings.hpp"

#include "core/format/json/project_json.hpp"
#include "core/session/analysis.hpp"

#include <gtest/gtest.h>

#include <set>

namespace kp {
namespace {

struct Opened {
    std::shared_ptr<const World> world;
    std::shared_ptr<const Analysis> analysis;
    explicit Opened(const std::string& file) {
        const std::string path = std::string(KP_SOURCE "/demo/") + file;
        auto project = read_project(real_disk().read(path).value(), path).take().project;
        for (auto& sdc : project.constraints) sdc.text = real_disk().read(join_path(folder_of(path), sdc.path)).take();
        world = load_world(real_disk(), project, folder_of(path), KP_SOURCE "/data").take();
        analysis = analyse(*world, project, "", {});
    }
    [[nodiscard]] std::vector<std::string> pins(size_t path) const {
        std::vector<std::string> out;
        for (const auto& p : analysis->timing().paths[path].points) out.push_back(p.pin);
        return out;
    }
};

TEST(Surroundings, HaveThePathInOrderAndOnlyWiresOfTheNetlist) {
    const Opened o("vane/vane-closed.kpeg");
    const auto& w = *o.world;
    for (size_t i = 0; i < o.analysis->timing().paths.size(); i += 7) {
        size_t before = 0;
        for (const int levels : {0, 1, 2}) {
            const auto around = surroundings_of(w.netlist, *w.index, w.library, o.pins(i), levels);
            EXPECT_GE(around.cells.size(), before);
            before = around.cells.size();
            std::set<std::string> names;
            int column = -1;
            for (const auto& c : around.cells) {
                EXPECT_TRUE(names.insert(c.name + (c.port ? " port" : "")).second) << c.name << " is drawn once";
                if (c.on_path) EXPECT_GT(c.column, std::exchange(column, c.column));
            }
            for (const auto& wire : around.wires) {
                const auto& to = around.cells[wire.to];
                const auto pin = to.port ? no_id : w.index->pin(to.name + "/" + wire.pin);
                const auto net = to.port ? w.netlist.ports[w.index->port(to.name)].net : w.netlist.pins[pin].net;
                ASSERT_NE(net, no_id);
                EXPECT_EQ(w.netlist.net_names[net], wire.net);
            }
        }
    }
}

TEST(Surroundings, TheTableIsThatOfTheFunction) {
    LibraryCell cell;
    cell.name = "MUX";
    for (const char* name : {"A", "B", "S"}) {
        LibraryPin pin;
        pin.name = name;
        cell.pins.push_back(pin);
    }
    LibraryPin out;
    out.name = "Y";
    out.direction = Direction::out;
    out.function = parse_boolean("(A & !S) | (B & S)").take();
    cell.pins.push_back(out);
    DrawnCell drawn;
    tell_function(cell, Netlist{}, 0, drawn);
    EXPECT_TRUE(drawn.equation.starts_with("Y = ")) << drawn.equation;
    ASSERT_EQ(drawn.table.size(), 9u);
    int ones = 0;
    for (size_t i = 1; i < drawn.table.size(); ++i) ones += drawn.table[i].ends_with(": 1");
    EXPECT_EQ(ones, 4);
}

TEST(Surroundings, ALookUpCellTellsItsTable) {
    const Opened o("profiler/profiler-closed.kpeg");
    const auto& w = *o.world;
    const auto around = surroundings_of(w.netlist, *w.index, w.library, o.pins(0), 2);
    size_t told = 0;
    for (const auto& c : around.cells) told += !c.table.empty();
    EXPECT_GT(told, 0u);
    EXPECT_LE(around.cells.size(), 400u);
    EXPECT_TRUE(surroundings_of(w.netlist, *w.index, w.library, {"nobody/X"}, 3).cells.empty());
}

}  // namespace
}  // namespace kp
