// SPDX-License-Identifier: GPL-3.0-or-later
// IEEE 1149.1-2013, annex B: the subset of VHDL that describes a part. Attributes are strings with a grammar of
// their own, read by the same scanner. Everything but pins, ports, registers and instructions is passed over on
// purpose.
#include "core/format/bsdl/read.hpp"

#include "core/base/bytes.hpp"
#include "core/base/ranges.hpp"
#include "core/base/text.hpp"
#include "core/hdl/vhdl/scan.hpp"
#include "core/model/part_places.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cctype>
#include <set>

namespace kp {

namespace {

using vhdl::Scanner;
using vhdl::Token;

constexpr size_t largest = size_t{32} << 20, most_cells = 200000, most_errors = 20;

/// The words of a text inside a BSDL string: names, numbers, brackets, commas, colons, each with its place in the file.
struct Word {
    std::string text;
    size_t offset = 0;
};

class Reader {
public:
    Reader(std::string_view text, const std::string& file, std::string package)
        : text_(text), file_(file), wanted_(std::move(package)), scan_(text) {
        advance();
    }

    Result<Bsdl> run() {
        while (t_.kind != Token::end && t_.kind != Token::bad && !t_.is("entity")) advance();
        if (!take("entity")) {
            fail("An entity is expected; this is not BSDL");
            return errors_;
        }
        out_.entity = std::string(t_.text);
        advance();
        if (!take("is")) fail("'is' is expected after the entity's name");
        while (t_.kind != Token::end && t_.kind != Token::bad && !t_.is("end") && errors_.size() < most_errors) item();
        if (t_.kind == Token::bad)
            fail("There is " + std::string(t_.text));
        else if (!t_.is("end") && errors_.empty())
            fail("'end' is expected; the file seems to be cut off");
        if (errors_.empty()) pin_map();
        if (errors_.empty()) check();
        if (!errors_.empty()) return errors_;
        return std::move(out_);
    }

private:
    void advance() { t_ = scan_.next(); }
    bool take(std::string_view s) { return t_.is(s) && (advance(), true); }
    void fail_at(size_t offset, const std::string& text) {
        const auto place = place_of(text_, offset);
        if (errors_.size() < most_errors)
            errors_.push_back({Severity::stop, Code::bsdl, text + ".", file_, place.line, place.column});
    }
    void fail(const std::string& text) { fail_at(t_.offset, text); }
    void skip_statement() {
        for (int depth = 0; t_.kind != Token::end && t_.kind != Token::bad; advance()) {
            depth += t_.is("(") ? 1 : t_.is(")") ? -1 : 0;
            if (depth <= 0 && t_.is(";")) return advance();
        }
    }

    void item() {
        if (t_.is("generic"))
            generic();
        else if (t_.is("port"))
            ports();
        else if (t_.is("attribute"))
            attribute();
        else if (t_.is("constant"))
            constant();
        else
            skip_statement();
    }

    /// generic (PHYSICAL_PIN_MAP : string := "NAME");
    void generic() {
        for (; t_.kind != Token::end && t_.kind != Token::bad && !t_.is(";"); advance())
            if (t_.kind == Token::quoted) default_map_ = std::string(t_.text);
        advance();
    }

    void ports() {
        advance();
        if (!take("(")) {
            fail("'(' is expected after \"port\"");
            return skip_statement();
        }
        while (!t_.is(")") && t_.kind != Token::end && t_.kind != Token::bad) {
            std::vector<BsdlPort> some;
            while (t_.is_name()) {
                BsdlPort p;
                p.name = std::string(t_.text);
                some.push_back(p);
                advance();
                if (!take(",")) break;
            }
            if (some.empty() || !take(":")) {
                fail("A port is expected: NAME : MODE bit");
                return skip_statement();
            }
            const std::string mode = t_.key;
            static const std::set<std::string> modes{"in", "out", "inout", "buffer", "linkage"};
            if (!modes.contains(mode)) {
                fail(said("The mode of a port is in, out, inout, buffer or linkage, not '{}'", t_.text));
                return skip_statement();
            }
            advance();
            int left = 0, right = 0;
            const bool vector = t_.is("bit_vector");
            if (!vector && !t_.is("bit")) {
                fail("The type of a port is bit or bit_vector");
                return skip_statement();
            }
            advance();
            if (vector && !range(left, right)) return skip_statement();
            for (auto& p : some) {
                p.mode = mode;
                p.vector = vector;
                p.left = left;
                p.right = right;
                if (!known_.emplace(lower(p.name), out_.ports.size()).second)
                    fail(said("Port {} is there twice", p.name));
                out_.ports.push_back(std::move(p));
            }
            if (!take(";")) break;
        }
        if (!take(")")) fail("')' is expected after the ports");
        take(";");
    }

