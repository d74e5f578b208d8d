// SPDX-License-Identifier: GPL-3.0-or-later
// What the readers of both languages give to read_ports: the headers of all modules of a text.
#pragma once

#include "core/format/hdl/read_ports.hpp"

#include <set>

namespace kp::hdl {

constexpr int most_bits = 65536;       ///< of one port
constexpr size_t most_errors = 20;     ///< of one file

struct Header {
    std::string name;
    std::vector<HeaderPort> ports;
    std::set<std::string> parameters;  ///< VHDL: in lower case
    std::set<std::string> uses;        ///< modules its body seems to instantiate
    std::vector<Message> messages;     ///< ranges that cannot be worked out (stops), ports that cannot be planned (cautions)
    const SourceText* source = nullptr;
    size_t offset = 0;                 ///< of its name in the source
    /// A message at its name. Lines are counted only when somebody asks.
    [[nodiscard]] Message at(Severity severity, std::string code, std::string text) const;
    bool has_ports = false;            ///< before those that cannot be planned were left out
    std::string language;
};

struct Headers {
    std::vector<Header> all;
    std::vector<Message> errors, notes;
};

/// Sets left and right from the dimensions; false when the port would have more than most_bits.
[[nodiscard]] bool shape_port(HeaderPort& port, const std::vector<std::pair<long long, long long>>& dimensions);

void read_verilog_headers(std::span<const SourceText> sources, const PortRequest& request, Headers& out);
void read_vhdl_headers(std::span<const SourceText> sources, const PortRequest& request, Headers& out);

}  // namespace kp::hdl
