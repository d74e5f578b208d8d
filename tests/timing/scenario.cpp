// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/timing/scenario.hpp"

#include "core/format/liberty/read.hpp"
#include "core/format/sdc/read.hpp"
#include "core/format/sdf/read.hpp"
#include "core/hdl/verilog/read_netlist.hpp"

#include <algorithm>
#include <cstdio>
#include <gtest/gtest.h>

namespace kp::test {

const char* const rich_cells = R"lib(library (rich) { time_unit : "1ns"; capacitive_load_unit (1, pf);
 lu_table_template (slew_load) { variable_1 : input_net_transition; variable_2 : total_output_net_capacitance;
     index_1 ("0, 0.4"); index_2 ("0, 0.05"); }
 lu_table_template (load_slew) { variable_1 : total_output_net_capacitance; variable_2 : input_net_transition;
     index_1 ("0, 0.03, 0.05"); index_2 ("0, 0.4"); }
 lu_table_template (load_only) { variable_1 : total_output_net_capacitance; index_1 ("0, 0.05"); }
 lu_table_template (data_clock) { variable_1 : constrained_pin_transition; variable_2 : related_pin_transition;
     index_1 ("0, 0.5"); index_2 ("0, 0.5"); }
 cell (BUF) { pin (A) { direction : input; capacitance : 0.004; rise_capacitance : 0.005; fall_capacitance : 0.0045; }
     pin (Y) { direction : output; function : "A";
   timing () { related_pin : "A"; cell_rise (slew_load) { values ("0.113, 0.231", "0.277, 0.391"); }
       cell_fall (slew_load) { values ("0.151, 0.243", "0.311, 0.423"); }
     rise_transition (slew_load) { values ("0.05, 0.21", "0.07, 0.23"); } fall_transition (load_only) {
         values ("0.04, 0.19"); } } } }
 cell (INV) { pin (A) { direction : input; capacitance : 0.003; } pin (Y) { direction : output; function : "!A";
   timing () { related_pin : "A"; cell_rise (load_slew) { values ("0.071, 0.171", "0.101, 0.213", "0.143, 0.251"); }
       cell_fall (scalar) { values ("0.0937"); }
     rise_transition (load_slew) { values ("0.03, 0.08", "0.09, 0.12", "0.13, 0.17"); } fall_transition (scalar) {
         values ("0.06"); } } } }
 cell (AND) { pin (A) { direction : input; capacitance : 0.003; } pin (B) { direction : input; capacitance : 0.0035; }
     pin (Y) { direction : output; function : "A B";
   timing () { related_pin : "A"; timing_sense : positive_unate; cell_rise (slew_load) {
       values ("0.131, 0.241", "0.207, 0.321"); } cell_fall (scalar) { values ("0.1771"); } rise_transition (scalar) {
       values ("0.08"); } fall_transition (scalar) { values ("0.07"); } }
   timing () { related_pin : "B"; cell_rise (scalar) { values ("0.1913"); } cell_fall (scalar) { values ("0.2111"); }
       rise_transition (scalar) { values ("0.09"); } fall_transition (scalar) { values ("0.05"); } } } }
 cell (XOR) { pin (A) { direction : input; capacitance : 0.005; } pin (B) { direction : input; capacitance : 0.005; }
     pin (Y) { direction : output; function : "A ^ B";
   timing () { related_pin : "A"; when : "!B"; sdf_cond : "B == 1'b0"; timing_sense : positive_unate;
       cell_rise (scalar) { values ("0.2011"); } cell_fall (scalar) { values ("0.2213"); } rise_transition (scalar) {
       values ("0.1"); } fall_transition (scalar) { values ("0.11"); } }
   timing () { related_pin : "A"; when : "B"; sdf_cond : "B == 1'b1"; timing_sense : negative_unate;
       cell_rise (scalar) { values ("0.2517"); } cell_fall (scalar) { values ("0.1919"); } rise_transition (scalar) {
       values ("0.12"); } fall_transition (scalar) { values ("0.1"); } }
   timing () { related_pin : "B"; cell_rise (scalar) { values ("0.2311"); } cell_fall (scalar) { values ("0.2413"); }
       rise_transition (scalar) { values ("0.1"); } fall_transition (scalar) { values ("0.1"); } } } }
 cell (MUX) { pin (A) { direction : input; capacitance : 0.004; } pin (B) { direction : input; capacitance : 0.004; }
     pin (S) { direction : input; capacitance : 0.006; } pin (Y) { direction : output; function : "(A * !S) + (B * S)";
   timing () { related_pin : "A B"; timing_sense : positive_unate; cell_rise (scalar) { values ("0.1619"); }
       cell_fall (scalar) { values ("0.1733"); } rise_transition (scalar) { values ("0.07"); }
       fall_transition (scalar) { values ("0.07"); } }
   timing () { related_pin : "S"; timing_sense : non_unate; cell_rise (scalar) { values ("0.2129"); }
       cell_fall (scalar) { values ("0.2227"); } rise_transition (scalar) { values ("0.09"); }
       fall_transition (scalar) { values ("0.09"); } } } }
 cell (R) { ff (S, SN) { clocked_on : "CK"; next_state : "D"; }
   pin (D) { direction : input; capacitance : 0.002; timing () { related_pin : "CK"; timing_type : setup_rising;
       rise_constraint (data_clock) { values ("0.081, 0.061", "0.123, 0.107"); } fall_constraint (scalar) {
       values ("0.0931"); } }
     timing () { related_pin : "CK"; timing_type : hold_rising; rise_constraint (data_clock) {
         values ("0.031, 0.053", "-0.017, 0.023"); } fall_constraint (scalar) { values ("0.0433"); } } }
   pin (CK) { direction : input; clock : true; capacitance : 0.001; min_pulse_width_high : 0.731;
       min_pulse_width_low : 0.677; min_period : 2.113; }
   pin (Q) { direction : output; function : "S"; timing () { related_pin : "CK"; timing_type : rising_edge;
       cell_rise (slew_load) { values ("0.203, 0.311", "0.251, 0.353"); } cell_fall (slew_load) {
       values ("0.217, 0.323", "0.269, 0.371"); } rise_transition (scalar) { values ("0.06"); }
       fall_transition (scalar) { values ("0.07"); } } } }
 cell (F) { ff (S, SN) { clocked_on : "!CK"; next_state : "D"; }
   pin (D) { direction : input; capacitance : 0.002; timing () { related_pin : "CK"; timing_type : setup_falling;
       rise_constraint (scalar) { values ("0.1013"); } fall_constraint (scalar) { values ("0.0877"); } }
     timing () { related_pin : "CK"; timing_type : hold_falling; rise_constraint (scalar) { values ("0.0317"); }
         fall_constraint (scalar) { values ("-0.0129"); } } }
   pin (CK) { direction : input; clock : true; capacitance : 0.001; timing () { timing_type : min_pulse_width;
       related_pin : "CK"; rise_constraint (scalar) { values ("0.811"); } fall_constraint (scalar) { values ("0.797");
       } } }
   pin (Q) { direction : output; function : "S"; timing () { related_pin : "CK"; timing_type : falling_edge;
       cell_rise (scalar) { values ("0.2339"); } cell_fall (scalar) { values ("0.2441"); } rise_transition (scalar) {
       values ("0.06"); } fall_transition (scalar) { values ("0.07"); } } } }
 cell (RC) { ff (S, SN) { clocked_on : "CK"; next_state : "D"; clear : "!RN"; }
   pin (D) { direction : input; capacitance : 0.002; timing () { related_pin : "CK"; timing_type : setup_rising;
       rise_constraint (scalar) { values ("0.0719"); } fall_constraint (scalar) { values ("0.0823"); } }
     timing () { related_pin : "CK"; timing_type : hold_rising; rise_constraint (scalar) { values ("0.0227"); }
         fall_constraint (scalar) { values ("0.0329"); } } }
   pin (RN) { direction : input; capacitance : 0.002; timing () { related_pin : "CK"; timing_type : recovery_rising;
       rise_constraint (scalar) { values ("0.1131"); } }
     timing () { related_pin : "CK"; timing_type : removal_rising; rise_constraint (scalar) { values ("0.0511"); } } }
   pin (CK) { direction : input; clock : true; capacitance : 0.001; }
   pin (Q) { direction : output; function : "S"; timing () { related_pin : "CK"; timing_type : rising_edge;
       cell_rise (scalar) { values ("0.2143"); } cell_fall (scalar) { values ("0.2239"); } rise_transition (scalar) {
       values ("0.05"); } fall_transition (scalar) { values ("0.05"); } }
     timing () { related_pin : "RN"; timing_type : clear; timing_sense : positive_unate; cell_fall (scalar) {
         values ("0.31"); } fall_transition (scalar) { values ("0.05"); } } } }
})lib";

