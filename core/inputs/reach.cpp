// SPDX-License-Identifier: GPL-3.0-or-later
// Each question resolves the path on the disk, so a link that was laid meanwhile counts. A copy of a Reach keeps what
// was allowed then.
#include "core/inputs/reach.hpp"
#include "core/base/said.hpp"

#include <algorithm>

namespace kp {

Reach::Reach(Disk& disk, const std::string& folder, const std::vector<std::string>& allowed)
    : disk_(&disk), folder_(disk.real_path(folder)) {
    for (const auto& path : allowed) allow(path);
}

std::optional<Message> Reach::refuse(const std::string& path) const {
    const auto real = disk_->real_path(path);
    if (lies_in(real, folder_)) return std::nullopt;
    if (std::any_of(allowed_.begin(), allowed_.end(), [&](const std::string& a) { return lies_in(real, a); }))
        return std::nullopt;
    return Message{Severity::stop, Code::outside,
                   said("lies outside the project's folder{} and is not touched before you allow it: in the window "
                        "when you are asked, for kpeg with --allow {}.",
                        (real == path ? std::string() : " (it is " + real + ")"), real),
                   path};
}

}  // namespace kp
