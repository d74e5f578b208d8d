// SPDX-License-Identifier: GPL-3.0-or-later
// Small circuits for timing tests: a library with plain numbers, netlist and constraints as text.
#pragma once

#include "core/format/liberty/read.hpp"
#include "core/format/sdc/read.hpp"
#include "core/format/sdf/read.hpp"
#include "core/hdl/verilog/read_netlist.hpp"
#include "core/timing/analyse.hpp"

#include <gtest/gtest.h>
#include <memory>
#include <string>

namespace kp::test {

/// BUF: rise 1.0, fall 2.0. INV: 0.5 and 0.7. AND: A 0.3, B 0.4. XOR: 0.6. R: rising-edge register, CK to Q 0.2, setup
/// 0.1, hold 0.05. F: falling-edge register with the same numbers. No transitions: delays are what is written.
inline const char* const plain_cells = R"(library (plain) {
 cell (BUF) { pin (A) { direction : input; } pin (Y) { direction : output; function : "A"; timing () {
     related_pin : "A"; cell_rise (scalar) { values ("1.0"); } cell_fall (scalar) { values ("2.0"); } } } }
 cell (INV) { pin (A) { direction : input; } pin (Y) { direction : output; function : "!A"; timing () {
     related_pin : "A"; cell_rise (scalar) { values ("0.5"); } cell_fall (scalar) { values ("0.7"); } } } }
 cell (AND) { pin (A) { direction : input; } pin (B) { direction : input; } pin (Y) { direction : output;
     function : "A B";
   timing () { related_pin : "A"; cell_rise (scalar) { values ("0.3"); } cell_fall (scalar) { values ("0.3"); } }
   timing () { related_pin : "B"; cell_rise (scalar) { values ("0.4"); } cell_fall (scalar) { values ("0.4"); } } } }
 cell (XOR) { pin (A) { direction : input; } pin (B) { direction : input; } pin (Y) { direction : output;
     function : "A ^ B";
   timing () { related_pin : "A B"; cell_rise (scalar) { values ("0.6"); } cell_fall (scalar) { values ("0.6"); } } } }
 cell (R) { ff (S, SN) { clocked_on : "CK"; next_state : "D"; }
   pin (D) { direction : input; timing () { related_pin : "CK"; timing_type : setup_rising; rise_constraint (scalar) {
       values ("0.1"); } fall_constraint (scalar) { values ("0.1"); } }
     timing () { related_pin : "CK"; timing_type : hold_rising; rise_constraint (scalar) { values ("0.05"); }
         fall_constraint (scalar) { values ("0.05"); } } }
   pin (CK) { direction : input; clock : true; }
   pin (Q) { direction : output; function : "S"; timing () { related_pin : "CK"; timing_type : rising_edge;
       cell_rise (scalar) { values ("0.2"); } cell_fall (scalar) { values ("0.2"); } } } }
 cell (F) { ff (S, SN) { clocked_on : "!CK"; next_state : "D"; }
   pin (D) { direction : input; timing () { related_pin : "CK"; timing_type : setup_falling;
       rise_constraint (scalar) { values ("0.1"); } fall_constraint (scalar) { values ("0.1"); } }
     timing () { related_pin : "CK"; timing_type : hold_falling; rise_constraint (scalar) { values ("0.05"); }
         fall_constraint (scalar) { values ("0.05"); } } }
   pin (CK) { direction : input; clock : true; }
   pin (Q) { direction : output; function : "S"; timing () { related_pin : "CK"; timing_type : falling_edge;
       cell_rise (scalar) { values ("0.2"); } cell_fall (scalar) { values ("0.2"); } } } }
})";

struct Circuit {
    Library library;
    Netlist netlist;
    std::unique_ptr<NetlistIndex> index;
    Constraints constraints;
    DelayFile delays;
    bool has_delays = false;

    Circuit(const std::string& verilog, const std::string& sdc, const std::string& sdf = "") {
        auto l = read_liberty(plain_cells, "plain.lib");
        EXPECT_TRUE(l.ok()) << (l.ok() ? "" : l.first().sentence());
        library = l.take();
        const SourceText source{"t.v", verilog};
        auto n = read_netlist({&source, 1}, "", library);
        EXPECT_TRUE(n.ok()) << (n.ok() ? "" : n.first().sentence());
        netlist = n.take();
        index = std::make_unique<NetlistIndex>(netlist);
        constraints = read_sdc({{"t.sdc", "", sdc}}, netlist, *index, library);
        for (const auto& m : constraints.messages) EXPECT_NE(m.severity, Severity::stop) << m.sentence();
        if (sdf.empty()) return;
        auto d = read_sdf(sdf, "t.sdf");
        EXPECT_TRUE(d.ok()) << (d.ok() ? "" : d.first().sentence());
        delays = d.take();
        has_delays = true;
    }

    [[nodiscard]] TimingReport time(TimingOptions options = {}) const {
        return analyse_timing({netlist, library, constraints, has_delays ? &delays : nullptr}, options);
    }
};

/// Slack of one endpoint and check; NaN-like 1e9 when it is not there.
inline double slack(const TimingReport& r, const std::string& check, const std::string& endpoint) {
    for (const auto& e : r.endpoints)
        if (e.check == check && e.endpoint == endpoint) return e.slack;
    return 1e9;
}

}  // namespace kp::test
