// SPDX-License-Identifier: GPL-3.0-or-later
// What would follow from another project than the one that is open: an edit that is only thought of, a fix, a run of
// the log. Nothing is edited.
#pragma once

#include "core/session/snapshot.hpp"

#include <stop_token>

namespace kp {

/// `base` with `next` in place of its project; only what differs is worked out anew. Constraint text is timed by the
/// engine that is kept, where it is free and stands on the same world. On any thread. Errors: inputs of `next` that
/// cannot be read; code "cancelled".
[[nodiscard]] Result<Snapshot> preview(const Snapshot& base, const Project& next, const std::stop_token& stop = {});
/// The same for an edit. Errors: also an edit that does not fit.
[[nodiscard]] Result<Snapshot> preview(const Snapshot& base, const Edit& edit, const std::stop_token& stop = {});

}  // namespace kp
