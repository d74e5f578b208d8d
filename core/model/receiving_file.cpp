// SPDX-License-Identifier: GPL-3.0-or-later
// By position in the project's list: the file that receives, or the file of the clock if that comes later.
#include "core/model/receiving_file.hpp"

namespace kp {

namespace {

/// Position among the project's files of the one that defines a clock; the last one when a sourced file does.
size_t file_of_clock(const Project& project, const Constraints& k, const std::string& clock) {
    const auto id = clock.empty() ? no_id : k.clock(clock);
    if (id == no_id) return 0;
    const auto at = static_cast<size_t>(k.clocks[id].span.file);
    const auto& files = project.constraints;
    for (size_t i = 0; i < files.size(); ++i)
        if (at < k.files.size() && files[i].path == k.files[at]) return i;
    return files.empty() ? 0 : files.size() - 1;
}

}  // namespace

const SdcFile* receiving_file(const Project& project, const Constraints& k, const std::string& clock) {
    const SdcFile* out = nullptr;
    const auto& files = project.constraints;
    for (size_t i = file_of_clock(project, k, clock); i < files.size(); ++i)
        if (files[i].analysis && (!out || files[i].receives)) out = &files[i];
    return out;
}

}  // namespace kp
