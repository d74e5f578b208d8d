// SPDX-License-Identifier: GPL-3.0-or-later
// Which cells of a library a design is made of, found by what they are, not by their names.
#pragma once

#include "core/base/result.hpp"
#include "core/model/library.hpp"

#include <map>
#include <array>
#include <string>

namespace kp {

struct RegisterKind {
    bool enable = false, clear = false, preset = false, falling = false;
    auto operator<=>(const RegisterKind&) const = default;
};

/// Pins of a register or latch cell by what they do; empty where the cell has none.
struct RegisterPins {
    const LibraryCell* cell = nullptr;
    std::string data, clock, enable, clear, preset, output;
};

struct CarryPins {
    const LibraryCell* cell = nullptr;
    std::string a, b, carry_in, sum, carry_out;
    bool b_inverted = false;
};

struct PadPins {
    const LibraryCell* cell = nullptr;
    std::string pad, in, enable, out;  ///< `in` goes to the pad, `out` comes from it
};

struct CellSet {
    std::array<const LibraryCell*, 7> look{};  ///< look-ups by number of inputs, from 1
    int widest = 0;
    std::map<RegisterKind, RegisterPins> registers;
    RegisterPins latch;
    CarryPins carry, carry_inverted;
    PadPins pad_in, pad_out, pad_two;
    const LibraryCell* clock_root = nullptr;
    std::string root_in, root_out;
    const LibraryCell* memory = nullptr;
    const LibraryCell* pair_in = nullptr;
    const LibraryCell* pair_out = nullptr;

    /// Errors: a library without look-ups of 1 to 4 inputs, a plain register, pads in both directions or a clock root.
    [[nodiscard]] static Result<CellSet> of(const Library& library);
    [[nodiscard]] const RegisterPins* register_of(const RegisterKind& kind) const {
        const auto at = registers.find(kind);
        return at == registers.end() ? nullptr : &at->second;
    }
};

}  // namespace kp
