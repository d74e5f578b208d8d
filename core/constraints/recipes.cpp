// SPDX-License-Identifier: GPL-3.0-or-later
// The comment is parsed word by word; one that does not read as a recipe is a comment like any other.
#include "core/constraints/recipes.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cmath>

namespace kp {

namespace {

constexpr std::string_view head = "# recipe ";
constexpr const char* recipe_file = "recipes.sdc";

std::vector<std::string> words_of(std::string_view text) {
    std::vector<std::string> out;
    for (const auto w : split(text, ' '))
        if (!w.empty()) out.emplace_back(w);
    return out;
}

/// "pll: 25 MHz in, 100 125 MHz wanted at 0 90 -> divide …"
std::optional<Recipe> parse(std::string_view line) {
    if (!line.starts_with(head)) return std::nullopt;
    line.remove_prefix(head.size());
    const auto colon = line.find(": "), in = line.find(" MHz in, "), wanted = line.find(" MHz wanted"),
               arrow = line.find(" -> ");
    if (colon == std::string_view::npos || in == std::string_view::npos || wanted == std::string_view::npos ||
        arrow == std::string_view::npos || !(colon < in && in + 9 <= wanted && wanted < arrow))
        return std::nullopt;
    Recipe r;
    r.cell = line.substr(0, colon);
    r.in = trim(line.substr(colon + 2, in - colon - 2));
    r.want = words_of(line.substr(in + 9, wanted - in - 9));
    const auto at = line.substr(wanted + 11, arrow - wanted - 11);
    if (at.starts_with(" at ")) r.phase = words_of(at.substr(4));
    r.result = trim(line.substr(arrow + 4));
    if (r.want.empty() || (!r.phase.empty() && r.phase.size() != r.want.size())) return std::nullopt;
    return r;
}

std::string joined(const std::vector<std::string>& list) {
    std::string out;
    for (const auto& w : list) out += (out.empty() ? "" : " ") + w;
    return out;
}

/// Where a recipe's lines end: at a blank line, a comment or the end.
size_t end_of(const std::string& text, size_t begin) {
    size_t at = text.find('\n', begin);
    while (at != std::string::npos && at + 1 < text.size() && text[at + 1] != '\n' && text[at + 1] != '#' &&
           text[at + 1] != '\r')
        at = text.find('\n', at + 1);
    return at == std::string::npos ? text.size() : at + 1;
}

}  // namespace

std::vector<Recipe> recipes_of(const Project& project) {
    std::vector<Recipe> out;
    for (const auto& file : project.constraints) {
        int number = 0;
        bool below = false;
        for (auto line : split(file.text, '\n')) {
            ++number;
            if (line.ends_with('\r')) line.remove_suffix(1);
            if (auto r = parse(line)) {
                r->file = file.path;
                r->line = number;
                out.push_back(std::move(*r));
                below = true;
            } else if (line.empty() || line.starts_with('#')) {
                below = false;
            } else if (below) {
                out.back().lines.emplace_back(line);
            }
        }
    }
    return out;
}

std::string result_words(const clocks::PllSetting& s) {
    std::string out = said("divide {}, multiply {}, outputs", s.divide, s.multiply);
    for (const auto& o : s.outputs) out += said(" {}", o.divide);
    return out;
}

std::string recipe_text(const Recipe& r, const std::vector<std::string>& lines) {
    std::string out = said("{}{}: {} MHz in, {} MHz wanted{} -> {}\n", head, r.cell, r.in, joined(r.want),
                           (r.phase.empty() ? "" : " at " + joined(r.phase)), r.result);
    for (const auto& line : lines) out += line + "\n";
    return out;
}

std::string why_old(const Recipe& r, const Part& part, double board_mhz, const PllFacts* pll) {
    const auto in = to_number(r.in);
    if (board_mhz > 0 && in && std::fabs(*in - board_mhz) > 1e-9 * board_mhz)
        return said("the board gives {} MHz there, not {} MHz", shortest(board_mhz), r.in);
    if (pll && pll->divide && pll->multiply) {
        std::string made = said("divide {}, multiply {}, outputs", *pll->divide, *pll->multiply);
        size_t known = 0;
        for (const auto& o : pll->outputs)
            if (o.divide) {
                made += said(" {}", *o.divide);
                ++known;
            }
        if (known >= r.want.size() && !made.starts_with(r.result)) return "the netlist sets " + made;
    }
    clocks::PllWish wish;
    auto exact = clocks::fraction_of(std::string_view(r.in));
    if (!exact) return said("'{}' is not a frequency", r.in);
    wish.in = exact.take();
    for (const auto& w : r.want) {
        auto f = clocks::fraction_of(std::string_view(w));
        if (!f) return said("'{}' is not a frequency", w);
        wish.want.push_back(f.take());
    }
    wish.best = 200;
    const auto found = clocks::search_pll(part, wish);
    if (!found) return found.first().text;
    const auto& list = found.value().solutions;
    if (std::none_of(list.begin(), list.end(), [&](const auto& s) { return result_words(s) == r.result; }))
        return list.empty() ? "no setting of this part is legal any more"
                            : "this part does better, or does not allow it: " + result_words(list.front());
    return {};
}

Edit write_recipe(const Project& project, const Recipe& recipe, const std::vector<std::string>& lines) {
    const auto text = recipe_text(recipe, lines);
    Edit edit{"write the recipe of " + recipe.cell, {}};
    for (const auto& file : project.constraints) {
        const auto begin = file.text.find(std::string(head) + recipe.cell + ": ");
        if (begin == std::string::npos || (begin > 0 && file.text[begin - 1] != '\n')) continue;
        const auto end = end_of(file.text, begin);
        edit.changes.emplace_back(TextChange{file.path, begin, file.text.substr(begin, end - begin), text});
        return edit;
    }
    for (const auto& file : project.constraints)
        if (file.path == recipe_file) {
            const std::string gap = file.text.empty() || file.text.ends_with('\n') ? "" : "\n";
            edit.changes.emplace_back(TextChange{file.path, file.text.size(), "", gap + text});
            return edit;
        }
    // Behind the first file, which has the clocks that come in, and before those that speak of these.
    Project next = project;
    SdcFile fresh;
    fresh.path = recipe_file;
    fresh.text = text;
    next.constraints.insert(next.constraints.begin() + (next.constraints.empty() ? 0 : 1), fresh);
    return difference_edit(project, next, edit.title);
}

Result<Edit> recipe_edit(const Project& project, const PllFacts& pll, const Constraints& constraints,
                         const clocks::PllSetting& setting, const Recipe& wanted) {
    if (pll.outputs.size() < setting.outputs.size())
        return Message{
            Severity::stop, Code::recipe,
            said("{} has {} in the design; {} are wanted.", pll.cell,
                 counted(static_cast<long long>(pll.outputs.size()), "wired output"), setting.outputs.size())};
    const auto in = clocks::fraction_of(std::string_view(wanted.in));
    if (!in) return in.messages();
    Recipe recipe = wanted;
    recipe.cell = pll.cell;
    recipe.result = result_words(setting);
    std::vector<std::string> pins, names;
    for (const auto& o : pll.outputs) {
        pins.push_back(o.pin);
        names.push_back(o.clock != no_id ? constraints.clocks[o.clock].name : o.pin);
    }
    return write_recipe(project, recipe,
                        clocks::generated_clocks(setting, pll.input.empty() ? pll.cell : pll.input, pins, names,
                                                 1000 / clocks::number_of(in.value())));
}

}  // namespace kp
