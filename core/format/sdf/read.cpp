// SPDX-License-Identifier: GPL-3.0-or-later
// IEEE 1497-2001. Entries go to a sink as they are read, so that a file of gigabytes stands nowhere in memory; names
// go through one buffer.
#include "core/format/sdf/read.hpp"

#include "core/base/text.hpp"
#include "core/format/sdf/words.hpp"
#include "core/base/said.hpp"

namespace kp {

namespace {

using sdf::Word;

class Reader {
public:
    Reader(ByteStream& stream, const std::string& file, DelaySink& sink, const std::stop_token& stop)
        : words_(stream), stream_(stream), file_(file), sink_(sink), stop_(stop) {
        words_.advance();
    }

    Result<std::string> run() {
        if (!open("DELAYFILE")) fail("'(DELAYFILE' is expected; this is not an SDF file");
        std::string key;
        while (good() && w().kind == Word::open) {
            advance();
            plain(key, "a keyword");
            if (key == "CELL")
                cell();
            else
                header(key);
            if (stop_.stop_requested())
                return Message{Severity::stop, Code::cancelled, "Reading was cancelled.", file_, w().line};
        }
        if (good()) close("the file");
        if (const auto trouble = stream_.trouble()) return *trouble;
        if (!errors_.empty()) return errors_;
        return std::move(design_);
    }

private:
    [[nodiscard]] bool good() const { return errors_.empty(); }
    [[nodiscard]] const Word& w() const { return words_.now(); }
    void fail(const std::string& what) {
        if (!good()) return;
        const bool cut = w().kind == Word::end;
        errors_.push_back({Severity::stop, Code::syntax,
                           w().kind == Word::too_long ? "A single word of more than a million characters is not read."
                           : cut                      ? what + "; the file seems to be cut off."
                                                      : what + ".",
                           file_, w().line, w().column});
    }
    void advance() { words_.advance(); }
    bool open(std::string_view key) {
        if (w().kind != Word::open) return false;
        advance();
        if (w().kind != Word::plain || w().view != key) return false;
        advance();
        return true;
    }
    void close(const char* what) {
        if (w().kind == Word::close)
            advance();
        else
            fail(std::string("')' is expected after ") + what);
    }
    void plain(std::string& into, const char* what) {
        into.assign(w().view);
        if (w().kind == Word::plain || w().kind == Word::text)
            advance();
        else
            fail(std::string(what) + " is expected");
    }
    /// Passes over the rest of the current bracket.
    void skip() {
        for (int depth = 1; good() && depth > 0; advance()) {
            if (w().kind == Word::end || w().kind == Word::too_long) return fail("')' is expected");
            depth += w().kind == Word::open ? 1 : w().kind == Word::close ? -1 : 0;
        }
    }

    void header(const std::string& key) {
        if (key == "TIMESCALE") {
            std::string text, word;
            while (w().kind == Word::plain) {
                plain(word, "");
                text += word;
            }
            const size_t digits = text.find_first_not_of("0123456789.");
            const auto n = to_number(std::string_view(text).substr(0, digits));
            const auto unit = digits == std::string::npos ? "ns" : text.substr(digits);
            const double ns = unit == "ps" ? 1e-3 : unit == "ns" ? 1.0 : unit == "us" ? 1e3 : unit == "fs" ? 1e-6 : 0.0;
            if (!n || ns == 0.0)
                return fail(said("The time scale '{}' is not understood; it should be like 1ns or 100ps", text));
            scale_ = *n * ns;
        } else if (key == "DIVIDER" && w().kind == Word::plain) {
            divider_ = w().view.front();
        } else if (key == "DESIGN" && w().kind == Word::text) {
            design_ = std::string(w().view);
        }
        skip();
    }

    /// A hierarchical name with '/' between levels and escapes taken off.
    void path(std::string& into, const char* what) {
        plain(into, what);
        if (divider_ == '/' && into.find('\\') == std::string::npos) return;
        size_t to = 0;
        for (size_t i = 0; i < into.size(); ++i) {
            if (into[i] == '\\' && i + 1 < into.size())
                into[to++] = into[++i];
            else
                into[to++] = into[i] == divider_ ? '/' : into[i];
        }
        into.resize(to);
    }

