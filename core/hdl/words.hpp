// SPDX-License-Identifier: GPL-3.0-or-later
// The words of a source, for scans that need no parser: what no reader takes yet still has words.
#pragma once

#include "core/base/source_text.hpp"

#include <string>
#include <string_view>
#include <vector>

namespace kp {

struct HdlWord {
    std::string text;  ///< lower case in VHDL, which has no case
    int line = 0;      ///< from 1
};

/// By the ending of the file, .vhd or .vhdl.
[[nodiscard]] bool is_vhdl_file(const std::string& file);

/// Words, and other signs one by one, without comments and strings. Linear in the text.
[[nodiscard]] std::vector<HdlWord> hdl_words(std::string_view text, bool vhdl);

}  // namespace kp
