// SPDX-License-Identifier: GPL-3.0-or-later
// One statement after the other, each by its first words. Of twelve or six delay values the ones for 0 to 1 and 1 to 0
// count (14.3.1); values for z are those of the pad behind it, which an SDF gives. A value of min:typ:max is the
// typical one: models carry placeholders, and real values come from an SDF.
#include "core/hdl/models/specify.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cmath>

namespace kp::models {

namespace {

Terminal terminal_of(Cursor& c, const Constants& constants) {
    Terminal t;
    t.name = c.name("a terminal");
    if (!c.take('[')) return t;
    t.selected = true;
    const auto left = value_of(c.expression(), constants);
    const auto right = c.take(':') ? value_of(c.expression(), constants) : left;
    c.expect(']', "after a bit");
    constexpr double most = 1e6;
    if (!left || !right || std::fabs(*left) > most || std::fabs(*right) > most) {
        c.fail(said("The bits of {} are not constants.", t.name));
        return t;
    }
    t.left = static_cast<int>(*left);
    t.right = static_cast<int>(*right);
    return t;
}

std::vector<Terminal> terminals_of(Cursor& c, const Constants& constants) {
    std::vector<Terminal> out;
    do out.push_back(terminal_of(c, constants));
    while (c.take(',') && !c.error());
    return out;
}

Edge edge_of(Cursor& c) {
    if (c.take("posedge")) return Edge::rise;
    if (c.take("negedge")) return Edge::fall;
    if (!c.take("edge")) return Edge::none;
    if (!c.now().is('[')) return Edge::none;
    bool rises = false, falls = false;  // 15.4: edge [01, 0x, x1 ...]
    for (const auto& w : c.brackets()) {
        const auto text = w.token.text;
        if (text == "01" || text == "0x" || text == "x1" || text == "0X" || text == "X1") rises = true;
        if (text == "10" || text == "1x" || text == "x0" || text == "1X" || text == "X0") falls = true;
    }
    return rises == falls ? Edge::none : rises ? Edge::rise : Edge::fall;
}

/// Values of a path up to its ';'.
void delays_of(Cursor& c, const Constants& constants, ModulePath& path) {
    auto words = c.until(';');
    if (!words.empty() && words.front().token.is('(')) {  // one pair of brackets around all
        Cursor inside(words);
        const auto within = inside.brackets();
        if (inside.done() && !inside.error()) words = within;
    }
    std::vector<double> values;
    for (const auto place : split_words(words)) {
        Cursor one(place);
        auto e = one.expression();
        if (one.take(':')) e = one.expression();
        const auto v = one.error() ? std::nullopt : value_of(e, constants);
        if (!v || !std::isfinite(*v)) {
            if (values.size() < 2) return;  // no value: an SDF gives it
            break;
        }
        values.push_back(*v);
    }
    if (values.empty()) return;
    path.rise = values[0];
    path.fall = values.size() > 1 ? values[1] : values[0];
    path.known = path.rise != 0 || path.fall != 0;
}

void read_path(Cursor& c, const Constants& constants, std::span<const Word> condition, Specify& out) {
    ModulePath p;
    c.expect('(', "where a path begins");
    p.words = condition;
    p.condition = plain_text(condition);
    p.edge = edge_of(c);
    p.from = terminals_of(c, constants);
    const auto polarity = [&] {
        if (!c.now().is('+') && !c.now().is('-')) return;
        p.polarity = c.now().text[0];
        c.next();
    };
    polarity();
    p.full = c.now().is('*');
    if (!c.take('=') && !c.take('*')) c.fail("'=>' or '*>' is expected in a path.");
    c.expect('>', "in a path");
    if (c.take('(')) {  // an edge-sensitive path says what comes out: (Q +: D)
        p.to = terminals_of(c, constants);
        const char own = std::exchange(p.polarity, 0);
        polarity();
        p.polarity = own;
        if (c.take(':')) (void)c.expression();
        c.expect(')', "after the data of a path");
    } else {
        p.to = terminals_of(c, constants);
    }
    c.expect(')', "where a path ends");
    c.expect('=', "after a path");
    if (c.error()) return;
    delays_of(c, constants, p);
    out.paths.push_back(std::move(p));
}

struct Event {
    Terminal terminal;
    Edge edge = Edge::none;
    std::string condition;
};

Event event_of(std::span<const Word> words, const Constants& constants, Cursor& outer) {
    Event e;
    Cursor c(words);
    e.edge = edge_of(c);
    e.terminal = terminal_of(c, constants);
    if (c.take('&')) {
        c.expect('&', "in '&&&'");
        c.expect('&', "in '&&&'");
        size_t left = 0;
        while (!c.done()) {
            ++left;
            c.next();
        }
        e.condition = plain_text(words.subspan(words.size() - left));
    } else if (!c.done()) {
        c.fail(said("'{}' is not expected in a timing check.", c.now().text));
    }
    outer.fail_as(c);
    return e;
}

double limit_of(std::span<const Word> words, const Constants& constants) {
    Cursor c(words);
    auto e = c.expression();
    if (c.take(':')) e = c.expression();
    const auto v = c.error() ? std::nullopt : value_of(e, constants);
    return v && std::isfinite(*v) ? *v : 0;
}

/// The arguments of a check, read: which is data and which the reference differs from check to check (15.2, 15.3).
class CheckReader {
public:
    CheckReader(Cursor& c, const Constants& constants, Specify& out) : c_(c), constants_(constants), out_(out) {}

