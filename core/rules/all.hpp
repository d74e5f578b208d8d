// SPDX-License-Identifier: GPL-3.0-or-later
// The functions of the rules, each in the file of its name.
#pragma once

#include "core/rules/rules.hpp"

namespace kp::rules {

using Out = std::vector<Finding>;
void l01(const RuleInput&, const RuleRow&, const PlannedPort&, Out&);
void l03(const RuleInput&, const RuleRow&, const PlannedPort&, Out&);
void l04(const RuleInput&, const RuleRow&, const PlannedPort&, Out&);
void l05(const RuleInput&, const RuleRow&, const PlannedPort&, Out&);
void l06(const RuleInput&, const RuleRow&, const PlannedPort&, Out&);
void l07(const RuleInput&, const RuleRow&, const PlannedPort&, Out&);
void l08(const RuleInput&, const RuleRow&, const PlannedPort&, Out&);
void l11(const RuleInput&, const RuleRow&, const PlannedPort&, Out&);
void l13(const RuleInput&, const RuleRow&, const PlannedPort&, Out&);
void e01(const RuleInput&, const RuleRow&, const PlannedPort&, Out&);
void e02(const RuleInput&, const RuleRow&, const PlannedPort&, Out&);
void e03(const RuleInput&, const RuleRow&, const PlannedPort&, Out&);
void e04(const RuleInput&, const RuleRow&, const PlannedPort&, Out&);
void e05(const RuleInput&, const RuleRow&, const PlannedPort&, Out&);
void e06(const RuleInput&, const RuleRow&, const PlannedPort&, Out&);
void e07(const RuleInput&, const RuleRow&, const PlannedPort&, Out&);
void e08_pin(const RuleInput&, const RuleRow&, const PlannedPort&, Out&);
void e10(const RuleInput&, const RuleRow&, const PlannedPort&, Out&);
void e11(const RuleInput&, const RuleRow&, const PlannedPort&, Out&);
void e12(const RuleInput&, const RuleRow&, const PlannedPort&, Out&);
void d03_peg(const RuleInput&, const RuleRow&, const PlannedPort&, Out&);
void d05(const RuleInput&, const RuleRow&, const PlannedPort&, Out&);
void d09(const RuleInput&, const RuleRow&, const PlannedPort&, Out&);
void d10(const RuleInput&, const RuleRow&, const PlannedPort&, Out&);
void d14(const RuleInput&, const RuleRow&, Out&);
void d13(const RuleInput&, const RuleRow&, Out&);
void d12(const RuleInput&, const RuleRow&, const PlannedPort&, Out&);
void d11(const RuleInput&, const RuleRow&, const PlannedPort&, Out&);
void l09(const RuleInput&, const RuleRow&, const PlannedPort&, Out&);
void l10(const RuleInput&, const RuleRow&, Out&);
void l12(const RuleInput&, const RuleRow&, Out&);
void l16(const RuleInput&, const RuleRow&, Out&);
void l15(const RuleInput&, const RuleRow&, const PlannedPort&, Out&);
void l14(const RuleInput&, const RuleRow&, Out&);
void d01(const RuleInput&, const RuleRow&, Out&);
void d02(const RuleInput&, const RuleRow&, Out&);
void d03(const RuleInput&, const RuleRow&, Out&);
void d04(const RuleInput&, const RuleRow&, Out&);
void d05_unused(const RuleInput&, const RuleRow&, Out&);
void d06(const RuleInput&, const RuleRow&, Out&);
void d07(const RuleInput&, const RuleRow&, Out&);
void d08(const RuleInput&, const RuleRow&, Out&);
void t01(const RuleInput&, const RuleRow&, Out&);
void t02(const RuleInput&, const RuleRow&, Out&);
void t03(const RuleInput&, const RuleRow&, Out&);
void e11_unknown(const RuleInput&, const RuleRow&, Out&);
void p01(const RuleInput&, const RuleRow&, Out&);
void p02(const RuleInput&, const RuleRow&, Out&);
void p03(const RuleInput&, const RuleRow&, Out&);
void l02(const RuleInput&, const RuleRow&, const std::string& pin, Out&);
void e08(const RuleInput&, const RuleRow&, const Bank&, Out&);
void e09(const RuleInput&, const RuleRow&, const Bank&, Out&);

}  // namespace kp::rules
