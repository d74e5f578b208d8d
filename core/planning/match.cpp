// SPDX-License-Identifier: GPL-3.0-or-later
// Matching port names with terminal names. A name is split into words and a trailing number; endings that only tell
// polarity or direction (n, i, o …) do not count. Greedy by confidence, ties in natural order: deterministic.
#include "core/base/text.hpp"
#include "core/planning/place.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cctype>
#include <map>
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

/// Short forms that mean one word (common practice, no source).
std::string_view in_full(std::string_view word) {
    if (word == "rst" || word == "arst") return "reset";
    if (word == "clk" || word == "ck") return "clock";
    if (word == "rxd") return "rx";
    if (word == "txd") return "tx";
    return word;
}

double likeness(const std::string& a, const std::string& b) {
    if (a == b) return 1;
    if (in_full(a) == in_full(b)) return 0.95;
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

}  // namespace

bool contradicts(Direction port, TerminalDirection terminal) {
    return (port == Direction::out && terminal == TerminalDirection::drives) ||
           (port == Direction::in && terminal == TerminalDirection::reads);
}

struct NameMatcher::Entry {
    const BoardNet* net;
    TerminalDirection direction;
    Words terminal, part;
    size_t family = 0;
    double trust = 1;  ///< below 1: not the name as it stands, but what it may stand for
    const char* why = nullptr;
};

namespace {

/// Words that stand for a kind of board part in the names of ports (common practice, no source).
const std::vector<std::string>& words_of_kind(const std::string& kind) {
    static const std::map<std::string, std::vector<std::string>> words{
        {"display", {"seg", "segs", "segment", "segments", "digit", "hex"}},
        {"key", {"key", "keys", "btn", "button", "buttons", "pb"}},
        {"rocker", {"rocker", "sw", "switch", "switches", "dip"}},
        {"lamp", {"lamp", "lamps", "led", "leds", "light", "lights"}},
        {"sounder", {"sounder", "buzzer", "tone", "speaker"}},
        {"oscillator", {"osc", "clk", "clock"}},
    };
    static const std::vector<std::string> none;
    const auto at = words.find(kind);
    return at == words.end() ? none : at->second;
}

constexpr const char* across_why = "a serial line has the other side's name there";

/// The other side of a serial link, word for word; empty for a name that is of no link.
std::string across(const std::string& word) {
    static const std::map<std::string, std::string> sides{{"tx", "rx"}, {"txd", "rxd"}, {"rts", "cts"},
                                                          {"rx", "tx"}, {"rxd", "txd"}, {"cts", "rts"}};
    const auto at = sides.find(word);
    return at == sides.end() ? "" : at->second;
}

/// Terminals of one part that are lettered through, a to g: position in the alphabet by name. A point after the last
/// letter is the next one.
std::map<std::string, std::pair<std::string, int>> lettered(const BoardPart& part) {
    std::map<std::string, std::map<char, std::string>> rows;  // by what stands before the letter
    std::map<std::string, std::string> points;
    for (const auto& t : part.terminals) {
        auto name = lower(t.name);
        if (name.empty() || !std::isalpha(static_cast<unsigned char>(name.back()))) continue;
        const auto stem_of = [](std::string stem) {
            while (!stem.empty() && !std::isalnum(static_cast<unsigned char>(stem.back()))) stem.pop_back();
            return stem;
        };
        const auto word = name.substr(name.find_last_not_of("abcdefghijklmnopqrstuvwxyz") + 1);
        if (word == "dp" || word == "point" || word == "dot")
            points[stem_of(name.substr(0, name.size() - word.size()))] = t.name;
        else if (word.size() == 1)
            rows[stem_of(name.substr(0, name.size() - 1))][name.back()] = t.name;
    }
    std::map<std::string, std::pair<std::string, int>> out;
    for (const auto& [stem, letters] : rows) {
        constexpr size_t fewest = 3;
        const bool through = letters.begin()->first == 'a' && letters.size() >= fewest &&
                             letters.rbegin()->first - 'a' + 1 == static_cast<int>(letters.size());
        if (!through) continue;
        for (const auto& [letter, name] : letters) out[name] = {stem, letter - 'a'};
        if (const auto point = points.find(stem); point != points.end())
            out[point->second] = {stem, static_cast<int>(letters.size())};
    }
    return out;
}

}  // namespace

