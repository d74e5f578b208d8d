// SPDX-License-Identifier: GPL-3.0-or-later
// What follows from the open project, worked out when its inputs changed and only then. docs/architecture.md has the
// table of results, inputs and edits; tests/session/deriver_test.cpp counts the work of each kind of edit.
//
//     interpretation   texts of the constraint files that are on, world
//     facts            interpretation
//     report           interpretation, delays of the pads, world, options
//     findings         all of these, pegs, attributes, waivers, settings, what the cable said
//
// Findings follow an edit at once; the others are worked out by a job, or by derive_now(). One thread owns it, that of
// the session.
#pragma once

#include "core/session/jobs.hpp"
#include "core/session/rule_keeper.hpp"
#include "core/session/snapshot.hpp"

#include <atomic>
#include <functional>
#include <map>
#include <memory>
#include <mutex>
#include <string>
#include <vector>

namespace kp {

class Deriver {
public:
    /// How often each kind of work was done, for tests and for who wonders.
    struct Work {
        size_t interpreted = 0, facts = 0, reports = 0, rules = 0, rules_followed = 0;
        bool operator==(const Work&) const = default;
    };

    explicit Deriver(Grounds grounds);
    ~Deriver();
    Deriver(const Deriver&) = delete;
    Deriver& operator=(const Deriver&) = delete;

    // What stands.
    [[nodiscard]] const Analysis& analysis() const { return analysis_; }
    [[nodiscard]] const std::shared_ptr<const World>& world() const { return world_; }
    /// Findings, plan and fixes of the project as it is now, on the analysis that stands.
    [[nodiscard]] const RuleKeeper& rules() const { return *rules_; }
    [[nodiscard]] RuleKeeper& rules() { return *rules_; }
    /// Some of the analysis is of other inputs than the project and world of now.
    [[nodiscard]] bool stale() const { return forced_ || !(inputs_ == analysed_); }
    /// The stage a job is in, such as "paths"; empty when none runs.
    [[nodiscard]] std::string stage() const { return jobs_.busy("derive") ? stage_.load() : ""; }
    [[nodiscard]] const Work& work() const { return work_; }
    /// The queue of the session; for all work on its snapshots.
    [[nodiscard]] Jobs& jobs() { return jobs_; }
    [[nodiscard]] const std::shared_ptr<const Grounds>& grounds() const { return grounds_; }

    // What changes.
    /// Another world, or another project altogether: nothing of the analysis holds any more.
    void begin(const std::shared_ptr<const World>& world, const Project& project);
    /// The same, with rules that were run on another thread on the same world and project.
    void begin(const std::shared_ptr<const World>& world, const Project& project, std::unique_ptr<RuleKeeper> rules);
    /// `project` after `edit`, which touches no input.
    void follow(const Project& project, const Edit& edit);
    /// Grounds are other: what was allowed, options, what the cable said. All rules run again.
    void change_grounds(const std::function<void(Grounds&)>& change);
    /// The next run works out everything, as if all inputs had changed: files that a script reads may be others.
    void force() { forced_ = true; }

    // Work.
    void derive_now(const Project& project);
    /// Starts a job unless nothing is stale or the right one is under way; an outdated one is asked to stop. `ready` is
    /// called on the job's thread when the result waits.
    void start(const Project& project, std::function<void()> ready);
    /// Takes a waiting result over; false when there is none, or when it is of other inputs.
    bool take();
    void cancel();
    [[nodiscard]] bool running() const { return jobs_.busy("derive"); }

private:
    /// All that the analysis depends on.
    struct Inputs {
        std::shared_ptr<const World> world;
        std::vector<sdc::Script> scripts;
        std::map<std::string, double> pads;
        TimingOptions options;
        bool operator==(const Inputs& other) const;
        [[nodiscard]] bool same_text(const Inputs& other) const;
    };
    /// What a run starts from; it may go on on another thread while the members change.
    struct Task {
        Inputs inputs, had;  ///< what is wanted, and what `analysis` was made of
        Project project;
        Analysis analysis;
        std::shared_ptr<const Grounds> grounds;
        bool forced = false;
    };
    struct Result {
        Inputs inputs;
        Analysis analysis;
        std::unique_ptr<RuleKeeper> rules;
        Work work;
    };
    [[nodiscard]] Inputs inputs_of(const Project& project) const;
    [[nodiscard]] Task task_of(const Project& project) const;
    Result run(Task task, const std::stop_token& stop);
    void adopt(Result result);

    std::shared_ptr<const Grounds> grounds_;
    std::shared_ptr<const World> world_;
    Inputs inputs_, analysed_, under_way_;
    Analysis analysis_;
    std::unique_ptr<RuleKeeper> rules_;
    std::vector<Edit> since_;                ///< edits since the job under way began
    bool forced_ = false, pending_ = false;  ///< pending_: a job was started and its result not taken
    Work work_;
    std::atomic<const char*> stage_ = "";

    std::mutex waiting_lock_;  // guards waiting_, which the job writes
    std::unique_ptr<Result> waiting_;
    Jobs jobs_;  // last: it ends first
};

}  // namespace kp
