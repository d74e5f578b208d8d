// SPDX-License-Identifier: GPL-3.0-or-later
// The same run of the scripts that the reader stands on, written out again word by word.
#include "core/format/sdc/as_used.hpp"

#include "core/format/sdc/query.hpp"
#include "core/format/sdc/read.hpp"
#include "core/format/sdc/table.hpp"
#include "core/model/sdc_words.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <set>

namespace kp::sdc {

namespace {

const char* query_word(int kind) {
    static const char* const queries[] = {"get_ports", "get_pins", "get_cells", "get_nets", "get_clocks"};
    return queries[kind];
}

/// Clocks are known by name only; all else by its place in the netlist.
std::string name_of(const Netlist& netlist, const Element& e) {
    const auto kind = static_cast<ObjectKind>(e.kind);
    return kind == ObjectKind::clock || !e.text.empty() ? e.text : object_name(netlist, kind, e.id);
}

/// Objects of one kind as a query, several kinds one after the other, texts as a list.
std::string word_text(const Netlist& netlist, const Word& word) {
    if (word.elements.empty()) return quote(word.text);
    const bool objects =
        std::all_of(word.elements.begin(), word.elements.end(), [](const Element& e) { return e.kind >= 0; });
    if (!objects) {
        if (!word.text.empty() && word.elements.size() == 1) return quote(word.text);
        std::string list;
        for (const auto& e : word.elements) list += (list.empty() ? "" : " ") + quote(e.text);
        return "{" + list + "}";
    }
    std::string out;
    int queries = 0;
    for (size_t i = 0; i < word.elements.size();) {
        const int kind = word.elements[i].kind;
        std::string names;
        for (; i < word.elements.size() && word.elements[i].kind == kind; ++i)
            names += (names.empty() ? "" : " ") + quote(name_of(netlist, word.elements[i]));
        out += said("{}[{} {{{}}}]", out.empty() ? "" : " ", query_word(kind), names);
        ++queries;
    }
    return queries > 1 ? said("[concat {}]", out) : out;
}

}  // namespace

AsUsed constraints_as_used(const std::vector<Script>& scripts, const Netlist& netlist, const NetlistIndex& index,
                           const Library& library, const RunLimits& limits, std::stop_token stop) {
    AsUsed out;
    const auto constraints = read_sdc(scripts, netlist, index, library, limits, stop);
    std::set<std::pair<std::string, int>> refused;
    for (const auto& m : constraints.messages)
        if (m.severity == Severity::stop || m.code == Code::not_portable) refused.insert({m.file, m.line});
    const auto run = run_scripts(scripts, netlist, index, library, limits, stop);
    std::string place;
    for (const auto& call : run.calls) {
        if (call.name.empty()) {
            out.messages.push_back(call.message);
            continue;
        }
        const auto file = static_cast<size_t>(call.span.file) < run.files.size()
                              ? run.files[static_cast<size_t>(call.span.file)]
                              : std::string();
        if (!find_command(call.name) || refused.contains({file, call.span.line})) continue;
        const auto here = said("# {}:{}\n", file, call.span.line);
        if (here != place) out.text += here;
        place = here;
        out.text += call.name;
        for (const auto& word : call.words) out.text += " " + word_text(netlist, word);
        out.text += "\n";
    }
    return out;
}

}  // namespace kp::sdc