NameMatcher::NameMatcher(const Board& board, const std::vector<Port>& ports) {
    std::unordered_map<std::string, size_t> family_at;
    std::vector<const BoardPart*> part_of;  // of each family; null: of several
    std::map<const BoardPart*, std::map<std::string, std::pair<std::string, int>>> letters;
    const auto add = [&](Entry entry, const std::string& family_name, const BoardPart* part) {
        by_index_[entry.terminal.index].push_back(entries_.size());
        const auto [family, fresh] = family_at.try_emplace(family_name, families_.size());
        if (fresh) {
            families_.emplace_back();
            part_of.push_back(part);
        }
        if (part_of[family->second] != part) part_of[family->second] = nullptr;
        if (entry.terminal.index >= 0) families_[family->second].insert(entry.terminal.index);
        entry.family = family->second;
        entries_.push_back(std::move(entry));
    };
    for (const auto& net : board.nets)
        if (const auto found = board.at_terminal(net.terminal)) {
            auto words = split_name(found.terminal->name);
            by_pin_.emplace(net.pin, entries_.size());
            auto part_words = split_name(found.part->name + " " + found.part->label);
            for (const auto* list : {&words.words, &part_words.words})
                for (const auto& word : *list)
                    if (auto& there = by_word_[word]; there.empty() || there.back() != entries_.size())
                        there.push_back(entries_.size());
            add({&net, found.terminal->direction, words, part_words}, words.family(), found.part);
            // What else the name may stand for: a letter for a number, the other side's name of a serial line.
            auto also = part_words;
            const auto& more = words_of_kind(found.part->kind);
            also.words.insert(also.words.end(), more.begin(), more.end());
            const auto [row, first] = letters.try_emplace(found.part);
            if (first) row->second = lettered(*found.part);
            if (const auto letter = row->second.find(found.terminal->name); letter != row->second.end()) {
                auto by_letter = letter->second.first.empty() ? Words{} : split_name(letter->second.first);
                by_letter.index = letter->second.second;
                const auto family = found.part->ref + " " + by_letter.family() + " by letter";
                add({&net, found.terminal->direction, std::move(by_letter), also, 0, 0.9, "its letter counts the bits"},
                    family, found.part);
            }
            auto crossed = words;
            bool crosses = false;
            for (auto& word : crossed.words)
                if (auto other = across(word); !other.empty()) {
                    word = std::move(other);
                    crosses = true;
                }
            if (crosses)
                add({&net, found.terminal->direction, crossed, also, 0, 0.9, across_why}, crossed.family() + " across",
                    found.part);
        }
    for (const auto* part : part_of) rows_.push_back(part && part->kind != "header");
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
            // Only what goes one way can be crossed.
            if (e.trust < 1 && e.terminal.index < 0 &&
                (port.direction == Direction::inout ||
                 (e.direction != TerminalDirection::drives && e.direction != TerminalDirection::reads)))
                continue;
            // Each bit of a bus would be as good a match for a terminal without a number: nobody knows which.
            if (p.index >= 0 && e.terminal.index < 0 && several_bits_.contains(bus)) continue;
            const auto count = counting(bus, e.family);
            // Numbers that start elsewhere, or do not reach, are less sure than equal ones.
            const double doubt = e.terminal.index < 0 || (count.shift == 0 && count.covers) ? 1
                                 : count.covers                                             ? 0.9
                                                                                            : 0.8;
            if (const double c = e.trust * doubt * compare(p, e.terminal, e.part, count.shift, likeness);
                c >= sure_enough)
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
    else if (e.why)
        why = e.why;
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

std::vector<NameMatch> NameMatcher::by_order(const std::vector<Port>& ports, const PegMap& taken) const {
    std::set<std::string> used;
    for (const auto& [port, peg] : taken) used.insert(peg.pin);
    using Bits = std::map<int, const Port*>;
    using Row = std::map<int, const Entry*>;
    std::map<std::string, Bits> buses;
    std::map<size_t, Row> rows;
    std::set<std::string> begun;
    std::set<size_t> broken;
    for (const auto& p : ports)
        if (p.index >= 0) taken.contains(p.name) ? void(begun.insert(p.bus)) : void(buses[p.bus][p.index] = &p);
    for (const auto& e : entries_) {
        if (!rows_[e.family] || e.terminal.index < 0 || e.why == across_why) continue;
        if (used.contains(e.net->pin) || !rows[e.family].emplace(e.terminal.index, &e).second) broken.insert(e.family);
    }
    constexpr size_t fewest = 3;
    const auto whole = [](const auto& list) {
        return list.size() >= fewest && list.rbegin()->first - list.begin()->first + 1 == static_cast<int>(list.size());
    };
    const auto fits = [&](const Bits& bits, const Row& row) {
        const auto direction = bits.begin()->second->direction;
        return bits.size() == row.size() && whole(bits) && whole(row) &&
               std::none_of(row.begin(), row.end(), [&](const auto& at) {
                   return contradicts(direction, at.second->direction) ||
                          at.second->direction == TerminalDirection::passive;
               });
    };
    std::map<std::string, std::vector<size_t>> places;
    std::map<size_t, size_t> wanted;
    for (const auto& [bus, bits] : buses)
        for (const auto& [family, row] : rows)
            if (!begun.contains(bus) && !broken.contains(family) && fits(bits, row)) {
                places[bus].push_back(family);
                ++wanted[family];
            }
    std::vector<NameMatch> out;
    for (const auto& [bus, families] : places) {
        if (families.size() != 1 || wanted.at(families[0]) != 1) continue;
        auto at = rows.at(families[0]).begin();
        for (const auto& [index, port] : buses.at(bus)) {
            out.push_back({port->name, at->second->net->pin, at->second->net->terminal,
                           said("the only bus of {} bits, and the only row of so many terminals", buses.at(bus).size()),
                           sure_enough});
            ++at;
        }
    }
    return out;
}

std::vector<NameMatch> match_names(const std::vector<Port>& ports, const Board& board, const PegMap& taken) {
    return NameMatcher(board, ports).all(ports, taken);
}

}  // namespace kp
