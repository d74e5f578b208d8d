// SPDX-License-Identifier: GPL-3.0-or-later
// Links on the lanes of a lane block: engine, lanes, reference clock and crossings into the fabric, all
// legal together, or the smallest set that conflicts.
#pragma once

#include "core/model/board.hpp"
#include "core/model/edit.hpp"
#include "core/model/lane_link.hpp"
#include "core/model/part.hpp"
#include "core/base/result.hpp"
#include "core/pin_placement/problem.hpp"

#include <optional>
#include <set>
#include <string>
#include <vector>

namespace kp {

struct LaneQuestion {
    std::vector<LaneLink> links;
    std::set<std::string> relax;  ///< ids of facts to be left out
    std::string spots;            ///< name of a link whose legal spots are wanted too; empty: none
    std::set<std::string> only;   ///< names to be solved, beside what is pegged or loose; empty: all
    /// Whose oscillators are on the reference clocks: of answers with as many links, none moved more, one on clocks
    /// that the board gives is taken, if there is one. Null: no board.
    const Board* board = nullptr;
};

struct LanePlace {
    std::string link, block, engine, clock;
    std::vector<std::string> lanes;
    std::vector<int> crossings;  ///< rising
};

struct LaneSpot {
    std::string block, engine, clock;
    std::vector<std::string> lanes;
    bool operator==(const LaneSpot&) const = default;
};

struct LaneAnswer {
    bool solved = false;
    std::vector<LanePlace> placed;  ///< all that have a place, in the order they were asked
    int moved = 0;                  ///< loose ones that lie elsewhere now
    long long cost = 0, bound = 0;  ///< lanes moved, then the size of engines and how far up in the block; the least
    std::vector<pin_placement::Fact> conflict;
    std::vector<std::string> left_adrift;
    std::vector<LaneSpot> spots;
};

/// Errors: a part without lanes, an id or a name that is none, a pegged lane that the part does not have.
[[nodiscard]] Result<LaneAnswer> place_lanes(const Part& part, const LaneQuestion& question);

/// The edit that keeps an answer in a project: what was adrift, loose or loosened lies where the answer says, loose.
[[nodiscard]] Edit lanes_edit(const Project& project, const LaneAnswer& answer, const std::set<std::string>& relaxed);

/// Why a link can lie nowhere in a block, or what each spot lacks, by the data of the part alone: one sentence for
/// each engine.
[[nodiscard]] std::vector<std::string> why_not(const LaneBlock& block, const LaneLink& link);

}  // namespace kp
