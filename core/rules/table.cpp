// SPDX-License-Identifier: GPL-3.0-or-later
// The table that runs, documents, exports and tests the rules.
#include "core/rules/all.hpp"

namespace kp {

namespace {

constexpr const char* choose_place = "Choose a place";
constexpr const char* choose_standard = "Choose a standard";
constexpr const char* bear = "Reduce load current";
constexpr const char* edges = "Keep edges clean";
constexpr const char* say_it = "Fix the constraints";
constexpr const char* mend = "Fix the design";
constexpr const char* close_timing = "Close timing";
constexpr const char* load = "Agree on part and load";
constexpr const char* practice = "common practice, no source";
constexpr const char* pin_list = "the part's pin list";
constexpr const char* bank_data = "the part's bank data";
constexpr const char* jedec_supply = "supply voltages of the JEDEC standards named per row of the table";

using namespace rules;
constexpr auto stop = Severity::stop, caution = Severity::caution, note = Severity::note;

RuleRow port(const char* code, Severity s, const char* statement, const char* source, const char* remedy, Reads reads,
             decltype(RuleRow::of_port) f) {
    return {code, s, statement, source, remedy, reads, f};
}
RuleRow pin(const char* code, Severity s, const char* statement, const char* source, const char* remedy,
            decltype(RuleRow::of_pin) f) {
    return {code, s, statement, source, remedy, Reads::own, nullptr, f};
}
RuleRow bank(const char* code, Severity s, const char* statement, const char* source, const char* remedy,
             decltype(RuleRow::of_bank) f) {
    return {code, s, statement, source, remedy, Reads::bank, nullptr, nullptr, f};
}
RuleRow plan(const char* code, Severity s, const char* statement, const char* source, const char* remedy, Reads reads,
             decltype(RuleRow::of_plan) f) {
    return {code, s, statement, source, remedy, reads, nullptr, nullptr, nullptr, f};
}
RuleRow with_plan(RuleRow row, decltype(RuleRow::of_plan) f) {
    row.of_plan = f;
    return row;
}
RuleRow with_port(RuleRow row, decltype(RuleRow::of_port) f) {
    row.of_port = f;
    return row;
}

std::vector<RuleRow> rows() {
    return {
        plan(
            "D01", stop,
            "The part of the project is the part on the board; the board wires and feeds what the part has, and it has "
            "pins enough for the design.",
            practice, load, Reads::own, d01),
        plan("D02", caution,
             "Names go through every language behind: letters, digits and underscores, no words of Verilog, VHDL or "
             "Tcl, none that differ in case only; file names without blanks.",
             "IEEE 1364-2005 annex B, IEEE 1076-2008 15.10, Tcl 8.6 (from memory)", mend, Reads::own, d02),
        with_port(plan("D03", stop, "A constraint or a peg names something that exists in the design.",
                       "SDC 2.x: an object query names design objects", say_it, Reads::own, d03),
                  d03_peg),
        plan("D04", stop, "A clock on a port has the period and duty cycle of the oscillator wired to its pin.",
             "the board's oscillator data", say_it, Reads::pegs, d04),
        with_port(plan("D05", stop, "A port that clocks registers or a PLL has a clock; a clock nobody uses is a note.",
                       practice, say_it, Reads::own, d05_unused),
                  d05),
        plan("D06", caution, "Every input and output has both its delays.",
             "SDC 2.x: set_input_delay, set_output_delay", say_it, Reads::own, d06),
        plan("D07", stop,
             "The frequencies, multiplier and dividers of a PLL are in its ranges, and the generated clocks are what "
             "it makes.",
             "the part's PLL data; f_out = f_in / divide * multiply / output divide", say_it, Reads::pegs, d07),
        plan("D08", stop,
             "Data that change clocks pass two registers of the receiver or have an exception; a bus does not cross "
             "bit by bit.",
             practice, mend, Reads::own, d08),
        port("D09", caution,
             "A reset is released in step with its clock, and port and board part agree which level resets.", practice,
             mend, Reads::own, d09),
        port("D10", caution, "What a key or rocker gives passes registers in a row before logic uses it.", practice,
             mend, Reads::own, d10),
        port("D11", note, "A lamp blinks slowly enough to be seen, at 1 kHz at most.", practice, mend, Reads::own, d11),
        port("D12", caution,
             "A port and the key, rocker, lamp, display or sounder on its wire are active at the same level, or the "
             "adapter inverts between them.",
             practice, mend, Reads::bus, d12),
        plan("D13", caution,
             "An input or output delay says what board, data sheets and traces add up to, or asks for more.",
             "the board's data sheet numbers; sums as in docs/timing.md", say_it, Reads::pegs, d13),
        plan("D14", note, "Names say what they are: no port is a single letter, none change places between modules.",
             practice, mend, Reads::own, d14),
        port("E01", stop, "Every pegged port has an I/O standard that somebody chose or the board gives.", practice,
             choose_standard, Reads::own, e01),
        port("E02", stop,
             "The bank can carry the I/O standard of the port in its direction, and the board has the resistors the "
             "standard asks for.",
             bank_data, choose_standard, Reads::own, e02),
        port("E03", stop,
             "All outputs of a bank need one supply, the board's rail where it is known; inputs may differ where their "
             "standard allows.",
             jedec_supply, choose_standard, Reads::bank, e03),
        port("E04", stop, "Inputs that compare with a reference share one reference voltage in a bank.",
             "reference voltages of the JEDEC standards named per row of the table", choose_standard, Reads::bank, e04),
        port("E05", stop,
             "Levels meet across the wire: what drives gives at least what the other end wants, and never more than "
             "its absolute maximum.",
             "levels of the standards named per row of the table; JEDEC JESD8: VIH max = VDD + 0.3 V (from memory)",
             choose_standard, Reads::own, e05),
        port("E06", stop,
             "Drive, slew, pull, termination, pad register and delay are ones that standard, bank and direction have; "
             "pad and board do not pull against each other.",
             "the part's bank data and the table of standards", choose_standard, Reads::own, e06),
        port("E07", caution, "The current that a lamp or a coil takes is within the drive of the output.",
             "Ohm's law: I = (VIO - Vf - VOL) / R", bear, Reads::own, e07),
        with_port(bank("E08", stop,
                       "The currents of a pin, of a supply pin and of a bank stay within their limits; above four "
                       "fifths is a caution.",
                       bank_data, bear, e08),
                  e08_pin),
        bank("E09", caution,
             "Outputs that switch at once stay within the limit of their supply pin: the sum of their fractions is at "
             "most 1.",
             "the part's bank data; fractions by drive and slew: common practice, no source", bear, e09),
        port("E10", stop,
             "A wire that everybody only pulls low has a pull-up between (VDD - VOL) / IOL and tr / (0.8473 C).",
             "I2C-bus specification UM10204, section 7.1", edges, Reads::own, e10),
        with_plan(port("E11", caution,
                       "A line is terminated: a pair by 100 Ω, a single wire by a resistor when its edge is shorter "
                       "than twice the trace; what the board does not say is named.",
                       "TIA/EIA-644-A for pairs; trace delay: Hammerstad and Jensen 1980; twice the trace: common "
                       "practice, no source",
                       edges, Reads::pair, e11),
                  e11_unknown),
        port("E12", note, "Where a line with a reference is not terminated, the pad could do it.", bank_data, edges,
             Reads::own, e12),
        port("L01", stop, "The pin exists on this package and is for users.", pin_list, choose_place, Reads::own, l01),
        pin("L02", stop, "A pin holds one port.", practice, choose_place, l02),
        port("L03", stop,
             "The halves of a differential port sit on the two pins of a pair, the positive one on the true pin, and "
             "nobody else is on them.",
             pin_list, choose_place, Reads::pair, l03),
        port("L04", stop,
             "A clock comes in at a clock pin, the true one of its pair, that reaches the clock network or the PLL it "
             "feeds; by general routing only is a caution.",
             pin_list, choose_place, Reads::own, l04),
        port("L05", stop,
             "A pin that the part drives while it is configured carries no port; one that the board drives then is a "
             "caution.",
             "the part's configuration modes", choose_place, Reads::own, l05),
        port("L06", stop, "The reference pin of a bank is free while an input of the bank needs the reference.",
             "the part's pin list; reference voltages of the JEDEC standards", choose_place, Reads::bank, l06),
        port("L07", stop,
             "Data bits, mask and strobe of a byte lie in one strobe group, the strobe on its strobe pins.",
             "JEDEC JESD79: DQ, DM and DQS; the part's pin list", choose_place, Reads::lane, l07),
        port("L08", stop, "The port's direction fits what the board has on the pin.", practice, choose_place,
             Reads::own, l08),
        port("L09", caution, "The bits of a bus lie on the numbered terminals of a board part in their order.",
             practice, choose_place, Reads::bus, l09),
        plan("L10", caution, "A terminal of the board that has to be driven or held is.", "the board's terminals",
             choose_place, Reads::pegs, l10),
        port("L11", stop, "Every port has a pin before the handoff.", practice, choose_place, Reads::own, l11),
        plan("L12", caution, "What unused pins do does not conflict with the board.", practice, choose_place,
             Reads::pegs, l12),
        port("L13", stop,
             "A port that is meant for a terminal of the board, as somebody said or by its name, sits there and not "
             "on another board part.",
             practice, choose_place, Reads::own, l13),
        plan("L14", caution,
             "Ports that are timed against a clock that comes or goes with them lie in its clock region.", pin_list,
             choose_place, Reads::pegs, l14),
        port("L15", stop,
             "A clock sits where something drives one: at the oscillator of its rate, where the board has it.",
             "the board's oscillator data", choose_place, Reads::own, l15),
        plan(
            "L16", stop,
            "A lane holds one link: the one that the board wires to it, at a rate and with a reference clock that lane "
            "and board have.",
            "the part's lane blocks; the board's nets and oscillators", choose_place, Reads::own, l16),
        plan("P01", stop, "The IDCODE that the chip gives is that of the part.", "IEEE 1149.1, clause 12", load,
             Reads::own, p01),
        plan("P02", stop,
             "The board straps the configuration mode that was chosen, and the start-up clock is one that runs in it.",
             "the part's configuration modes", load, Reads::own, p02),
        plan("P03", caution, "A board that is made to start alone gets a stored design.", practice, load, Reads::own,
             p03),
        plan("T01", stop, "Every setup, hold, recovery, removal, pulse-width and period check is met.",
             "SDC 2.x and the timing page of this project; slack = required - arrival", close_timing, Reads::own, t01),
        plan("T02", caution, "Everything is timed or taken out on purpose; ports without a delay are D06.", practice,
             close_timing, Reads::own, t02),
        plan("T03", note, "Every exception matches a path.", practice, close_timing, Reads::own, t03),
    };
}

}  // namespace

std::span<const RuleRow> rule_table() {
    static const std::vector<RuleRow> table = rows();
    return table;
}

}  // namespace kp