    bool range(int& left, int& right) {
        if (!take("(")) {
            fail("A range (1 to 8) is expected");
            return false;
        }
        const auto a = to_integer(t_.text);
        advance();
        if (!t_.is("to") && !t_.is("downto")) {
            fail("'to' or 'downto' is expected");
            return false;
        }
        advance();
        const auto b = to_integer(t_.text);
        advance();
        if (!a || !b || distance_of(*a, *b) > 10000 || !take(")")) {
            fail("A range of at most 10,000 bits is expected");
            return false;
        }
        left = static_cast<int>(*a);
        right = static_cast<int>(*b);
        return true;
    }

    /// "text" & "text" …, with the place of each word.
    std::vector<Word> string_words() {
        std::vector<Word> out;
        std::string word;
        size_t from = 0;
        const auto close = [&] {
            if (!word.empty()) out.push_back({word, from});
            word.clear();
        };
        while (t_.kind == Token::quoted) {
            const size_t base = static_cast<size_t>(t_.text.data() - text_.data());
            for (size_t i = 0; i < t_.text.size(); ++i) {
                const char c = t_.text[i];
                if (std::isspace(static_cast<unsigned char>(c)))
                    close();
                else if (c == '(' || c == ')' || c == ',' || c == ':') {
                    close();
                    out.push_back({std::string(1, c), base + i});
                } else {
                    if (word.empty()) from = base + i;
                    word += c;
                }
            }
            advance();
            if (!take("&")) break;
            // A name may not go on in the next piece, except that long codes do; blanks at the seam tell.
        }
        close();
        return out;
    }

    /// constant NAME : PIN_MAP_STRING := "…";
    void constant() {
        advance();
        const std::string name(t_.text);
        const size_t at = t_.offset;
        advance();
        const bool is_map = take(":") && t_.is("pin_map_string");
        while (t_.kind != Token::end && t_.kind != Token::bad && !t_.is(";") && t_.kind != Token::quoted) advance();
        auto words = string_words();
        if (is_map) maps_[lower(name)] = {name, at, std::move(words)};
        skip_statement();
    }

    void attribute() {
        advance();
        const std::string name = t_.key;
        advance();
        if (!take("of")) return skip_statement();
        const std::string of(t_.text);
        const size_t place = t_.offset;
        advance();
        while (t_.kind != Token::end && t_.kind != Token::bad && !t_.is("is") && !t_.is(";")) advance();
        if (!take("is")) return skip_statement();
        static const std::map<std::string, std::string> taps{{"tap_scan_in", "TDI"},
                                                             {"tap_scan_out", "TDO"},
                                                             {"tap_scan_mode", "TMS"},
                                                             {"tap_scan_clock", "TCK"},
                                                             {"tap_scan_reset", "TRST"}};
        if (const auto tap = taps.find(name); tap != taps.end()) {
            if (!known_.contains(lower(of))) fail_at(place, said("The port {} of {} is not declared", of, tap->second));
            out_.taps[tap->second] = of;
            if (name == "tap_scan_clock" && take("(")) out_.clock_hz = to_number(t_.text).value_or(0);
        } else if (name == "instruction_length") {
            out_.instruction_length = static_cast<int>(to_integer(t_.text).value_or(0));
        } else if (name == "boundary_length") {
            length_ = static_cast<int>(to_integer(t_.text).value_or(-1));
            length_at_ = t_.offset;
        } else if (name == "instruction_opcode") {
            opcodes(string_words());
        } else if (name == "instruction_capture") {
            for (const auto& w : string_words()) out_.capture += w.text;
        } else if (name == "idcode_register") {
            id_at_ = t_.offset;
            for (const auto& w : string_words()) out_.idcode += w.text;
        } else if (name == "port_grouping") {
            grouping(string_words());
        } else if (name == "boundary_register") {
            boundary(string_words());
        }
        skip_statement();
    }

