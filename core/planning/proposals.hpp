// SPDX-License-Identifier: GPL-3.0-or-later
// What something else says of the plan, port by port, so that each difference can be looked at and taken or left: the
// board's names, a pin sheet, pins that came back from a build, another plan.
#pragma once

#include "core/format/csv/pin_report.hpp"
#include "core/planning/meant.hpp"
#include "core/planning/sheet.hpp"

#include <span>
#include <string>
#include <vector>

namespace kp {

struct Proposal {
    std::string port;
    std::string field;       ///< "pin", or the name of a settable column of the pin sheet
    std::string now, then;   ///< as texts; an empty pin is adrift
    std::string origin;      ///< of the peg when it is taken
    std::string why;         ///< what speaks for it
    double confidence = -1;  ///< 0 to 1, below 0: not a matter of confidence
    std::string refused;     ///< why it cannot be taken; empty when it can
};

/// One proposal for each adrift port that is meant for a terminal of the board, as its user or its name says; see
/// meant_places().
[[nodiscard]] std::vector<Proposal> proposals_by_name(const std::vector<Port>& ports, const Board& board,
                                                      const Project& project, const ClockRates& clocks = {});
/// Differences from a pin sheet, as far as its columns go. Rows that cannot be taken are there with the reason.
[[nodiscard]] std::vector<Proposal> proposals_of_sheet(const Project& project, const std::vector<Port>& ports,
                                                       const Part& part, const Board& board, const Sheet& sheet);
/// Differences from another plan of the same ports; what only follows from part and board is left out.
[[nodiscard]] std::vector<Proposal> proposals_of_plan(const Project& project, const std::vector<Port>& ports,
                                                      const Part& part, const Board& board, const Project& other,
                                                      const std::string& origin);

/// Requested against obtained, for each port of the design and each of the report.
struct Obtained {
    enum class Verdict { as_requested, elsewhere, not_requested, not_reported, unknown };
    std::string port, requested, obtained;
    Verdict verdict = Verdict::as_requested;
    int line = 0;  ///< in the report
};
[[nodiscard]] const char* name_of(Obtained::Verdict verdict);
[[nodiscard]] std::vector<Obtained> compare_obtained(const Project& project, const std::vector<Port>& ports,
                                                     const std::vector<PinReportRow>& report);
/// Pegs that a build gave and nobody asked for, or asked for elsewhere.
[[nodiscard]] std::vector<Proposal> proposals_of_report(const Project& project, const std::vector<Port>& ports,
                                                        const Part& part, const std::vector<PinReportRow>& report);

/// Takes proposals in one edit; refused ones are left. Ports that move leave first, so that pins may change hands; a
/// standard nobody chose follows the board.
[[nodiscard]] Edit take_proposals(const Project& project, const Board& board, std::span<const Proposal> taken,
                                  const std::string& title);

}  // namespace kp
