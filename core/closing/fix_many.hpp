// SPDX-License-Identifier: GPL-3.0-or-later
// Many possible fixes at once, none of which makes anything worse: each is taken on a copy, the rules (and for text the
// engine) run on it, and it is kept only if what it was for is gone and nothing came.
#pragma once

#include "core/session/snapshot.hpp"

#include <stop_token>

namespace kp {

struct FixTaken {
    std::string rule, text;
    std::vector<Finding> clears;
};
struct FixLeft {
    std::string rule, text;  ///< of the finding
    std::string why;         ///< "would add E03", "needs a number: …", "has no possible fix"
};
struct FixMany {
    Edit edit;  ///< all that was taken, one undo; empty when nothing was
    std::vector<FixTaken> taken;
    std::vector<FixLeft> left;
    unsigned long long revision = 0;  ///< of the snapshot that the edit fits
};

/// Fixes of `wanted`, findings of the snapshot; waived ones are passed over. On any thread.
/// Batches are tried first and halved when they bring something, so n good fixes of text cost one analysis, and each
/// bad one some log2 n more.
[[nodiscard]] FixMany fix_many(const Snapshot& now, const std::vector<Finding>& wanted,
                               const std::stop_token& stop = {});

}  // namespace kp
