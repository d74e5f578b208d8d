// SPDX-License-Identifier: GPL-3.0-or-later
// User-defined primitives (IEEE 1364-2005, clause 8).
#pragma once

#include "core/hdl/models/logic.hpp"
#include "core/hdl/models/words.hpp"

#include <string>
#include <vector>

namespace kp::models {

struct Primitive {
    std::string name, output;
    std::vector<std::string> inputs;  ///< in the order of the ports
    bool state = false;               ///< its rows have a present state
    struct Row {
        std::vector<std::string> in;  ///< "0", "1", "?", "r", "(01)" ...
        std::string present;          ///< of a state
        char out = 'x';
    };
    std::vector<Row> rows;
};

/// Reads the words between `primitive` and `endprimitive`. Errors stand in the cursor.
[[nodiscard]] Primitive read_primitive(Cursor& c);

/// What holds a bit: its function is the state's name.
struct Register {
    std::string state;
    bool latch = false;
    Logic::Node clock = Logic::unknown;  ///< 1 is the level behind the active edge; of a latch: open
    Logic::Node next = Logic::unknown, clear = 0, preset = 0;
};

/// The function of a primitive without state, of these inputs.
[[nodiscard]] Logic::Node function_of(const Primitive& p, const std::vector<Logic::Node>& inputs, Logic& logic);
/// What a primitive with state does with these inputs.
[[nodiscard]] Register register_of(const Primitive& p, const std::vector<Logic::Node>& inputs, const std::string& state,
                                   Logic& logic);

}  // namespace kp::models
