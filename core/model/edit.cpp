// SPDX-License-Identifier: GPL-3.0-or-later
// Apply all or none: a change that does not fit lets those before it be taken back. Fields go by the table of
// core/model/project.cpp.
#include "core/model/edit.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <map>
#include <type_traits>

namespace kp {

namespace {

Message stale(const std::string& what) {
    return {Severity::stop, Code::stale_edit, what + " is no longer as this edit found it; nothing was changed."};
}

const ProjectField* field_of(const std::string& name) {
    return field_with(project_fields(), name);
}

std::string text_of(const std::string& value) {
    return value;
}
std::string text_of(const std::vector<std::string>& value) {
    return lines_of(value);
}
std::string text_of(const std::map<std::string, std::string>& value) {
    std::vector<std::string> lines;
    for (const auto& [key, text] : value) lines.push_back(text.empty() ? key : key + "=" + text);
    return lines_of(lines);
}

void take_text(std::string& value, const std::string& text) {
    value = text;
}
void take_text(std::vector<std::string>& value, const std::string& text) {
    value = list_of(text);
}
void take_text(std::map<std::string, std::string>& value, const std::string& text) {
    value.clear();
    for (const auto& line : list_of(text)) {
        const auto equals = line.find('=');
        value[line.substr(0, equals)] = equals == std::string::npos ? "" : line.substr(equals + 1);
    }
}

struct Applier {
    Project& p;

    Status operator()(const PegChange& c) const {
        const auto at = p.pegs.find(c.port);
        const std::optional<Peg> now = at == p.pegs.end() ? std::nullopt : std::optional<Peg>(at->second);
        if (now != c.before) return stale("The peg of " + c.port);
        if (c.after)
            p.pegs[c.port] = *c.after;
        else
            p.pegs.erase(c.port);
        return Done{};
    }
    Status operator()(const AttributeChange& c) const {
        const auto at = p.attributes.find(c.port);
        if ((at == p.attributes.end() ? PortAttributes{} : at->second) != c.before)
            return stale("The choice for " + c.port);
        if (c.after.empty())
            p.attributes.erase(c.port);
        else
            p.attributes[c.port] = c.after;
        return Done{};
    }
    Status operator()(const TextChange& c) const {
        for (auto& file : p.constraints) {
            if (file.path != c.file) continue;
            if (c.offset > file.text.size() || file.text.compare(c.offset, c.before.size(), c.before) != 0)
                return stale(c.file);
            file.text.replace(c.offset, c.before.size(), c.after);
            return Done{};
        }
        return stale(c.file);
    }
    Status operator()(const WaiverChange& c) const {
        const auto at = std::find(p.waivers.begin(), p.waivers.end(), c.waiver);
        if (c.add)
            p.waivers.push_back(c.waiver);
        else if (at == p.waivers.end())
            return stale("The waiver of " + c.waiver.rule);
        else
            p.waivers.erase(at);
        return Done{};
    }
    Status operator()(const FieldChange& c) const {
        const auto* field = field_of(c.field);
        if (!field || field_text(p, c.field) != c.before) return stale(said("The field '{}'", c.field));
        std::visit(
            [&](auto member) {
                if constexpr (requires { take_text(p.*member, c.after); }) take_text(p.*member, c.after);
            },
            field->member);
        return Done{};
    }

    Status operator()(const SdcFileChange& c) const {
        auto at = p.constraints.end();
        if (c.before) {
            at = std::find(p.constraints.begin(), p.constraints.end(), *c.before);
            if (at == p.constraints.end()) return stale(c.before->path);
        } else if (c.after && std::any_of(p.constraints.begin(), p.constraints.end(),
                                          [&](const SdcFile& f) { return f.path == c.after->path; })) {
            return stale(c.after->path);
        }
        if (c.before && c.after)
            *at = *c.after;
        else if (c.before)
            p.constraints.erase(at);
        else if (c.after)
            p.constraints.push_back(*c.after);
        return Done{};
    }
};

}  // namespace

std::string lines_of(const std::vector<std::string>& list) {
    std::string out;
    for (const auto& entry : list) out += (out.empty() ? "" : "\n") + entry;
    return out;
}

std::vector<std::string> list_of(const std::string& lines) {
    std::vector<std::string> out;
    for (const auto line : split(lines, '\n'))
        if (!line.empty()) out.emplace_back(line);
    return out;
}

std::string field_text(const Project& project, const std::string& name) {
    const auto* field = field_of(name);
    if (!field) return {};
    return std::visit(
        [&](auto member) -> std::string {
            if constexpr (requires { text_of(project.*member); }) return text_of(project.*member);
            return {};
        },
        field->member);
}

std::string field_text(const std::map<std::string, std::string>& values) {
    return text_of(values);
}

std::string field_text(const std::vector<std::string>& values) {
    return text_of(values);
}

FieldChange set_field(const Project& project, const std::string& field, const std::string& text) {
    return {field, field_text(project, field), text};
}

Edit Edit::inverse() const {
    Edit back{title, {}};
    for (auto at = changes.rbegin(); at != changes.rend(); ++at) {
        Change change = *at;
        std::visit(
            [](auto& c) {
                if constexpr (requires { c.add; })
                    c.add = !c.add;
                else
                    std::swap(c.before, c.after);
            },
            change);
        back.changes.push_back(std::move(change));
    }
    return back;
}

Status apply(Project& project, const Edit& edit) {
    for (size_t done = 0; done < edit.changes.size(); ++done) {
        auto status = std::visit(Applier{project}, edit.changes[done]);
        if (status) continue;
        const Edit back =
            Edit{edit.title, {edit.changes.begin(), edit.changes.begin() + static_cast<long>(done)}}.inverse();
        for (const auto& change : back.changes) (void)std::visit(Applier{project}, change);
        return status;
    }
    return Done{};
}

Touched touched(const Edit& edit) {
    Touched t;
    for (const auto& change : edit.changes) {
        t.pegs |= std::holds_alternative<PegChange>(change) || std::holds_alternative<AttributeChange>(change);
        t.text |= std::holds_alternative<TextChange>(change) || std::holds_alternative<SdcFileChange>(change);
        t.waivers |= std::holds_alternative<WaiverChange>(change);
        if (const auto* field = std::get_if<FieldChange>(&change)) {
            const auto* known = field_of(field->field);
            const auto brings = known ? known->brings : ProjectField::world;
            t.settings |= brings == ProjectField::rules;
            t.inputs |= brings == ProjectField::world;
        }
    }
    return t;
}

}  // namespace kp
