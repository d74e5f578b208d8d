// SPDX-License-Identifier: GPL-3.0-or-later
// A part by what stands on the chip.
#include "core/inputs/data_folder.hpp"
#include "core/inputs/part_files.hpp"
#include "kpeg/commands.hpp"

namespace kpeg {

kp::Result<kp::Part> part_called(const std::string& code) {
    return kp::part_called(kp::real_disk(), code, ".", kp::data_folder());
}

}  // namespace kpeg
