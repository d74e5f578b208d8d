// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/format/sdf/read.hpp"

#include "core/base/text.hpp"

#include <algorithm>
#include <cctype>
#include <cmath>

namespace kp {

namespace {

/// A word of the text: '(' , ')' , a quoted text, or a run of other characters.
struct Word {
    enum Kind { end, open, close, text, plain } kind = end;
    std::string_view view;
    size_t offset = 0;
};

class Reader {
public:
    Reader(std::string_view text, const std::string& file) : t_(text) {
        out_.file = file;
        advance();
    }

    Result<DelayFile> run() {
        if (!open("DELAYFILE")) fail("'(DELAYFILE' is expected; this is not an SDF file");
        while (good() && w_.kind == Word::open) {
            advance();
            const auto key = plain("a keyword");
            if (key == "CELL") cell();
            else header(key);
        }
        if (good()) close("the file");
        if (!errors_.empty()) return errors_;
        return std::move(out_);
    }

private:
    [[nodiscard]] bool good() const { return errors_.empty(); }
    void fail(const std::string& what) {
        if (!good()) return;
        const auto place = place_of(t_, w_.offset);
        errors_.push_back({Severity::stop, "syntax", w_.kind == Word::end ? what + "; the file seems to be cut off." : what + ".", out_.file, place.line, place.column});
    }
    void advance() {
        for (;;) {
            while (i_ < t_.size() && std::isspace(static_cast<unsigned char>(t_[i_]))) ++i_;
            if (t_.compare(i_, 2, "//") == 0) i_ = std::min(t_.find('\n', i_), t_.size());
            else if (t_.compare(i_, 2, "/*") == 0) {
                const auto end = t_.find("*/", i_ + 2);
                i_ = end == std::string_view::npos ? t_.size() : end + 2;
            } else break;
        }
        const size_t from = i_;
        if (i_ >= t_.size()) {
            w_ = {Word::end, {}, from};
        } else if (t_[i_] == '(' || t_[i_] == ')') {
            w_ = {t_[i_] == '(' ? Word::open : Word::close, t_.substr(i_, 1), from};
            ++i_;
        } else if (t_[i_] == '"') {
            const auto end = std::min(t_.find('"', i_ + 1), t_.size());
            w_ = {Word::text, t_.substr(i_ + 1, end - i_ - 1), from};
            i_ = std::min(end + 1, t_.size());
        } else {
            while (i_ < t_.size() && t_[i_] != '(' && t_[i_] != ')' && t_[i_] != '"' && !std::isspace(static_cast<unsigned char>(t_[i_]))) i_ += t_[i_] == '\\' ? 2 : 1;
            i_ = std::min(i_, t_.size());
            w_ = {Word::plain, t_.substr(from, i_ - from), from};
        }
    }
    bool open(std::string_view key) {
        if (w_.kind != Word::open) return false;
        advance();
        if (w_.kind != Word::plain || w_.view != key) return false;
        advance();
        return true;
    }
    void close(const std::string& what) {
        if (w_.kind == Word::close) advance();
        else fail("')' is expected after " + what);
    }
    std::string_view plain(const char* what) {
        const auto view = w_.view;
        if (w_.kind == Word::plain || w_.kind == Word::text) advance();
        else fail(std::string(what) + " is expected");
        return view;
    }
    /// Passes over the rest of the current bracket.
    void skip() {
        for (int depth = 1; good() && depth > 0; advance()) {
            if (w_.kind == Word::end) return fail("')' is expected");
            depth += w_.kind == Word::open ? 1 : w_.kind == Word::close ? -1 : 0;
        }
    }

    void header(std::string_view key) {
        if (key == "TIMESCALE") {
            std::string text;
            while (w_.kind == Word::plain) text += plain("");
            const size_t digits = text.find_first_not_of("0123456789.");
            const auto n = to_number(std::string_view(text).substr(0, digits));
            const auto unit = digits == std::string::npos ? "ns" : text.substr(digits);
            const double ns = unit == "ps" ? 1e-3 : unit == "ns" ? 1.0 : unit == "us" ? 1e3 : unit == "fs" ? 1e-6 : 0.0;
            if (!n || ns == 0.0) return fail("The time scale '" + text + "' is not understood; it should be like 1ns or 100ps");
            scale_ = *n * ns;
        } else if (key == "DIVIDER" && w_.kind == Word::plain) {
            divider_ = w_.view.front();
        } else if (key == "DESIGN" && w_.kind == Word::text) {
            out_.design = std::string(w_.view);
        }
        skip();
    }

