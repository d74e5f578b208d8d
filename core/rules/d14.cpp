// SPDX-License-Identifier: GPL-3.0-or-later
// Names that do not say what they name: single letters at the design's edge, and two that change places between
// modules. Both may be meant, so they are notes.
#include "core/base/said.hpp"
#include "core/rules/say.hpp"

namespace kp::rules {

void d14(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    std::vector<std::string> letters;
    for (const auto* seat : in.seats()) {
        if (!seat->port || seat->port->bus.size() != 1) continue;
        const bool told = !seat->chosen->role.empty() || !seat->chosen->meant.empty();
        if (!told && (letters.empty() || letters.back() != seat->port->bus)) letters.push_back(seat->port->bus);
    }
    if (!letters.empty()) {
        std::vector<Subject> objects;
        for (const auto& name : letters) objects.push_back({Subject::bus, name});
        const bool one = letters.size() == 1;
        out.push_back(finding(row,
                              said("{} called {}; whoever reads the pin sheet cannot tell what {} for, and no name of "
                                   "the board meets {}. Say it by 'role' or 'meant'.",
                                   one ? "A port is" : "Ports are", list_names(letters, 12), one ? "it is" : "they are",
                                   one ? "it" : "them"),
                              std::move(objects)));
    }
    for (const auto& s : in.swapped) {
        auto f = finding(row,
                         said("An instance connects its port {} to {} and its port {} to {}; if that is meant, other "
                              "names would say so.",
                              s.a, s.b, s.b, s.a),
                         {{Subject::called, s.a}, {Subject::called, s.b}});
        f.file = s.file;
        f.line = s.line;
        out.push_back(std::move(f));
    }
}

}  // namespace kp::rules
