// SPDX-License-Identifier: GPL-3.0-or-later
// Groups and attributes of Liberty (its user guide, from memory) as a tree in one vector: no recursion, and no copy
// of the text.
#include "core/format/liberty/groups.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <cctype>
#include <deque>

namespace kp::liberty {

std::string Group::get(std::string_view wanted) const {
    const auto* a = find(wanted);
    return a && !a->values.empty() ? a->values.front() : std::string();
}

const Attribute* Group::find(std::string_view wanted) const {
    for (const auto& a : attributes)
        if (a.name == wanted) return &a;
    return nullptr;
}

const Group* Group::group(std::string_view wanted) const {
    for (const auto& g : groups)
        if (g.kind == wanted) return &g;
    return nullptr;
}

namespace {

constexpr size_t deepest = 30;  // library, cell, bus, pin, timing, table: six in practice

class Parser {
public:
    Parser(std::string_view text, const std::string& file) : t_(text), file_(file) {}

    /// One loop with an own stack of open groups: nesting in the file never becomes nesting in the program.
    Result<Group> run() {
        std::deque<Group> open(1);  // the first stands for the file
        while (error_.empty()) {
            blank();
            if (i_ >= t_.size()) break;
            if (t_[i_] == '}') {
                if (open.size() == 1) return fail("'}' closes nothing");
                ++i_;
                Group done = std::move(open.back());
                open.pop_back();
                open.back().groups.push_back(std::move(done));
            } else if (t_[i_] == ';') {
                ++i_;
            } else {
                statement(open);
            }
        }
        if (!error_.empty()) return fail(error_);
        if (open.size() > 1) {
            i_ = t_.size();
            return fail(said("The file ends inside group '{}'; it seems to be cut off", open.back().kind));
        }
        return std::move(open.front());
    }

private:
    Message fail(const std::string& text) const {
        const auto place = place_of(t_, i_);
        return {Severity::stop, Code::syntax, text + ".", file_, place.line, place.column};
    }
    void blank() {
        for (; i_ < t_.size(); ++i_) {
            const char c = t_[i_];
            if (t_.compare(i_, 2, "/*") == 0) {
                const auto end = t_.find("*/", i_ + 2);
                if (end == std::string_view::npos) {
                    error_ = "A comment is not closed";
                    return;
                }
                i_ = end + 1;
            } else if (t_.compare(i_, 2, "//") == 0) {
                while (i_ + 1 < t_.size() && t_[i_ + 1] != '\n') ++i_;
            } else if (c != '\\' && !std::isspace(static_cast<unsigned char>(c))) {
                return;
            }
        }
    }
    static bool word_char(char c) {
        return std::isalnum(static_cast<unsigned char>(c)) ||
               std::string_view("_.-+[]:*!&|^'/").find(c) != std::string_view::npos;
    }

    std::string_view word(bool colon) {
        const size_t from = i_;
        while (i_ < t_.size() && word_char(t_[i_]) && (colon || t_[i_] != ':')) ++i_;
        return t_.substr(from, i_ - from);
    }

    std::string value() {
        blank();
        if (i_ >= t_.size() || t_[i_] != '"') return std::string(word(true));
        std::string out;
        for (++i_; i_ < t_.size() && t_[i_] != '"'; ++i_) {
            if (t_[i_] == '\\' && i_ + 1 < t_.size() && (t_[i_ + 1] == '\n' || t_[i_ + 1] == '\r')) {
                ++i_;
                continue;
            }
            out += t_[i_];
        }
        if (i_ >= t_.size()) error_ = "A text is not closed; a '\"' is missing";
        ++i_;
        return out;
    }

    void statement(std::deque<Group>& open) {
        const size_t from = i_;
        const auto name = word(false);
        if (name.empty()) {
            error_ = "A name is expected here, not '" + std::string(t_.substr(i_, 1)) + "'";
            return;
        }
        blank();
        const char c = i_ < t_.size() ? t_[i_] : '\0';
        if (c == ':') {
            ++i_;
            simple(open.back(), name, from);
        } else if (c == '(') {
            ++i_;
            complex(open, name, from);
        } else {
            error_ = said("':' or '(' is expected after '{}'{}", name, (c ? "" : "; the file seems to be cut off"));
        }
    }

    /// name : value ;   where the value may be an unquoted expression up to the line's end.
    void simple(Group& group, std::string_view name, size_t from) {
        Attribute a{name, {}, from};
        blank();
        if (i_ < t_.size() && t_[i_] == '"') {
            a.values.push_back(value());
        } else {
            const size_t start = i_;
            while (i_ < t_.size() && t_[i_] != ';' && t_[i_] != '\n' && t_[i_] != '}') ++i_;
            a.values.emplace_back(trim(t_.substr(start, i_ - start)));
        }
        group.attributes.push_back(std::move(a));
    }

    void complex(std::deque<Group>& open, std::string_view name, size_t from) {
        std::vector<std::string> values;
        for (;;) {
            blank();
            if (!error_.empty()) return;
            if (i_ >= t_.size()) {
                error_ = said("The file ends inside '{} ('; it seems to be cut off", name);
                return;
            }
            if (t_[i_] == ')') break;
            if (t_[i_] == ',') {
                ++i_;
                continue;
            }
            const size_t before = i_;
            values.push_back(value());
            if (i_ == before) {
                error_ = said("')' is expected after the values of '{}'", name);
                return;
            }
        }
        ++i_;
        blank();
        if (i_ < t_.size() && t_[i_] == '{') {
            ++i_;
            if (open.size() > deepest) {
                error_ = "Groups nest deeper than 30";
                return;
            }
            Group g;
            g.kind = name;
            g.arguments = std::move(values);
            g.offset = from;
            open.push_back(std::move(g));
        } else {
            open.back().attributes.push_back({name, std::move(values), from});
        }
    }

    std::string_view t_;
    std::string file_;
    size_t i_ = 0;
    std::string error_;
};

}  // namespace

Result<Group> parse_groups(std::string_view text, const std::string& file) {
    return Parser(text, file).run();
}

}  // namespace kp::liberty
