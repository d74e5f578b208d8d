// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/attributes.hpp"
#include "core/planning/place.hpp"
#include "core/session/session.hpp"

#include <algorithm>
#include <gtest/gtest.h>

namespace kp {
namespace {

struct PegPlan {
    std::unique_ptr<Session> session =
        Session::open(real_disk(), KP_SOURCE "/demo/profiler/profiler-closed.kpeg", KP_SOURCE "/data").take();
    Project project = session->project();
    [[nodiscard]] AttributeInput input() const {
        const auto& w = session->world();
        return {w.part, w.board, w.standards, w.netlist.ports, project};
    }
    [[nodiscard]] AttributeState state(const std::string& port, const char* key) const {
        return attribute_state(input(), port, *attribute_kind(key));
    }
    Status set(const std::vector<std::string>& ports, const char* key, const std::string& value) {
        auto edit = attribute_edit(input(), ports, *attribute_kind(key), value);
        if (!edit) return edit.messages();
        return apply(project, edit.value());
    }
};

bool has(const std::vector<std::string>& list, const char* value) {
    return std::find(list.begin(), list.end(), value) != list.end();
}

TEST(Attributes, EachSaysWhereItComesFromAndWhatItMeans) {
    PegPlan p;
    EXPECT_EQ(p.state("lamp[0]", "standard").origin, AttributeOrigin::board);
    p.project.attributes["lamp[0]"] = {};
    EXPECT_EQ(p.state("lamp[0]", "standard").origin, AttributeOrigin::missing);
    ASSERT_TRUE(p.set({"lamp[0]"}, "standard", "LVTTL 3.3 V").ok());
    EXPECT_EQ(p.state("lamp[0]", "standard").origin, AttributeOrigin::chosen);
    for (const auto& kind : attribute_kinds()) EXPECT_GT(std::string(kind.meaning).size(), 30u) << kind.key;
    EXPECT_EQ(attribute_kind("colour"), nullptr);
}

TEST(Attributes, OnlyStandardsThatBankAndRailAllow) {
    PegPlan p;
    // Lamps lie on a bank of 3.3 V, the memory on one of 1.5 V that has a reference.
    const auto lamp = p.state("lamp[0]", "standard").legal;
    EXPECT_TRUE(has(lamp, "LVCMOS 3.3 V"));
    EXPECT_FALSE(has(lamp, "LVCMOS 2.5 V"));
    EXPECT_TRUE(has(p.state("mem_dq[0]", "standard").legal, "SSTL 1.5 V"));
    const auto refused = p.set({"lamp[0]", "lamp[1]"}, "standard", "LVCMOS 1.8 V");
    ASSERT_FALSE(refused.ok());
    EXPECT_EQ(refused.first().text.substr(0, 54), "lamp[0] cannot have the I/O standard 'LVCMOS 1.8 V'. I");
    // Adrift: anything the table knows that an output can have.
    p.project.pegs.erase("lamp[0]");
    const auto& rows = p.session->world().standards.rows;
    const auto for_inputs = std::count_if(rows.begin(), rows.end(), [](const auto& s) { return s.direction == "in"; });
    EXPECT_GT(for_inputs, 0);
    EXPECT_EQ(p.state("lamp[0]", "standard").legal.size(), rows.size() - static_cast<size_t>(for_inputs));
}

TEST(Attributes, OutputsDriveAndInputsAreHeld) {
    PegPlan p;
    EXPECT_FALSE(p.state("rst_n", "drive").applies());
    EXPECT_FALSE(p.state("rst_n", "slew").applies());
    EXPECT_FALSE(p.state("lamp[0]", "pull").applies());
    EXPECT_EQ(p.state("rst_n", "pull").legal, (std::vector<std::string>{"up", "down", "keeper"}));
    EXPECT_TRUE(p.state("i2c_sda", "pull").applies());
    EXPECT_TRUE(p.state("i2c_sda", "drive").applies());
    EXPECT_EQ(p.state("lamp[0]", "drive").origin, AttributeOrigin::missing);
    EXPECT_TRUE(has(p.state("lamp[0]", "drive").legal, "8"));
    EXPECT_EQ(p.state("lamp[0]", "slew").legal, (std::vector<std::string>{"slow", "fast"}));
    EXPECT_EQ(p.state("rst_n", "pad_register").legal, (std::vector<std::string>{"in"}));
    EXPECT_EQ(p.state("i2c_sda", "pad_register").legal, (std::vector<std::string>{"in", "out", "both"}));
    EXPECT_EQ(p.state("rst_n", "pad_delay").legal.size(), 24u);  // 0 to 23 steps
    EXPECT_FALSE(p.state("nobody", "drive").applies());
}

TEST(Attributes, SeveralPortsAreOneEditAndAllOfThemOrNone) {
    PegPlan p;
    const auto edit = attribute_edit(p.input(), {"lamp[0]", "lamp[1]", "lamp[2]"}, *attribute_kind("drive"), "8");
    ASSERT_TRUE(edit.ok());
    EXPECT_EQ(edit.value().changes.size(), 3u);
    EXPECT_EQ(edit.value().title, "drive strength 8 mA of 3 ports");
    // One of them is an input.
    EXPECT_FALSE(attribute_edit(p.input(), {"lamp[0]", "rst_n"}, *attribute_kind("drive"), "8").ok());
    EXPECT_TRUE(legal_for_all(p.input(), {"lamp[0]", "rst_n"}, *attribute_kind("drive")).empty());
    // What was there stays legal to keep and to take back.
    p.project.attributes["rst_n"].drive = "99";
    EXPECT_TRUE(p.set({"rst_n"}, "drive", "99").ok());
    EXPECT_TRUE(p.set({"rst_n"}, "drive", "").ok());
    EXPECT_EQ(p.project.attributes["rst_n"].drive, "");
    // Any words are a note.
    EXPECT_TRUE(p.set({"rst_n"}, "note", "ask \"her\", twice").ok());
}

TEST(Attributes, CopyingLeavesOutWhatIsNotLegalThere) {
    PegPlan p;
    ASSERT_TRUE(p.set({"lamp[0]"}, "drive", "8").ok());
    ASSERT_TRUE(p.set({"lamp[0]"}, "slew", "slow").ok());
    const auto copied = copy_attributes(p.input(), "lamp[0]", {"lamp[0]", "lamp[1]", "mem_dq[0]"});
    EXPECT_EQ(copied.left_out, (std::vector<std::string>{"I/O standard of mem_dq[0]"}));
    ASSERT_TRUE(apply(p.project, copied.edit).ok());
    EXPECT_EQ(p.project.attributes["lamp[1]"].drive, "8");
    EXPECT_EQ(p.project.attributes["lamp[1]"].slew, "slow");
    EXPECT_EQ(p.project.attributes["lamp[1]"].standard_origin, "from the board");
    EXPECT_EQ(p.project.attributes["mem_dq[0]"].standard, "SSTL 1.5 V");
    EXPECT_EQ(p.project.attributes["mem_dq[0]"].slew, "slow");
}

}  // namespace
}  // namespace kp
