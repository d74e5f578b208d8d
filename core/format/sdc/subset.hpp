// SPDX-License-Identifier: GPL-3.0-or-later
// The part of a constraint text that any reader of the standard takes.
#pragma once

#include "core/base/result.hpp"

#include <string>
#include <vector>

namespace kp::sdc {

/// The text with every command that `messages` (of read_sdc, for this `file`) call not portable turned into a comment;
/// a loop or procedure that holds one goes as a whole. All other bytes stay.
[[nodiscard]] std::string standard_subset(const std::string& text, const std::string& file,
                                          const std::vector<Message>& messages);

}  // namespace kp::sdc
