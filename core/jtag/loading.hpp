// SPDX-License-Identifier: GPL-3.0-or-later
// Loading as a person sees it: who answers, whether it is the part, whether the image came through.
#pragma once

#include "core/jtag/svf.hpp"

namespace kp {

/// Whether the loader also stores the image for the next time the power comes.
enum class Keeping { until_power_goes, stored };

/// Looks who hangs on the cable, loads the image by SVF when the expected part is among them, and starts it. Another
/// device between the part and TDO is passed over by its bypass bit. `why` of the report says what to do when it does
/// not run.
[[nodiscard]] LoadReport load_through(ScanChain& chain, std::uint32_t expected, const std::string& image,
                                      Keeping keeping = Keeping::until_power_goes);

}  // namespace kp
