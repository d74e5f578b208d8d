// SPDX-License-Identifier: GPL-3.0-or-later
// What the readers of both languages give: the headers of all modules of a text.
#pragma once

#include "core/hdl/header/ports.hpp"

#include <set>
#include <unordered_set>

namespace kp::hdl {

constexpr int most_bits = 65536;         ///< of one port
constexpr int most_bits_of_all = 50000;  ///< of one design; the largest package has some 2,000 user pins
constexpr size_t most_ports = 10000;     ///< declarations in one header
constexpr size_t most_errors = 20;       ///< of one file

struct Header {
    std::string name;
    std::vector<HeaderPort> ports;
    std::set<std::string> parameters;  ///< VHDL: in lower case
    std::set<std::string> uses;        ///< modules its body seems to instantiate
    std::vector<Message>
        messages;  ///< ranges that cannot be worked out (stops), ports that cannot be planned (cautions)
    const SourceText* source = nullptr;
    size_t offset = 0;  ///< of its name in the source
    /// A message at its name. Lines are counted only when somebody asks.
    [[nodiscard]] Message at(Severity severity, Code code, std::string text) const;
    std::unordered_set<std::string> port_keys;  ///< of all its ports, in lower case where case does not count
    size_t untold = 0;                          ///< messages beyond those that are kept
    /// True when a message more would not be kept: each needs its place in the text. One stop is always kept.
    [[nodiscard]] bool full(Severity severity);
    bool has_ports = false;  ///< before those that cannot be planned were left out
    std::string language;
};

struct Headers {
    std::vector<Header> all;
    std::vector<Message> errors, notes;
};

/// Sets left and right from the dimensions; false when the port would have more than most_bits.
[[nodiscard]] bool shape_port(HeaderPort& port, const std::vector<std::pair<long long, long long>>& dimensions);

}  // namespace kp::hdl
