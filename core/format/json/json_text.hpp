// SPDX-License-Identifier: GPL-3.0-or-later
// JSON with places: parsing by nlohmann-json, and the line of any value, so that an error can point at it.
#pragma once

#include "core/base/result.hpp"
#include "core/format/json/json_value.hpp"

#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <string_view>

namespace kp {

/// A parsed file. `wrong` collects errors with the line of the value they speak of.
class JsonText {
public:
    /// Errors: larger than 64 MiB, nested deeper than 64, an object of more than 4,096 keys, not JSON, or `schema` is
    /// not `kind`/`newest` or older. Keys that older files have stand in `root` by their present names.
    static Result<JsonText> parse(std::string_view text, std::string file, std::string_view kind, int newest);

    [[nodiscard]] const Json& root() const { return root_; }
    /// A message at the value that `pointer` (RFC 6901) names.
    [[nodiscard]] Message at(const std::string& pointer, std::string text) const;

    // Fields of the object at `pointer`. A missing or mistyped field is remembered as an error and gives the default.
    std::string text(const std::string& pointer, const char* key, bool required = true);
    double number(const std::string& pointer, const char* key, bool required = true, double otherwise = 0);
    /// A whole number of at most a thousand million; the part behind the point of another one is cut off.
    int whole(const std::string& pointer, const char* key, bool required = true, int otherwise = 0);
    [[nodiscard]] bool has(const std::string& pointer, const char* key) const { return find(pointer, key) != nullptr; }
    bool flag(const std::string& pointer, const char* key, bool otherwise);
    /// Number of elements of the array, 0 with an error when it is missing and required.
    size_t count(const std::string& pointer, const char* key, bool required = true);
    std::vector<std::string> texts(const std::string& pointer, const char* key, bool required = true);
    /// A list of numbers below a thousand million; anything else in it is told.
    std::vector<double> numbers(const std::string& pointer, const char* key, bool required = false);
    /// The first hundred are kept, the others counted: each needs its place in the text.
    void wrong(const std::string& pointer, std::string text);
    [[nodiscard]] std::vector<Message> errors() const;

private:
    const Json* find(const std::string& pointer, const char* key) const;
    std::string text_, file_, kind_;
    mutable std::string last_pointer_;  ///< the object asked for last: its fields are asked one after the other
    mutable const Json* last_object_ = nullptr;
    mutable const Json* last_root_ = nullptr;  ///< whose object that is; a copy of this has another root
    Json root_;
    std::vector<Message> errors_;
    size_t untold_ = 0;  ///< errors beyond those that are kept
};

/// Pointer to element `i` of the list at pointer `list`.
[[nodiscard]] std::string slot(const std::string& list, size_t i);

/// JSON that this program wrote itself, such as a line of a journal: none when it is not JSON, nests deeper than 64, or
/// has more than 4,096 keys in an object that is not ours to write so large.
[[nodiscard]] std::optional<Json> parse_json(std::string_view text, size_t most_keys = 4096);

/// Any bytes as a JSON text or key: as they are when they are UTF-8, else "base64:" and RFC 4648.
[[nodiscard]] std::string json_safe(std::string_view bytes);
[[nodiscard]] std::string from_json_safe(std::string_view text);

/// Our way of writing: two spaces, short arrays and objects on one line, a line end at the end.
[[nodiscard]] std::string write_json(const Json& value);

}  // namespace kp
