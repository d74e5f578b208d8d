// SPDX-License-Identifier: GPL-3.0-or-later
// What the rules want to know of a design that only its netlist tells: what hangs behind each port, what its PLLs make,
// and where data change clocks. Made with the analysis, since it takes time in proportion to the design.
#pragma once

#include "core/model/constraints.hpp"
#include "core/model/library.hpp"
#include "core/model/netlist.hpp"

#include <optional>
#include <stop_token>
#include <string>
#include <vector>

namespace kp {

/// What the design does with one port.
struct PortFacts {
    bool clocks_registers = false;  ///< it reaches clock pins through pads, buffers and gates only
    bool feeds_pll = false;
    bool read = false;          ///< something hears it
    bool only_low = false;      ///< an output that only ever pulls down: open drain
    int steady = 0;             ///< registers in a row that an input passes before logic hears it, on the shortest way
    int cleared = 0;            ///< registers it clears or presets without a register between
    std::string cleared_first;  ///< one of them
    /// An output that a bit of a binary counter drives: clock of the counter and by how much it is divided.
    std::uint32_t counter_clock = no_id;
    double divided_by = 0;
};

struct PllOutput {
    std::string pin;
    std::optional<long long> divide;  ///< its parameter
    std::uint32_t clock = no_id;      ///< the generated clock defined on it
};
struct PllFacts {
    std::string cell;
    std::string port;             ///< design port that its input comes from; empty: from inside
    std::string input;            ///< its clock input, "pll/CKI"; empty while no clock reaches it
    std::uint32_t clock = no_id;  ///< the clock at its input
    std::optional<long long> divide, multiply;
    std::vector<PllOutput> outputs;  ///< those that are wired
};

/// Data that go from a register (or a port with an input delay) of one clock to registers of another that has another
/// origin.
struct ClockCrossing {
    std::uint32_t from = no_id, to = no_id;  ///< clocks
    int open = 0;                            ///< register inputs with neither exception nor synchroniser
    std::string open_from, open_to;          ///< one of them
    int synchronised = 0;
};
/// Several bits of one bus, each through a synchroniser of its own, not in Gray code: they can arrive in different
/// cycles.
struct BusCrossing {
    std::uint32_t from = no_id, to = no_id;
    std::string bus;
    int bits = 0;
};

struct DesignFacts {
    std::vector<PortFacts> ports;  ///< by position in the netlist's ports
    std::vector<PllFacts> plls;
    std::vector<ClockCrossing> crossings;  ///< only those with something open or synchronised
    std::vector<BusCrossing> buses;
    /// The same between clocks of one origin, whose edges are known to each other: `open` counts all register inputs
    /// that are not a synchroniser's, whatever exceptions say. Where somebody put synchronisers, nobody counts on the
    /// edges.
    std::vector<ClockCrossing> related;
    std::vector<bool> clock_used;  ///< per clock: it reaches a register, a PLL or a port delay
};

/// Clocks beyond the 64th are not told apart from "no clock". Linear in the design but for the ways traced back from
/// register inputs where clocks meet. Asked to stop, it gives what it has so far.
[[nodiscard]] DesignFacts design_facts(const Netlist& netlist, const Library& library, const Constraints& constraints,
                                       const std::stop_token& stop = {});

}  // namespace kp
