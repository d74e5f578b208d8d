// SPDX-License-Identifier: GPL-3.0-or-later
// Rows of a wiring list to a board. Headings are guessed by their words and can be told; a range against a range
// wires pair by pair.
#include "core/format/table/board_table.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"
#include "core/format/table/remarks.hpp"

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>
#include <set>

namespace kp::table {

namespace {

struct RoleRow {
    Role role;
    const char* name;
    std::vector<std::string> headings;  ///< lower case, the surest first
};
const std::array<RoleRow, role_count>& roles() {
    static const std::array<RoleRow, role_count> rows{{
        {Role::ignored, "not used", {}},
        {Role::part,
         "board part",
         {"peripheral", "component", "refdes", "ref", "device", "part", "block", "connector", "group"}},
        {Role::terminal, "terminal", {"terminal", "signal", "net", "name", "function", "port"}},
        {Role::pin, "FPGA pin", {"fpga pin", "fpga ball", "ball", "pin", "location", "pad"}},
        {Role::direction, "direction", {"direction", "dir", "in/out", "i/o", "type"}},
        {Role::active, "active level", {"active", "polarity"}},
        {Role::standard, "I/O standard", {"i/o standard", "io standard", "standard", "level", "voltage"}},
        {Role::trace, "trace length", {"trace", "length"}},
        {Role::series, "series resistor", {"series"}},
        {Role::pull, "pull", {"pull direction", "pull up/down", "pull"}},
        {Role::pull_ohm, "pull resistor", {"pull resistor", "pull ohm", "pull-up", "pullup", "resistor"}},
        {Role::capacitance, "capacitance", {"capacitance", "cap"}},
        {Role::frequency, "frequency", {"frequency", "freq", "clock rate", "mhz"}},
        {Role::kind, "kind", {"kind", "class", "category"}},
        {Role::bank, "bank", {"bank", "i/o bank"}},
        {Role::pair, "pair", {"pair", "differential", "partner"}},
        {Role::half, "half of the pair", {}},  // of a pin list; its heading is that of the active level
        {Role::remarks, "remarks", {"remarks", "remark", "notes", "note", "comment", "comments", "description"}},
    }};
    return rows;
}

std::string plain(std::string_view heading) {
    std::string out;
    for (const char c : lower(heading)) out += c == '_' || c == '-' ? ' ' : c;
    return std::string(trim(out));
}

std::optional<TerminalDirection> direction_word(const std::string& word, bool from_fpga) {
    const auto w = lower(word);
    const auto turned = [&](TerminalDirection seen_by_part, TerminalDirection other) {
        return from_fpga ? other : seen_by_part;
    };
    if (w == "in" || w == "input" || w == "i") return turned(TerminalDirection::reads, TerminalDirection::drives);
    if (w == "out" || w == "output" || w == "o") return turned(TerminalDirection::drives, TerminalDirection::reads);
    if (w == "inout" || w == "io" || w == "i/o" || w == "bidir" || w == "both" || w == "bi" || w == "in/out")
        return TerminalDirection::both;
    if (w == "drives" || w == "reads" || w == "passive") return terminal_direction_of(w);
    return std::nullopt;
}

/// What a kind of part is, from its name.
std::string kind_of(const std::string& name) {
    const auto n = lower(name);
    const std::pair<const char*, const char*> known[] = {
        {"led", "lamp"},       {"lamp", "lamp"},     {"button", "key"},     {"key", "key"},
        {"switch", "rocker"},  {"rocker", "rocker"}, {"buzz", "sounder"},   {"sound", "sounder"},
        {"header", "header"},  {"conn", "header"},   {"osc", "oscillator"}, {"clock", "oscillator"},
        {"clk", "oscillator"}, {"uart", "serial"},   {"serial", "serial"}};
    for (const auto& [word, kind] : known)
        if (n.find(word) != std::string::npos) return kind;
    return "part";
}

class Drafter {
public:
    Drafter(const Grid& grid, const Mapping& mapping, const Part& part, const StandardTable& standards)
        : grid_(grid), map_(mapping), part_(part), standards_(standards) {}

