// SPDX-License-Identifier: GPL-3.0-or-later
// Lines of JSON, each with a checksum and the seal of this user on this machine, appended and synced. A torn last
// line is normal after a crash; damage in the middle ends the replay and is told.
#include "core/session/journal.hpp"

#include "core/format/json/json_text.hpp"
#include "core/base/checksum.hpp"
#include "core/base/text.hpp"
#include "core/format/json/edit_json.hpp"
#include "core/base/said.hpp"

namespace kp {

namespace {

constexpr size_t digits = 16;  // 64 bits
constexpr size_t largest_journal = size_t{512} << 20, most_steps = 1'000'000;
constexpr const char* schema = "kitepeg.journal/2";
const std::string no_seal(digits, '-');

std::string dump(const Json& value) {
    return value.dump(-1, ' ', false, Json::error_handler_t::replace);
}

Json files_json(const OwnFiles& files) {
    Json out = Json::object();
    for (const auto& [name, text] : files) out[json_safe(name)] = json_safe(text);
    return out;
}

std::optional<OwnFiles> files_from(const Json& j) {
    if (!j.is_object()) return std::nullopt;
    OwnFiles out;
    for (const auto& item : j.items()) {
        if (!item.value().is_string()) return std::nullopt;
        out[from_json_safe(item.key())] = from_json_safe(item.value().get_ref<const std::string&>());
    }
    return out;
}

std::string text_at(const Json& j, const char* key) {
    const auto at = j.find(key);
    return at != j.end() && at->is_string() ? at->get<std::string>() : std::string();
}

Json state_json(const Journal::Step& step) {
    Json line = Json::object();
    line[step.save ? "saving" : "state"] = files_json(*step.state);
    return line;
}

std::optional<Journal::Step> step_from(const Json& j) {
    Journal::Step step;
    for (const char* key : {"saving", "state"}) {
        const auto at = j.find(key);
        if (at == j.end()) continue;
        step.state = files_from(*at);
        step.save = key == std::string_view("saving");
        return step.state ? std::optional(std::move(step)) : std::nullopt;
    }
    auto edit = edit_from_json(j);
    if (!edit) return std::nullopt;
    step.edit = edit.take();
    return step;
}

/// The parts of a line; version 1 has no seal.
struct Line {
    std::string_view check, seal, body;
    bool old = false;
};
std::optional<Line> split_line(std::string_view line) {
    if (line.size() < digits + 2 || line[digits] != ' ') return std::nullopt;
    Line out{line.substr(0, digits), {}, line.substr(digits + 1), line[digits + 1] == '{'};
    if (out.old) return out;
    if (out.body.size() < digits + 2 || out.body[digits] != ' ') return std::nullopt;
    out.seal = out.body.substr(0, digits);
    out.body.remove_prefix(digits + 1);
    return out;
}

}  // namespace

std::string Journal::line_of(const std::string& body, std::string& check) const {
    const auto signed_text = check + body;
    const auto seal = seal_.empty() ? no_seal : hmac_sha256(seal_, signed_text).substr(0, digits);
    check = sha256(signed_text).substr(0, digits);
    return said("{} {} {}\n", check, seal, body);
}

std::string Journal::header() const {
    return dump({{"schema", schema}, {"base", files_json(base_)}});
}

Journal::Found Journal::read() const {
    Found found;
    const auto kind = disk_.kind(path_);
    if (kind == FileKind::none) return found;
    const auto text = disk_.read_own(path_, largest_journal);
    if (text) return read_lines(text.value());
    found.trouble = text.first();
    return found;
}

Journal::Found Journal::read_lines(std::string_view rest) const {
    Found found;
    const auto seal = user_.seal();
    std::string check;
    bool first = true;
    found.ours = !seal.empty();
    while (!rest.empty()) {
        const auto end = rest.find('\n');
        const auto line = end == std::string_view::npos ? std::nullopt : split_line(rest.substr(0, end));
        const std::string before = line && !line->old ? check : std::string();
        if (!line || (!first && line->old != found.old) || found.steps.size() >= most_steps ||
            sha256(before + std::string(line->body)).substr(0, digits) != line->check)
            break;
        const auto j = parse_json(line->body);
        if (!j || !j->is_object()) break;
        if (first) {
            found.old = line->old;
            const auto base =
                found.old ? std::optional(OwnFiles{}) : files_from(j->contains("base") ? j->at("base") : Json());
            if (text_at(*j, "schema") != (found.old ? "kitepeg.journal/1" : schema) || !base) break;
            found.base = *base;
        } else if (found.old && j->contains("saving")) {
            // Version 1 named files by any path; what it says of them is not believed. The edits before it are still
            // edits.
        } else if (auto step = step_from(*j)) {
            found.steps.push_back(std::move(*step));
        } else {
            break;
        }
        found.ours = found.ours && !found.old &&
                     hmac_sha256(seal, before + std::string(line->body)).substr(0, digits) == line->seal;
        check = std::string(line->check);
        first = false;
        rest.remove_prefix(end + 1);
    }
    found.cut = !rest.empty();
    if (first) found.ours = false;
    return found;
}

void Journal::resume(const Found& found) {
    base_ = found.base;
    bodies_.clear();
    for (const auto& step : found.steps)
        bodies_.push_back(dump(step.state ? state_json(step) : edit_to_json(*step.edit)));
    // It is written anew before it grows: whether it was torn is then all the same.
    in_file_ = false;
    kept_ = true;
}

void Journal::begin(OwnFiles base) {
    base_ = std::move(base);
    bodies_.clear();
    in_file_ = false;
    kept_ = true;
}

Status Journal::put(const std::string& body) {
    bodies_.push_back(body);
    kept_ = false;
    if (seal_.empty()) {
        seal_ = user_.make_seal();
        // Lines that stand there without a seal get theirs.
        if (!seal_.empty()) in_file_ = false;
    }
    Status status = Done{};
    std::string check = in_file_ ? check_ : std::string();
    if (in_file_) {
        status = disk_.append(path_, line_of(body, check));
    } else {
        std::string all = line_of(header(), check);
        for (const auto& b : bodies_) all += line_of(b, check);
        // In one step, so that a crash leaves the journal that was there or the new one; a link of that name is
        // replaced, not followed.
        const auto fresh = beside(path_, ".new");
        status = disk_.remove(fresh);
        if (status) status = disk_.create(fresh, all, {}, 0600);
        if (status) status = disk_.rename(fresh, path_);
        if (!status) (void)disk_.remove(fresh);
    }
    // After a failure nobody knows what the file ends in.
    in_file_ = kept_ = status.ok();
    check_ = check;
    return status;
}

Status Journal::append(const Edit& edit) {
    return put(dump(edit_to_json(edit)));
}

Status Journal::put_state(const char* key, const OwnFiles& state, OwnFiles base) {
    // Of several states only the last one counts, and it holds all edits before it.
    bodies_.clear();
    base_ = std::move(base);
    in_file_ = false;
    Json line = Json::object();
    line[key] = files_json(state);
    return put(dump(line));
}

Status Journal::saving(const OwnFiles& state, OwnFiles base) {
    return put_state("saving", state, std::move(base));
}
Status Journal::state(const OwnFiles& state, OwnFiles base) {
    return put_state("state", state, std::move(base));
}

Status Journal::clear() {
    bodies_.clear();
    in_file_ = false;
    kept_ = true;
    return disk_.remove(path_);
}

Result<std::string> Journal::set_aside() {
    for (int i = 1; i < 10000; ++i) {
        const auto free = path_ + ".aside-" + std::to_string(i);
        if (disk_.kind(free) != FileKind::none) continue;
        if (auto status = disk_.rename(path_, free); !status) return status.messages();
        return free;
    }
    return Message{Severity::stop, Code::file, "cannot be set aside: there are 10,000 of them already.", path_};
}

}  // namespace kp
