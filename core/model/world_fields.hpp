// SPDX-License-Identifier: GPL-3.0-or-later
// The fields of parts and boards that are a text, a number, a flag or a list; what lies deeper has a reader of its own.
#pragma once

#include "core/model/board.hpp"
#include "core/model/fields.hpp"
#include "core/model/part.hpp"

namespace kp {

/// Without name and kind, which stand first and are read before.
[[nodiscard]] std::span<const Field<Pin>> pin_fields();
[[nodiscard]] std::span<const Field<Bank>> bank_fields();
[[nodiscard]] std::span<const Field<ClockRegion>> region_fields();
/// Without its terminals.
[[nodiscard]] std::span<const Field<BoardPart>> board_part_fields();
/// Without direction and active level, which are words.
[[nodiscard]] std::span<const Field<Terminal>> terminal_fields();
[[nodiscard]] std::span<const Field<BoardNet>> board_net_fields();
[[nodiscard]] std::span<const Field<Stack>> stack_fields();
/// Without its lists of parts, nets, rails, oscillators and straps.
[[nodiscard]] std::span<const Field<Board>> board_fields();

}  // namespace kp