    void read(std::string_view task) {
        if (!c_.now().is('(')) return c_.fail(said("'(' is expected after {}.", task));
        places_ = split_words(c_.brackets());
        c_.expect(';', "after a timing check");
        if (c_.error()) return;
        if (task == "$width" || task == "$period") {
            pulse(task == "$width" ? TimingCheck::width : TimingCheck::period);
        } else if (task == "$setup") {
            pair(0, 1) && add(TimingCheck::setup, 2);
        } else if (task == "$hold") {
            pair(1, 0) && add(TimingCheck::hold, 2);
        } else if (task == "$setuphold") {
            pair(1, 0) && add(TimingCheck::setup, 2) && add(TimingCheck::hold, 3);
            delayed(0, 1);
        } else if (task == "$recovery") {
            pair(0, 1) && add(TimingCheck::recovery, 2);
        } else if (task == "$removal") {
            pair(0, 1) && add(TimingCheck::removal, 2);
        } else if (task == "$recrem") {
            pair(0, 1) && add(TimingCheck::recovery, 2) && add(TimingCheck::removal, 3);
            delayed(0, 1);
        }
    }

private:
    bool pair(size_t data, size_t reference) {
        if (places_.size() < 3) {
            c_.fail("A timing check needs two events and a limit.");
            return false;
        }
        const auto d = event_of(places_[data], constants_, c_), r = event_of(places_[reference], constants_, c_);
        check_ = TimingCheck();
        check_.data = d.terminal;
        check_.reference = r.terminal;
        check_.data_edge = d.edge;
        check_.reference_edge = r.edge;
        check_.condition = r.condition.empty() ? d.condition : r.condition;
        return !c_.error();
    }
    bool add(TimingCheck::Kind kind, size_t limit) {
        check_.kind = kind;
        check_.limit = limit < places_.size() ? limit_of(places_[limit], constants_) : 0;
        out_.checks.push_back(check_);
        return true;
    }
    void pulse(TimingCheck::Kind kind) {
        if (places_.size() < 2) return c_.fail("A width or period check needs an event and a limit.");
        const auto e = event_of(places_[0], constants_, c_);
        check_ = TimingCheck();
        check_.kind = kind;
        check_.reference = e.terminal;
        check_.reference_edge = e.edge;
        check_.condition = e.condition;
        check_.limit = limit_of(places_[1], constants_);
        if (!c_.error()) out_.checks.push_back(check_);
    }
    /// The nets that carry the delayed reference and data, arguments eight and nine.
    void delayed(size_t first, size_t second) {
        for (const auto& [place, of] : {std::pair{7u, first}, std::pair{8u, second}}) {
            if (c_.error() || place >= places_.size() || places_[place].size() != 1) continue;
            const auto& word = places_[place][0].token;
            if (word.is_name()) out_.delayed.emplace_back(word.text, event_of(places_[of], constants_, c_).terminal);
        }
    }

    Cursor& c_;
    const Constants& constants_;
    Specify& out_;
    std::vector<std::span<const Word>> places_;
    TimingCheck check_;
};

}  // namespace

void read_constants(Cursor& c, Constants& constants) {
    for (const char* word : {"signed", "integer", "real", "realtime", "time"}) c.take(std::string_view(word));
    if (c.now().is('[')) c.brackets();
    for (const auto place : split_words(c.until(';'))) {
        Cursor one(place);
        if (!one.now().is_name()) continue;
        std::string name(one.now().text);
        one.next();
        if (!one.take('=')) continue;  // PATHPULSE$A$Y and such
        auto e = one.expression();
        if (one.take(':')) e = one.expression();
        if (const auto v = one.error() ? std::nullopt : value_of(e, constants)) constants[name] = *v;
    }
}

void read_specify(Cursor& c, Constants& constants, Specify& out) {
    while (!c.take("endspecify")) {
        if (c.done()) return c.fail("'endspecify' is missing.");
        const auto& t = c.now();
        if (c.take("specparam")) {
            read_constants(c, constants);
        } else if (c.take("if")) {
            if (!c.now().is('(')) return c.fail("'(' is expected after 'if'.");
            const auto condition = c.brackets();
            read_path(c, constants, condition, out);
        } else if (c.take("ifnone") || t.is('(')) {
            read_path(c, constants, {}, out);
        } else if (t.kind == verilog::Token::word && t.text.starts_with('$')) {
            const std::string task(t.text);
            c.next();
            CheckReader(c, constants, out).read(task);
        } else if (t.is_name()) {  // showcancelled, pulsestyle_onevent and the like
            c.until(';');
        } else if (!c.take(';')) {
            return c.fail(said("'{}' is not expected in a specify block.", t.text));
        }
    }
}

}  // namespace kp::models