    BoardDraft run(const std::string& name, const std::string& code) {
        auto& b = out_.board;
        b.name = name;
        b.part = code;
        b.revision = "";
        b.fpga = "U1";
        if (map_.column(Role::pin) < 0 || map_.column(Role::terminal) < 0) {
            out_.troubles.push_back(
                {0, -1, Severity::stop, "Say which column holds the FPGA pin and which the terminal."});
            return std::move(out_);
        }
        if (!grid_.titles.empty()) out_.troubles.push_back({0, -1, Severity::note, grid_.title_words()});
        for (size_t r = 0; r < grid_.rows.size(); ++r) {
            ++out_.rows;
            if (map_.leaves_out(grid_.rows[r]) || says_unused(cell(r, Role::terminal)))
                ++out_.unused;
            else
                row(r);
        }
        if (map_.column(Role::part) < 0 && out_.wired > 0)
            out_.troubles.push_back(
                {0, -1, Severity::caution,
                 "No column names the board parts; all terminals stand on one part, BOARD, until a column is said."});
        rails();
        place();
        out_.board.index();  // the parts have other positions now
        return std::move(out_);
    }

private:
    /// Without a tail in brackets, which is a remark.
    [[nodiscard]] std::string cell(size_t r, Role role) const {
        auto text = map_.cell(grid_.rows[r], role);
        if (role != Role::remarks && !says_unused(text)) take_tail(text);
        return text;
    }
    /// All that is said of a row in words: its remarks, the tails of its cells, and what follows a frequency.
    [[nodiscard]] std::string words_beside(size_t r) const {
        auto out = map_.cell(grid_.rows[r], Role::remarks);
        for (const auto role : {Role::part, Role::terminal, Role::pin, Role::standard, Role::frequency}) {
            auto text = map_.cell(grid_.rows[r], role);
            if (const auto tail = take_tail(text); !tail.empty()) out += "; " + tail;
        }
        return out + "; " + map_.cell(grid_.rows[r], Role::frequency);
    }
    void trouble(size_t r, Role role, const std::string& text, Severity severity = Severity::stop) {
        out_.troubles.push_back({r, map_.column(role), severity, text});
        bad_ |= severity == Severity::stop;
    }

    /// An optional number; what cannot be read is a caution and counts as not given.
    double number(size_t r, Role role, const char* what, double scale = 1) {
        const auto text = cell(r, role);
        if (text.empty() || text == "-") return 0;
        const auto v = role == Role::trace
                           ? length_mm(text, length_factor(grid_.header[static_cast<size_t>(map_.column(role))]))
                           : amount(text);
        if (!v) trouble(r, role, said("'{}' is not {}.", text, what), Severity::caution);
        return v ? *v * scale : 0;
    }

