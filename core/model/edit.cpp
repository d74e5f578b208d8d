// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/model/edit.hpp"

#include "core/base/text.hpp"

#include <algorithm>
#include <map>
#include <type_traits>

namespace kp {

namespace {

Message stale(const std::string& what) {
    return {Severity::stop, "stale-edit", what + " is no longer as this edit found it; nothing was changed.", "", 0, 0};
}

/// Where a field of this name is: a text, a list, or named texts. All null for an unknown one.
template <class P>
struct Field {
    template <class T>
    using Ref = std::conditional_t<std::is_const_v<P>, const T, T>*;
    Ref<std::string> text = nullptr;
    Ref<std::vector<std::string>> list = nullptr;
    Ref<std::map<std::string, std::string>> pairs = nullptr;
    [[nodiscard]] bool known() const { return text || list || pairs; }
};
template <class P>
Field<P> field_of(P& p, const std::string& name) {
    Field<P> f;
    // field_names() has them all.
    f.text = name == "name"          ? &p.name
             : name == "part"        ? &p.part
             : name == "board"       ? &p.board
             : name == "top"         ? &p.top
             : name == "delays"      ? &p.delays
             : name == "pin_report"  ? &p.pin_report
             : name == "mode"        ? &p.mode
             : name == "start_clock" ? &p.start_clock
             : name == "load"        ? &p.load
             : name == "unused_pins" ? &p.unused_pins
                                     : nullptr;
    f.list = name == "netlists"    ? &p.netlists
             : name == "libraries" ? &p.libraries
             : name == "sources"   ? &p.sources
             : name == "modules"   ? &p.modules
             : name == "ports"     ? &p.ports
                                   : nullptr;
    f.pairs = name == "defines" ? &p.defines : name == "parameters" ? &p.parameters : nullptr;
    return f;
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
        const auto field = field_of(p, c.field);
        if (!field.known() || field_text(p, c.field) != c.before) return stale("The field '" + c.field + "'");
        if (field.text) *field.text = c.after;
        if (field.list) *field.list = list_of(c.after);
        if (!field.pairs) return Done{};
        field.pairs->clear();
        for (const auto& line : list_of(c.after))
            (*field.pairs)[line.substr(0, line.find('='))] =
                line.find('=') == std::string::npos ? "" : line.substr(line.find('=') + 1);
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

std::span<const char* const> field_names() {
    static constexpr const char* names[] = {"name",    "part",        "board", "top",         "delays",    "pin_report",
                                            "mode",    "start_clock", "load",  "unused_pins", "netlists",  "libraries",
                                            "sources", "modules",     "ports", "defines",     "parameters"};
    return names;
}

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
    const auto field = field_of(project, name);
    if (field.text) return *field.text;
    if (field.list) return lines_of(*field.list);
    std::vector<std::string> lines;
    if (field.pairs)
        for (const auto& [key, value] : *field.pairs) lines.push_back(value.empty() ? key : key + "=" + value);
    return lines_of(lines);
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
            const auto& f = field->field;
            const bool setting = f == "mode" || f == "start_clock" || f == "load" || f == "unused_pins";
            t.settings |= setting;
            t.inputs |= f != "ports" && f != "name" && !setting;
        }
    }
    return t;
}

}  // namespace kp
