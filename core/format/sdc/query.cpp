// SPDX-License-Identifier: GPL-3.0-or-later
// Objects by pattern. A pattern without wildcards is a look-up; others walk the names of their kind once.
#include "core/format/sdc/query.hpp"

#include "core/base/text.hpp"

#include <algorithm>
#include <regex>

namespace kp::sdc {

namespace {

size_t count(const Netlist& n, ObjectKind kind) {
    switch (kind) {
        case ObjectKind::port: return n.ports.size();
        case ObjectKind::pin: return n.pins.size();
        case ObjectKind::cell: return n.cells.size();
        case ObjectKind::net: return n.net_names.size();
        case ObjectKind::clock: return 0;
    }
    return 0;
}

std::uint32_t find_one(const NetlistIndex& index, ObjectKind kind, const std::string& name) {
    return kind == ObjectKind::port   ? index.port(name)
           : kind == ObjectKind::pin  ? index.pin(name)
           : kind == ObjectKind::cell ? index.cell(name)
                                      : index.net(name);
}

}  // namespace

std::string object_name(const Netlist& n, ObjectKind kind, std::uint32_t id) {
    switch (kind) {
        case ObjectKind::port: return n.ports[id].name;
        case ObjectKind::pin: return n.pin_name(id);
        case ObjectKind::cell: return n.cell_names[id];
        case ObjectKind::net: return n.net_names[id];
        case ObjectKind::clock: return {};
    }
    return {};
}

NamePattern::NamePattern(const std::string& pattern, const QueryOptions& options)
    : pattern_(pattern), options_(options) {
    // std::regex recurses per character; names and patterns are short, and the child process has its limits.
    if (!options.regexp || pattern.size() > 1000) return;
    try {
        expression_.emplace(pattern,
                            options.no_case ? std::regex::ECMAScript | std::regex::icase : std::regex::ECMAScript);
    } catch (const std::regex_error&) {
    }
}

bool NamePattern::operator()(const std::string& name) const {
    if (options_.regexp) return expression_ && std::regex_match(name, *expression_);
    return glob_match(pattern_, name, options_.no_case);
}

std::vector<std::uint32_t> find_objects(const Netlist& n, const NetlistIndex& index, ObjectKind kind,
                                        const std::string& pattern, const QueryOptions& options) {
    std::vector<std::uint32_t> out;
    if (!options.regexp && !options.no_case && !is_pattern(pattern)) {
        if (const auto id = find_one(index, kind, pattern); id != no_id) return {id};
        if (kind == ObjectKind::port)
            for (std::uint32_t i = 0; i < n.ports.size(); ++i)
                if (n.ports[i].bus == pattern && n.ports[i].index >= 0) out.push_back(i);
        return out;
    }
    const NamePattern matches(pattern, options);
    for (std::uint32_t i = 0; i < count(n, kind); ++i) {
        const bool whole_bus =
            kind == ObjectKind::port && n.ports[i].index >= 0 && !options.regexp && matches(n.ports[i].bus);
        if (whole_bus || matches(object_name(n, kind, i))) out.push_back(i);
    }
    return out;
}

namespace {

/// A clock or data come in by an input; an output delay is for what goes out.
bool suits(std::string_view command, Direction direction) {
    if (command == "create_clock" || command == "set_input_delay" || command == "set_driving_cell" ||
        command == "set_input_transition")
        return direction != Direction::out;
    if (command == "set_output_delay") return direction != Direction::in;
    return true;
}

}  // namespace

std::string nearest_object(const Netlist& n, ObjectKind kind, const std::string& name, std::string_view command) {
    if (count(n, kind) > 20000) return {};  // the search is linear and only a courtesy
    std::vector<std::string> names;
    for (std::uint32_t i = 0; i < count(n, kind); ++i) {
        if (kind == ObjectKind::port && !suits(command, n.ports[i].direction)) continue;
        names.push_back(object_name(n, kind, i));
        if (kind == ObjectKind::port && n.ports[i].index >= 0 &&
            (names.size() < 2 || names[names.size() - 2] != n.ports[i].bus))
            names.push_back(n.ports[i].bus);
    }
    return nearest(name, names).value_or("");
}

std::vector<std::uint32_t> objects_of(const Netlist& n, ObjectKind wanted, const Element& of) {
    std::vector<std::uint32_t> out;
    const auto add = [&](std::uint32_t id) {
        if (std::find(out.begin(), out.end(), id) == out.end()) out.push_back(id);
    };
    const auto kind = static_cast<ObjectKind>(of.kind);
    const auto pin_belongs = [&](std::uint32_t p) {
        const auto& pin = n.pins[p];
        return (kind == ObjectKind::cell && pin.cell == of.id) || (kind == ObjectKind::net && pin.net == of.id) ||
               (kind == ObjectKind::pin && p == of.id) || (kind == ObjectKind::port && pin.net == n.ports[of.id].net);
    };
    for (std::uint32_t p = 0; p < n.pins.size(); ++p) {
        if (!pin_belongs(p)) continue;
        if (wanted == ObjectKind::pin) add(p);
        if (wanted == ObjectKind::cell) add(n.pins[p].cell);
        if (wanted == ObjectKind::net) add(n.pins[p].net);
    }
    if (wanted == ObjectKind::net && kind == ObjectKind::port) add(n.ports[of.id].net);
    if (wanted == ObjectKind::port)
        for (std::uint32_t i = 0; i < n.ports.size(); ++i)
            if ((kind == ObjectKind::net && n.ports[i].net == of.id) ||
                (kind == ObjectKind::pin && n.ports[i].net == n.pins[of.id].net))
                add(i);
    return out;
}

}  // namespace kp::sdc
