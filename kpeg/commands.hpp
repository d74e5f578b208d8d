// SPDX-License-Identifier: GPL-3.0-or-later
// One file per command, and no logic in any of them: they read arguments, call the core, and write JSON.
#pragma once

#include "core/base/result.hpp"
#include "core/format/json/json_value.hpp"
#include "core/handoff/report_json.hpp"
#include "core/session/session.hpp"
#include "kpeg/arguments.hpp"

#include <functional>
#include <memory>
#include <string>
#include <vector>

namespace kpeg {

/// Exit status of every command.
enum Exit { in_order = 0, findings = 1, unusable = 2 };

/// Adds a command to the program; `run` is set when it was chosen.
using Run = std::function<int()>;
void add_time(Command& app, Run& run);
void add_rules(Command& app, Run& run);
void add_ports(Command& app, Run& run);
void add_pegs(Command& app, Run& run);
void add_sdc(Command& app, Run& run);
void add_lines(Command& app, Run& run);
void add_folder(Command& app, Run& run);
void add_recipe(Command& app, Run& run);
void add_budget(Command& app, Run& run);
/// handoff, compare and log.
void add_handoff(Command& app, Run& run);
void add_place(Command& app, Run& run);
void add_lanes(Command& app, Run& run);
/// new, part and board.
void add_make(Command& app, Run& run);
/// set, waive and fix.
void add_change(Command& app, Run& run);

void add_map(Command& app, Run& run);
void add_simulate(Command& app, Run& run);
void add_build(Command& app, Run& run);
void add_chip(Command& app, Run& run);
void add_prove(Command& app, Run& run);

/// A part by ordering code, beside here and with the program; or a part file by its path.
kp::Result<kp::Part> part_called(const std::string& code);

/// One line on standard error for the first message; gives Exit::unusable.
int refuse(const std::vector<kp::Message>& messages);
/// Writes to a file, or to standard output for "-". Gives `status`, or Exit::unusable when it cannot be written.
int write_out(const kp::Json& json, const std::string& path, int status);
int write_text(const std::string& text, const std::string& path, int status);

/// What scripts that are named on the command line may read by `source`: what lies beside and below the first, and what
/// is allowed.
kp::sdc::RunLimits limits_of(const std::vector<std::string>& scripts, const std::vector<std::string>& allow);

/// Splits NAME=VALUE; `otherwise` is the value where no = stands.
std::pair<std::string, std::string> assignment(const std::string& text, const char* otherwise);
/// Adds --allow, as all commands have it.
void add_allow(Command& command, std::vector<std::string>& allow);
/// Opens a project and says on standard error what came back after a crash. To look, nothing is written, ever; to work,
/// it is refused while somebody else works on it or while a recovery journal waits for a decision.
kp::Result<std::unique_ptr<kp::Session>> open_project(const std::string& path, const std::vector<std::string>& allow,
                                                      kp::OpenTo purpose, const std::string& command);
/// Takes back every edit beyond the first `kept` and leaves no journal of them: a command that is refused changes
/// nothing.
void take_back(kp::Session& session, std::size_t kept);
/// An edit made, saved, and a line in the log; or nothing of it. An empty edit does nothing.
kp::Status apply_and_save(kp::Session& session, const kp::Edit& edit);
/// The project's own files and all it names: what no result may write over.
std::vector<std::string> files_of(const kp::Session& session);

}  // namespace kpeg
