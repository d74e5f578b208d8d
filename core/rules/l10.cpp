// SPDX-License-Identifier: GPL-3.0-or-later
// Terminals of the board that must be driven or held: by a port, a pull of the board, or the state of unused pins.
#include "core/rules/say.hpp"
#include "core/base/said.hpp"
#include <algorithm>

namespace kp::rules {

namespace {
/// What holds a terminal that the plan leaves alone: a pull on the board, else the state of unused pins.
std::string held(const RuleInput& in, const BoardNet& net) {
    if (!net.pull.empty()) return net.pull == "up" ? "high" : "low";
    switch (in.project.unused()) {
        case UnusedPins::pulled_up: return "high";
        case UnusedPins::pulled_down:
        case UnusedPins::driven_low: return "low";
        case UnusedPins::floating: break;
    }
    return "";
}
}  // namespace

void l10(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    for (const auto& [wire, at] : in.held_terminals()) {
        const auto& net = *wire;
        if (in.project.open_terminals.contains(net.terminal)) continue;
        const auto& ports = in.at_pin(net.pin);
        if (std::any_of(ports.begin(), ports.end(), [&](const std::string& name) { return in.seat(name)->drives(); }))
            continue;
        const auto& must = at.terminal->must;
        const auto level = held(in, net);
        if (must != "drive" && level == must) continue;
        const std::string what = said("{} ({})", net.terminal, at.part->shown());
        auto f = finding(row,
                         must == "drive"
                             ? said("{} has to be driven by the design, and no output is on its pin {}.", what, net.pin)
                             : said("{} has to be held {}, and pin {} has no output; {}", what, must, net.pin,
                                    (level.empty() ? "nothing holds it." : "it is held " + level + " instead.")),
                         {{Subject::terminal, net.terminal}, {Subject::pin, net.pin}});
        if (in.with_fixes) {
            for (const auto* seat : in.seats())
                if (f.fixes.empty() && seat->port && seat->drives() && !seat->at)
                    if (const auto m = in.matcher().best(*seat->port, {}); m && m->pin == net.pin)
                        f.fixes.push_back(move_fix(in, seat->name, {net.pin, m->terminal + ", " + m->why}));
            if (f.fixes.empty() && must != "drive" && net.pull.empty())
                f.fixes.push_back(setting_fix(in, "unused_pins", must == "high" ? "pull up" : "pull down",
                                              std::string("pull unused pins ") + (must == "high" ? "up" : "down")));
        }
        out.push_back(std::move(f));
    }
}

}  // namespace kp::rules
