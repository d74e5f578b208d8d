// SPDX-License-Identifier: GPL-3.0-or-later
// Clock settings kept in the constraint text: a comment says what was wanted of which PLL, the lines below are what
// came of it. Anybody can read it, and whoever has the part can derive it again.
//
//     # recipe pll: 25 MHz in, 100 125 150 MHz wanted -> divide 1, multiply 60, outputs 15 12 10
//     create_generated_clock -name sys -source [get_pins pll/CKI] -multiply_by 4 [get_pins pll/CK0]
#pragma once

#include "core/clocks/pll_search.hpp"
#include "core/design/facts.hpp"
#include "core/model/edit.hpp"
#include "core/model/project.hpp"

#include <string>
#include <vector>

namespace kp {

struct Recipe {
    std::string cell;                      ///< the PLL of the design
    std::string in;                        ///< MHz, as text
    std::vector<std::string> want, phase;  ///< MHz and degrees, as text
    std::string result;                    ///< "divide 1, multiply 60, outputs 15 12 10"
    std::string file;
    int line = 0;
    std::vector<std::string> lines;  ///< the commands below it
};

/// The recipes of a project's constraint files, in order.
[[nodiscard]] std::vector<Recipe> recipes_of(const Project& project);

/// What a setting reads as in the comment.
[[nodiscard]] std::string result_words(const clocks::PllSetting& setting);

/// The comment and its commands. `names`: of the clocks, one for each output of the setting.
[[nodiscard]] std::string recipe_text(const Recipe& recipe, const std::vector<std::string>& lines);

/// Why a recipe no longer follows from part, board and netlist; empty when it does. `board_mhz`: what the board gives
/// at the PLL's input, 0 when nobody knows; `pll`: what the netlist says of the cell, null when it has none.
[[nodiscard]] std::string why_old(const Recipe& recipe, const Part& part, double board_mhz, const PllFacts* pll);

/// The recipe of a setting for a PLL of the design, with the generated clocks of its wired outputs; those that have a
/// clock keep its name. Errors: the setting has more outputs than are wired, or makes them with another frequency than
/// `in` (MHz, as in the recipe).
[[nodiscard]] Result<Edit> recipe_edit(const Project& project, const PllFacts& pll, const Constraints& constraints,
                                       const clocks::PllSetting& setting, const Recipe& wanted);

/// Writes a recipe into the project's file of recipes (recipes.sdc, made when there is none, read behind the first
/// file), in place of an older one for the same cell.
[[nodiscard]] Edit write_recipe(const Project& project, const Recipe& recipe, const std::vector<std::string>& lines);

}  // namespace kp
