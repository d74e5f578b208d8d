// SPDX-License-Identifier: GPL-3.0-or-later
// What the names of pins and their functions say of a package.
#pragma once

#include "core/base/result.hpp"
#include "core/model/part.hpp"

#include <optional>
#include <string_view>

namespace kp {

/// Fills the package and the place of every pin from the pins' names: balls such as K14 make a grid, numbers a quad
/// flat counted against the clock. Errors: names that are neither, a package too large.
[[nodiscard]] Status place_pins(Part& part);

/// The kind a dedicated pin's name tells: GND, VSS: ground; VIO, VCCO, VCCIO, VDDIO: bank supply; VREF: reference; V…:
/// supply; TCK, TMS, TDI, TDO, TRST: configuration; CLKIN, GCLK: clock; NC: not connected. None for any other name.
[[nodiscard]] std::optional<PinKind> kind_from_name(std::string_view function);

}  // namespace kp
