// SPDX-License-Identifier: GPL-3.0-or-later
// Rows of a pin list to a part: package from the ball names, banks from the column or the supply pins, pairs checked
// both ways.
#include "core/base/text.hpp"
#include "core/format/table/board_table.hpp"
#include "core/model/part_places.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cctype>

namespace kp::table {

namespace {

std::optional<PinKind> kind_word(const std::string& word) {
    auto w = lower(word);
    std::replace_if(
        w.begin(), w.end(), [](char c) { return c == ' ' || c == '-'; }, '_');
    if (const auto known = pin_kind_of(w)) return known;
    static const std::map<std::string, PinKind> words{{"i/o", PinKind::io},
                                                      {"user", PinKind::io},
                                                      {"inout", PinKind::io},
                                                      {"bidir", PinKind::io},
                                                      {"in", PinKind::io},
                                                      {"out", PinKind::io},
                                                      {"input", PinKind::io},
                                                      {"output", PinKind::io},
                                                      {"clk", PinKind::clock},
                                                      {"gnd", PinKind::ground},
                                                      {"power", PinKind::supply},
                                                      {"config", PinKind::configuration},
                                                      {"dedicated", PinKind::configuration},
                                                      {"vref", PinKind::reference},
                                                      {"nc", PinKind::not_connected},
                                                      {"vio", PinKind::bank_supply},
                                                      {"io_supply", PinKind::bank_supply},
                                                      {"core_supply", PinKind::supply}};
    const auto at = words.find(w);
    return at == words.end() ? std::nullopt : std::optional(at->second);
}

class PartDrafter {
public:
    PartDrafter(const Grid& grid, const Mapping& mapping, const StandardTable& standards)
        : grid_(grid), map_(mapping), standards_(standards) {}

    PartDraft run(const std::string& name) {
        auto& p = out_.part;
        p.name = p.codes = name;
        p.ordering = {{name, "", {}}};
        p.idcode = 1;
        if (map_.column(Role::pin) < 0) {
            trouble(0, Role::pin, "Say which column holds the pins.");
            return std::move(out_);
        }
        for (size_t r = 0; r < grid_.rows.size(); ++r) {
            ++out_.rows;
            if (map_.leaves_out(grid_.rows[r]))
                ++out_.unused;
            else
                row(r);
        }
        if (!grid_.titles.empty()) out_.troubles.push_back({0, -1, Severity::note, grid_.title_words()});
        pairs_by_column();
        pairs_by_name();
        if (unknown_halves_ > 0)
            trouble(0, Role::pair,
                    said("Nothing says which half of {} is the true one; the pin that stands first was taken. A column "
                         "of P and N would say it.",
                         counted(unknown_halves_, "pair")),
                    Severity::caution);
        if (!banks_said_ && !p.banks.empty())
            trouble(0, Role::bank,
                    "No column names the banks; all user pins lie in one bank, 1, until a column is said.",
                    Severity::caution);
        if (auto status = place_pins(p); !status)
            out_.troubles.push_back({0, map_.column(Role::pin), Severity::stop, status.first().text});
        return std::move(out_);
    }

private:
    [[nodiscard]] std::string cell(size_t r, Role role) const { return map_.cell(grid_.rows[r], role); }
    void trouble(size_t r, Role role, const std::string& text, Severity severity = Severity::stop) {
        out_.troubles.push_back({r, map_.column(role), severity, text});
    }

    void row(size_t r) {
        const auto pins = expand_names(cell(r, Role::pin));
        if (!pins || pins->empty())
            return trouble(
                r, Role::pin,
                pins ? "The row names no pin." : "This range of pins cannot be read; write A1..A8 or list the pins.");
        const auto function = cell(r, Role::terminal), word = cell(r, Role::kind);
        auto kind = kind_word(word);
        if (!word.empty() && !kind)
            trouble(r, Role::kind,
                    said("'{}' is not a kind of pin; the function decides. Known are io, clock, ground, supply, "
                         "bank_supply, configuration, reference, not_connected.",
                         word),
                    Severity::caution);
        // A name such as GND tells more than a type such as "power".
        const auto named = kind_from_name(function);
        // A user pin that can be the reference stays a user pin.
        const bool reference = named == PinKind::reference && kind == PinKind::io;
        if (named && !reference && (!kind || *kind == PinKind::supply || *kind == PinKind::io)) kind = named;
        for (const auto& given : *pins) {
            Pin pin;
            pin.name = upper(given);
            pin.kind = kind.value_or(PinKind::io);
            pin.function = function;
            pin.reference = reference;
            const bool banked = pin.usable() || pin.kind == PinKind::bank_supply || pin.kind == PinKind::reference;
            pin.bank = banked ? bank(cell(r, Role::bank)) : "";
            if (!out_.part.by_name.emplace(pin.name, out_.part.pins.size()).second) {
                trouble(r, Role::pin, said("Pin {} is there twice.", pin.name));
                continue;
            }
            rows_.push_back(r);
            out_.part.pins.push_back(std::move(pin));
            ++out_.pins;
        }
    }

