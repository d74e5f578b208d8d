// SPDX-License-Identifier: GPL-3.0-or-later
// The smallest design for a board: a lamp that blinks by the oscillator and one that follows a key, so that cable, pins
// and lamp are proved before the real design.
#pragma once

#include "core/base/disk.hpp"
#include "core/model/board.hpp"
#include "core/model/part.hpp"
#include "core/model/project.hpp"

#include <string>

namespace kp::build_flow {

struct Starter {
    std::string hdl, sdc;
    Project project;            ///< with its pegs; sources starter.v, constraints starter.sdc
    std::string clock, blinks;  ///< terminals of the board
    std::string key, follows;   ///< empty: the board has no key or rocker, or only one lamp
    double blink_hz = 0;        ///< twice a second or a little slower
};

/// `board_file`: name of the board as a project keeps it. Errors: a board without an oscillator or without anything to
/// look at on a pin of the part.
[[nodiscard]] Result<Starter> starter_for(const Board& board, const std::string& board_file, const Part& part);

/// Writes starter.kpeg, starter.v and starter.sdc into a folder that is made, and gives the path of the project.
/// Errors: the disk's; files that are there already are never written over.
[[nodiscard]] Result<std::string> write_starter(Disk& disk, const std::string& folder, const Starter& starter);

}  // namespace kp::build_flow
