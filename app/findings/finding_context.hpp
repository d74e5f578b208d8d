// SPDX-License-Identifier: GPL-3.0-or-later
// What a finding is about, gathered from the session so that it can be drawn: the lines around a command, the thread
// from port to terminal, the other ports of the bank.
#pragma once

#include "core/model/finding.hpp"

#include <QString>
#include <vector>

namespace kp {
class Session;
}

namespace kp::app {

struct FindingContext {
    struct Line {
        int number = 0;
        QString text;
        bool here = false;
    };
    QString file;
    std::vector<Line> lines;

    struct Knot {
        QString kind, name, detail;
    };
    std::vector<Knot> thread;  ///< port, pin, bank, terminal, as far as it goes

    struct Seat {
        QString port, pin, standard;
        bool here = false;
    };
    QString bank;             ///< "bank 2, 3.3 V by the board"
    std::vector<Seat> seats;  ///< those the finding names first
};

[[nodiscard]] FindingContext context_of(const Session& session, const Finding& finding);

}  // namespace kp::app
