// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/pegs/port_drag.hpp"

#include "core/pegs/place.hpp"
#include "core/session/verdict.hpp"

namespace kp::app {

const std::string& PortDrag::trouble(const std::string& pin) {
    const auto [at, fresh] = verdicts_.try_emplace(pin);
    if (fresh) at->second = place_trouble(desk_.session(), port_, pin);
    return at->second;
}

void PortDrag::drop(const std::string& pin) {
    const std::string port = port_, why = trouble(pin);
    end();
    if (!why.empty()) return desk_.say(QString::fromStdString(port + " stays where it was. " + why), true);
    desk_.apply(peg_edit(desk_.session().project(), desk_.session().world().board, port, pin, "by hand"));
}

}  // namespace kp::app
