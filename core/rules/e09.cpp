// SPDX-License-Identifier: GPL-3.0-or-later
// Outputs that switch at once lift the ground of their supply pin. Each takes a fraction of what the pin bears, as the
// part gives it, and fractions add up. Linear in the ports of a bank.
#include "core/rules/say.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"
#include <algorithm>
#include <map>
#include <set>

namespace kp::rules {

namespace {

/// The part of the limit that one output takes. The part gives how many outputs of 8 mA with fast edges a supply pair
/// bears; more drive counts in proportion, slow edges count half (common practice, no source). A pair of wires that
/// swing against each other takes nothing.
double fraction(const PlannedPort& s, const Bank& bank) {
    if (!s.drives() || !s.standard || s.standard->differential || s.standard->open_drain ||
        (s.facts && s.facts->only_low))
        return 0;
    return drive_of(s) / 8.0 * (fast(s) ? 1.0 : 0.5) / bank.switching_limit;
}

/// Which drive was counted where none is chosen.
std::string assumed(const std::vector<const PlannedPort*>& seats) {
    std::set<std::string> drives;
    size_t n = 0;
    for (const auto* seat : seats)
        if (!to_number(seat->chosen->drive)) {
            ++n;
            drives.insert(ma(drive_of(*seat)));
        }
    if (n == 0) return {};
    const std::vector<std::string> names(drives.begin(), drives.end());
    return said(" For {} of them no drive is chosen; {} is assumed.", n, list_names(names));
}

}  // namespace

void e09(const RuleInput& in, const RuleRow& row, const Bank& bank, std::vector<Finding>& out) {
    if (bank.switching_limit <= 0) return;
    struct Pair {
        double sum = 0;
        std::vector<std::string> ports;
        std::vector<const PlannedPort*> seats;
    };
    std::map<std::string, Pair> pairs;
    for (const auto* seat : in.in_bank(bank.name)) {
        const double part = seat->pin->supply_pair.empty() ? 0 : fraction(*seat, bank);
        if (part <= 0) continue;
        auto& pair = pairs[seat->pin->supply_pair];
        pair.sum += part;
        pair.ports.push_back(seat->name);
        pair.seats.push_back(seat);
    }
    for (auto& [name, pair] : pairs) {
        if (pair.sum <= 1 + 1e-9) continue;
        std::sort(pair.ports.begin(), pair.ports.end(), natural_less);
        auto f = finding(row,
                         said("{} supply pin {} of bank {}; when they switch at once they take {} of its limit, and "
                              "the ground would bounce. They are {}.{}",
                              counted(pair.ports.size(), "output loads", "outputs load"), name, bank.name,
                              number(pair.sum), list_names(pair.ports), assumed(pair.seats)),
                         {{Subject::pin, name}, {Subject::bank, bank.name}});
        f.numbers = {{"sum of fractions", "", pair.sum}, {"limit", "", 1}};
        if (in.with_fixes) {
            Edit slow{"slow edges for " + counted(pair.ports.size(), "output"), {}};
            std::sort(pair.seats.begin(), pair.seats.end(),
                      [](const PlannedPort* a, const PlannedPort* b) { return a->order < b->order; });
            for (const auto* seat : pair.seats)
                if (fast(*seat))
                    slow.changes.push_back(attribute_fix(in, *seat, &PortAttributes::slew, "slow", "").edit.changes[0]);
            if (!slow.empty()) f.fixes.push_back({"choose slow edges for the outputs on " + name, slow});
        }
        out.push_back(std::move(f));
    }
}

}  // namespace kp::rules