    void row(size_t r) {
        bad_ = false;
        // A row that has a part and nothing else is the heading of those below it.
        if (!cell(r, Role::part).empty() && cell(r, Role::terminal).empty() && cell(r, Role::pin).empty()) {
            last_part_ = cell(r, Role::part);
            ++out_.unused;
            return;
        }
        // Below a merged cell a spreadsheet leaves blanks: the part above is meant.
        if (auto own = cell(r, Role::part); !own.empty())
            last_part_ = std::move(own);
        else if (map_.column(Role::part) >= 0 && last_part_.empty())
            return trouble(r, Role::part, "No board part is named here or above; the row is left out.");
        else if (map_.column(Role::part) >= 0)
            ++out_.merged;
        const auto names = expand_names(cell(r, Role::terminal));
        auto pins = expand_names(cell(r, Role::pin));
        if (const auto whole = pin_of_cell(cell(r, Role::pin), part_); part_.pin(whole))
            pins = {whole};  // "Pin C2" is one pin
        if (!names || names->empty())
            return trouble(
                r, Role::terminal,
                names ? "The terminal has no name." : "This range of names cannot be read; write D[7:0] or D7..D0.");
        if (!pins) return trouble(r, Role::pin, "This range of pins cannot be read; write K1..K8 or list the pins.");
        if (pins->empty()) return trouble(r, Role::pin, "No pin is given; the row is left out.", Severity::caution);
        if (names->size() != pins->size())
            return trouble(r, Role::pin,
                           said("{} and {}; a row needs as many pins as terminals.", counted(names->size(), "terminal"),
                                counted(pins->size(), "pin")));
        Terminal t;
        const auto way = cell(r, Role::direction);
        if (const auto d = direction_word(way, map_.seen_from_fpga))
            t.direction = *d;
        else if (!way.empty())
            trouble(r, Role::direction, said("'{}' is not a direction; write in, out or both.", way));
        t.active_low = active_low(r);
        t.standard = standard(r);
        const auto remark = read_remark(words_beside(r));
        take_remark(r, remark, t);
        const double trace = number(r, Role::trace, "a length"), series = number(r, Role::series, "a resistance"),
                     ohm = number(r, Role::pull_ohm, "a resistance");
        const double farad = number(r, Role::capacitance, "a capacitance");
        const auto pull = lower(cell(r, Role::pull));
        std::string pulled = pull.find("up") != std::string::npos     ? "up"
                             : pull.find("down") != std::string::npos ? "down"
                                                                      : "";
        if (pulled.empty() && ohm > 0 &&
            lower(grid_.header[static_cast<size_t>(map_.column(Role::pull_ohm))]).find("up") != std::string::npos)
            pulled = "up";
        BoardNet net{"", "", trace, series, pulled, ohm, farad * 1e12};
        take_remark(r, remark, net);
        for (auto& pin : *pins) {
            pin = pin_of_cell(pin, part_);
            check_pin(r, pin);
        }
        if (bad_) return;
        for (size_t i = 0; i < names->size(); ++i) wire(r, (*names)[i], (*pins)[i], t, net, remark);
    }

    /// What a remark says of the terminal, where no column says it. Told as a note, so that nobody wonders.
    void take_remark(size_t r, const Remark& remark, Terminal& t) {
        if (!remark.said.empty())
            trouble(r, map_.column(Role::remarks) < 0 ? Role::terminal : Role::remarks,
                    said("The remark is read as {}.", list_names(remark.said, 6)), Severity::note);
        if (remark.active_low && cell(r, Role::active).empty()) t.active_low = *remark.active_low;
        if (remark.current_ma) t.current_ma = *remark.current_ma;
        t.out_max_ns = remark.out_max_ns;
        t.setup_ns = remark.setup_ns;
        t.hold_ns = remark.hold_ns;
    }
    /// The same of the wire. A column that says another number counts.
    void take_remark(size_t r, const Remark& remark, BoardNet& net) {
        const auto take = [&](std::optional<double> says, double& into, const char* what) {
            if (!says) return;
            if (into > 0 && std::abs(into - *says) > 1e-9)
                trouble(r, Role::remarks,
                        said("The remark says {} of {} ohm and the column {} ohm; the column counts.", what,
                             shortest(*says), shortest(into)),
                        Severity::caution);
            else
                into = *says;
        };
        take(remark.pull_ohm, net.pull_ohm, "a pull");
        take(remark.series_ohm, net.series_ohm, "a series resistor");
        if (net.pull.empty()) net.pull = remark.pull;
    }

    bool active_low(size_t r) {
        static const std::set<std::string> low{"low", "l", "0", "n", "negative", "neg", "active low"},
            high{"", "-", "high", "h", "1", "p", "positive", "pos", "active high"};
        const auto word = lower(trim(cell(r, Role::active)));
        if (!low.contains(word) && !high.contains(word))
            trouble(r, Role::active, said("'{}' is not an active level; write high or low. It is taken as high.", word),
                    Severity::caution);
        return low.contains(word);
    }