std::string Scenario::number(double low, double high) {
    char text[32];
    std::snprintf(text, sizeof text, "%.5f",
                  low + (high - low) * std::uniform_real_distribution<double>(0, 1)(random_));
    return text;
}

std::string Scenario::triple(double low, double high) {
    const double middle = std::uniform_real_distribution<double>(low, high)(random_);
    switch (below(8)) {
        case 0: return "(" + number(low, high) + ")";
        case 1: return "(" + number(low, middle) + "::" + number(middle, high) + ")";
        case 2: return "(::" + number(middle, high) + ")";
        case 3: return "()";
        default: return "(" + number(low, middle) + ":" + number(low, high) + ":" + number(middle, high) + ")";
    }
}

Scenario::Scenario(unsigned seed) : random_(seed) {
    clocks();
    gates();
    registers();
    verilog = "module m(input c0, input c1, input sel, input rst, input [2:0] d, output [2:0] y);\n" + cells_text_ +
              "endmodule\n";
    make_sdf();
    library = read_liberty(rich_cells, "rich.lib").take();
    const SourceText source{"t.v", verilog};
    auto parsed = read_netlist({&source, 1}, "m", library);
    if (!parsed) ADD_FAILURE() << parsed.first().sentence() << verilog;
    netlist = parsed.take();
    index = std::make_unique<NetlistIndex>(netlist);
    if (!sdf.empty()) {
        auto read = read_sdf(sdf, "t.sdf");
        if (!read) ADD_FAILURE() << read.first().sentence() << sdf;
        delays = read.take();
    }
    make_sdc();
    constraints = read(sdc);
}

