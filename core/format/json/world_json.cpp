// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/format/json/world_json.hpp"

#include "core/base/text.hpp"
#include "core/format/json/json_text.hpp"

#include <set>

namespace kp {

namespace {

std::string slot(const std::string& list, size_t i) { return list + "/" + std::to_string(i); }

void range(JsonText& j, const std::string& pointer, const char* key, double (&out)[2]) {
    if (j.count(pointer, key) != 2) return;
    const auto& list = j.root().at(Json::json_pointer(pointer + "/" + key));
    if (!list[0].is_number() || !list[1].is_number() || list[0].get<double>() > list[1].get<double>())
        return j.wrong(pointer + "/" + key, "\"" + std::string(key) + "\" should be a low and a high number.");
    out[0] = list[0].get<double>();
    out[1] = list[1].get<double>();
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
        if (part.package.per_side < 1 || part.package.per_side > 200) j.wrong("/package", "A quad flat package has 1 to 200 pins a side.");
    } else {
        j.wrong("/package", "The package kind is quad_flat or ball_grid.");
    }
}

void read_pin(JsonText& j, Part& part, size_t i) {
    const auto at = slot("/pins", i);
    Pin pin;
    pin.name = j.text(at, "name");
    const auto kind = pin_kind_of(j.text(at, "kind"));
    if (!kind) return j.wrong(at + "/kind", "The kind of pin " + pin.name + " is not known.");
    pin.kind = *kind;
    pin.bank = j.text(at, "bank", false);
    pin.function = j.text(at, "function", false);
    pin.pair = j.text(at, "pair", false);
    pin.pair_true = j.text(at, "polarity", false) == "true";
    pin.side = static_cast<int>(j.number(at, "side", false));
    pin.slot = static_cast<int>(j.number(at, "slot", false));
    pin.row = static_cast<int>(j.number(at, "row", false));
    pin.column = static_cast<int>(j.number(at, "column", false));
    const auto& p = part.package;
    const bool inside = p.ball_grid ? pin.row >= 0 && pin.row < p.rows && pin.column >= 0 && pin.column < p.columns
                                    : pin.side >= 0 && pin.side < 4 && pin.slot >= 0 && pin.slot < p.per_side;
    if (!inside) j.wrong(at, "Pin " + pin.name + " lies outside the package.");
    if (!pin.bank.empty() && !part.bank(pin.bank)) j.wrong(at + "/bank", "Pin " + pin.name + " names bank " + pin.bank + ", which the part does not have.");
    if (!part.by_name.emplace(pin.name, part.pins.size()).second) j.wrong(at, "Pin " + pin.name + " is there twice.");
    part.pins.push_back(std::move(pin));
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
    if ((part.idcode & 1) == 0) j.wrong("/idcode", "The IDCODE should be a hexadecimal number such as \"0x1A246093\" whose lowest bit is 1.");
    auto& r = part.resources;
    const auto whole = [&](const char* key) { return static_cast<long long>(j.number("/resources", key)); };
    r = {whole("logic_cells"), whole("registers"), whole("memory_bits"), whole("clock_networks"), whole("plls"), whole("lanes")};
    read_package(j, part);
    for (size_t i = 0, n = j.count("", "banks"); i < n; ++i) {
        const auto at = slot("/banks", i);
        Bank bank{j.text(at, "name"), j.text(at, "supply"), {}, j.texts(at, "standards")};
        if (j.count(at, "volts") > 0)
            for (const auto& v : j.root().at(Json::json_pointer(at + "/volts")))
                if (v.is_number()) bank.volts.push_back(v.get<double>());
        if (part.bank(bank.name)) j.wrong(at, "Bank " + bank.name + " is there twice.");
        part.banks.push_back(std::move(bank));
    }
    for (size_t i = 0, n = j.count("", "plls", false); i < n; ++i) {
        const auto at = slot("/plls", i);
        PllLimits pll;
        pll.name = j.text(at, "name");
        range(j, at, "input_mhz", pll.input_mhz);
        range(j, at, "detector_mhz", pll.detector_mhz);
        range(j, at, "vco_mhz", pll.vco_mhz);
        range(j, at, "output_mhz", pll.output_mhz);
        part.plls.push_back(pll);
    }
    for (size_t i = 0, n = j.count("", "pins"); i < n; ++i) read_pin(j, part, i);
    for (size_t i = 0; i < part.pins.size(); ++i) {
        const auto& pin = part.pins[i];
        const auto* other = pin.pair.empty() ? nullptr : part.pin(pin.pair);
        if (!pin.pair.empty() && (!other || other->pair != pin.name || other->pair_true == pin.pair_true))
            j.wrong(slot("/pins", i), "Pins " + pin.name + " and " + pin.pair + " should name each other, one true and one complement.");
    }
    if (!j.errors().empty()) return j.errors();
    return part;
}

namespace {

void read_board_part(JsonText& j, Board& board, size_t i) {
    const auto at = slot("/parts", i);
    BoardPart part;
    part.ref = j.text(at, "ref");
    part.name = j.text(at, "name");
    part.kind = j.text(at, "kind");
    part.label = j.text(at, "label", false);
    part.x = j.number(at, "x"), part.y = j.number(at, "y");
    part.w = j.number(at, "w"), part.h = j.number(at, "h");
    for (const auto& other : board.parts)
        if (other.ref == part.ref) j.wrong(at, "A part " + part.ref + " is there twice.");
    for (size_t k = 0, n = j.count(at, "terminals"); k < n; ++k) {
        const auto t = slot(at + "/terminals", k);
        Terminal terminal;
        terminal.name = j.text(t, "name");
        const auto direction = terminal_direction_of(j.text(t, "direction"));
        if (!direction) j.wrong(t + "/direction", "The direction of a terminal is drives, reads, both or passive.");
        terminal.direction = direction.value_or(TerminalDirection::both);
        terminal.active_low = j.text(t, "active", false) == "low";
        terminal.standard = j.text(t, "standard", false);
        terminal.order = static_cast<int>(j.number(t, "order", false));
        part.terminals.push_back(std::move(terminal));
    }
    board.parts.push_back(std::move(part));
}

}  // namespace

Result<Board> read_board(std::string_view text, const std::string& file) {
    auto parsed = JsonText::parse(text, file, "board", 1);
    if (!parsed) return parsed.messages();
    auto& j = parsed.value();
    Board board;
    board.name = j.text("", "name");
    board.revision = j.text("", "revision", false);
    board.part = j.text("", "part");
    board.fpga = j.text("", "fpga", false);
    board.width_mm = j.number("", "width_mm");
    board.height_mm = j.number("", "height_mm");
    if (!(board.width_mm > 0 && board.height_mm > 0)) j.wrong("", "A board has a width and a height above 0 mm.");
    for (size_t i = 0, n = j.count("", "parts"); i < n; ++i) read_board_part(j, board, i);
    std::set<std::string> pins, terminals;
    for (size_t i = 0, n = j.count("", "nets"); i < n; ++i) {
        const auto at = slot("/nets", i);
        BoardNet net{j.text(at, "pin"), j.text(at, "terminal"), j.number(at, "trace_mm", false), j.number(at, "series_ohm", false), j.text(at, "pull", false), j.number(at, "pull_ohm", false)};
        if (!board.at_terminal(net.terminal)) j.wrong(at, "The terminal " + net.terminal + " is on no part of this board.");
        if (!pins.insert(net.pin).second) j.wrong(at, "Pin " + net.pin + " is wired twice.");
        if (!terminals.insert(net.terminal).second) j.wrong(at, "Terminal " + net.terminal + " is wired twice.");
        board.nets.push_back(std::move(net));
    }
    for (size_t i = 0, n = j.count("", "rails"); i < n; ++i) board.rails.push_back({j.text(slot("/rails", i), "bank"), j.number(slot("/rails", i), "volts")});
    for (size_t i = 0, n = j.count("", "oscillators", false); i < n; ++i) {
        const auto at = slot("/oscillators", i);
        Oscillator o{j.text(at, "terminal"), j.number(at, "mhz"), j.number(at, "ppm", false), {40, 60}};
        if (j.root().at(Json::json_pointer(at)).contains("duty_percent")) range(j, at, "duty_percent", o.duty_percent);
        if (!(o.mhz > 0)) j.wrong(at, "An oscillator has a frequency above 0 MHz.");
        board.oscillators.push_back(o);
    }
    board.notes = j.texts("", "notes", false);
    if (!j.errors().empty()) return j.errors();
    return board;
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
        s.vih = j.number(at, "vih"), s.vil = j.number(at, "vil");
        s.voh = j.number(at, "voh"), s.vol = j.number(at, "vol");
        s.input_at = j.texts(at, "input_at", false);
        if (j.count(at, "drive_ma", false) > 0)
            for (const auto& v : j.root().at(Json::json_pointer(at + "/drive_ma")))
                if (v.is_number_integer()) s.drive_ma.push_back(v.get<int>());
        if (table.find(s.name)) j.wrong(at, "The standard " + s.name + " is there twice.");
        table.rows.push_back(std::move(s));
    }
    if (!j.errors().empty()) return j.errors();
    return table;
}

}  // namespace kp
