// SPDX-License-Identifier: GPL-3.0-or-later
// What rules share: findings with their row filled in, numbers as people write them, and the edits that are ways out.
#pragma once

#include "core/base/text.hpp"
#include "core/rules/rules.hpp"

#include <optional>
#include <string>
#include <vector>

namespace kp::rules {

/// A finding of `row` with its severity, source and remedy filled in.
[[nodiscard]] Finding finding(const RuleRow& row, std::string text, std::vector<Subject> objects);
/// The objects port and pin of a seat.
[[nodiscard]] std::vector<Subject> port_and_pin(const PlannedPort& seat);

/// A number with at most `decimals` places, without trailing zeros.
[[nodiscard]] std::string number(double value, int decimals = 2);
[[nodiscard]] std::string volts(double v);
[[nodiscard]] std::string ma(double v);
[[nodiscard]] std::string mhz(double v);
[[nodiscard]] std::string ns(double v);
[[nodiscard]] bool same_volts(double a, double b);

/// A place this port may go to: the terminal its name suggests, otherwise the nearest free user pin of the same bank
/// whose bank, rail and job let it.
struct BetterPin {
    std::string pin, why;
};
/// Pins of `leaving` count as free. `also`: what else the pin has to be.
[[nodiscard]] std::optional<BetterPin> better_pin(const RuleInput& input, const PlannedPort& seat,
                                                  const std::vector<std::string>& leaving = {},
                                                  const std::function<bool(const Pin&)>& also = {});
[[nodiscard]] Fix move_fix(const RuleInput& input, const std::string& port, const BetterPin& place);
/// Adds the move to a better place, when ways out are wanted and there is one.
void offer_move(const RuleInput& input, const PlannedPort& seat, Finding& finding,
                const std::function<bool(const Pin&)>& also = {});
/// MHz that constraints say of a clock on a port; 0: nothing.
[[nodiscard]] double constrained_mhz(const RuleInput& in, const PlannedPort& seat);
/// The pin of the oscillator that a clock port is meant for, by its rate; none when the board has none or several.
[[nodiscard]] std::optional<BetterPin> oscillator_place(const RuleInput& in, const PlannedPort& seat);

/// Sets one attribute.
[[nodiscard]] Fix attribute_fix(const RuleInput& input, const PlannedPort& seat, std::string PortAttributes::*field,
                                const std::string& value, const std::string& text);
/// Appends a command to the constraint file that receives new ones, or to a later one when `clock` is defined behind
/// it; none without such a file. `ask`: the question that the number in the command still is.
[[nodiscard]] std::optional<Fix> append_fix(const RuleInput& input, const std::string& command, const std::string& text,
                                            const std::string& clock = {}, const std::string& ask = {});
/// Replaces one option of a clock's command and nothing else; sets file and line of the finding.
void option_fix(const RuleInput& input, const ClockDefinition& clock, const char* option, const std::string& value,
                const std::string& text, Finding& finding);
[[nodiscard]] Fix setting_fix(const RuleInput& input, const std::string& field, const std::string& value,
                              const std::string& text);

/// mA that an output drives: what is chosen, else 8 or the next that its standard has.
[[nodiscard]] double drive_of(const PlannedPort& seat);
/// "8 mA", or "8 mA (assumed: no drive is chosen)".
[[nodiscard]] std::string drive_words(const PlannedPort& seat);
/// True when its edges are the fast ones.
[[nodiscard]] bool fast(const PlannedPort& seat);
/// Current through the pin of an output while it drives its load, mA; 0 when the load takes none or is not known. Lamp:
/// I = (VIO - Vf - VOL) / R; coil: what its part says, no more than (VIO - VOL) / R; pull: (VIO - VOL) / R.
[[nodiscard]] double load_ma(const PlannedPort& seat);
/// The configuration mode that counts: the project's choice, else the board's; null when the part has no such mode.
[[nodiscard]] const ConfigurationMode* mode_of(const RuleInput& input);
[[nodiscard]] inline const std::string& mode_name(const RuleInput& input) {
    return input.project.mode.empty() ? input.board.mode : input.project.mode;
}

}  // namespace kp::rules
