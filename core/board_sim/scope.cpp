// SPDX-License-Identifier: GPL-3.0-or-later
// The board model keeps the edges; the scope copies what lies in its window.
#include "core/board_sim/scope.hpp"

#include <algorithm>

namespace kp::board_sim {

void Scope::choose(BoardModel& model, size_t channel, const std::string& terminal) {
    terminals_[channel] = terminal;
    numbers_[channel] = terminal.empty() ? no_id : model.terminal(terminal);
    if (numbers_[channel] != no_id) model.record(numbers_[channel]);
}

void Scope::moved_to(BoardModel& model) {
    for (size_t c = 0; c < channels; ++c) choose(model, c, terminals_[c]);
    capture_ = {};
    since_ = 0;
}

void Scope::set(const Trigger& trigger) {
    trigger_ = trigger;
    capture_ = {};
}

void Scope::arm(Time now) {
    armed_ = true;
    since_ = now;
    capture_ = {};
}

Time Scope::newest_trigger(const BoardModel& model) const {
    const auto number = numbers_[trigger_.channel];
    if (number == no_id) return -1;
    const auto& edges = model.edges(number);
    const auto wanted = trigger_.rise ? Level::high : Level::low;
    const auto latest = model.now() - span_ * 9 / 10;  // what follows has to be there
    Time found = -1;
    for (size_t i = edges.size(); i-- > 1;) {
        if (edges[i].when > latest) continue;
        if (edges[i].when < since_ || edges[i].when <= capture_.trigger) break;
        if (edges[i].level != wanted || edges[i - 1].level == wanted) continue;
        found = edges[i].when;
        if (trigger_.mode == repeated) break;  // the newest; once: the first since it was armed
    }
    return found;
}

void Scope::take(const BoardModel& model, Time from, Time to, Time trigger) {
    capture_.from = from;
    capture_.to = to;
    capture_.trigger = trigger;
    for (size_t c = 0; c < channels; ++c) {
        auto& out = capture_.edges[c];
        out.clear();
        if (numbers_[c] == no_id) continue;
        const auto& edges = model.edges(numbers_[c]);
        auto at = std::upper_bound(edges.begin(), edges.end(), from, [](Time t, const Edge& e) { return t < e.when; });
        if (at != edges.begin()) --at;
        for (; at != edges.end() && at->when < to; ++at) out.push_back(*at);
    }
}

bool Scope::look(const BoardModel& model) {
    if (trigger_.mode == rolling) {
        take(model, std::max<Time>(0, model.now() - span_), std::max(model.now(), span_), -1);
        return true;
    }
    if (trigger_.mode == once && !armed_) return false;
    const auto t = newest_trigger(model);
    if (t < 0) return false;
    take(model, t - span_ / 10, t + span_ * 9 / 10, t);
    if (trigger_.mode == once) armed_ = false;
    return true;
}

}  // namespace kp::board_sim