    void opcodes(const std::vector<Word>& words) {
        for (size_t i = 0; i + 2 < words.size();) {
            const auto& name = words[i];
            if (words[i + 1].text != "(") return fail_at(name.offset, "An instruction is expected: NAME (CODE)");
            auto& codes = out_.opcodes[name.text];
            for (i += 2; i < words.size() && words[i].text != ")"; ++i) {
                if (words[i].text == ",") continue;
                codes.push_back(words[i].text);
                opcode_at_.emplace_back(words[i].text, words[i].offset);
            }
            i += 2;  // ')' and ','
        }
    }

    /// Differential_Voltage ((P, N), (A, B)), …: pairs of ports.
    void grouping(const std::vector<Word>& words) {
        for (size_t i = 0; i + 4 < words.size(); ++i)
            if (words[i].text == "(" && words[i + 2].text == "," && words[i + 4].text == ")") {
                for (const size_t k : {i + 1, i + 3})
                    if (!known(words[k].text))
                        fail_at(words[k].offset, said("The pair names port {}, which is not declared", words[k].text));
                out_.pairs.emplace_back(words[i + 1].text, words[i + 3].text);
                i += 4;
            } else if (words[i].text == "(" && words[i + 2].text == "(") {
                // P(1), N(1): bits of vectors.
                size_t k = i + 1;
                const auto bit = [&]() -> std::string {
                    if (k + 3 >= words.size() || words[k + 1].text != "(" || words[k + 3].text != ")") return "";
                    const std::string name = words[k].text + "(" + words[k + 2].text + ")";
                    k += 4;
                    return name;
                };
                const auto a = bit();
                if (!a.empty() && k < words.size() && words[k].text == "," && ++k)
                    if (const auto b = bit(); !b.empty()) {
                        out_.pairs.emplace_back(a, b);
                        i = k;
                    }
            }
    }

    [[nodiscard]] bool known(const std::string& name) const {
        return known_.contains(lower(name.substr(0, name.find('('))));
    }

    /// NUMBER (CELL, PORT, FUNCTION, SAFE [, CONTROL, DISABLE, RESULT]), …
    void boundary(const std::vector<Word>& words) {
        std::set<int> seen;
        for (size_t i = 0; i < words.size();) {
            const auto& first = words[i];
            const auto number = to_integer(first.text);
            if (!number || *number < 0 || static_cast<size_t>(*number) >= most_cells || i + 1 >= words.size() ||
                words[i + 1].text != "(")
                return fail_at(first.offset, "A cell is expected: NUMBER (CELL, PORT, FUNCTION, SAFE, …)");
            std::vector<std::string> fields(1);
            int depth = 1;
            for (i += 2; i < words.size() && depth > 0; ++i) {
                depth += words[i].text == "(" ? 1 : words[i].text == ")" ? -1 : 0;
                if (depth == 0) break;
                if (depth == 1 && words[i].text == ",")
                    fields.emplace_back();
                else
                    fields.back() += words[i].text;
            }
            if (i >= words.size()) return fail_at(first.offset, said("The cell {} has no ')'", first.text));
            ++i;
            if (i < words.size() && words[i].text == ",") ++i;
            if (fields.size() != 4 && fields.size() != 7) {
                fail_at(first.offset, said("The cell {} has {} fields; it takes 4, or 7 with its control", first.text,
                                           fields.size()));
                continue;
            }
            if (!seen.insert(static_cast<int>(*number)).second)
                fail_at(first.offset, said("The cell {} is there twice", first.text));
            cell(static_cast<int>(*number), fields, first.offset);
        }
        std::sort(out_.boundary.begin(), out_.boundary.end(),
                  [](const BoundaryCell& a, const BoundaryCell& b) { return a.number < b.number; });
    }

