// SPDX-License-Identifier: GPL-3.0-or-later
// The type of a JSON value, declared and no more: for headers that hand one on. Who looks into one includes
// json_text.hpp.
#pragma once

#include <nlohmann/json_fwd.hpp>

namespace kp {

/// Keeps key order, so that what is read and written again differs only where it was changed.
using Json = nlohmann::ordered_json;

}  // namespace kp
