// SPDX-License-Identifier: GPL-3.0-or-later
// Links of lanes: a file of them (kitepeg.links/1), and the key of a project.
#pragma once

#include "core/format/json/json_value.hpp"
#include "core/base/result.hpp"
#include "core/model/lane_link.hpp"

#include <vector>

namespace kp {

class JsonText;  // core/format/json/json_text.hpp

/// The list at "links" of the root, empty when there is none. What is wrong is remembered by `j`: a name twice,
/// with a tab or a line end; less than one lane, no rate; a peg of another number of lanes.
[[nodiscard]] std::vector<LaneLink> read_links(JsonText& j);
[[nodiscard]] Json links_json(const std::vector<LaneLink>& list);

/// A file. Errors: each with its line.
[[nodiscard]] Result<std::vector<LaneLink>> read_ask(std::string_view text, const std::string& file);

}  // namespace kp
