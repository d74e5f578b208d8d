// SPDX-License-Identifier: GPL-3.0-or-later
// Keys are the inputs themselves, compared by value: a text that was edited and taken back is the same again, and
// nothing is worked out for it. Comparing costs the length of the constraint texts, which is small beside running them.
#include "core/session/deriver.hpp"

#include "core/session/timekeeper.hpp"

#include <algorithm>
#include <chrono>

namespace kp {

namespace {

// A window must not stand still: text that is being typed may loop without end. kpeg waits longer.
constexpr double script_seconds = 2;

}  // namespace

bool Deriver::Inputs::same_text(const Inputs& o) const {
    return world == o.world &&
           std::equal(scripts.begin(), scripts.end(), o.scripts.begin(), o.scripts.end(),
                      [](const sdc::Script& a, const sdc::Script& b) { return a.path == b.path && a.text == b.text; });
}

bool Deriver::Inputs::operator==(const Inputs& o) const {
    return same_text(o) && pads == o.pads && options == o.options;
}

Deriver::Deriver(Grounds grounds) : grounds_(std::make_shared<const Grounds>(std::move(grounds))) {}

Deriver::~Deriver() {
    cancel();
}

Deriver::Inputs Deriver::inputs_of(const Project& project) const {
    return {world_, analysis_scripts(project, grounds_->folder), pad_delays(*world_, project), grounds_->options};
}

void Deriver::begin(const std::shared_ptr<const World>& world, const Project& project) {
    begin(world, project, std::make_unique<RuleKeeper>(world, project, Analysis{}, grounds_->idcode));
    ++work_.rules;
}

void Deriver::begin(const std::shared_ptr<const World>& world, const Project& project,
                    std::unique_ptr<RuleKeeper> rules) {
    cancel();
    world_ = world;
    analysis_ = {};
    analysed_ = {};
    rules_ = std::move(rules);
    inputs_ = inputs_of(project);
}

void Deriver::follow(const Project& project, const Edit& edit) {
    const auto t = touched(edit);
    if (t.pegs || t.text || t.inputs) inputs_ = inputs_of(project);
    rules_->follow(edit);
    ++work_.rules_followed;
    if (pending_) since_.push_back(edit);
}

void Deriver::change_grounds(const std::function<void(Grounds&)>& change) {
    auto next = *grounds_;
    change(next);
    const bool same_code = next.idcode == grounds_->idcode;
    grounds_ = std::make_shared<const Grounds>(std::move(next));
    if (!rules_) return;
    inputs_.options = grounds_->options;
    if (same_code) return;
    rules_ = std::make_unique<RuleKeeper>(world_, rules_->plan().project, analysis_, grounds_->idcode);
    ++work_.rules;
}

Deriver::Task Deriver::task_of(const Project& project) const {
    return {inputs_, analysed_, project, analysis_, grounds_, forced_};
}

/// On any thread. Of the members it touches only the stage, and the engine, which takes care of itself.
Deriver::Result Deriver::run(Task task, const std::stop_token& stop) {
    const auto from = std::chrono::steady_clock::now();
    const auto& in = task.inputs;
    const auto& world = *in.world;
    Result out;
    auto& a = out.analysis;
    a = task.analysis;
    const bool read = task.forced || !a.interpretation || !in.same_text(task.had);
    if (read) {
        stage_ = "constraints";
        a.interpretation = interpret(world, task.project, task.grounds->folder, script_seconds, stop);
        ++out.work.interpreted;
    }
    if (!stop.stop_requested() && (read || !a.report || !(in == task.had))) {
        stage_ = "paths";
        a.set_report(task.grounds->timekeeper->report(in.world, a.constraints(), in.pads, in.options, stop));
        ++out.work.reports;
    }
    if (!stop.stop_requested() && (read || !a.facts)) {
        stage_ = "design";
        a.facts =
            std::make_shared<const DesignFacts>(design_facts(world.netlist, world.library, a.constraints(), stop));
        ++out.work.facts;
    }
    a.cancelled = stop.stop_requested();
    if (!a.cancelled) {
        stage_ = "rules";
        out.rules = std::make_unique<RuleKeeper>(in.world, std::move(task.project), a, task.grounds->idcode);
        ++out.work.rules;
    }
    a.seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count();
    out.inputs = std::move(task.inputs);
    return out;
}

void Deriver::derive_now(const Project& project) {
    cancel();
    if (stale()) adopt(run(task_of(project), {}));
}

void Deriver::start(const Project& project, std::function<void()> ready) {
    if (!stale()) return cancel();
    if (pending_ && !forced_ && under_way_ == inputs_) return;
    cancel();
    under_way_ = inputs_;
    pending_ = true;
    auto task = std::make_shared<Task>(task_of(project));
    forced_ = false;
    jobs_.start("derive", [this, task, ready = std::move(ready)](const std::stop_token& stop) {
        auto result = std::make_unique<Result>(run(std::move(*task), stop));
        if (stop.stop_requested()) return;
        {
            const std::lock_guard guard(waiting_lock_);
            waiting_ = std::move(result);
        }
        if (ready) ready();
    });
}

bool Deriver::take() {
    std::unique_ptr<Result> result;
    {
        const std::lock_guard guard(waiting_lock_);
        result = std::move(waiting_);
    }
    if (!result || !(result->inputs == inputs_)) return false;
    adopt(std::move(*result));
    return true;
}

void Deriver::adopt(Result result) {
    analysed_ = std::move(result.inputs);
    analysis_ = std::move(result.analysis);
    rules_ = std::move(result.rules);
    for (const auto& edit : since_) rules_->follow(edit);
    since_.clear();
    forced_ = pending_ = false;
    work_.interpreted += result.work.interpreted;
    work_.facts += result.work.facts;
    work_.reports += result.work.reports;
    work_.rules += result.work.rules;
}

void Deriver::cancel() {
    jobs_.stop("derive");
    since_.clear();
    pending_ = false;
    const std::lock_guard guard(waiting_lock_);
    waiting_.reset();
}

}  // namespace kp