Constraints Scenario::read(const std::string& text) const {
    return read_sdc({{"t.sdc", "", text}}, netlist, *index, library);
}

/// Two ports, each with a small tree; sometimes a multiplexer of both, a gate, and a divider.
void Scenario::clocks() {
    clock_nets_ = {"c0", "c1"};
    for (size_t i = 0, n = 2 + below(4); i < n; ++i) {
        const auto name = "k" + std::to_string(i), from = clock_nets_[below(clock_nets_.size())];
        switch (below(6)) {
            case 0: cells_text_ += "INV " + name + "(.A(" + from + "),.Y(" + name + "n));\n"; break;
            case 1:
                cells_text_ += "MUX " + name + "(.A(" + from + "),.B(" + clock_nets_[below(clock_nets_.size())] +
                               "),.S(sel),.Y(" + name + "n));\n";
                break;
            case 2: cells_text_ += "AND " + name + "(.A(" + from + "),.B(sel),.Y(" + name + "n));\n"; break;
            default: cells_text_ += "BUF " + name + "(.A(" + from + "),.Y(" + name + "n));\n"; break;
        }
        cells_.push_back(name);
        clock_nets_.push_back(name + "n");
    }
    if (chance(50)) {
        divider_ = clock_nets_[below(clock_nets_.size())];
        cells_text_ +=
            "R dv(.D(dvn),.CK(" + divider_ + "),.Q(dvq));\nINV dvi(.A(dvq),.Y(dvn));\nBUF dvb(.A(dvq),.Y(dvk));\n";
        cells_.insert(cells_.end(), {"dv", "dvi", "dvb"});
        register_names_.push_back("dv");
        clock_nets_.push_back("dvq");
        clock_nets_.push_back("dvk");
    }
}

