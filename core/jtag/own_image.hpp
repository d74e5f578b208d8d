// SPDX-License-Identifier: GPL-3.0-or-later
// The configuration image of a project for the simulated chip. It holds no configuration, since the chip has none: it
// says for which part and of what it was made, so that a chip that was loaded with something older is told.
#pragma once

#include "core/model/part.hpp"
#include "core/model/project.hpp"

#include <string>

namespace kp {

/// SHA-256 of each thing an image is made of, hexadecimal.
struct ImageOrigin {
    std::string pegs, constraints, netlist;
    bool operator==(const ImageOrigin&) const = default;
    /// All three as one.
    [[nodiscard]] std::string digest() const;
};
/// `netlist`: digest_of_netlist(), which pages keep.
[[nodiscard]] ImageOrigin image_origin(const Project& project, const std::string& netlist);

/// `top`: the module at the top. See write_image().
[[nodiscard]] std::string own_image(const Part& part, const Project& project, const std::string& top,
                                    const ImageOrigin& origin);

}  // namespace kp
