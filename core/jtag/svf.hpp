// SPDX-License-Identifier: GPL-3.0-or-later
// Serial Vector Format (revision E, 1999): what to shift into a chain of chips and what has to come back. Played
// through a cable that may have faults.
#pragma once

#include "core/jtag/chip.hpp"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace kp {

/// What goes wrong on the way, one thing at a time.
struct CableFault {
    enum Kind : std::uint8_t { none, no_cable, other_part, second_device, bit, power } kind = none;
    std::uint64_t at = 0;  ///< of bit: which one of the configuration data, from 0; of power: before which step, from 1

    /// "no-cable", "other-part", "second-device", "bit:N", "power:STEP". Errors: anything else.
    [[nodiscard]] static Result<CableFault> parse(std::string_view text);
};

/// Chips behind a cable, seen from its plug: with a second device, that one lies between the chip and TDO.
class ScanChain {
public:
    ScanChain(SimulatedChip& chip, const CableFault& fault);
    /// One cycle of TCK; gives TDO. Without a cable it is pulled up.
    bool clock(bool tms, bool tdi);
    [[nodiscard]] SimulatedChip& chip() { return *chip_; }
    [[nodiscard]] const CableFault& fault() const { return fault_; }

private:
    SimulatedChip* chip_;
    SimulatedChip second_;
    CableFault fault_;
    std::uint64_t configuration_bits_ = 0;
};

struct SvfStep {
    int line = 0;
    std::string command, state;      ///< state: where the port is thought to be afterwards, as SVF names it
    std::optional<std::string> tdo;  ///< what came back, hexadecimal
    bool ok = true;
    std::string why;  ///< what a person would look for; empty while all is well
};

/// Plays a file. Errors (line): a command that is not SVF, lengths and digits that do not fit, more than 2^26 bits at
/// once or `most` cycles of TCK in all.
[[nodiscard]] Result<std::vector<SvfStep>> play_svf(std::string_view text, const std::string& file, ScanChain& chain,
                                                    std::uint64_t most = std::uint64_t{1} << 28);

/// SVF that checks the IDCODE, loads an image and starts it.
[[nodiscard]] std::string write_svf(const std::string& image, std::uint32_t idcode);

/// Every device that answers with an IDCODE after a reset, nearest to TDO first; what follows the last one is ones.
[[nodiscard]] std::vector<std::uint32_t> scan_idcodes(ScanChain& chain);

}  // namespace kp
