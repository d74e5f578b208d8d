// SPDX-License-Identifier: GPL-3.0-or-later
// A board whose names differ from the design's, with a display, rockers, a key and a serial link; its design; and what
// can go wrong with them.
#pragma once

#include "tests/kpeg/runner.hpp"

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <stdexcept>

namespace kpeg_test {

using Json = nlohmann::json;

/// Pins of the shipped part that the board below wires, in the order in which it asks for them.
inline constexpr const char* own_board_pins[] = {"22", "23", "26", "27", "28", "33", "34", "46", "47", "49",
                                                 "50", "58", "61", "62", "81", "82", "83", "85", "86"};

struct OwnBoard : Demo {
    explicit OwnBoard(const std::string& name = "own_board") : Demo(name) {
        put("Y1", "oscillator", "drives", {"out"});
        put("SW1", "rocker", "drives", {"A", "B", "C", "D"});
        put("DS1", "display", "reads", {"a", "b", "c", "d", "e", "f", "g"});
        put("K1", "key", "drives", {"k"}, "reset");
        put("U2", "serial", "both", {});
        for (const auto& [name, direction] : {std::pair("tx", "drives"), {"rx", "reads"}})
            add(board["parts"].back(), name, direction);
        board["oscillators"] = Json::parse(R"([{"terminal": "Y1.out", "mhz": 24, "ppm": 50}])");
        terminal("K1", "k")["active"] = "low";
        keep_board();
        write("top.v",
              "module top(input clk, input rst_n, input [3:0] nib, output reg [6:0] seg, input rxd, output txd);\n"
              "reg [3:0] d = 0; reg r0 = 1, r1 = 1;\n"
              "always @(posedge clk) begin r0 <= rst_n; r1 <= r0; if (!r1) d <= 0; else d <= nib; end\n"
              "always @* case (d) 0: seg = 7'h3f; 1: seg = 7'h06; 2: seg = 7'h5b; 3: seg = 7'h4f; 4: seg = 7'h66;\n"
              "5: seg = 7'h6d; 6: seg = 7'h7d; 7: seg = 7'h07; 8: seg = 7'h7f; 9: seg = 7'h6f; 10: seg = 7'h77;\n"
              "11: seg = 7'h7c; 12: seg = 7'h39; 13: seg = 7'h5e; 14: seg = 7'h79; default: seg = 7'h71; endcase\n"
              "assign txd = rxd;\nendmodule\n");
        write("own.sdc", "create_clock -name clk -period 41.667 [get_ports clk]\n");
        project = Json::parse(slurp(*this / "vane.kpeg"));
        project["name"] = "own";
        project["board"] = "own";
        project["top"] = "top";
        project["netlists"] = {"own_netlist.v"};
        project["sources"] = {"top.v"};
        project["delays"] = "";
        project["constraints"] = Json::parse(
            R"([{"path": "own.sdc", "planning": true, "analysis": true, "handoff": true, "receives": true}])");
        for (const char* list : {"pegs", "attributes", "waivers"}) project[list] = Json::array();
        keep();
        const auto mapped = run("map " + (*this / "top.v") + " --top top --part SKR11-Q144-MN --out " +
                                (*this / "own_netlist.v") + " --json -");
        EXPECT_EQ(mapped.status, 0) << mapped.err;
    }
    void write(const std::string& name, const std::string& text) const { std::ofstream(*this / name) << text; }
    void keep() const { write("own.kpeg", project.dump(1)); }
    void keep_board() const { write("own.board.json", board.dump(1)); }
    void load() { project = Json::parse(slurp(*this / "own.kpeg")); }

