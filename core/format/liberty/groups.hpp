// SPDX-License-Identifier: GPL-3.0-or-later
// Liberty text as a tree of groups and attributes, before anything is understood.
#pragma once

#include "core/base/result.hpp"

#include <string>
#include <string_view>
#include <vector>

namespace kp::liberty {

struct Attribute {
    std::string_view name;
    std::vector<std::string> values;  ///< quotes taken off, line joins removed
    size_t offset = 0;
};

struct Group {
    std::string_view kind;
    std::vector<std::string> arguments;
    std::vector<Attribute> attributes;
    std::vector<Group> groups;
    size_t offset = 0;

    /// First value of an attribute; empty text when it is missing.
    [[nodiscard]] std::string get(std::string_view name) const;
    [[nodiscard]] const Attribute* find(std::string_view name) const;
    [[nodiscard]] const Group* group(std::string_view kind) const;
};

/// Errors: syntax; nesting beyond 30 groups.
[[nodiscard]] Result<Group> parse_groups(std::string_view text, const std::string& file);

}  // namespace kp::liberty
