// SPDX-License-Identifier: GPL-3.0-or-later
// Line by line; a signal is found again by its name with square brackets, so that "led<3>" and "led[3]" are one. The
// way back copies the text and touches the first bytes of lines and the bytes of names, nothing else.
#include "core/format/lines/read.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <set>

namespace kp::lines {

namespace {

constexpr size_t most_lines = 2'000'000, longest_line = 100'000;

/// Calls `each` with the number from 1, the line without its end, and the end.
template <class Each>
void for_lines(std::string_view text, Each each) {
    int number = 0;
    for (size_t at = 0; at < text.size();) {
        const auto end = std::min(text.find('\n', at), text.size());
        size_t stop = end;
        if (stop > at && text[stop - 1] == '\r') --stop;
        const auto next = std::min(end + 1, text.size());
        each(++number, text.substr(at, stop - at), text.substr(stop, next - stop));
        at = next;
    }
}

std::string ours(const Pattern& pattern, const std::string& field, const std::string& theirs) {
    if (const auto spellings = pattern.spellings.find(field); spellings != pattern.spellings.end())
        if (const auto at = spellings->second.find(theirs); at != spellings->second.end()) return at->second;
    if (field == "pin" && !pattern.pin_prefix.empty() && theirs.size() > pattern.pin_prefix.size() &&
        theirs.starts_with(pattern.pin_prefix))
        return theirs.substr(pattern.pin_prefix.size());
    return theirs;
}

class Reader {
public:
    Reader(const Pattern& pattern, const Matcher& matcher, const std::string& file)
        : pattern_(pattern), matcher_(matcher), file_(file) {}

    void line(int number, std::string_view whole) {
        const bool commented = !pattern_.comment.empty() && whole.starts_with(pattern_.comment);
        const auto body = commented ? whole.substr(pattern_.comment.size()) : whole;
        const auto statement = body.substr(0, end_of_statement(body, pattern_.comment));
        if (trim(statement).empty()) return;
        auto match = matcher_.match(statement, commented);
        if (match.shape < 0) {
            if (!commented || match.began) out_.unread.push_back({number, std::string(whole), match.why});
            return;
        }
        Row row;
        row.line = number;
        row.shape = match.shape;
        row.commented = commented;
        for (const auto& [field, value] : match.values)
            row.values[field] = field == "port" ? value.text : ours(pattern_, field, value.text);
        row.port = match.values.at("port");
        if (commented) row.port.first += pattern_.comment.size();
        if (match.tail > 0) row.tail = match.tail + pattern_.comment.size();
        out_.rows.push_back(std::move(row));
    }

    Reading finish() {
        for (size_t i = 0; i < out_.rows.size(); ++i) {
            const auto& row = out_.rows[i];
            const auto [at, fresh] = signal_.try_emplace(square_brackets(row.values.at("port")), out_.joined.size());
            if (fresh) out_.joined.push_back({row.values.at("port"), true, {}, {}});
            auto& s = out_.joined[at->second];
            s.rows.push_back(i);
            s.commented = s.commented && row.commented;
        }
        for (auto& s : out_.joined) join(s);
        other_shapes();
        return std::move(out_);
    }

private:
    /// A line that is not read and names a signal that others do has a shape of its own: one example more would do.
    void other_shapes() {
        constexpr size_t most_looked_at = 1000;
        for (size_t i = 0; i < std::min(out_.unread.size(), most_looked_at); ++i) {
            const auto& u = out_.unread[i];
            for (const auto& [first, length] : words_of(u.text)) {
                if (!signal_.contains(square_brackets(u.text.substr(first, length)))) continue;
                out_.messages.push_back({Severity::note, Code::another_shape,
                                         "Line " + std::to_string(u.line) + " speaks of " +
                                             u.text.substr(first, length) +
                                             " as well, in another shape; mark its words too.",
                                         file_, u.line});
                return;  // one example at a time
            }
        }
    }

    /// Values of active lines first; two active lines that disagree are told, and the first counts.
    void join(Signal& s) {
        for (const bool commented : {false, true})
            for (const auto i : s.rows) {
                const auto& row = out_.rows[i];
                if (row.commented != commented) continue;
                for (const auto& [field, value] : row.values) {
                    const auto [at, fresh] = s.values.try_emplace(field, value);
                    if (fresh || commented || at->second == value || field == "value" || field == "port") continue;
                    out_.messages.push_back(
                        {Severity::caution, Code::lines,
                         said("{} has the {} {} and {}; the first counts.", s.port, field, at->second, value), file_,
                         row.line});
                }
            }
    }

