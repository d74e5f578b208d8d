// SPDX-License-Identifier: GPL-3.0-or-later
// Specify blocks (IEEE 1364-2005, clauses 14 and 15): module paths and timing checks as they are written.
#pragma once

#include "core/hdl/models/words.hpp"

#include <array>
#include <string>
#include <vector>

namespace kp::models {

/// A terminal as it is written: "A", "A[3]" or "A[3:0]".
struct Terminal {
    std::string name;
    bool selected = false;
    int left = 0, right = 0;
};

enum class Edge : char { none = 0, rise = 'p', fall = 'n' };

struct ModulePath {
    std::vector<Terminal> from, to;
    bool full = false;  ///< '*>': each with each; '=>': bit by bit
    Edge edge = Edge::none;
    char polarity = 0;            ///< '+', '-' or 0
    std::string condition;        ///< as written, without blanks
    std::span<const Word> words;  ///< of the condition
    double rise = 0, fall = 0;    ///< typical values in the units of the file
    bool known = false;           ///< a value other than 0 was given
};

/// $setup $hold $setuphold $recovery $removal $recrem $width $period; others are passed over.
struct TimingCheck {
    enum Kind : std::uint8_t { setup, hold, recovery, removal, width, period } kind = setup;
    Terminal data, reference;  ///< recovery, removal: the asynchronous pin and the clock; width, period: `reference`
    Edge data_edge = Edge::none, reference_edge = Edge::none;
    std::string condition;
    double limit = 0;
};

struct Specify {
    std::vector<ModulePath> paths;
    std::vector<TimingCheck> checks;
    std::vector<std::pair<std::string, Terminal>> delayed;  ///< nets that stand for a pin inside the model (15.5.3)
};

/// Reads `name = value, ...` of a specparam or parameter up to its ';'. A value that cannot be told is left out.
void read_constants(Cursor& c, Constants& constants);
/// Reads what stands between `specify` and `endspecify`, the latter included, and adds to `out`. Errors stand in the
/// cursor.
void read_specify(Cursor& c, Constants& constants, Specify& out);

}  // namespace kp::models
