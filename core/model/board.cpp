// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/model/board.hpp"

#include <array>
#include <utility>

namespace kp {

namespace {
constexpr std::array<std::pair<TerminalDirection, const char*>, 4> directions{{{TerminalDirection::drives, "drives"},
                                                                               {TerminalDirection::reads, "reads"},
                                                                               {TerminalDirection::both, "both"},
                                                                               {TerminalDirection::passive, "passive"}}};
}

const char* name_of(TerminalDirection direction) {
    for (const auto& [d, word] : directions)
        if (d == direction) return word;
    return "";
}

std::optional<TerminalDirection> terminal_direction_of(const std::string& word) {
    for (const auto& [d, w] : directions)
        if (word == w) return d;
    return std::nullopt;
}

Board::Found Board::at_terminal(const std::string& ref_and_name) const {
    Found found;
    for (const auto& part : parts)
        for (const auto& terminal : part.terminals)
            if (ref_and_name.size() == part.ref.size() + 1 + terminal.name.size() && ref_and_name.starts_with(part.ref) &&
                ref_and_name[part.ref.size()] == '.' && ref_and_name.ends_with(terminal.name)) {
                found.part = &part;
                found.terminal = &terminal;
            }
    for (const auto& net : nets)
        if (found && net.terminal == ref_and_name) found.net = &net;
    return found;
}

Board::Found Board::at_pin(const std::string& pin) const {
    for (const auto& net : nets)
        if (net.pin == pin) return at_terminal(net.terminal);
    return {};
}

std::optional<double> Board::rail(const std::string& bank) const {
    for (const auto& rail : rails)
        if (rail.bank == bank) return rail.volts;
    return std::nullopt;
}

const Oscillator* Board::oscillator_at_pin(const std::string& pin) const {
    for (const auto& net : nets)
        if (net.pin == pin)
            for (const auto& oscillator : oscillators)
                if (oscillator.terminal == net.terminal) return &oscillator;
    return nullptr;
}

}  // namespace kp
