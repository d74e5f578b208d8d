// SPDX-License-Identifier: GPL-3.0-or-later
// Currents add up: of a pin, of the supply pins that serve it, of a bank. Linear in the ports of a bank.
#include "core/rules/say.hpp"
#include "core/base/said.hpp"
#include <algorithm>
#include <map>

namespace kp::rules {

namespace {

/// Above the limit is a stop; above four fifths of it a caution, since resistors and lamps have tolerances.
constexpr double little_left = 0.8;

struct Sum {
    double ma = 0;
    std::vector<std::pair<double, std::string>> by;  ///< what each port takes
    void add(const PlannedPort& s) {
        const double take = load_ma(s);
        if (take <= 0) return;
        ma += take;
        by.emplace_back(take, s.name);
    }
    [[nodiscard]] std::string greatest() {
        std::sort(by.begin(), by.end(), [](const auto& a, const auto& b) {
            return a.first != b.first ? a.first > b.first : natural_less(a.second, b.second);
        });
        std::vector<std::string> names;
        for (const auto& [take, name] : by) names.push_back(name);
        return list_names(names);
    }
};

void judge(const RuleRow& row, const Bank& bank, const std::string& what, Subject object, Sum sum, double limit,
           std::vector<Finding>& out) {
    if (limit <= 0 || sum.ma <= limit * little_left + 1e-9) return;
    const bool over = sum.ma > limit + 1e-9;
    auto f = finding(row,
                     said("The loads on {} draw {} together, and its limit is {}{}. Most: {}.", what, ma(sum.ma),
                          ma(limit), (over ? "" : "; little is left"), sum.greatest()),
                     {std::move(object)});
    if (!over) f.severity = Severity::caution;
    if (f.objects[0].kind != Subject::bank) f.objects.push_back({Subject::bank, bank.name});
    f.numbers = {{"current", "mA", sum.ma}, {"limit", "mA", limit}};
    out.push_back(std::move(f));
}

}  // namespace

void e08_pin(const RuleInput& in, const RuleRow& row, const PlannedPort& seat, std::vector<Finding>& out) {
    if (!seat.bank || seat.bank->pin_ma <= 0) return;
    const double take = load_ma(seat), limit = seat.bank->pin_ma;
    if (take <= limit + 1e-9) return;
    auto f = finding(row,
                     said("{} draws {} from pin {}, and a pin of bank {} may carry {}.", seat.at.net->terminal,
                          ma(take), seat.on, seat.bank->name, ma(limit)),
                     port_and_pin(seat));
    f.numbers = {{"current", "mA", take}, {"limit", "mA", limit}};
    offer_move(in, seat, f, [&](const Pin& pin) {
        const auto* b = in.part.bank(pin.bank);
        return b && (b->pin_ma <= 0 || b->pin_ma >= take);
    });
    out.push_back(std::move(f));
}

void e08(const RuleInput& in, const RuleRow& row, const Bank& bank, std::vector<Finding>& out) {
    if (bank.bank_ma <= 0 && bank.pair_ma <= 0) return;
    Sum all;
    std::map<std::string, Sum> pairs;
    for (const auto* seat : in.in_bank(bank.name)) {
        all.add(*seat);
        if (!seat->pin->supply_pair.empty()) pairs[seat->pin->supply_pair].add(*seat);
    }
    judge(row, bank, "bank " + bank.name, {Subject::bank, bank.name}, all, bank.bank_ma, out);
    for (auto& [pair, sum] : pairs)
        judge(row, bank, said("supply pin {} of bank {}", pair, bank.name), {Subject::pin, pair}, sum, bank.pair_ma,
              out);
}

}  // namespace kp::rules
