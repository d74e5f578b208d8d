// SPDX-License-Identifier: GPL-3.0-or-later
// Fields go by the tables of core/model/project.cpp; what is a list of rows has a function here. Linear in the file.
#include "core/format/json/project_json.hpp"

#include "core/format/json/json_text.hpp"
#include "core/base/text.hpp"
#include "core/format/json/fields_json.hpp"
#include "core/format/json/links_json.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <map>

namespace kp {

namespace {
void read_pegs(JsonText& j, Project& p) {
    for (size_t i = 0, n = j.count("", "pegs", false); i < n; ++i) {
        const auto at = slot("/pegs", i);
        const auto port = j.text(at, "port");
        Peg peg{j.text(at, "pin"), j.text(at, "state", false) == "loose" ? PegState::loose : PegState::pegged,
                j.text(at, "origin", false), j.flag(at, "wired", false)};
        if (!p.pegs.emplace(port, peg).second)
            j.wrong(at, said("The port {} is pegged twice; a port has one pin.", port));
    }
}

void read_attributes(JsonText& j, Project& p) {
    for (size_t i = 0, n = j.count("", "attributes", false); i < n; ++i) {
        const auto at = slot("/attributes", i);
        PortAttributes a;
        for (const auto& f : attribute_fields()) f.set(a, j.text(at, f.name, false));
        p.attributes[j.text(at, "port")] = a;
    }
}
}  // namespace

namespace {
/// The object without what write_project writes anew anyway; the keys stay where they stood.
std::string kept_keys(Json root) {
    for (const char* list : {"constraints", "pegs", "attributes", "links", "waivers"})
        if (root.contains(list)) root[list] = Json::array();
    return root.dump();
}
}  // namespace

Result<ProjectFile> read_project(std::string_view text, const std::string& file) {
    auto parsed = JsonText::parse(text, file, "project", 1);
    if (!parsed) return parsed.messages();
    auto& j = parsed.value();
    ProjectFile out;
    auto& p = out.project;
    json::read_fields(j, "", p, project_fields());
    for (size_t i = 0, n = j.count("", "constraints"); i < n; ++i) {
        const auto at = slot("/constraints", i);
        SdcFile file;
        json::read_fields(j, at, file, sdc_file_fields());
        p.constraints.push_back(std::move(file));
    }
    read_pegs(j, p);
    read_attributes(j, p);
    for (const auto& i : read_links(j)) p.links.push_back(line_of(i));
    for (size_t i = 0, n = j.count("", "waivers", false); i < n; ++i) {
        const auto at = slot("/waivers", i);
        json::read_fields(j, at, p.waivers.emplace_back(), waiver_fields());
    }
    if (!j.errors().empty()) return j.errors();
    out.unknown = kept_keys(j.root());
    return out;
}

std::string write_project(const ProjectFile& file) {
    Json j = file.unknown.empty() ? Json::object() : Json::parse(file.unknown);
    const auto& p = file.project;
    j["schema"] = "kitepeg.project/1";
    json::write_fields(j, p, project_fields());
    j["constraints"] = Json::array();
    for (const auto& f : p.constraints) {
        Json row = Json::object();
        json::write_fields(row, f, sdc_file_fields());
        j["constraints"].push_back(std::move(row));
    }
    std::vector<std::string> ports;
    for (const auto& [port, peg] : p.pegs) ports.push_back(port);
    std::sort(ports.begin(), ports.end(), natural_less);
    j["pegs"] = Json::array();
    for (const auto& port : ports) {
        const auto& peg = p.pegs.at(port);
        Json row{{"port", port},
                 {"pin", peg.pin},
                 {"state", peg.state == PegState::loose ? "loose" : "pegged"},
                 {"origin", peg.origin}};
        if (peg.wired) row["wired"] = true;
        j["pegs"].push_back(std::move(row));
    }
    ports.clear();
    for (const auto& [port, a] : p.attributes) ports.push_back(port);
    std::sort(ports.begin(), ports.end(), natural_less);
    j["attributes"] = Json::array();
    for (const auto& port : ports) {
        const auto& a = p.attributes.at(port);
        Json row{{"port", port}};
        for (const auto& f : attribute_fields())
            if (const auto& value = f.of(a); !value.empty()) row[f.name] = value;
        j["attributes"].push_back(row);
    }
    if (!p.links.empty() || j.contains("links")) {
        std::vector<LaneLink> list;
        for (const auto& line : p.links) list.push_back(link_of(line));
        j["links"] = links_json(list);
    }
    j["waivers"] = Json::array();
    for (const auto& w : p.waivers) {
        Json row = Json::object();
        json::write_fields(row, w, waiver_fields());
        j["waivers"].push_back(std::move(row));
    }
    return write_json(j);
}

}  // namespace kp