    const Pattern& pattern_;
    const Matcher& matcher_;
    const std::string& file_;
    Reading out_;
    std::map<std::string, size_t> signal_;
};

}  // namespace

Result<Reading> read(const Pattern& pattern, std::string_view text, const std::string& file) {
    auto matcher = Matcher::make(pattern);
    if (!matcher) return matcher.messages();
    if (static_cast<size_t>(std::count(text.begin(), text.end(), '\n')) > most_lines)
        return Message{Severity::stop, Code::lines, "The text has more than 2,000,000 lines.", file};
    Reader reader(pattern, matcher.value(), file);
    int too_long = 0;
    for_lines(text, [&](int number, std::string_view line, std::string_view) {
        if (line.size() > longest_line)
            too_long = too_long ? too_long : number;
        else
            reader.line(number, line);
    });
    if (too_long)
        return Message{Severity::stop, Code::lines, "A line of more than 100,000 bytes is not read.", file, too_long};
    return reader.finish();
}

std::vector<std::string> used_by(const Reading& reading, const std::vector<Port>& ports, const Project& project) {
    std::map<std::string, std::string> at_pin;
    std::set<std::string> adrift, taken;
    for (const auto& port : ports) {
        const auto peg = project.pegs.find(port.name);
        if (peg == project.pegs.end())
            adrift.insert(port.name);
        else
            at_pin.try_emplace(peg->second.pin, port.name);
    }
    std::vector<std::string> out;
    for (const auto& s : reading.joined) {
        const auto pin = s.values.find("pin");
        const auto pegged = pin == s.values.end() ? at_pin.end() : at_pin.find(pin->second);
        const auto own = square_brackets(s.port);
        std::string port;
        if (pegged != at_pin.end())
            port = pegged->second;
        else if (adrift.contains(own))
            port = own;
        out.push_back(!port.empty() && taken.insert(port).second ? port : std::string());
    }
    return out;
}

std::string rewrite(const Pattern& pattern, std::string_view text, const Reading& reading,
                    const std::vector<std::string>& used, bool keep_unused) {
    struct Target {
        const Row* row;
        std::string port;
    };
    std::map<int, Target> at;
    for (size_t s = 0; s < reading.joined.size(); ++s)
        for (const auto i : reading.joined[s].rows) at[reading.rows[i].line] = {&reading.rows[i], used[s]};
    std::string like;  // for a name without brackets: those that the text has elsewhere
    for (const auto& row : reading.rows)
        if (row.port.text.find_first_of("[<(") != std::string::npos) {
            like = row.port.text;
            break;
        }
    std::string out;
    out.reserve(text.size());
    for_lines(text, [&](int number, std::string_view line, std::string_view end) {
        const auto found = at.find(number);
        if (found == at.end()) {
            out.append(line).append(end);
            return;
        }
        const auto& [row, port] = found->second;
        if (port.empty()) {
            if (!keep_unused) return;
            if (!row->commented) out += pattern.comment;
            out.append(line).append(end);
            return;
        }
        const bool brackets = row->port.text.find_first_of("[<(") != std::string::npos;
        const auto name = square_brackets(row->port.text) == port ? row->port.text
                                                                  : brackets_as(port, brackets ? row->port.text : like);
        const size_t begin = row->commented ? pattern.comment.size() : 0;
        out.append(line.substr(begin, row->port.first - begin));
        out.append(name);
        const size_t rest = row->port.first + row->port.length;
        // A tail that no shape has would make an active line another one: it stays, as a comment.
        if (row->tail > rest)
            out.append(line.substr(rest, row->tail - rest))
                .append(pattern.comment)
                .append(" ")
                .append(line.substr(row->tail));
        else
            out.append(line.substr(rest));
        out.append(end);
    });
    return out;
}

namespace {

/// The letters of a standard's family, without the unit of its voltage and the word class.
std::string family_of(std::string_view text) {
    const auto digit_near = [&](size_t at, int step) {
        for (size_t i = at;;) {
            if (step < 0 && i == 0) return false;
            i += static_cast<size_t>(step);
            if (i >= text.size()) return false;
            if (std::isdigit(static_cast<unsigned char>(text[i]))) return true;
            if (text[i] != ' ' && text[i] != '-' && text[i] != '_') return false;
        }
    };
    std::string out;
    for (size_t i = 0; i < text.size(); ++i) {
        const char c = static_cast<char>(std::toupper(static_cast<unsigned char>(text[i])));
        const bool alone = i + 1 >= text.size() || !std::isalpha(static_cast<unsigned char>(text[i + 1]));
        if ((c == 'V' || c == 'P') && alone && digit_near(i, -1)) continue;
        if (c >= 'A' && c <= 'Z') out += c;
    }
    if (const auto at = out.find("CLASS"); at != std::string::npos) out.erase(at, 5);
    return out;
}

/// "33", "3V3", "3.3 V", "@3V3" as 3.3; 0 when the text names no voltage or several.
double volts_of(std::string_view text) {
    std::vector<std::string> digits(1);
    for (size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        const bool between = i > 0 && i + 1 < text.size() && std::isdigit(static_cast<unsigned char>(text[i - 1])) &&
                             std::isdigit(static_cast<unsigned char>(text[i + 1]));
        if (std::isdigit(static_cast<unsigned char>(c)))
            digits.back() += c;
        else if (between && std::string_view(".vVpP,_").find(c) != std::string_view::npos)
            digits.back() += '.';
        else if (!digits.back().empty())
            digits.emplace_back();
    }
    std::erase(digits, "");
    if (digits.size() != 1) return 0;
    const auto value = to_number(digits[0]);
    if (!value || *value <= 0) return 0;
    if (digits[0].find('.') != std::string::npos) return *value;
    return *value >= 100 ? *value / 100 : *value >= 10 ? *value / 10 : *value;  // 33, 135
}

}  // namespace

std::string likely_standard(std::string_view theirs, const StandardTable& standards) {
    const double volts = volts_of(theirs);
    const auto family = family_of(theirs);
    std::string found;
    for (const auto& s : standards.rows) {
        const double own = volts_of(s.name);
        if (family_of(s.name) != family || (volts > 0 && own > 0 && std::fabs(own - volts) > 0.005)) continue;
        if (!found.empty()) return {};
        found = s.name;
    }
    return found;
}

}  // namespace kp::lines
