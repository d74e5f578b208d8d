// SPDX-License-Identifier: GPL-3.0-or-later
// A scan over words and signs; nothing is parsed, so that what no reader takes yet still tells its clocks. Linear in
// the text, and in the connections for each level of hierarchy.
#include "core/hdl/clocked.hpp"

#include "core/hdl/words.hpp"

#include <utility>
#include <vector>

namespace kp {

namespace {

class Scan {
public:
    void verilog(const std::vector<HdlWord>& words) {
        for (size_t i = 0; i < words.size(); ++i) {
            if (words[i].text == "@" && i + 1 < words.size() && words[i + 1].text == "(") events(words, i + 2);
            // .inner(outer)
            if (words[i].text == "." && i + 4 < words.size() && words[i + 2].text == "(" && words[i + 4].text == ")")
                connections_.emplace_back(words[i + 1].text, words[i + 3].text);
        }
    }

    void vhdl(const std::vector<HdlWord>& words) {
        for (size_t i = 0; i + 2 < words.size(); ++i) {
            if ((words[i].text == "rising_edge" || words[i].text == "falling_edge") && words[i + 1].text == "(")
                clocked_.insert(words[i + 2].text);
            if (words[i + 1].text == "'" && words[i + 2].text == "event") clocked_.insert(words[i].text);
            if (i + 3 < words.size() && words[i + 1].text == "=" && words[i + 2].text == ">")
                connections_.emplace_back(words[i].text, words[i + 3].text);
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
    void events(const std::vector<HdlWord>& words, size_t at) {
        std::vector<std::string> edges;
        for (; at < words.size() && words[at].text != ")"; ++at)
            if ((words[at].text == "posedge" || words[at].text == "negedge") && at + 1 < words.size())
                edges.push_back(words[at + 1].text);
        ++at;
        if (at < words.size() && words[at].text == "begin") ++at;
        if (at + 1 < words.size() && words[at].text == ":") at += 2;
        std::set<std::string> tested;
        if (edges.size() > 1 && at < words.size() && words[at].text == "if")
            for (int depth = 0; at < words.size(); ++at) {
                depth += words[at].text == "(";
                depth -= words[at].text == ")";
                tested.insert(words[at].text);
                if (words[at].text == ")" && depth == 0) break;
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
        const bool vhdl = is_vhdl_file(source.file);
        const auto words = hdl_words(source.text, vhdl);
        vhdl ? scan.vhdl(words) : scan.verilog(words);
    }
    return scan.all();
}

}  // namespace kp
