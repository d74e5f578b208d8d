// SPDX-License-Identifier: GPL-3.0-or-later
// BSDL (IEEE 1149.1-2001, annex B): what boundary scan says of a part.
#pragma once

#include "core/base/result.hpp"
#include "core/model/part.hpp"

#include <cstdint>
#include <map>
#include <string>
#include <string_view>
#include <vector>

namespace kp {

struct BsdlPort {
    std::string name, mode;  ///< "in", "out", "inout", "buffer", "linkage"
    bool vector = false;
    int left = 0, right = 0;
    std::vector<std::string> pins;  ///< in the order of the bits
};

/// A cell of the boundary register, counted from the one nearest to TDO.
struct BoundaryCell {
    int number = 0;
    std::string cell, port, function;  ///< type such as BC_1; port as written or "*"; input, output3, control, …
    char safe = 'X';
    int control = -1;    ///< cell that switches this output, -1: none
    char disable = 'X';  ///< its value for off
    std::string result;  ///< what the pin shows then: Z, WEAK0, WEAK1, PULL0, PULL1, KEEPER
};

struct Bsdl {
    std::string entity, package;  ///< name of the pin map used
    std::vector<BsdlPort> ports;
    std::vector<std::pair<std::string, std::string>> pairs;  ///< true and complement port
    std::map<std::string, std::string> taps;                 ///< "TDI", "TDO", "TMS", "TCK", "TRST" → port
    double clock_hz = 0;
    int instruction_length = 0;
    std::map<std::string, std::vector<std::string>> opcodes;  ///< instruction → codes
    std::string capture;
    std::string idcode;  ///< 32 of 0, 1, X; highest bit first; empty when there is none
    std::vector<BoundaryCell> boundary;
};

/// Reads one entity. `package` chooses among several pin maps; empty takes the default of PHYSICAL_PIN_MAP, else the
/// only one. Errors, several per file with line and column: syntax, an unknown or several pin maps, a pin that stands
/// twice, a boundary register with gaps or other than BOUNDARY_LENGTH cells, unknown ports, codes of the wrong length.
[[nodiscard]] Result<Bsdl> read_bsdl(std::string_view text, const std::string& file, const std::string& package = "");

/// A part as far as BSDL knows it: pins with their place in the package, kind, pair and function; one bank of all user
/// pins, since BSDL knows none. What is missing (banks, standards, limits) is said in the messages.
[[nodiscard]] Result<Part> part_from_bsdl(const Bsdl& bsdl);

}  // namespace kp
