// SPDX-License-Identifier: GPL-3.0-or-later
// A top with the board's names and polarity around the design, in either language; names that are not identifiers are
// escaped as each language has it.
#include "core/handoff/adapter.hpp"

#include "core/base/bytes.hpp"
#include "core/base/names.hpp"
#include "core/base/reserved_words.hpp"
#include "core/base/disk.hpp"
#include "core/base/text.hpp"
#include "core/format/sdc/rename.hpp"
#include "core/planning/roles.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cctype>
#include <map>
#include <set>

namespace kp {

namespace {

/// An identifier of every language: letters, digits and single underscores, a letter first, none twice but for case.
class Namer {
public:
    std::string name(const std::string& wanted) {
        const std::string out = portable_name(wanted);
        std::string free = out;
        for (int i = 2; !taken_.insert(lower(free)).second; ++i) free = out + "_" + std::to_string(i);
        return free;
    }

private:
    std::set<std::string> taken_;
};

}  // namespace

Adapter plan_adapter(const std::vector<Port>& ports, const std::string& design, const Board& board,
                     const Project& project, const StandardTable& standards, bool turn_polarity) {
    Adapter out;
    Namer namer;
    out.design = design;
    out.name = namer.name(design + "_on_" + board.name);
    std::set<std::string> used;
    for (const auto& port : ports) {
        AdapterBit bit{port, "", false, "", false};
        const auto found = project.attributes.find(port.name);
        const auto chosen = found == project.attributes.end() ? PortAttributes{} : found->second;
        const auto peg = project.pegs.find(port.name);
        const auto at = peg == project.pegs.end() ? Board::Found{} : board.at_pin(peg->second.pin);
        if (peg == project.pegs.end()) {
            bit.why = chosen.open.empty() ? "adrift" : "open on purpose: " + one_line(chosen.open);
            bit.held_high = chosen.tie == "1";
        } else {
            bit.outside = namer.name(at ? at.net->terminal : port.name);
            used.insert(peg->second.pin);
            const bool elsewhere = !chosen.meant.empty() && (!at || chosen.meant != at.net->terminal);
            out.pins.push_back({bit.outside, peg->second.pin, elsewhere ? chosen.meant : ""});
            if (turn_polarity && at) {
                bit.inverted = opposed(port, chosen, at, standards.find(at.terminal->standard));
                if (bit.inverted)
                    bit.why = at.net->terminal + (at.terminal->active_low ? " is active low" : " is active high");
            }
        }
        out.bits.push_back(std::move(bit));
    }
    for (const auto& net : board.nets) {
        const auto at = board.at_terminal(net.terminal);
        if (project.open_terminals.contains(net.terminal)) continue;
        if (!at || used.contains(net.pin) || at.terminal->direction != TerminalDirection::reads) continue;
        const bool held = at.terminal->must == "high" || at.terminal->must == "low";
        AdapterTie tie{namer.name(net.terminal), held ? at.terminal->must == "high" : at.terminal->active_low,
                       held ? "has to be held " + at.terminal->must : "not used"};
        out.pins.push_back({tie.outside, net.pin, ""});
        out.ties.push_back(std::move(tie));
    }
    return out;
}

namespace {

using Buses = std::vector<std::vector<const AdapterBit*>>;

/// Bits by bus, from left to right as declared.
Buses buses_of(const Adapter& a) {
    Buses out;
    std::map<std::string, size_t> at;
    for (const auto& bit : a.bits) {
        const auto [place, fresh] = at.try_emplace(bit.port.bus, out.size());
        if (fresh) out.emplace_back();
        out[place->second].push_back(&bit);
    }
    return out;
}

/// The wire between the design and an inverter, or behind an output nobody takes.
std::string inner(const AdapterBit& bit) {
    std::string out = "inside_";
    for (const char c : bit.port.name) out += std::isalnum(static_cast<unsigned char>(c)) ? c : '_';
    while (out.ends_with("_")) out.pop_back();
    for (size_t i; (i = out.find("__")) != std::string::npos;) out.erase(i, 1);
    return out;
}
bool needs_wire(const AdapterBit& bit) {
    return bit.inverted || (bit.outside.empty() && bit.port.direction != Direction::in);
}

std::string remark(const std::string& why, const char* mark) {
    return why.empty() ? "" : said("  {} {}", mark, why);
}

std::string head(const Adapter& a, const char* mark) {
    const std::string m = std::string(mark) + " ";
    std::string out = said(
        "{}{} with the names of its board around it; the design stays as it is.\n{}Pins of the ports of this "
        "adapter:\n",
        m, a.design, m);
    for (const auto& pin : a.pins)
        out += said("{}  {} = {}{}\n", m, pin.outside, pin.pin,
                    pin.meant.empty() ? "" : said(", meant for {}", one_line(pin.meant)));
    return out + "\n";
}

std::string plain_or(const std::string& name, const std::string& before, const std::string& after) {
    const bool plain = !name.empty() && !std::isdigit(static_cast<unsigned char>(name[0])) &&
                       std::all_of(name.begin(), name.end(),
                                   [](char c) { return std::isalnum(static_cast<unsigned char>(c)) || c == '_'; });
    return plain ? name : before + name + after;
}
std::string verilog_name(const std::string& name) {
    return plain_or(name, "\\", " ");
}
std::string vhdl_name(const std::string& name) {
    return name.starts_with("_") || name.ends_with("_") || name.find("__") != std::string::npos || is_vhdl_word(name)
               ? "\\" + name + "\\"
               : plain_or(name, "\\", "\\");
}

struct Outside {
    std::string name;
    Direction direction;
};
std::vector<Outside> outside_of(const Adapter& a) {
    std::vector<Outside> out;
    for (const auto& bit : a.bits)
        if (!bit.outside.empty()) out.push_back({bit.outside, bit.port.direction});
    for (const auto& tie : a.ties) out.push_back({tie.outside, Direction::out});
    return out;
}

std::string in_verilog(const Adapter& a) {
    std::string out = said("{}module {} (\n", head(a, "//"), a.name);
    const auto ports = outside_of(a);
    for (size_t i = 0; i < ports.size(); ++i)
        out += said("  {} {}{}",
                    (ports[i].direction == Direction::in    ? "input"
                     : ports[i].direction == Direction::out ? "output"
                                                            : "inout"),
                    ports[i].name, (i + 1 < ports.size() ? ",\n" : "\n"));
    out += ");\n\n";
    for (const auto& bit : a.bits)
        if (needs_wire(bit))
            out +=
                said("  wire {};{}\n", inner(bit), (bit.outside.empty() ? remark(bit.why + ", left open", "//") : ""));
    for (const auto& bit : a.bits)
        if (bit.inverted) {
            const bool in = bit.port.direction == Direction::in;
            out += said("  assign {} = ~{};{}\n", (in ? inner(bit) : bit.outside), (in ? bit.outside : inner(bit)),
                        remark(bit.why, "//"));
        }
    for (const auto& tie : a.ties)
        out += said("  assign {} = 1'b{};{}\n", tie.outside, tie.level, remark(tie.why, "//"));
    out += said("\n  {} wrapped (\n", verilog_name(a.design));
    const auto buses = buses_of(a);
    for (size_t b = 0; b < buses.size(); ++b) {
        std::string inside;
        for (const auto* bit : buses[b])
            inside +=
                (inside.empty() ? "" : ", ") + (needs_wire(*bit)       ? inner(*bit)
                                                : bit->outside.empty() ? std::string(bit->held_high ? "1'b1" : "1'b0")
                                                                       : bit->outside);
        const bool bus = buses[b].front()->port.index >= 0;
        out += said("    .{}({}){}", verilog_name(buses[b].front()->port.bus), (bus ? "{" + inside + "}" : inside),
                    (b + 1 < buses.size() ? ",\n" : "\n"));
    }
    return out + "  );\n\nendmodule\n";
}

const char* vhdl_mode(Direction d) {
    return d == Direction::in ? "in" : d == Direction::out ? "out" : "inout";
}

std::string in_vhdl(const Adapter& a) {
    std::string out =
        said("{}library ieee;\nuse ieee.std_logic_1164.all;\n\nentity {} is\n  port (\n", head(a, "--"), a.name);
    const auto ports = outside_of(a);
    for (size_t i = 0; i < ports.size(); ++i)
        out += said("    {} : {} std_logic{}", ports[i].name, vhdl_mode(ports[i].direction),
                    (i + 1 < ports.size() ? ";\n" : "\n"));
    out += said("  );\nend entity;\n\narchitecture adapter of {} is\n  component {} is\n    port (\n", a.name,
                vhdl_name(a.design));
    const auto buses = buses_of(a);
    for (size_t b = 0; b < buses.size(); ++b) {
        const auto &first = buses[b].front()->port, &last = buses[b].back()->port;
        std::string type = "std_logic";
        if (first.index >= 0)
            type += "_vector(" + std::to_string(first.index) + (first.index >= last.index ? " downto " : " to ") +
                    std::to_string(last.index) + ")";
        out += said("      {} : {} {}{}", vhdl_name(first.bus), vhdl_mode(first.direction), type,
                    (b + 1 < buses.size() ? ";\n" : "\n"));
    }
    out += "    );\n  end component;\n";
    for (const auto& bit : a.bits)
        if (needs_wire(bit))
            out += said("  signal {} : std_logic;{}\n", inner(bit),
                        (bit.outside.empty() ? remark(bit.why + ", left open", "--") : ""));
    out += "begin\n";
    for (const auto& bit : a.bits)
        if (bit.inverted) {
            const bool in = bit.port.direction == Direction::in;
            out += said("  {} <= not {};{}\n", (in ? inner(bit) : bit.outside), (in ? bit.outside : inner(bit)),
                        remark(bit.why, "--"));
        }
    for (const auto& tie : a.ties) out += said("  {} <= '{}';{}\n", tie.outside, tie.level, remark(tie.why, "--"));
    out += said("  wrapped : component {}\n    port map (\n", vhdl_name(a.design));
    for (size_t i = 0; i < a.bits.size(); ++i) {
        const auto& bit = a.bits[i];
        const std::string formal =
            vhdl_name(bit.port.bus) + (bit.port.index >= 0 ? "(" + std::to_string(bit.port.index) + ")" : "");
        out += said("      {} => {}{}", formal,
                    (needs_wire(bit)       ? inner(bit)
                     : bit.outside.empty() ? std::string(bit.held_high ? "'1'" : "'0'")
                                           : bit.outside),
                    (i + 1 < a.bits.size() ? ",\n" : "\n"));
    }
    return out + "    );\nend architecture;\n";
}

}  // namespace

std::string write_adapter(const Adapter& adapter, AdapterLanguage language) {
    return language == AdapterLanguage::verilog ? in_verilog(adapter) : in_vhdl(adapter);
}

std::string adapter_constraints(const Adapter& a, const Project& project) {
    sdc::BitNames names;
    std::vector<std::string> nowhere;
    for (const auto& bit : a.bits)
        if (bit.outside.empty())
            nowhere.push_back(bit.port.name);
        else
            names.emplace_back(bit.port.name, bit.outside);
    std::string out =
        said("# Constraints of {} for its adapter {}: the names are those of the board.\n", a.design, a.name);
    if (!nowhere.empty()) out += said("# Not outside the adapter: {}.\n", list_names(nowhere, 20));
    for (const auto& file : project.constraints)
        if (file.handoff)
            out += said("\n# {}\n{}", file_name_of(file.path), sdc::wrapped_constraints(file.text, names, "wrapped"));
    return out;
}

}  // namespace kp
