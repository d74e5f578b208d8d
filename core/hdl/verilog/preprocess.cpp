// SPDX-License-Identifier: GPL-3.0-or-later
// Directives of IEEE 1800-2017, clause 22, as layers of text that are read one inside the other. Depth and length
// are bounded: a macro may not grow without end.
#include "core/hdl/verilog/preprocess.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cctype>
#include <set>

namespace kp::verilog {

namespace {
constexpr size_t most_layers = 64, most_expanded = size_t{16} << 20;
bool name_char(char c) {
    return std::isalnum(static_cast<unsigned char>(c)) || c == '_' || c == '$';
}

std::string replace_words(const std::string& raw, const std::vector<std::string>& formal,
                          const std::vector<std::string>& actual) {
    std::string out;
    for (size_t i = 0; i < raw.size() && out.size() < most_expanded;) {
        size_t end = i;
        while (end < raw.size() && name_char(raw[end])) ++end;
        if (end == i) {
            if (raw.compare(i, 2, "``") == 0)
                i += 2;  // joins two words (22.5.1)
            else
                out += raw[i++];
            continue;
        }
        const auto word = raw.substr(i, end - i);
        const auto at = std::find(formal.begin(), formal.end(), word);
        out += at == formal.end() ? word : actual[static_cast<size_t>(at - formal.begin())];
        i = end;
    }
    return out;
}
}  // namespace

Preprocessor::Preprocessor(const SourceText& source, const PortRequest& request,
                           std::map<std::string, std::string>& macros, std::vector<Message>& errors,
                           std::vector<Message>& notes)
    : request_(request), macros_(macros), errors_(errors), notes_(notes) {
    layers_.push_back({source.file, source.text, Scanner(source.text, true), false, {}});
}

Message Preprocessor::here(std::string text) const {
    // The innermost layer that is a file: macro text has no line of its own.
    for (size_t i = layers_.size(); i-- > 0;)
        if (!layers_[i].is_macro) {
            const bool last = i + 1 == layers_.size();
            const auto place =
                place_of(layers_[i].text, last ? std::min(offset_, layers_[i].text.size()) : layers_[i].scan.offset());
            return {Severity::stop, Code::syntax, std::move(text), layers_[i].file, place.line, place.column};
        }
    return {Severity::stop, Code::syntax, std::move(text)};
}

std::pair<const std::string*, int> Preprocessor::place() const {
    size_t i = layers_.size() - 1;
    while (i > 0 && layers_[i].is_macro) --i;
    auto& layer = layers_[i];
    const size_t at = std::min(i + 1 == layers_.size() ? offset_ : layer.scan.offset(), layer.text.size());
    for (; layer.counted < at; ++layer.counted) layer.line += layer.text[layer.counted] == '\n';
    return {&layer.file, layer.line};
}

void Preprocessor::fail(const std::string& text) {
    errors_.push_back(here(text));
    broken_ = true;
}

Token Preprocessor::next() {
    while (!broken_) {
        const Token t = layers_.back().scan.next();
        offset_ = t.offset;
        if (t.kind == Token::end && layers_.size() > 1) {
            layers_.pop_back();
            continue;
        }
        if (t.kind == Token::end && !branches_.empty()) {
            offset_ = branches_.back().offset;
            branches_.clear();
            fail("This `ifdef has no `endif before the end of the file.");
            break;
        }
        if (t.kind != Token::directive) return t;
        if (!directive(t)) return t;
    }
    return {Token::end, {}, offset_};
}

/// The rest of the line, continued over lines that end in a backslash; without a // comment.
std::string Preprocessor::rest_of_line() {
    auto& layer = layers_.back();
    size_t at = layer.scan.offset();
    std::string out;
    while (at < layer.text.size() && layer.text[at] != '\n') {
        if (layer.text[at] == '\\' && at + 1 < layer.text.size() &&
            (layer.text[at + 1] == '\n' || layer.text.compare(at + 1, 2, "\r\n") == 0)) {
            at += layer.text[at + 1] == '\n' ? 2 : 3;
            out += ' ';
        } else if (layer.text.compare(at, 2, "//") == 0) {
            while (at < layer.text.size() && layer.text[at] != '\n') ++at;
        } else if (layer.text.compare(at, 2, "/*") == 0) {
            const auto close = layer.text.find("*/", at + 2);
            at = close == std::string_view::npos ? layer.text.size() : close + 2;
            out += ' ';
        } else {
            out += layer.text[at++];
        }
    }
    layer.scan.go_to(at);
    return out;
}

void Preprocessor::define(const std::string& line) {
    const std::string_view text = trim(line);
    size_t end = 0;
    while (end < text.size() && name_char(text[end])) ++end;
    if (end == 0) return fail("A name is expected after `define.");
    // "NAME(" without a blank takes arguments (22.5.1).
    const std::string body(text.substr(end));
    macros_[std::string(text.substr(0, end))] = body.starts_with("(") ? body : " " + body;
}

void Preprocessor::include(const std::string& line) {
    const auto text = trim(line);
    if (text.size() < 2 || (text.front() != '"' && text.front() != '<'))
        return fail("A file name in quotes is expected after `include.");
    const auto close = text.find(text.front() == '"' ? '"' : '>', 1);
    if (close == std::string_view::npos) return fail("The file name after `include has no closing quote.");
    const std::string name(text.substr(1, close - 1));
    if (layers_.size() >= most_layers)
        return fail(said("Files include each other without end, or deeper than {}.", most_layers));
    auto body = request_.include ? request_.include(name, layers_.back().file) : std::nullopt;
    if (!body) {
        auto note = here(said("The file '{}' to include is not beside this one; what it defines is missing.", name));
        note.severity = Severity::caution;
        note.code = Code::include;
        notes_.push_back(note);
        return;
    }
    expanded_ += body->size();
    if (expanded_ > most_expanded) return fail("Included files and macros make more than 16 MB of text.");
    owned_.push_back(std::move(*body));
    layers_.push_back({name, owned_.back(), Scanner(owned_.back(), true), false, {}});
}

/// Passes over text until the branch of this `ifdef that counts, or its `endif.
bool Preprocessor::skip_to_branch() {
    int depth = 0;
    for (;;) {
        auto& layer = layers_.back();
        const auto at = layer.text.find('`', layer.scan.offset());
        if (at == std::string_view::npos) {
            offset_ = branches_.back().offset;
            branches_.clear();
            fail("This `ifdef has no `endif before the end of the file.");
            return false;
        }
        // A directive inside a // comment does not count.
        const auto line = layer.text.rfind('\n', at);
        const auto remark = layer.text.find("//", line == std::string_view::npos ? 0 : line + 1);
        if (remark < at) {
            const auto next = layer.text.find('\n', at);
            layer.scan.go_to(next == std::string_view::npos ? layer.text.size() : next);
            continue;
        }
        size_t end = at + 1;
        while (end < layer.text.size() && name_char(layer.text[end])) ++end;
        const auto word = layer.text.substr(at + 1, end - at - 1);
        layer.scan.go_to(end);
        if (word == "ifdef" || word == "ifndef")
            ++depth;
        else if (word == "endif" && depth-- == 0) {
            branches_.pop_back();
            return true;
        } else if (depth == 0 && word == "else" && !branches_.back().taken)
            return branches_.back().taken = true;
        else if (depth == 0 && word == "elsif" && !branches_.back().taken &&
                 macros_.contains(std::string(layer.scan.next().text)))
            return branches_.back().taken = true;
    }
}

/// False for the use of a macro that nobody defined.
bool Preprocessor::directive(const Token& t) {
    // Directives of the language that say nothing about ports.
    static const std::set<std::string> whole_line{
        "default_nettype", "resetall",     "celldefine",        "endcelldefine",       "pragma",     "line",
        "begin_keywords",  "end_keywords", "unconnected_drive", "nounconnected_drive", "undefineall"};
    const std::string name(t.text);
    if (name == "ifdef" || name == "ifndef")
        branch(t, name == "ifdef");
    else if (name == "else" || name == "elsif" || name == "endif")
        other_branch(name);
    else if (name == "define")
        define(rest_of_line());
    else if (name == "undef")
        macros_.erase(std::string(trim(rest_of_line())));
    else if (name == "include")
        include(rest_of_line());
    else if (macros_.contains(name))
        expand(name);
    else if (name == "timescale")
        timescale_ = trim(rest_of_line());
    else if (whole_line.contains(name))
        rest_of_line();
    else
        return false;
    return true;
}

void Preprocessor::branch(const Token& t, bool when_defined) {
    const Token what = layers_.back().scan.next();
    if (!what.is_name()) return fail("A name is expected after `ifdef.");
    if (branches_.size() > 1000) return fail("`ifdef is nested too deeply.");
    const bool taken = macros_.contains(std::string(what.text)) == when_defined;
    branches_.push_back({taken, t.offset});
    if (!taken) skip_to_branch();
}

void Preprocessor::other_branch(const std::string& name) {
    if (branches_.empty()) return fail(said("`{} stands without `ifdef.", name));
    if (name == "endif")
        branches_.pop_back();
    else
        skip_to_branch();
}

/// The texts given to a macro with arguments; the scanner stands behind its name.
bool Preprocessor::arguments(const std::string& name, std::vector<std::string>& out) {
    auto& layer = layers_.back();
    Token t = layer.scan.next();
    if (!t.is("(")) {
        fail(said("The macro `{} wants its arguments in brackets.", name));
        return false;
    }
    size_t from = layer.scan.offset();
    for (int depth = 0;;) {
        t = layer.scan.next();
        if (t.kind == Token::end || t.kind == Token::bad) {
            fail(said("The arguments of the macro `{} have no ')'.", name));
            return false;
        }
        if (depth == 0 && (t.is(",") || t.is(")"))) {
            out.emplace_back(trim(layer.text.substr(from, t.offset - from)));
            from = layer.scan.offset();
            if (t.is(")")) return true;
        }
        depth += t.is("(") || t.is("[") || t.is("{") ? 1 : t.is(")") || t.is("]") || t.is("}") ? -1 : 0;
    }
}

/// Whether the text of a macro leads to the macro, by whatever others.
bool Preprocessor::uses_itself(const std::string& name) const {
    std::set<std::string> seen;
    std::vector<std::string> open{name};
    while (!open.empty()) {
        const auto at = macros_.find(open.back());
        open.pop_back();
        if (at == macros_.end()) continue;
        const std::string_view body = at->second;
        for (auto i = body.find('`'); i != std::string_view::npos; i = body.find('`', i + 1)) {
            auto end = i + 1;
            while (end < body.size() && name_char(body[end])) ++end;
            std::string used(body.substr(i + 1, end - i - 1));
            if (used == name) return true;
            if (seen.insert(used).second) open.push_back(std::move(used));
        }
    }
    return false;
}

void Preprocessor::expand(const std::string& name) {
    // In its own argument a macro may stand (22.5.1), in its own text it may not.
    for (const auto& layer : layers_)
        if (layer.macro == name && uses_itself(name)) return fail(said("The macro `{} uses itself.", name));
    if (layers_.size() >= most_layers) return fail(said("Macros are nested deeper than {}.", most_layers));
    std::string body = macros_[name];
    if (body.starts_with("(")) {
        const auto close = body.find(')');
        if (close == std::string::npos) return fail(said("The macro `{} has no ')' after its arguments.", name));
        std::vector<std::string> formal, actual;
        for (const auto word : split(std::string_view(body).substr(1, close - 1), ','))
            formal.emplace_back(trim(word.substr(0, word.find('='))));
        if (!arguments(name, actual)) return;
        if (actual.size() != formal.size())
            return fail(
                said("The macro `{} takes {}, not {}.", name, counted(formal.size(), "argument"), actual.size()));
        body = replace_words(body.substr(close + 1), formal, actual);
    }
    expanded_ += body.size();
    if (expanded_ > most_expanded) return fail("Included files and macros make more than 16 MB of text.");
    owned_.push_back(std::move(body));
    layers_.push_back({name, owned_.back(), Scanner(owned_.back(), true), true, name});
}

}  // namespace kp::verilog
