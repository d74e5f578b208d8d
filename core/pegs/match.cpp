// SPDX-License-Identifier: GPL-3.0-or-later
// Matching port names with terminal names. A name is split into words and a trailing number; endings that only tell
// polarity or direction (n, i, o …) do not count. Greedy by confidence, ties in natural order: deterministic.
#include "core/base/text.hpp"
#include "core/pegs/place.hpp"

#include <algorithm>
#include <cctype>
#include <set>

namespace kp {

namespace {

struct Words {
    std::vector<std::string> words;
    int index = -1;
};

Words split_name(const std::string& name) {
    Words out;
    std::string word;
    const auto close = [&] {
        if (!word.empty()) out.words.push_back(word);
        word.clear();
    };
    for (size_t i = 0; i < name.size(); ++i) {
        const auto c = static_cast<unsigned char>(name[i]);
        if (std::isdigit(c)) {
            size_t end = i;
            while (end < name.size() && std::isdigit(static_cast<unsigned char>(name[end]))) ++end;
            close();
            out.index = static_cast<int>(to_integer(std::string_view(name).substr(i, std::min<size_t>(end - i, 6))).value_or(0));
            i = end - 1;
        } else if (std::isalpha(c)) {
            const bool hump = std::isupper(c) && i > 0 && std::islower(static_cast<unsigned char>(name[i - 1]));
            if (hump) close();
            word += static_cast<char>(std::tolower(c));
        } else {
            close();
        }
    }
    close();
    static const std::set<std::string> endings{"n", "b", "p", "i", "o", "in", "out", "l", "pad", "pin"};
    while (out.words.size() > 1 && endings.contains(out.words.back())) out.words.pop_back();
    return out;
}

double likeness(const std::string& a, const std::string& b) {
    if (a == b) return 1;
    const auto& s = a.size() < b.size() ? a : b;
    const auto& l = a.size() < b.size() ? b : a;
    if (s.size() >= 3 && l.starts_with(s)) return 0.8;  // an abbreviation
    const double d = edit_distance(a, b);
    return std::max(0.0, 0.7 - d / static_cast<double>(l.size()));
}

/// 1 when all words agree; words that one side lacks cost a little.
double compare(const Words& port, const Words& terminal, const Words& part) {
    if (port.index != terminal.index && port.index >= 0 && terminal.index >= 0) return 0;
    double best = 0;
    const auto score = [&](const std::vector<std::string>& wanted) {
        double sum = 0;
        for (const auto& w : port.words) {
            double top = 0;
            for (const auto& t : wanted) top = std::max(top, likeness(w, t));
            sum += top;
        }
        return sum / static_cast<double>(std::max(port.words.size(), std::min(wanted.size(), port.words.size() + 1)));
    };
    best = score(terminal.words);
    auto both = part.words;
    both.insert(both.end(), terminal.words.begin(), terminal.words.end());
    best = std::max(best, 0.95 * score(both));
    if ((port.index < 0) != (terminal.index < 0)) best *= 0.7;
    return best;
}

bool contradicts(Direction port, TerminalDirection terminal) {
    return (port == Direction::out && terminal == TerminalDirection::drives) || (port == Direction::in && terminal == TerminalDirection::reads);
}

}  // namespace

std::vector<NameMatch> match_names(const std::vector<Port>& ports, const Board& board, const PegMap& taken) {
    constexpr double sure_enough = 0.6;  // below it a proposal would be a guess; common practice, no source
    std::set<std::string> used_pins;
    for (const auto& [port, peg] : taken) used_pins.insert(peg.pin);
    std::vector<NameMatch> all;
    for (const auto& port : ports) {
        if (taken.contains(port.name)) continue;
        const auto p = split_name(port.name);
        for (const auto& net : board.nets) {
            const auto found = board.at_terminal(net.terminal);
            if (!found || used_pins.contains(net.pin) || contradicts(port.direction, found.terminal->direction)) continue;
            const double c = compare(p, split_name(found.terminal->name), split_name(found.part->name));
            if (c < sure_enough) continue;
            const bool same = c >= 0.999;
            all.push_back({port.name, net.pin, net.terminal, same ? "the names agree" : "the names are alike", c});
        }
    }
    std::stable_sort(all.begin(), all.end(), [](const NameMatch& a, const NameMatch& b) { return a.confidence > b.confidence; });
    std::set<std::string> ports_done;
    std::vector<NameMatch> out;
    for (const auto& m : all)
        if (!ports_done.contains(m.port) && used_pins.insert(m.pin).second) {
            ports_done.insert(m.port);
            out.push_back(m);
        }
    std::sort(out.begin(), out.end(), [](const NameMatch& a, const NameMatch& b) { return natural_less(a.port, b.port); });
    return out;
}

}  // namespace kp
