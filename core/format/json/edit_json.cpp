// SPDX-License-Identifier: GPL-3.0-or-later
// One function to write and one to read for each kind of change. Reading throws Json::exception inside and answers with
// a message; no exception leaves this file but from the helpers that say so.
#include "core/format/json/edit_json.hpp"

#include "core/format/json/json_text.hpp"
#include "core/format/json/fields_json.hpp"
#include "core/model/former_names.hpp"

namespace kp {

namespace {

// The order in which version 1 wrote the fields of attributes; the oldest journals have the first six.
constexpr std::string PortAttributes::*version_1[] = {&PortAttributes::standard,     &PortAttributes::drive,
                                                      &PortAttributes::slew,         &PortAttributes::pull,
                                                      &PortAttributes::note,         &PortAttributes::standard_origin,
                                                      &PortAttributes::termination,  &PortAttributes::partner,
                                                      &PortAttributes::pad_register, &PortAttributes::pad_delay};

std::string bytes_of(const Json& value) {
    return from_json_safe(value.get_ref<const std::string&>());
}

Json file_json(const std::optional<SdcFile>& f) {
    if (!f) return nullptr;
    auto out = json::safe_fields(*f, sdc_file_fields());
    out["text"] = json_safe(f->text);
    return out;
}
std::optional<SdcFile> file_from(Json j) {
    if (j.is_null()) return std::nullopt;
    if (!j.contains("receives")) j["receives"] = j.at("target");  // as version 1 called it
    SdcFile out;
    json::take_safe_fields(j, out, sdc_file_fields());
    out.text = bytes_at(j, "text");
    return out;
}

struct ToJson {
    Json operator()(const PegChange& c) const {
        return {{"kind", "peg"},
                {"port", json_safe(c.port)},
                {"before", peg_to_json(c.before)},
                {"after", peg_to_json(c.after)}};
    }
    Json operator()(const AttributeChange& c) const {
        return {{"kind", "attributes"},
                {"port", json_safe(c.port)},
                {"before", attributes_to_json(c.before)},
                {"after", attributes_to_json(c.after)}};
    }
    Json operator()(const TextChange& c) const {
        return {{"kind", "text"},
                {"file", json_safe(c.file)},
                {"offset", c.offset},
                {"before", json_safe(c.before)},
                {"after", json_safe(c.after)}};
    }
    Json operator()(const WaiverChange& c) const {
        Json out{{"kind", "waiver"}, {"add", c.add}};
        out.update(json::safe_fields(c.waiver, waiver_fields()));
        return out;
    }
    Json operator()(const SdcFileChange& c) const {
        return {{"kind", "file"}, {"before", file_json(c.before)}, {"after", file_json(c.after)}};
    }
    Json operator()(const FieldChange& c) const {
        return {{"kind", "field"}, {"field", c.field}, {"before", json_safe(c.before)}, {"after", json_safe(c.after)}};
    }
};

/// Journals and logs of before may have fields and ordering codes by their former names.
FieldChange field_change(std::string field, std::string before, std::string after) {
    for (const auto& [former, now] : former_keys("project"))
        if (field == former) field = now;
    if (field == "part") before = present_code(before), after = present_code(after);
    return {std::move(field), std::move(before), std::move(after)};
}

Change change_from(const Json& j) {
    const auto text = [&](const char* key) { return bytes_at(j, key); };
    const auto kind = text("kind");
    if (kind == "peg") return PegChange{text("port"), peg_from_json(j.at("before")), peg_from_json(j.at("after"))};
    if (kind == "attributes")
        return AttributeChange{text("port"), attributes_from_json(j.at("before")), attributes_from_json(j.at("after"))};
    if (kind == "text") return TextChange{text("file"), j.at("offset").get<size_t>(), text("before"), text("after")};
    if (kind == "waiver") {
        WaiverChange change{{}, j.at("add").get<bool>()};
        json::take_safe_fields(j, change.waiver, waiver_fields());
        return change;
    }
    if (kind == "file") return SdcFileChange{file_from(j.at("before")), file_from(j.at("after"))};
    return field_change(text("field"), text("before"), text("after"));
}

}  // namespace

std::string bytes_at(const Json& object, const char* key) {
    return bytes_of(object.at(key));
}

Json peg_to_json(const std::optional<Peg>& peg) {
    if (!peg) return nullptr;
    Json j{{"pin", json_safe(peg->pin)}, {"loose", peg->state == PegState::loose}, {"origin", json_safe(peg->origin)}};
    if (peg->wired) j["wired"] = true;
    return j;
}

std::optional<Peg> peg_from_json(const Json& j) {
    if (j.is_null()) return std::nullopt;
    return Peg{bytes_at(j, "pin"), j.at("loose").get<bool>() ? PegState::loose : PegState::pegged,
               bytes_at(j, "origin"), j.value("wired", false)};
}

Json attributes_to_json(const PortAttributes& a) {
    Json out = Json::object();
    for (const auto& f : attribute_fields())
        if (const auto& value = f.of(a); !value.empty()) out[f.name] = json_safe(value);
    return out;
}

PortAttributes attributes_from_json(const Json& j) {
    PortAttributes a;
    if (j.is_array()) {
        size_t i = 0;
        for (const auto field : version_1)
            if (i < 6 || i < j.size()) a.*field = bytes_of(j.at(i++));
        return a;
    }
    for (const auto& f : attribute_fields())
        if (j.contains(f.name)) f.set(a, bytes_at(j, f.name));
    return a;
}

Json edit_to_json(const Edit& edit) {
    Json changes = Json::array();
    for (const auto& c : edit.changes) changes.push_back(std::visit(ToJson{}, c));
    return {{"title", json_safe(edit.title)}, {"changes", changes}};
}

Result<Edit> edit_from_json(const Json& value) {
    try {
        Edit edit{bytes_at(value, "title"), {}};
        for (const auto& c : value.at("changes")) edit.changes.push_back(change_from(c));
        return edit;
    } catch (const Json::exception&) {
        return Message{Severity::stop, Code::journal, "An entry of the recovery journal is damaged."};
    }
}

}  // namespace kp
