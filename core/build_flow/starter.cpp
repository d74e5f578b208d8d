// SPDX-License-Identifier: GPL-3.0-or-later
// The first oscillator, lamp and key that lie on user pins; a counter divides the clock to about two blinks a second.
#include "core/build_flow/starter.hpp"

#include "core/base/bytes.hpp"
#include "core/base/text.hpp"
#include "core/format/json/project_json.hpp"
#include "core/base/said.hpp"

#include <cmath>

namespace kp::build_flow {

namespace {

struct Wired {
    std::string terminal, pin, standard;
    bool active_low = false;
};

/// Terminals of parts of a kind that are wired to user pins, in the order of the board file.
std::vector<Wired> places_of(const Board& board, const Part& part, const char* kind, bool drives) {
    std::vector<Wired> out;
    for (const auto& p : board.parts) {
        if (p.kind != kind) continue;
        for (const auto& t : p.terminals) {
            if ((t.direction == TerminalDirection::drives) != drives) continue;
            const auto at = board.at_terminal(p.ref + "." + t.name);
            const auto* pin = at.net ? part.pin(at.net->pin) : nullptr;
            if (pin && pin->usable()) out.push_back({p.ref + "." + t.name, pin->name, t.standard, t.active_low});
        }
    }
    return out;
}

void peg(Project& p, const std::string& port, const Wired& at) {
    p.pegs[port] = {at.pin, PegState::pegged, from_the_board};
    if (at.standard.empty()) return;
    p.attributes[port].standard = at.standard;
    p.attributes[port].standard_origin = from_the_board;
}

std::string source_of(const Starter& s, unsigned bits, bool lamp_low, bool follow_low, bool key_low) {
    const bool follows = !s.follows.empty();
    std::string out = said("// A starter for the board: {} blinks{}.\n", s.blinks,
                           (follows ? ", " + s.follows + " follows " + s.key : std::string()));
    out += said("module starter #(parameter BITS = {}) (\n    input  wire osc,\n", bits);
    if (follows) out += "    input  wire key,\n    output wire follow,\n";
    out += "    output wire lamp\n);\n  reg [BITS-1:0] count = 0;\n  always @(posedge osc) count <= count + 1'b1;\n";
    out += std::string("  assign lamp = ") + (lamp_low ? "~" : "") + "count[BITS-1];\n";
    if (follows) out += std::string("  assign follow = ") + (follow_low != key_low ? "~key" : "key") + ";\n";
    return out + "endmodule\n";
}

}  // namespace

Result<Starter> starter_for(const Board& board, const std::string& board_file, const Part& part) {
    const auto wrong = [&](const std::string& why) {
        return Message{Severity::stop, Code::starter, said("No starter can be made for {}: {}.", board.name, why)};
    };
    Starter s;
    const Oscillator* oscillator = nullptr;
    Wired clock;
    for (const auto& place : places_of(board, part, "oscillator", true))
        for (const auto& o : board.oscillators)
            if (o.terminal == place.terminal && !oscillator) {
                oscillator = &o;
                clock = place;
            }
    if (!oscillator) return wrong("it has no oscillator on a user pin");
    const auto lamps = places_of(board, part, "lamp", false);
    if (lamps.empty()) return wrong("it has no lamp on a user pin");
    auto keys = places_of(board, part, "key", true);
    if (keys.empty()) keys = places_of(board, part, "rocker", true);
    auto& p = s.project;
    p.name = "starter";
    p.part = board.part;
    p.board = board_file;
    p.top = "starter";
    p.sources = {"starter.v"};
    s.clock = clock.terminal;
    s.blinks = lamps[0].terminal;
    peg(p, "osc", clock);
    peg(p, "lamp", lamps[0]);
    const bool follows = lamps.size() > 1 && !keys.empty();
    if (follows) {
        s.key = keys[0].terminal;
        s.follows = lamps[1].terminal;
        peg(p, "key", keys[0]);
        peg(p, "follow", lamps[1]);
    }
    const double hz = oscillator->mhz * 1e6;
    const auto bits = static_cast<unsigned>(std::max(1.0, std::ceil(std::log2(hz / 2))));
    s.blink_hz = hz / std::pow(2.0, bits);
    s.hdl = source_of(s, bits, lamps[0].active_low, follows && lamps[1].active_low, follows && keys[0].active_low);
    s.sdc = said(
        "create_clock -name osc -period {} [get_ports osc]\n# an eye sees it whenever it comes\nset_false_path -to "
        "[get_ports lamp]\n",
        fixed(1e3 / oscillator->mhz, 3));
    if (follows) s.sdc += "set_false_path -from [get_ports key] -to [get_ports follow]\n";
    SdcFile file;
    file.path = "starter.sdc";
    file.text = s.sdc;
    file.receives = true;
    p.constraints.push_back(std::move(file));
    return s;
}

Result<std::string> write_starter(Disk& disk, const std::string& folder, const Starter& s) {
    if (disk.kind(folder) == FileKind::none)
        if (auto made = disk.make_folder(folder); !made) return made.messages();
    const auto path = join_path(folder, "starter.kpeg");
    for (const auto& [name, text] : {std::pair<std::string, std::string>("starter.v", s.hdl),
                                     {"starter.sdc", s.sdc},
                                     {"starter.kpeg", write_project(ProjectFile{s.project, {}})}})
        if (auto status = disk.create(join_path(folder, name), text); !status) return status.messages();
    return path;
}

}  // namespace kp::build_flow
