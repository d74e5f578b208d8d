// SPDX-License-Identifier: GPL-3.0-or-later
// Corners of an analysis as they are told on a line: of the command `time`, or of a project.
#pragma once

#include "core/base/disk.hpp"
#include "core/model/delays.hpp"
#include "core/model/library.hpp"

#include <optional>
#include <string>
#include <vector>

namespace kp {

struct TimingCorner;  // core/timing/engine.hpp

/// One corner: a name, then settings. What is not set is as for all.
struct CornerSpec {
    std::string name;
    std::string sdf, library;  ///< paths; empty: as for all
    int early = 0, late = 2;   ///< members of triples: 0 min, 1 typ, 2 max
    double early_factor = 1, late_factor = 1;
};

inline constexpr const char* corner_form =
    "NAME[,sdf=FILE][,lib=FILE][,early=min|typ|max][,late=min|typ|max][,early-factor=X][,late-factor=X]";

/// `otherwise` holds what counts where the line says nothing. Errors: a word that is none of these, no name.
[[nodiscard]] Result<CornerSpec> parse_corner(const std::string& text, const CornerSpec& otherwise);
/// Several of them. Errors: as parse_corner, two of one name.
[[nodiscard]] Result<std::vector<CornerSpec>> parse_corners(const std::vector<std::string>& texts,
                                                            const CornerSpec& otherwise);
[[nodiscard]] std::string text_of(const CornerSpec& corner);

/// A corner of a project, with what it reads.
struct ProjectCorner {
    CornerSpec spec;
    std::optional<Library> library;   ///< none: the project's
    std::optional<DelayFile> delays;  ///< none: the project's
};

/// What the engine takes. All that it points to outlives it.
[[nodiscard]] std::vector<TimingCorner> timing_corners(const std::vector<ProjectCorner>& corners,
                                                       const DelayFile* delays);

}  // namespace kp
