// SPDX-License-Identifier: GPL-3.0-or-later
// A design between its source and its cells: logic, and what is not logic beside it.
#pragma once

#include "core/base/result.hpp"
#include "core/synthesis/gates.hpp"
#include "core/model/library.hpp"
#include "core/model/netlist.hpp"

#include <map>
#include <string>
#include <vector>

namespace kp::synthesis {

using Bits = std::vector<Lit>;  ///< lowest bit first

struct RegisterBit {
    std::string name;
    Lit q = no_lit;  ///< a source
    Lit data = zero, clock = zero, enable = one, clear = zero, preset = zero;
    char initial = 'x';
    bool latch = false;  ///< then `clock` is its gate
};

/// One bit of a carry chain: sum a ^ b ^ carry_in, carry_out their majority. Both are sources.
struct CarryBit {
    Lit a = zero, b = zero, carry_in = zero, sum = no_lit, carry_out = no_lit;
};

struct MemoryRead {
    Bits address, data;  ///< data: wires, driven when the memory becomes cells
};

/// Words that one port writes at the rise of its clock, and that any number of places read.
struct MemoryBlock {
    std::string name;
    int words = 0, width = 0;
    Lit clock = zero, write = zero;
    Bits address, data;
    std::vector<MemoryRead> reads;
};

/// A cell of the library that the source names itself.
struct Box {
    std::string name;
    const LibraryCell* cell = nullptr;
    std::vector<std::pair<std::string, std::string>> parameters;
    std::map<std::string, Lit> inputs, outputs;  ///< by pin; outputs are sources
    std::map<std::string, std::uint32_t> pads;   ///< pins that are a port of the design: position in `ports`
    bool wanted = true;                          ///< stays when nothing reads it: the source names it
};

struct PortBit {
    std::string name, bus;
    int index = -1;
    Direction direction = Direction::in;
    Lit inside = no_lit;  ///< of an input: a source
    Lit value = no_lit;   ///< of an output: what drives it; no_lit: nothing does
    Lit enable = one;     ///< while it does
    bool boxed = false;   ///< a cell of the source is its pad
};

struct Mapping {
    std::string top;
    Gates gates;
    std::vector<PortBit> ports;
    std::vector<RegisterBit> registers;
    std::vector<CarryBit> carries;
    std::vector<MemoryBlock> memories;
    std::vector<Box> boxes;
    std::unordered_map<std::uint32_t, std::string> names;  ///< of nodes, where the source has one
    std::vector<std::pair<Bits, Message>> open;            ///< wires nothing drives, told when they are used
    std::vector<Message> messages;                         ///< findings; with a stop among them nothing is built
};

}  // namespace kp::synthesis
