// SPDX-License-Identifier: GPL-3.0-or-later
// Ordering codes by the grammar of the part file, letter by letter; the nearest code by edits (Wagner and Fischer
// 1974).
#include "core/model/part.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <array>
#include <utility>

namespace kp {

namespace {
constexpr std::array<std::pair<PinKind, const char*>, 10> kinds{{{PinKind::io, "io"},
                                                                 {PinKind::clock, "clock"},
                                                                 {PinKind::ground, "ground"},
                                                                 {PinKind::supply, "supply"},
                                                                 {PinKind::bank_supply, "bank_supply"},
                                                                 {PinKind::configuration, "configuration"},
                                                                 {PinKind::reference, "reference"},
                                                                 {PinKind::not_connected, "not_connected"},
                                                                 {PinKind::lane, "lane"},
                                                                 {PinKind::lane_clock, "lane_clock"}}};
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
    const auto where = [&] { return said("at character {}", at + 1); };
    for (const auto& element : grammar) {
        if (!element.literal.empty()) {
            if (code.compare(at, element.literal.size(), element.literal) != 0) {
                out.position = at;
                out.expected = {element.literal};
                out.trouble = said("A '{}' is expected {} of '{}'.", element.literal, where(), code);
                return out;
            }
            at += element.literal.size();
            continue;
        }
        // The longest value that fits, so that 45L is not read as 4 or 45.
        const CodeElement::Value* best = nullptr;
        for (const auto& value : element.values)
            if (code.compare(at, value.code.size(), value.code) == 0 &&
                (!best || value.code.size() > best->code.size()))
                best = &value;
        if (!best) {
            std::string legal;
            out.position = at;
            for (const auto& value : element.values) {
                legal += (legal.empty() ? "" : ", ") + value.code;
                out.expected.push_back(value.code);
            }
            out.trouble = said("The {} is not known {} of '{}'; it can be {}.", element.name, where(), code, legal);
            return out;
        }
        out.fields.push_back({element.name, best->code, best->means});
        at += best->code.size();
    }
    out.position = at;
    if (at != code.size()) {
        out.trouble = "'" + code.substr(at) + "' is left over " + where() + " of '" + code + "'.";
        return out;
    }
    out.complete = true;
    return out;
}

std::vector<std::string> ordering_codes(const std::vector<CodeElement>& grammar, const std::string& start) {
    constexpr size_t most = 20000;
    std::vector<std::string> codes{""};
    for (const auto& element : grammar) {
        std::vector<std::string> next;
        const auto add = [&](const std::string& code) {
            const size_t n = std::min(code.size(), start.size());
            if (next.size() < most && code.compare(0, n, start, 0, n) == 0) next.push_back(code);
        };
        for (const auto& begun : codes) {
            if (!element.literal.empty())
                add(begun + element.literal);
            else
                for (const auto& value : element.values) add(begun + value.code);
        }
        codes = std::move(next);
    }
    return codes;
}

std::string nearest_code(const std::vector<std::string>& codes, const std::string& code) {
    std::string best;
    int least = static_cast<int>((code.size() + 2) / 3) + 1;
    for (const auto& candidate : codes)
        if (const int d = edit_distance(code, candidate); d < least) {
            least = d;
            best = candidate;
        }
    return best;
}

std::vector<CodeLetter> compare_codes(const std::string& given, const std::string& wanted) {
    const size_t n = std::min<size_t>(given.size(), 200), m = std::min<size_t>(wanted.size(), 200);
    std::vector<std::vector<int>> cost(n + 1, std::vector<int>(m + 1, 0));
    for (size_t i = 0; i <= n; ++i)
        for (size_t k = 0; k <= m; ++k)
            cost[i][k] = i == 0   ? static_cast<int>(k)
                         : k == 0 ? static_cast<int>(i)
                                  : std::min({cost[i - 1][k] + 1, cost[i][k - 1] + 1,
                                              cost[i - 1][k - 1] + (given[i - 1] != wanted[k - 1])});
    std::vector<CodeLetter> out;
    for (size_t i = n, k = m; i > 0 || k > 0;) {
        if (i > 0 && k > 0 && cost[i][k] == cost[i - 1][k - 1] + (given[i - 1] != wanted[k - 1]))
            out.push_back({given[--i], wanted[--k]});
        else if (i > 0 && cost[i][k] == cost[i - 1][k] + 1)
            out.push_back({given[--i], 0});
        else
            out.push_back({0, wanted[--k]});
    }
    std::reverse(out.begin(), out.end());
    return out;
}

}  // namespace kp
