// SPDX-License-Identifier: GPL-3.0-or-later
// The operators of IEEE 1364-2005, clause 5.1, that cells are made of: bitwise, logical, reduction, equality, choice
// and concatenation. Operands are widened with zeros (5.4). Arithmetic and shifts are unknown.
#include "core/hdl/models/bits.hpp"

#include "core/base/ranges.hpp"
#include "core/hdl/models/model.hpp"
#include "core/model/parameter.hpp"

#include <algorithm>
#include <cmath>

namespace kp::models {

namespace {

constexpr size_t deepest_value = 200, widest_bus = 4096;

void widen(std::vector<Logic::Node>& a, size_t width) {
    if (a.size() < width) a.insert(a.begin(), width - a.size(), Logic::Node{0});
}

std::optional<int> whole(const Expression& e, const Constants& constants) {
    const auto v = value_of(e, constants);
    if (!v || std::fabs(*v) > 1e6) return {};
    return static_cast<int>(*v);
}

}  // namespace

std::vector<std::string> Bits::names(const Expression& e) const {
    if (e.kind == Expression::name) return model_.bits(e.text);
    std::vector<std::string> out;
    if (e.kind == Expression::bit) {
        if (const auto at = whole(e.arguments[0], constants_)) out.push_back(e.text + "[" + std::to_string(*at) + "]");
    } else if (e.kind == Expression::part) {
        const auto left = whole(e.arguments[0], constants_), right = whole(e.arguments[1], constants_);
        if (!left || !right || distance_of(*left, *right) >= widest_bus) return out;
        for (int i = *left;; i += *left > *right ? -1 : 1) {
            out.push_back(e.text + "[" + std::to_string(i) + "]");
            if (i == *right) break;
        }
    } else if (e.kind == Expression::concat) {
        for (const auto& part : e.arguments)
            for (auto& name : names(part)) out.push_back(std::move(name));
    }
    return out;
}

Bits::Node Bits::resolve(const std::string& bit, size_t level) {
    if (const auto at = known.find(bit); at != known.end()) return at->second;
    const auto at = drivers.find(bit);
    if (level > deepest_value || at == drivers.end() || at->second.size() != 1) return Logic::unknown;
    if (!open_.insert(bit).second) return Logic::unknown;  // it feeds itself
    const auto node = at->second[0](level + 1);
    open_.erase(bit);
    return known[bit] = node;
}

std::vector<Bits::Node> Bits::number(const std::string& text) const {
    size_t width = 32;
    if (const auto quote = text.find('\''); quote != std::string::npos && quote > 0)
        width = static_cast<size_t>(std::clamp(std::atoi(text.c_str()), 1, static_cast<int>(widest_bus)));
    const auto value = number_of(text);
    std::vector<Node> out(width, Logic::unknown);
    for (size_t i = 0; i < width && value; ++i) out[width - 1 - i] = i < 64 && (*value >> i & 1) ? Node{1} : Node{0};
    return out;
}

Bits::Node Bits::single(const Expression& e, size_t level) {
    const auto all = of(e, level);
    Node out = all.empty() ? Logic::unknown : Node{0};
    for (const auto node : all) out = model_.logic->either(out, node);
    return out;
}

std::vector<Bits::Node> Bits::unary(const Expression& e, size_t level) {
    auto& logic = *model_.logic;
    auto all = of(e.arguments[0], level + 1);
    if (e.text == "~") {
        for (auto& node : all) node = logic.invert(node);
        return all;
    }
    if (all.empty()) return {Logic::unknown};
    Node out = all[0];
    for (size_t i = 1; i < all.size(); ++i) {
        if (e.text.ends_with('&'))
            out = logic.both(out, all[i]);
        else
            out = e.text.ends_with('^') ? logic.differ(out, all[i]) : logic.either(out, all[i]);
    }
    if (e.text == "-" || e.text == "+") return {Logic::unknown};
    return {e.text[0] == '~' || e.text == "!" ? logic.invert(out) : out};
}

std::vector<Bits::Node> Bits::binary(const Expression& e, size_t level) {
    auto& logic = *model_.logic;
    const auto& op = e.text;
    if (op == "&&" || op == "||") {
        const auto a = single(e.arguments[0], level + 1), b = single(e.arguments[1], level + 1);
        return {op == "&&" ? logic.both(a, b) : logic.either(a, b)};
    }
    auto a = of(e.arguments[0], level + 1), b = of(e.arguments[1], level + 1);
    const size_t width = std::max(a.size(), b.size());
    widen(a, width);
    widen(b, width);
    const bool equal = op == "==" || op == "===", unequal = op == "!=" || op == "!==";
    if (equal || unequal) {
        Node differs = 0;
        for (size_t i = 0; i < width; ++i) differs = logic.either(differs, logic.differ(a[i], b[i]));
        return {unequal ? differs : logic.invert(differs)};
    }
    for (size_t i = 0; i < width; ++i) {
        if (op == "&")
            a[i] = logic.both(a[i], b[i]);
        else if (op == "|")
            a[i] = logic.either(a[i], b[i]);
        else if (op == "^")
            a[i] = logic.differ(a[i], b[i]);
        else if (op == "~^" || op == "^~")
            a[i] = logic.invert(logic.differ(a[i], b[i]));
        else
            a[i] = Logic::unknown;
    }
    return a;
}

std::vector<Bits::Node> Bits::of(const Expression& e, size_t level) {
    if (level > deepest_value) return {Logic::unknown};
    switch (e.kind) {
        case Expression::number: return number(e.text);
        case Expression::name:
            if (const auto at = constants_.find(e.text); at != constants_.end())
                return number(std::to_string(static_cast<long long>(std::clamp(at->second, 0.0, 1e15))));
            [[fallthrough]];
        case Expression::bit:
        case Expression::part: {
            std::vector<Node> out;
            for (const auto& name : names(e)) out.push_back(resolve(name, level + 1));
            if (out.empty()) out.push_back(Logic::unknown);
            return out;
        }
        case Expression::unary: return unary(e, level);
        case Expression::binary: return binary(e, level);
        case Expression::choice: {
            const auto condition = single(e.arguments[0], level + 1);
            auto a = of(e.arguments[1], level + 1), b = of(e.arguments[2], level + 1);
            const size_t width = std::max(a.size(), b.size());
            widen(a, width);
            widen(b, width);
            for (size_t i = 0; i < width; ++i) a[i] = model_.logic->choose(condition, a[i], b[i]);
            return a;
        }
        case Expression::concat: {
            std::vector<Node> out;
            for (const auto& part : e.arguments) {
                const auto more = of(part, level + 1);
                out.insert(out.end(), more.begin(), more.end());
                if (out.size() > widest_bus) return {Logic::unknown};
            }
            return out;
        }
        case Expression::repeat: {
            const auto times = whole(e.arguments[0], constants_);
            const auto inside = of(e.arguments[1], level + 1);
            if (!times || *times < 1 || inside.size() * static_cast<size_t>(*times) > widest_bus)
                return {Logic::unknown};
            std::vector<Node> out;
            for (int i = 0; i < *times; ++i) out.insert(out.end(), inside.begin(), inside.end());
            return out;
        }
        case Expression::other: return {Logic::unknown};
    }
    return {Logic::unknown};
}

}  // namespace kp::models