    void put(const char* ref, const char* kind, const char* direction, std::initializer_list<const char*> names,
             const char* label = "") {
        board["parts"].push_back({{"ref", ref},
                                  {"name", ref},
                                  {"kind", kind},
                                  {"label", label},
                                  {"x", 2},
                                  {"y", y_},
                                  {"w", 6},
                                  {"h", 3},
                                  {"terminals", Json::array()}});
        y_ += 4;
        for (const char* name : names) add(board["parts"].back(), name, direction);
    }
    void add(Json& part, const std::string& name, const char* direction) {
        part["terminals"].push_back(
            {{"name", name}, {"direction", direction}, {"active", "high"}, {"standard", "LVCMOS 3.3 V"}});
        const std::string pin = part["kind"] == "oscillator" ? "16" : own_board_pins[next_++];
        board["nets"].push_back(
            {{"pin", pin}, {"terminal", part["ref"].get<std::string>() + "." + name}, {"trace_mm", 20}});
    }
    Json& terminal(const std::string& ref, const std::string& name) {
        for (auto& part : board["parts"])
            if (part["ref"] == ref)
                for (auto& t : part["terminals"])
                    if (t["name"] == name) return t;
        throw std::runtime_error("no terminal");
    }
    Json& pin_of(const std::string& port) {
        for (auto& peg : project["pegs"])
            if (peg["port"] == port) return peg["pin"];
        throw std::runtime_error("no peg of " + port);
    }
    [[nodiscard]] Answer kpeg(const std::string& command, const std::string& more) const {
        return run(command + " " + (*this / "own.kpeg") + " " + more + " --json -");
    }
    void match() {
        const auto a = kpeg("pegs", "--match");
        EXPECT_EQ(a.status, 0) << a.out;
        load();
    }
    /// "rule port": of all findings of these rules.
    [[nodiscard]] std::string findings(const std::string& rule) const {
        std::string out;
        const auto j = Json::parse(kpeg("rules", "").out);
        for (const auto& f : j["findings"])
            if (f["rule"] == rule) out += f["text"].get<std::string>() + "\n";
        return out;
    }

    Json project, board = Json::parse(slurp(KP_SOURCE "/data/boards/tussock.board.json"));

private:
    struct Bare {
        explicit Bare(Json& b) {
            b["name"] = "own";
            for (const char* list : {"parts", "nets", "oscillators", "notes"}) b[list] = Json::array();
            b["parts"].push_back(Json::parse(
                R"({"ref": "U1", "name": "fpga", "kind": "fpga", "label": "", "x": 30, "y": 20, "w": 20, "h": 20,
                    "terminals": []})"));
        }
    } bare_{board};
    int y_ = 2;
    size_t next_ = 0;
};

/// Something that somebody got wrong, and the rule that says so.
struct Fault {
    const char* name;
    const char* rule;
    void (*plant)(OwnBoard&);
};

/// A wrong peg, polarity, delay and SDC name, each into a board on which nothing is wrong. (A wrong lane needs a part
/// with lanes: tests/kpeg/lanes_rules_test.cpp.)
inline constexpr Fault own_board_faults[] = {
    {"wrong peg", "L13",
     [](OwnBoard& b) {
         std::swap(b.pin_of("seg[0]"), b.pin_of("txd"));
         b.keep();
     }},
    {"wrong polarity", "D12",
     [](OwnBoard& b) {
         for (const char* name : {"a", "b", "c", "d", "e", "f", "g"}) b.terminal("DS1", name)["active"] = "low";
         b.keep_board();
     }},
    {"wrong delay", "D13",
     [](OwnBoard& b) {
         b.project["budgets"] = {{"SW1 in.partner", "3 1"}};
         b.keep();
         b.write("own.sdc", slurp(b / "own.sdc") +
                                "set_input_delay -clock clk -max 0.4 [get_ports nib]\n"
                                "set_input_delay -clock clk -min 0.4 [get_ports nib]\n");
     }},
    {"wrong SDC name", "D03",
     [](OwnBoard& b) { b.write("own.sdc", slurp(b / "own.sdc") + "set_false_path -from [get_ports reset_n]\n"); }},
};

}  // namespace kpeg_test
