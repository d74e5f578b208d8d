// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/session/verdict.hpp"

#include "core/pegs/place.hpp"

#include <algorithm>

namespace kp {

std::string place_trouble(const Session& session, const std::string& port, const std::string& pin) {
    const auto edit = peg_edit(session.project(), session.world().board, port, pin, "by hand");
    for (const auto& f : session.preview(edit)) {
        const bool place = f.rule[0] == 'L' || f.rule[0] == 'E';
        const bool mine = std::any_of(f.objects.begin(), f.objects.end(), [&](const FindingObject& o) { return o.kind == "port" && o.name == port; });
        if (f.severity == Severity::stop && place && mine && f.rule != "E01") return f.rule + ": " + f.text;
    }
    return {};
}

}  // namespace kp
