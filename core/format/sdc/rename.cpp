// SPDX-License-Identifier: GPL-3.0-or-later
// Port names inside SDC text, found word by word with Tcl quoting understood, so that a renamed port is renamed in
// the bytes that mean it and nowhere else.
#include "core/format/sdc/rename.hpp"

#include "core/base/text.hpp"
#include "core/format/sdc/sdc_text.hpp"

#include <algorithm>
#include <cctype>
#include <map>
#include <set>

namespace kp::sdc {

namespace {

bool name_char(char c) {
    return std::isalnum(static_cast<unsigned char>(c)) || c == '_';
}

class Renamer {
public:
    Renamer(const std::string& text, const std::vector<std::pair<std::string, std::string>>& buses)
        : text_(text), names_(buses.begin(), buses.end()) {}

    std::vector<Replacement> run() {
        for (const auto& command : split_commands(text_, "").commands) one(command, 0);
        std::sort(out_.begin(), out_.end(),
                  [](const Replacement& a, const Replacement& b) { return a.offset < b.offset; });
        return std::move(out_);
    }

private:
    [[nodiscard]] std::string_view of(Span s) const { return s.of(text_); }

    void one(Span command, int depth) {
        const auto words = words_of(text_, command);
        if (words.empty() || depth > 20) return;
        const auto name = of(words[0]);
        static const std::set<std::string_view> with_scripts{"if", "foreach", "for", "while", "proc", "catch", "eval"};
        static const std::set<std::string_view> no_ports{"set",          "get_clocks", "get_cells", "get_lib_cells",
                                                         "get_lib_pins", "get_pins",   "expr",      "puts",
                                                         "source",       "set_units",  "group_path"};
        bool named = false;
        size_t objects = 0;
        for (size_t i = 1; i < words.size(); ++i) {
            const auto word = of(words[i]);
            if (word.starts_with("[")) {
                inside({words[i].begin + 1, words[i].end - 1}, depth);
                objects = i;
            } else if (with_scripts.contains(name) && word.starts_with("{")) {
                inside({words[i].begin + 1, words[i].end - 1}, depth);
            } else if (word.starts_with("-") && word.size() > 1 && std::isalpha(static_cast<unsigned char>(word[1]))) {
                named = named || word == "-name";
                // These take the name of a clock or a remark, not of a port.
                static const std::set<std::string_view> other{"-name",  "-clock",      "-comment",   "-master_clock",
                                                              "-group", "-rise_clock", "-fall_clock"};
                if (!other.contains(word)) continue;
                ++i;
                // A query given as the clock still has to be looked into.
                if (i < words.size() && of(words[i]).starts_with("["))
                    inside({words[i].begin + 1, words[i].end - 1}, depth);
            } else if (!no_ports.contains(name) && !with_scripts.contains(name)) {
                words_in(words[i]);
                objects = i;
            }
        }
        if (name == "create_clock" && !named && objects > 0) keep_clock_name(words[0], words[objects]);
    }

    /// Commands between brackets or braces.
    void inside(Span script, int depth) {
        const std::string part(of(script));
        for (const auto& command : split_commands(part, "").commands)
            one({script.begin + command.begin, script.begin + command.end}, depth + 1);
    }

    /// Each name in a word or list that is one of ours, alone or with an index behind.
    template <class Found>
    void each_name(Span word, Found found) {
        for (size_t i = word.begin; i < word.end;) {
            if (!name_char(text_[i])) {
                ++i;
                continue;
            }
            size_t end = i;
            while (end < word.end && name_char(text_[end])) ++end;
            const bool variable =
                i > 0 && (text_[i - 1] == '$' || (text_[i - 1] == '{' && i > 1 && text_[i - 2] == '$'));
            const bool part =
                (i > 0 && (text_[i - 1] == '*' || text_[i - 1] == '?' || text_[i - 1] == '/' || text_[i - 1] == '.')) ||
                (end < word.end && (text_[end] == '*' || text_[end] == '?' || text_[end] == '/' || text_[end] == '.'));
            const bool index = i > word.begin && text_[i - 1] == '[';
            const auto at = names_.find(text_.substr(i, end - i));
            if (at != names_.end() && !variable && !part && !index) found(i, at->first, at->second);
            i = end;
        }
    }

    void words_in(Span word) {
        each_name(word, [&](size_t offset, const std::string& before, const std::string& after) {
            out_.push_back({offset, before, after});
        });
    }

    void keep_clock_name(Span command, Span objects) {
        std::string first;
        each_name(objects, [&](size_t, const std::string& before, const std::string&) {
            if (first.empty()) first = before;
        });
        if (!first.empty()) out_.push_back({command.end, "", " -name " + quote(first)});
    }

    const std::string& text_;
    std::map<std::string, std::string> names_;
    std::vector<Replacement> out_;
};

/// Names of ports to lists of names, and a level more in front of what lies inside.
class Wrapper {
public:
    Wrapper(const std::string& text, const BitNames& bits, const std::string& inside)
        : text_(text), inside_(inside + "/"), order_(bits) {
        for (const auto& [bit, name] : bits) {
            const auto open = bit.rfind('[');
            const auto bus = bit.ends_with(']') && open != std::string::npos ? bit.substr(0, open) : bit;
            buses_[bus].push_back(name);
        }
    }

