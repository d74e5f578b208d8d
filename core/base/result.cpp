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

const char* word_of(Subject::Kind kind) {
    switch (kind) {
        case Subject::port: return "port";
        case Subject::pin: return "pin";
        case Subject::bank: return "bank";
        case Subject::terminal: return "terminal";
        case Subject::clock: return "clock";
        case Subject::constraint: return "constraint";
        case Subject::board: return "board";
        case Subject::part: return "part";
        case Subject::mode: return "mode";
        case Subject::bus: return "bus";
        case Subject::cell: return "cell";
        case Subject::endpoint: return "endpoint";
        case Subject::check: return "check";
        case Subject::file: return "file";
        case Subject::folder: return "folder";
        case Subject::called: return "name";
        case Subject::link: return "link";
        case Subject::lane: return "lane";
        case Subject::waived: return "waived";
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
