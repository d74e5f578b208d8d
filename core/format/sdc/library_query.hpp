// SPDX-License-Identifier: GPL-3.0-or-later
// What the queries for library objects and registers find. Private to the reader.
#pragma once

#include "core/format/sdc/query.hpp"
#include "core/format/sdc/words.hpp"
#include "core/model/library.hpp"

namespace kp::sdc {

/// "LIBRARY/CELL" or "LIBRARY/CELL/PIN" of all that fit; the pattern may leave the library out.
[[nodiscard]] std::vector<std::string> library_names(const Library& library, const std::string& pattern, bool pins,
                                                     const QueryOptions& options);
/// The same of the library cell of an instance, or of the library pin of an instance's pin; nothing for other objects.
[[nodiscard]] std::vector<std::string> library_names_of(const Netlist& netlist, const Library& library,
                                                        const Element& object, bool pins);

enum class RegisterPins { none, clock, data, asynchronous, output };

/// All registers and latches, or their pins of one kind as the library's timing groups tell them.
[[nodiscard]] ObjectSet registers(const Netlist& netlist, const Library& library, RegisterPins wanted);

}  // namespace kp::sdc
