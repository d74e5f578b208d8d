// SPDX-License-Identifier: GPL-3.0-or-later
// The ports a design declares, from the text of Verilog (IEEE 1364-2005), SystemVerilog (IEEE 1800-2017, clauses 22,
// 23) and VHDL (IEEE 1076-2008, clause 6.5). Bodies are passed over, so that text which does not compile yet can be
// planned.
#pragma once

#include "core/hdl/header/ports.hpp"
#include "core/model/netlist.hpp"

#include <span>
#include <string>
#include <vector>

namespace kp {

/// The ports of the top. Cautions come along for ports that cannot be planned (code "not-plannable": interfaces,
/// records, unpacked arrays, reals) and for files to include that are not there. Without a named top the only module
/// that has ports and that no other one uses is taken; modules without ports are simulation only and set aside with a
/// note. Errors: syntax (several per file, each with line and column), a range that cannot be worked out, no or several
/// candidates, a parameter the top does not have.
[[nodiscard]] Result<PortList> read_ports(std::span<const SourceText> sources, const PortRequest& request);
[[nodiscard]] inline Result<PortList> read_ports(std::span<const SourceText> sources, const std::string& top) {
    return read_ports(sources, PortRequest{top, {}, {}, {}});
}

/// One port a bit, in the order of the header; bits from left to right.
[[nodiscard]] std::vector<Port> port_bits(const PortList& list);

/// True for names and texts that are VHDL: by extension, else by an entity declaration.
[[nodiscard]] bool is_vhdl(const SourceText& source);

}  // namespace kp
