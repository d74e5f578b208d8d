// SPDX-License-Identifier: GPL-3.0-or-later
// Flat fields by the tables of core/model/world_fields.cpp; what is a list in a list has a function. After reading,
// what one part of a file says of another is checked, so that no later code meets a name that is not there.
#include "core/format/json/world_json.hpp"

#include "core/format/json/json_text.hpp"
#include "core/base/text.hpp"
#include "core/format/json/fields_json.hpp"
#include "core/model/world_fields.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cmath>
#include <set>

namespace kp {

namespace {

void range(JsonText& j, const std::string& pointer, const char* key, double (&out)[2]) {
    if (j.count(pointer, key) != 2) return;
    const auto& list = j.root().at(Json::json_pointer(pointer + "/" + key));
    if (!list[0].is_number() || !list[1].is_number() || list[0].get<double>() > list[1].get<double>())
        return j.wrong(pointer + "/" + key, said("\"{}\" should be a low and a high number.", key));
    out[0] = list[0].get<double>();
    out[1] = list[1].get<double>();
}

void range(JsonText& j, const std::string& pointer, const char* key, int (&out)[2]) {
    double both[2] = {static_cast<double>(out[0]), static_cast<double>(out[1])};
    if (j.count(pointer, key, false) > 0) range(j, pointer, key, both);
    out[0] = static_cast<int>(both[0]);
    out[1] = static_cast<int>(both[1]);
}

int whole(JsonText& j, const std::string& pointer, const char* key, int otherwise = 0) {
    return j.whole(pointer, key, false, otherwise);
}

void two_pins(JsonText& j, const std::string& pointer, const char* key, const Part& part, std::string (&out)[2]) {
    const auto pins = j.texts(pointer, key);
    if (pins.size() != 2) return j.wrong(pointer, said("\"{}\" names two pins, true and complement.", key));
    for (size_t i = 0; i < 2; ++i) {
        out[i] = pins[i];
        if (!part.pin(pins[i]))
            j.wrong(pointer, said("\"{}\" names pin {}, which the part does not have.", key, pins[i]));
    }
}

std::vector<int> whole_numbers(JsonText& j, const std::string& at, const char* key, bool required) {
    std::vector<int> out;
    for (const double n : j.numbers(at, key, required)) out.push_back(static_cast<int>(n));
    return out;
}

/// How an engine may be split over links, and what it reaches in the fabric.
void read_splitting(JsonText& j, const std::string& at, const LaneBlock& block, LaneBlock::Engine& engine) {
    engine.align = j.whole(at, "align", false, 1);
    if (engine.align < 1) j.wrong(at, "\"align\" is at least 1.");
    for (size_t i = 0, n = j.count(at, "splits", false); i < n; ++i) {
        // Lists in a list have no keys: they are read as they stand.
        const auto& list = j.root().at(Json::json_pointer(at + "/splits/" + std::to_string(i)));
        auto& widths = engine.splits.emplace_back();
        if (!list.is_array()) j.wrong(at, "\"splits\" is a list of lists of widths.");
        for (const auto& width : list)
            if (width.is_number_integer() && width > 0 && width <= 1000)
                widths.push_back(width.get<int>());
            else
                j.wrong(at, "\"splits\" is a list of lists of widths.");
    }
    if (j.has(at, "capacity")) engine.capacity = j.whole(at, "capacity");
    if (j.has(at, "crossings_per_lane")) {
        const auto& by_protocol = j.root().at(Json::json_pointer(at + "/crossings_per_lane"));
        if (!by_protocol.is_object()) j.wrong(at, "\"crossings_per_lane\" gives a number for each protocol.");
        for (const auto& [protocol, number] : by_protocol.items())
            if (number.is_number_integer() && number >= 0 && number <= 1000)
                engine.crossings_per_lane[protocol] = number.get<int>();
            else
                j.wrong(at, "\"crossings_per_lane\" gives a number for each protocol.");
    }
    if (!j.has(at, "crossings")) return;
    engine.crossings = whole_numbers(j, at, "crossings", true);
    for (const int c : *engine.crossings)
        if (c < 0 || c >= block.crossings)
            j.wrong(at, said("Engine {} reaches crossing {} of {}, counted from 0.", engine.name, c, block.crossings));
}

void read_block(JsonText& j, Part& part, const std::string& at) {
    LaneBlock block;
    block.name = j.text(at, "name");
    block.crossings = whole(j, at, "crossings");
    std::set<std::string> lanes, clocks;
    for (size_t i = 0, n = j.count(at, "clocks"); i < n; ++i) {
        const auto c = slot(at + "/clocks", i);
        LaneBlock::ReferenceClock clock;
        clock.name = j.text(c, "name");
        two_pins(j, c, "pins", part, clock.pins);
        range(j, c, "mhz", clock.mhz);
        clocks.insert(clock.name);
        block.clocks.push_back(std::move(clock));
    }
    for (size_t i = 0, n = j.count(at, "lanes"); i < n; ++i) {
        const auto l = slot(at + "/lanes", i);
        LaneBlock::Lane lane;
        lane.name = j.text(l, "name");
        range(j, l, "gbps", lane.gbps);
        two_pins(j, l, "tx", part, lane.tx);
        two_pins(j, l, "rx", part, lane.rx);
        lane.clocks = j.texts(l, "clocks");
        for (const auto& name : lane.clocks)
            if (!clocks.contains(name))
                j.wrong(l, said("Lane {} names reference clock {}, which the block does not have.", lane.name, name));
        lanes.insert(lane.name);
        block.lanes.push_back(std::move(lane));
    }
    for (size_t i = 0, n = j.count(at, "engines"); i < n; ++i) {
        const auto e = slot(at + "/engines", i);
        LaneBlock::Engine engine;
        engine.name = j.text(e, "name");
        engine.protocols = j.texts(e, "protocols");
        engine.lanes = j.texts(e, "lanes");
        engine.widths = whole_numbers(j, e, "widths", true);
        read_splitting(j, e, block, engine);
        for (const auto& name : engine.lanes)
            if (!lanes.contains(name))
                j.wrong(e, said("Engine {} names lane {}, which the block does not have.", engine.name, name));
        block.engines.push_back(std::move(engine));
    }
    part.lane_blocks.push_back(std::move(block));
}

Fabric::Special read_special(JsonText& j, const std::string& at, const Fabric& f) {
    Fabric::Special out{j.text(at, "kind"), whole_numbers(j, at, "columns", false), {}};
    for (size_t i = 0, n = j.count(at, "without", false); i < n; ++i) {
        // Lists in a list have no keys: they are read as they stand.
        const auto& site = j.root().at(Json::json_pointer(slot(at + "/without", i)));
        const bool two =
            site.is_array() && site.size() == 2 && site[0].is_number_integer() && site[1].is_number_integer();
        if (!two || site[1] < 0 || site[1] >= f.rows ||
            std::find(out.columns.begin(), out.columns.end(), site[0]) == out.columns.end()) {
            j.wrong(slot(at + "/without", i), "\"without\" lists slot groups of these columns, each as [column, row].");
            continue;
        }
        out.without.emplace_back(site[0].get<int>(), site[1].get<int>());
    }
    return out;
}

void read_fabric(JsonText& j, Part& part) {
    if (!j.root().contains("fabric")) return;
    auto& f = part.fabric;
    const std::string at = "/fabric";
    f.columns = whole(j, at, "columns");
    f.rows = whole(j, at, "rows");
    f.cells_per_site = whole(j, at, "cells_per_site");
    constexpr long long most_slots = 16'000'000;
    if (f.columns < 1 || f.columns > 2000 || f.rows < 1 || f.rows > 2000 || f.cells_per_site < 1)
        j.wrong(at, "The fabric has 1 to 2000 columns and rows, and at least one cell in a slot group.");
    else if (static_cast<long long>(f.columns) * f.rows * f.cells_per_site > most_slots)
        j.wrong(at, "The fabric has more than 16 million slots; such a part is not read.");
    f.base_ns = j.number(at, "base_ns");
    f.per_column_ns = j.number(at, "per_column_ns");
    f.per_row_ns = j.number(at, "per_row_ns");
    f.clock_ns = j.number(at, "clock_ns");
    f.clock_skew_ns = j.number(at, "clock_skew_ns");
    for (const double ns : {f.base_ns, f.per_column_ns, f.per_row_ns, f.clock_ns, f.clock_skew_ns})
        if (ns < 0) {
            j.wrong(at, "The delays of a fabric are not negative.");
            break;
        }
    for (size_t i = 0, n = j.count(at, "special", false); i < n; ++i) {
        f.special.push_back(read_special(j, slot(at + "/special", i), f));
    }
    for (size_t i = 0, n = j.count(at, "speeds"); i < n; ++i) {
        f.speeds.emplace_back(j.text(slot(at + "/speeds", i), "code"), j.number(slot(at + "/speeds", i), "factor"));
        if (!(f.speeds.back().second > 0)) j.wrong(slot(at + "/speeds", i), "A speed factor is above 0.");
    }
    if (j.has(at, "corner_factors")) {
        f.fast_factor = j.number(at + "/corner_factors", "fast");
        f.typical_factor = j.number(at + "/corner_factors", "typical");
        if (!(f.fast_factor > 0 && f.fast_factor <= f.typical_factor && f.typical_factor <= 1))
            j.wrong(at + "/corner_factors", "Factors of corners rise from above 0: fast, typical, 1 for slow.");
    }
}

void read_modes(JsonText& j, Part& part) {
    for (size_t i = 0, n = j.count("", "modes", false); i < n; ++i) {
        const auto at = slot("/modes", i);
        ConfigurationMode mode{j.text(at, "name"), {}, j.texts(at, "drives", false), j.text(at, "start_clock", false)};
        for (size_t k = 0, m = j.count(at, "straps", false); k < m; ++k)
            mode.straps.emplace_back(j.text(slot(at + "/straps", k), "pin"),
                                     whole(j, slot(at + "/straps", k), "level"));
        for (const auto& [pin, level] : mode.straps)
            if (!part.pin(pin) || (level != 0 && level != 1))
                j.wrong(at,
                        said("Mode {} straps pin {}, which the part does not have, or to another level than 0 and 1.",
                             mode.name, pin));
        part.modes.push_back(std::move(mode));
    }
    for (size_t i = 0, n = j.count("", "regions", false); i < n; ++i) {
        const auto at = slot("/regions", i);
        json::read_fields(j, at, part.regions.emplace_back(), region_fields());
    }
}

void read_ordering(JsonText& j, Part& part) {
    for (size_t i = 0, n = j.count("", "ordering"); i < n; ++i) {
        const auto at = slot("/ordering", i);
        CodeElement e;
        e.literal = j.text(at, "literal", false);
        if (e.literal.empty()) {
            e.name = j.text(at, "name");
            for (size_t k = 0, m = j.count(at, "values"); k < m; ++k)
                e.values.push_back({j.text(slot(at + "/values", k), "code"), j.text(slot(at + "/values", k), "means")});
        }
        part.ordering.push_back(std::move(e));
    }
}

void read_package(JsonText& j, Part& part) {
    const auto kind = j.text("/package", "kind");
    part.package.ball_grid = kind == "ball_grid";
    part.package.body_mm = j.number("/package", "body_mm", false, 20);
    if (kind == "ball_grid") {
        part.package.rows = static_cast<int>(j.number("/package", "rows"));
        part.package.columns = static_cast<int>(j.number("/package", "columns"));
        if (part.package.rows < 1 || part.package.rows > 100 || part.package.columns < 1 || part.package.columns > 100)
            j.wrong("/package", "A ball grid has 1 to 100 rows and columns.");
    } else if (kind == "quad_flat") {
        part.package.per_side = static_cast<int>(j.number("/package", "per_side"));
        part.package.pins = static_cast<int>(j.number("/package", "pins"));
        if (part.package.per_side < 1 || part.package.per_side > 200)
            j.wrong("/package", "A quad flat package has 1 to 200 pins a side.");
    } else {
        j.wrong("/package", "The package kind is quad_flat or ball_grid.");
    }
}

void read_pin(JsonText& j, Part& part, size_t i) {
    const auto at = slot("/pins", i);
    Pin pin;
    pin.name = j.text(at, "name");
    const auto kind = pin_kind_of(j.text(at, "kind"));
    if (!kind) return j.wrong(at + "/kind", said("The kind of pin {} is not known.", pin.name));
    pin.kind = *kind;
    json::read_fields(j, at, pin, pin_fields());
    pin.pair_true = j.text(at, "polarity", false) == "true";
    const auto& p = part.package;
    const bool inside = p.ball_grid ? pin.row >= 0 && pin.row < p.rows && pin.column >= 0 && pin.column < p.columns
                                    : pin.side >= 0 && pin.side < 4 && pin.slot >= 0 && pin.slot < p.per_side;
    if (!inside) j.wrong(at, said("Pin {} lies outside the package.", pin.name));
    if (!pin.bank.empty() && !part.bank(pin.bank))
        j.wrong(at + "/bank", said("Pin {} names bank {}, which the part does not have.", pin.name, pin.bank));
    if (!part.by_name.emplace(pin.name, part.pins.size()).second) j.wrong(at, said("Pin {} is there twice.", pin.name));
    part.pins.push_back(std::move(pin));
}

void read_banks(JsonText& j, Part& part) {
    for (size_t i = 0, n = j.count("", "banks"); i < n; ++i) {
        const auto at = slot("/banks", i);
        Bank bank;
        json::read_fields(j, at, bank, bank_fields());
        if (!bank.rise_ns.empty() && bank.rise_ns.size() != bank.slews.size())
            j.wrong(at, said("\"rise_ns\" of bank {} has one number for each of its slews.", bank.name));
        if (part.bank(bank.name)) j.wrong(at, said("Bank {} is there twice.", bank.name));
        part.banks.push_back(std::move(bank));
    }
}

/// Limits that a PLL may have, and that a search over all its settings ends.
void check_pll(JsonText& j, const std::string& at, const PllLimits& pll) {
    constexpr double most_mhz = 1e6;
    constexpr int most_divide = 10'000, most_outputs = 64;
    constexpr long long most_pairs = 1'000'000;
    for (const auto* range : {&pll.input_mhz, &pll.detector_mhz, &pll.vco_mhz, &pll.output_mhz})
        if ((*range)[0] < 0 || (*range)[1] > most_mhz)
            return j.wrong(at, said("The frequencies of PLL {} lie between 0 and 1000000 MHz.", pll.name));
    for (const auto* range : {&pll.divide, &pll.multiply, &pll.output_divide})
        if ((*range)[0] < 0 || (*range)[1] > most_divide)
            return j.wrong(at, said("The dividers and the multiplier of PLL {} lie between 1 and 10000.", pll.name));
    const auto count = [](const int(&r)[2]) { return static_cast<long long>(r[1]) - r[0] + 1; };
    if (count(pll.divide) * count(pll.multiply) > most_pairs)
        return j.wrong(at, said("PLL {} has more than a million pairs of divider and multiplier.", pll.name));
    if (pll.outputs < 0 || pll.outputs > most_outputs) j.wrong(at, "A PLL has at most 64 outputs.");
}

void read_plls(JsonText& j, Part& part) {
    for (size_t i = 0, n = j.count("", "plls", false); i < n; ++i) {
        const auto at = slot("/plls", i);
        PllLimits pll;
        pll.name = j.text(at, "name");
        range(j, at, "input_mhz", pll.input_mhz);
        range(j, at, "detector_mhz", pll.detector_mhz);
        range(j, at, "vco_mhz", pll.vco_mhz);
        range(j, at, "output_mhz", pll.output_mhz);
        range(j, at, "divide", pll.divide);
        range(j, at, "multiply", pll.multiply);
        range(j, at, "output_divide", pll.output_divide);
        pll.outputs = whole(j, at, "outputs", 1);
        check_pll(j, at, pll);
        part.plls.push_back(pll);
    }
}

}  // namespace

Result<Part> read_part(std::string_view text, const std::string& file) {
    auto parsed = JsonText::parse(text, file, "part", 1);
    if (!parsed) return parsed.messages();
    auto& j = parsed.value();
    Part part;
    part.name = j.text("", "name");
    part.codes = j.text("", "codes");
    read_ordering(j, part);
    const auto id = j.text("", "idcode");
    part.idcode = static_cast<std::uint32_t>(std::strtoul(id.c_str(), nullptr, 16));
    // IEEE 1149.1, clause 12: the least significant bit of an identification code is 1.
    if ((part.idcode & 1) == 0)
        j.wrong("/idcode", "The IDCODE should be a hexadecimal number such as \"0x1A2460FF\" whose lowest bit is 1.");
    auto& r = part.resources;
    const auto amount = [&](const char* key) {
        return static_cast<long long>(std::clamp(j.number("/resources", key), 0.0, 1e15));
    };
    r = {amount("logic_cells"),    amount("registers"), amount("memory_bits"),
         amount("clock_networks"), amount("plls"),      amount("lanes")};
    read_package(j, part);
    read_banks(j, part);
    read_plls(j, part);
    for (size_t i = 0, n = j.count("", "pins"); i < n; ++i) read_pin(j, part, i);
    read_modes(j, part);
    read_fabric(j, part);
    for (size_t i = 0, n = j.count("", "lane_blocks", false); i < n; ++i) read_block(j, part, slot("/lane_blocks", i));
    for (size_t i = 0; i < part.pins.size(); ++i) {
        const auto& pin = part.pins[i];
        const auto* other = pin.pair.empty() ? nullptr : part.pin(pin.pair);
        if (!pin.pair.empty() && (!other || other->pair != pin.name || other->pair_true == pin.pair_true))
            j.wrong(slot("/pins", i),
                    said("Pins {} and {} should name each other, one true and one complement.", pin.name, pin.pair));
    }
    if (!j.errors().empty()) return j.errors();
    return part;
}

namespace {

Terminal read_terminal(JsonText& j, const std::string& t) {
    Terminal terminal;
    const auto direction = terminal_direction_of(j.text(t, "direction"));
    if (!direction) j.wrong(t + "/direction", "The direction of a terminal is drives, reads, both or passive.");
    terminal.direction = direction.value_or(TerminalDirection::both);
    terminal.active_low = j.text(t, "active", false) == "low";
    json::read_fields(j, t, terminal, terminal_fields());
    if (terminal.out_min_ns && terminal.out_max_ns && *terminal.out_min_ns > *terminal.out_max_ns)
        j.wrong(t, said("Terminal {} changes earliest after it changes latest.", terminal.name));
    return terminal;
}

BoardPart read_board_part(JsonText& j, const std::string& at) {
    BoardPart part;
    json::read_fields(j, at, part, board_part_fields());
    std::set<std::string> names;
    for (size_t k = 0, n = j.count(at, "terminals"); k < n; ++k) {
        part.terminals.push_back(read_terminal(j, slot(at + "/terminals", k)));
        if (!names.insert(part.terminals.back().name).second)
            j.wrong(slot(at + "/terminals", k),
                    said("A terminal {} is there twice in {}.", part.terminals.back().name, part.ref));
    }
    for (const auto& t : part.terminals)
        if (!t.clock.empty() && !names.contains(t.clock))
            j.wrong(at,
                    said("Terminal {} names the clock {}, which is not a terminal of {}.", t.name, t.clock, part.ref));
    return part;
}

void read_board_parts(JsonText& j, std::vector<BoardPart>& parts, const std::string& list) {
    std::set<std::string> refs;
    for (size_t i = 0, n = j.count("", list.c_str() + 1); i < n; ++i) {
        parts.push_back(read_board_part(j, slot(list, i)));
        if (!refs.insert(parts.back().ref).second)
            j.wrong(slot(list, i), said("A part {} is there twice.", parts.back().ref));
    }
}

void read_straps(JsonText& j, Board& board) {
    for (size_t i = 0, n = j.count("", "straps", false); i < n; ++i) {
        board.straps.push_back({j.text(slot("/straps", i), "pin"), whole(j, slot("/straps", i), "level")});
        if (board.straps.back().level != 0 && board.straps.back().level != 1)
            j.wrong(slot("/straps", i), "A strap holds its pin at level 0 or 1.");
    }
    if (!j.root().contains("stack")) return;
    json::read_fields(j, "/stack", board.stack, stack_fields());
    const auto& s = board.stack;
    if ((s.kind != "microstrip" && s.kind != "stripline") ||
        !(s.relative_permittivity >= 1 && s.height_mm > 0 && s.width_mm > 0))
        j.wrong("/stack",
                "The stack is a microstrip or a stripline with a relative permittivity of at least 1 and sizes above 0 "
                "mm.");
}

}  // namespace

Result<Board> read_board(std::string_view text, const std::string& file) {
    auto parsed = JsonText::parse(text, file, "board", 1);
    if (!parsed) return parsed.messages();
    auto& j = parsed.value();
    Board board;
    json::read_fields(j, "", board, board_fields());
    if (!(board.width_mm > 0 && board.height_mm > 0)) j.wrong("", "A board has a width and a height above 0 mm.");
    read_board_parts(j, board.parts, "/parts");
    read_straps(j, board);
    board.index();
    std::set<std::string> pins, terminals;
    for (size_t i = 0, n = j.count("", "nets"); i < n; ++i) {
        const auto at = slot("/nets", i);
        BoardNet net;
        json::read_fields(j, at, net, board_net_fields());
        if (!board.at_terminal(net.terminal))
            j.wrong(at, said("The terminal {} is on no part of this board.", net.terminal));
        if (!pins.insert(net.pin).second) j.wrong(at, said("Pin {} is wired twice.", net.pin));
        if (!terminals.insert(net.terminal).second) j.wrong(at, said("Terminal {} is wired twice.", net.terminal));
        board.nets.push_back(std::move(net));
    }
    for (size_t i = 0, n = j.count("", "rails"); i < n; ++i)
        board.rails.push_back({j.text(slot("/rails", i), "bank"), j.number(slot("/rails", i), "volts")});
    for (size_t i = 0, n = j.count("", "oscillators", false); i < n; ++i) {
        const auto at = slot("/oscillators", i);
        Oscillator o{j.text(at, "terminal"), j.number(at, "mhz"), j.number(at, "ppm", false), {0, 0}};
        if (j.root().at(Json::json_pointer(at)).contains("duty_percent")) range(j, at, "duty_percent", o.duty_percent);
        if (!(o.mhz > 0)) j.wrong(at, "An oscillator has a frequency above 0 MHz.");
        board.oscillators.push_back(o);
    }
    if (!j.errors().empty()) return j.errors();
    board.index();
    return board;
}

Result<BoardModule> read_module(std::string_view text, const std::string& file) {
    auto parsed = JsonText::parse(text, file, "module", 1);
    if (!parsed) return parsed.messages();
    auto& j = parsed.value();
    BoardModule module;
    module.name = j.text("", "name");
    module.header_kind = j.text("", "header_kind");
    read_board_parts(j, module.parts, "/parts");
    for (size_t i = 0, n = j.count("", "wires"); i < n; ++i)
        module.wires.emplace_back(j.text(slot("/wires", i), "header"), j.text(slot("/wires", i), "terminal"));
    if (!j.errors().empty()) return j.errors();
    return module;
}

Result<StandardTable> read_standards(std::string_view text, const std::string& file) {
    auto parsed = JsonText::parse(text, file, "standards", 1);
    if (!parsed) return parsed.messages();
    auto& j = parsed.value();
    StandardTable table;
    for (size_t i = 0, n = j.count("", "standards"); i < n; ++i) {
        const auto at = slot("/standards", i);
        IoStandard s;
        s.name = j.text(at, "name");
        s.source = j.text(at, "source");
        s.checked = j.text(at, "checked");
        s.supply = j.number(at, "supply");
        s.differential = j.flag(at, "differential", false);
        const bool single = !s.differential;
        s.vih = j.number(at, "vih", single);
        s.vil = j.number(at, "vil", single);
        s.voh = j.number(at, "voh", single);
        s.vol = j.number(at, "vol", single);
        s.vref = j.number(at, "vref", false);
        s.vid_min = j.number(at, "vid_min", false);
        if (s.differential) {
            range(j, at, "vod", s.vod);
            range(j, at, "vcm", s.vcm);
        }
        s.direction = j.text(at, "direction", false);
        if (!s.direction.empty() && s.direction != "in" && s.direction != "out")
            j.wrong(at, "The direction of a standard that has only one is in or out.");
        s.open_drain = j.flag(at, "open_drain", false);
        s.resistors = j.flag(at, "resistors", false);
        s.input_at = j.texts(at, "input_at", false);
        for (const double ma : j.numbers(at, "drive_ma")) s.drive_ma.push_back(static_cast<int>(ma));
        if (table.find(s.name)) j.wrong(at, said("The standard {} is there twice.", s.name));
        table.rows.push_back(std::move(s));
    }
    if (!j.errors().empty()) return j.errors();
    return table;
}

}  // namespace kp
