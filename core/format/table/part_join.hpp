// SPDX-License-Identifier: GPL-3.0-or-later
// One part out of several sources: BSDL knows kinds and the IDCODE, a pin list knows functions, banks and pairs.
#pragma once

#include "core/base/result.hpp"
#include "core/model/part.hpp"

#include <vector>

namespace kp::table {

/// What `more` knows of the part beyond `part`, pin by pin. Where both speak of one thing and differ, what is special
/// beats what is plain (a dedicated pin beats "user pin"), otherwise `part` is kept, and `notes` says so. Pins that
/// only one of them has are kept with a caution. Errors: none of the pins agree, so they are two parts.
[[nodiscard]] Result<Part> join_parts(Part part, const Part& more, std::vector<Message>& notes);

}  // namespace kp::table
