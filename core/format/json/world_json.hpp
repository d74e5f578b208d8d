// SPDX-License-Identifier: GPL-3.0-or-later
// Parts, boards and I/O standards from their JSON files (data/schemas). Every error names file, line and what to do.
#pragma once

#include "core/base/result.hpp"
#include "core/model/board.hpp"
#include "core/model/part.hpp"
#include "core/model/standards.hpp"

#include <string>
#include <string_view>

namespace kp {

/// Schema kitepeg.part/1. Errors: as JsonText, unknown pin kinds or banks, a pin or bank twice, broken pairs.
[[nodiscard]] Result<Part> read_part(std::string_view text, const std::string& file);
/// Schema kitepeg.board/1. Errors: as JsonText, nets to unknown terminals, a pin or terminal wired twice.
[[nodiscard]] Result<Board> read_board(std::string_view text, const std::string& file);
/// Schema kitepeg.module/1. Errors: as read_board; whether it fits a header says fit_module.
[[nodiscard]] Result<BoardModule> read_module(std::string_view text, const std::string& file);
/// The files that read_part and read_board read back to the same values; what is not known is left out.
[[nodiscard]] std::string write_part(const Part& part);
[[nodiscard]] std::string write_board(const Board& board);
/// Schema kitepeg.standards/1.
[[nodiscard]] Result<StandardTable> read_standards(std::string_view text, const std::string& file);

}  // namespace kp
