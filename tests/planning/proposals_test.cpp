// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fabric/stand_in_pins.hpp"
#include "core/planning/proposals.hpp"
#include "core/session/session.hpp"
#include "core/session/verdict.hpp"

#include <algorithm>
#include <gtest/gtest.h>
#include <set>

namespace kp {
namespace {

struct ProposalsPlan {
    std::unique_ptr<Session> session =
        Session::open(real_disk(), KP_SOURCE "/demo/vane/vane.kpeg", KP_SOURCE "/data").take();
    Project project = session->project();
    const World& w = session->world();
    [[nodiscard]] std::vector<Proposal> of_sheet(const std::string& text) const {
        const auto sheet = read_sheet(text, "sheet.csv");
        EXPECT_TRUE(sheet.ok()) << (sheet.ok() ? "" : sheet.first().text);
        return proposals_of_sheet(project, w.netlist.ports, w.part, w.board, sheet.value());
    }
    void take(const std::vector<Proposal>& list) {
        ASSERT_TRUE(apply(project, take_proposals(project, w.board, list, "take")).ok());
    }
};

std::string dump(const std::vector<Proposal>& list) {
    std::string out;
    for (const auto& p : list)
        out +=
            p.port + " " + p.field + " '" + p.now + "' '" + p.then + "'" + (p.refused.empty() ? "" : " refused") + "; ";
    return out;
}

TEST(Proposals, TheNamesOfTheBoardPlaceWhatIsAdrift) {
    ProposalsPlan p;
    p.project.pegs.erase("tone");
    p.project.pegs.erase("rose_n[2]");
    const auto list = proposals_by_name(p.w.netlist.ports, p.w.board, p.project);
    ASSERT_EQ(list.size(), 2u);
    for (const auto& one : list) EXPECT_GT(one.confidence, 0.6);
    // One by one: the other stays adrift.
    p.take({list[1]});
    EXPECT_EQ(p.project.pegs.at("tone").pin, "112");
    EXPECT_EQ(p.project.pegs.at("tone").origin, "by name");
    EXPECT_FALSE(p.project.pegs.contains("rose_n[2]"));
}

/// A board of two keys, a lamp and a rocker of two, each wired to a pin of its own.
Board small_board() {
    Board board;
    const auto part = [&](const char* ref, const char* kind, const char* label, TerminalDirection direction,
                          std::initializer_list<const char*> names) {
        BoardPart p;
        p.ref = ref;
        p.kind = kind;
        p.label = label;
        for (const char* name : names) {
            p.terminals.emplace_back();
            p.terminals.back().name = name;
            p.terminals.back().direction = direction;
            board.nets.emplace_back();
            board.nets.back().pin = "P" + std::to_string(board.nets.size());
            board.nets.back().terminal = std::string(ref) + "." + name;
        }
        board.parts.push_back(p);
    };
    part("K1", "key", "reset", TerminalDirection::drives, {"k"});
    part("K2", "key", "go", TerminalDirection::drives, {"k"});
    part("D1", "lamp", "", TerminalDirection::reads, {"a"});
    part("S1", "rocker", "", TerminalDirection::drives, {"u1", "u2"});
    board.index();
    return board;
}

std::string places(const std::vector<NameMatch>& list) {
    std::string out;
    for (const auto& m : list) out += m.port + "=" + m.terminal + " ";
    return out;
}

TEST(Proposals, RolesGivePlacesWhereTheyLeaveNoChoice) {
    const auto board = small_board();
    const auto port = [](const char* name, Direction direction) {
        Port p;
        p.name = p.bus = name;
        p.direction = direction;
        return p;
    };
    std::vector<Port> ports{port("zq", Direction::in), port("glimmer", Direction::out), port("m0", Direction::in),
                            port("m1", Direction::in)};
    Project project;
    EXPECT_EQ(places(meant_places(ports, board, project, {})), "");
    project.attributes["zq"].role = "reset";
    project.attributes["glimmer"].role = "lamp";
    EXPECT_EQ(places(meant_places(ports, board, project, {})), "glimmer=D1.a zq=K1.k ");
    // As many as there are, in order; one of two would be a guess.
    project.attributes["m0"].role = "rocker";
    EXPECT_EQ(places(meant_places(ports, board, project, {})), "glimmer=D1.a zq=K1.k ");
    project.attributes["m1"].role = "rocker";
    EXPECT_EQ(places(meant_places(ports, board, project, {})), "glimmer=D1.a m0=S1.u1 m1=S1.u2 zq=K1.k ");
    // A lamp is not driven by an input, and what is taken is not given.
    ports[1].direction = Direction::in;
    EXPECT_EQ(places(meant_places(ports, board, project, {{"zq", {"P1", PegState::pegged, ""}}})),
              "m0=S1.u1 m1=S1.u2 ");
}

TEST(Proposals, OnlyWhatASheetSaysCounts) {
    ProposalsPlan p;
    const auto pin = p.project.pegs.at("tone").pin;
    EXPECT_EQ(dump(p.of_sheet("port,pin\ntone," + pin + "\n")), "");
    EXPECT_EQ(
        dump(p.of_sheet("# 3 stops are open\nport,pin,drive\ntone,113,8\nosc_20,-,\n")),
        "tone pin '" + pin + "' '113'; tone drive '' '8'; osc_20 pin '" + p.project.pegs.at("osc_20").pin + "' ''; ");
    EXPECT_EQ(dump(p.of_sheet("port,pin,drive,standard\nosc_20,,,\n")), "");  // empty cells say nothing
    EXPECT_EQ(p.of_sheet("# remark\nport,pin\ntone,113\n")[0].why, "line 3");
    EXPECT_EQ(dump(p.of_sheet("port,pin\ntune,113\ntone,999\n")),
              "tune port '' '113' refused; tone pin '" + pin + "' '999' refused; ");
    EXPECT_EQ(p.of_sheet("port,pin\ntune,113\n")[0].refused, "The design has no port 'tune'. Did you mean 'tone'?");
}

TEST(Proposals, PinsMayChangeHandsInOneEdit) {
    ProposalsPlan p;
    const auto a = p.project.pegs.at("rose_n[0]").pin, b = p.project.pegs.at("rose_n[1]").pin;
    p.take(p.of_sheet("port,pin\nrose_n[0]," + b + "\nrose_n[1]," + a + "\n"));
    EXPECT_EQ(p.project.pegs.at("rose_n[0]").pin, b);
    EXPECT_EQ(p.project.pegs.at("rose_n[1]").pin, a);
    EXPECT_EQ(p.project.pegs.at("rose_n[1]").origin, "from a sheet");
}

TEST(Proposals, ASheetOfThePlanItselfChangesNothing) {
    ProposalsPlan p;
    p.project.attributes["tone"].note = "\"loud\", very\nand long";
    p.project.attributes["tone"].drive = "8";
    const auto sheet = write_sheet(sheet_rows(p.w.netlist.ports, p.w.part, p.w.board, p.project));
    EXPECT_EQ(dump(p.of_sheet(sheet)), "");
}

TEST(PinReport, IsReadInSeveralShapes) {
    for (const char* text : {"port,pin,standard\ntone,112,LVCMOS 3.3 V\n",
                             "# made by a build\n\nSignal;Location;I/O standard\ntone;112;LVCMOS 3.3 V\n",
                             "x\tball\tname\tstandard\n1\t112\ttone\tLVCMOS 3.3 V\n2\t113\t\t\n"}) {
        const auto rows = read_pin_report(text, "report");
        ASSERT_TRUE(rows.ok()) << rows.first().text;
        ASSERT_EQ(rows.value().size(), 1u) << text;
        EXPECT_EQ(rows.value()[0].port, "tone");
        EXPECT_EQ(rows.value()[0].pin, "112");
        EXPECT_EQ(rows.value()[0].standard, "LVCMOS 3.3 V");
    }
    EXPECT_EQ(read_pin_report("a,b\n1,2\n", "r").first().line, 1);
    EXPECT_EQ(read_pin_report("# head\nport,pin\nx,1\nx,2\n", "r").first().sentence(),
              "r:4: The port 'x' is there twice.");
    EXPECT_FALSE(read_pin_report("", "r").ok());
    EXPECT_FALSE(read_pin_report("#only a remark", "r").ok());
}

TEST(PinReport, RequestedAgainstObtained) {
    ProposalsPlan p;
    p.project.pegs.erase("tone");
    const auto osc_at = p.project.pegs.at("osc_20").pin;
    const std::vector<PinReportRow> report{{"tone", "113", "", 2},
                                           {"osc_20", "87", "", 3},
                                           {"gray[0]", p.project.pegs.at("gray[0]").pin, "", 4},
                                           {"ghost", "1", "", 5}};
    int same = 0, missing = 0;
    for (const auto& o : compare_obtained(p.project, p.w.netlist.ports, report)) {
        if (o.port == "tone") EXPECT_EQ(o.verdict, Obtained::Verdict::not_requested);
        if (o.port == "osc_20") EXPECT_EQ(o.verdict, Obtained::Verdict::elsewhere);
        if (o.port == "ghost") EXPECT_EQ(o.verdict, Obtained::Verdict::unknown);
        same += o.verdict == Obtained::Verdict::as_requested;
        missing += o.verdict == Obtained::Verdict::not_reported;
    }
    EXPECT_EQ(same, 1);
    EXPECT_EQ(missing, static_cast<int>(p.w.netlist.ports.size()) - 3);
    auto list = proposals_of_report(p.project, p.w.netlist.ports, p.w.part, report);
    std::erase_if(list, [](const Proposal& one) { return one.port != "tone"; });
    p.take(list);
    EXPECT_EQ(p.project.pegs.at("tone").pin, "113");
    EXPECT_EQ(p.project.pegs.at("tone").origin, "from a build");
    EXPECT_EQ(p.project.pegs.at("osc_20").pin, osc_at);
}

TEST(StandIn, HonoursPegsAndPlacesTheRestLegally) {
    ProposalsPlan p;
    Trial trial(p.session->snapshot());
    Project plan = p.project;
    for (const char* port : {"tone", "osc_20", "rose_n[3]"}) plan.pegs.erase(port);
    const auto rows = stand_in_pins(
        p.w.netlist.ports, p.w.part, plan,
        [&](const std::string& port, const std::string& pin) { return trial.trouble(port, pin).empty(); });
    EXPECT_EQ(rows.size(), p.w.netlist.ports.size());
    std::set<std::string> pins;
    for (const auto& r : rows) {
        if (plan.pegs.contains(r.port))
            EXPECT_EQ(r.pin, plan.pegs.at(r.port).pin);
        else
            EXPECT_EQ(Trial(p.session->snapshot()).trouble(r.port, r.pin), "") << r.port;
        if (!plan.pegs.contains(r.port)) EXPECT_TRUE(pins.insert(r.pin).second);
    }
}

}  // namespace
}  // namespace kp