    std::string standard(size_t r) {
        const auto wanted = cell(r, Role::standard);
        if (wanted.empty() || standards_.find(wanted)) return wanted;
        // "3.3" or "3.3V" alone means the plain standard at that supply.
        std::vector<std::string> known;
        std::string digits;
        for (const char c : wanted)
            if (std::isdigit(static_cast<unsigned char>(c)) || c == '.' || c == ',') digits += c == ',' ? '.' : c;
        const auto volts = to_number(digits);
        const bool only_volts = lower(wanted).find_first_not_of("0123456789., v") == std::string::npos;
        const bool plain_family = lower(wanted).starts_with("lvcmos");
        for (const auto& s : standards_.rows) {
            known.push_back(s.name);
            if (!s.name.starts_with("LVCMOS") || !(only_volts || plain_family)) continue;
            if (volts && (std::abs(s.supply - *volts) < 1e-6 || std::abs(s.supply * 10 - *volts) < 1e-6)) return s.name;
        }
        trouble(r, Role::standard,
                said("'{}' is not an I/O standard of the table; the terminal is left without one.{}", wanted,
                     did_you_mean(wanted, known)),
                Severity::caution);
        return "";
    }

    void check_pin(size_t r, const std::string& given) {
        const auto pin = upper(given);
        if (part_.pins.empty()) return;
        const auto* p = part_.pin(pin);
        std::vector<std::string> names;
        if (!p)
            for (const auto& known : part_.pins) names.push_back(known.name);
        if (!p) return trouble(r, Role::pin, said("The part has no pin {}.{}", pin, did_you_mean(pin, names)));
        if (!p->usable() && p->kind != PinKind::lane && p->kind != PinKind::lane_clock)
            return trouble(r, Role::pin,
                           said("Pin {} is {} and carries no signal.", pin,
                                (p->function.empty() ? std::string(kp::name_of(p->kind)) : p->function)));
        if (const auto at = pin_row_.find(pin); at != pin_row_.end())
            trouble(r, Role::pin, said("Pin {} stands in line {} already.", pin, grid_.rows[at->second].line));
    }

    void wire(size_t r, const std::string& name, const std::string& pin, Terminal t, BoardNet net,
              const Remark& remark) {
        auto ref = map_.column(Role::part) < 0 ? std::string("BOARD") : last_part_;
        std::replace(ref.begin(), ref.end(), ' ', '_');
        std::replace(ref.begin(), ref.end(), '.', '_');
        const auto [known, fresh] = parts_.emplace(ref, out_.board.parts.size());
        if (fresh) {
            BoardPart part;
            part.ref = part.name = part.label = ref;
            const auto kind = cell(r, Role::kind);
            part.kind = kind.empty() ? kind_of(ref) : lower(kind);
            out_.board.parts.push_back(part);
        }
        auto* const at = &out_.board.parts[known->second];
        t.name = name;
        if (!terminals_.emplace(known->second, name).second)
            return trouble(r, Role::terminal, said("The terminal {} of {} is there already.", name, ref));
        t.order = static_cast<int>(at->terminals.size());
        net.pin = pin;
        net.terminal = ref + "." + name;
        at->terminals.push_back(t);
        out_.board.nets.push_back(net);
        pin_row_[pin] = r;
        ++out_.wired;
        frequency(r, net.terminal, at->kind, remark);
    }

    /// By its column; a remark on a part that is not an oscillator speaks of something else.
    void frequency(size_t r, const std::string& terminal, const std::string& kind, const Remark& remark) {
        const auto text = cell(r, Role::frequency);
        if (text.empty() && !(remark.mhz && kind == "oscillator")) return;
        std::string digits = text.substr(0, text.find_first_not_of("0123456789.,"));
        std::replace(digits.begin(), digits.end(), ',', '.');
        const auto bare = to_number(digits);
        const bool no_unit = text.find_first_not_of("0123456789., ") == std::string::npos;
        const double mhz = remark.mhz ? *remark.mhz : bare && no_unit ? *bare : 0;
        if (mhz > 0)
            out_.board.oscillators.push_back({terminal, mhz, remark.ppm.value_or(0), {0, 0}});
        else
            trouble(r, Role::frequency, said("'{}' is not a frequency; write 25 MHz.", text), Severity::caution);
    }

