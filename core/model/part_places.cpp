// SPDX-License-Identifier: GPL-3.0-or-later
// Places from names: rows and columns of balls, sides and slots of pins.
#include "core/model/part_places.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cctype>
#include <set>

namespace kp {

namespace {

/// Letters of ball grid rows: I, O, Q, S, X and Z are left out, and AA follows Y (JEDEC Publication 95, section 3.1;
/// from memory).
int ball_row(std::string_view letters) {
    static const std::string_view row = "ABCDEFGHJKLMNPRTUVWY";
    int value = 0;
    for (const char c : letters) {
        const auto at = row.find(static_cast<char>(std::toupper(static_cast<unsigned char>(c))));
        if (at == std::string_view::npos) return -1;
        value = value * 20 + static_cast<int>(at) + 1;
    }
    return value - 1;
}

}  // namespace

Status place_pins(Part& part) {
    const auto refuse = [](const std::string& text) { return Message{Severity::stop, Code::package, text}; };
    bool numbers = true, balls = true;
    for (auto& pin : part.pins) {
        size_t letters = 0;
        while (letters < pin.name.size() && std::isalpha(static_cast<unsigned char>(pin.name[letters]))) ++letters;
        const auto column = to_integer(std::string_view(pin.name).substr(letters));
        const bool sound = column && *column > 0 && *column <= 10000;
        pin.row = letters <= 2 ? ball_row(std::string_view(pin.name).substr(0, letters)) : -1;
        pin.column = sound ? static_cast<int>(*column) - 1 : -1;
        numbers = numbers && letters == 0 && sound;
        balls = balls && letters > 0 && sound && pin.row >= 0;
    }
    if (part.pins.empty() || (!numbers && !balls))
        return refuse(
            said("The pins of {} are neither numbers nor balls such as K14; their places cannot be told.", part.name));
    auto& package = part.package;
    package = {};
    package.ball_grid = balls;
    if (balls) {
        for (const auto& p : part.pins) {
            package.rows = std::max(package.rows, p.row + 1);
            package.columns = std::max(package.columns, p.column + 1);
        }
        package.body_mm = std::max(package.rows, package.columns) + 1;
        if (package.rows > 100 || package.columns > 100)
            return refuse("A ball grid of more than 100 rows or columns is not read.");
        return Done{};
    }
    int most = 0;
    for (const auto& p : part.pins) most = std::max(most, p.column + 1);
    const int side = (most + 3) / 4;
    if (side > 200) return refuse("A package of more than 800 pins in four rows is not read.");
    package.per_side = side;
    package.pins = 4 * side;
    package.body_mm = side * 0.5 + 2;
    for (auto& p : part.pins) {
        p.side = p.column / side;
        p.slot = p.column % side;
        p.row = p.column = 0;
    }
    return Done{};
}

std::optional<PinKind> kind_from_name(std::string_view function) {
    const auto n = lower(function);
    const auto starts = [&](std::initializer_list<const char*> words) {
        return std::any_of(words.begin(), words.end(), [&](const char* w) { return n.starts_with(w); });
    };
    static const std::set<std::string> taps{"tck", "tms", "tdi", "tdo", "trst", "trst_n"};
    if (starts({"gnd", "vss"})) return PinKind::ground;
    if (starts({"vddio", "vio"})) return PinKind::bank_supply;
    if (starts({"vref"})) return PinKind::reference;
    if (starts({"vcc", "vdd", "vpp"})) return PinKind::supply;
    if (taps.contains(n)) return PinKind::configuration;
    if (starts({"clkin", "clk_in"})) return PinKind::clock;
    if (n == "nc" || n == "dnu" || starts({"nc_"}) ||
        (n.starts_with("nc") && n.size() > 2 && std::isdigit(static_cast<unsigned char>(n[2]))))
        return PinKind::not_connected;
    return std::nullopt;
}

}  // namespace kp
