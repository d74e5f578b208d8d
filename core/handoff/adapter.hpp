// SPDX-License-Identifier: GPL-3.0-or-later
// The adapter top: a module with the names of the board around the design, which stays as it is. It renames, takes
// buses apart, turns polarity, and holds what the board wants held and nobody uses.
#pragma once

#include "core/model/standards.hpp"
#include "core/model/board.hpp"
#include "core/model/netlist.hpp"
#include "core/model/project.hpp"

#include <string>
#include <vector>

namespace kp {

enum class AdapterLanguage { verilog, vhdl };

/// One bit of the design and what it is tied to outside.
struct AdapterBit {
    Port port;
    std::string outside;  ///< port of the adapter; empty: nothing (an input is then held, an output left open)
    bool inverted = false;
    std::string why;         ///< of an inversion, or of nothing outside
    bool held_high = false;  ///< of an input with nothing outside
    bool operator==(const AdapterBit&) const = default;
};
/// A terminal that the design does not use and the adapter drives.
struct AdapterTie {
    std::string outside;
    int level = 0;
    std::string why;
    bool operator==(const AdapterTie&) const = default;
};
/// A port of the adapter on its pin.
struct AdapterPin {
    std::string outside, pin;
    std::string meant;  ///< terminal that its port is meant for, where the pin leads elsewhere
    bool operator==(const AdapterPin&) const = default;
};
struct Adapter {
    std::string name, design;  ///< module names
    std::vector<AdapterBit> bits;
    std::vector<AdapterTie> ties;
    std::vector<AdapterPin> pins;  ///< of each port of the adapter, in order
};

/// Works the adapter out from the pegs. Polarity is turned where the board part is active low and the port's name does
/// not say so (no _n or _b at its end), or the other way round for lamps and switches; not for pairs and both-way
/// ports. A terminal nobody uses is driven when the board part only reads it: at the level it has to be held at, else
/// inactive.
[[nodiscard]] Adapter plan_adapter(const std::vector<Port>& ports, const std::string& design, const Board& board,
                                   const Project& project, const StandardTable& standards, bool turn_polarity);

/// The adapter as text. Names that are not plain identifiers are written as the language escapes them.
[[nodiscard]] std::string write_adapter(const Adapter& adapter, AdapterLanguage language);

/// The project's constraint files of the handoff as one text for the adapter: its ports by its own names, the design
/// one level down. A port that the adapter does not have outside is named in a remark; its lines are kept as they are
/// and will find nothing.
[[nodiscard]] std::string adapter_constraints(const Adapter& adapter, const Project& project);

/// The same, read back and compared. Errors: there is no design; what check_adapter says.
[[nodiscard]] Result<std::string> adapter_text(const Adapter& adapter, AdapterLanguage language);

/// Reads the text back with the scanners of the port readers and compares it with the adapter, link by link. Errors:
/// the first link that is other than planned.
[[nodiscard]] Status check_adapter(const Adapter& adapter, AdapterLanguage language, const std::string& text);

}  // namespace kp