    /// A hierarchical name with '/' between levels and escapes taken off.
    std::string path(std::string_view raw) const {
        std::string out;
        for (size_t i = 0; i < raw.size(); ++i) {
            if (raw[i] == '\\' && i + 1 < raw.size()) out += raw[++i];
            else out += raw[i] == divider_ ? '/' : raw[i];
        }
        return out;
    }

    void cell() {
        DelayEntry proto;
        while (good() && w_.kind == Word::open) {
            advance();
            const auto key = plain("a keyword");
            if (key == "CELLTYPE") {
                proto.cell_type = std::string(plain("a cell type"));
                close("the cell type");
            } else if (key == "INSTANCE") {
                if (w_.kind != Word::close) proto.instance = path(plain("an instance"));
                close("the instance");
            } else if (key == "DELAY") {
                delays(proto);
            } else if (key == "TIMINGCHECK") {
                while (good() && w_.kind == Word::open) check(proto);
                close("the timing checks");
            } else {
                skip();
            }
        }
        close("a cell");
    }

    void delays(const DelayEntry& proto) {
        while (good() && w_.kind == Word::open) {
            advance();
            const auto key = plain("ABSOLUTE or INCREMENT");
            if (key != "ABSOLUTE" && key != "INCREMENT") {
                skip();  // PATHPULSE and RETAIN do not change delays
                continue;
            }
            while (good() && w_.kind == Word::open) entry(proto, key == "INCREMENT");
            close("the delays");
        }
        close("the delay section");
    }

    /// A pin, or (posedge pin) and the like.
    std::string port(char& edge) {
        if (w_.kind != Word::open) return path(plain("a pin"));
        advance();
        const auto word = plain("posedge or negedge");
        edge = word == "posedge" || word == "01" ? 'p' : word == "negedge" || word == "10" ? 'n' : 0;
        const auto name = path(plain("a pin"));
        close("the edge");
        return name;
    }

    /// (COND expression body): the expression's text without blanks.
    std::string condition() {
        std::string text;
        int depth = 0;
        while (good()) {
            if (w_.kind == Word::end) fail("')' is expected in a condition");
            if (depth == 0 && w_.kind == Word::open && next_is_body()) break;
            if (depth == 0 && w_.kind == Word::close) break;
            depth += w_.kind == Word::open ? 1 : w_.kind == Word::close ? -1 : 0;
            if (depth > 50) fail("A condition nests deeper than 50");
            text += w_.view;
            advance();
        }
        return text;
    }
    [[nodiscard]] bool next_is_body() const {
        auto rest = trim(t_.substr(i_, 40));
        for (const char* key : {"IOPATH", "posedge", "negedge", "SETUP", "HOLD", "RECOVERY", "REMOVAL", "RECREM", "WIDTH", "PERIOD"})
            if (rest.starts_with(key)) return true;
        return false;
    }

    double member(std::string_view text) {
        text = trim(text);
        if (text.empty()) return absent;
        const auto v = to_number(text);
        if (!v) {
            fail("The number '" + std::string(text) + "' is not understood");
            return absent;
        }
        return *v * scale_;
    }

    /// "(1:2:3)", "(2)", "()": one member stands for all three.
    Triple triple() {
        Triple out{absent, absent, absent};
        if (w_.kind != Word::open) {
            fail("'(' and a delay are expected");
            return out;
        }
        advance();
        std::string text;
        while (w_.kind == Word::plain) text += plain("");
        close("a delay");
        const auto parts = split(text, ':');
        if (parts.size() == 3) out = {member(parts[0]), member(parts[1]), member(parts[2])};
        else if (parts.size() == 1) out.fill(member(parts[0]));
        else fail("A delay has one or three members");
        return out;
    }

    /// 1, 2, 3, 6 or 12 values; the first two are rise and fall. One value stands for both.
    void values(DelayEntry& e) {
        int n = 0;
        for (; good() && w_.kind == Word::open; ++n) {
            const auto t = triple();
            if (n == 0) e.rise = t;
            if (n == 1) e.fall = t;
        }
        if (n == 0) fail("A delay is expected");
        if (n == 1) e.fall = e.rise;
    }

