// SPDX-License-Identifier: GPL-3.0-or-later
// A design that changes on disk: what is shown, what is taken, and that no peg and no waiver is lost on the way.
#include "core/base/memory_disk.hpp"
#include "core/session/session.hpp"

#include <gtest/gtest.h>
#include <set>

namespace kp {
namespace {

std::string real(const std::string& path) {
    return real_disk().read(KP_SOURCE "/" + path).take();
}

/// profiler-closed on a disk in memory, planned from its SystemVerilog shell, with a waiver for each of three ports.
MemoryDisk shell_disk() {
    MemoryDisk disk;
    auto text = real("demo/profiler/profiler-closed.kpeg");
    const auto put = [&](const std::string& from, const std::string& to) {
        const auto at = text.find(from);
        ASSERT_NE(at, std::string::npos) << from;
        text.replace(at, from.size(), to);
    };
    put("\"netlists\": [\"profiler.v\"]", "\"netlists\": [], \"sources\": [\"profiler_shell.sv\"]");
    put("\"delays\": \"profiler.sdf\"", "\"delays\": \"\"");
    put("\"waivers\": []",
        "\"waivers\": [{\"rule\": \"L09\", \"objects\": [\"lamp[0]\", \"lamp[1]\"], \"reason\": \"r\", \"who\": \"w\", "
        "\"date\": \"d\"}, {\"rule\": \"D06\", \"objects\": [\"adc_sleep\"], \"reason\": \"r\", \"who\": \"w\", "
        "\"date\": \"d\"}, {\"rule\": \"D06\", \"objects\": [\"host_tx\"], \"reason\": \"r\", \"who\": \"w\", "
        "\"date\": \"d\"}]");
    disk.files["p/profiler.kpeg"] = text;
    for (const char* file : {"profiler_shell.sv", "profiler-closed-clocks.sdc", "profiler-closed-ports.sdc"})
        disk.files[std::string("p/") + file] = real(std::string("demo/profiler/") + file);
    for (const char* file : {"parts/skr23-b256.part.json", "boards/saltmarsh.board.json", "standards/io.standards.json",
                             "cells/skerry.lib", "modules/lampbar.module.json"})
        disk.files[std::string("data/") + file] = real(std::string("data/") + file);
    return disk;
}

std::unique_ptr<Session> open_of_watcher(MemoryDisk& disk) {
    auto s = Session::open(disk, "p/profiler.kpeg", "data");
    EXPECT_TRUE(s.ok()) << (s.ok() ? "" : s.first().sentence());
    return s.ok() ? s.take() : nullptr;
}

void change(MemoryDisk& disk, const std::string& from, const std::string& to) {
    auto& text = disk.files["p/profiler_shell.sv"];
    const auto at = text.find(from);
    ASSERT_NE(at, std::string::npos) << from;
    text.replace(at, from.size(), to);
}

TEST(Reread, TenChangesKeepEveryPegAndWaiver) {
    auto disk = shell_disk();
    auto s = open_of_watcher(disk);
    ASSERT_TRUE(s);
    EXPECT_EQ(s->world().netlist.ports.size(), 149u);
    EXPECT_TRUE(s->watcher().port_changes().empty());
    const auto pegs = s->project().pegs;
    const std::string constraints = s->project().constraints[1].text;
    change(disk, "logic [7:0] lamp,", "logic [7:0] lamps,");  // 1 renamed bus
    change(disk, "load_sck,", "cell_sck,");                   // 2 renamed
    change(disk, "host_tx,", "pc_host_tx,");                  // 3 renamed
    change(disk, "gps_pps,", "gps_pulse,");                   // 4 renamed
    change(disk, "  output logic adc_sleep,\n", "");          // 5 gone
    change(disk, "  output logic tone,\n", "");               // 6 moved to the front
    change(disk, "module profiler (\n", "module profiler (\n  output logic tone,\n  output logic fan,\n");  // 7 new
    change(disk, "logic [7:0] rocker", "logic [9:0] rocker");                                               // 8 wider
    change(disk, "logic [3:0] dig_n", "logic [2:0] dig_n");        // 9 narrower
    change(disk, "inout  wire  i2c_scl", "output logic i2c_scl");  // 10 turned
    EXPECT_EQ(changed_files(disk, s->world()), std::vector<std::string>{"profiler_shell.sv"});
    auto reading = reread(*s->snapshot());
    ASSERT_TRUE(reading) << reading.first().sentence();
    const auto& m = reading.value().merge;
    EXPECT_EQ(s->project().pegs, pegs) << "nothing is taken before it is accepted";
    EXPECT_EQ(s->world().netlist.ports.size(), 149u);
    std::set<std::string> renames;
    for (const auto& r : m.renamed) renames.insert(r.before.name + ">" + r.after.name);
    EXPECT_EQ(renames,
              (std::set<std::string>{"lamp>lamps", "load_sck>cell_sck", "host_tx>pc_host_tx", "gps_pps>gps_pulse"}));
    ASSERT_EQ(m.added.size(), 1u);
    EXPECT_EQ(m.added[0].name, "fan");
    ASSERT_EQ(m.removed.size(), 1u);
    EXPECT_EQ(m.removed[0].name, "adc_sleep");
    EXPECT_EQ(m.resized.size(), 2u);
    EXPECT_EQ(m.turned.size(), 1u);

    ASSERT_TRUE(s->accept(reading.value(), m.renamed));
    // Every peg is there, under its new name where it has one.
    std::map<std::string, std::string> name{
        {"load_sck", "cell_sck"}, {"host_tx", "pc_host_tx"}, {"gps_pps", "gps_pulse"}};
    for (int i = 0; i < 8; ++i) name["lamp[" + std::to_string(i) + "]"] = "lamps[" + std::to_string(i) + "]";
    EXPECT_EQ(s->project().pegs.size(), pegs.size());
    for (const auto& [port, peg] : pegs) {
        const auto at = s->project().pegs.find(name.contains(port) ? name[port] : port);
        ASSERT_NE(at, s->project().pegs.end()) << port;
        EXPECT_EQ(at->second, peg) << port;
    }
    std::set<std::string> waived;
    for (const auto& w : s->project().waivers) waived.insert(w.objects.begin(), w.objects.end());
    EXPECT_EQ(waived, (std::set<std::string>{"lamps[0]", "lamps[1]", "adc_sleep", "pc_host_tx"}));
    EXPECT_NE(s->project().constraints[1].text.find("pc_host_tx"), std::string::npos);
    EXPECT_NE(s->project().constraints[1].text.find("lamps[*]"), std::string::npos);
    EXPECT_EQ(s->project().constraints[1].text.find("load_sck"), std::string::npos);
    EXPECT_TRUE(s->watcher().port_changes().empty());
    EXPECT_TRUE(changed_files(disk, s->world()).empty());
    // One undo takes all of it back.
    ASSERT_TRUE(s->undo());
    EXPECT_EQ(s->project().pegs, pegs);
    EXPECT_EQ(s->project().constraints[1].text, constraints);
}

TEST(Reread, AChangeWhileTheProjectWasClosedIsToldOnOpening) {
    auto disk = shell_disk();
    change(disk, "logic tone", "logic buzz");
    auto s = open_of_watcher(disk);
    ASSERT_TRUE(s);
    const auto m = s->watcher().port_changes();
    ASSERT_EQ(m.renamed.size(), 1u);
    EXPECT_EQ(m.renamed[0].after.name, "buzz");
    ASSERT_TRUE(s->apply(merge_edit(s->project(), s->world().netlist.ports, m, m.renamed)));
    EXPECT_TRUE(s->project().pegs.contains("buzz"));
    EXPECT_TRUE(s->watcher().port_changes().empty());
}

TEST(Reread, AFileThatDoesNotReadChangesNothing) {
    auto disk = shell_disk();
    auto s = open_of_watcher(disk);
    disk.files["p/profiler_shell.sv"] = "module profiler (input";
    const auto reading = reread(*s->snapshot());
    ASSERT_FALSE(reading);
    EXPECT_NE(reading.first().sentence().find("profiler_shell.sv:1:"), std::string::npos);
    EXPECT_EQ(s->world().netlist.ports.size(), 149u);
}

TEST(Reread, AnotherEditDoesNotTakeAChangedFileAlong) {
    auto disk = shell_disk();
    auto s = open_of_watcher(disk);
    change(disk, "logic tone", "logic buzz");
    const auto status = s->apply(Edit{"module", {set_field(s->project(), "modules", "lampbar@J5")}});
    ASSERT_FALSE(status);
    EXPECT_EQ(status.first().text, "profiler_shell.sv changed on disk. Read it again on Site first.");
}

TEST(Modules, FitTwiceWhereThereAreTwoHeadersAndNotThreeTimes) {
    auto disk = shell_disk();
    auto s = open_of_watcher(disk);
    const auto fit = [&](const std::string& text) {
        return s->apply(Edit{"fit", {set_field(s->project(), "modules", text)}});
    };
    ASSERT_TRUE(fit("lampbar@J5"));
    ASSERT_TRUE(fit("lampbar@J5\nlampbar@J6"));
    const auto& board = s->world().board;
    EXPECT_TRUE(board.at_terminal("J5.M1.bar3"));
    const auto pin = board.at_terminal("J6.M1.bar0").net;
    ASSERT_NE(pin, nullptr);
    EXPECT_EQ(s->project().pegs.at("head_b[0]").pin, pin->pin)
        << "the first terminal of the plug lies on the first of the header";
    EXPECT_EQ(fit("lampbar@J5\nlampbar@J5").first().text, "The header J5 is taken by lampbar.");
    EXPECT_NE(fit("lampbar@J9").first().text.find("has no header J9; it has J5 and J6"), std::string::npos);
    EXPECT_FALSE(fit("nothing@J5"));
    ASSERT_TRUE(s->undo());
    EXPECT_FALSE(s->world().board.at_terminal("J6.M1.bar0"));
}

TEST(HalfDone, AProjectWithoutPartBoardAndDesignOpensAndSaves) {
    auto disk = shell_disk();
    disk.files["p/new.kpeg"] =
        "{\"schema\": \"kitepeg.project/1\", \"name\": \"new\", \"netlists\": [], \"libraries\": [], \"constraints\": "
        "[]}";
    auto opened = Session::open(disk, "p/new.kpeg", "data");
    ASSERT_TRUE(opened) << opened.first().sentence();
    auto& s = *opened.value();
    s.analyse_now();
    ASSERT_TRUE(s.apply(Edit{"sources", {set_field(s.project(), "sources", "profiler_shell.sv")}}));
    EXPECT_EQ(s.world().language, "systemverilog");
    EXPECT_EQ(s.world().netlist.ports.size(), 149u);
    ASSERT_TRUE(
        s.apply(Edit{"part and board",
                     {set_field(s.project(), "part", "SKR23-B256-MN"), set_field(s.project(), "board", "saltmarsh")}}));
    EXPECT_EQ(s.world().part.pins.size(), 256u);
    SdcFile fresh;
    fresh.path = "new.sdc";
    fresh.receives = true;
    ASSERT_TRUE(s.apply(Edit{"file", {SdcFileChange{std::nullopt, fresh}}}));
    ASSERT_TRUE(s.apply(Edit{"line", {TextChange{"new.sdc", 0, "", "create_clock -period 40 [get_ports osc_25]\n"}}}));
    ASSERT_TRUE(s.document().save());
    EXPECT_EQ(disk.files["p/new.sdc"], "create_clock -period 40 [get_ports osc_25]\n");
    opened.value().reset();  // who works on it lets go
    auto again = Session::open(disk, "p/new.kpeg", "data");
    ASSERT_TRUE(again) << again.first().sentence();
    EXPECT_EQ(again.value()->world().netlist.ports.size(), 149u);
    // A file that goes comes back with its text.
    auto& t = *again.value();
    ASSERT_TRUE(t.apply(Edit{"remove", {SdcFileChange{t.project().constraints[0], std::nullopt}}}));
    EXPECT_TRUE(t.project().constraints.empty());
    ASSERT_TRUE(t.undo());
    EXPECT_EQ(t.project().constraints[0].text.size(), 43u);
}

}  // namespace
}  // namespace kp
