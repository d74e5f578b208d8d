// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/format/sdc/table.hpp"

namespace kp::sdc {

namespace {

using enum Takes;

const std::vector<OptionRow> min_max_edge{{"-min", flag}, {"-max", flag}, {"-rise", flag}, {"-fall", flag}};

std::vector<OptionRow> with(std::vector<OptionRow> rows, const std::vector<OptionRow>& more) {
    rows.insert(rows.end(), more.begin(), more.end());
    return rows;
}

const std::vector<OptionRow>& path_options() {
    static const std::vector<OptionRow> rows{{"-from", words}, {"-rise_from", words}, {"-fall_from", words}, {"-to", words}, {"-rise_to", words}, {"-fall_to", words},
                                             {"-through", list}, {"-rise_through", list}, {"-fall_through", list}, {"-rise", flag}, {"-fall", flag}, {"-comment", words}};
    return rows;
}

const std::vector<CommandRow>& rows() {
    static const std::vector<CommandRow> table{
        {"create_clock", {{"-period", number}, {"-name", words}, {"-waveform", words}, {"-add", flag}, {"-comment", words}}, 0, 1, true, "A clock: its period in ns, its rise and fall times, and its source port or pin."},
        {"create_generated_clock", {{"-name", words}, {"-source", words}, {"-edges", words}, {"-edge_shift", words}, {"-divide_by", number}, {"-multiply_by", number}, {"-duty_cycle", number}, {"-invert", flag}, {"-combinational", flag}, {"-add", flag}, {"-master_clock", words}, {"-comment", words}}, 1, 1, true, "A clock made inside the part from another one."},
        {"set_clock_latency", with({{"-source", flag}, {"-early", flag}, {"-late", flag}, {"-clock", words}}, min_max_edge), 2, 2, true, "How long a clock takes from its origin to the registers."},
        {"set_clock_uncertainty", {{"-setup", flag}, {"-hold", flag}, {"-from", words}, {"-rise_from", words}, {"-fall_from", words}, {"-to", words}, {"-rise_to", words}, {"-fall_to", words}, {"-rise", flag}, {"-fall", flag}}, 1, 2, true, "By how much a clock edge may come early or late."},
        {"set_clock_transition", min_max_edge, 2, 2, true, "The transition time of an ideal clock at the registers."},
        {"set_propagated_clock", {}, 1, 1, true, "The clock's delay is taken from its network."},
        {"set_clock_groups", {{"-group", list}, {"-asynchronous", flag}, {"-physically_exclusive", flag}, {"-logically_exclusive", flag}, {"-exclusive", flag}, {"-name", words}, {"-allow_paths", flag}, {"-comment", words}}, 0, 0, true, "Clocks between which no path counts."},
        {"set_clock_sense", {{"-positive", flag}, {"-negative", flag}, {"-stop_propagation", flag}, {"-pulse", words}, {"-clocks", words}, {"-clock", words}}, 1, 1, true, "Which sense of a clock passes a pin."},
        {"set_sense", {{"-type", words}, {"-positive", flag}, {"-negative", flag}, {"-stop_propagation", flag}, {"-clock", words}, {"-clocks", words}, {"-non_unate", flag}}, 1, 1, true, "Which sense of a signal passes a pin."},
        {"set_input_delay", with({{"-clock", words}, {"-clock_fall", flag}, {"-add_delay", flag}, {"-source_latency_included", flag}, {"-network_latency_included", flag}, {"-level_sensitive", flag}, {"-reference_pin", words}}, min_max_edge), 2, 2, true, "When an input arrives after its clock edge."},
        {"set_output_delay", with({{"-clock", words}, {"-clock_fall", flag}, {"-add_delay", flag}, {"-source_latency_included", flag}, {"-network_latency_included", flag}, {"-level_sensitive", flag}, {"-reference_pin", words}}, min_max_edge), 2, 2, true, "How long before its clock edge an output is needed."},
        {"set_false_path", with({{"-setup", flag}, {"-hold", flag}}, path_options()), 0, 0, true, "Paths that are not timed."},
        {"set_multicycle_path", with({{"-setup", flag}, {"-hold", flag}, {"-start", flag}, {"-end", flag}}, path_options()), 1, 1, true, "Paths that have several cycles."},
        {"set_max_delay", with({{"-ignore_clock_latency", flag}}, path_options()), 1, 1, true, "The longest delay a path may have."},
        {"set_min_delay", with({{"-ignore_clock_latency", flag}}, path_options()), 1, 1, true, "The shortest delay a path may have."},
        {"set_case_analysis", {}, 2, 2, true, "A pin or port that stays at one level."},
        {"set_disable_timing", {{"-from", words}, {"-to", words}}, 1, 1, true, "Arcs that are not timed."},
        {"set_load", with({{"-pin_load", flag}, {"-wire_load", flag}, {"-subtract_pin_load", flag}}, min_max_edge), 2, 2, true, "Load on a port or net, in pF."},
        {"set_drive", min_max_edge, 2, 2, false, "Drive resistance of an input."},
        {"set_driving_cell", with({{"-lib_cell", words}, {"-library", words}, {"-pin", words}, {"-from_pin", words}, {"-input_transition_rise", number}, {"-input_transition_fall", number}, {"-no_design_rule", flag}}, min_max_edge), 1, 1, true, "The cell that drives an input."},
        {"set_input_transition", with({{"-clock", words}, {"-clock_fall", flag}}, min_max_edge), 2, 2, true, "The transition time at an input, in ns."},
        {"set_max_transition", {{"-clock_path", flag}, {"-data_path", flag}, {"-rise", flag}, {"-fall", flag}}, 2, 2, false, "The longest transition allowed."},
        {"set_max_capacitance", {}, 2, 2, false, "The largest load allowed."},
        {"set_max_fanout", {}, 2, 2, false, "The largest fan-out allowed."},
        {"set_min_pulse_width", {{"-high", flag}, {"-low", flag}}, 1, 2, true, "The shortest clock pulse allowed."},
        {"set_timing_derate", {{"-early", flag}, {"-late", flag}, {"-cell_delay", flag}, {"-net_delay", flag}, {"-cell_check", flag}, {"-clock", flag}, {"-data", flag}, {"-rise", flag}, {"-fall", flag}}, 1, 2, true, "A factor on delays."},
        {"set_data_check", {{"-from", words}, {"-rise_from", words}, {"-fall_from", words}, {"-to", words}, {"-rise_to", words}, {"-fall_to", words}, {"-setup", flag}, {"-hold", flag}, {"-clock", words}}, 1, 1, true, "A check between two data pins."},
        {"group_path", with({{"-name", words}, {"-default", flag}, {"-weight", number}}, path_options()), 0, 0, true, "A name for a group of paths; changes no figure."},
        {"set_units", {{"-time", words}, {"-capacitance", words}, {"-resistance", words}, {"-voltage", words}, {"-current", words}, {"-power", words}}, 0, 0, true, "Units of the numbers that follow."},
        {"current_design", {}, 0, 1, true, "Names the top; changes no figure."},
        {"set_logic_zero", {}, 1, 1, true, "A port or pin that stays at 0."},
        {"set_logic_one", {}, 1, 1, true, "A port or pin that stays at 1."},
        {"set_clock_gating_check", {{"-setup", number}, {"-hold", number}, {"-rise", flag}, {"-fall", flag},
                                    {"-high", flag}, {"-low", flag}}, 0, 1, false, "Setup and hold of a gate on a clock."},
        {"set_max_time_borrow", {}, 2, 2, false, "How long a latch may wait for its data."},
        {"set_ideal_network", {{"-no_propagate", flag}}, 1, 1, false, "A network without delay."},
        {"set_ideal_latency", min_max_edge, 2, 2, false, "The delay of an ideal network."},
        {"set_ideal_transition", min_max_edge, 2, 2, false, "The transition of an ideal network."},
        {"set_resistance", {{"-min", flag}, {"-max", flag}}, 2, 2, false, "Resistance of a net."},
        {"set_fanout_load", {}, 2, 2, false, "Fan-out load of an output."},
        {"set_port_fanout_number", {}, 2, 2, false, "How many loads a port drives."},
        {"set_min_capacitance", {}, 2, 2, false, "The smallest load allowed."},
        {"set_operating_conditions", {{"-library", words}, {"-analysis_type", words}, {"-min", words}, {"-max", words},
                                      {"-min_library", words}, {"-max_library", words}, {"-object_list", words}},
         0, 1, false, "Names a process corner; here corners are chosen in the project."},
        {"set_wire_load_model", {{"-name", words}, {"-library", words}, {"-min", flag}, {"-max", flag}}, 0, 1, false,
         "An estimate of wires; here delays of wires come from SDF."},
        {"set_wire_load_mode", {}, 1, 1, false, "How wire estimates follow the hierarchy."},
        {"set_wire_load_min_block_size", {}, 1, 1, false, "The smallest block that has its own wire estimate."},
        {"set_wire_load_selection_group", {{"-library", words}, {"-min", flag}, {"-max", flag}}, 1, 2, false,
         "A group of wire estimates."},
        {"set_max_area", {{"-ignore_tns", flag}}, 1, 1, true, "A goal of synthesis; changes no figure."},
        {"set_max_dynamic_power", {}, 1, 2, true, "A goal of synthesis; changes no figure."},
        {"set_max_leakage_power", {}, 1, 2, true, "A goal of synthesis; changes no figure."},
        {"set_logic_dc", {}, 1, 1, true, "A pin whose level does not matter; changes no figure."},
        {"set_hierarchy_separator", {}, 1, 1, true, "The character between levels; '/' is used."},
    };
    return table;
}

}  // namespace

std::span<const CommandRow> commands() { return rows(); }

const CommandRow* find_command(std::string_view name) {
    for (const auto& row : rows())
        if (name == row.name) return &row;
    return nullptr;
}

const std::vector<std::string>& command_names() {
    static const std::vector<std::string> names = [] {
        std::vector<std::string> list;
        for (const auto& row : rows()) list.emplace_back(row.name);
        for (const char* query : {"get_ports", "get_pins", "get_cells", "get_nets", "get_clocks", "get_lib_cells", "get_lib_pins", "all_inputs", "all_outputs", "all_clocks", "all_registers"}) list.emplace_back(query);
        return list;
    }();
    return names;
}

}  // namespace kp::sdc