void Scenario::gates() {
    nets_ = {"d[0]", "d[1]", "d[2]"};
    const size_t registers = 4 + below(4);
    for (size_t i = 0; i < registers; ++i) nets_.push_back("q" + std::to_string(i));
    if (chance(15)) nets_.push_back(clock_nets_[below(clock_nets_.size())]);  // a clock as data
    for (size_t i = 0, n = 4 + below(7); i < n; ++i) {
        const auto name = "g" + std::to_string(i);
        const auto pick = [&] {
            return chance(4) ? std::string(chance(50) ? "1'b0" : "1'b1") : nets_[below(nets_.size())];
        };
        const char* kind = std::array{"BUF", "INV", "AND", "AND", "XOR", "MUX"}[below(6)];
        cells_text_ += std::string(kind) + " " + name + "(.A(" + pick() + ")";
        if (kind[0] != 'B' && kind[0] != 'I') cells_text_ += ",.B(" + pick() + ")";
        if (kind[0] == 'M') cells_text_ += ",.S(" + (chance(40) ? std::string("sel") : pick()) + ")";
        cells_text_ += ",.Y(" + name + "y));\n";
        cells_.push_back(name);
        gate_outputs_.push_back(name + "/Y");
        nets_.push_back(name + "y");
    }
    for (size_t i = 0; i < registers; ++i) {
        const auto name = "r" + std::to_string(i);
        const char* kind = std::array{"R", "R", "F", "RC"}[below(4)];
        cells_text_ += std::string(kind) + " " + name + "(.D(" +
                       nets_[nets_.size() - 1 - below(std::min<size_t>(nets_.size(), 8))] + "),.CK(" +
                       clock_nets_[below(clock_nets_.size())] + "),.Q(q" + std::to_string(i) + ")";
        if (kind[1] == 'C')
            cells_text_ += ",.RN(" + (chance(50) ? std::string("rst") : nets_[3 + below(registers)]) + ")";
        cells_text_ += ");\n";
        cells_.push_back(name);
        register_names_.push_back(name);
    }
}

void Scenario::registers() {
    for (int i = 0; i < 3; ++i)
        cells_text_ += "assign y[" + std::to_string(i) +
                       "] = " + nets_[nets_.size() - 1 - below(std::min<size_t>(nets_.size(), 6))] + ";\n";
}