    void cell() {
        cell_type_.clear();
        instance_.clear();
        while (good() && w().kind == Word::open) {
            advance();
            plain(key_, "a keyword");
            if (key_ == "CELLTYPE") {
                plain(cell_type_, "a cell type");
                close("the cell type");
            } else if (key_ == "INSTANCE") {
                if (w().kind != Word::close) path(instance_, "an instance");
                close("the instance");
            } else if (key_ == "DELAY") {
                delays();
            } else if (key_ == "TIMINGCHECK") {
                while (good() && w().kind == Word::open) check();
                close("the timing checks");
            } else {
                skip();
            }
        }
        close("a cell");
    }

    void delays() {
        while (good() && w().kind == Word::open) {
            advance();
            plain(key_, "ABSOLUTE or INCREMENT");
            const bool increment = key_ == "INCREMENT";
            if (!increment && key_ != "ABSOLUTE") {
                skip();  // PATHPULSE and RETAIN do not change delays
                continue;
            }
            while (good() && w().kind == Word::open) entry(increment);
            close("the delays");
        }
        close("the delay section");
    }

    /// A pin, or (posedge pin) and the like.
    void port(std::string& into, char& edge) {
        if (w().kind != Word::open) return path(into, "a pin");
        advance();
        plain(key_, "posedge or negedge");
        edge = key_ == "posedge" || key_ == "01" ? 'p' : key_ == "negedge" || key_ == "10" ? 'n' : 0;
        path(into, "a pin");
        close("the edge");
    }

    /// (COND expression body): the expression's text without blanks.
    void condition() {
        condition_.clear();
        for (int depth = 0; good();) {
            if (w().kind == Word::end || w().kind == Word::too_long) fail("')' is expected in a condition");
            if (depth == 0 && w().kind == Word::open && next_is_body()) break;
            if (depth == 0 && w().kind == Word::close) break;
            depth += w().kind == Word::open ? 1 : w().kind == Word::close ? -1 : 0;
            if (depth > 50) fail("A condition nests deeper than 50");
            condition_ += w().view;
            advance();
        }
    }
    [[nodiscard]] bool next_is_body() {
        const auto rest = trim(words_.ahead().substr(0, 64));
        for (const char* key :
             {"IOPATH", "posedge", "negedge", "SETUP", "HOLD", "RECOVERY", "REMOVAL", "RECREM", "WIDTH", "PERIOD"})
            if (rest.starts_with(key)) return true;
        return false;
    }

    double member(std::string_view text) {
        if (text.empty()) return absent;
        const auto v = to_number(text);
        if (!v) {
            fail(said("The number '{}' is not understood", text));
            return absent;
        }
        return *v * scale_;
    }

    /// "(1:2:3)", "(2)", "()": one member stands for all three.
    Triple triple() {
        Triple out{absent, absent, absent};
        if (w().kind != Word::open) {
            fail("'(' and a delay are expected");
            return out;
        }
        advance();
        number_.assign(w().kind == Word::plain ? w().view : std::string_view());
        if (w().kind == Word::plain)
            for (advance(); w().kind == Word::plain; advance()) number_ += w().view;
        close("a delay");
        const std::string_view text = number_;
        const auto first = text.find(':');
        if (first == std::string_view::npos) {
            out.fill(member(text));
            return out;
        }
        const auto second = text.find(':', first + 1);
        if (second == std::string_view::npos || text.find(':', second + 1) != std::string_view::npos)
            fail("A delay has one or three members");
        else
            out = {member(text.substr(0, first)), member(text.substr(first + 1, second - first - 1)),
                   member(text.substr(second + 1))};
        return out;
    }

    /// 1, 2, 3, 6 or 12 values; the first two are rise and fall. One value stands for both.
    void values(DelayEntry& e) {
        int n = 0;
        for (; good() && w().kind == Word::open; ++n) {
            const auto t = triple();
            if (n == 0) e.rise = t;
            if (n == 1) e.fall = t;
        }
        if (n == 0) fail("A delay is expected");
        if (n == 1) e.fall = e.rise;
    }

    [[nodiscard]] DelayEntry fresh() {
        DelayEntry e;
        e.line = w().line;
        from_.clear();
        to_.clear();
        condition_.clear();
        return e;
    }
    void give(DelayEntry& e) {
        if (!good()) return;
        e.cell_type = cell_type_;
        e.instance = instance_;
        e.from = from_;
        e.to = to_;
        e.condition = condition_;
        sink_.take(e);
    }

