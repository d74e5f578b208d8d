// SPDX-License-Identifier: GPL-3.0-or-later
// One table of fields for each stored value. Reading and writing of files, journal and log, edits, comparison and the
// test of the schemas go by it, so that a new field is one line beside its member.
#pragma once

#include <map>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <type_traits>
#include <variant>
#include <vector>

namespace kp {

template <class T>
using Member =
    std::variant<std::string T::*, bool T::*, int T::*, double T::*, std::optional<double> T::*,
                 std::vector<std::string> T::*, std::vector<double> T::*, std::map<std::string, std::string> T::*>;

/// How a field stands in a file.
enum class Presence {
    required,  ///< a file without it is refused; it is always written
    always,    ///< may be missing when read; always written
    if_set,    ///< written when it says something, or when the file had it
    apart,     ///< read and written by a function of its own
};

template <class T>
struct Field {
    const char* key;  ///< in files; never changes once shipped
    Member<T> member;
    Presence presence = Presence::if_set;
    const char* unit = "";   ///< of a number
    const char* words = "";  ///< what it may say, with '|' between; empty: anything
};

/// The line of a table with a key; null when there is none.
template <class F>
[[nodiscard]] const F* field_with(std::span<const F> table, std::string_view key) {
    for (const auto& f : table)
        if (key == f.key) return &f;
    return nullptr;
}

/// True when a member says nothing: an empty text or list, a number that is 0, no number, a flag that is not set.
template <class T>
[[nodiscard]] bool says_nothing(const T& of, const Member<T>& member) {
    return std::visit(
        [&](auto m) {
            const auto& value = of.*m;
            if constexpr (requires { value.empty(); })
                return value.empty();
            else if constexpr (requires { value.has_value(); })
                return !value.has_value();
            else
                return value == std::remove_cvref_t<decltype(value)>{};
        },
        member);
}

}  // namespace kp
