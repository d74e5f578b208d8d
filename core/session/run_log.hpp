// SPDX-License-Identifier: GPL-3.0-or-later
// The log: one run per analysis, with its figures and the plan it was made of, so that any two can be compared and any
// one restored. A text file beside the project, two lines a run: the figures, and the plan, whole or as an edit of the
// plan before. It is read when somebody asks for it, and then only the figures; a plan is made when it is needed. A
// torn line leaves its run out.
#pragma once

#include "core/base/disk.hpp"
#include "core/model/edit.hpp"
#include "core/model/finding.hpp"

#include <optional>
#include <string>
#include <vector>

namespace kp {

/// The figures of an analysis.
struct Run {
    int number = 0;
    std::string time;   ///< local, "2026-11-23 14:02:11"
    std::string title;  ///< the edit that led here
    std::optional<double> setup_wns, hold_wns;
    double setup_tns = 0;
    int setup_failing = 0, endpoints = 0, constrained = 0;
    std::optional<double> worst;  ///< over all kinds of check, ns
    std::string worst_kind;       ///< its key, such as "recovery"
    int failing = 0;              ///< endpoints over all kinds of check
    FindingCounts findings;
    std::string plan_sum;  ///< checksum of the plan, by which a state that was logged before is known again
    std::string corner;    ///< where the worst check is; empty with one corner
    std::map<std::string, std::string> inputs;  ///< start of the SHA-256 of each input file, by path
    std::vector<std::string> messages;          ///< findings as "RULE: text", at most some hundred
    std::string note;                           ///< what the user wrote beside it
};

/// What an analysis was made of.
struct RunPlan {
    std::string part;
    PegMap pegs;
    std::map<std::string, PortAttributes> attributes;
    std::map<std::string, std::string> texts;     ///< constraint files by path
    std::map<std::string, std::string> fields{};  ///< of the project by name, as field_text() has them
    std::vector<Waiver> waivers{};
    bool operator==(const RunPlan&) const = default;
};

/// All that a run keeps of a project.
[[nodiscard]] RunPlan plan_of(const Project& project);

struct LogEntry {
    Run run;
    RunPlan plan;
};

class RunLog {
public:
    static constexpr size_t most_runs = 10'000;  ///< older ones are forgotten, some hundred at a time
    RunLog(Disk& disk, std::string path) : disk_(disk), path_(std::move(path)) {}
    /// All runs, oldest first.
    [[nodiscard]] const std::vector<Run>& runs();
    /// A run with its plan. Errors: there is none of this number, or the file is damaged there.
    [[nodiscard]] Result<LogEntry> entry(int number);
    /// Numbers the run and appends it, unless it was there before: one of the last hundred has the same plan and the
    /// same figures, as undo and redo bring them back. Errors: the disk's; the figures are kept in memory all the same.
    Status add(Run run, const RunPlan& plan);
    /// Writes a note beside a run, in place of the one before. Errors: no such run, the disk's.
    Status annotate(int number, const std::string& note);
    /// Why the last entry could not be written; none when it was.
    [[nodiscard]] const std::optional<Message>& trouble() const { return trouble_; }

private:
    struct PlanLine {
        size_t at = 0, size = 0;  ///< the line of the plan, in the file
        bool whole = false;
        bool in_file = false;  ///< false: it could not be written
    };
    void load();
    [[nodiscard]] Result<RunPlan> plan_at(size_t index, const std::string& text) const;
    Status append(Run run, const RunPlan& plan);
    Status look_at_end(bool& whole);
    Status forget_old();
    [[nodiscard]] bool known_before(const Run& run) const;
    Status rewrite(size_t from);

    Disk& disk_;
    std::string path_;
    std::optional<Message> trouble_;
    bool loaded_ = false, torn_ = false, old_form_ = false, broken_ = false;
    size_t size_ = 0;  ///< bytes of the file
    std::vector<Run> runs_;
    std::vector<PlanLine> places_;  ///< by run
    std::optional<RunPlan> last_;   ///< plan of the last run in the file, once it was needed
};

/// One line of a comparison: what it is about, before and after.
struct Difference {
    std::string what, before, after;
};
/// Figures, pegs port by port, standards, and constraint text line by line (common lines of the longest common
/// subsequence are left out).
[[nodiscard]] std::vector<Difference> compare(const LogEntry& a, const LogEntry& b);

/// The edit that takes a project back to an entry.
[[nodiscard]] Edit restore_edit(const Project& project, const LogEntry& entry);

}  // namespace kp