    /// Each bank has the supply its standards name; two of them in one bank is told and the first one taken.
    void rails() {
        out_.board.index();
        std::map<std::string, double> volts;
        for (const auto& net : out_.board.nets) {
            const auto* pin = part_.pin(net.pin);
            const auto found = out_.board.at_terminal(net.terminal);
            const auto* s = found ? standards_.find(found.terminal->standard) : nullptr;
            if (!pin || pin->bank.empty() || !s) continue;
            const auto [at, fresh] = volts.emplace(pin->bank, s->supply);
            if (!fresh && std::abs(at->second - s->supply) > 0.01)
                trouble(pin_row_[net.pin], Role::standard,
                        said("Bank {} is at {} V by the rows above, and this one wants {} V.", pin->bank,
                             shortest(at->second), shortest(s->supply)),
                        Severity::caution);
        }
        for (const auto& [bank, v] : volts) out_.board.rails.push_back({bank, v});
    }

    /// The FPGA in the middle, the others around it, clockwise from the upper left.
    void place() {
        auto& b = out_.board;
        b.width_mm = 120;
        b.height_mm = 90;
        BoardPart fpga;
        fpga.ref = "U1";
        fpga.name = "fpga";
        fpga.kind = "fpga";
        fpga.label = part_.name.substr(0, part_.name.find('-'));
        fpga.x = 48;
        fpga.y = 33;
        fpga.w = 24;
        fpga.h = 24;
        if (std::any_of(b.parts.begin(), b.parts.end(), [](const BoardPart& p) { return p.ref == "U1"; }))
            fpga.ref = b.fpga = "FPGA";
        const size_t n = b.parts.size();
        const size_t across = n <= 4 ? n : (n + 3) / 4 + 1;
        for (size_t i = 0; i < n; ++i) {
            auto& p = b.parts[i];
            const double w = 110.0 / static_cast<double>(std::max<size_t>(1, across)) - 3;
            const bool top = i < across, bottom = !top && i < 2 * across;
            const size_t side = top ? i : bottom ? i - across : i - 2 * across;
            const size_t rest = n > 2 * across ? (n - 2 * across + 1) / 2 : 1;
            p.w = top || bottom ? w : 26;
            p.h = top || bottom ? 11 : std::min(14.0, 50.0 / static_cast<double>(rest) - 2);
            p.x = top || bottom ? 5 + static_cast<double>(side) * (w + 3) : side % 2 ? 89 : 5;
            p.y = top ? 5 : bottom ? 74 : 19 + static_cast<double>(side / 2) * (p.h + 2);
        }
        b.parts.insert(b.parts.begin(), fpga);
    }

