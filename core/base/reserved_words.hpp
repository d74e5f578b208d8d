// SPDX-License-Identifier: GPL-3.0-or-later
// Words that a name had better not be: those the languages keep for themselves, and commands of Tcl that a script could
// lose.
#pragma once

#include <string_view>

namespace kp {

/// IEEE 1364-2005, annex B; case counts.
[[nodiscard]] bool is_verilog_word(std::string_view name);
/// IEEE 1076-2008, 15.10; in any case. A name that is one has to be written as \\name\\ there.
[[nodiscard]] bool is_vhdl_word(std::string_view name);
/// Commands of Tcl 8.6 (from memory: those that are used in constraints); case counts.
[[nodiscard]] bool is_tcl_word(std::string_view name);

/// "Verilog", "VHDL" or "Tcl" when the name, in any case, is a word there; null otherwise.
[[nodiscard]] const char* language_of_word(std::string_view name);

}  // namespace kp
