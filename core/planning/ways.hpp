// SPDX-License-Identifier: GPL-3.0-or-later
// Many ports to many places at once: ranges, buses in order or turned round, the terminals of a board part.
#pragma once

#include "core/planning/place.hpp"

#include <string>
#include <vector>

namespace kp {

/// The ports a text means: one ("tone"), a bus in the order of its header ("data"), a slice in the order written
/// ("data[7:4]", "data[0..3]"), or a list. Errors: a name that is not a port (with the nearest one).
[[nodiscard]] Result<std::vector<std::string>> find_ports(const std::string& text, const std::vector<Port>& ports);

/// The pins a text means: those of find_place, a range or list of them ("k1..k8"), the terminals of a board part in the
/// order the hand sees them ("D1"), or a slice of terminals by name ("lamp[7:0]"). Errors: as find_place.
[[nodiscard]] Result<std::vector<std::string>> find_places(const std::string& text, const Part& part,
                                                           const Board& board);

/// Where a port, a bus or several rows are dropped.
struct DropTarget {
    enum class Kind { pin, bank, board_part } kind = Kind::pin;
    std::string name;  ///< pin, bank, or reference of the board part
};
/// The pins that ports dropped on a target take, in order, at most one each. On a wired pin: it and the terminals that
/// follow it on its board part. On any other pin: it and the free user pins that follow it in its bank. On a bank: its
/// free pins, those the board leaves alone first, that `fits` says yes to. On a board part: its wired terminals in
/// order.
[[nodiscard]] std::vector<std::string> places_from(
    const DropTarget& target, const std::vector<std::string>& ports, const Part& part, const Board& board,
    const PegMap& pegs, const std::function<bool(const std::string& port, const std::string& pin)>& fits);

struct ManyPegs {
    Edit edit;
    std::vector<std::string> ports_left, pins_left;  ///< where one side is longer
    std::vector<std::pair<std::string, std::string>>
        evicted;  ///< ports that lose their pin to one of these, with that pin
};
/// Pegs the first port to the first pin and so on; a port that lies on one of the pins now and is not moved goes
/// adrift. Standards nobody chose come from the board. One edit.
[[nodiscard]] ManyPegs peg_many(const Project& project, const Board& board, const std::vector<std::string>& ports,
                                const std::vector<std::string>& pins, const std::string& origin);

/// The pins of a bus the other way round: the first of `ports` on the last one's pin. Errors: fewer than two, or one
/// that is adrift.
[[nodiscard]] Result<ManyPegs> turn_round(const Project& project, const Board& board,
                                          const std::vector<std::string>& ports);
/// Each port one terminal further along its board part as the hand sees it (`by` 1 or -1), round the end. Errors: one
/// that is adrift, on no board part, or on another one than the first.
[[nodiscard]] Result<ManyPegs> shift_along(const Project& project, const Board& board,
                                           const std::vector<std::string>& ports, int by);

}  // namespace kp
