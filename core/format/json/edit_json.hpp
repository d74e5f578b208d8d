// SPDX-License-Identifier: GPL-3.0-or-later
// Edits and plans as JSON, for the recovery journal and the log. Texts may be any bytes (see json_safe).
#pragma once

#include "core/format/json/json_value.hpp"
#include "core/model/edit.hpp"

namespace kp {

[[nodiscard]] Json edit_to_json(const Edit& edit);
/// Also what version 1 of the journal wrote. Errors: a shape that edit_to_json does not make.
[[nodiscard]] Result<Edit> edit_from_json(const Json& value);

/// A peg; null for none.
[[nodiscard]] Json peg_to_json(const std::optional<Peg>& peg);
/// The fields that are not empty, by name.
[[nodiscard]] Json attributes_to_json(const PortAttributes& attributes);
// Of a JSON value of another shape these throw Json::exception.
[[nodiscard]] std::optional<Peg> peg_from_json(const Json& value);
[[nodiscard]] PortAttributes attributes_from_json(const Json& value);
/// A text that may be any bytes.
[[nodiscard]] std::string bytes_at(const Json& object, const char* key);

}  // namespace kp
