// SPDX-License-Identifier: GPL-3.0-or-later
// The simulated parts, one maker each. A maker gives null when the part lacks the terminals it needs; it then acts by
// the directions of its terminals.
#pragma once

#include "core/board_sim/simulated_part.hpp"

namespace kp::board_sim {

using Made = std::unique_ptr<SimulatedPart>;

[[nodiscard]] Made make_contacts(const SimulatedPart::Home& home);  ///< keys and rockers, with bounce
[[nodiscard]] Made make_vane(const SimulatedPart::Home& home);      ///< a position in Gray code
[[nodiscard]] Made make_encoder(const SimulatedPart::Home& home, std::shared_ptr<Shaft> shaft);
[[nodiscard]] Made make_winch(const SimulatedPart::Home& home, std::shared_ptr<Shaft> shaft);
[[nodiscard]] Made make_lamps(const SimulatedPart::Home& home);
[[nodiscard]] Made make_digits(const SimulatedPart::Home& home);
[[nodiscard]] Made make_sounder(const SimulatedPart::Home& home);
[[nodiscard]] Made make_serial(const SimulatedPart::Home& home);     ///< a terminal at the other end of a serial line
[[nodiscard]] Made make_satellite(const SimulatedPart::Home& home);  ///< a pulse per second, and its time as text
[[nodiscard]] Made make_scale_converter(const SimulatedPart::Home& home);  ///< an SPI converter that gives a number
[[nodiscard]] Made make_sampler(const SimulatedPart::Home& home);   ///< lanes with a clock of their own, a wave in each
[[nodiscard]] Made make_two_wire(const SimulatedPart::Home& home);  ///< sensors on an I²C bus
[[nodiscard]] Made make_phy(const SimulatedPart::Home& home);       ///< frames over RGMII, looped back
[[nodiscard]] Made make_memory(const SimulatedPart::Home& home);    ///< double-rate memory that stores
[[nodiscard]] Made make_loop(const SimulatedPart::Home& home);      ///< fast pairs that come back: cages and links
[[nodiscard]] Made make_plain(const SimulatedPart::Home& home);     ///< by the directions of its terminals

}  // namespace kp::board_sim
