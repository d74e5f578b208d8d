// SPDX-License-Identifier: GPL-3.0-or-later
// Logic to look-up cells of four inputs.
#pragma once

#include "core/synthesis/mapped.hpp"

namespace kp::synthesis {

struct LookUp {
    std::vector<std::uint32_t> inputs;  ///< nodes: sources or other look-ups
    std::uint16_t table = 0;            ///< bit i is the output when the inputs, first lowest, spell i
};

/// The look-up at each node that has one; others are sources, or inside of a look-up.
struct Cover {
    std::unordered_map<std::uint32_t, LookUp> at;
    int depth = 0;
    /// Nodes that were seen to be a constant, a source or another node: worth another tidying (N. Een, "Cut
    /// sweeping", 2007).
    std::unordered_map<std::uint32_t, Lit> same;
};

/// Covers all that `wanted` needs: least depth, then area without more depth (A. Mishchenko, S. Cho, S. Chatterjee and
/// R. Brayton, "Combinational and sequential mapping with priority cuts", ICCAD 2007).
[[nodiscard]] Cover cover(const Gates& gates, std::span<const Lit> wanted);

}  // namespace kp::synthesis
