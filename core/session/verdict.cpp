// SPDX-License-Identifier: GPL-3.0-or-later
// A question moves the ports on a copy of the plan, asks the rules that would name them, and moves back.
#include "core/session/verdict.hpp"

#include "core/planning/place.hpp"

#include <algorithm>

namespace kp {

Trial::Trial(std::shared_ptr<const Snapshot> snapshot)
    : snapshot_(std::move(snapshot)),
      project_(*snapshot_->project),
      input_(rule_input(*snapshot_->world, project_, snapshot_->analysis)) {
    input_.with_fixes = false;
}

void Trial::move(const Edit& edit) {
    if (!apply(project_, edit)) return;
    for (const auto& change : edit.changes)
        if (const auto* peg = std::get_if<PegChange>(&change))
            input_.refresh(peg->port);
        else if (const auto* attribute = std::get_if<AttributeChange>(&change))
            input_.refresh(attribute->port);
}

std::string Trial::ask(const std::string& port, const std::string& pin) const {
    for (const auto& f : run_rules_at(input_, port, {pin})) {
        const bool place = f.rule[0] == 'L' || f.rule[0] == 'E';
        const bool mine = std::any_of(f.objects.begin(), f.objects.end(),
                                      [&](const Subject& o) { return o.kind == Subject::port && o.name == port; });
        if (f.severity == Severity::stop && place && mine && f.rule != "E01" && !f.waived)
            return f.rule + ": " + f.text;
    }
    return {};
}

std::string Trial::trouble(const std::string& port, const std::string& pin) {
    const auto edit = peg_edit(project_, snapshot_->world->board, port, pin, "by hand");
    move(edit);
    auto why = ask(port, pin);
    move(edit.inverse());
    return why;
}

std::string Trial::trouble_of_all(const std::vector<std::string>& ports, const std::vector<std::string>& pins) {
    const size_t n = std::min(ports.size(), pins.size());
    std::vector<Edit> done;
    const auto step = [&](Edit edit) {
        move(edit);
        done.push_back(std::move(edit));
    };
    // Those that move leave first; whoever else lies on one of the pins stays, and the rules will name it.
    for (size_t i = 0; i < n; ++i) step(unpeg_edit(project_, ports[i]));
    for (size_t i = 0; i < n; ++i) step(peg_edit(project_, snapshot_->world->board, ports[i], pins[i], "by hand"));
    std::string why;
    for (size_t i = 0; i < n && why.empty(); ++i) {
        why = ask(ports[i], pins[i]);
        if (!why.empty()) why = ports[i] + ", " + why;
    }
    for (auto edit = done.rbegin(); edit != done.rend(); ++edit) move(edit->inverse());
    return why;
}

}  // namespace kp
