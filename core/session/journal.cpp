// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/session/journal.hpp"

#include "core/base/checksum.hpp"
#include "core/base/text.hpp"
#include "core/format/json/project_json.hpp"

namespace kp {

namespace {

constexpr size_t check_digits = 16;  // 64 bits of SHA-256: against damage, not against malice

std::string line_of(const Json& value) {
    const std::string body = value.dump(-1, ' ', false, Json::error_handler_t::replace);
    return sha256(body).substr(0, check_digits) + " " + body + "\n";
}

std::optional<Json> parse_line(std::string_view line) {
    if (line.size() < check_digits + 2) return std::nullopt;
    const auto body = line.substr(check_digits + 1);
    if (sha256(body).substr(0, check_digits) != line.substr(0, check_digits)) return std::nullopt;
    auto value = Json::parse(body, nullptr, false);
    return value.is_discarded() ? std::nullopt : std::optional<Json>(std::move(value));
}

}  // namespace

Journal::Found Journal::read(const std::string& base) {
    Found found;
    if (!disk_.exists(path_)) return found;
    auto text = disk_.read(path_, size_t{1} << 30);
    if (!text) return found;
    bool ours = false, first = true;
    std::string_view rest = text.value();
    while (!rest.empty()) {
        const auto end = rest.find('\n');
        const auto value = end == std::string_view::npos ? std::nullopt : parse_line(rest.substr(0, end));
        if (!value) {
            found.cut = true;
            break;
        }
        rest.remove_prefix(end + 1);
        if (first) {
            ours = value->value("schema", "") == "kitepeg.journal/1" && value->value("base", "") == base;
            first = false;
        } else if (value->contains("saving") && (*value)["saving"].is_object()) {
            std::map<std::string, std::string> files;
            for (const auto& item : (*value)["saving"].items())
                if (item.value().is_string()) files[item.key()] = item.value().get<std::string>();
            found.unfinished = std::move(files);
        } else if (auto edit = edit_from_json(*value)) {
            found.edits.push_back(edit.take());
        }
    }
    started_ = !first && ours;
    if (!ours) found.edits.clear();
    return found;
}

Status Journal::append(const Edit& edit, const std::string& base) {
    std::string text = line_of(edit_to_json(edit));
    if (!started_) {
        text = line_of({{"schema", "kitepeg.journal/1"}, {"base", base}}) + text;
        auto status = disk_.write(path_, text);
        started_ = status.ok();
        return status;
    }
    return disk_.append(path_, text);
}

Status Journal::saving(const std::map<std::string, std::string>& files) {
    Json value;
    for (const auto& [path, text] : files) value["saving"][path] = text;
    if (!started_) return disk_.write(path_, line_of({{"schema", "kitepeg.journal/1"}, {"base", ""}}) + line_of(value));
    return disk_.append(path_, line_of(value));
}

Status Journal::clear() {
    started_ = false;
    return disk_.remove(path_);
}

}  // namespace kp
