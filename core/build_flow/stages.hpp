// SPDX-License-Identifier: GPL-3.0-or-later
// The stages of a build, what each is made of and which file it leaves. The builder and the window ask here, so that
// neither takes a stage for good that the other takes for old.
#pragma once

#include "core/base/disk.hpp"
#include "core/model/project.hpp"

#include <array>
#include <cstdint>
#include <map>
#include <optional>
#include <span>
#include <string>
#include <utility>

namespace kp::build_flow {

enum class Stage : std::uint8_t { map, pins, place, delays, time, power };
constexpr std::array<const char*, 6> stage_names{"map", "pins", "place", "delays", "time", "power"};
[[nodiscard]] std::optional<Stage> stage_of(const std::string& name);

enum class StageOutcome : std::uint8_t { not_done, done, kept, not_needed, failed };  ///< kept: from before
/// "not needed", as JSON and the window have it.
[[nodiscard]] const char* word_of(StageOutcome outcome);

struct StageState {
    Stage stage = Stage::map;
    StageOutcome state = StageOutcome::not_done;
    double seconds = 0;
    std::string why;
};

/// What a build is made of, as far as it can change between two builds.
enum class BuildInput : std::uint8_t { source, pegs, constraints };
/// "source or part", "pegs", "constraints".
[[nodiscard]] const char* word_of(BuildInput input);
/// What a stage and those before it are made of. Places follow the constraints too: what is tight lies close.
[[nodiscard]] std::span<const BuildInput> made_of(Stage stage);

/// SHA-256 of where ports are pegged and by which standards: what a placement hangs on.
[[nodiscard]] std::string digest_of_pins(const PegMap& pegs, const std::map<std::string, PortAttributes>& attributes);

/// SHA-256 of each input, by BuildInput; a source that cannot be read counts as missing. `folder`: that the project's
/// paths are relative to.
using InputDigests = std::array<std::string, 3>;
[[nodiscard]] InputDigests digests_of(Disk& disk, const Project& project, const std::string& folder);

/// The files that a later stage goes on from, each with the stage that writes it.
[[nodiscard]] std::span<const std::pair<const char*, Stage>> stage_files();

}  // namespace kp::build_flow