    void entry(const DelayEntry& proto, bool increment) {
        const size_t at = w_.offset;
        advance();
        DelayEntry e = proto;
        e.increment = increment;
        e.line = line_at(at);
        auto key = plain("IOPATH, INTERCONNECT, PORT or DEVICE");
        const bool conditional = key == "COND" || key == "CONDELSE";
        if (conditional) {
            if (key == "COND") {
                if (w_.kind == Word::text) advance();  // the optional label
                e.condition = condition();
            }
            if (w_.kind == Word::open) advance();
            key = plain("IOPATH");
        }
        if (key == "IOPATH") {
            e.kind = DelayEntry::iopath;
            e.from = port(e.from_edge);
            e.to = port(e.to_edge);
            if (w_.kind == Word::open && trim(t_.substr(i_, 8)).starts_with("RETAIN")) {
                advance();
                skip();
            }
            values(e);
        } else if (key == "INTERCONNECT") {
            e.kind = DelayEntry::interconnect;
            e.from = path(plain("a pin"));
            e.to = path(plain("a pin"));
            values(e);
        } else if (key == "PORT" || key == "NETDELAY") {
            e.kind = DelayEntry::port;
            e.to = path(plain("a pin"));
            values(e);
        } else if (key == "DEVICE") {
            e.kind = DelayEntry::device;
            if (w_.kind == Word::plain) e.to = path(plain("a pin"));
            values(e);
        } else {
            return skip();
        }
        close("a delay entry");
        if (conditional) close("a condition");
        out_.entries.push_back(std::move(e));
    }

    std::string check_port(DelayEntry& e, char& edge) {
        if (w_.kind == Word::open && trim(t_.substr(i_, 6)).starts_with("COND")) {
            advance();
            advance();
            std::string name;
            e.condition = condition();
            // A condition without an edge in front of its pin: the last word is the pin.
            if (w_.kind == Word::open) name = port(edge);
            close("a condition");
            return name;
        }
        return port(edge);
    }

    void check(const DelayEntry& proto) {
        const size_t at = w_.offset;
        advance();
        const auto key = plain("a timing check");
        DelayEntry e = proto;
        e.line = line_at(at);
        const auto put = [&](DelayEntry::Kind kind, const Triple& value) {
            e.kind = kind;
            e.rise = e.fall = value;
            out_.entries.push_back(e);
        };
        const bool pair = key == "SETUPHOLD" || key == "RECREM";
        const bool single = key == "SETUP" || key == "HOLD" || key == "RECOVERY" || key == "REMOVAL";
        if (pair || single) {
            e.from = check_port(e, e.from_edge);
            e.to = check_port(e, e.to_edge);
            // IEEE 1497: HOLD and REMOVAL name the data first too.
            const auto a = triple();
            if (pair) {
                const auto b = triple();
                put(key == "SETUPHOLD" ? DelayEntry::setup : DelayEntry::recovery, a);
                put(key == "SETUPHOLD" ? DelayEntry::hold : DelayEntry::removal, b);
            } else {
                put(key == "SETUP" ? DelayEntry::setup : key == "HOLD" ? DelayEntry::hold : key == "RECOVERY" ? DelayEntry::recovery : DelayEntry::removal, a);
            }
            if (w_.kind != Word::close) return skip();  // SCOND and CCOND change nothing here
            close("a timing check");
        } else if (key == "WIDTH" || key == "PERIOD") {
            e.from = check_port(e, e.from_edge);
            put(key == "WIDTH" ? DelayEntry::width : DelayEntry::period, triple());
            close("a timing check");
        } else {
            skip();
        }
    }

    /// Offsets only grow, so lines are counted once over the whole text.
    int line_at(size_t offset) {
        line_ += static_cast<int>(std::count(t_.begin() + static_cast<long>(counted_), t_.begin() + static_cast<long>(offset), '\n'));
        counted_ = offset;
        return line_;
    }

    std::string_view t_;
    size_t i_ = 0;
    Word w_;
    double scale_ = 1;
    char divider_ = '.';
    size_t counted_ = 0;
    int line_ = 1;
    DelayFile out_;
    std::vector<Message> errors_;
};

}  // namespace

Result<DelayFile> read_sdf(std::string_view text, const std::string& file) { return Reader(text, file).run(); }

}  // namespace kp
