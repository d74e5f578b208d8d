// SPDX-License-Identifier: GPL-3.0-or-later
// No reader is quadratic, neither in what is right nor in what is wrong: four times the input may take some six times
// as long, not sixteen. Ratios in one run, the best of several; small times are all measuring.
#include "core/format/bsdl/read.hpp"
#include "core/format/csv/pin_report.hpp"
#include "core/hdl/read_ports.hpp"
#include "core/format/json/project_json.hpp"
#include "core/format/json/world_json.hpp"
#include "core/format/liberty/read.hpp"
#include "core/format/sdc/rename.hpp"
#include "core/format/sdc/sdc_text.hpp"
#include "core/format/sdf/read.hpp"
#include "core/format/table/board_table.hpp"
#include "core/hdl/verilog/read_netlist.hpp"
#include "core/planning/sheet.hpp"

#include <chrono>
#include <functional>
#include <gtest/gtest.h>

namespace kp {
namespace {

template <class Make>
std::string each(size_t n, Make make) {
    std::string out;
    for (size_t i = 0; i < n; ++i) out += make(std::to_string(i));
    return out;
}

struct Case {
    const char* name;
    std::function<std::string(size_t)> make;
    std::function<void(const std::string&)> read;
    size_t n;  ///< the smaller of the two inputs
};

double seconds(const Case& c, const std::string& text) {
    double best = 1e9;
    for (int i = 0; i < 3; ++i) {
        const auto from = std::chrono::steady_clock::now();
        c.read(text);
        best = std::min(best, std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count());
    }
    return best;
}

void ports(const std::string& text, const char* file) {
    const SourceText source{file, text};
    (void)read_ports({&source, 1}, PortRequest{});
}
void netlist(const std::string& text) {
    static const Library cells = read_liberty(
                                     "library (l) { cell (INV) { pin (A) { direction : input; } pin (Y) { direction : "
                                     "output; function : \"!A\"; } } }",
                                     "l")
                                     .take();
    const SourceText source{"n.v", text};
    (void)read_netlist({&source, 1}, "", cells);
}

const std::vector<Case>& cases() {
    using S = const std::string&;
    const auto project = [](const std::string& pegs) {
        return "{\"schema\":\"kitepeg.project/"
               "1\",\"name\":\"p\",\"netlists\":[],\"libraries\":[],\"constraints\":[],\"pegs\":[" +
               pegs + "{\"port\":\"z\",\"pin\":\"1\"}]}";
    };
    static const std::vector<Case> list{
        {"project, right",
         [=](size_t n) {
             return project(each(n, [](S i) { return "{\"port\":\"p" + i + "\",\"pin\":\"" + i + "\"},"; }));
         },
         [](S t) { (void)read_project(t, "p"); }, 10000},
        {"project, wrong values",
         [=](size_t n) { return project(each(n, [](S i) { return "{\"port\":" + i + ",\"pin\":3},"; })); },
         [](S t) { (void)read_project(t, "p"); }, 10000},
        {"project, one port many times",
         [=](size_t n) { return project(each(n, [](S) { return std::string("{\"port\":\"a\",\"pin\":\"1\"},"); })); },
         [](S t) { (void)read_project(t, "p"); }, 10000},
        {"board, nets on one pin",
         [](size_t n) {
             return "{\"schema\":\"kitepeg.board/"
                    "1\",\"name\":\"b\",\"part\":\"p\",\"width_mm\":1,\"height_mm\":1,\"parts\":[],\"rails\":[],"
                    "\"nets\":[" +
                    each(n, [](S) { return std::string("{\"pin\":\"1\",\"terminal\":\"X.1\"},"); }) +
                    "{\"pin\":\"2\",\"terminal\":\"Y.1\"}]}";
         },
         [](S t) { (void)read_board(t, "b"); }, 5000},
        {"liberty, cells",
         [](size_t n) {
             return "library (l) {" +
                    each(n,
                         [](S i) {
                             return "cell (C" + i +
                                    ") { pin (A) { direction : input; } pin (Y) { direction : output; function : "
                                    "\"!A\"; } }\n";
                         }) +
                    "}";
         },
         [](S t) { (void)read_liberty(t, "l"); }, 4000},
        {"liberty, one cell many times",
         [](size_t n) {
             return "library (l) {" +
                    each(n,
                         [](S) {
                             return std::string(
                                 "cell (C) { pin (A) { direction : input; } pin (A) { direction : sideways; } }\n");
                         }) +
                    "}";
         },
         [](S t) { (void)read_liberty(t, "l"); }, 4000},
        {"sdf, cells",
         [](size_t n) {
             return "(DELAYFILE (SDFVERSION \"3.0\")" +
                    each(n,
                         [](S i) {
                             return "(CELL (CELLTYPE \"INV\") (INSTANCE u" + i +
                                    ") (DELAY (ABSOLUTE (IOPATH A Y (0.1:0.2:0.3)))))\n";
                         }) +
                    ")";
         },
         [](S t) { (void)read_sdf(t, "d"); }, 10000},
        {"sdf, words that are none",
         [](size_t n) {
             return "(DELAYFILE (SDFVERSION \"3.0\")" +
                    each(n,
                         [](S i) {
                             return "(CELL (CELLTYPE \"INV\") (INSTANCE u" + i +
                                    ") (DELAY (ABSOLUTE (IOPATH A (x)))) (NONSENSE))\n";
                         }) +
                    ")";
         },
         [](S t) { (void)read_sdf(t, "d"); }, 10000},
        {"netlist, cells",
         [](size_t n) {
             return "module m(input a, output y);" +
                    each(n, [](S i) { return "wire w" + i + "; INV u" + i + "(.A(a), .Y(w" + i + "));\n"; }) +
                    "endmodule";
         },
         netlist, 10000},
        {"netlist, wires that are none",
         [](size_t n) {
             return "module m(input a, output y);" +
                    each(n, [](S i) { return "wire w" + i + "; assign w" + i + " = x" + i + ";\n"; }) + "endmodule";
         },
         netlist, 5000},
        {"netlist, cells that are none",
         [](size_t n) {
             return "module m(input a, output y);" + each(n, [](S i) { return "NONE" + i + " u" + i + "(.A(a));\n"; }) +
                    "endmodule";
         },
         netlist, 5000},
        {"netlist, modules",
         [](size_t n) { return each(n, [](S i) { return "module m" + i + "(input a); endmodule\n"; }); }, netlist,
         5000},
        {"verilog ports",
         [](size_t n) {
             return "module m(" + each(n, [](S i) { return "input [3:0] a" + i + ",\n"; }) + "input z); endmodule";
         },
         [](S t) { ports(t, "p.sv"); }, 2000},
        {"verilog ports, not plannable",
         [](size_t n) {
             return "module m(" + each(n, [](S i) { return "input string a" + i + ",\n"; }) + "input z); endmodule";
         },
         [](S t) { ports(t, "p.sv"); }, 2000},
        {"verilog ports, one many times",
         [](size_t n) {
             return "module m(" + each(n, [](S) { return std::string("input a,\n"); }) + "input z); endmodule";
         },
         [](S t) { ports(t, "p.sv"); }, 5000},
        {"vhdl ports",
         [](size_t n) {
             return "entity m is port(" +
                    each(n, [](S i) { return "a" + i + ": in std_logic_vector(3 downto 0);\n"; }) +
                    "z: in std_logic); end;";
         },
         [](S t) { ports(t, "p.vhd"); }, 2000},
        {"vhdl ports, not plannable",
         [](size_t n) {
             return "entity m is port(" + each(n, [](S i) { return "a" + i + ": in real;\n"; }) +
                    "z: in std_logic); end;";
         },
         [](S t) { ports(t, "p.vhd"); }, 2000},
        {"sdc, commands",
         [](size_t n) { return each(n, [](S i) { return "set_false_path -from [get_ports a" + i + "]\n"; }); },
         [](S t) { (void)sdc::split_commands(t, "f"); }, 10000},
        {"sdc, renames",
         [](size_t n) { return each(n, [](S i) { return "set_false_path -from [get_ports a[" + i + "]]\n"; }); },
         [](S t) {
             (void)sdc::rename_ports(t, {{"a", "b"}});
         },
         2000},
        {"pin sheet", [](size_t n) { return "port,pin\n" + each(n, [](S i) { return "p" + i + "," + i + "\n"; }); },
         [](S t) { (void)read_sheet(t, "s"); }, 10000},
        {"pin sheet, one port many times",
         [](size_t n) { return "port,pin\n" + each(n, [](S i) { return "p," + i + "\n"; }); },
         [](S t) { (void)read_sheet(t, "s"); }, 10000},
        {"pin sheet, one row", [](size_t n) { return "port,pin\n\"" + each(n, [](S i) { return i + ",\n"; }); },
         [](S t) { (void)read_sheet(t, "s"); }, 20000},
        {"pin report", [](size_t n) { return "signal,ball\n" + each(n, [](S i) { return "p" + i + "," + i + "\n"; }); },
         [](S t) { (void)read_pin_report(t, "r"); }, 10000},
        {"bsdl, cells",
         [](size_t n) {
             return "entity b is port (a: in bit); attribute BOUNDARY_REGISTER of b: entity is \"" +
                    each(n, [](S i) { return i + " (BC_1, a, input, X),\" & \""; }) + "\"; end b;";
         },
         [](S t) { (void)read_bsdl(t, "b"); }, 2000},
        {"table, rows",
         [](size_t n) {
             return "part,signal,pin\n" + each(n, [](S i) { return "U" + i + ",s" + i + "," + i + "\n"; });
         },
         [](S t) {
             const auto grid = table::read_grid(t, "t");
             const Part part;
             if (grid)
                 (void)table::draft_board(grid.value(), table::guess_mapping(grid.value(), part), part, {}, "b", "P");
         },
         2000},
    };
    return list;
}

TEST(Growth, NoReaderIsQuadratic) {
    for (const auto& c : cases()) {
        const auto small = c.make(c.n), large = c.make(4 * c.n);
        double one = seconds(c, small), four = seconds(c, large);
        // Somebody else may be busy on this machine for a moment; what is quadratic is so every time.
        for (int again = 0; again < 4 && four >= 9 * one + 0.02; ++again) {
            one = seconds(c, small);
            four = seconds(c, large);
        }
        EXPECT_LT(four, 9 * one + 0.02) << c.name << ": " << 1000 * one << " ms, then " << 1000 * four << " ms";
        EXPECT_LT(four, 10) << c.name;
    }
}

}  // namespace
}  // namespace kp
