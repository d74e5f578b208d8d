// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/format/json/project_json.hpp"

#include "core/base/text.hpp"

#include <algorithm>
#include <map>

namespace kp {

namespace {
std::string slot(const std::string& list, size_t i) {
    return list + "/" + std::to_string(i);
}

constexpr std::pair<const char*, std::string Project::*> settings[] = {{"mode", &Project::mode},
                                                                       {"start_clock", &Project::start_clock},
                                                                       {"load", &Project::load},
                                                                       {"unused_pins", &Project::unused_pins}};

void read_settings(JsonText& j, Project& p) {
    static const std::map<std::string, std::vector<std::string>> words{
        {"start_clock", {"internal", "external", "jtag"}},
        {"load", {"stored", "volatile"}},
        {"unused_pins", {"float", "pull up", "pull down", "drive low"}}};
    for (const auto& [key, field] : settings) {
        p.*field = j.text("", key, false);
        // Modes are the part's, and rule P02 knows them.
        const auto known = words.find(key);
        if (known == words.end() || (p.*field).empty() ||
            std::find(known->second.begin(), known->second.end(), p.*field) != known->second.end())
            continue;
        j.wrong("/" + std::string(key),
                "\"" + std::string(key) + "\" is " + list_names(known->second, 8) + ", not \"" + p.*field + "\".");
    }
}

void read_pegs(JsonText& j, Project& p) {
    for (size_t i = 0, n = j.count("", "pegs", false); i < n; ++i) {
        const auto at = slot("/pegs", i);
        const auto port = j.text(at, "port");
        Peg peg{j.text(at, "pin"), j.text(at, "state", false) == "loose" ? PegState::loose : PegState::pegged,
                j.text(at, "origin", false)};
        if (!p.pegs.emplace(port, peg).second)
            j.wrong(at, "The port " + port + " is pegged twice; a port has one pin.");
    }
}

void read_attributes(JsonText& j, Project& p) {
    for (size_t i = 0, n = j.count("", "attributes", false); i < n; ++i) {
        const auto at = slot("/attributes", i);
        PortAttributes a;
        for (const auto& f : attribute_fields) a.*f.field = j.text(at, f.name, false);
        p.attributes[j.text(at, "port")] = a;
    }
}
void read_pairs(JsonText& j, const char* key, std::map<std::string, std::string>& out) {
    if (!j.root().contains(key)) return;
    const auto& object = j.root().at(key);
    if (!object.is_object())
        return j.wrong("/" + std::string(key), "\"" + std::string(key) + "\" should be an object of texts.");
    for (const auto& [name, value] : object.items()) {
        if (value.is_string())
            out[name] = value.get<std::string>();
        else
            j.wrong("/" + std::string(key), "\"" + name + "\" should be a text.");
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
        p.constraints.push_back({j.text(at, "path"), "", j.flag(at, "planning", true), j.flag(at, "analysis", true),
                                 j.flag(at, "handoff", true), j.flag(at, "receives", j.flag(at, "target", false))});
    }
    read_pegs(j, p);
    read_attributes(j, p);
    for (size_t i = 0, n = j.count("", "waivers", false); i < n; ++i) {
        const auto at = slot("/waivers", i);
        p.waivers.push_back({j.text(at, "rule"), j.texts(at, "objects"), j.text(at, "reason"), j.text(at, "who", false),
                             j.text(at, "date", false)});
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
    for (const auto& f : p.constraints)
        j["constraints"].push_back({{"path", f.path},
                                    {"planning", f.planning},
                                    {"analysis", f.analysis},
                                    {"handoff", f.handoff},
                                    {"receives", f.target}});
    std::vector<std::string> ports;
    for (const auto& [port, peg] : p.pegs) ports.push_back(port);
    std::sort(ports.begin(), ports.end(), natural_less);
    j["pegs"] = Json::array();
    for (const auto& port : ports) {
        const auto& peg = p.pegs.at(port);
        j["pegs"].push_back({{"port", port},
                             {"pin", peg.pin},
                             {"state", peg.state == PegState::loose ? "loose" : "pegged"},
                             {"origin", peg.origin}});
    }
    ports.clear();
    for (const auto& [port, a] : p.attributes) ports.push_back(port);
    std::sort(ports.begin(), ports.end(), natural_less);
    j["attributes"] = Json::array();
    for (const auto& port : ports) {
        const auto& a = p.attributes.at(port);
        Json row{{"port", port}};
        for (const auto& f : attribute_fields)
            if (!(a.*f.field).empty()) row[f.name] = a.*f.field;
        j["attributes"].push_back(row);
    }
    j["waivers"] = Json::array();
    for (const auto& w : p.waivers)
        j["waivers"].push_back(
            {{"rule", w.rule}, {"objects", w.objects}, {"reason", w.reason}, {"who", w.who}, {"date", w.date}});
    return write_json(j);
}

}  // namespace kp