    void cell(int number, const std::vector<std::string>& fields, size_t offset) {
        BoundaryCell c;
        c.number = number;
        c.cell = fields[0];
        c.port = fields[1];
        c.function = lower(fields[2]);
        c.safe = fields[3].empty() ? 'X' : static_cast<char>(std::toupper(static_cast<unsigned char>(fields[3][0])));
        static const std::set<std::string> functions{"input",    "output2", "output3", "control",     "controlr",
                                                     "internal", "clock",   "bidir",   "observe_only"};
        if (!functions.contains(c.function))
            fail_at(offset, said("The function '{}' of cell {} is not one of BSDL's", fields[2], number));
        if (c.port != "*" && !known(c.port))
            fail_at(offset, said("The cell {} names port {}, which is not declared", number, c.port));
        if (fields.size() == 7) {
            c.control = static_cast<int>(to_integer(fields[4]).value_or(-1));
            c.disable = fields[5].empty() ? 'X' : fields[5][0];
            c.result = fields[6];
        }
        out_.boundary.push_back(std::move(c));
    }

    /// The chosen pin map gives every port its pins.
    void pin_map() {
        if (maps_.empty()) return fail_at(0, "There is no pin map (constant … : PIN_MAP_STRING)");
        const auto wanted = lower(!wanted_.empty() ? wanted_ : default_map_);
        auto at = maps_.find(wanted);
        std::vector<std::string> names;
        for (const auto& [key, map] : maps_) names.push_back(map.name);
        if (at == maps_.end() && (!wanted_.empty() || maps_.size() > 1))
            return fail_at(0, "Choose a pin map: " + list_names(names, 8));
        if (at == maps_.end()) at = maps_.begin();
        out_.package = at->second.name;
        const auto& words = at->second.words;
        std::set<std::string> pins;
        for (size_t i = 0; i + 2 < words.size();) {
            const auto port = known_.find(lower(words[i].text));
            if (port == known_.end())
                return fail_at(words[i].offset,
                               said("The pin map names port {}, which is not declared", words[i].text));
            if (words[i + 1].text != ":")
                return fail_at(words[i].offset, said("':' is expected after {} in the pin map", words[i].text));
            auto& list = out_.ports[port->second].pins;
            i += 2;
            const bool many = words[i].text == "(";
            for (i += many; i < words.size() && words[i].text != ")" && (many || list.empty()); ++i) {
                if (words[i].text == ",") continue;
                if (!pins.insert(words[i].text).second)
                    fail_at(words[i].offset, said("Pin {} is there twice in the pin map", words[i].text));
                list.push_back(words[i].text);
            }
            i += many;
            if (i < words.size() && words[i].text == ",") ++i;
        }
        for (const auto& p : out_.ports) {
            const size_t bits = p.vector ? static_cast<size_t>(std::abs(p.left - p.right)) + 1 : 1;
            if (!p.pins.empty() && p.pins.size() != bits)
                fail_at(at->second.offset,
                        said("Port {} has {} and {}", p.name, counted(bits, "bit"), counted(p.pins.size(), "pin")));
        }
    }

    void check() {
        if (length_ >= 0 && static_cast<size_t>(length_) != out_.boundary.size())
            fail_at(length_at_, said("BOUNDARY_LENGTH is {}, and the register has {}", length_,
                                     counted(out_.boundary.size(), "cell")));
        for (size_t i = 0; i < out_.boundary.size(); ++i)
            if (out_.boundary[i].number != static_cast<int>(i))
                return fail_at(length_at_, said("The boundary register has no cell {}", i));
        for (const auto& c : out_.boundary)
            if (c.control >= static_cast<int>(out_.boundary.size()))
                fail_at(length_at_, said("Cell {} is controlled by cell {}, which is not there", c.number, c.control));
        for (const auto& [code, offset] : opcode_at_)
            if (static_cast<int>(code.size()) != out_.instruction_length)
                fail_at(offset, said("The code {} has {}; INSTRUCTION_LENGTH is {}", code, counted(code.size(), "bit"),
                                     out_.instruction_length));
        if (!out_.idcode.empty() &&
            (out_.idcode.size() != 32 || out_.idcode.find_first_not_of("01Xx") != std::string::npos ||
             out_.idcode.back() != '1'))
            fail_at(id_at_, "The IDCODE has 32 of 0, 1 and X, and its last one is 1 (IEEE 1149.1, clause 12)");
        for (const char* tap : {"TDI", "TDO", "TMS", "TCK"})
            if (!out_.taps.contains(tap)) fail_at(0, std::string("No port is said to be ") + tap);
    }