    std::string bank(std::string name) {
        const auto digits = name.find_first_of("0123456789");
        if (lower(name).starts_with("bank") && digits != std::string::npos) name = name.substr(digits);
        if (name == "-") name.clear();
        if (!name.empty()) {
            banks_said_ = true;
            last_bank_ = name;
        } else
            name = last_bank_;  // below a merged cell
        if (name.empty()) name = "1";
        if (!out_.part.bank(name)) {
            Bank fresh;
            fresh.name = name;
            fresh.supply = "VIO_" + name;
            fresh.type = "general";
            for (const auto& s : standards_.rows) {
                fresh.standards.push_back(s.name);
                if (std::find(fresh.volts.begin(), fresh.volts.end(), s.supply) == fresh.volts.end())
                    fresh.volts.push_back(s.supply);
            }
            std::sort(fresh.volts.begin(), fresh.volts.end());
            out_.part.banks.push_back(std::move(fresh));
        }
        return name;
    }

    void join(Pin& a, Pin& b) {
        a.pair = b.name;
        b.pair = a.name;
        a.pair_true = true;
        b.pair_true = false;
    }

    void pairs_by_column() {
        auto& p = out_.part;
        for (size_t i = 0; i < p.pins.size(); ++i) {
            const auto other = upper(cell(rows_[i], Role::pair));
            if (other.empty() || other == "-" || !p.pins[i].pair.empty()) continue;
            const auto at = p.by_name.find(other);
            if (at == p.by_name.end() || at->second == i)
                trouble(rows_[i], Role::pair,
                        said("Pin {} is paired with {}, which the list does not have.", p.pins[i].name, other),
                        Severity::caution);
            else if (p.pins[at->second].pair.empty())
                join_by_half(i, at->second);
        }
    }

    /// Which half a pin is, by its column, else by the last letter of its function; 0 when neither says.
    [[nodiscard]] char half(size_t pin) const {
        static const std::map<std::string, char> words{
            {"p", 'p'}, {"+", 'p'},   {"pos", 'p'},      {"positive", 'p'}, {"true", 'p'},       {"t", 'p'}, {"n", 'n'},
            {"-", 'n'}, {"neg", 'n'}, {"negative", 'n'}, {"comp", 'n'},     {"complement", 'n'}, {"c", 'n'}};
        if (const auto at = words.find(lower(cell(rows_[pin], Role::half))); at != words.end()) return at->second;
        const auto& f = out_.part.pins[pin].function;
        const char last = f.size() > 2 ? static_cast<char>(std::toupper(static_cast<unsigned char>(f.back()))) : '\0';
        return last == 'P' ? 'p' : last == 'N' ? 'n' : '\0';
    }

    void join_by_half(size_t a, size_t b) {
        auto& pins = out_.part.pins;
        const char one = half(a), other = half(b);
        if (one != 0 && one == other) {
            trouble(rows_[b], Role::half,
                    said("Pins {} and {} are a pair, and both are said to be the {} half; they are left unpaired.",
                         pins[a].name, pins[b].name, (one == 'p' ? "true" : "complement")),
                    Severity::caution);
            return;
        }
        // A row that alone names the pair leads it (common practice, no source); two that name each other leave it
        // open.
        const bool both_name_it = !cell(rows_[b], Role::pair).empty() && cell(rows_[b], Role::pair) != "-";
        if (one == 0 && other == 0 && both_name_it) ++unknown_halves_;
        const bool first_true = one == 'p' || (one == 0 && other != 'p');
        if (first_true)
            join(pins[a], pins[b]);
        else
            join(pins[b], pins[a]);
    }

    /// Functions that are the same but for a last P and N.
    void pairs_by_name() {
        auto& p = out_.part;
        std::map<std::string, size_t> trues;
        const auto stem = [](const std::string& f, char last) {
            return f.size() > 2 && std::toupper(static_cast<unsigned char>(f.back())) == last
                       ? f.substr(0, f.size() - 1)
                       : std::string();
        };
        for (size_t i = 0; i < p.pins.size(); ++i)
            if (const auto s = stem(p.pins[i].function, 'P'); !s.empty() && p.pins[i].usable()) trues[s] = i;
        for (size_t i = 0; i < p.pins.size(); ++i) {
            const auto s = stem(p.pins[i].function, 'N');
            const auto at = s.empty() ? trues.end() : trues.find(s);
            if (at != trues.end() && p.pins[i].usable() && p.pins[i].pair.empty() && p.pins[at->second].pair.empty())
                join(p.pins[at->second], p.pins[i]);
        }
    }

    const Grid& grid_;
    const Mapping& map_;
    const StandardTable& standards_;
    PartDraft out_;
    std::vector<size_t> rows_;  ///< of each pin
    size_t unknown_halves_ = 0;
    bool banks_said_ = false;
    std::string last_bank_;
};

}  // namespace

PartDraft draft_part(const Grid& grid, const Mapping& mapping, const StandardTable& standards,
                     const std::string& name) {
    return PartDrafter(grid, mapping, standards).run(name);
}

}  // namespace kp::table
