// SPDX-License-Identifier: GPL-3.0-or-later
// Messages know lines, commands know bytes: a command is out when one of its lines is told.
#include "core/format/sdc/subset.hpp"

#include "core/format/sdc/sdc_text.hpp"

#include <algorithm>
#include <set>

namespace kp::sdc {

std::string standard_subset(const std::string& text, const std::string& file, const std::vector<Message>& messages) {
    std::set<int> lines;
    for (const auto& m : messages)
        if (m.code == Code::not_portable && m.file == file) lines.insert(m.line);
    if (lines.empty()) return text;
    std::string out;
    size_t copied = 0;
    int line = 1;
    size_t counted = 0;
    const auto line_of = [&](size_t offset) {
        line += static_cast<int>(
            std::count(text.begin() + static_cast<long>(counted), text.begin() + static_cast<long>(offset), '\n'));
        counted = offset;
        return line;
    };
    for (const auto& command : split_commands(text, file).commands) {
        const int first = line_of(command.begin), last = line_of(command.end);
        const auto told = lines.lower_bound(first);
        if (told == lines.end() || *told > last) continue;
        out.append(text, copied, command.begin - copied);
        // A command behind another one on its line starts a comment of its own.
        const auto before = text.find_last_not_of(" \t", command.begin == 0 ? 0 : command.begin - 1);
        if (command.begin > 0 && before != std::string::npos && text[before] != '\n') out += '\n';
        out += "# not standard SDC: ";
        for (size_t i = command.begin; i < command.end; ++i) {
            // A backslash at the end of a comment would take the next line with it.
            if (text[i] == '\\' && i + 1 < text.size() && (text[i + 1] == '\n' || text[i + 1] == '\r')) continue;
            out += text[i];
            if (text[i] == '\n') out += "# ";
        }
        copied = command.end;
        // What follows on the same line is another command, or the end of it.
        if (copied < text.size() && text[copied] == ';') {
            ++copied;
            out += '\n';
        }
    }
    return out.append(text, copied);
}

}  // namespace kp::sdc
