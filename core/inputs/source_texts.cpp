// SPDX-License-Identifier: GPL-3.0-or-later
// Files are read once; an include is read when it is asked for, within the reach of the project.
#include "core/inputs/source_texts.hpp"

#include "core/base/bytes.hpp"
#include "core/base/text.hpp"

namespace kp {

namespace {
constexpr size_t largest_source = size_t{64} << 20;
}

Result<std::unique_ptr<SourceTexts>> load_sources(Disk& disk, const std::vector<std::string>& paths, const Reach* given,
                                                  const std::vector<std::string>& folders) {
    auto out = std::make_unique<SourceTexts>();
    for (const auto& path : paths) {
        auto text = disk.read(path, largest_source);
        if (!text) return text.messages();
        out->texts.push_back(text.take());
    }
    for (size_t i = 0; i < paths.size(); ++i) out->sources.push_back({paths[i], out->texts[i]});
    const std::string first = paths.empty() ? "." : paths[0];
    const Reach reach = given ? *given : Reach(disk, folder_of(first), {});
    out->include = [&disk, reach, first, folders, outside = out->outside](
                       const std::string& name, const std::string& from) -> std::optional<std::string> {
        if (name.empty()) return std::nullopt;
        std::vector<std::string> places{folder_of(from), folder_of(first)};
        places.insert(places.end(), folders.begin(), folders.end());
        for (const auto& folder : places) {
            const auto path = join_path(folder, name);
            if (!disk.exists(path)) continue;
            if (auto why = reach.refuse(path)) {
                *outside = std::move(why);
                continue;
            }
            if (auto text = disk.read(path, largest_source)) return std::string(without_mark(text.value()));
        }
        return std::nullopt;
    };
    return out;
}

}  // namespace kp
