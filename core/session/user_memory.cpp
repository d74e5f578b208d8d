// SPDX-License-Identifier: GPL-3.0-or-later
// Small files, read at each question and replaced in one step; of two programs that write at once the last one's list
// counts. What cannot be read is remembered as nothing: then the user is asked again.
#include "core/session/user_memory.hpp"

#include "core/base/checksum.hpp"
#include "core/format/json/json_text.hpp"

#include <algorithm>
#include <cstdlib>

namespace kp {

namespace {

constexpr size_t seal_bytes = 32, largest_note = size_t{16} << 20;

std::string variable(const char* name) {
    const char* value = std::getenv(name);
    return value ? value : "";
}

}  // namespace

std::string user_folder() {
    if (const auto chosen = variable("KITE_PEG_USER"); !chosen.empty()) return chosen;
    if (const auto state = variable("XDG_STATE_HOME"); state.starts_with('/')) return state + "/kite-peg";
    const auto home = variable("HOME");
    return home.starts_with('/') ? home + "/.local/state/kite-peg" : "";
}

std::vector<std::string> UserMemory::allowed(const std::string& project) const {
    std::vector<std::string> out;
    if (folder_.empty() || !disk_.exists(file("allowed.json"))) return out;
    const auto text = disk_.read(file("allowed.json"), largest_note);
    const auto j = text ? parse_json(text.value()) : std::nullopt;
    if (!j || !j->is_object() || !j->contains("projects") || !j->at("projects").is_object()) return out;
    const auto& projects = j->at("projects");
    const auto at = projects.find(json_safe(project));
    if (at != projects.end() && at->is_array())
        for (const auto& path : *at)
            if (path.is_string()) out.push_back(from_json_safe(path.get<std::string>()));
    return out;
}

Status UserMemory::allow(const std::string& project, const std::vector<std::string>& paths) {
    if (folder_.empty())
        return Message{Severity::stop, Code::settings,
                       "There is no folder for this user's settings; set HOME or KITE_PEG_USER."};
    Json j;
    if (disk_.exists(file("allowed.json")))
        if (const auto text = disk_.read(file("allowed.json"), largest_note); text)
            if (auto read = parse_json(text.value()); read && read->is_object()) j = std::move(*read);
    j["schema"] = "kitepeg.allowed/1";
    if (!j.contains("projects") || !j["projects"].is_object()) j["projects"] = Json::object();
    auto all = allowed(project);
    for (const auto& path : paths)
        if (std::find(all.begin(), all.end(), path) == all.end()) all.push_back(path);
    auto& list = j["projects"][json_safe(project)] = Json::array();
    for (const auto& path : all) list.push_back(json_safe(path));
    if (auto status = disk_.make_folder(folder_); !status) return status;
    return replace_file(disk_, file("allowed.json"), write_json(j));
}

std::string UserMemory::seal() const {
    if (folder_.empty() || !disk_.exists(file("seal"))) return {};
    auto text = disk_.read_own(file("seal"), 2 * seal_bytes);
    return text && text.value().size() == 2 * seal_bytes ? text.take() : std::string();
}

std::string UserMemory::make_seal() {
    if (folder_.empty()) return {};
    // One that cannot be read just now is not replaced: journals are sealed with it.
    if (auto there = seal(); !there.empty() || disk_.exists(file("seal"))) return there;
    const auto fresh = random_hex(seal_bytes);
    if (fresh.empty() || !disk_.make_folder(folder_)) return {};
    // Two programs may start at once: the file is put in place whole, and what is there afterwards counts for both.
    const auto aside = file("seal.") + random_hex(8);
    if (!disk_.create(aside, fresh, {}, 0600) || !disk_.rename(aside, file("seal"))) {
        (void)disk_.remove(aside);
        return std::string();
    }
    const auto there = seal();
    return there.empty() ? fresh : there;
}

}  // namespace kp
