// SPDX-License-Identifier: GPL-3.0-or-later
// What the user decides and a project file keeps.
#pragma once

#include "core/base/text.hpp"
#include "core/model/constraints.hpp"
#include "core/model/fields.hpp"

#include <map>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace kp {

enum class PegState { pegged, loose };

/// The binding of a port to a pin. A port without one is adrift.
struct Peg {
    std::string pin;
    PegState state = PegState::pegged;
    std::string origin;  ///< "by hand", "by name", "from the board"
    bool wired = false;  ///< soldered as it is: nothing else may take the pin unasked, and nothing moves the port
    bool operator==(const Peg&) const = default;
};

/// Origin of a standard that nobody chose, as project files have it.
inline constexpr const char* from_the_board = "from the board";

/// What was chosen for a port. An empty text means: not chosen.
struct PortAttributes {
    std::string standard, drive, slew, pull, note;
    std::string standard_origin;  ///< "chosen" or "from the board"
    std::string termination;      ///< ohms on the chip, such as "100"
    std::string partner;          ///< port on the other half of its differential pair
    std::string pad_register;     ///< "in", "out" or "both": the register in the pad is used
    std::string pad_delay;        ///< steps of the pad's delay line
    std::string role;             ///< what the port is for, such as "reset"; see plan/roles.hpp for what is proposed
    std::string sense;            ///< "high" or "low": the level at which it is active; else its name says
    std::string open;             ///< why it has no pin on purpose; empty: it needs one
    std::string tie;              ///< "0" or "1": what an input holds that is open on purpose
    std::string invert;  ///< "adapter": where board and design differ in their active level, the adapter inverts
    std::string meant;   ///< terminal of the board that the port is meant for, "REF.name"; see planning/meant.hpp
    /// Of fields that the table has no member for, by key; see attribute_fields().
    std::map<std::string, std::string> more{};
    bool operator==(const PortAttributes&) const = default;
    [[nodiscard]] bool empty() const { return *this == PortAttributes{}; }
    /// pad_delay as a number; 0 when nothing is chosen or it is none.
    [[nodiscard]] long long delay_steps() const { return pad_delay.empty() ? 0 : to_integer(pad_delay).value_or(0); }
    /// Somebody chose the standard; one that only came from the board goes with the pin.
    [[nodiscard]] bool standard_chosen() const { return !standard.empty() && standard_origin != from_the_board; }
};

/// What pins do that hold no port.
enum class UnusedPins { floating, pulled_up, pulled_down, driven_low };

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
    bool receives = false;  ///< new commands go here
    bool operator==(const SdcFile&) const = default;
};

using PegMap = std::map<std::string, Peg>;  ///< by port name

struct Project {
    std::string name, part, board, top;
    std::vector<std::string> netlists, libraries;
    std::vector<std::string> models;                         ///< Verilog models of cells that no library has
    std::vector<std::string> sources;                        ///< HDL whose ports are planned while there is no netlist
    std::vector<std::string> modules;                        ///< plug-in modules as "name@HEADER"
    std::map<std::string, std::string> defines, parameters;  ///< for the sources; parameters are whole numbers as text
    std::vector<std::string> ports;    ///< the ports as last accepted, "in gray[4:0]"; empty before the first reading
    std::string delays;                ///< SDF path, may be empty
    std::vector<std::string> corners;  ///< "slow,sdf=slow.sdf,late=max"; see session/corners.hpp; empty: one
    std::vector<std::string> links;    ///< of lanes, a line each; see model/lane_link.hpp
    std::string mode;                  ///< configuration mode; empty: the one the board is made for
    std::string start_clock;           ///< "internal", "external", "jtag"; empty: the one of the mode
    std::string load;                  ///< "stored" or "volatile"; empty: not decided
    [[nodiscard]] UnusedPins unused() const;
    std::string unused_pins;                            ///< "float", "pull up", "pull down", "drive low"; empty: float
    std::map<std::string, std::string> open_terminals;  ///< of the board, unused on purpose, and why
    std::map<std::string, std::string> part_notes;      ///< of board parts, by ref: what the hand wrote beside them
    std::map<std::string, std::string> part_places;     ///< of board parts, by ref: "x y" in mm, moved on the drawing
    std::map<std::string, std::string> part_orders;     ///< of board parts, by ref: terminals as the hand sees them
    std::map<std::string, std::string> budgets;         ///< what the user says of I/O budgets; see clocks/budget.hpp
    std::vector<std::string>
        power_notes;                  ///< "[ ] text" or "[x] text": what to see to before power-on; see by_hand.hpp
    std::vector<std::string> proofs;  ///< what was proved at the bench, a line each; see proof_notes.hpp
    std::string pin_report;           ///< where the pins came to lie in a build (CSV), may be empty
    std::vector<SdcFile> constraints;
    PegMap pegs;
    std::map<std::string, PortAttributes> attributes;
    std::vector<Waiver> waivers;
};

/// A field of PortAttributes.
struct AttributeField {
    const char* name;                               ///< in files, in the order in which they are written
    std::string PortAttributes::*member = nullptr;  ///< null: it stands in `more`
    [[nodiscard]] const std::string& of(const PortAttributes& a) const;
    void set(PortAttributes& a, std::string value) const;
};
/// All of them. Reading, writing, journal, log, edits and comparison go by this table.
[[nodiscard]] std::span<const AttributeField> attribute_fields();
/// For as long as it lives, attribute_fields() gives another table; for the test that adds a field to a copy. One at a
/// time.
class OtherAttributeFields {
public:
    explicit OtherAttributeFields(std::span<const AttributeField> table);
    ~OtherAttributeFields();
    OtherAttributeFields(const OtherAttributeFields&) = delete;
    OtherAttributeFields& operator=(const OtherAttributeFields&) = delete;
};

/// A field of Project that is a text, a list, or named texts.
struct ProjectField : Field<Project> {
    /// What a change of it brings: another world, only the rules of the plan again, or nothing that is derived.
    enum Brings { world, rules, nothing } brings = world;
};
[[nodiscard]] std::span<const ProjectField> project_fields();
[[nodiscard]] std::span<const Field<Waiver>> waiver_fields();
/// Without the text, which stands in a file of its own.
[[nodiscard]] std::span<const Field<SdcFile>> sdc_file_fields();

}  // namespace kp
