// SPDX-License-Identifier: GPL-3.0-or-later
// What the facts pane shows, as values: titles, groups, facts with their origin.
#pragma once

#include <QString>
#include <vector>

namespace kp::app {

struct Fact {
    QString name, value, origin;  ///< origin: data sheet row, formula, file:line; may be empty
    int severity = -1;            ///< 0 stop, 1 caution, 2 note: a mark with a sentence; 3: the text alone
};
struct FactGroup {
    QString title;
    std::vector<Fact> facts;
};
struct FactSheet {
    QString title, under;
    std::vector<FactGroup> groups;
};

}  // namespace kp::app
