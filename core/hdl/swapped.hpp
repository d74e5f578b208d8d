// SPDX-License-Identifier: GPL-3.0-or-later
// Connections that look like a slip: names that change places from one module to the next.
#pragma once

#include "core/base/source_text.hpp"
#include "core/model/swapped_names.hpp"

#include <span>
#include <vector>

namespace kp {

/// In order of the sources. The two sides of a serial line (tx and rx, rts and cts) are meant to change places and do
/// not count. Connections by name to plain signals only. Linear in the text, but for sorting the connections of one
/// instance.
[[nodiscard]] std::vector<SwappedNames> swapped_names(std::span<const SourceText> sources);

}  // namespace kp