    std::string run() {
        for (const auto& command : split_commands(text_, "").commands) one(command, 0);
        std::sort(out_.begin(), out_.end(),
                  [](const Replacement& a, const Replacement& b) { return a.offset < b.offset; });
        std::string whole;
        size_t at = 0;
        for (const auto& r : out_) {
            whole.append(text_, at, r.offset - at).append(r.after);
            at = r.offset + r.before.size();
        }
        return whole + text_.substr(at);
    }

private:
    void one(Span command, int depth) {
        const auto words = words_of(text_, command);
        if (words.empty() || depth > 20) return;
        const auto name = words[0].of(text_);
        const bool of_inside = name == "get_pins" || name == "get_cells" || name == "get_nets";
        static const std::set<std::string_view> other{"set",        "expr",          "puts",         "source",
                                                      "get_clocks", "get_lib_cells", "get_lib_pins", "set_units"};
        static const std::set<std::string_view> takes_a_name{"-name",         "-clock", "-comment",
                                                             "-master_clock", "-group", "-source_latency"};
        const size_t before = out_.size();
        bool named = false;
        for (size_t i = 1; i < words.size(); ++i) {
            const auto word = words[i].of(text_);
            named = named || word == "-name";
            if (word.starts_with("["))
                within({words[i].begin + 1, words[i].end - 1}, depth);
            else if (word.starts_with("{") &&
                     (name == "if" || name == "foreach" || name == "proc" || name == "while" || name == "for"))
                within({words[i].begin + 1, words[i].end - 1}, depth);
            else if (word.starts_with("-") && word.size() > 1 && std::isalpha(static_cast<unsigned char>(word[1])))
                i += takes_a_name.contains(word) && i + 1 < words.size() && !words[i + 1].of(text_).starts_with("[");
            else if (of_inside)
                deeper(words[i]);
            else if (!other.contains(name))
                ports(words[i]);
        }
        // A clock that had its name from its port keeps it: everything else speaks of it so.
        if (name == "create_clock" && !named && out_.size() > before && !out_[before].before.empty())
            out_.push_back({words[0].end, "", " -name " + quote(out_[before].before)});
    }

    void within(Span script, int depth) {
        const std::string part(script.of(text_));
        for (const auto& command : split_commands(part, "").commands)
            one({script.begin + command.begin, script.begin + command.end}, depth + 1);
    }

    /// Puts the instance in front of each name of a word or list.
    void deeper(Span word) {
        for (size_t i = word.begin; i < word.end;) {
            const bool start = text_[i] != '{' && text_[i] != '}' && text_[i] != '"' &&
                               std::isspace(static_cast<unsigned char>(text_[i])) == 0;
            if (!start) {
                ++i;
                continue;
            }
            if (text_[i] != '$') out_.push_back({i, "", inside_});
            while (i < word.end && text_[i] != '}' && text_[i] != '"' &&
                   std::isspace(static_cast<unsigned char>(text_[i])) == 0)
                ++i;
        }
    }

    /// Each element of a word or list that means ports, by the names they have outside.
    void ports(Span word) {
        const bool listed = text_[word.begin] == '{';
        const auto between = [&](char c) {
            return c == '{' || c == '}' || c == '"' || std::isspace(static_cast<unsigned char>(c)) != 0;
        };
        for (size_t i = word.begin; i < word.end;) {
            if (between(text_[i])) {
                ++i;
                continue;
            }
            size_t end = i;
            while (end < word.end && !between(text_[end])) ++end;
            const auto element = text_.substr(i, end - i);
            if (const auto names = meant(element); !names.empty()) {
                std::string after;
                for (const auto& n : names) after += (after.empty() ? "" : " ") + n;
                out_.push_back({i, element, names.size() > 1 && !listed ? "{" + after + "}" : after});
            }
            i = end;
        }
    }

    /// A bit, a bus, or all that a pattern matches, in the order of the design.
    [[nodiscard]] std::vector<std::string> meant(const std::string& element) const {
        if (const auto bus = buses_.find(element); bus != buses_.end()) return bus->second;
        std::vector<std::string> out;
        for (const auto& [bit, name] : order_)
            if (bit == element || (is_pattern(element) &&
                                   (glob_match(element, bit) || glob_match(element, bit.substr(0, bit.find('['))))))
                out.push_back(name);
        return out;
    }

    const std::string& text_;
    std::string inside_;
    std::map<std::string, std::vector<std::string>> buses_;
    BitNames order_;
    std::vector<Replacement> out_;
};

}  // namespace

std::vector<Replacement> rename_ports(const std::string& text,
                                      const std::vector<std::pair<std::string, std::string>>& buses) {
    return Renamer(text, buses).run();
}

std::string wrapped_constraints(const std::string& text, const BitNames& bits, const std::string& inside) {
    return Wrapper(text, bits, inside).run();
}

}  // namespace kp::sdc
