// SPDX-License-Identifier: GPL-3.0-or-later
// The project keeps texts by ref; what is meant with them is read here and nowhere else.
#include "core/model/by_hand.hpp"

#include "core/base/text.hpp"

#include <algorithm>

namespace kp {

std::pair<double, double> place_of(const BoardPart& part, const Project& project) {
    const std::pair as_made{part.x, part.y};
    const auto said = project.part_places.find(part.ref);
    if (said == project.part_places.end()) return as_made;
    const auto numbers = split(said->second, ' ');
    if (numbers.size() != 2) return as_made;
    const auto x = to_number(numbers[0]), y = to_number(numbers[1]);
    return x && y ? std::pair{*x, *y} : as_made;
}

void order_terminals(Board& board, const Project& project) {
    for (auto& part : board.parts) {
        const auto said = project.part_orders.find(part.ref);
        if (said == project.part_orders.end()) continue;
        std::map<std::string, int, std::less<>> rank;
        for (const auto name : split(said->second, ' ')) rank.emplace(name, static_cast<int>(rank.size()));
        const auto after = static_cast<int>(rank.size());
        for (auto& t : part.terminals) {
            const auto at = rank.find(t.name);
            t.order = at != rank.end() ? at->second : after + std::max(0, t.order);
        }
    }
}

std::vector<std::string> terminals_in_order(const BoardPart& part) {
    std::vector<const Terminal*> list;
    for (const auto& t : part.terminals) list.push_back(&t);
    std::stable_sort(list.begin(), list.end(), [](const auto* a, const auto* b) { return a->order < b->order; });
    std::vector<std::string> out;
    for (const auto* t : list) out.push_back(t->name);
    return out;
}

namespace {

constexpr std::string_view open_mark = "[ ] ", done_mark = "[x] ";

/// Blanks of any kind are one blank, so that a text stays one line of a field.
std::string one_line_of(const std::string& text) {
    std::string out;
    for (const char c : text) {
        const bool blank = c == '\n' || c == '\r' || c == '\t' || c == ' ';
        if (!blank) out += c;
        if (blank && !out.empty() && out.back() != ' ') out += ' ';
    }
    return std::string(trim(out));
}

}  // namespace

std::vector<PowerNote> power_notes(const Board& board, const Project& project) {
    std::vector<PowerNote> out;
    for (const auto& text : board.notes) out.push_back({one_line_of(text), false, false});
    for (const auto& line : project.power_notes) {
        const bool done = line.starts_with(done_mark);
        const auto text = done || line.starts_with(open_mark) ? line.substr(open_mark.size()) : line;
        const auto at = std::find_if(out.begin(), out.end(), [&](const PowerNote& n) { return n.text == text; });
        if (at == out.end())
            out.push_back({text, done, true});
        else
            at->done |= done;
    }
    return out;
}

std::vector<std::string> with_power_note(const Board& board, const Project& project, const std::string& text,
                                         Tick tick) {
    auto notes = power_notes(board, project);
    const auto wanted = one_line_of(text);
    const auto at = std::find_if(notes.begin(), notes.end(), [&](const PowerNote& n) { return n.text == wanted; });
    if (at != notes.end())
        at->done = tick == Tick::done;
    else if (!wanted.empty() && tick != Tick::drop)
        notes.push_back({wanted, tick == Tick::done, true});
    if (at != notes.end() && at->own && tick == Tick::drop) notes.erase(at);
    std::vector<std::string> out;
    for (const auto& n : notes)
        if (n.own || n.done) out.push_back(std::string(n.done ? done_mark : open_mark) + n.text);
    return out;
}

}  // namespace kp
