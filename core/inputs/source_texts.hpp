// SPDX-License-Identifier: GPL-3.0-or-later
// HDL files in memory, and how they may include others.
#pragma once

#include "core/base/disk.hpp"
#include "core/base/source_text.hpp"
#include "core/inputs/reach.hpp"

#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace kp {

struct SourceTexts {
    std::vector<std::string> texts;
    std::vector<SourceText> sources;  ///< views of `texts`: moved with them, never copied
    /// Text of a file that `include names; looked for beside the one that names it, then beside the first, then in
    /// `folders`. What may not be reached is kept in `outside`.
    std::function<std::optional<std::string>(const std::string& name, const std::string& from)> include;
    std::shared_ptr<std::optional<Message>> outside = std::make_shared<std::optional<Message>>();

    SourceTexts() = default;
    SourceTexts(SourceTexts&&) = default;
    SourceTexts& operator=(SourceTexts&&) = default;
    SourceTexts(const SourceTexts&) = delete;
    SourceTexts& operator=(const SourceTexts&) = delete;
};

/// Errors: the disk's. Without `reach`, files in the first file's folder and below it may be included.
[[nodiscard]] Result<std::unique_ptr<SourceTexts>> load_sources(Disk& disk, const std::vector<std::string>& paths,
                                                                const Reach* reach,
                                                                const std::vector<std::string>& folders);

}  // namespace kp
