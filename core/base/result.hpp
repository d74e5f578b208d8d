// SPDX-License-Identifier: GPL-3.0-or-later
// A value, or the messages that say why there is none. Costs one pointer-sized vector when all is well.
#pragma once

#include "core/base/message_code.hpp"

#include <cstdint>
#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace kp {

/// How serious something is: a stop blocks the handoff (or the reading), a caution may hurt, a note informs.
enum class Severity { stop, caution, note };

/// "stop", "caution" or "note".
[[nodiscard]] const char* name_of(Severity severity);

/// What a message or a finding speaks of.
struct Subject {
    enum Kind : std::uint8_t {
        port,
        pin,
        bank,
        terminal,
        clock,
        constraint,
        board,
        part,
        mode,
        bus,
        cell,
        endpoint,
        check,
        file,
        folder,
        called,
        link,  ///< of lanes
        lane,
        waived,  ///< the object of a waiver whose finding is gone
    };
    Kind kind = port;
    std::string name;
    std::string meant = {};  ///< a name that is known and near, when this one is not
    bool operator==(const Subject&) const = default;
};
/// "port", as JSON has it.
[[nodiscard]] const char* word_of(Subject::Kind kind);

/// One sentence about an input, with the place it speaks of. `line` and `column` count from 1; 0 means "the whole
/// file". Whoever acts on a message asks for its code and subjects; the text is for people.
struct Message {
    Severity severity = Severity::stop;
    Code code = Code::file;
    std::string text;  ///< what is wrong and what to do, without the place
    std::string file;
    int line = 0;
    int column = 0;
    std::vector<Subject> subjects = {};

    /// "file:line:column: text", leaving out what is not known.
    [[nodiscard]] std::string sentence() const;
    bool operator==(const Message&) const = default;
};

/// Either a T or at least one message of severity stop; cautions and notes may come along with a value.
template <class T>
class [[nodiscard]] Result {
public:
    Result(T value, std::vector<Message> notes = {}) : value_(std::move(value)), messages_(std::move(notes)) {}
    Result(Message why) { messages_.push_back(std::move(why)); }
    Result(std::vector<Message> why) : messages_(std::move(why)) {}

    [[nodiscard]] bool ok() const { return value_.has_value(); }
    explicit operator bool() const { return ok(); }
    [[nodiscard]] T& value() { return *value_; }
    [[nodiscard]] const T& value() const { return *value_; }
    [[nodiscard]] T take() { return std::move(*value_); }
    [[nodiscard]] const std::vector<Message>& messages() const { return messages_; }
    /// The first message; only when there is one.
    [[nodiscard]] const Message& first() const { return messages_.front(); }

private:
    std::optional<T> value_;
    std::vector<Message> messages_;
};

/// The answer of something that has no value to give.
struct Done {};
using Status = Result<Done>;

}  // namespace kp
