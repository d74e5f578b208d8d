// SPDX-License-Identifier: GPL-3.0-or-later
// get_ports and its relatives: names and patterns to objects.
#pragma once

#include "core/format/sdc/words.hpp"

#include <optional>
#include <regex>
#include <string>
#include <vector>

namespace kp::sdc {

struct QueryOptions {
    bool regexp = false, no_case = false;
};

/// A name to look for: with * and ?, or a regular expression; one that is none matches nothing.
class NamePattern {
public:
    NamePattern(const std::string& pattern, const QueryOptions& options);
    bool operator()(const std::string& name) const;
    /// False for a regular expression that is none, or longer than 1,000 characters.
    [[nodiscard]] bool usable() const { return !options_.regexp || expression_.has_value(); }

private:
    std::string pattern_;
    QueryOptions options_;
    std::optional<std::regex> expression_;
};

/// Objects of one kind whose name matches; a bus name without index stands for all its bits. In order of the netlist.
[[nodiscard]] std::vector<std::uint32_t> find_objects(const Netlist& netlist, const NetlistIndex& index,
                                                      ObjectKind kind, const std::string& pattern,
                                                      const QueryOptions& options);
/// The nearest existing name of that kind, for "did you mean".
/// `command` narrows ports to those it can be about: no output as the source of a clock or as a place that data come in
/// by.
[[nodiscard]] std::string nearest_object(const Netlist& netlist, ObjectKind kind, const std::string& name,
                                         std::string_view command = {});
[[nodiscard]] std::string object_name(const Netlist& netlist, ObjectKind kind, std::uint32_t id);
/// Objects of `wanted` that belong to `of`: pins of a cell or net, cells of a pin or net, nets of a pin, cell or port,
/// ports of a net.
[[nodiscard]] std::vector<std::uint32_t> objects_of(const Netlist& netlist, ObjectKind wanted, const Element& of);

}  // namespace kp::sdc