void Scenario::make_sdf() {
    if (chance(30)) return;
    sdf = "(DELAYFILE (SDFVERSION \"3.0\") (DIVIDER /) (TIMESCALE 1ns)\n";
    const auto cell = [&](const std::string& type, const std::string& instance, const std::string& body) {
        sdf += "(CELL (CELLTYPE \"" + type + "\") (INSTANCE " + instance + ") " + body + ")\n";
    };
    if (chance(30))
        cell("BUF", "*", "(DELAY (ABSOLUTE (IOPATH A Y " + triple(0.1, 0.4) + " " + triple(0.1, 0.4) + ")))");
    for (size_t at = 0; at < cells_text_.size();) {
        const auto end = cells_text_.find('\n', at);
        const auto line = cells_text_.substr(at, end - at);
        at = end + 1;
        if (line.starts_with("assign") || chance(25)) continue;
        const auto type = line.substr(0, line.find(' ')),
                   name = line.substr(line.find(' ') + 1, line.find('(') - line.find(' ') - 1);
        const std::string how = chance(12) ? "INCREMENT" : "ABSOLUTE";
        const auto two = [&] { return triple(0.08, 0.5) + (chance(85) ? " " + triple(0.08, 0.5) : std::string()); };
        std::string body = "(DELAY (" + how + " ";
        if (type[0] == 'R' || type[0] == 'F') {
            body += "(IOPATH (" + std::string(type[0] == 'F' ? "negedge" : "posedge") + " CK) Q " + two() + ")))";
            const std::string clock = std::string("(") + (type[0] == 'F' ? "negedge" : "posedge") + " CK)";
            if (chance(60))
                body +=
                    " (TIMINGCHECK (SETUPHOLD D " + clock + " " + triple(0.02, 0.2) + " " + triple(-0.05, 0.1) + "))";
            if (chance(30))
                body += " (TIMINGCHECK (SETUP (posedge D) " + clock + " " + triple(0.02, 0.2) +
                        ") (WIDTH (posedge CK) " + triple(0.5, 1.5) + ") (PERIOD CK " + triple(1, 3) + "))";
            if (type == "RC" && chance(60))
                body += " (TIMINGCHECK (RECREM (posedge RN) " + clock + " " + triple(0.02, 0.2) + " " +
                        triple(0.01, 0.1) + "))";
        } else if (type == "XOR" && chance(60)) {
            body += "(COND B == 1'b0 (IOPATH A Y " + two() + ")) (COND B==1'b1 (IOPATH A Y " + two() +
                    ")) (IOPATH B Y " + two() + ")))";
        } else {
            body += "(IOPATH A Y " + two() + ")";
            if (type[0] != 'B' && type[0] != 'I') body += " (IOPATH B Y " + two() + ")";
            if (type == "MUX") body += " (IOPATH (posedge S) Y " + two() + ")";
            body += "))";
        }
        cell(type, name, body);
        if (chance(30)) cell(type, name, "(DELAY (ABSOLUTE (PORT A " + triple(0.01, 0.2) + ")))");
        if (chance(8)) cell(type, name, "(DELAY (ABSOLUTE (DEVICE " + triple(0.1, 0.4) + ")))");
    }
    cell("m", "",
         "(DELAY (ABSOLUTE (INTERCONNECT c0 " + cells_[0] + "/A " + triple(0.01, 0.2) + " " + triple(0.01, 0.2) +
             ") (INTERCONNECT " + gate_outputs_[0] + " y[0] " + triple(0.01, 0.3) + ")))");
    sdf += ")\n";
}

std::string Scenario::clock() {
    return "[get_clocks " + clock_names_[below(clock_names_.size())] + "]";
}

std::string Scenario::start() {
    return place('d', "/CK");
}

std::string Scenario::end() {
    return place('y', "/D");
}

std::string Scenario::place(char port, const char* pin) {
    const auto& reg = register_names_[below(register_names_.size())];
    switch (below(4)) {
        case 0: return clock();
        case 1: return std::string("[get_ports {") + port + "[" + std::to_string(below(3)) + "]}]";
        case 2: return "[get_pins " + reg + pin + "]";
        default: return "[get_cells " + reg + "]";
    }
}

std::string Scenario::through() {
    const auto& pin = gate_outputs_[below(gate_outputs_.size())];
    switch (below(4)) {
        case 0: return "[get_cells " + pin.substr(0, pin.find('/')) + "]";
        case 1: return "[get_nets " + pin.substr(0, pin.find('/')) + "y]";
        default: return "[get_pins " + pin + "]";
    }
}

std::string Scenario::exception() {
    std::string points;
    const auto edge = [&] { return std::string(chance(20) ? (chance(50) ? "rise_" : "fall_") : ""); };
    if (chance(55)) points += " -" + edge() + "from " + start();
    for (size_t n = chance(35) ? 1 + below(2) : 0; n > 0; --n)
        points += " -" + std::string(n == 1 ? edge() : "") + "through " + through();
    if (chance(55) || points.empty()) points += " -" + edge() + "to " + end();
    const auto which = [&] { return std::string(chance(60) ? "" : chance(50) ? " -setup" : " -hold"); };
    switch (below(6)) {
        case 0: return "set_false_path" + which() + points;
        case 1: return "set_max_delay " + number(0.5, 6) + points;
        case 2: return "set_min_delay " + number(0, 1) + points;
        default:
            return "set_multicycle_path " + std::to_string(below(4)) + which() +
                   (chance(60)   ? ""
                    : chance(50) ? " -start"
                                 : " -end") +
                   points;
    }
}

