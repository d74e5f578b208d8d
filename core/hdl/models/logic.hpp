// SPDX-License-Identifier: GPL-3.0-or-later
// Functions of one bit while a cell model is read: shared nodes, made simpler as they are made. One owner, one thread.
#pragma once

#include "core/model/boolean.hpp"

#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <tuple>
#include <vector>

namespace kp::models {

/// A function of inputs by name; the same function built the same way is the same node.
class Logic {
public:
    using Node = std::int32_t;
    static constexpr Node unknown = -1;  ///< a value that cannot be told; what is made of it is unknown too

    Logic();
    [[nodiscard]] Node constant(bool one) const { return one ? 1 : 0; }
    Node input(const std::string& name);
    Node invert(Node a);
    Node both(Node a, Node b);
    Node either(Node a, Node b);
    Node differ(Node a, Node b);
    /// `condition ? then : otherwise`.
    Node choose(Node condition, Node then, Node otherwise);

    /// `of` with an input fixed.
    Node with(Node of, const std::string& name, bool value);
    [[nodiscard]] bool depends(Node of, const std::string& name) const;
    /// Nothing when it is unknown or too large for a BooleanFunction (64 inputs, 4,096 steps).
    [[nodiscard]] std::optional<BooleanFunction> function(Node of) const;
    [[nodiscard]] std::optional<bool> value(Node of) const;  ///< of a constant

private:
    enum class Op : std::uint8_t { constant, input, invert, both, either, differ };
    struct Item {
        Op op;
        Node a, b;
    };
    Node make(Op op, Node a, Node b);
    Node rebuild(Node of, Node which, bool value, std::map<Node, Node>& done);
    bool write(Node of, BooleanFunction& out, std::map<Node, std::int16_t>& inputs, size_t& depth, size_t level) const;
    std::vector<Item> items_;
    std::vector<std::string> names_;
    std::map<std::string, Node> by_name_;
    std::map<std::tuple<Op, Node, Node>, Node> known_;
};

}  // namespace kp::models