    void entry(bool increment) {
        DelayEntry e = fresh();
        e.increment = increment;
        advance();
        plain(key_, "IOPATH, INTERCONNECT, PORT or DEVICE");
        const bool conditional = key_ == "COND" || key_ == "CONDELSE";
        if (conditional) {
            if (key_ == "COND") {
                if (w().kind == Word::text) advance();  // the optional label
                condition();
            }
            if (w().kind == Word::open) advance();
            plain(key_, "IOPATH");
        }
        if (key_ == "IOPATH") {
            e.kind = DelayEntry::iopath;
            port(from_, e.from_edge);
            port(to_, e.to_edge);
            if (w().kind == Word::open && trim(words_.ahead().substr(0, 64)).starts_with("RETAIN")) {
                advance();
                skip();
            }
        } else if (key_ == "INTERCONNECT") {
            e.kind = DelayEntry::interconnect;
            path(from_, "a pin");
            path(to_, "a pin");
        } else if (key_ == "PORT" || key_ == "NETDELAY") {
            e.kind = DelayEntry::port;
            path(to_, "a pin");
        } else if (key_ == "DEVICE") {
            e.kind = DelayEntry::device;
            if (w().kind == Word::plain) path(to_, "a pin");
        } else {
            return skip();
        }
        values(e);
        close("a delay entry");
        if (conditional) close("a condition");
        give(e);
    }

    void check_port(std::string& into, char& edge) {
        if (w().kind == Word::open && trim(words_.ahead().substr(0, 64)).starts_with("COND")) {
            advance();
            advance();
            condition();
            // A condition without an edge in front of its pin: the last word is the pin.
            if (w().kind == Word::open) port(into, edge);
            return close("a condition");
        }
        port(into, edge);
    }

    void check() {
        DelayEntry e = fresh();
        advance();
        plain(check_key_, "a timing check");
        const auto put = [&](DelayEntry::Kind kind, const Triple& value) {
            e.kind = kind;
            e.rise = e.fall = value;
            give(e);
        };
        const auto& key = check_key_;
        const bool pair = key == "SETUPHOLD" || key == "RECREM";
        const bool single = key == "SETUP" || key == "HOLD" || key == "RECOVERY" || key == "REMOVAL";
        if (pair || single) {
            check_port(from_, e.from_edge);
            check_port(to_, e.to_edge);
            // IEEE 1497: HOLD and REMOVAL name the data first too.
            const auto a = triple();
            if (pair) {
                const auto b = triple();
                put(key == "SETUPHOLD" ? DelayEntry::setup : DelayEntry::recovery, a);
                put(key == "SETUPHOLD" ? DelayEntry::hold : DelayEntry::removal, b);
            } else {
                put(key == "SETUP"      ? DelayEntry::setup
                    : key == "HOLD"     ? DelayEntry::hold
                    : key == "RECOVERY" ? DelayEntry::recovery
                                        : DelayEntry::removal,
                    a);
            }
            if (w().kind != Word::close) return skip();  // SCOND and CCOND change nothing here
            close("a timing check");
        } else if (key == "WIDTH" || key == "PERIOD") {
            check_port(from_, e.from_edge);
            put(key == "WIDTH" ? DelayEntry::width : DelayEntry::period, triple());
            close("a timing check");
        } else {
            skip();
        }
    }

    sdf::Words words_;
    ByteStream& stream_;
    std::string file_;
    DelaySink& sink_;
    std::stop_token stop_;
    double scale_ = 1;
    char divider_ = '.';
    std::string design_, cell_type_, instance_, from_, to_, condition_, key_, check_key_, number_;
    std::vector<Message> errors_;
};

}  // namespace

Result<std::string> read_sdf(ByteStream& stream, const std::string& file, DelaySink& sink, std::stop_token stop) {
    return Reader(stream, file, sink, stop).run();
}

Result<DelayFile> read_sdf(std::string_view text, const std::string& file) {
    DelayFile out;
    out.file = file;
    TextStream stream(text);
    auto design = read_sdf(stream, file, out);
    if (!design) return design.messages();
    out.design = design.take();
    return out;
}

}  // namespace kp