    std::string_view text_;
    const std::string& file_;
    std::string wanted_, default_map_;
    Scanner scan_;
    Token t_;
    Bsdl out_;
    std::vector<Message> errors_;
    std::map<std::string, size_t> known_;
    struct Map {
        std::string name;
        size_t offset;
        std::vector<Word> words;
    };
    std::map<std::string, Map> maps_;
    std::vector<std::pair<std::string, size_t>> opcode_at_;
    int length_ = -1;
    size_t length_at_ = 0, id_at_ = 0;
};

PinKind kind_of(const BsdlPort& p, const std::map<std::string, std::string>& taps) {
    for (const auto& [tap, port] : taps)
        if (lower(port) == lower(p.name)) return PinKind::configuration;
    return p.mode != "linkage" ? PinKind::io : kind_from_name(p.name).value_or(PinKind::configuration);
}

}  // namespace

Result<Bsdl> read_bsdl(std::string_view text, const std::string& file, const std::string& package) {
    if (text.size() > largest)
        return Message{Severity::stop, Code::bsdl, "A BSDL file of more than 32 MB is not read.", file};
    return Reader(without_mark(text), file, package).run();
}

Result<Part> part_from_bsdl(const Bsdl& b) {
    Part part;
    part.name = b.entity;
    part.codes = b.entity;
    part.ordering = {{b.entity, "", {}}};
    for (const char c : b.idcode) part.idcode = part.idcode << 1 | (c == '1');
    part.banks.push_back({"1", "VIO_1", {3.3}, {"LVCMOS 3.3 V"}});
    std::map<std::string, std::string> pin_of;
    for (const auto& p : b.ports)
        for (size_t i = 0; i < p.pins.size(); ++i) {
            Pin pin;
            pin.name = p.pins[i];
            pin.kind = kind_of(p, b.taps);
            const int bit = p.left + (p.left <= p.right ? 1 : -1) * static_cast<int>(i);
            pin.function = p.vector ? p.name + "(" + std::to_string(bit) + ")" : p.name;
            if (pin.kind == PinKind::io || pin.kind == PinKind::bank_supply) pin.bank = "1";
            pin_of[lower(pin.function)] = pin.name;
            if (!part.by_name.emplace(pin.name, part.pins.size()).second)
                return Message{Severity::stop, Code::bsdl, said("Pin {} is there twice.", pin.name)};
            part.pins.push_back(std::move(pin));
        }
    if (auto status = place_pins(part); !status) return status.messages();
    for (const auto& [a, c] : b.pairs) {
        const auto x = part.by_name.find(pin_of[lower(a)]), y = part.by_name.find(pin_of[lower(c)]);
        if (x == part.by_name.end() || y == part.by_name.end()) continue;
        part.pins[x->second].pair = part.pins[y->second].name;
        part.pins[x->second].pair_true = true;
        part.pins[y->second].pair = part.pins[x->second].name;
    }
    std::vector<Message> notes{{Severity::caution, Code::bsdl,
                                "BSDL knows no banks, standards, limits or resources: all user pins are in bank 1 at "
                                "3.3 V until the part file says more."}};
    if (b.idcode.find_first_of("Xx") != std::string::npos)
        notes.push_back({Severity::note, Code::bsdl, "The IDCODE has open bits; they are taken as 0."});
    return Result<Part>(std::move(part), std::move(notes));
}

}  // namespace kp