std::string Scenario::io() {
    std::string s;
    const bool input = chance(50);
    s += std::string(input ? "set_input_delay " : "set_output_delay ") + number(-0.5, 2) + " -clock " +
         clock_names_[below(clock_names_.size())];
    if (chance(20)) s += " -clock_fall";
    if (chance(40)) s += chance(50) ? " -min" : " -max";
    if (chance(20)) s += chance(50) ? " -rise" : " -fall";
    if (chance(40)) s += " -add_delay";
    if (chance(15)) s += " -source_latency_included";
    if (chance(15)) s += " -network_latency_included";
    return s + (input ? (chance(15) ? " [get_ports rst]" : " [get_ports {d[" + std::to_string(below(3)) + "]}]")
                      : " [get_ports {y[" + std::to_string(below(3)) + "]}]");
}

std::string Scenario::line() {
    const auto side = [&] { return std::string(chance(50) ? "" : chance(50) ? " -min" : " -max"); };
    const auto early = [&] { return std::string(chance(40) ? "" : chance(50) ? " -early" : " -late"); };
    const auto edge = [&] { return std::string(chance(75) ? "" : chance(50) ? " -rise" : " -fall"); };
    const auto& reg = register_names_[below(register_names_.size())];
    switch (below(24)) {
        case 0: return "set_clock_latency " + number(0, 1) + side() + edge() + " " + clock();
        case 1: return "set_clock_latency -source " + number(0, 1) + early() + edge() + " " + clock();
        case 2: return "set_clock_latency " + number(0, 1) + side() + " [get_pins " + reg + "/CK]";
        case 3:
            return "set_clock_uncertainty " + number(0, 0.4) +
                   (chance(40)   ? ""
                    : chance(50) ? " -setup"
                                 : " -hold") +
                   " " +
                   (chance(70)   ? clock()
                    : chance(50) ? "[get_pins " + reg + "/CK]"
                                 : "[get_ports c0]");
        case 4:
            return "set_clock_uncertainty " + number(0, 0.4) + " -" + (chance(20) ? "rise_" : "") + "from " + clock() +
                   " -" + (chance(20) ? "fall_" : "") + "to " + clock();
        case 5: return "set_clock_transition " + number(0.01, 0.3) + side() + edge() + " " + clock();
        case 6: return "set_propagated_clock " + (chance(80) ? clock() : std::string("[get_ports c1]"));
        case 7: {
            const auto first = clock(), second = clock();
            return "set_clock_groups -asynchronous -group " + first +
                   (first != second && chance(60) ? " -group " + second : "");
        }
        case 8:
            return "set_case_analysis " + std::to_string(below(2)) + " " +
                   (chance(70) ? std::string("[get_ports sel]") : gate_outputs_[below(gate_outputs_.size())]);
        case 9:
            return "set_disable_timing " + (chance(40)   ? gate_outputs_[below(gate_outputs_.size())]
                                            : chance(50) ? "[get_cells " + cells_[below(cells_.size())] + "]"
                                                         : std::string("-from A -to Y XOR"));
        case 10:
            return "set_load " + number(0.001, 0.08) + (chance(70) ? "" : side()) + (chance(80) ? "" : " -rise") +
                   (chance(50) ? " [get_ports {y[" + std::to_string(below(3)) + "]}]"
                               : " [get_nets g" + std::to_string(below(gate_outputs_.size())) + "y]");
        case 11:
            return "set_input_transition " + number(0.01, 0.3) + side() + edge() + " [get_ports {d[" +
                   std::to_string(below(3)) + "]}]";
        case 12:
            return "set_timing_derate " + std::string(chance(50) ? "-early 0.9" : "-late 1.") +
                   std::to_string(below(10)) +
                   (chance(70)   ? ""
                    : chance(50) ? " -clock"
                                 : " -data") +
                   (chance(70)   ? ""
                    : chance(50) ? " -cell_delay"
                                 : " -net_delay") +
                   (chance(70) ? "" : " [get_cells " + cells_[below(cells_.size())] + "]");
        case 13:
            return "set_timing_derate -cell_check " + std::string(chance(50) ? "-early 0.9" : "-late 1.1") +
                   std::to_string(below(10));
        case 14:
            return "set_min_pulse_width " + number(0.3, 2.5) +
                   (chance(50)   ? ""
                    : chance(50) ? " -high"
                                 : " -low") +
                   (chance(40)   ? ""
                    : chance(50) ? " " + clock()
                                 : " [get_cells " + reg + "]");
        case 15:
            return chance(40) ? "set_data_check " + number(0, 0.4) +
                                    (chance(50)   ? ""
                                     : chance(50) ? " -setup"
                                                  : " -hold") +
                                    " -from [get_pins " + register_names_[below(register_names_.size())] +
                                    "/D] -to [get_pins " + reg + "/D]"
                              : io();
        case 16:
            return "set_clock_sense " +
                   std::string(chance(30)   ? "-stop_propagation"
                               : chance(50) ? "-positive"
                                            : "-negative") +
                   (chance(50) ? " -clocks " + clock() : "") + " [get_pins " + cells_[0] + "/Y]";
        case 17:
        case 18: return io();
        default: return exception();
    }
}

