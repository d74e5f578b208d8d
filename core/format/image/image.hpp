// SPDX-License-Identifier: GPL-3.0-or-later
// A configuration image of the made-up parts. The format is our own and documented in docs/formats.md: "KPIM", version,
// IDCODE, a text of lines "key: value", a payload, and the CRC-32 of all that (IEEE 802.3, as in ISO 3309).
#pragma once

#include "core/base/result.hpp"

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

namespace kp {

struct Image {
    std::uint32_t idcode = 0;
    std::string target, top, date;  ///< part, design, when it was made
    std::string digest;             ///< of the pegs, constraints and netlist it was made from
    std::string payload;
};

/// CRC-32: polynomial 0x04C11DB7 reflected, start and final value all ones; 0xCBF43926 of "123456789".
[[nodiscard]] std::uint32_t crc32(std::string_view bytes);

/// How long the image is that these bytes begin with; nothing when they begin with none.
[[nodiscard]] std::optional<size_t> image_size(std::string_view bytes);
[[nodiscard]] std::string write_image(const Image& image);
/// Errors: not an image, cut short, bits that changed on the way.
[[nodiscard]] Result<Image> read_image(std::string_view bytes, const std::string& file);

}  // namespace kp
