// SPDX-License-Identifier: GPL-3.0-or-later
// Values that are more than a number, one function a kind and direction.
#include "core/format/json/fields_json.hpp"

#include "core/format/json/json_text.hpp"
#include "core/base/said.hpp"
namespace kp::json {

void read_named(JsonText& j, const std::string& at, const char* key, std::map<std::string, std::string>& out) {
    if (!j.has(at, key)) return;
    const std::string place = at + "/" + key;
    const auto& object = j.root().at(Json::json_pointer(place));
    if (!object.is_object()) return j.wrong(place, said("\"{}\" should be an object of texts.", key));
    for (const auto& [name, value] : object.items()) {
        if (value.is_string())
            out[name] = value.get<std::string>();
        else
            j.wrong(place, said("\"{}\" should be a text.", name));
    }
}

Json safe(const std::string& value) {
    return json_safe(value);
}
Json safe(const std::vector<std::string>& value) {
    Json out = Json::array();
    for (const auto& text : value) out.push_back(json_safe(text));
    return out;
}
Json safe(const std::map<std::string, std::string>& value) {
    Json out = Json::object();
    for (const auto& [name, text] : value) out[json_safe(name)] = json_safe(text);
    return out;
}
Json safe(const std::optional<double>& value) {
    return value ? Json(*value) : Json(nullptr);
}
Json safe(const std::vector<double>& value) {
    return value;
}

void take_safe(const Json& from, std::vector<double>& value) {
    value = from.get<std::vector<double>>();
}
void take_safe(const Json& from, std::string& value) {
    value = from_json_safe(from.get_ref<const std::string&>());
}
void take_safe(const Json& from, std::vector<std::string>& value) {
    value.clear();
    for (const auto& text : from) value.push_back(from_json_safe(text.get_ref<const std::string&>()));
}
void take_safe(const Json& from, std::map<std::string, std::string>& value) {
    value.clear();
    for (const auto& [name, text] : from.items())
        value[from_json_safe(name)] = from_json_safe(text.get_ref<const std::string&>());
}
void take_safe(const Json& from, std::optional<double>& value) {
    value = from.is_null() ? std::nullopt : std::optional<double>(from.get<double>());
}

}  // namespace kp::json
