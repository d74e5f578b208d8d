// SPDX-License-Identifier: GPL-3.0-or-later
// From what the user types or drops to a pin, and from pins to edits.
#pragma once

#include "core/model/board.hpp"
#include "core/model/edit.hpp"
#include "core/model/netlist.hpp"
#include "core/model/part.hpp"

#include <functional>
#include <optional>
#include <set>
#include <string>
#include <unordered_map>
#include <vector>

namespace kp {

/// The pin a typed text means: a pin ("61", "k14"), a terminal ("D1.rose3", "rose3"), or a kind with its order
/// ("lamp3"). Case does not count. Errors: nothing is named so (with the nearest name), or several things are.
[[nodiscard]] Result<std::string> find_place(const std::string& text, const Part& part, const Board& board);

/// Pegs a port; an I/O standard nobody chose is taken from the board with that origin. Empty when nothing would change.
[[nodiscard]] Edit peg_edit(const Project& project, const Board& board, const std::string& port, const std::string& pin,
                            const std::string& origin);
/// Sets a port adrift.
[[nodiscard]] Edit unpeg_edit(const Project& project, const std::string& port);
/// Exchanges the pins of two ports.
[[nodiscard]] Edit swap_edit(const Project& project, const std::string& a, const std::string& b);
/// Chooses an I/O standard; empty text takes the choice back.
[[nodiscard]] Edit standard_edit(const Project& project, const std::string& port, const std::string& standard,
                                 const std::string& origin = "chosen");
/// Turns loose pegs into pegged ones.
[[nodiscard]] Edit accept_edit(const Project& project);

/// Both ends of the wire would drive it, or neither would.
[[nodiscard]] bool contradicts(Direction port, TerminalDirection terminal);

/// A pin that a name suggests for a port, with how sure that is (0 to 1) and why.
struct NameMatch {
    std::string port, pin, terminal, why;
    double confidence = 0;
};
/// The terminals of a board, taken apart once, for comparing port names with them word by word: index, abbreviations
/// and polarity endings apart. A terminal whose direction contradicts the port is not a match.
class NameMatcher {
public:
    /// `ports`: the whole design, so that a bus from 0 meets terminals that are numbered from 1.
    NameMatcher(const Board& board, const std::vector<Port>& ports);
    ~NameMatcher();
    /// The surest terminal whose pin is not `taken`, if any is sure enough.
    [[nodiscard]] std::optional<NameMatch> best(const Port& port,
                                                const std::function<bool(const std::string& pin)>& taken) const;
    /// The terminal that is certainly meant: every word of the port is one of its own or its board part's. None when
    /// pin `on` is such a place itself.
    [[nodiscard]] std::optional<NameMatch> certain(const Port& port, const std::string& on) const;
    /// Each port and pin is used once, the surest first. Ports in `taken` and their pins are left alone.
    [[nodiscard]] std::vector<NameMatch> all(const std::vector<Port>& ports, const PegMap& taken) const;
    /// What no name says and order does: the only bus of so many bits, where one part has the only free row of so many
    /// numbered or lettered terminals. Buses of fewer than three bits, and headers, say too little.
    [[nodiscard]] std::vector<NameMatch> by_order(const std::vector<Port>& ports, const PegMap& taken) const;

private:
    struct Entry;
    /// How terminals that are only numbered count, seen from a bus: number = bit + shift. `covers`: there is one for
    /// each bit.
    struct Counting {
        int shift = 0;
        bool covers = true;
        bool narrow = false;  ///< fewer numbers than bits; the top bits have them
    };
    static Counting count_from(const std::set<int>& numbers, int low, int high);
    [[nodiscard]] Counting counting(const std::string& bus, size_t family) const;
    [[nodiscard]] NameMatch match_of(const Port& port, const Entry& entry, double confidence) const;
    template <class Each>
    void visit(const Port& port, Each each) const;
    std::vector<Entry> entries_;
    std::vector<bool> rows_;                                           ///< by family: it is one part's, and no header's
    std::vector<std::set<int>> families_;                              ///< numbers of terminals with the same words
    std::unordered_map<std::string, std::vector<Counting>> counting_;  ///< per bus of the design, by family
    std::set<std::string> several_bits_;                               ///< buses of the design
    std::unordered_map<std::string, size_t> by_pin_;
    std::unordered_map<std::string, std::vector<size_t>> by_word_;
    std::unordered_map<int, std::vector<size_t>>
        by_index_;  ///< positions in entries_ by number in the name, -1 for none
};

/// Compares names word by word: index, abbreviations and polarity endings apart. Each port and terminal is used once; a
/// terminal whose direction contradicts the port is not a match. Ports in `taken` and their pins are left alone.
[[nodiscard]] std::vector<NameMatch> match_names(const std::vector<Port>& ports, const Board& board,
                                                 const PegMap& taken);

}  // namespace kp
