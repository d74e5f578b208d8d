// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/format/json/json_text.hpp"
#include "core/format/json/world_json.hpp"

#include <cstdio>

namespace kp {

namespace {

/// Adds a key only when there is something to say.
void put(Json& j, const char* key, const std::string& text) {
    if (!text.empty()) j[key] = text;
}
void put(Json& j, const char* key, double value) {
    if (value != 0) j[key] = value;
}
template <class T>
void put_list(Json& j, const char* key, const std::vector<T>& list) {
    if (!list.empty()) j[key] = list;
}
template <class T>
Json two(const T (&range)[2]) {
    return Json::array({range[0], range[1]});
}

Json pin_json(const Part& part, const Pin& p) {
    Json j{{"name", p.name}, {"kind", name_of(p.kind)}};
    put(j, "bank", p.bank);
    put(j, "function", p.function);
    if (!p.pair.empty()) {
        j["pair"] = p.pair;
        j["polarity"] = p.pair_true ? "true" : "complement";
    }
    put(j, "byte_group", p.byte_group);
    if (p.strobe) j["strobe"] = true;
    if (p.reference) j["reference"] = true;
    put(j, "supply_pair", p.supply_pair);
    put(j, "region", p.region);
    put(j, "job", p.job);
    put_list(j, "reaches", p.reaches);
    if (part.package.ball_grid) {
        j["row"] = p.row;
        j["column"] = p.column;
    } else {
        j["side"] = p.side;
        j["slot"] = p.slot;
    }
    return j;
}

Json tile_json(const LaneTile& t) {
    Json j{{"name", t.name},
           {"channels", t.channels},
           {"clocks", Json::array()},
           {"lanes", Json::array()},
           {"engines", Json::array()}};
    for (const auto& c : t.clocks)
        j["clocks"].push_back({{"name", c.name}, {"pins", two(c.pins)}, {"mhz", two(c.mhz)}});
    for (const auto& l : t.lanes)
        j["lanes"].push_back(
            {{"name", l.name}, {"gbps", two(l.gbps)}, {"tx", two(l.tx)}, {"rx", two(l.rx)}, {"clocks", l.clocks}});
    for (const auto& e : t.engines)
        j["engines"].push_back(
            {{"name", e.name}, {"protocols", e.protocols}, {"lanes", e.lanes}, {"widths", e.widths}});
    return j;
}

Json terminal_json(const Terminal& t) {
    Json j{{"name", t.name}, {"direction", name_of(t.direction)}};
    if (t.active_low) j["active"] = "low";
    put(j, "standard", t.standard);
    if (t.open_drain) j["open_drain"] = true;
    j["order"] = t.order;
    put(j, "must", t.must);
    for (const auto& [key, value] :
         {std::pair{"vih", t.vih}, std::pair{"vil", t.vil}, std::pair{"voh", t.voh}, std::pair{"vol", t.vol},
          std::pair{"volts_max", t.volts_max}, std::pair{"current_ma", t.current_ma},
          std::pair{"forward_volts", t.forward_volts}})
        put(j, key, value);
    put(j, "clock", t.clock);
    for (const auto& [key, value] : {std::pair{"setup_ns", t.setup_ns}, std::pair{"hold_ns", t.hold_ns},
                                     std::pair{"out_min_ns", t.out_min_ns}, std::pair{"out_max_ns", t.out_max_ns}})
        if (value) j[key] = *value;
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
    if (p.package.ball_grid)
        j["package"] = {{"kind", "ball_grid"},
                        {"rows", p.package.rows},
                        {"columns", p.package.columns},
                        {"body_mm", p.package.body_mm}};
    else
        j["package"] = {{"kind", "quad_flat"},
                        {"pins", p.package.pins},
                        {"per_side", p.package.per_side},
                        {"body_mm", p.package.body_mm}};
    j["banks"] = Json::array();
    for (const auto& b : p.banks) {
        Json row{{"name", b.name}, {"supply", b.supply}, {"volts", b.volts}, {"standards", b.standards}};
        put(row, "type", b.type);
        put_list(row, "slews", b.slews);
        put_list(row, "rise_ns", b.rise_ns);
        put_list(row, "termination_ohm", b.termination_ohm);
        put(row, "pin_ma", b.pin_ma);
        put(row, "pair_ma", b.pair_ma);
        put(row, "bank_ma", b.bank_ma);
        put(row, "input_max_volts", b.input_max_volts);
        if (b.delay_steps != 0) row["delay_steps"] = b.delay_steps;
        put(row, "delay_step_ns", b.delay_step_ns);
        if (b.switching_limit != 0) row["switching_limit"] = b.switching_limit;
        j["banks"].push_back(row);
    }
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
    for (const auto& g : p.regions)
        j["regions"].push_back(
            {{"name", g.name}, {"left", g.left}, {"bottom", g.bottom}, {"right", g.right}, {"top", g.top}});
    for (const auto& m : p.modes) {
        Json straps = Json::array();
        for (const auto& [pin, level] : m.straps) straps.push_back({{"pin", pin}, {"level", level}});
        j["modes"].push_back(
            {{"name", m.name}, {"straps", straps}, {"drives", m.drives}, {"start_clock", m.start_clock}});
    }
    for (const auto& t : p.tiles) j["tiles"].push_back(tile_json(t));
    if (p.fabric.columns > 0) {
        const auto& f = p.fabric;
        Json special = Json::array(), speeds = Json::array();
        for (const auto& [kind, columns] : f.special) special.push_back({{"kind", kind}, {"columns", columns}});
        for (const auto& [code, factor] : f.speeds) speeds.push_back({{"code", code}, {"factor", factor}});
        j["fabric"] = {{"columns", f.columns},
                       {"rows", f.rows},
                       {"cells_per_site", f.cells_per_site},
                       {"special", special},
                       {"base_ns", f.base_ns},
                       {"per_column_ns", f.per_column_ns},
                       {"per_row_ns", f.per_row_ns},
                       {"clock_ns", f.clock_ns},
                       {"clock_skew_ns", f.clock_skew_ns},
                       {"speeds", speeds}};
    }
    j["pins"] = Json::array();
    for (const auto& pin : p.pins) j["pins"].push_back(pin_json(p, pin));
    return write_json(j);
}

std::string write_board(const Board& b) {
    Json j{{"schema", "kitepeg.board/1"}, {"name", b.name}};
    put(j, "revision", b.revision);
    j["part"] = b.part;
    put(j, "fpga", b.fpga);
    j["width_mm"] = b.width_mm;
    j["height_mm"] = b.height_mm;
    j["parts"] = Json::array();
    for (const auto& p : b.parts) {
        Json row{{"ref", p.ref}, {"name", p.name}, {"kind", p.kind}};
        put(row, "label", p.label);
        put(row, "header_kind", p.header_kind);
        row["x"] = p.x;
        row["y"] = p.y;
        row["w"] = p.w;
        row["h"] = p.h;
        row["terminals"] = Json::array();
        for (const auto& t : p.terminals) row["terminals"].push_back(terminal_json(t));
        j["parts"].push_back(row);
    }
    j["nets"] = Json::array();
    for (const auto& n : b.nets) {
        Json row{{"pin", n.pin}, {"terminal", n.terminal}};
        put(row, "trace_mm", n.trace_mm);
        put(row, "series_ohm", n.series_ohm);
        put(row, "pull", n.pull);
        put(row, "pull_ohm", n.pull_ohm);
        put(row, "capacitance_pf", n.capacitance_pf);
        put(row, "parallel_ohm", n.parallel_ohm);
        j["nets"].push_back(row);
    }
    j["rails"] = Json::array();
    for (const auto& r : b.rails) j["rails"].push_back({{"bank", r.bank}, {"volts", r.volts}});
    for (const auto& o : b.oscillators) {
        Json row{{"terminal", o.terminal}, {"mhz", o.mhz}, {"ppm", o.ppm}};
        if (o.knows_duty()) row["duty_percent"] = two(o.duty_percent);
        j["oscillators"].push_back(std::move(row));
    }
    for (const auto& s : b.straps) j["straps"].push_back({{"pin", s.pin}, {"level", s.level}});
    put(j, "mode", b.mode);
    if (!b.stack.kind.empty())
        j["stack"] = {{"kind", b.stack.kind},
                      {"relative_permittivity", b.stack.relative_permittivity},
                      {"height_mm", b.stack.height_mm},
                      {"width_mm", b.stack.width_mm},
                      {"thickness_mm", b.stack.thickness_mm}};
    put_list(j, "notes", b.notes);
    return write_json(j);
}

}  // namespace kp
