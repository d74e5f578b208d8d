// SPDX-License-Identifier: GPL-3.0-or-later
// A new field of a part or board is a member in its struct, a line here, and a line in the schema.
#include "core/model/world_fields.hpp"

namespace kp {

namespace {

const Field<Pin> pin_table[] = {
    {"bank", &Pin::bank},
    {"function", &Pin::function},
    {"pair", &Pin::pair},
    {"strobe_group", &Pin::strobe_group},
    {"strobe", &Pin::strobe},
    {"reference", &Pin::reference},
    {"supply_pair", &Pin::supply_pair},
    {"region", &Pin::region},
    {"job", &Pin::job},
    {"reaches", &Pin::reaches},
    {"side", &Pin::side},
    {"slot", &Pin::slot},
    {"row", &Pin::row},
    {"column", &Pin::column},
    {"site", &Pin::site},
};

const Field<Bank> bank_table[] = {
    {"name", &Bank::name, Presence::required},
    {"supply", &Bank::supply, Presence::required},
    {"volts", &Bank::volts, Presence::required, "V"},
    {"standards", &Bank::standards, Presence::required},
    {"type", &Bank::type},
    {"slews", &Bank::slews},
    {"rise_ns", &Bank::rise_ns, Presence::if_set, "ns"},
    {"termination_ohm", &Bank::termination_ohm, Presence::if_set, "Ω"},
    {"pin_ma", &Bank::pin_ma, Presence::if_set, "mA"},
    {"pair_ma", &Bank::pair_ma, Presence::if_set, "mA"},
    {"bank_ma", &Bank::bank_ma, Presence::if_set, "mA"},
    {"input_max_volts", &Bank::input_max_volts, Presence::if_set, "V"},
    {"delay_steps", &Bank::delay_steps},
    {"delay_step_ns", &Bank::delay_step_ns, Presence::if_set, "ns"},
    {"switching_limit", &Bank::switching_limit},
};

const Field<ClockRegion> region_table[] = {
    {"name", &ClockRegion::name, Presence::required},   {"left", &ClockRegion::left, Presence::always},
    {"bottom", &ClockRegion::bottom, Presence::always}, {"right", &ClockRegion::right, Presence::always},
    {"top", &ClockRegion::top, Presence::always},
};

const Field<BoardPart> board_part_table[] = {
    {"ref", &BoardPart::ref, Presence::required},   {"name", &BoardPart::name, Presence::required},
    {"kind", &BoardPart::kind, Presence::required}, {"label", &BoardPart::label},
    {"header_kind", &BoardPart::header_kind},       {"x", &BoardPart::x, Presence::always, "mm"},
    {"y", &BoardPart::y, Presence::always, "mm"},   {"w", &BoardPart::w, Presence::always, "mm"},
    {"h", &BoardPart::h, Presence::always, "mm"},
};

const Field<Terminal> terminal_table[] = {
    {"name", &Terminal::name, Presence::required},
    {"standard", &Terminal::standard},
    {"open_drain", &Terminal::open_drain},
    {"order", &Terminal::order, Presence::always},
    {"must", &Terminal::must, Presence::if_set, "", "drive|low|high"},
    {"vih", &Terminal::vih, Presence::if_set, "V"},
    {"vil", &Terminal::vil, Presence::if_set, "V"},
    {"voh", &Terminal::voh, Presence::if_set, "V"},
    {"vol", &Terminal::vol, Presence::if_set, "V"},
    {"volts_max", &Terminal::volts_max, Presence::if_set, "V"},
    {"current_ma", &Terminal::current_ma, Presence::if_set, "mA"},
    {"forward_volts", &Terminal::forward_volts, Presence::if_set, "V"},
    {"clock", &Terminal::clock},
    {"clock_mhz", &Terminal::clock_mhz, Presence::if_set, "MHz"},
    {"clock_delay_ns", &Terminal::clock_delay_ns, Presence::if_set, "ns"},
    {"setup_ns", &Terminal::setup_ns, Presence::if_set, "ns"},
    {"hold_ns", &Terminal::hold_ns, Presence::if_set, "ns"},
    {"out_min_ns", &Terminal::out_min_ns, Presence::if_set, "ns"},
    {"out_max_ns", &Terminal::out_max_ns, Presence::if_set, "ns"},
};

const Field<BoardNet> board_net_table[] = {
    {"pin", &BoardNet::pin, Presence::required},
    {"terminal", &BoardNet::terminal, Presence::required},
    {"trace_mm", &BoardNet::trace_mm, Presence::if_set, "mm"},
    {"series_ohm", &BoardNet::series_ohm, Presence::if_set, "Ω"},
    {"pull", &BoardNet::pull},
    {"pull_ohm", &BoardNet::pull_ohm, Presence::if_set, "Ω"},
    {"capacitance_pf", &BoardNet::capacitance_pf, Presence::if_set, "pF"},
    {"parallel_ohm", &BoardNet::parallel_ohm, Presence::if_set, "Ω"},
};

const Field<Stack> stack_table[] = {
    {"kind", &Stack::kind, Presence::required},
    {"relative_permittivity", &Stack::relative_permittivity, Presence::required},
    {"height_mm", &Stack::height_mm, Presence::required, "mm"},
    {"width_mm", &Stack::width_mm, Presence::required, "mm"},
    {"thickness_mm", &Stack::thickness_mm, Presence::required, "mm"},
};

const Field<Board> board_table[] = {
    {"name", &Board::name, Presence::required},
    {"revision", &Board::revision},
    {"part", &Board::part, Presence::required},
    {"fpga", &Board::fpga},
    {"width_mm", &Board::width_mm, Presence::required, "mm"},
    {"height_mm", &Board::height_mm, Presence::required, "mm"},
    {"mode", &Board::mode},
    {"notes", &Board::notes},
};

}  // namespace

std::span<const Field<Pin>> pin_fields() {
    return pin_table;
}
std::span<const Field<Bank>> bank_fields() {
    return bank_table;
}
std::span<const Field<ClockRegion>> region_fields() {
    return region_table;
}
std::span<const Field<BoardPart>> board_part_fields() {
    return board_part_table;
}
std::span<const Field<Terminal>> terminal_fields() {
    return terminal_table;
}
std::span<const Field<BoardNet>> board_net_fields() {
    return board_net_table;
}
std::span<const Field<Stack>> stack_fields() {
    return stack_table;
}
std::span<const Field<Board>> board_fields() {
    return board_table;
}

}  // namespace kp
