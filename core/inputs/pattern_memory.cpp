// SPDX-License-Identifier: GPL-3.0-or-later
// The name of a file is a portable form of the pattern's; two names that give the same form are one pattern.
#include "core/inputs/pattern_memory.hpp"

#include "core/format/json/json_text.hpp"
#include "core/base/names.hpp"
#include "core/base/text.hpp"
#include "core/format/csv/csv.hpp"
#include "core/format/lines/pattern_json.hpp"

#include <algorithm>

namespace kp {

std::vector<lines::Pattern> PatternMemory::all() const {
    std::vector<lines::Pattern> out;
    if (folder_.empty()) return out;
    for (const auto& path : disk_.list(below(), ".json"))
        if (const auto text = disk_.read(path, size_t{1} << 20))
            if (auto pattern = lines::read_pattern(text.value(), path)) out.push_back(pattern.take());
    std::sort(out.begin(), out.end(), [](const auto& a, const auto& b) { return a.name < b.name; });
    return out;
}

Status PatternMemory::keep(const lines::Pattern& pattern) {
    const auto stop = [](const char* text) { return Message{Severity::stop, Code::lines, text}; };
    if (trim(pattern.name).empty()) return stop("Give the pattern a name.");
    if (folder_.empty()) return stop("There is no folder for this user's settings; set HOME or KITE_PEG_USER.");
    if (auto status = disk_.make_folder(below()); !status) return status;
    return replace_file(disk_, below() + "/" + portable_name(pattern.name) + ".json",
                        write_json(lines::pattern_json(pattern)));
}

std::string sheet_of(const lines::Reading& reading, const StandardTable& standards) {
    std::vector<std::string> columns{"port"};
    for (const char* field : {"pin", "standard", "drive", "slew", "pull"})
        if (std::any_of(reading.joined.begin(), reading.joined.end(),
                        [&](const auto& s) { return s.values.contains(field); }))
            columns.emplace_back(field);
    std::string out = csv_row(columns);
    for (const auto& s : reading.joined) {
        std::vector<std::string> row{lines::square_brackets(s.port)};
        for (size_t i = 1; i < columns.size(); ++i) {
            const auto at = s.values.find(columns[i]);
            auto value = at == s.values.end() ? std::string() : at->second;
            if (columns[i] == "standard" && !standards.find(value))
                if (const auto likely = lines::likely_standard(value, standards); !likely.empty()) value = likely;
            row.push_back(std::move(value));
        }
        out += csv_row(row);
    }
    return out;
}

}  // namespace kp
