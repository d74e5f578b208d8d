// SPDX-License-Identifier: GPL-3.0-or-later
// Content decides, by SHA-256 (FIPS 180-4), not names or times: a folder may be moved or copied, and what stands in it
// is still known for what it is. A file is read once and forgotten; a wrong one is a sentence that names the stage that
// makes it anew.
#include "core/build_flow/origin.hpp"

#include "core/base/checksum.hpp"
#include "core/format/json/json_text.hpp"
#include "core/base/said.hpp"

namespace kp::build_flow {

std::string write_origin(const Origin& o) {
    Json files = Json::object(), sources = Json::array();
    for (const auto& [name, digest] : o.files) files[json_safe(name)] = digest;
    for (const auto& s : o.sources) sources.push_back(json_safe(s));
    Json out{{"schema", "kitepeg.origin/1"}, {"part", json_safe(o.part)},     {"part_digest", o.part_digest},
             {"top", json_safe(o.top)},      {"sources", std::move(sources)}, {"files", std::move(files)}};
    if (!o.pegs.empty()) out["pegs"] = o.pegs;
    return out.dump(1) + "\n";
}

Result<Origin> read_origin(std::string_view text, const std::string& file) {
    const auto json = parse_json(text);
    const auto is = [&](const char* key, Json::value_t type) {
        return json && json->is_object() && json->contains(key) && (*json)[key].type() == type;
    };
    if (!is("schema", Json::value_t::string) || (*json)["schema"] != "kitepeg.origin/1" ||
        !is("files", Json::value_t::object) || !is("sources", Json::value_t::array))
        return Message{Severity::stop, Code::origin, "This does not say what a build was made from; build from 'map'.",
                       file};
    const auto word = [&](const char* key) {
        return is(key, Json::value_t::string) ? from_json_safe((*json)[key].get<std::string>()) : std::string();
    };
    Origin o;
    o.part = word("part");
    o.part_digest = word("part_digest");
    o.top = word("top");
    o.pegs = word("pegs");
    for (const auto& s : (*json)["sources"])
        if (s.is_string()) o.sources.push_back(from_json_safe(s.get<std::string>()));
    for (const auto& [name, digest] : (*json)["files"].items())
        if (digest.is_string()) o.files[from_json_safe(name)] = digest.get<std::string>();
    return o;
}

Status check_kept(Disk& disk, const std::string& folder, const Origin& origin, const std::string& name,
                  const std::string& stage) {
    const auto path = join_path(folder, name);
    auto text = disk.read(path, size_t{512} << 20);
    if (!text) return text.messages();
    const auto digest = origin.files.find(name);
    if (digest != origin.files.end() && digest->second == sha256(text.value())) return Done{};
    return Message{Severity::stop, Code::from, said("This is not what the build wrote here; build from '{}'.", stage),
                   path};
}

}  // namespace kp::build_flow
