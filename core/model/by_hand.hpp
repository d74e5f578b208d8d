// SPDX-License-Identifier: GPL-3.0-or-later
// What the hand adds to a board in its project: where parts stand, how their terminals are ordered, notes, and what to
// see to before power is switched on. The board file stays as it is.
#pragma once

#include "core/model/board.hpp"
#include "core/model/project.hpp"

#include <string>
#include <utility>
#include <vector>

namespace kp {

/// Left and top of a part on the drawing, mm: where it was moved to, else where the board says. A text in the project
/// that is not a place counts as none.
[[nodiscard]] std::pair<double, double> place_of(const BoardPart& part, const Project& project);

/// Puts the terminals of parts in the order that the project tells; terminals it does not name come after those it
/// does, as they were. What it says of parts and terminals that are not there is left alone.
void order_terminals(Board& board, const Project& project);

/// The names of a part's terminals from left to right, as the hand sees them.
[[nodiscard]] std::vector<std::string> terminals_in_order(const BoardPart& part);

struct PowerNote {
    std::string text;
    bool done = false, own = false;  ///< own: the user's, not the board's
};
/// The board's notes, then the user's.
[[nodiscard]] std::vector<PowerNote> power_notes(const Board& board, const Project& project);
/// The project's lines with a note ticked or not. A note that nobody has becomes the user's own; a text of several
/// lines becomes one line. `drop` takes an own note away.
enum class Tick { open, done, drop };
[[nodiscard]] std::vector<std::string> with_power_note(const Board& board, const Project& project,
                                                       const std::string& text, Tick tick);

}  // namespace kp
