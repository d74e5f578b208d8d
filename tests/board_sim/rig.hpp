// SPDX-License-Identifier: GPL-3.0-or-later
// One board part on a board model of its own, with a tester's probe on each of its wires in the place of a design.
#pragma once

#include "core/board_sim/board_model.hpp"

#include <gtest/gtest.h>
#include <sstream>

namespace kp::board_sim {

class Rig {
public:
    /// `terminals`: "sck< miso> cs_n<L sda=^", < read by the part, > driven, = both; L active low, ^ pulled up.
    Rig(const std::string& kind, const std::string& terminals, const std::string& label = "part") {
        add("U1", kind, terminals, label);
        plug();
    }
    Rig(const std::string& kind, const std::string& terminals, const std::string& second, const std::string& more,
        const std::string& label) {
        add("U1", kind, terminals, label + " one");
        add("U2", second, more, label + " two");
        plug();
    }

    void set(const std::string& wire, bool level) { model->give(model->terminal("T." + wire), drive_of(level)); }
    void off(const std::string& wire) { model->give(model->terminal("T." + wire), Drive::off); }
    [[nodiscard]] bool high(const std::string& wire) const { return level(wire) == Level::high; }
    [[nodiscard]] Level level(const std::string& wire) const { return model->level(model->terminal("T." + wire)); }
    void run(Time t) { model->run_until(model->now() + t); }
    SimulatedPart& part(const std::string& ref = "U1") { return *model->acting(ref); }
    void control(const std::string& name, const std::string& value, const std::string& ref = "U1") {
        const auto status = part(ref).set(name, value);
        EXPECT_TRUE(status.ok()) << (status ? "" : status.first().sentence());
    }
    /// What the part says under a word; empty when it does not.
    std::string word(const std::string& name, const std::string& ref = "U1") {
        for (const auto& [key, value] : part(ref).words())
            if (key == name) return value;
        return {};
    }
    void record(const std::string& wire) { model->record(model->terminal("T." + wire)); }
    std::vector<Edge> edges(const std::string& wire) {
        const auto& kept = model->edges(model->terminal("T." + wire));
        return {kept.begin(), kept.end()};
    }

    Board board;
    Netlist netlist;
    Library library;
    PegMap pegs;
    std::unique_ptr<BoardModel> model;

private:
    void add(const std::string& ref, const std::string& kind, const std::string& terminals, const std::string& label) {
        BoardPart p;
        p.ref = ref;
        p.kind = kind;
        p.label = label;
        std::istringstream in(terminals);
        for (std::string word; in >> word;) {
            Terminal t;
            const auto at = word.find_first_of("<>=");
            t.name = word.substr(0, at);
            t.direction = word[at] == '<'   ? TerminalDirection::reads
                          : word[at] == '>' ? TerminalDirection::drives
                                            : TerminalDirection::both;
            t.active_low = word.find('L', at) != std::string::npos;
            t.current_ma = kind == "lamp" ? 8 : 0;
            BoardNet net;
            net.pin = t.name;
            net.terminal = ref + "." + t.name;
            if (word.find('^', at) != std::string::npos) net.pull = "up";
            board.nets.push_back(net);
            p.terminals.push_back(t);
        }
        board.parts.push_back(p);
    }
    void plug() {
        BoardPart probe;
        probe.ref = "T";
        probe.kind = "header";
        for (const auto& part : board.parts)
            for (const auto& t : part.terminals) {
                Terminal own;
                own.name = t.name;
                probe.terminals.push_back(own);
                BoardNet net;
                net.pin = t.name;
                net.terminal = "T." + t.name;
                board.nets.push_back(net);
            }
        board.parts.push_back(probe);
        netlist.constant_net[0] = netlist.constant_net[1] = no_id;
        auto made = BoardModel::make(netlist, library, board, pegs);
        if (!made) {
            ADD_FAILURE() << made.first().sentence();
            return;
        }
        model = made.take();
    }
};

}  // namespace kp::board_sim
