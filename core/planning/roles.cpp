// SPDX-License-Identifier: GPL-3.0-or-later
// One pass over a small table of word stems (common practice, no source): a stem counts as a part of the name between
// underscores and digits, so that "keystone" is not a key. Nothing is stored; a role is worked out when it is asked
// for.
#include "core/planning/roles.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <array>
#include <cctype>

namespace kp {

namespace {

constexpr std::array names{"clock", "reset", "key", "rocker", "lamp", "display", "sounder", "serial", "memory", "data"};

struct Stem {
    const char* word;
    const char* role;
};
constexpr Stem stems[] = {
    {"clk", "clock"},    {"clock", "clock"},    {"osc", "clock"},       {"rst", "reset"},     {"reset", "reset"},
    {"arst", "reset"},   {"key", "key"},        {"btn", "key"},         {"button", "key"},    {"pb", "key"},
    {"sw", "rocker"},    {"switch", "rocker"},  {"rocker", "rocker"},   {"dip", "rocker"},    {"led", "lamp"},
    {"lamp", "lamp"},    {"leds", "lamp"},      {"lamps", "lamp"},      {"seg", "display"},   {"digit", "display"},
    {"an", "display"},   {"lcd", "display"},    {"vga", "display"},     {"hsync", "display"}, {"vsync", "display"},
    {"tone", "sounder"}, {"buzzer", "sounder"}, {"speaker", "sounder"}, {"tx", "serial"},     {"rx", "serial"},
    {"txd", "serial"},   {"rxd", "serial"},     {"uart", "serial"},     {"sda", "serial"},    {"scl", "serial"},
    {"mosi", "serial"},  {"miso", "serial"},    {"sck", "serial"},      {"spi", "serial"},    {"i2c", "serial"},
    {"mem", "memory"},   {"dq", "memory"},      {"dqs", "memory"},      {"ras", "memory"},    {"cas", "memory"},
    {"ddr", "memory"},   {"sdram", "memory"},   {"sram", "memory"},     {"flash", "memory"},  {"data", "data"},
};

/// The role that a part of the name speaks of; null when none does.
const char* by_name(const std::string& bus) {
    const auto small = lower(bus);
    for (size_t at = 0; at < small.size();) {
        size_t end = at;
        while (end < small.size() && std::isalpha(static_cast<unsigned char>(small[end]))) ++end;
        const auto word = std::string_view(small).substr(at, end - at);
        for (const auto& stem : stems)
            if (word == stem.word) return stem.role;
        at = end + 1;
    }
    return nullptr;
}

/// What a board part of a kind makes of a port on its terminal.
std::string by_board(const Board::Found& at) {
    static constexpr Stem kinds[] = {{"key", "key"},         {"rocker", "rocker"},   {"lamp", "lamp"},
                                     {"display", "display"}, {"sounder", "sounder"}, {"oscillator", "clock"},
                                     {"memory", "memory"},   {"serial", "serial"}};
    if (!at) return {};
    for (const auto& k : kinds)
        if (at.part->kind == k.word) return k.role;
    return {};
}

}  // namespace

std::span<const char* const> role_names() {
    return names;
}

PortRole role_of(const PlannedPort& seat) {
    if (seat.chosen && !seat.chosen->role.empty()) return {seat.chosen->role, "chosen"};
    if (!seat.port) return {};
    if (seat.facts && seat.reads() && (seat.facts->clocks_registers || seat.facts->feeds_pll))
        return {"clock", seat.facts->feeds_pll ? "feeds a PLL" : "clocks registers"};
    if (seat.facts && seat.facts->cleared > 0) return {"reset", "clears " + counted(seat.facts->cleared, "register")};
    if (const auto role = by_board(seat.at); !role.empty())
        return {role, said("its pin is wired to {} ({})", seat.at.net->terminal, seat.at.part->shown())};
    if (const char* role = by_name(seat.port->bus)) return {role, "by its name"};
    return {};
}

bool named_low(std::string_view bus) {
    return bus.ends_with("_n") || bus.ends_with("_b") || bus.ends_with("_N") || bus.ends_with("_B");
}

bool looks_like_clock(const std::string& name) {
    const auto low = lower(name);
    for (const auto part : split(low, '_')) {
        if (part == "en" || part == "ena" || part == "enable" || part == "ce" || part == "sel" || part == "out")
            return false;
    }
    for (const auto part : split(low, '_'))
        if (part.starts_with("clk") || part.starts_with("clock") || part.ends_with("clk") || part.ends_with("clock"))
            return part.find("clken") == std::string_view::npos;
    return false;
}

bool speaks_of_reset(const std::string& name) {
    const auto small = lower(name);
    return small.find("rst") != std::string::npos || small.find("reset") != std::string::npos;
}

bool has_active_levels(const BoardPart& part) {
    return part.kind == "lamp" || part.kind == "key" || part.kind == "rocker" || part.kind == "sounder" ||
           part.kind == "display";
}

bool opposed(const Port& port, const PortAttributes& chosen, const Board::Found& at, const IoStandard* standard) {
    if (!at || !has_active_levels(*at.part) || (standard && standard->differential) ||
        port.direction == Direction::inout)
        return false;
    return sense_of(port.bus, chosen).low != at.terminal->active_low;
}

PortSense sense_of(const std::string& bus, const PortAttributes& chosen) {
    if (chosen.sense == "low" || chosen.sense == "high") return {chosen.sense == "low", "chosen"};
    return {named_low(bus), "by its name"};
}

}  // namespace kp
