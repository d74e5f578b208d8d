// SPDX-License-Identifier: GPL-3.0-or-later
// Delays in ns to SDF (IEEE 1497-2001, version 3.0).
#pragma once

#include "core/model/delays.hpp"

#include <string>

namespace kp {

/// Writes the entries it takes, min:typ:max with four decimals: wires (interconnect) and paths through cells (iopath),
/// in the order they come; those of one cell that come one after the other share a block. What read_sdf reads back is
/// the same, rounded to 0.1 ps.
class SdfWriter : public DelaySink {
public:
    /// `program` stands in the head of the file.
    SdfWriter(const std::string& design, const std::string& program);
    void take(const DelayEntry& entry) override;
    /// The whole file; nothing is taken any more.
    [[nodiscard]] std::string finish();

private:
    void end_block();
    std::string out_, instance_;
    bool open_ = false;
};

}  // namespace kp
