// SPDX-License-Identifier: GPL-3.0-or-later
// What a message is about, as a value: whoever acts on a message asks for its code, never for its words. Files and
// scripts see the word of it, which stays once it has shipped.
#pragma once

#include <cstddef>
#include <cstdint>

namespace kp {

// clang-format off
enum class Code : std::uint8_t {
    adapter, another_shape, arguments, attribute, bench, bsdl, budget, busy, cancelled, cannot_build, capacity,
    changed, chip, clock_on_output, clock_twice, command, compare, corner, delays, draft, evicted, exists,
    export_file, fault, file, filter, folder, form, frequency, from, function, handoff, image, include,
    interpreter, journal, journal_offered, lanes, language, latch, library, limit, lines, list, log, looking,
    loop, loose, memory, model, board_module, netlist, never_driven, new_project, no_board, no_common_period,
    no_delay, no_design, no_match, no_netlist, no_part, no_pin, not_plannable, not_portable, not_used, number,
    old, older_spelling, origin, out, out_of_range, outside, package, parameter, part, passed_over, pdf, peg,
    pin_report, pins, place, placed, port, ports, project, proof, range, recipe, recovered, recursion, run,
    schema, sdf, searched, sense, settings, several_clocks, sheet, simulation, simulation_only, size, skipped,
    source, stale_edit, starter, step, svf, syntax, table, taken_over, tcl, tdo, template_file, too_large, top,
    two_drivers, undeclared, unknown_cell, unused_exception, value, vcd, vectors, what_if, width,
};
// clang-format on

extern const std::size_t code_count;
/// The word of a code, as JSON has it: "unknown-cell".
[[nodiscard]] const char* word_of(Code code);

}  // namespace kp
