// SPDX-License-Identifier: GPL-3.0-or-later
// The other way of world_json.cpp, by the same tables of fields; lists in lists and pairs of numbers are written here.
#include "core/format/json/json_text.hpp"
#include "core/format/json/fields_json.hpp"
#include "core/format/json/world_json.hpp"
#include "core/model/world_fields.hpp"

#include <cstdio>

namespace kp {

namespace {

template <class T>
Json two(const T (&range)[2]) {
    return Json::array({range[0], range[1]});
}

Json pin_json(const Part& part, const Pin& p) {
    Json j{{"name", p.name}, {"kind", name_of(p.kind)}};
    json::write_fields(j, p, pin_fields());
    if (!p.pair.empty()) j["polarity"] = p.pair_true ? "true" : "complement";
    // Where it lies is written even where that is 0.
    const auto place = part.package.ball_grid ? std::pair{"row", "column"} : std::pair{"side", "slot"};
    j[place.first] = part.package.ball_grid ? p.row : p.side;
    j[place.second] = part.package.ball_grid ? p.column : p.slot;
    return j;
}

Json block_json(const LaneBlock& t) {
    Json j{{"name", t.name},
           {"crossings", t.crossings},
           {"clocks", Json::array()},
           {"lanes", Json::array()},
           {"engines", Json::array()}};
    for (const auto& c : t.clocks)
        j["clocks"].push_back({{"name", c.name}, {"pins", two(c.pins)}, {"mhz", two(c.mhz)}});
    for (const auto& l : t.lanes)
        j["lanes"].push_back(
            {{"name", l.name}, {"gbps", two(l.gbps)}, {"tx", two(l.tx)}, {"rx", two(l.rx)}, {"clocks", l.clocks}});
    for (const auto& e : t.engines) {
        Json row{{"name", e.name}, {"protocols", e.protocols}, {"lanes", e.lanes}, {"widths", e.widths}};
        if (e.align != 1) row["align"] = e.align;
        if (!e.splits.empty()) row["splits"] = e.splits;
        if (e.capacity) row["capacity"] = *e.capacity;
        if (!e.crossings_per_lane.empty()) row["crossings_per_lane"] = e.crossings_per_lane;
        if (e.crossings) row["crossings"] = *e.crossings;
        j["engines"].push_back(std::move(row));
    }
    return j;
}

Json terminal_json(const Terminal& t) {
    Json j{{"name", t.name}, {"direction", name_of(t.direction)}};
    if (t.active_low) j["active"] = "low";
    json::write_fields(j, t, terminal_fields());
    return j;
}

template <class T, class F>
Json rows_of(const std::vector<T>& list, std::span<const F> table) {
    Json out = Json::array();
    for (const auto& value : list) {
        Json row = Json::object();
        json::write_fields(row, value, table);
        out.push_back(std::move(row));
    }
    return out;
}

Json package_json(const Package& p) {
    if (p.ball_grid) return {{"kind", "ball_grid"}, {"rows", p.rows}, {"columns", p.columns}, {"body_mm", p.body_mm}};
    return {{"kind", "quad_flat"}, {"pins", p.pins}, {"per_side", p.per_side}, {"body_mm", p.body_mm}};
}

Json fabric_json(const Fabric& f) {
    Json special = Json::array(), speeds = Json::array();
    for (const auto& s : f.special) {
        special.push_back({{"kind", s.kind}, {"columns", s.columns}});
        if (!s.without.empty()) special.back()["without"] = s.without;
    }
    for (const auto& [code, factor] : f.speeds) speeds.push_back({{"code", code}, {"factor", factor}});
    Json j{{"columns", f.columns},
           {"rows", f.rows},
           {"cells_per_site", f.cells_per_site},
           {"special", special},
           {"base_ns", f.base_ns},
           {"per_column_ns", f.per_column_ns},
           {"per_row_ns", f.per_row_ns},
           {"clock_ns", f.clock_ns},
           {"clock_skew_ns", f.clock_skew_ns},
           {"speeds", speeds}};
    if (f.fast_factor != 1 || f.typical_factor != 1)
        j["corner_factors"] = {{"fast", f.fast_factor}, {"typical", f.typical_factor}};
    return j;
}

}  // namespace

std::string write_part(const Part& p) {
    Json j{{"schema", "kitepeg.part/1"}, {"name", p.name}, {"codes", p.codes}, {"ordering", Json::array()}};
    for (const auto& e : p.ordering) {
        if (!e.literal.empty()) {
            j["ordering"].push_back({{"literal", e.literal}});
            continue;
        }
        Json values = Json::array();
        for (const auto& v : e.values) values.push_back({{"code", v.code}, {"means", v.means}});
        j["ordering"].push_back({{"name", e.name}, {"values", values}});
    }
    char id[16];
    std::snprintf(id, sizeof id, "0x%08X", p.idcode);
    j["idcode"] = id;
    const auto& r = p.resources;
    j["resources"] = {{"logic_cells", r.logic_cells},       {"registers", r.registers}, {"memory_bits", r.memory_bits},
                      {"clock_networks", r.clock_networks}, {"plls", r.plls},           {"lanes", r.lanes}};
    j["package"] = package_json(p.package);
    j["banks"] = rows_of(p.banks, bank_fields());
    for (const auto& l : p.plls)
        j["plls"].push_back({{"name", l.name},
                             {"input_mhz", two(l.input_mhz)},
                             {"detector_mhz", two(l.detector_mhz)},
                             {"vco_mhz", two(l.vco_mhz)},
                             {"output_mhz", two(l.output_mhz)},
                             {"divide", two(l.divide)},
                             {"multiply", two(l.multiply)},
                             {"output_divide", two(l.output_divide)},
                             {"outputs", l.outputs}});
    if (!p.regions.empty()) j["regions"] = rows_of(p.regions, region_fields());
    for (const auto& m : p.modes) {
        Json straps = Json::array();
        for (const auto& [pin, level] : m.straps) straps.push_back({{"pin", pin}, {"level", level}});
        j["modes"].push_back(
            {{"name", m.name}, {"straps", straps}, {"drives", m.drives}, {"start_clock", m.start_clock}});
    }
    for (const auto& b : p.lane_blocks) j["lane_blocks"].push_back(block_json(b));
    if (p.fabric.columns > 0) j["fabric"] = fabric_json(p.fabric);
    j["pins"] = Json::array();
    for (const auto& pin : p.pins) j["pins"].push_back(pin_json(p, pin));
    return write_json(j);
}

std::string write_board(const Board& b) {
    Json j{{"schema", "kitepeg.board/1"}};
    json::write_fields(j, b, board_fields());
    j["parts"] = rows_of(b.parts, board_part_fields());
    for (size_t i = 0; i < b.parts.size(); ++i) {
        auto& list = j["parts"][i]["terminals"] = Json::array();
        for (const auto& t : b.parts[i].terminals) list.push_back(terminal_json(t));
    }
    j["nets"] = rows_of(b.nets, board_net_fields());
    j["rails"] = Json::array();
    for (const auto& r : b.rails) j["rails"].push_back({{"bank", r.bank}, {"volts", r.volts}});
    for (const auto& o : b.oscillators) {
        Json row{{"terminal", o.terminal}, {"mhz", o.mhz}, {"ppm", o.ppm}};
        if (o.knows_duty()) row["duty_percent"] = two(o.duty_percent);
        j["oscillators"].push_back(std::move(row));
    }
    for (const auto& s : b.straps) j["straps"].push_back({{"pin", s.pin}, {"level", s.level}});
    if (!b.stack.kind.empty()) json::write_fields(j["stack"], b.stack, stack_fields());
    return write_json(j);
}

}  // namespace kp