void Scenario::make_sdc() {
    static const char* const periods[] = {"4", "5", "6", "7.5", "8", "8.333", "10"};
    sdc = "create_clock -name c0 -period " + std::string(periods[below(7)]) + " [get_ports c0]\n";
    const auto wave = [&](double period) {
        const double rise = period * static_cast<double>(below(3)) / 8,
                     fall = rise + period * (2 + static_cast<double>(below(5))) / 8;
        return " -waveform {" + std::to_string(rise) + " " + std::to_string(fall) + "}";
    };
    const double second = std::array{4.0, 5.0, 6.0, 8.0}[below(4)];
    sdc += "create_clock -name c1 -period " + std::to_string(second) + (chance(40) ? wave(second) : "") +
           " [get_ports c1]\n";
    clock_names_ = {"c0", "c1"};
    if (chance(30)) {
        sdc += "create_clock -name v -period 5\n";
        clock_names_.push_back("v");
    }
    if (chance(20)) {
        sdc += "create_clock -name also -add -period 12 [get_ports c0]\n";
        clock_names_.push_back("also");
    }
    if (!divider_.empty()) {
        static const char* const forms[] = {"-divide_by 2",
                                            "-divide_by 2 -invert",
                                            "-divide_by 3",
                                            "-multiply_by 2",
                                            "-edges {1 3 5}",
                                            "-edges {2 4 6}",
                                            "-edges {1 2 5} -edge_shift {0 0.3 0}",
                                            "-divide_by 1",
                                            "-multiply_by 2 -duty_cycle 40",
                                            "-divide_by 4"};
        const std::string master = chance(50) ? "c0" : "c1";
        sdc += "create_generated_clock -name gen -source [get_ports " + master + "] -master_clock " + master + " " +
               forms[below(10)] + " [get_pins dv/Q]\n";
        clock_names_.push_back("gen");
        if (chance(30)) {
            sdc += "create_generated_clock -name gen2 -source [get_pins dv/Q] -master_clock gen " +
                   std::string(forms[below(10)]) + " [get_pins dvb/Y]\n";
            clock_names_.push_back("gen2");
        }
    }
    if (chance(40))
        for (const auto& c : clock_names_) sdc += "set_propagated_clock [get_clocks " + c + "]\n";
    for (size_t i = 0, n = 1 + below(4); i < n; ++i) sdc += io() + "\n";
    for (size_t i = 0, n = below(9); i < n; ++i) sdc += line() + "\n";
}

}  // namespace kp::test
