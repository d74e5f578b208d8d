// SPDX-License-Identifier: GPL-3.0-or-later
// Checksums of texts, as manifests and logs name them.
#pragma once

#include <string>
#include <string_view>

namespace kp {

/// SHA-256 (FIPS 180-4) in lower-case hexadecimal.
[[nodiscard]] std::string sha256(std::string_view data);
/// HMAC (FIPS 198-1) with SHA-256, in lower-case hexadecimal.
[[nodiscard]] std::string hmac_sha256(std::string_view key, std::string_view data);
/// So many random bytes from the system, in hexadecimal; empty when there are none to be had.
[[nodiscard]] std::string random_hex(size_t bytes);

}  // namespace kp
