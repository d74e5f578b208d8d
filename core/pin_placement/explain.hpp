// SPDX-License-Identifier: GPL-3.0-or-later
// The smallest set of facts that conflict: found by dividing (QuickXplain, Junker 2004), then each member is tried.
#pragma once

#include <functional>
#include <vector>

namespace kp::pin_placement {

/// `possible` says whether some of the facts go together; all of them do not. Those that come last are kept out of the
/// answer where that can be. Empty when not even no fact at all is possible.
[[nodiscard]] std::vector<int> smallest_conflict(const std::vector<int>& facts,
                                                 const std::function<bool(const std::vector<int>&)>& possible);

/// The same of facts that come in blocks: those of one block are alike, so that only how many of them there are counts
/// and the first ones stand for any. Some log(n) questions for a block of n.
[[nodiscard]] std::vector<int> smallest_conflict_of_alike(const std::vector<std::vector<int>>& blocks,
                                                          const std::function<bool(const std::vector<int>&)>& possible);

}  // namespace kp::pin_placement
