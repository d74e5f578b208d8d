// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/format/json/project_json.hpp"

#include "core/base/text.hpp"

#include <algorithm>
#include <map>

namespace kp {

namespace {
std::string slot(const std::string& list, size_t i) { return list + "/" + std::to_string(i); }

constexpr std::pair<const char*, std::string Project::*> settings[] = {{"mode", &Project::mode}, {"start_clock", &Project::start_clock}, {"load", &Project::load}, {"unused_pins", &Project::unused_pins}};

void read_settings(JsonText& j, Project& p) {
    static const std::map<std::string, std::vector<std::string>> words{{"start_clock", {"internal", "external", "jtag"}}, {"load", {"stored", "volatile"}}, {"unused_pins", {"float", "pull up", "pull down", "drive low"}}};
    for (const auto& [key, field] : settings) {
        p.*field = j.text("", key, false);
        // Modes are the part's, and rule P02 knows them.
        const auto known = words.find(key);
        if (known == words.end() || (p.*field).empty() || std::find(known->second.begin(), known->second.end(), p.*field) != known->second.end()) continue;
        j.wrong("/" + std::string(key), "\"" + std::string(key) + "\" is " + list_names(known->second, 8) + ", not \"" + p.*field + "\".");
    }
}

void read_pegs(JsonText& j, Project& p) {
    for (size_t i = 0, n = j.count("", "pegs", false); i < n; ++i) {
        const auto at = slot("/pegs", i);
        const auto port = j.text(at, "port");
        Peg peg{j.text(at, "pin"), j.text(at, "state", false) == "loose" ? PegState::loose : PegState::pegged, j.text(at, "origin", false)};
        if (!p.pegs.emplace(port, peg).second) j.wrong(at, "The port " + port + " is pegged twice; a port has one pin.");
    }
}

void read_attributes(JsonText& j, Project& p) {
    for (size_t i = 0, n = j.count("", "attributes", false); i < n; ++i) {
        const auto at = slot("/attributes", i);
        PortAttributes a;
        a.standard = j.text(at, "standard", false);
        a.standard_origin = j.text(at, "standard_origin", false);
        a.drive = j.text(at, "drive", false);
        a.slew = j.text(at, "slew", false);
        a.pull = j.text(at, "pull", false);
        a.note = j.text(at, "note", false);
        a.termination = j.text(at, "termination", false);
        a.partner = j.text(at, "partner", false);
        a.pad_register = j.text(at, "pad_register", false);
        a.pad_delay = j.text(at, "pad_delay", false);
        p.attributes[j.text(at, "port")] = a;
    }
}
void read_pairs(JsonText& j, const char* key, std::map<std::string, std::string>& out) {
    if (!j.root().contains(key)) return;
    const auto& object = j.root().at(key);
    if (!object.is_object()) return j.wrong("/" + std::string(key), "\"" + std::string(key) + "\" should be an object of texts.");
    for (const auto& [name, value] : object.items()) {
        if (value.is_string()) out[name] = value.get<std::string>();
        else j.wrong("/" + std::string(key), "\"" + name + "\" should be a text.");
    }
}

/// Lists that older files do not have are only written when there is something in them.
void write_list(Json& j, const char* key, const std::vector<std::string>& list) {
    if (!list.empty() || j.contains(key)) j[key] = list;
}
void write_pairs(Json& j, const char* key, const std::map<std::string, std::string>& pairs) {
    if (pairs.empty() && !j.contains(key)) return;
    j[key] = Json::object();
    for (const auto& [name, value] : pairs) j[key][name] = value;
}

}  // namespace

Result<ProjectFile> read_project(std::string_view text, const std::string& file) {
    auto parsed = JsonText::parse(text, file, "project", 1);
    if (!parsed) return parsed.messages();
    auto& j = parsed.value();
    ProjectFile out;
    auto& p = out.project;
    p.name = j.text("", "name");
    p.part = j.text("", "part", false);
    p.board = j.text("", "board", false);
    p.top = j.text("", "top", false);
    p.netlists = j.texts("", "netlists");
    p.libraries = j.texts("", "libraries");
    p.delays = j.text("", "delays", false);
    p.pin_report = j.text("", "pin_report", false);
    read_settings(j, p);
    p.sources = j.texts("", "sources", false);
    p.modules = j.texts("", "modules", false);
    p.ports = j.texts("", "ports", false);
    read_pairs(j, "defines", p.defines);
    read_pairs(j, "parameters", p.parameters);
    for (size_t i = 0, n = j.count("", "constraints"); i < n; ++i) {
        const auto at = slot("/constraints", i);
        p.constraints.push_back({j.text(at, "path"), "", j.flag(at, "planning", true), j.flag(at, "analysis", true), j.flag(at, "handoff", true), j.flag(at, "target", false)});
    }
    read_pegs(j, p);
    read_attributes(j, p);
    for (size_t i = 0, n = j.count("", "waivers", false); i < n; ++i) {
        const auto at = slot("/waivers", i);
        p.waivers.push_back({j.text(at, "rule"), j.texts(at, "objects"), j.text(at, "reason"), j.text(at, "who", false), j.text(at, "date", false)});
    }
    if (!j.errors().empty()) return j.errors();
    out.unknown = j.root();
    return out;
}

std::string write_project(const ProjectFile& file) {
    Json j = file.unknown.is_object() ? file.unknown : Json::object();
    const auto& p = file.project;
    j["schema"] = "kitepeg.project/1";
    j["name"] = p.name;
    j["part"] = p.part;
    j["board"] = p.board;
    j["top"] = p.top;
    j["netlists"] = p.netlists;
    j["libraries"] = p.libraries;
    j["delays"] = p.delays;
    if (!p.pin_report.empty()) j["pin_report"] = p.pin_report;
    for (const auto& [key, field] : settings)
        if (!(p.*field).empty() || j.contains(key)) j[key] = p.*field;
    write_list(j, "sources", p.sources);
    write_list(j, "modules", p.modules);
    write_pairs(j, "defines", p.defines);
    write_pairs(j, "parameters", p.parameters);
    write_list(j, "ports", p.ports);
    j["constraints"] = Json::array();
    for (const auto& f : p.constraints) j["constraints"].push_back({{"path", f.path}, {"planning", f.planning}, {"analysis", f.analysis}, {"handoff", f.handoff}, {"target", f.target}});
    std::vector<std::string> ports;
    for (const auto& [port, peg] : p.pegs) ports.push_back(port);
    std::sort(ports.begin(), ports.end(), natural_less);
    j["pegs"] = Json::array();
    for (const auto& port : ports) {
        const auto& peg = p.pegs.at(port);
        j["pegs"].push_back({{"port", port}, {"pin", peg.pin}, {"state", peg.state == PegState::loose ? "loose" : "pegged"}, {"origin", peg.origin}});
    }
    ports.clear();
    for (const auto& [port, a] : p.attributes) ports.push_back(port);
    std::sort(ports.begin(), ports.end(), natural_less);
    j["attributes"] = Json::array();
    for (const auto& port : ports) {
        const auto& a = p.attributes.at(port);
        Json row{{"port", port}};
        for (const auto& [key, value] : {std::pair{"standard", &a.standard}, std::pair{"standard_origin", &a.standard_origin}, std::pair{"drive", &a.drive}, std::pair{"slew", &a.slew}, std::pair{"pull", &a.pull}, std::pair{"note", &a.note}, std::pair{"termination", &a.termination}, std::pair{"partner", &a.partner}, std::pair{"pad_register", &a.pad_register}, std::pair{"pad_delay", &a.pad_delay}})
            if (!value->empty()) row[key] = *value;
        j["attributes"].push_back(row);
    }
    j["waivers"] = Json::array();
    for (const auto& w : p.waivers) j["waivers"].push_back({{"rule", w.rule}, {"objects", w.objects}, {"reason", w.reason}, {"who", w.who}, {"date", w.date}});
    return write_json(j);
}

namespace {

Json peg_json(const std::optional<Peg>& peg) {
    if (!peg) return nullptr;
    return {{"pin", peg->pin}, {"loose", peg->state == PegState::loose}, {"origin", peg->origin}};
}
std::optional<Peg> peg_from(const Json& j) {
    if (j.is_null()) return std::nullopt;
    return Peg{j.at("pin").get<std::string>(), j.at("loose").get<bool>() ? PegState::loose : PegState::pegged, j.at("origin").get<std::string>()};
}
Json attributes_json(const PortAttributes& a) { return Json::array({a.standard, a.drive, a.slew, a.pull, a.note, a.standard_origin, a.termination, a.partner, a.pad_register, a.pad_delay}); }
PortAttributes attributes_from(const Json& j) {
    // A journal of an older version has six.
    const auto text = [&](size_t i) { return i < 6 || i < j.size() ? j.at(i).get<std::string>() : std::string(); };
    return {text(0), text(1), text(2), text(3), text(4), text(5), text(6), text(7), text(8), text(9)};
}

Json file_json(const std::optional<SdcFile>& f) {
    if (!f) return nullptr;
    return {{"path", f->path}, {"text", f->text}, {"planning", f->planning}, {"analysis", f->analysis}, {"handoff", f->handoff}, {"target", f->target}};
}
std::optional<SdcFile> file_from(const Json& j) {
    if (j.is_null()) return std::nullopt;
    const auto flag = [&](const char* key) { return j.at(key).get<bool>(); };
    return SdcFile{j.at("path").get<std::string>(), j.at("text").get<std::string>(), flag("planning"), flag("analysis"), flag("handoff"), flag("target")};
}

struct ToJson {
    Json operator()(const PegChange& c) const { return {{"kind", "peg"}, {"port", c.port}, {"before", peg_json(c.before)}, {"after", peg_json(c.after)}}; }
    Json operator()(const AttributeChange& c) const { return {{"kind", "attributes"}, {"port", c.port}, {"before", attributes_json(c.before)}, {"after", attributes_json(c.after)}}; }
    Json operator()(const TextChange& c) const { return {{"kind", "text"}, {"file", c.file}, {"offset", c.offset}, {"before", c.before}, {"after", c.after}}; }
    Json operator()(const WaiverChange& c) const {
        return {{"kind", "waiver"}, {"add", c.add}, {"rule", c.waiver.rule}, {"objects", c.waiver.objects}, {"reason", c.waiver.reason}, {"who", c.waiver.who}, {"date", c.waiver.date}};
    }
    Json operator()(const SdcFileChange& c) const { return {{"kind", "file"}, {"before", file_json(c.before)}, {"after", file_json(c.after)}}; }
    Json operator()(const FieldChange& c) const { return {{"kind", "field"}, {"field", c.field}, {"before", c.before}, {"after", c.after}}; }
};

Change change_from(const Json& j) {
    const auto text = [&](const char* key) { return j.at(key).get<std::string>(); };
    const auto kind = text("kind");
    if (kind == "peg") return PegChange{text("port"), peg_from(j.at("before")), peg_from(j.at("after"))};
    if (kind == "attributes") return AttributeChange{text("port"), attributes_from(j.at("before")), attributes_from(j.at("after"))};
    if (kind == "text") return TextChange{text("file"), j.at("offset").get<size_t>(), text("before"), text("after")};
    if (kind == "waiver") return WaiverChange{{text("rule"), j.at("objects").get<std::vector<std::string>>(), text("reason"), text("who"), text("date")}, j.at("add").get<bool>()};
    if (kind == "file") return SdcFileChange{file_from(j.at("before")), file_from(j.at("after"))};
    return FieldChange{text("field"), text("before"), text("after")};
}

}  // namespace

Json edit_to_json(const Edit& edit) {
    Json changes = Json::array();
    for (const auto& c : edit.changes) changes.push_back(std::visit(ToJson{}, c));
    return {{"title", edit.title}, {"changes", changes}};
}

Result<Edit> edit_from_json(const Json& value) {
    try {
        Edit edit{value.at("title").get<std::string>(), {}};
        for (const auto& c : value.at("changes")) edit.changes.push_back(change_from(c));
        return edit;
    } catch (const Json::exception&) {
        return Message{Severity::stop, "journal", "An entry of the recovery journal is damaged.", "", 0, 0};
    }
}

}  // namespace kp
