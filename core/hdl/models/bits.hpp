// SPDX-License-Identifier: GPL-3.0-or-later
// Expressions as functions, bit by bit. What a name stands for is worked out when it is first asked for.
#pragma once

#include "core/hdl/models/logic.hpp"
#include "core/hdl/models/words.hpp"

#include <functional>
#include <map>
#include <set>
#include <string>
#include <vector>

namespace kp::models {

struct Model;

class Bits {
public:
    using Node = Logic::Node;
    using Driver = std::function<Node(size_t level)>;
    /// Both outlive it and may grow while it is used.
    Bits(const Model& model, const Constants& constants) : model_(model), constants_(constants) {}

    std::map<std::string, Node> known;                   ///< pins, states, and what was worked out
    std::map<std::string, std::vector<Driver>> drivers;  ///< by bit; two drivers make it unknown
    std::map<std::string, Driver> enables;               ///< of bits driven by a three-state gate

    /// The bits that an expression names, the most significant first; none when it is not a name.
    [[nodiscard]] std::vector<std::string> names(const Expression& e) const;
    [[nodiscard]] Node resolve(const std::string& bit, size_t level);
    /// The most significant bit first.
    [[nodiscard]] std::vector<Node> of(const Expression& e, size_t level);
    /// As a condition: whether any bit is 1; of one bit that bit.
    [[nodiscard]] Node single(const Expression& e, size_t level);

private:
    std::vector<Node> number(const std::string& text) const;
    std::vector<Node> unary(const Expression& e, size_t level);
    std::vector<Node> binary(const Expression& e, size_t level);
    const Model& model_;
    const Constants& constants_;
    std::set<std::string> open_;
};

}  // namespace kp::models
