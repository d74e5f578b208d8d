// SPDX-License-Identifier: GPL-3.0-or-later
// nlohmann-json parses; the place of a value is found by a second walk over the text, only when a message needs it.
// Depth and keys are bounded before that.
#include "core/format/json/json_text.hpp"

#include "core/base/bytes.hpp"
#include "core/base/text.hpp"
#include "core/model/former_names.hpp"
#include "core/base/said.hpp"

#include <algorithm>

#include <charconv>
#include <cmath>
#include <functional>

namespace kp {

namespace {

constexpr size_t largest = size_t{64} << 20;  // a part with 2,000 balls is half a megabyte
constexpr int deepest = 64;                   // our schemas nest six deep

constexpr size_t most_keys_read = 4096;  // of one object; a member is found by walking over the others
constexpr size_t most_errors = 100;

/// What a text must not have before it may be parsed: nlohmann recurses when it destroys a value, and looks for a key
/// by walking over all others of its object. None when it is all right.
std::optional<std::string> too_much(std::string_view text, size_t most_keys) {
    std::vector<size_t> keys;  // of the objects that are open; an array counts from far below
    for (size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (c == '"') {
            for (++i; i < text.size() && text[i] != '"'; ++i)
                if (text[i] == '\\') ++i;
        } else if (c == '[' || c == '{') {
            if (keys.size() == static_cast<size_t>(deepest))
                return "nests deeper than 64 levels; such a file is not read.";
            keys.push_back(0);
        } else if ((c == ']' || c == '}') && !keys.empty()) {
            keys.pop_back();
        } else if (c == ':' && !keys.empty() && ++keys.back() > most_keys) {
            return said("has an object of more than {} keys; such a file is not read.", most_keys);
        }
    }
    return std::nullopt;
}

/// Walks valid JSON to the value a pointer names. Only used when an error is built.
class Locator {
public:
    Locator(std::string_view text, std::span<const FormerName> former) : t_(text), former_(former) {}
    size_t find(const std::string& pointer) {
        blank();
        for (const auto step : split(pointer, '/')) {
            if (step.empty()) continue;
            if (!enter(step)) break;
        }
        blank();
        return i_;
    }

private:
    void blank() {
        while (i_ < t_.size() && (t_[i_] == ' ' || t_[i_] == '\n' || t_[i_] == '\r' || t_[i_] == '\t')) ++i_;
    }
    std::string_view string() {
        const size_t from = ++i_;
        while (i_ < t_.size() && t_[i_] != '"') i_ += t_[i_] == '\\' ? 2 : 1;
        return t_.substr(from, i_++ - from);
    }
    void skip() {
        blank();
        int depth = 0;
        do {
            if (i_ >= t_.size()) return;
            const char c = t_[i_];
            if (c == '"') {
                string();
                if (depth == 0) return;
                continue;
            }
            if (depth == 0 && (c == ',' || c == ']' || c == '}')) return;
            if (c == '[' || c == '{') ++depth;
            if (c == ']' || c == '}') {
                ++i_;
                if (--depth == 0) return;
                continue;
            }
            ++i_;
        } while (true);
    }
    bool enter(std::string_view step) {
        blank();
        const size_t here = i_;
        if (i_ >= t_.size() || (t_[i_] != '{' && t_[i_] != '[')) return false;
        const bool object = t_[i_++] == '{';
        for (long long n = 0; i_ < t_.size(); ++n) {
            blank();
            if (t_[i_] == '}' || t_[i_] == ']') break;
            bool hit = !object && to_integer(step) == n;
            if (object) {
                const auto key = string();
                hit = key == step || std::any_of(former_.begin(), former_.end(), [&](const FormerName& name) {
                          return name.former == key && name.now == step;
                      });
                blank();
                ++i_;
            }
            if (hit) return true;
            skip();
            blank();
            if (i_ < t_.size() && t_[i_] == ',') ++i_;
        }
        i_ = here;
        return false;
    }
    std::string_view t_;
    std::span<const FormerName> former_;
    size_t i_ = 0;
};

/// Keys that older files have, by the names of now; a file that has both keeps the new one.
void rename_keys(Json& value, std::span<const FormerName> former) {
    if (value.is_structured())
        for (auto& inner : value) rename_keys(inner, former);
    if (!value.is_object()) return;
    const auto old = [&](const std::string& key) {
        return std::find_if(former.begin(), former.end(), [&](const FormerName& name) { return name.former == key; });
    };
    const auto& members = value.get_ref<const Json::object_t&>();
    if (std::none_of(members.begin(), members.end(), [&](const auto& m) { return old(m.first) != former.end(); }))
        return;
    Json renamed = Json::object();
    for (auto& [key, inner] : value.get_ref<Json::object_t&>()) {
        const auto at = old(key);
        const std::string now = at == former.end() ? key : std::string(at->now);
        if (at == former.end() || !value.contains(now)) renamed[now] = std::move(inner);
    }
    value = std::move(renamed);
}

Message schema_trouble(const std::string& file, std::string text) {
    return {Severity::stop, Code::schema, std::move(text), file, 1};
}

}  // namespace

Result<JsonText> JsonText::parse(std::string_view text, std::string file, std::string_view kind, int newest) {
    if (text.size() > largest)
        return Message{Severity::stop, Code::limit, "is larger than 64 MiB; such a file is not read.", file};
    if (const auto why = too_much(text, most_keys_read)) return Message{Severity::stop, Code::limit, *why, file};
    text = without_mark(text);
    JsonText out;
    out.text_ = std::string(text);
    out.file_ = std::move(file);
    out.kind_ = std::string(kind);
    try {
        out.root_ = Json::parse(text);
    } catch (const Json::parse_error& error) {
        const auto place = place_of(text, error.byte > 0 ? error.byte - 1 : 0);
        const bool cut = error.byte > text.size();
        return Message{Severity::stop,
                       Code::syntax,
                       cut ? "The file ends in the middle of a value; it seems to be cut off. Restore it from a copy."
                           : "This is not valid JSON here; look for a missing comma, quote or bracket.",
                       out.file_,
                       place.line,
                       place.column};
    } catch (const Json::out_of_range&) {
        return Message{Severity::stop, Code::syntax, "A number in this file is too large to be one.", out.file_};
    }
    for (const auto& name : former_keys(kind))
        if (text.find("\"" + std::string(name.former) + "\"") != std::string_view::npos) {
            rename_keys(out.root_, former_keys(kind));
            break;
        }
    if (!out.root_.is_object()) return schema_trouble(out.file_, "A JSON object with a \"schema\" is expected.");
    const auto schema = out.root_.value("schema", Json());
    std::string word = schema.is_string() ? schema.get<std::string>() : "";
    if (kind == "links" && word == "kitepeg.interfaces/1") word = "kitepeg.links/1";  // as older asks have it
    const std::string start = "kitepeg." + std::string(kind) + "/";
    if (!word.starts_with(start))
        return schema_trouble(out.file_, said("The file should say \"schema\": \"{}{}\"{}", start, newest,
                                              (word.empty() ? "." : "; it says \"" + word + "\".")));
    const auto version = to_integer(std::string_view(word).substr(start.size()));
    if (!version || *version < 1)
        return schema_trouble(out.file_, said("The schema \"{}\" has no valid number.", word));
    if (*version > newest)
        return schema_trouble(
            out.file_, said("The file is of schema {}, this program reads up to {}; open it with a newer Kite Peg.",
                            word, newest));
    return out;
}

Message JsonText::at(const std::string& pointer, std::string text) const {
    const auto place = place_of(text_, Locator(text_, former_keys(kind_)).find(pointer));
    return {Severity::stop, Code::value, std::move(text), file_, place.line, place.column};
}

void JsonText::wrong(const std::string& pointer, std::string text) {
    if (errors_.size() < most_errors)
        errors_.push_back(at(pointer, std::move(text)));
    else
        ++untold_;
}

std::vector<Message> JsonText::errors() const {
    auto out = errors_;
    if (untold_ > 0)
        out.push_back(
            {Severity::stop, Code::value,
             counted(untold_, "more value") + " of this file are wrong; fix the first ones and read it again.", file_});
    return out;
}

const Json* JsonText::find(const std::string& pointer, const char* key) const {
    const Json* object = &root_;
    if (!pointer.empty()) {
        if (last_root_ != &root_ || last_pointer_ != pointer) {
            const Json::json_pointer at(pointer);
            last_object_ = root_.contains(at) ? &root_.at(at) : nullptr;
            last_pointer_ = pointer;
            last_root_ = &root_;
        }
        object = last_object_;
    }
    if (!object || !object->is_object()) return nullptr;
    const auto found = object->find(key);
    return found == object->end() || found->is_null() ? nullptr : &*found;
}

std::string JsonText::text(const std::string& pointer, const char* key, bool required) {
    const auto* value = find(pointer, key);
    if (value && value->is_string()) return value->get<std::string>();
    if (value)
        wrong(pointer + "/" + key, said("\"{}\" should be a text in quotes.", key));
    else if (required)
        wrong(pointer, said("\"{}\" is missing here.", key));
    return {};
}

double JsonText::number(const std::string& pointer, const char* key, bool required, double otherwise) {
    const auto* value = find(pointer, key);
    if (value && value->is_number() && std::isfinite(value->get<double>()) && std::fabs(value->get<double>()) < 1e15)
        return value->get<double>();
    if (value)
        wrong(pointer + "/" + key, said("\"{}\" should be a number.", key));
    else if (required)
        wrong(pointer, said("\"{}\" is missing here.", key));
    return otherwise;
}

std::vector<double> JsonText::numbers(const std::string& pointer, const char* key, bool required) {
    std::vector<double> out;
    for (size_t i = 0, n = count(pointer, key, required); i < n; ++i) {
        const std::string place = pointer + "/" + key + "/" + std::to_string(i);
        const auto& v = (*find(pointer, key))[i];
        if (v.is_number() && std::abs(v.get<double>()) < 1e9)
            out.push_back(v.get<double>());
        else
            wrong(place, said("\"{}\" should be a list of numbers.", key));
    }
    return out;
}

int JsonText::whole(const std::string& pointer, const char* key, bool required, int otherwise) {
    const double v = number(pointer, key, required, otherwise);
    constexpr double most = 1e9;
    if (v < -most || v > most) wrong(pointer, said("\"{}\" is out of range.", key));
    return static_cast<int>(std::clamp(v, -most, most));
}

bool JsonText::flag(const std::string& pointer, const char* key, bool otherwise) {
    const auto* value = find(pointer, key);
    if (value && value->is_boolean()) return value->get<bool>();
    if (value) wrong(pointer + "/" + key, said("\"{}\" should be true or false.", key));
    return otherwise;
}

size_t JsonText::count(const std::string& pointer, const char* key, bool required) {
    const auto* value = find(pointer, key);
    if (value && value->is_array()) return value->size();
    if (value)
        wrong(pointer + "/" + key, said("\"{}\" should be a list in [ ].", key));
    else if (required)
        wrong(pointer, said("\"{}\" is missing here.", key));
    return 0;
}

std::vector<std::string> JsonText::texts(const std::string& pointer, const char* key, bool required) {
    std::vector<std::string> out;
    const size_t n = count(pointer, key, required);
    for (size_t i = 0; i < n; ++i) {
        const auto& value = (*find(pointer, key))[i];
        if (value.is_string())
            out.push_back(value.get<std::string>());
        else
            wrong(pointer + "/" + key + "/" + std::to_string(i), "A text in quotes is expected here.");
    }
    return out;
}

namespace {

void put(std::string& out, const Json& value, size_t indent) {
    constexpr size_t width = 150;
    const std::string flat = value.dump(-1, ' ', false, Json::error_handler_t::replace);
    const bool empty = value.empty() || !value.is_structured();
    if (empty || (flat.size() + indent <= width && indent > 0)) {
        // A blank after ':' and ',' outside strings, for the eye.
        bool quoted = false;
        for (size_t i = 0; i < flat.size(); ++i) {
            out += flat[i];
            if (flat[i] == '\\' && quoted)
                out += flat[++i];
            else if (flat[i] == '"')
                quoted = !quoted;
            else if (!quoted && (flat[i] == ',' || flat[i] == ':'))
                out += ' ';
        }
        return;
    }
    const std::string pad(indent + 2, ' ');
    out += value.is_object() ? "{\n" : "[\n";
    bool first = true;
    for (const auto& item : value.items()) {
        if (!first) out += ",\n";
        first = false;
        out += pad;
        if (value.is_object()) out += Json(item.key()).dump(-1, ' ', false, Json::error_handler_t::replace) + ": ";
        put(out, item.value(), indent + 2);
    }
    out += "\n" + std::string(indent, ' ') + (value.is_object() ? "}" : "]");
}

}  // namespace

std::string slot(const std::string& list, size_t i) {
    return list + "/" + std::to_string(i);
}

std::optional<Json> parse_json(std::string_view text, size_t most_keys) {
    if (too_much(text, most_keys)) return std::nullopt;
    auto value = Json::parse(text, nullptr, false);
    return value.is_discarded() ? std::nullopt : std::optional<Json>(std::move(value));
}

namespace {
constexpr std::string_view coded = "base64:";
}

std::string json_safe(std::string_view bytes) {
    if (is_utf8(bytes) && !bytes.starts_with(coded)) return std::string(bytes);
    return std::string(coded) + to_base64(bytes);
}

std::string from_json_safe(std::string_view text) {
    if (text.starts_with(coded))
        if (auto bytes = from_base64(text.substr(coded.size()))) return std::move(*bytes);
    return std::string(text);
}

std::string write_json(const Json& value) {
    std::string out;
    put(out, value, 0);
    return out + "\n";
}

}  // namespace kp
