// SPDX-License-Identifier: GPL-3.0-or-later
// Each end is a resistance to its rail; the wire between them may have a resistor of its own.
#include "core/board_sim/currents.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <charconv>

namespace kp::board_sim {

namespace {

int whole(const std::string& text) {
    int v = 0;
    std::from_chars(text.data(), text.data() + text.size(), v);
    return v;
}

constexpr int usual_drive = 8;  ///< mA; common practice where nothing is chosen, no source

}  // namespace

double output_ohm(const IoStandard& s, int drive_ma, bool high) {
    const double volts = high ? s.supply - s.voh : s.vol;
    return drive_ma > 0 && volts > 0 ? volts / (drive_ma * 1e-3) : 50;
}

std::string ConflictCurrent::sentence() const {
    return said("{} and {} drive against each other: {} mA ({} V over {} + {} + {} ohm{}).", port, terminal,
                fixed(ma, 1), fixed(volts, 2), fixed(design_ohm, 0), fixed(series_ohm, 0), fixed(part_ohm, 0),
                (assumed ? ", the board part taken as a pad of 8 mA" : ""));
}

ConflictCurrent current_of(const BoardModel& model, const BoardModel::Conflict& conflict, const Netlist& netlist,
                           const Part& part, const StandardTable& standards,
                           const std::map<std::string, PortAttributes>& attributes) {
    ConflictCurrent c;
    c.terminal = model.name_of(conflict.terminal);
    const auto at = model.board().at_terminal(c.terminal);
    const PortAttributes nothing;
    const PortAttributes* chosen = &nothing;
    if (!conflict.ports.empty()) {
        c.port = netlist.ports[conflict.ports.front()].name;
        const auto known = attributes.find(c.port);
        if (known != attributes.end()) chosen = &known->second;
    } else {
        c.port = "another part";
    }
    const auto* standard = standards.find(chosen->standard.empty() && at ? at.terminal->standard : chosen->standard);
    static const IoStandard unknown = [] {
        IoStandard s;
        s.supply = 3.3;
        s.vol = 0.4;
        s.voh = 2.9;
        return s;
    }();
    if (!standard || standard->differential) standard = &unknown;
    const auto pin = part.pin(model.pin_of(conflict.terminal));
    const auto rail = pin ? model.board().rail(pin->bank) : std::nullopt;
    c.volts = rail.value_or(standard->supply);
    const int drive = whole(chosen->drive);
    c.design_ohm = output_ohm(*standard, drive > 0 ? drive : usual_drive, conflict.design_high);
    const auto* theirs = at ? standards.find(at.terminal->standard) : nullptr;
    if (!theirs || theirs->differential) theirs = standard;
    c.part_ohm = output_ohm(*theirs, usual_drive, !conflict.design_high);
    if (at && at.terminal->current_ma > 0 && at.terminal->vol > 0 && conflict.design_high)
        c.part_ohm = at.terminal->vol / (at.terminal->current_ma * 1e-3);
    else
        c.assumed = true;
    c.series_ohm = at && at.net ? at.net->series_ohm : 0;
    c.ma = c.volts / (c.design_ohm + c.series_ohm + c.part_ohm) * 1e3;
    return c;
}

}  // namespace kp::board_sim
