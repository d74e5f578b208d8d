// SPDX-License-Identifier: GPL-3.0-or-later
// What a port's peg leads to: pin, bank, rail, terminal, board part, partner, byte, bus, facts of the design behind it.
// The one place that knows; rules, facts pane, sheet, loom, footprint, attributes and reports ask it.
#pragma once

#include "core/design/facts.hpp"
#include "core/model/board.hpp"
#include "core/model/netlist.hpp"
#include "core/model/part.hpp"
#include "core/model/project.hpp"
#include "core/model/standards.hpp"
#include "core/planning/attributes.hpp"
#include "core/planning/place.hpp"

#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <unordered_map>
#include <vector>

namespace kp {

/// A port and everything its peg leads to; null where there is none.
struct PlannedPort {
    std::string name;
    std::uint32_t order = no_id;       ///< position in the design; no_id for a peg whose port is gone
    const Port* port = nullptr;        ///< null: the design has no such port any more
    const PortFacts* facts = nullptr;  ///< null without a netlist
    const Peg* peg = nullptr;          ///< null: adrift
    std::string on, partner;  ///< its pin by the peg, its partner by choice; kept, since an edit takes both away first
    const PortAttributes* chosen = nullptr;  ///< never null
    const Pin* pin = nullptr;
    const Bank* bank = nullptr;
    const IoStandard* standard = nullptr;
    Board::Found at;             ///< terminal on its pin
    std::optional<double> rail;  ///< of its bank, V

    [[nodiscard]] bool drives() const { return port && port->direction != Direction::in; }
    [[nodiscard]] bool reads() const { return port && port->direction != Direction::out; }
};

/// One byte of a memory interface: its data bits, mask and strobe, told by their names.
struct ByteLane {
    std::string name;               ///< "mem_dq[7:0]"
    std::vector<std::string> bits;  ///< data and mask
    std::vector<std::string> strobes;
};

/// A terminal of the board that has to be driven or held.
struct HeldTerminal {
    const BoardNet* net = nullptr;
    Board::Found at;
};
/// A clock that goes with data: the pin of the clock and those of the terminals that are timed against it.
struct ForwardedClock {
    std::string terminal;  ///< "REF.name" of the clock
    const Pin* clock = nullptr;
    std::vector<const Pin*> data;
};

/// 'p' or 'n' by the ending of a bus name, 0 when it does not say. Common practice, no source.
[[nodiscard]] char half_of(const std::string& bus);

/// All that it refers to outlives it, and only `project` may change: refresh() tells of that. One thread at a time;
/// look-ups of seats cost the same however large the design is.
class Plan {
public:
    const Part& part;
    const Board& board;
    const StandardTable& standards;
    const std::vector<Port>& ports;
    const Project& project;

    /// `facts`: by position in `ports`; shorter, or empty, when less is known.
    Plan(const Part& part, const Board& board, const StandardTable& standards, const std::vector<Port>& ports,
         const Project& project, const std::vector<PortFacts>& facts);
    Plan(Plan&&) = default;
    Plan(const Plan&) = delete;

    /// Ports of the design in its order, then pegs whose port is gone, by name.
    [[nodiscard]] const std::vector<const PlannedPort*>& seats() const;
    /// Null when there is neither such a port nor such a peg.
    [[nodiscard]] const PlannedPort* seat(const std::string& name) const;
    [[nodiscard]] const Port* port(const std::string& name) const;
    /// Names of the ports pegged to a pin, sorted; none for most.
    [[nodiscard]] const std::vector<std::string>& at_pin(const std::string& pin) const;
    /// Seats whose pin is in a bank, in no order that means anything.
    [[nodiscard]] const std::vector<const PlannedPort*>& in_bank(const std::string& bank) const;
    /// The other half of a differential port: the one that was chosen, else the one whose name differs in the ending
    /// only.
    [[nodiscard]] const PlannedPort* partner(const PlannedPort& seat) const;
    [[nodiscard]] const std::vector<ByteLane>& lanes() const { return lanes_; }
    [[nodiscard]] const std::vector<HeldTerminal>& held_terminals() const { return held_; }
    [[nodiscard]] const std::vector<ForwardedClock>& forwarded_clocks() const { return forwarded_; }
    /// The bits of the bus of a port, in the order of the design; empty for a port without index.
    [[nodiscard]] const std::vector<const PlannedPort*>& bus_of(const PlannedPort& seat) const;
    /// The lane a port belongs to; null for most.
    [[nodiscard]] const ByteLane* lane_of(const std::string& port) const;

    /// To be told when the peg or the choices of a port have changed in `project`.
    void refresh(const std::string& port);
    [[nodiscard]] const NameMatcher& matcher() const;
    [[nodiscard]] const AttributeInput& attributes() const;

private:
    void fill(PlannedPort& seat);
    void enter(const PlannedPort& seat);
    void leave(const PlannedPort& seat);
    void find_lanes();
    void read_board();
    const std::vector<PortFacts>& facts_;
    std::unordered_map<std::string, std::unique_ptr<PlannedPort>> seat_of_;
    mutable std::vector<const PlannedPort*> seats_;  // put in order again when a seat came or went
    mutable bool ordered_ = false;
    std::unordered_map<std::string, std::vector<std::string>> on_pin_;
    std::unordered_map<std::string, std::vector<const PlannedPort*>> in_bank_;
    std::unordered_map<std::string_view, const IoStandard*> standard_;
    std::vector<ByteLane> lanes_;
    std::vector<HeldTerminal> held_;
    std::vector<ForwardedClock> forwarded_;
    std::unordered_map<std::string, std::vector<const PlannedPort*>> buses_;
    std::unordered_map<std::string, size_t> lane_of_;
    mutable std::unique_ptr<NameMatcher> matcher_;  // made when first asked for
    mutable std::unique_ptr<AttributeInput> attributes_;
};

}  // namespace kp