    const Grid& grid_;
    const Mapping& map_;
    const Part& part_;
    const StandardTable& standards_;
    BoardDraft out_;
    std::map<std::string, size_t> pin_row_;
    std::map<std::string, size_t> parts_;                 ///< positions by reference
    std::set<std::pair<size_t, std::string>> terminals_;  ///< part and name
    std::string last_part_;
    bool bad_ = false;
};

}  // namespace

std::string pin_of_cell(const std::string& text, const Part& part) {
    const auto whole = upper(trim(text));
    if (part.pins.empty() || part.pin(whole)) return whole;
    for (const std::string_view word : {"PIN", "BALL", "PAD", "P"}) {
        if (!whole.starts_with(word)) continue;
        const auto rest = whole.find_first_not_of(" _-#.", word.size());
        if (rest != std::string::npos && part.pin(whole.substr(rest))) return whole.substr(rest);
    }
    return whole;
}

bool says_unused(const std::string& text) {
    static const std::set<std::string> words{"nc",        "n.c",  "n.c.", "n/c",  "spare",    "unused", "not", "used",
                                             "connected", "none", "open", "free", "reserved", "-",      "--"};
    std::string low = lower(text);
    for (char& c : low)
        if (c == ';' || c == ',' || c == '(' || c == ')') c = ' ';
    bool any = false;
    for (const auto word : split(low, ' ')) {
        if (word.empty()) continue;
        if (!words.contains(std::string(word))) return false;
        any = true;
    }
    return any && trim(low) != "used" && trim(low) != "connected";
}

const char* name_of(Role role) {
    return roles()[static_cast<size_t>(role)].name;
}

int Mapping::column(Role role) const {
    const auto at = std::find(columns.begin(), columns.end(), role);
    return at == columns.end() ? -1 : static_cast<int>(at - columns.begin());
}

std::string Mapping::cell(const Row& row, Role role) const {
    const int c = column(role);
    if (c < 0) return "";
    std::string text = row.cells[static_cast<size_t>(c)];
    if (static_cast<size_t>(c) >= dress.size()) return text;
    const auto& [prefix, unit] = dress[static_cast<size_t>(c)];
    if (!prefix.empty() && lower(text).starts_with(lower(prefix)))
        text = std::string(trim(std::string_view(text).substr(prefix.size())));
    if (!unit.empty() && !text.empty() && std::isdigit(static_cast<unsigned char>(text.back()))) text += " " + unit;
    return text;
}

bool Mapping::leaves_out(const Row& row) const {
    return row.unused || (!comment.empty() && !row.cells.empty() && row.cells[0].starts_with(comment));
}

namespace {

/// "25 MHz", "32.768kHz": a rate, even where a package has a pin of that number.
bool is_rate(const std::string& text) {
    const auto low = lower(trim(text));
    return !low.empty() && std::isdigit(static_cast<unsigned char>(low[0])) && low.ends_with("hz");
}

/// A heading that speaks of a rate, whatever numbers stand below it.
bool heads_rates(const std::string& heading) {
    const auto h = plain(heading);
    for (const std::string_view word : {"hz", "freq", "rate", "clock", "speed", "baud"})
        if (h.find(word) != std::string::npos) return true;
    return false;
}

}  // namespace

Mapping guess_mapping(const Grid& grid, const Part& part) {
    Mapping out;
    out.columns.assign(grid.header.size(), Role::ignored);
    std::set<Role> given;
    // Surest heading first over all roles, so that "FPGA pin" is not taken for a plain "name".
    for (size_t rank = 0; rank < 10; ++rank)
        for (const auto& row : roles())
            for (size_t c = 0; c < grid.header.size(); ++c) {
                if (rank >= row.headings.size() || given.contains(row.role) || out.columns[c] != Role::ignored)
                    continue;
                const auto h = plain(grid.header[c]);
                const auto& word = row.headings[rank];
                if (h == word || h.starts_with(word + " ") || h.ends_with(" " + word) ||
                    (word.size() > 4 && h.find(word) != std::string::npos)) {
                    out.columns[c] = row.role;
                    given.insert(row.role);
                }
            }
    // A column whose cells are pins of the part is the pin column, whatever it is called.
    const auto share = [&](size_t c, auto fits) {
        size_t good = 0, filled = 0;
        for (const auto& row : grid.rows) {
            if (row.unused || row.cells[c].empty()) continue;
            ++filled;
            good += fits(row.cells[c]);
        }
        return filled == 0 ? 0.0 : static_cast<double>(good) / static_cast<double>(filled);
    };
    const auto is_pin = [&](const std::string& text) {
        const auto names = expand_names(text);
        if (!names || names->empty() || is_rate(text)) return false;
        return part.pin(pin_of_cell(names->front(), part)) != nullptr;
    };
    // Numbers of MHz or mm can be pins too: only columns whose heading says nothing else are asked.
    const auto undecided = [&](size_t c) {
        return out.columns[c] == Role::ignored || out.columns[c] == Role::terminal || out.columns[c] == Role::pin;
    };
    if (!part.pins.empty() &&
        (!given.contains(Role::pin) || share(static_cast<size_t>(out.column(Role::pin)), is_pin) < 0.5))
        for (size_t c = 0; c < grid.header.size(); ++c)
            if (undecided(c) && !heads_rates(grid.header[c]) && share(c, is_pin) > 0.7) {
                std::replace(out.columns.begin(), out.columns.end(), Role::pin, Role::ignored);
                out.columns[c] = Role::pin;
                given.insert(Role::pin);
                break;
            }
    const auto is_direction = [](const std::string& text) { return direction_word(text, true).has_value(); };
    for (size_t c = 0; c < grid.header.size() && !given.contains(Role::direction); ++c)
        if (out.columns[c] == Role::ignored && share(c, is_direction) > 0.8) {
            out.columns[c] = Role::direction;
            given.insert(Role::direction);
        }
    // Of what is left, the column with the most different texts names the terminals.
    if (!given.contains(Role::terminal)) {
        size_t best = 0, column = grid.header.size();
        for (size_t c = 0; c < grid.header.size(); ++c) {
            std::set<std::string> texts;
            for (const auto& row : grid.rows) texts.insert(row.cells[c]);
            if (out.columns[c] == Role::ignored && texts.size() > best) {
                best = texts.size();
                column = c;
            }
        }
        if (column < grid.header.size()) out.columns[column] = Role::terminal;
    }
    return out;
}

Mapping guess_pin_mapping(const Grid& grid) {
    auto out = guess_mapping(grid, {});
    // What only a board has is not in a pin list; a type there is the kind of the pin.
    for (size_t c = 0; c < out.columns.size(); ++c) {
        auto& role = out.columns[c];
        if (role == Role::direction && out.column(Role::kind) < 0)
            role = Role::kind;
        else if (role == Role::active)
            role = Role::half;
        else if (role != Role::pin && role != Role::terminal && role != Role::kind && role != Role::bank &&
                 role != Role::pair)
            role = Role::ignored;
    }
    return out;
}

std::string mapping_line(const Mapping& mapping) {
    std::string out = mapping.seen_from_fpga ? "fpga" : "board";
    for (const auto role : mapping.columns) out += ";" + std::string(name_of(role));
    if (mapping.comment.empty() && mapping.dress.empty()) return out;
    out += "\t" + mapping.comment;
    for (const auto& d : mapping.dress) out += "\t" + d.prefix + "\t" + d.unit;
    return out;
}

std::optional<Mapping> mapping_from_line(const std::string& line) {
    const auto more = split(line, '\t');
    const auto words = split(more.empty() ? line : more[0], ';');
    if (words.size() < 2 || (words[0] != "fpga" && words[0] != "board")) return std::nullopt;
    Mapping out;
    out.seen_from_fpga = words[0] == "fpga";
    for (size_t i = 1; i < words.size(); ++i) {
        const auto at =
            std::find_if(roles().begin(), roles().end(), [&](const RoleRow& r) { return words[i] == r.name; });
        if (at == roles().end()) return std::nullopt;
        out.columns.push_back(at->role);
    }
    if (more.size() > 1) out.comment = more[1];
    for (size_t i = 2; i + 1 < more.size(); i += 2)
        out.dress.push_back({std::string(more[i]), std::string(more[i + 1])});
    return out;
}

std::string heading_key(const Grid& grid) {
    std::string out;
    for (const auto& h : grid.header) out += plain(h) + "|";
    return out;
}

BoardDraft draft_board(const Grid& grid, const Mapping& mapping, const Part& part, const StandardTable& standards,
                       const std::string& name, const std::string& part_code) {
    return Drafter(grid, mapping, part, standards).run(name, part_code);
}

}  // namespace kp::table
