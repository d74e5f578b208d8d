// SPDX-License-Identifier: GPL-3.0-or-later
// A whole build by the stand-in: source to netlist, pins, places, delays, times, power. It says of itself that it is a
// stand-in for made-up parts.
#pragma once

#include "core/base/disk.hpp"
#include "core/build_flow/stages.hpp"
#include "core/build_flow/steps.hpp"
#include "core/build_flow/verdict.hpp"
#include "core/fabric/power.hpp"
#include "core/format/csv/pin_report.hpp"
#include "core/model/project.hpp"
#include "core/model/timing_report.hpp"
#include "core/inputs/reach.hpp"
#include "core/inputs/world.hpp"

#include <functional>
#include <optional>
#include <stop_token>
#include <string>
#include <vector>

namespace kp::build_flow {

struct BuildRequest {
    Project project;                 ///< part, pegs, constraints; sources or netlists
    std::string folder;              ///< that its paths are relative to
    std::string data;                ///< what ships with the program
    std::string out;                 ///< an existing folder for the results
    std::optional<Reach> reach;      ///< how far the project's files may lead
    std::vector<PinReportRow> pins;  ///< pegs that a table asks for on top of the project's: each has to be one
    std::string pins_file;           ///< the table
    unsigned seed = 1;
    double effort = 1;        ///< of placing, against the usual one
    Stage from = Stage::map;  ///< what comes before is taken from `out`
    bool fix_hold = false;    ///< see steps.hpp
    int most_loads = 0;       ///< of a register before it gets copies; 0: none does
    std::string activity;     ///< a value change dump of the netlist, for power; empty: assumed
    std::function<void(const std::string& stage, double done, long long wirelength)> progress;
    std::stop_token stop;
};

struct ResourceUse {
    std::string resource;
    long long used = 0, available = 0;
};

/// Cells below one instance of the design, by the names the mapper gives; an empty path is the top itself.
struct ModuleUse {
    std::string path;
    long long logic_cells = 0, registers = 0, memories = 0;
};

struct BuildAnswer {
    std::vector<StageState> stages;
    std::vector<ResourceUse> use;
    std::vector<ModuleUse> modules;
    std::vector<StepEffect> steps;  ///< that were asked for
    long long wirelength = 0;
    std::optional<TimingReport> timing;
    std::optional<fabric::PowerReport> power;
    std::vector<fabric::PowerReport::Assumed> assumed;  ///< of the part, where its file does not say what is inside
    std::vector<Message> messages;
    std::string library;
    std::shared_ptr<const World> world;  ///< part, netlist and cells it was built from; none before they were read
    std::vector<fabric::Spot> spots;     ///< by cell, once they are placed
    int loose = 0;                       ///< ports without a peg that were placed
    bool built = false;                  ///< everything is written
    BuildVerdict verdict = BuildVerdict::not_built;
    ConstraintUse constraints;  ///< once it was timed
};

/// Builds into `out`: netlist.v, delays.sdf, pins.csv, placed.json, and origin.json, which says what they were made
/// from. A design that cannot be built has an answer that says at which stage and why. Errors: what cannot be read or
/// written; a row of `pins` that the design or the part does not have; a folder that holds another design's build, or
/// files that the build did not write, when it is to be gone on from.
[[nodiscard]] Result<BuildAnswer> build(Disk& disk, const BuildRequest& request);

}  // namespace kp::build_flow
