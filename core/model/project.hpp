// SPDX-License-Identifier: GPL-3.0-or-later
// What the user decides and a project file keeps.
#pragma once

#include "core/model/constraints.hpp"

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace kp {

enum class PegState { pegged, loose };

/// The binding of a port to a pin. A port without one is adrift.
struct Peg {
    std::string pin;
    PegState state = PegState::pegged;
    std::string origin;  ///< "by hand", "by name", "from the board"
    bool operator==(const Peg&) const = default;
};

/// What was chosen for a port. An empty text means: not chosen.
struct PortAttributes {
    std::string standard, drive, slew, pull, note;
    std::string standard_origin;  ///< "chosen" or "from the board"
    std::string termination;      ///< ohms on the chip, such as "100"
    std::string partner;          ///< port on the other half of its differential pair
    std::string pad_register;     ///< "in", "out" or "both": the register in the pad is used
    std::string pad_delay;        ///< steps of the pad's delay line
    bool operator==(const PortAttributes&) const = default;
    [[nodiscard]] bool empty() const { return *this == PortAttributes{}; }
};

/// The fields of PortAttributes by the names that files have, in the order in which they are written. Reading, writing,
/// journal and log go by this table.
struct AttributeField {
    const char* name;
    std::string PortAttributes::*field;
};
inline constexpr AttributeField attribute_fields[] = {
    {"standard", &PortAttributes::standard},
    {"standard_origin", &PortAttributes::standard_origin},
    {"drive", &PortAttributes::drive},
    {"slew", &PortAttributes::slew},
    {"pull", &PortAttributes::pull},
    {"note", &PortAttributes::note},
    {"termination", &PortAttributes::termination},
    {"partner", &PortAttributes::partner},
    {"pad_register", &PortAttributes::pad_register},
    {"pad_delay", &PortAttributes::pad_delay},
};

struct Waiver {
    std::string rule;
    std::vector<std::string> objects;
    std::string reason, who, date;
    bool operator==(const Waiver&) const = default;
};

struct SdcFile {
    std::string path;  ///< relative to the project
    std::string text;  ///< the text as edited; the file on disk is written by saving
    bool planning = true, analysis = true, handoff = true;
    bool target = false;  ///< new commands go here
    bool operator==(const SdcFile&) const = default;
};

using PegMap = std::map<std::string, Peg>;  ///< by port name

struct Project {
    std::string name, part, board, top;
    std::vector<std::string> netlists, libraries;
    std::vector<std::string> sources;                        ///< HDL whose ports are planned while there is no netlist
    std::vector<std::string> modules;                        ///< plug-in modules as "name@HEADER"
    std::map<std::string, std::string> defines, parameters;  ///< for the sources; parameters are whole numbers as text
    std::vector<std::string> ports;  ///< the ports as last accepted, "in gray[4:0]"; empty before the first reading
    std::string delays;              ///< SDF path, may be empty
    std::string mode;                ///< configuration mode; empty: the one the board is made for
    std::string start_clock;         ///< "internal", "external", "jtag"; empty: the one of the mode
    std::string load;                ///< "stored" or "volatile"; empty: not decided
    std::string unused_pins;         ///< "float", "pull up", "pull down", "drive low"; empty: float
    std::string pin_report;          ///< where the pins came to lie in a build (CSV), may be empty
    std::vector<SdcFile> constraints;
    PegMap pegs;
    std::map<std::string, PortAttributes> attributes;
    std::vector<Waiver> waivers;
};

}  // namespace kp
