// SPDX-License-Identifier: GPL-3.0-or-later
// One module of a cell library: its ports, what drives its nets, what it keeps, and its specify block.
#pragma once

#include "core/hdl/models/specify.hpp"
#include "core/hdl/models/table.hpp"
#include "core/model/netlist.hpp"

#include <functional>
#include <map>
#include <memory>
#include <string>
#include <vector>

namespace kp::models {

struct Model {
    struct Net {
        bool vector = false;
        int left = 0, right = 0;
        [[nodiscard]] int width() const { return vector ? (left > right ? left - right : right - left) + 1 : 1; }
        /// Bit `i` of it, counted from the one written first.
        [[nodiscard]] int index(int i) const { return left >= right ? left - i : left + i; }
    };
    struct Port {
        std::string name;
        Direction direction = Direction::in;
    };
    std::string name;
    std::vector<Port> ports;
    std::map<std::string, Net> nets;
    Specify specify;
    bool has_code = false;  ///< something in it that is not a netlist: specify, a primitive, an assign, always
    std::map<std::string, Logic::Node> functions;  ///< of each output bit; unknown ones are not in it
    std::map<std::string, Logic::Node> enables;    ///< of three-state outputs: when they drive
    std::vector<Register> registers;
    std::unique_ptr<Logic> logic = std::make_unique<Logic>();

    /// Names of the bits of a net, the one written first first: "A[3]"... or the name itself.
    [[nodiscard]] std::vector<std::string> bits(const std::string& net) const;
};

using Primitives = std::map<std::string, Primitive, std::less<>>;

/// Reads the words between `module` and `endmodule`. Errors stand in the cursor; constructs that say nothing about a
/// cell are passed over, and what they drive stays unknown.
[[nodiscard]] Model read_model(Cursor& c, const Primitives& primitives);

}  // namespace kp::models
