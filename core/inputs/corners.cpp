// SPDX-License-Identifier: GPL-3.0-or-later
// Words between commas, a name first; factors and members are checked here, files where they are read.
#include "core/inputs/corners.hpp"

#include "core/base/text.hpp"
#include "core/timing/engine.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <array>

namespace kp {

namespace {

constexpr std::array<const char*, 3> members{"min", "typ", "max"};

Message wrong_corner(const std::string& text, const std::string& why) {
    return {Severity::stop, Code::arguments, said("--corner {}: {}; a corner is {}.", text, why, corner_form)};
}

bool take_member(const std::string& value, int& into) {
    const auto at = std::find(members.begin(), members.end(), value);
    if (at == members.end()) return false;
    into = static_cast<int>(at - members.begin());
    return true;
}

bool take_factor(const std::string& value, double& into) {
    const auto factor = to_number(value);
    if (!factor || !(*factor > 0)) return false;
    into = *factor;
    return true;
}

bool take_path(const std::string& value, std::string& into) {
    into = value;
    return !value.empty();
}

bool take(CornerSpec& c, const std::string& key, const std::string& value) {
    if (key == "sdf") return take_path(value, c.sdf);
    if (key == "lib") return take_path(value, c.library);
    if (key == "early") return take_member(value, c.early);
    if (key == "late") return take_member(value, c.late);
    if (key == "early-factor") return take_factor(value, c.early_factor);
    return key == "late-factor" && take_factor(value, c.late_factor);
}

}  // namespace

Result<CornerSpec> parse_corner(const std::string& text, const CornerSpec& otherwise) {
    CornerSpec c = otherwise;
    c.name.clear();
    for (const auto word : split(text, ',')) {
        const auto equals = word.find('=');
        const bool bare = equals == std::string_view::npos;
        if (c.name.empty() && bare && !word.empty())
            c.name = word;
        else if (bare || !take(c, std::string(word.substr(0, equals)), std::string(word.substr(equals + 1))))
            return wrong_corner(text, said("'{}' is not understood", word));
    }
    if (c.name.empty()) return wrong_corner(text, "it has no name");
    return c;
}

Result<std::vector<CornerSpec>> parse_corners(const std::vector<std::string>& texts, const CornerSpec& otherwise) {
    std::vector<CornerSpec> out;
    for (const auto& text : texts) {
        auto c = parse_corner(text, otherwise);
        if (!c) return c.messages();
        for (const auto& other : out)
            if (other.name == c.value().name) return wrong_corner(other.name, "two corners have this name");
        out.push_back(c.take());
    }
    return out;
}

std::string text_of(const CornerSpec& c) {
    std::string out = c.name;
    if (!c.sdf.empty()) out += ",sdf=" + c.sdf;
    if (!c.library.empty()) out += ",lib=" + c.library;
    if (c.early != 0) out += std::string(",early=") + members[static_cast<size_t>(c.early)];
    if (c.late != 2) out += std::string(",late=") + members[static_cast<size_t>(c.late)];
    if (c.early_factor != 1) out += ",early-factor=" + shortest(c.early_factor);
    if (c.late_factor != 1) out += ",late-factor=" + shortest(c.late_factor);
    return out;
}

std::vector<TimingCorner> timing_corners(const std::vector<ProjectCorner>& corners, const DelayFile* delays) {
    std::vector<TimingCorner> out;
    for (const auto& c : corners) {
        TimingCorner t;
        t.name = c.spec.name;
        t.library = c.library ? &*c.library : nullptr;
        t.delays = c.delays ? &*c.delays : delays;
        t.early_member = c.spec.early;
        t.late_member = c.spec.late;
        t.early_factor = c.spec.early_factor;
        t.late_factor = c.spec.late_factor;
        out.push_back(std::move(t));
    }
    return out;
}

}  // namespace kp
