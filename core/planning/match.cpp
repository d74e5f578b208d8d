// SPDX-License-Identifier: GPL-3.0-or-later
// Matching port names with terminal names. A name is split into words and a trailing number; endings that only tell
// polarity or direction (n, i, o …) do not count. Greedy by confidence, ties in natural order: deterministic.
#include "core/base/text.hpp"
#include "core/planning/place.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cctype>
#include <set>
#include <tuple>

namespace kp {

namespace {

struct Words {
    std::vector<std::string> words;
    int index = -1;
    char polarity = 0;  ///< 'p' or 'n' at the end, as in clk_p
    /// What bits of one bus, or terminals that are only numbered, have in common.
    [[nodiscard]] std::string family() const {
        std::string out;
        for (const auto& w : words) out += w + ' ';
        return out + polarity;
    }
};

bool is_digit(char c) {
    return std::isdigit(static_cast<unsigned char>(c)) != 0;
}

int index_of(std::string_view digits) {
    return static_cast<int>(to_integer(digits.substr(0, 6)).value_or(0));
}

/// Takes the number from the end of a word: "txd0" gives 0 and leaves "txd". A number inside, as in rs485_di, is part
/// of its word.
std::optional<int> take_number(std::string& word) {
    size_t start = word.size();
    while (start > 0 && is_digit(word[start - 1])) --start;
    if (start == word.size()) return std::nullopt;
    const int index = index_of(std::string_view(word).substr(start));
    word.resize(start);
    return index;
}

Words split_name(std::string_view name) {
    Words out;
    // [3] at the end is the index for certain.
    const auto open = name.rfind('[');
    const bool bus = open != std::string_view::npos && name.ends_with(']') && open + 2 < name.size() &&
                     std::all_of(name.begin() + static_cast<long>(open) + 1, name.end() - 1, is_digit);
    if (bus) {
        out.index = index_of(name.substr(open + 1, name.size() - open - 2));
        name = name.substr(0, open);
    }
    std::string word;
    const auto close = [&] {
        if (!word.empty()) out.words.push_back(word);
        word.clear();
    };
    for (size_t i = 0; i < name.size(); ++i) {
        const auto c = static_cast<unsigned char>(name[i]);
        if (!std::isalnum(c)) {
            close();
            continue;
        }
        if (std::isupper(c) && i > 0 && std::islower(static_cast<unsigned char>(name[i - 1]))) close();
        word += static_cast<char>(std::tolower(c));
    }
    close();
    static const std::set<std::string> endings{"n", "b", "p", "i", "o", "in", "out", "l", "pad", "pin"};
    const auto drop_endings = [&] {
        while (out.words.size() > 1 && endings.contains(out.words.back())) {
            if (out.words.back() == "p" || out.words.back() == "n") out.polarity = out.words.back()[0];
            out.words.pop_back();
        }
    };
    drop_endings();
    if (out.index < 0 && !out.words.empty()) {
        if (const auto number = take_number(out.words.back())) out.index = *number;
        if (out.words.back().empty()) out.words.pop_back();
        drop_endings();
    }
    return out;
}

constexpr double sure_enough = 0.6;  // below it a proposal would be a guess; common practice, no source

double likeness(const std::string& a, const std::string& b) {
    if (a == b) return 1;
    const auto& s = a.size() < b.size() ? a : b;
    const auto& l = a.size() < b.size() ? b : a;
    if (s.size() >= 3 && l.starts_with(s)) return 0.8;  // an abbreviation
    // No fewer edits than letters are missing; most pairs are done here.
    if (static_cast<double>(l.size() - s.size()) >= 0.7 * static_cast<double>(l.size())) return 0;
    const double d = edit_distance(a, b);
    return std::max(0.0, 0.7 - d / static_cast<double>(l.size()));
}

double same(const std::string& a, const std::string& b) {
    return a == b ? 1 : 0;
}

/// 1 when all words agree; words that one side lacks cost a little.
template <class Like>
double compare(const Words& port, const Words& terminal, const Words& part, int shift, Like like) {
    if (port.index + shift != terminal.index && port.index >= 0 && terminal.index >= 0) return 0;
    // The halves of a pair are not alternatives.
    if (port.polarity && terminal.polarity && port.polarity != terminal.polarity) return 0;
    double alone = 0, together = 0;
    for (const auto& w : port.words) {
        double top = 0, with_part = 0;
        for (const auto& t : terminal.words) top = std::max(top, like(w, t));
        for (const auto& t : part.words) with_part = std::max(with_part, top < 1 ? like(w, t) : 0);
        alone += top;
        together += std::max(top, with_part);
    }
    // Words of the board part may help and never hurt: nobody writes all of its label into a port.
    const auto words =
        static_cast<double>(std::max(port.words.size(), std::min(terminal.words.size(), port.words.size() + 1)));
    double best = std::max(alone, 0.95 * together) / words;
    if ((port.index < 0) != (terminal.index < 0)) best *= 0.7;
    return best;
}

bool contradicts(Direction port, TerminalDirection terminal) {
    return (port == Direction::out && terminal == TerminalDirection::drives) ||
           (port == Direction::in && terminal == TerminalDirection::reads);
}

}  // namespace

struct NameMatcher::Entry {
    const BoardNet* net;
    TerminalDirection direction;
    Words terminal, part;
    size_t family = 0;
};

NameMatcher::NameMatcher(const Board& board, const std::vector<Port>& ports) {
    std::unordered_map<std::string, size_t> family_at;
    std::vector<const BoardPart*> part_of;  // of each family; null: of several
    for (const auto& net : board.nets)
        if (const auto found = board.at_terminal(net.terminal)) {
            auto words = split_name(found.terminal->name);
            by_index_[words.index].push_back(entries_.size());
            by_pin_.emplace(net.pin, entries_.size());
            auto part_words = split_name(found.part->name + " " + found.part->label);
            for (const auto* list : {&words.words, &part_words.words})
                for (const auto& word : *list)
                    if (auto& there = by_word_[word]; there.empty() || there.back() != entries_.size())
                        there.push_back(entries_.size());
            const auto [family, fresh] = family_at.try_emplace(words.family(), families_.size());
            if (fresh) {
                families_.emplace_back();
                part_of.push_back(found.part);
            }
            if (part_of[family->second] != found.part) part_of[family->second] = nullptr;
            if (words.index >= 0) families_[family->second].insert(words.index);
            entries_.push_back(
                {&net, found.terminal->direction, std::move(words), std::move(part_words), family->second});
        }
    std::unordered_map<std::string, std::pair<int, int>> ranges;  // of each bus: first and last bit
    for (const auto& port : ports) {
        const auto words = split_name(port.name);
        if (words.index < 0) continue;
        const auto [at, fresh] = ranges.try_emplace(words.family(), words.index, words.index);
        if (!fresh) at->second = {std::min(at->second.first, words.index), std::max(at->second.second, words.index)};
    }
    for (const auto& [bus, range] : ranges) {
        if (range.first < range.second) several_bits_.insert(bus);
        auto& list = counting_[bus];
        for (size_t i = 0; i < families_.size(); ++i) {
            list.push_back(count_from(families_[i], range.first, range.second));
            // Places on several parts are not an element whose width means something.
            if (list.back().narrow && !part_of[i]) list.back() = {0, false};
        }
    }
}

/// How a numbered family of terminals counts, seen from bits `low` to `high` of a bus.
NameMatcher::Counting NameMatcher::count_from(const std::set<int>& numbers, int low, int high) {
    const auto covers = [&](int shift) {
        const auto first = numbers.find(low + shift), last = numbers.find(high + shift);
        return first != numbers.end() && last != numbers.end() && std::distance(first, last) == high - low;
    };
    if (numbers.empty() || covers(0)) return {0, true};
    const int shift = *numbers.begin() - low;
    if (covers(shift)) return {shift, true};
    // Fewer places than bits, one beside the other: the top bits say most of a value.
    const int places = static_cast<int>(numbers.size());
    const bool in_a_row = *numbers.rbegin() - *numbers.begin() + 1 == places;
    if (in_a_row && places > 1 && places < high - low + 1) return {*numbers.rbegin() - high, false, true};
    return {0, false};
}

NameMatcher::Counting NameMatcher::counting(const std::string& bus, size_t family) const {
    const auto at = counting_.find(bus);
    return at == counting_.end() ? Counting{} : at->second[family];
}

NameMatcher::~NameMatcher() = default;

/// Calls each(entry, confidence) for the entries whose number does not speak against the port.
template <class Each>
void NameMatcher::visit(const Port& port, Each each) const {
    const auto p = split_name(port.name);
    const auto bus = p.family();
    const auto some = [&](const std::vector<size_t>& list) {
        for (const size_t i : list) {
            const auto& e = entries_[i];
            if (contradicts(port.direction, e.direction)) continue;
            // Each bit of a bus would be as good a match for a terminal without a number: nobody knows which.
            if (p.index >= 0 && e.terminal.index < 0 && several_bits_.contains(bus)) continue;
            const auto count = counting(bus, e.family);
            // Numbers that start elsewhere, or do not reach, are less sure than equal ones.
            const double doubt = e.terminal.index < 0 || (count.shift == 0 && count.covers) ? 1
                                 : count.covers                                             ? 0.9
                                                                                            : 0.8;
            if (const double c = doubt * compare(p, e.terminal, e.part, count.shift, likeness); c >= sure_enough)
                each(e, c);
        }
    };
    if (p.index < 0) {
        for (const auto& [index, list] : by_index_) some(list);
        return;
    }
    std::set<int> indices{p.index, -1};
    if (const auto at = counting_.find(bus); at != counting_.end())
        for (const auto& count : at->second) indices.insert(p.index + count.shift);
    for (const int index : indices)
        if (const auto at = by_index_.find(index); at != by_index_.end()) some(at->second);
}

NameMatch NameMatcher::match_of(const Port& port, const Entry& e, double c) const {
    const auto p = split_name(port.name);
    const auto count = counting(p.family(), e.family);
    std::string why = c >= 0.999 ? "the names agree" : "the names are alike";
    if (count.narrow && e.terminal.index >= 0 && p.index >= 0)
        why = said(
            "there are fewer places than bits, so the top bits have them and the bottom ones none: bit {} is number {}",
            p.index, e.terminal.index);
    else if (e.terminal.index >= 0 && p.index >= 0 && count.shift != 0)
        why = said("the board's numbers are {}{} the design's: bit {} is number {}", std::abs(count.shift),
                   (count.shift > 0 ? " above" : " below"), p.index, e.terminal.index);
    else if (e.terminal.index >= 0 && !count.covers)
        why = "the board's numbers do not reach over the whole bus";
    return {port.name, e.net->pin, e.net->terminal, why, c};
}

std::optional<NameMatch> NameMatcher::best(const Port& port,
                                           const std::function<bool(const std::string& pin)>& taken) const {
    const Entry* top = nullptr;
    double confidence = 0;
    visit(port, [&](const Entry& e, double c) {
        // Of equals the first of the board, whatever order they are visited in.
        if (c < confidence || (top && c == confidence && e.net > top->net) || (taken && taken(e.net->pin))) return;
        top = &e;
        confidence = c;
    });
    if (!top) return std::nullopt;
    return match_of(port, *top, confidence);
}

std::optional<NameMatch> NameMatcher::certain(const Port& port, const std::string& on) const {
    constexpr double sure = 0.95;
    const auto p = split_name(port.name);
    const auto of = [&](const Entry& e) {
        return contradicts(port.direction, e.direction)
                   ? 0
                   : compare(p, e.terminal, e.part, counting(p.family(), e.family).shift, same);
    };
    if (const auto here = by_pin_.find(on); here != by_pin_.end() && of(entries_[here->second]) >= sure)
        return std::nullopt;
    if (p.words.empty()) return std::nullopt;
    const Entry* top = nullptr;
    double confidence = sure;
    // Every word has to be there; so it is enough to look where the first one is.
    if (const auto at = by_word_.find(p.words.front()); at != by_word_.end())
        for (const size_t i : at->second)
            if (const double c = of(entries_[i]); c > confidence || (c >= sure && !top)) {
                top = &entries_[i];
                confidence = c;
            }
    if (!top) return std::nullopt;
    return match_of(port, *top, confidence);
}

std::vector<NameMatch> NameMatcher::all(const std::vector<Port>& ports, const PegMap& taken) const {
    struct Pair {
        const Port* port;
        const Entry* entry;
        double confidence;
    };
    std::set<std::string> used_pins;
    for (const auto& [port, peg] : taken) used_pins.insert(peg.pin);
    std::vector<Pair> pairs;
    for (const auto& port : ports)
        if (!taken.contains(port.name)) visit(port, [&](const Entry& e, double c) { pairs.push_back({&port, &e, c}); });
    std::sort(pairs.begin(), pairs.end(), [](const Pair& a, const Pair& b) {
        return std::tie(b.confidence, a.port, a.entry) < std::tie(a.confidence, b.port, b.entry);
    });
    std::set<std::string> ports_done;
    std::vector<NameMatch> out;
    for (const auto& m : pairs)
        if (!ports_done.contains(m.port->name) && used_pins.insert(m.entry->net->pin).second) {
            ports_done.insert(m.port->name);
            out.push_back(match_of(*m.port, *m.entry, m.confidence));
        }
    std::sort(out.begin(), out.end(),
              [](const NameMatch& a, const NameMatch& b) { return natural_less(a.port, b.port); });
    return out;
}

std::vector<NameMatch> match_names(const std::vector<Port>& ports, const Board& board, const PegMap& taken) {
    return NameMatcher(board, ports).all(ports, taken);
}

}  // namespace kp
