// SPDX-License-Identifier: GPL-3.0-or-later
// A text to be read, with the name that messages call it by.
#pragma once

#include <string>
#include <string_view>

namespace kp {

/// The text outlives whoever holds this.
struct SourceText {
    std::string file;
    std::string_view text;
};

}  // namespace kp
