// SPDX-License-Identifier: GPL-3.0-or-later
// One engine behind one lock. A report waits for another; a question is refused while one is under way.
#include "core/session/timekeeper.hpp"

#include "core/base/text.hpp"

namespace kp {

std::map<std::string, double> pad_delays(const World& world, const Project& project) {
    std::map<std::string, double> out;
    for (const auto& [port, a] : project.attributes) {
        const long long steps = a.delay_steps();
        const auto peg = project.pegs.find(port);
        if (steps <= 0 || peg == project.pegs.end()) continue;
        const auto* pin = world.part.pin(peg->second.pin);
        const auto* bank = pin ? world.part.bank(pin->bank) : nullptr;
        if (bank && steps <= bank->delay_steps && bank->delay_step_ns > 0)
            out[port] = static_cast<double>(steps) * bank->delay_step_ns;
    }
    return out;
}

TimingReport Timekeeper::report(std::shared_ptr<const World> world, const Constraints& constraints,
                                const std::map<std::string, double>& pads, const TimingOptions& options,
                                std::stop_token stop) {
    const std::lock_guard guard(lock_);
    if (!engine_ || world != world_ || !(options == options_)) {
        engine_.reset();
        engine_ = std::make_unique<TimingEngine>(
            TimingInput{world->netlist, world->library, constraints, world->delays ? &*world->delays : nullptr},
            options, timing_corners(world->corners, world->delays ? &*world->delays : nullptr), stop);
        if (stop.stop_requested()) engine_.reset();
        world_ = std::move(world);
        options_ = options;
    } else {
        engine_->set_constraints(constraints);
    }
    if (engine_ && engine_->refused()) {
        TimingReport refused;
        refused.messages.push_back(*engine_->refused());
        engine_.reset();
        return refused;
    }
    if (engine_) engine_->set_pad_delays(pads);
    pads_ = pads;
    if (engine_ && engine_->update(stop)) return engine_->report(stop);
    TimingReport cancelled;
    cancelled.messages.push_back({Severity::stop, Code::cancelled, "The analysis was cancelled."});
    return cancelled;
}

bool Timekeeper::what_if(const Constraints& constraints, const std::function<void(const TimingEngine&)>& ask,
                         std::stop_token stop) {
    const std::unique_lock guard(lock_, std::try_to_lock);
    if (!guard || !engine_ || engine_->refused()) return false;
    return engine_->what_if(constraints, ask, std::move(stop));
}

bool Timekeeper::what_if(const Constraints& constraints, const std::map<std::string, double>& pads,
                         const std::function<void(const TimingEngine&)>& ask, std::stop_token stop) {
    const std::unique_lock guard(lock_, std::try_to_lock);
    if (!guard || !engine_ || engine_->refused()) return false;
    if (pads == pads_) return engine_->what_if(constraints, ask, std::move(stop));
    engine_->set_pad_delays(pads);
    const bool asked = engine_->what_if(constraints, ask, stop);
    engine_->set_pad_delays(pads_);
    return engine_->update(std::move(stop)) && asked;
}

bool Timekeeper::ask(const std::function<void(const TimingEngine&)>& question) const {
    const std::unique_lock guard(lock_, std::try_to_lock);
    if (!guard || !engine_ || engine_->refused()) return false;
    question(*engine_);
    return true;
}

TimingEngine::Work Timekeeper::work() const {
    const std::lock_guard guard(lock_);
    return engine_ ? engine_->work() : TimingEngine::Work{};
}

}  // namespace kp
