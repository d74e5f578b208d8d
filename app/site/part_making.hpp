// SPDX-License-Identifier: GPL-3.0-or-later
// Parts and boards that were made come into the project.
#pragma once

#include "app/shell/desk.hpp"
#include "core/model/part.hpp"

#include <functional>

namespace kp::app {

/// Writes a part that was made from a list or BSDL into the project's folder and takes it. When the folder has a file
/// of the part that is in use and both speak of the same pins, joining them is offered; a file of the same name is
/// replaced only when that is said.
void take_part(Desk& desk, const Part& part, const std::function<void()>& done);

/// Writes a file of the project's folder and takes it into `field` as `value`; read again when the project names it
/// already.
void take_file(Desk& desk, const std::string& path, const std::string& text, bool replace, const char* field,
               const std::string& value, const std::function<void()>& done);

}  // namespace kp::app
