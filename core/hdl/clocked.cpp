// SPDX-License-Identifier: GPL-3.0-or-later
// A scan over words and signs; nothing is parsed, so that what no reader takes yet still tells its clocks. Linear in
// the text, and in the connections for each level of hierarchy.
#include "core/hdl/clocked.hpp"

#include "core/base/text.hpp"

#include <cctype>
#include <utility>
#include <vector>

namespace kp {

namespace {

bool is_letter(char c) {
    return std::isalnum(static_cast<unsigned char>(c)) || c == '_' || c == '$' || c == '`';
}

/// Words, and other signs one by one, without comments and texts.
std::vector<std::string> words_of(std::string_view text, bool vhdl) {
    std::vector<std::string> out;
    for (size_t i = 0; i < text.size();) {
        const auto rest = text.substr(i);
        if (vhdl ? rest.starts_with("--") : rest.starts_with("//")) {
            i = std::min(text.find('\n', i), text.size());
        } else if (rest.starts_with("/*")) {
            const auto end = text.find("*/", i + 2);
            i = end == std::string_view::npos ? text.size() : end + 2;
        } else if (text[i] == '"') {
            const auto end = text.find('"', i + 1);
            i = end == std::string_view::npos ? text.size() : end + 1;
        } else if (is_letter(text[i])) {
            const size_t first = i;
            while (i < text.size() && is_letter(text[i])) ++i;
            out.emplace_back(vhdl ? lower(text.substr(first, i - first)) : std::string(text.substr(first, i - first)));
        } else {
            if (!std::isspace(static_cast<unsigned char>(text[i]))) out.emplace_back(1, text[i]);
            ++i;
        }
    }
    return out;
}

class Scan {
public:
    void verilog(const std::vector<std::string>& words) {
        for (size_t i = 0; i < words.size(); ++i) {
            if (words[i] == "@" && i + 1 < words.size() && words[i + 1] == "(") events(words, i + 2);
            // .inner(outer)
            if (words[i] == "." && i + 4 < words.size() && words[i + 2] == "(" && words[i + 4] == ")")
                connections_.emplace_back(words[i + 1], words[i + 3]);
        }
    }

    void vhdl(const std::vector<std::string>& words) {
        for (size_t i = 0; i + 2 < words.size(); ++i) {
            if ((words[i] == "rising_edge" || words[i] == "falling_edge") && words[i + 1] == "(")
                clocked_.insert(words[i + 2]);
            if (words[i + 1] == "'" && words[i + 2] == "event") clocked_.insert(words[i]);
            if (i + 3 < words.size() && words[i + 1] == "=" && words[i + 2] == ">")
                connections_.emplace_back(words[i], words[i + 3]);
        }
    }

    std::set<std::string> all() {
        for (bool more = true; more;) {
            more = false;
            for (const auto& [inner, outer] : connections_)
                if (clocked_.contains(inner) && clocked_.insert(outer).second) more = true;
        }
        return std::move(clocked_);
    }

private:
    /// An event list, and what the statement behind it tests first.
    void events(const std::vector<std::string>& words, size_t at) {
        std::vector<std::string> edges;
        for (; at < words.size() && words[at] != ")"; ++at)
            if ((words[at] == "posedge" || words[at] == "negedge") && at + 1 < words.size())
                edges.push_back(words[at + 1]);
        ++at;
        if (at < words.size() && words[at] == "begin") ++at;
        if (at + 1 < words.size() && words[at] == ":") at += 2;
        std::set<std::string> tested;
        if (edges.size() > 1 && at < words.size() && words[at] == "if")
            for (int depth = 0; at < words.size(); ++at) {
                depth += words[at] == "(";
                depth -= words[at] == ")";
                tested.insert(words[at]);
                if (words[at] == ")" && depth == 0) break;
            }
        for (const auto& edge : edges)
            if (!tested.contains(edge)) clocked_.insert(edge);
    }

    std::set<std::string> clocked_;
    std::vector<std::pair<std::string, std::string>> connections_;
};

}  // namespace

std::set<std::string> clocked_names(std::span<const SourceText> sources) {
    Scan scan;
    for (const auto& source : sources) {
        const auto name = lower(source.file);
        const bool vhdl = name.ends_with(".vhd") || name.ends_with(".vhdl");
        const auto words = words_of(source.text, vhdl);
        vhdl ? scan.vhdl(words) : scan.verilog(words);
    }
    return scan.all();
}

}  // namespace kp
