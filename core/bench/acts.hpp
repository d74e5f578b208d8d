// SPDX-License-Identifier: GPL-3.0-or-later
// The acting parts, one maker each. A maker gives null when the part lacks the terminals it needs; it then acts by the
// directions of its terminals.
#pragma once

#include "core/bench/acting.hpp"

namespace kp::bench {

using Made = std::unique_ptr<ActingPart>;

[[nodiscard]] Made make_contacts(const ActingPart::Home& home);  ///< keys and rockers, with bounce
[[nodiscard]] Made make_vane(const ActingPart::Home& home);      ///< a position in Gray code
[[nodiscard]] Made make_encoder(const ActingPart::Home& home, std::shared_ptr<Shaft> shaft);
[[nodiscard]] Made make_winch(const ActingPart::Home& home, std::shared_ptr<Shaft> shaft);
[[nodiscard]] Made make_lamps(const ActingPart::Home& home);
[[nodiscard]] Made make_digits(const ActingPart::Home& home);
[[nodiscard]] Made make_sounder(const ActingPart::Home& home);
[[nodiscard]] Made make_serial(const ActingPart::Home& home);     ///< a terminal at the other end of a serial line
[[nodiscard]] Made make_satellite(const ActingPart::Home& home);  ///< a pulse per second, and its time as text
[[nodiscard]] Made make_weigher(const ActingPart::Home& home);    ///< an SPI converter that gives a number
[[nodiscard]] Made make_sampler(const ActingPart::Home& home);    ///< lanes with a clock of their own, a wave in each
[[nodiscard]] Made make_two_wire(const ActingPart::Home& home);   ///< sensors on an I²C bus
[[nodiscard]] Made make_phy(const ActingPart::Home& home);        ///< frames over RGMII, looped back
[[nodiscard]] Made make_memory(const ActingPart::Home& home);     ///< double-rate memory that stores
[[nodiscard]] Made make_loop(const ActingPart::Home& home);       ///< fast pairs that come back: cages and links
[[nodiscard]] Made make_plain(const ActingPart::Home& home);      ///< by the directions of its terminals

}  // namespace kp::bench
