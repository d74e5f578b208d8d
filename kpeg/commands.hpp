// SPDX-License-Identifier: GPL-3.0-or-later
// One file per command, and no logic in any of them: they read arguments, call the core, and write JSON.
#pragma once

#include "core/base/result.hpp"
#include "core/format/json/json_text.hpp"

#include <CLI/CLI.hpp>
#include <functional>
#include <string>
#include <vector>

namespace kpeg {

/// Exit status of every command.
enum Exit { in_order = 0, findings = 1, unusable = 2 };

/// Adds a command to the program; `run` is set when it was chosen.
using Run = std::function<int()>;
void add_time(CLI::App& app, Run& run);
void add_rules(CLI::App& app, Run& run);
void add_ports(CLI::App& app, Run& run);
void add_pegs(CLI::App& app, Run& run);
void add_sdc(CLI::App& app, Run& run);

/// One line on standard error for the first message; gives Exit::unusable.
int refuse(const std::vector<kp::Message>& messages);
/// Writes to a file, or to standard output for "-". Gives `status`, or Exit::unusable when it cannot be written.
int write_out(const kp::Json& json, const std::string& path, int status);

}  // namespace kpeg
