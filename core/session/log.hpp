// SPDX-License-Identifier: GPL-3.0-or-later
// The log: one entry per analysis, with its figures and the whole plan it was made of, so that any two can be compared and
// any one restored. A text file beside the project, one JSON object a line; a torn last line is left out.
#pragma once

#include "core/base/disk.hpp"
#include "core/model/edit.hpp"
#include "core/model/finding.hpp"

#include <optional>
#include <string>
#include <vector>

namespace kp {

struct LogEntry {
    int number = 0;
    std::string time;   ///< local, "2026-11-23 14:02:11"
    std::string title;  ///< the edit that led here
    std::optional<double> setup_wns, hold_wns;
    double setup_tns = 0;
    int setup_failing = 0, endpoints = 0, constrained = 0;
    FindingCounts findings;
    std::string part;
    PegMap pegs;
    std::map<std::string, PortAttributes> attributes;
    std::map<std::string, std::string> texts;  ///< constraint files by path
};

class Log {
public:
    Log(Disk& disk, std::string path) : disk_(disk), path_(std::move(path)) {}
    /// Reads the file, if there is one; damaged lines are left out.
    void read();
    /// Numbers the entry and appends it. Errors: the disk's; the entry is kept in memory all the same.
    Status add(LogEntry entry);
    [[nodiscard]] const std::vector<LogEntry>& entries() const { return entries_; }

private:
    Disk& disk_;
    std::string path_;
    std::vector<LogEntry> entries_;
};

/// One line of a comparison: what it is about, before and after.
struct Difference {
    std::string what, before, after;
};
/// Figures, pegs port by port, standards, and constraint text line by line (common lines of the longest common subsequence
/// are left out).
[[nodiscard]] std::vector<Difference> compare(const LogEntry& a, const LogEntry& b);

/// The edit that takes a project back to an entry.
[[nodiscard]] Edit restore_edit(const Project& project, const LogEntry& entry);

}  // namespace kp
