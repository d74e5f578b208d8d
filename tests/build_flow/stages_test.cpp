// SPDX-License-Identifier: GPL-3.0-or-later
// What a stage is made of, and what of a project counts for it.
#include "core/build_flow/stages.hpp"

#include "core/base/memory_disk.hpp"
#include "core/build_flow/steps.hpp"
#include "core/format/sdc/read.hpp"
#include "core/format/sdf/read.hpp"
#include "core/timing/engine.hpp"
#include "tests/synthesis/same.hpp"

#include <gtest/gtest.h>

namespace kp::build_flow {
namespace {

TEST(Stages, ALaterOneIsMadeOfNoLessThanOneBefore) {
    std::size_t last = 0;
    for (std::size_t k = 0; k < stage_names.size(); ++k) {
        const auto stage = static_cast<Stage>(k);
        EXPECT_EQ(stage_of(stage_names[k]), stage);
        const auto inputs = made_of(stage);
        EXPECT_GE(inputs.size(), last) << stage_names[k];
        EXPECT_EQ(inputs.front(), BuildInput::source);
        last = inputs.size();
    }
    EXPECT_EQ(made_of(Stage::map).size(), 1U) << "cells depend on no peg";
    EXPECT_EQ(stage_of("placed"), std::nullopt);
    for (const auto& [file, stage] : stage_files()) EXPECT_LT(stage, Stage::time) << file;
}

TEST(Stages, EachInputHasItsOwnDigest) {
    MemoryDisk disk;
    disk.files = {{"p/a.v", "module a; endmodule\n"}, {"p/b.v", "module b; endmodule\n"}};
    Project project;
    project.part = "X";
    project.sources = {"a.v", "b.v"};
    project.pegs["a"] = {"1", PegState::pegged, "by hand"};
    SdcFile sdc;
    sdc.path = "c.sdc";
    sdc.text = "create_clock -period 10 [get_ports a]\n";
    project.constraints = {sdc};
    const auto first = digests_of(disk, project, "p");
    const auto changed = [&](const Project& other) {
        const auto now = digests_of(disk, other, "p");
        std::string out;
        for (const auto input : made_of(Stage::power)) {
            const auto k = static_cast<std::size_t>(input);
            if (now[k] != first[k]) out += std::string(out.empty() ? "" : ", ") + word_of(input);
        }
        return out;
    };
    EXPECT_EQ(changed(project), "");
    auto other = project;
    other.pegs["a"].pin = "2";
    EXPECT_EQ(changed(other), "pegs");
    other = project;
    other.attributes["a"].standard = "LVCMOS 2.5 V";
    EXPECT_EQ(changed(other), "pegs") << "pads of another standard have other delays";
    other.attributes["a"].standard.clear();
    other.attributes["a"].note = "says nothing to a build";
    EXPECT_EQ(changed(other), "");
    other = project;
    other.constraints[0].text += " ";
    EXPECT_EQ(changed(other), "constraints");
    for (const auto change : {+[](Project& p) { p.part = "Y"; }, +[](Project& p) { p.top = "b"; },
                              +[](Project& p) { p.defines["D"] = "1"; }, +[](Project& p) { p.parameters["N"] = "3"; },
                              +[](Project& p) { p.sources.pop_back(); }}) {
        other = project;
        change(other);
        EXPECT_EQ(changed(other), "source or part");
    }
    other = project;
    other.part_notes["J1"] = "a note is not an input";
    EXPECT_EQ(changed(other), "");
    disk.files["p/b.v"] += " ";
    EXPECT_EQ(changed(project), "source or part");
    disk.files.erase("p/b.v");
    EXPECT_EQ(changed(project), "source or part") << "a source that is gone";
}

/// The engine says of typed delays what it says of the file that is written of them.
TEST(Steps, TypedDelaysAreThoseOfTheFile) {
    const std::string text =
        "module top(input c, input d, output q);\nwire ci, ck, di, s, n, m;\nSK_PAD_INPUT pc(.PAD(c), .Y(ci));\n"
        "SK_CLOCK_ROOT r(.A(ci), .Y(ck));\nSK_PAD_INPUT pd(.PAD(d), .Y(di));\n"
        "SK_TABLE_1 #(.TABLE(2'h1)) l(.A0(di), .Y(n));\nSK_REGISTER f(.D(n), .CK(ck), .Q(s));\n"
        "SK_REGISTER \\g[1].h (.D(s), .CK(ck), .Q(m));\nSK_PAD_OUTPUT pq(.A(m), .PAD(q));\nendmodule\n";
    const SourceText source{"t.v", text};
    const auto n = read_netlist({&source, 1}, "top", synthesis::shipped_library()).take();
    std::vector<fabric::Spot> spots;
    for (std::uint32_t c = 0; c < n.cells.size(); ++c)
        spots.push_back({static_cast<int>(c) * 5 % 17, static_cast<int>(c) * 3 % 11, 0, ""});
    fabric::WireModel model{0.16, 0.021, 0.017, 0.62, 0.08, 1.18, 0.64, 0.83};
    const NetlistIndex index(n);
    const auto k = read_sdc({{"c.sdc", "",
                              "create_clock -name c -period 5 [get_ports c]\nset_input_delay -clock c 1 [get_ports d]\n"
                              "set_output_delay -clock c 1 [get_ports q]\nset_propagated_clock [all_clocks]\n"}},
                            n, index, synthesis::shipped_library());
    const auto file = read_sdf(fabric::write_delays(n, synthesis::shipped_library(), spots, model), "d.sdf");
    ASSERT_TRUE(file.ok()) << file.first().sentence();
    TimingOptions options;
    options.paths = 0;
    TimingEngine of_file({n, synthesis::shipped_library(), k, &file.value()}, options, {}, {});
    of_file.require();
    ASSERT_TRUE(of_file.update({}));
    const Part part;
    int compared = 0;
    const bool asked =
        ask_engine(n, spots, {synthesis::shipped_library(), part, k, model, {}}, [&](TimingEngine& typed) {
            for (std::uint32_t p = 0; p < n.pins.size(); ++p)
                for (const bool late : {false, true}) {
                    const auto a = typed.pin_slack(n.pin_name(p), late), b = of_file.pin_slack(n.pin_name(p), late);
                    ASSERT_EQ(a.has_value(), b.has_value()) << n.pin_name(p);
                    if (a) EXPECT_EQ(*a, *b) << n.pin_name(p);
                    compared += a.has_value();
                }
        });
    EXPECT_TRUE(asked);
    EXPECT_GT(compared, 8);
}

}  // namespace
}  // namespace kp::build_flow
