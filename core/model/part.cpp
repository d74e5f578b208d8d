// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/model/part.hpp"

#include <algorithm>
#include <array>
#include <utility>

namespace kp {

namespace {
constexpr std::array<std::pair<PinKind, const char*>, 8> kinds{{{PinKind::io, "io"},
                                                                {PinKind::clock, "clock"},
                                                                {PinKind::ground, "ground"},
                                                                {PinKind::supply, "supply"},
                                                                {PinKind::bank_supply, "bank_supply"},
                                                                {PinKind::configuration, "configuration"},
                                                                {PinKind::reference, "reference"},
                                                                {PinKind::not_connected, "not_connected"}}};
}  // namespace

const char* name_of(PinKind kind) {
    for (const auto& [k, word] : kinds)
        if (k == kind) return word;
    return "";
}

std::optional<PinKind> pin_kind_of(const std::string& word) {
    for (const auto& [k, w] : kinds)
        if (word == w) return k;
    return std::nullopt;
}

const Pin* Part::pin(const std::string& name) const {
    const auto at = by_name.find(name);
    return at == by_name.end() ? nullptr : &pins[at->second];
}

const Bank* Part::bank(const std::string& name) const {
    const int at = bank_position(name);
    return at < 0 ? nullptr : &banks[static_cast<size_t>(at)];
}

int Part::bank_position(const std::string& name) const {
    for (size_t i = 0; i < banks.size(); ++i)
        if (banks[i].name == name) return static_cast<int>(i);
    return -1;
}

int Part::usable_pins() const {
    return static_cast<int>(std::count_if(pins.begin(), pins.end(), [](const Pin& p) { return p.usable(); }));
}

DecodedCode decode_ordering_code(const std::vector<CodeElement>& grammar, const std::string& code) {
    DecodedCode out;
    size_t at = 0;
    const auto where = [&] { return "at character " + std::to_string(at + 1); };
    for (const auto& element : grammar) {
        if (!element.literal.empty()) {
            if (code.compare(at, element.literal.size(), element.literal) != 0) {
                out.trouble = "A '" + element.literal + "' is expected " + where() + " of '" + code + "'.";
                return out;
            }
            at += element.literal.size();
            continue;
        }
        // The longest value that fits, so that 45T is not read as 4 or 45.
        const CodeElement::Value* best = nullptr;
        for (const auto& value : element.values)
            if (code.compare(at, value.code.size(), value.code) == 0 && (!best || value.code.size() > best->code.size())) best = &value;
        if (!best) {
            std::string legal;
            for (const auto& value : element.values) legal += (legal.empty() ? "" : ", ") + value.code;
            out.trouble = "The " + element.name + " is not known " + where() + " of '" + code + "'; it can be " + legal + ".";
            return out;
        }
        out.fields.push_back({element.name, best->code, best->means});
        at += best->code.size();
    }
    if (at != code.size()) {
        out.trouble = "'" + code.substr(at) + "' is left over " + where() + " of '" + code + "'.";
        return out;
    }
    out.complete = true;
    return out;
}

}  // namespace kp
