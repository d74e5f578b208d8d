// SPDX-License-Identifier: GPL-3.0-or-later
// One verdict over all kinds of check: whatever `kpeg time` would exit 1 for is a stop of the rules, holds the handoff,
// and stands in the sentence, the log and the manifest; a waiver with a reason lets it go.
#include "core/base/memory_disk.hpp"
#include "core/handoff/handoff.hpp"
#include "core/model/timing_words.hpp"
#include "core/inputs/new_project.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

const char* const cells_of_timing_findings = R"lib(library (l) { time_unit : "1ns";
  cell (C) { ff (S, SN) { clocked_on : "CK"; next_state : "D"; clear : "!RN"; } pin (CK) { direction : input;
      clock : true; min_pulse_width_high : 1.0; min_period : 2.5; }
    pin (D) { direction : input; timing () { related_pin : "CK"; timing_type : setup_rising;
        rise_constraint (scalar) { values ("0.1"); } fall_constraint (scalar) { values ("0.1"); } } timing () {
        related_pin : "CK"; timing_type : hold_rising; rise_constraint (scalar) { values ("0"); }
        fall_constraint (scalar) { values ("0"); } } }
    pin (RN) { direction : input; timing () { related_pin : "CK"; timing_type : recovery_rising;
        rise_constraint (scalar) { values ("0.3"); } } timing () { related_pin : "CK"; timing_type : removal_rising;
        rise_constraint (scalar) { values ("0.2"); } } }
    pin (Q) { direction : output; function : "S"; timing () { related_pin : "CK"; timing_type : rising_edge;
        cell_rise (scalar) { values ("0.2"); } cell_fall (scalar) { values ("0.2"); } } } } })lib";
const char* const design_of_timing_findings =
    "module m(input clk, rn, d, output y); C r(.D(d),.CK(clk),.RN(rn),.Q(y)); endmodule";

struct Made {
    MemoryDisk disk;
    std::unique_ptr<Session> session;
    explicit Made(const std::string& sdc) {
        disk.files["data/standards/io.standards.json"] =
            real_disk().read(KP_SOURCE "/data/standards/io.standards.json").take();
        disk.files["in/m.lib"] = cells_of_timing_findings;
        disk.files["in/m.v"] = design_of_timing_findings;
        disk.files["in/m.sdc"] = sdc;
        const auto path = create_project(disk, {"p", "m", "", "", {"in/m.lib", "in/m.v", "in/m.sdc"}, true, ""}, {});
        auto opened = Session::open(disk, path.value(), "data");
        if (!opened) throw std::runtime_error(opened.first().sentence());
        session = opened.take();
        session->analyse_now();
    }
    /// Kinds of check that T01 speaks of.
    [[nodiscard]] std::string missed() const {
        std::string out;
        for (const auto& f : session->findings())
            if (f.rule == "T01") out += std::string(name_of(f.severity)) + " " + f.objects.at(0).name + "; ";
        return out;
    }
};

const std::string delays = "set_input_delay -clock c 1 d\nset_output_delay -clock c 1 y\n";

TEST(TimingFindings, EveryKindOfCheckIsAStopWhenItIsMissed) {
    EXPECT_EQ(Made("create_clock -name c -period 10 clk\nset_input_delay -clock c 1 rn\n" + delays).missed(), "");
    EXPECT_EQ(Made("create_clock -name c -period 10 clk\nset_input_delay -clock c 20 rn\n" + delays).missed(),
              "stop recovery; ");
    EXPECT_EQ(Made("create_clock -name c -period 10 clk\nset_input_delay -clock c -max 1 rn\nset_input_delay -clock c "
                   "-min -3 rn\n" +
                   delays)
                  .missed(),
              "stop removal; ");
    EXPECT_EQ(Made("create_clock -name c -period 10 -waveform {0 0.5} clk\nset_input_delay -clock c 1 rn\n" + delays)
                  .missed(),
              "stop pulse width; ");
    EXPECT_EQ(Made("create_clock -name c -period 2.4 clk\nset_input_delay -clock c 0.5 rn\nset_input_delay -clock c "
                   "0.5 d\nset_output_delay -clock c 0.5 y\n")
                  .missed(),
              "stop period; ");
    EXPECT_EQ(Made("create_clock -name c -period 10 clk\nset_input_delay -clock c 1 rn\nset_input_delay -clock c 851 "
                   "d\nset_output_delay -clock c 1 y\n")
                  .missed(),
              "stop setup; ");
}

TEST(TimingFindings, OneVerdictInSentenceLogManifestAndHandoff) {
    Made m("create_clock -name c -period 10 clk\nset_input_delay -clock c 20 rn\n" + delays);
    auto& s = *m.session;
    EXPECT_TRUE(timing_sentence(s.analysis().timing()).starts_with("Recovery fails by 10.300 ns on 1 of 1 endpoint; "));
    EXPECT_EQ(verdict_of(s.analysis().timing()).failing, 1);
    EXPECT_EQ(s.log().runs().back().failing, 1);
    EXPECT_EQ(s.log().runs().back().worst_kind, "recovery");
    // Everything else that stands, such as ports without a pin, is waived: the missed check alone holds the handoff.
    const auto waive = [&](const char* rule) {
        for (const auto& f : std::vector<Finding>(s.findings()))
            if (rule == std::string() ? f.rule != "T01" : f.rule == rule)
                ASSERT_TRUE(
                    s.apply({"w", {WaiverChange{{f.rule, f.object_names(), "for the test", "t", "2026-11-28"}, true}}})
                        .ok());
        s.analyse_now();
    };
    waive("");
    EXPECT_EQ(count(s.findings()).stops, 1);
    EXPECT_EQ(write_handoff(m.disk, s, "p/out", false).first().text,
              "Nothing was written: 1 stop is open. Fix or waive them in Findings.");
    waive("T01");
    ASSERT_TRUE(write_handoff(m.disk, s, "p/out", false).ok());
    EXPECT_NE(m.disk.files["p/out/manifest.json"].find("\"recovery\""), std::string::npos);
    // Another endpoint that misses is another finding.
    ASSERT_TRUE(
        s.apply({"e",
                 {TextChange{"m.sdc", 0, "", "create_clock -name c -period 10 clk\nset_input_delay -clock c 851 d\n"}}})
            .ok());
    s.analyse_now();
}

TEST(TimingFindings, UndoAndRedoBringNoNewRuns) {
    Made m("create_clock -name c -period 10 clk\nset_input_delay -clock c 1 rn\n" + delays);
    auto& s = *m.session;
    for (int i = 0; i < 4; ++i) {
        ASSERT_TRUE(
            s.apply({"edit " + std::to_string(i), {TextChange{"m.sdc", 0, "", "# " + std::to_string(i) + "\n"}}}).ok());
        s.analyse_now();
    }
    const auto runs = s.log().runs().size();
    for (int i = 0; i < 4; ++i) {
        ASSERT_TRUE(s.undo().ok());
        s.analyse_now();
    }
    for (int i = 0; i < 4; ++i) {
        ASSERT_TRUE(s.redo().ok());
        s.analyse_now();
    }
    EXPECT_EQ(s.log().runs().size(), runs) << "states that were logged before";
    ASSERT_TRUE(s.apply({"another", {TextChange{"m.sdc", 0, "", "# new\n"}}}).ok());
    s.analyse_now();
    EXPECT_EQ(s.log().runs().size(), runs + 1);
}

}  // namespace
}  // namespace kp
