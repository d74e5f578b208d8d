// SPDX-License-Identifier: GPL-3.0-or-later
// A text by a learned pattern: rows, signals, what was not understood; and the text again with other lines active.
#pragma once

#include "core/format/lines/pattern.hpp"
#include "core/model/netlist.hpp"
#include "core/model/project.hpp"
#include "core/model/standards.hpp"

#include <map>
#include <string>
#include <string_view>
#include <vector>

namespace kp::lines {

/// One line that a shape fits. Values are ours: prefix of pins taken off, spellings applied; `port` as it is written.
struct Row {
    int line = 0;  ///< from 1
    int shape = 0;
    bool commented = false;
    std::map<std::string, std::string> values;
    Value port;       ///< where its name stands, in bytes of the line
    size_t tail = 0;  ///< where words begin that no shape has, in a commented line; 0: there are none
};

/// All lines of one name together. Active lines win over commented ones.
struct Signal {
    std::string port;
    bool commented = true;  ///< none of its lines is active
    std::map<std::string, std::string> values;
    std::vector<size_t> rows;
};

struct Unread {
    int line = 0;
    std::string text, why;
};

struct Reading {
    std::vector<Row> rows;
    std::vector<Signal> joined;  ///< in the order in which they first appear
    std::vector<Unread> unread;  ///< lines that fit no shape, but for blanks and for comments that are prose
    std::vector<Message> messages;
};

/// Reads a text. Errors: those of Matcher::make; a text of more than 2,000,000 lines or a line of more than 100,000
/// bytes.
[[nodiscard]] Result<Reading> read(const Pattern& pattern, std::string_view text, const std::string& file);

/// Which signals a project uses: by their pin, if a port is pegged there, else by their name, if that port is adrift.
/// The first signal of a port is its own, others stay unused. Returns, for each signal, the port or an empty text.
[[nodiscard]] std::vector<std::string> used_by(const Reading& reading, const std::vector<Port>& ports,
                                               const Project& project);

/// The text with the lines of used signals active and named as the project names them, the others commented or, unless
/// `keep_unused`, left out. Every other byte stays.
[[nodiscard]] std::string rewrite(const Pattern& pattern, std::string_view text, const Reading& reading,
                                  const std::vector<std::string>& used, bool keep_unused);

/// The standard of ours that a spelling likely means, by its family and voltage; empty when none or several could be.
[[nodiscard]] std::string likely_standard(std::string_view theirs, const StandardTable& standards);

}  // namespace kp::lines
