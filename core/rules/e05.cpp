// SPDX-License-Identifier: GPL-3.0-or-later
// Levels of both ends of a wire: VOH >= VIH and VOL <= VIL in the direction of the data, and never more than the other
// end bears. Ranges of supply come from rail and data sheet; what is not known is not judged.
#include "core/rules/say.hpp"
#include "core/base/said.hpp"
#include <algorithm>

namespace kp::rules {

namespace {

/// Levels of one end of the wire, V. A receiver bears what its data sheet says, else its supply and 0.3 V: JEDEC
/// JESD8C.01 and its sisters give VIH max = VDD + 0.3 V (from memory).
struct End {
    std::string name;
    double vih = 0, vil = 0, voh = 0, vol = 0, supply = 0, bears = 0;
};

std::optional<End> board_end(const RuleInput& in, const PlannedPort& seat) {
    const auto& t = *seat.at.terminal;
    const auto* s = in.standards.find(t.standard);
    if ((s && s->differential) || (!s && t.vih <= 0 && t.voh <= 0 && t.volts_max <= 0)) return std::nullopt;
    End e{seat.at.net->terminal, t.vih, t.vil, t.voh, t.vol, s ? s->supply : 0, t.volts_max};
    if (s) {
        if (e.vih <= 0) e.vih = s->vih;
        if (e.vil <= 0) e.vil = s->vil;
        if (e.voh <= 0) e.voh = s->voh;
        if (e.vol <= 0) e.vol = s->vol;
        if (e.bears <= 0) e.bears = s->supply + 0.3;
    }
    return e;
}

struct Wire {
    const RuleInput& in;
    const RuleRow& row;
    const PlannedPort& seat;
    std::vector<Finding>& out;

    void say(const std::string& text, std::vector<FindingNumber> numbers) {
        auto f = finding(row, text, port_and_pin(seat));
        f.objects.push_back({Subject::terminal, seat.at.net->terminal});
        f.numbers = std::move(numbers);
        const auto& wanted = seat.at.terminal->standard;
        if (in.with_fixes && in.standards.find(wanted) && wanted != seat.standard->name)
            f.fixes.push_back(
                {said("take {} from the board", wanted), standard_edit(in.project, seat.name, wanted, from_the_board)});
        if (in.with_fixes && f.fixes.empty()) offer_move(in, seat, f);
        out.push_back(std::move(f));
    }

    /// `highest`: the greatest voltage the driver puts on the wire.
    void check(const End& driver, const End& receiver, double highest) {
        if (receiver.bears > 0 && highest > receiver.bears + 1e-9)
            return say(said("{} puts up to {} on the wire, and the limit of {} is {}; it would be destroyed.",
                            driver.name, volts(highest), receiver.name, volts(receiver.bears)),
                       {{"driven", "V", highest}, {"absolute maximum", "V", receiver.bears}});
        if (receiver.vih > 0 && driver.voh < receiver.vih - 1e-9)
            say(said("High is at least {} from {}, and {} wants {}; {} are missing.", volts(driver.voh), driver.name,
                     receiver.name, volts(receiver.vih), volts(receiver.vih - driver.voh)),
                {{"VOH", "V", driver.voh},
                 {"VIH", "V", receiver.vih},
                 {"VOL", "V", driver.vol},
                 {"VIL", "V", receiver.vil},
                 {"margin high", "V", driver.voh - receiver.vih},
                 {"margin low", "V", receiver.vil - driver.vol}});
        else if (receiver.vil > 0 && driver.vol > receiver.vil + 1e-9)
            say(said("Low is up to {} from {}, and {} takes no more than {} for low; it is {} too much.",
                     volts(driver.vol), driver.name, receiver.name, volts(receiver.vil),
                     volts(driver.vol - receiver.vil)),
                {{"VOL", "V", driver.vol},
                 {"VIL", "V", receiver.vil},
                 {"VOH", "V", driver.voh},
                 {"VIH", "V", receiver.vih},
                 {"margin high", "V", driver.voh - receiver.vih},
                 {"margin low", "V", receiver.vil - driver.vol}});
    }
};

}  // namespace

void e05(const RuleInput& in, const RuleRow& row, const PlannedPort& seat, std::vector<Finding>& out) {
    if (!seat.port || !seat.at || !seat.standard || !seat.pin || !seat.pin->usable()) return;
    const auto& s = *seat.standard;
    // An output for another supply than its bank has: what it would drive is not known, and E03 says so.
    if (seat.drives() && seat.rail && !same_volts(s.supply, *seat.rail)) return;
    Wire wire{in, row, seat, out};
    const auto* there = in.standards.find(seat.at.terminal->standard);
    if (there && there->differential != s.differential)
        return wire.say(said("{} is {}{}), and {} is {}{}); they do not understand each other.", seat.name,
                             (s.differential ? "half of a pair (" : "a single wire ("), s.name, seat.at.net->terminal,
                             (there->differential ? "half of a pair (" : "a single wire ("), there->name),
                        {});
    if (s.differential) {
        if (!there) return;
        const bool in_to_board = seat.drives() && seat.at.terminal->direction != TerminalDirection::drives;
        const auto& driver = in_to_board ? s : *there;
        const auto& receiver = in_to_board ? *there : s;
        if (driver.vod[0] < receiver.vid_min - 1e-9)
            wire.say(said("The pair swings by {} at least ({}), and the receiver wants {} ({}).", volts(driver.vod[0]),
                          driver.name, volts(receiver.vid_min), receiver.name),
                     {{"swing", "V", driver.vod[0]}, {"needed", "V", receiver.vid_min}});
        return;
    }
    const auto board = board_end(in, seat);
    if (!board) return;
    const double rail = seat.rail.value_or(s.supply);
    const End here{seat.name,
                   s.vih,
                   s.vil,
                   s.voh,
                   s.vol,
                   s.supply,
                   seat.bank && seat.bank->input_max_volts > 0 ? rail + seat.bank->input_max_volts : 0};
    const auto direction = seat.at.terminal->direction;
    const auto before = out.size();
    if (seat.drives() && direction != TerminalDirection::drives && direction != TerminalDirection::passive)
        wire.check(here, *board, s.open_drain ? 0 : rail);
    if (out.size() == before && seat.reads() &&
        (direction == TerminalDirection::drives || direction == TerminalDirection::both) && board->voh > 0)
        wire.check(*board, here, seat.at.terminal->open_drain ? 0 : std::max(board->supply, board->voh));
}

}  // namespace kp::rules
