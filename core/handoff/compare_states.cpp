// SPDX-License-Identifier: GPL-3.0-or-later
// Commands are compared as sets of one-line texts; what is left on both sides is paired by name, in order.
#include "core/handoff/compare_states.hpp"

#include "core/base/text.hpp"
#include "core/format/json/json_text.hpp"
#include "core/format/sdc/sdc_text.hpp"
#include "core/constraints/command_list.hpp"
#include "core/model/lane_link.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cmath>
#include <set>

namespace kp {

namespace {

std::string name_of_command(const std::string& command) {
    return command.substr(0, command.find(' '));
}

std::vector<std::string> commands_of(const ComparedState& state) {
    std::vector<std::string> out;
    for (const auto& [path, text] : state.texts)
        for (const auto& span : sdc::split_commands(text, path).commands) out.push_back(on_one_line(span.of(text)));
    return out;
}

/// Takes from both lists what both have, as often as both have it.
void strike(std::vector<std::string>& a, std::vector<std::string>& b) {
    std::multiset<std::string> there(b.begin(), b.end());
    std::multiset<std::string> struck;
    std::erase_if(a, [&](const std::string& x) {
        const auto at = there.find(x);
        if (at == there.end()) return false;
        there.erase(at);
        struck.insert(x);
        return true;
    });
    std::erase_if(b, [&](const std::string& x) {
        const auto at = struck.find(x);
        if (at == struck.end()) return false;
        struck.erase(at);
        return true;
    });
}

void constraints(const ComparedState& a, const ComparedState& b, StateDifference& out) {
    auto mine = commands_of(a), theirs = commands_of(b);
    strike(mine, theirs);
    for (const auto& command : mine) {
        const auto name = name_of_command(command);
        const auto other = std::find_if(theirs.begin(), theirs.end(),
                                        [&](const std::string& c) { return name_of_command(c) == name; });
        StateDifference::Change change{name, "", command, std::nullopt};
        if (other != theirs.end()) {
            change.b = *other;
            theirs.erase(other);
        }
        out.constraints.push_back(std::move(change));
    }
    for (const auto& command : theirs) out.constraints.push_back({name_of_command(command), "", std::nullopt, command});
}

void ports(const ComparedState& a, const ComparedState& b, StateDifference& out) {
    std::set<std::string> names;
    for (const auto* s : {&a, &b}) {
        for (const auto& [port, peg] : s->pegs) names.insert(port);
        for (const auto& [port, attributes] : s->attributes) names.insert(port);
    }
    const auto pin = [](const ComparedState& s, const std::string& port) {
        const auto at = s.pegs.find(port);
        return at == s.pegs.end() ? std::nullopt : std::optional(at->second.pin);
    };
    const auto value = [](const ComparedState& s, const std::string& port, const AttributeField& field) {
        const auto at = s.attributes.find(port);
        const auto text = at == s.attributes.end() ? std::string() : field.of(at->second);
        return text.empty() ? std::nullopt : std::optional(text);
    };
    for (const auto& port : names) {
        if (const auto x = pin(a, port), y = pin(b, port); x != y) out.pins.push_back({port, "", x, y});
        for (const auto& field : attribute_fields()) {
            if (std::string_view(field.name) == "standard_origin") continue;
            if (const auto x = value(a, port, field), y = value(b, port, field); x != y)
                out.attributes.push_back({port, field.name, x, y});
        }
    }
}

void links(const ComparedState& a, const ComparedState& b, StateDifference& out) {
    std::set<std::string> names;
    for (const auto* s : {&a, &b})
        for (const auto& [link, lanes] : s->lanes) names.insert(link);
    const auto at = [](const ComparedState& s, const std::string& link) {
        const auto found = s.lanes.find(link);
        return found == s.lanes.end() ? std::nullopt : std::optional(found->second);
    };
    for (const auto& link : names)
        if (const auto x = at(a, link), y = at(b, link); x != y) out.lanes.push_back({link, "", x, y});
}

void slacks(const ComparedState& a, const ComparedState& b, StateDifference& out) {
    constexpr double same = 5e-5;
    std::set<std::pair<std::string, std::string>> keys;
    for (const auto* s : {&a, &b})
        for (const auto& [key, slack] : s->slack) keys.insert(key);
    for (const auto& key : keys) {
        const auto x = a.slack.find(key), y = b.slack.find(key);
        const auto first = x == a.slack.end() ? std::nullopt : std::optional(x->second),
                   second = y == b.slack.end() ? std::nullopt : std::optional(y->second);
        if (first && second && std::fabs(*first - *second) <= same) continue;
        out.slack.push_back({key.first, key.second, first, second});
    }
}

}  // namespace

StateDifference compare_states(const ComparedState& a, const ComparedState& b) {
    StateDifference out;
    ports(a, b, out);
    links(a, b, out);
    constraints(a, b, out);
    slacks(a, b, out);
    out.gone_messages = a.messages;
    out.new_messages = b.messages;
    strike(out.gone_messages, out.new_messages);
    return out;
}

ComparedState state_of(const Project& project, const Analysis& analysis, const std::vector<Finding>& findings) {
    ComparedState out;
    out.pegs = project.pegs;
    out.attributes = project.attributes;
    for (const auto& f : project.constraints) out.texts[f.path] = f.text;
    for (const auto& line : project.links) {
        const auto link = link_of(line);
        auto& lanes = out.lanes[link.name];
        for (const auto& lane : link.at) lanes += (lanes.empty() ? "" : ", ") + lane;
    }
    for (const auto& e : analysis.timing().endpoints) {
        const auto [at, fresh] = out.slack.try_emplace({e.check, e.endpoint}, e.slack);
        if (!fresh) at->second = std::min(at->second, e.slack);
    }
    for (const auto& f : findings) out.messages.push_back(f.rule + ": " + f.text);
    for (const auto& m : analysis.constraints().messages) out.messages.push_back(m.text);
    for (const auto& m : analysis.timing().messages) out.messages.push_back(m.text);
    return out;
}

Result<ComparedState> state_of_timing(const std::string& text, const std::string& file) {
    const auto refuse = [&](const std::string& why) { return Message{Severity::stop, Code::compare, why, file}; };
    const auto j = parse_json(text);
    if (!j || !j->is_object() || !j->contains("schema") || j->at("schema") != "kitepeg.timing/1")
        return refuse("This is neither a project nor a result of kpeg time (kitepeg.timing/1).");
    ComparedState out;
    // All endpoints where they were asked for, else those of the paths.
    for (const char* list : {"paths", "endpoints"}) {
        if (!j->contains(list) || !j->at(list).is_array()) continue;
        for (const auto& e : j->at(list)) {
            if (!e.is_object() || !e.contains("slack") || !e.at("slack").is_number() || !e.contains("endpoint") ||
                !e.at("endpoint").is_string() || !e.contains("check") || !e.at("check").is_string())
                return refuse(said("An entry of '{}' has no check, endpoint and slack.", list));
            const double slack = e.at("slack").get<double>();
            const auto [at, fresh] = out.slack.try_emplace(
                {e.at("check").get<std::string>(), from_json_safe(e.at("endpoint").get<std::string>())}, slack);
            if (!fresh) at->second = std::min(at->second, slack);
        }
    }
    if (j->contains("messages") && j->at("messages").is_array())
        for (const auto& m : j->at("messages"))
            if (m.is_object() && m.contains("text") && m.at("text").is_string())
                out.messages.push_back(from_json_safe(m.at("text").get<std::string>()));
    return out;
}

}  // namespace kp
