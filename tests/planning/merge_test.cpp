// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/format/sdc/rename.hpp"
#include "core/planning/merge.hpp"
#include "core/session/watcher.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

std::vector<PortGroup> ports_of_merge(std::initializer_list<const char*> lines) {
    std::vector<PortGroup> out;
    for (const auto* line : lines) out.push_back(port_from_line(line).value());
    return out;
}

TEST(PortLines, ComeBackAsTheyWere) {
    for (const char* line : {"in clk", "out q[7:0]", "inout d[0:15]", "in odd[3:-4]"})
        EXPECT_EQ(port_line(*port_from_line(line)), line);
    for (const char* line : {"", "in", "up clk", "in q[a:b]", "in q[99999999:0]"})
        EXPECT_FALSE(port_from_line(line)) << line;
    EXPECT_EQ(port_from_line("in d[2:0]")->bits(), (std::vector<std::string>{"d[2]", "d[1]", "d[0]"}));
}

struct Row {
    std::vector<PortGroup> before, after;
    std::string wanted;
};

TEST(PortMerge, TellsWhatBecameOfEachPort) {
    for (const auto& r : {
             Row{ports_of_merge({"in clk", "out q[3:0]"}), ports_of_merge({"in clk", "out q[3:0]"}), ""},
             Row{ports_of_merge({"in clk"}), ports_of_merge({"in clk", "out led"}), "New: out led."},
             Row{ports_of_merge({"in clk", "out led"}), ports_of_merge({"in clk"}),
                 "Gone: out led; its pegs and lines stay until you remove them."},
             Row{ports_of_merge({"in a", "in txd_in", "in b"}), ports_of_merge({"in a", "in rs_txd", "in b"}),
                 "Renamed, it seems: txd_in is now rs_txd (same place, direction and width)."},
             Row{ports_of_merge({"in a", "out lamp[3:0]"}), ports_of_merge({"in a", "out lamps[3:0]"}),
                 "Renamed, it seems: lamp is now lamps (same place, direction and width, alike in name)."},
             Row{ports_of_merge({"out q[3:0]"}), ports_of_merge({"out q[7:0]"}),
                 "Wider: out q[3:0] is now out q[7:0]."},
             Row{ports_of_merge({"out q[7:0]"}), ports_of_merge({"out q[3:0]"}),
                 "Narrower: out q[7:0] is now out q[3:0]."},
             Row{ports_of_merge({"in d"}), ports_of_merge({"inout d"}), "Turned: d was in and is now inout."},
             // Another direction or width is not a rename.
             Row{ports_of_merge({"in alpha"}), ports_of_merge({"out alpha2"}),
                 "New: out alpha2.Gone: in alpha; its pegs and lines stay until you remove them."},
         }) {
        std::string got;
        for (const auto& s : compare_ports(r.before, r.after).sentences()) got += s;
        EXPECT_EQ(got, r.wanted);
    }
}

TEST(PortMerge, TheLikeliestIsTakenFirst) {
    const auto m =
        compare_ports(ports_of_merge({"in x_data", "in y_data"}), ports_of_merge({"in y_data_i", "in x_data_i"}));
    ASSERT_EQ(m.renamed.size(), 2u);
    for (const auto& r : m.renamed) EXPECT_EQ(r.after.name, r.before.name + "_i");
}

TEST(PortMerge, AWholeOtherHeaderIsAnAnswerToo) {
    std::vector<PortGroup> before, after;
    for (int i = 0; i < 1500; ++i) {
        before.push_back({"old_" + std::to_string(i), Direction::in, {}, {}});
        after.push_back({"other_" + std::to_string(7 * i), Direction::in, {}, {}});
    }
    const auto m = compare_ports(before, after);
    EXPECT_EQ(m.renamed.size() + m.removed.size(), 1500u);
    EXPECT_EQ(m.renamed.size() + m.added.size(), 1500u);
}

TEST(CarryOver, NamesThatChangePlacesKeepTheirPegs) {
    Project p;
    p.pegs = {{"a", {"1", PegState::pegged, "by hand"}},
              {"b", {"2", PegState::loose, "by name"}},
              {"c", {"3", PegState::pegged, ""}}};
    p.attributes["a"].standard = "S";
    p.waivers = {{"L09", {"a", "c"}, "why", "who", "when"}};
    Edit edit{"swap", carry_over(p, {{"a", "b"}, {"b", "a"}})};
    const auto before = p;
    ASSERT_TRUE(apply(p, edit));
    EXPECT_EQ(p.pegs["b"].pin, "1");
    EXPECT_EQ(p.pegs["a"].pin, "2");
    EXPECT_EQ(p.pegs["c"].pin, "3");
    EXPECT_EQ(p.attributes["b"].standard, "S");
    EXPECT_EQ(p.waivers[0].objects, (std::vector<std::string>{"b", "c"}));
    ASSERT_TRUE(apply(p, edit.inverse()));
    EXPECT_EQ(p.pegs, before.pegs);
    EXPECT_EQ(p.waivers, before.waivers);
}

std::string renamed(std::string text, const std::vector<std::pair<std::string, std::string>>& names) {
    const auto found = sdc::rename_ports(text, names);
    for (auto r = found.rbegin(); r != found.rend(); ++r) {
        EXPECT_EQ(text.substr(r->offset, r->before.size()), r->before);
        text.replace(r->offset, r->before.size(), r->after);
    }
    return text;
}

TEST(SdcRename, TouchesPortsAndNothingElse) {
    struct Case {
        const char *before, *after;
    };
    for (const auto& c : {
             Case{"set_input_delay 1 -clock clk [get_ports a]", "set_input_delay 1 -clock clk [get_ports new]"},
             Case{"set_input_delay 1 -clock a [get_ports {a[*] a[3] b}]",
                  "set_input_delay 1 -clock a [get_ports {new[*] new[3] b}]"},
             Case{"create_clock -period 5 [get_ports a]", "create_clock -name a -period 5 [get_ports new]"},
             Case{"create_clock -name a -period 5 [get_ports a]", "create_clock -name a -period 5 [get_ports new]"},
             Case{"create_clock -period 5 a", "create_clock -name a -period 5 new"},
             Case{"set_false_path -from [get_ports a] -to [get_clocks a]",
                  "set_false_path -from [get_ports new] -to [get_clocks a]"},
             Case{"# a stays in remarks\nset_load 1 [get_ports a] ;# a",
                  "# a stays in remarks\nset_load 1 [get_ports new] ;# a"},
             Case{"set x a\nset_load 1 [get_ports $a]", "set x a\nset_load 1 [get_ports $a]"},
             Case{"set_load 1 [get_ports a*]", "set_load 1 [get_ports a*]"},
             Case{"foreach p {1 2} { set_load $p [get_ports {a[$p]}] }",
                  "foreach p {1 2} { set_load $p [get_ports {new[$p]}] }"},
             Case{"set_load 1 [get_pins u1/a]", "set_load 1 [get_pins u1/a]"},
             Case{"set_load 1 [get_ports ba]", "set_load 1 [get_ports ba]"},
             Case{"set_input_delay 1 -clock [get_clocks a] [get_ports a]",
                  "set_input_delay 1 -clock [get_clocks a] [get_ports new]"},
         })
        EXPECT_EQ(renamed(c.before, {{"a", "new"}}), c.after);
}

}  // namespace
}  // namespace kp
