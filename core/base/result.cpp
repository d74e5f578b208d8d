// SPDX-License-Identifier: GPL-3.0-or-later
// A message as one sentence: file, line, column, what is wrong and what to do.
#include "core/base/result.hpp"

namespace kp {

const char* name_of(Severity severity) {
    switch (severity) {
        case Severity::stop: return "stop";
        case Severity::caution: return "caution";
        case Severity::note: return "note";
    }
    return "";
}

std::string Message::sentence() const {
    std::string out = file;
    if (!file.empty() && line > 0) {
        out += ":" + std::to_string(line);
        if (column > 0) out += ":" + std::to_string(column);
    }
    return out.empty() ? text : out + ": " + text;
}

}  // namespace kp
