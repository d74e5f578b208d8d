// SPDX-License-Identifier: GPL-3.0-or-later
// Ports before and after: those that are gone are matched with those that are new by direction, width and name, the
// surest first.
#include "core/planning/merge.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <map>
#include <set>

namespace kp {

namespace {

double name_likeness(const std::string& a, const std::string& b) {
    const auto x = lower(a), y = lower(b);
    if (x == y) return 1;
    const double longest = static_cast<double>(std::max(x.size(), y.size()));
    double best = 1 - edit_distance(x, y) / longest;
    // An added beginning or ending keeps the rest: txd → host_txd.
    const auto& small = x.size() < y.size() ? x : y;
    const auto& large = x.size() < y.size() ? y : x;
    if (small.size() >= 3 && (large.ends_with("_" + small) || large.starts_with(small + "_")))
        best = std::max(best, 0.8);
    return best;
}

/// The nearest ports before and behind that are in both lists.
std::pair<std::string, std::string> neighbours(const std::vector<PortGroup>& list, size_t at,
                                               const std::set<std::string>& common) {
    std::pair<std::string, std::string> out;
    for (size_t i = at; i-- > 0 && out.first.empty();)
        if (common.contains(list[i].name)) out.first = list[i].name;
    for (size_t i = at + 1; i < list.size() && out.second.empty(); ++i)
        if (common.contains(list[i].name)) out.second = list[i].name;
    return out;
}

struct Pair {
    size_t before, after;
    double score, like;
    bool near;
};

}  // namespace

PortMerge compare_ports(const std::vector<PortGroup>& before, const std::vector<PortGroup>& after) {
    PortMerge out;
    std::map<std::string, size_t> at;
    for (size_t i = 0; i < after.size(); ++i) at[after[i].name] = i;
    std::set<std::string> common;
    std::vector<size_t> gone, fresh;
    for (size_t i = 0; i < before.size(); ++i) {
        const auto found = at.find(before[i].name);
        if (found == at.end()) {
            gone.push_back(i);
            continue;
        }
        common.insert(before[i].name);
        const auto& now = after[found->second];
        if (now.direction != before[i].direction) out.turned.push_back({before[i], now});
        if (now.left != before[i].left || now.right != before[i].right) out.resized.push_back({before[i], now});
    }
    for (size_t i = 0; i < after.size(); ++i)
        if (!common.contains(after[i].name)) fresh.push_back(i);
    // Each gap between ports that stayed, with how many went from it and came to it: worked out once a port.
    using Gap = std::pair<std::string, std::string>;
    std::vector<Gap> gap_before, gap_after;
    std::map<Gap, std::pair<int, int>> in_gap;
    for (const auto b : gone) ++in_gap[gap_before.emplace_back(neighbours(before, b, common))].first;
    for (const auto a : fresh) ++in_gap[gap_after.emplace_back(neighbours(after, a, common))].second;
    std::vector<Pair> pairs;
    for (size_t i = 0; i < gone.size(); ++i)
        for (size_t k = 0; k < fresh.size(); ++k) {
            const auto &b = before[gone[i]], &a = after[fresh[k]];
            if (b.direction != a.direction || b.width() != a.width()) continue;
            const bool near = gap_before[i] == gap_after[k];
            const double like = name_likeness(b.name, a.name);
            // One that went and one that came in the same gap speak for each other, whatever their names.
            const bool only = near && in_gap[gap_before[i]] == std::pair(1, 1);
            const double score = 0.6 * like + (near ? 0.25 : 0) + (only ? 0.2 : 0);
            if (score >= 0.45) pairs.push_back({gone[i], fresh[k], score, like, near});  // common practice, no source
        }
    std::stable_sort(pairs.begin(), pairs.end(), [](const Pair& a, const Pair& b) { return a.score > b.score; });
    std::set<size_t> used_before, used_after;
    for (const auto& p : pairs) {
        if (used_before.contains(p.before) || used_after.contains(p.after)) continue;
        used_before.insert(p.before);
        used_after.insert(p.after);
        std::string why = p.near ? "same place, direction and width" : "same direction and width";
        if (p.like >= 0.5) why += ", alike in name";
        out.renamed.push_back({before[p.before], after[p.after], p.score, why});
    }
    for (const auto i : gone)
        if (!used_before.contains(i)) out.removed.push_back(before[i]);
    for (const auto i : fresh)
        if (!used_after.contains(i)) out.added.push_back(after[i]);
    return out;
}

std::vector<std::string> PortMerge::sentences() const {
    std::vector<std::string> out;
    for (const auto& p : added) out.push_back(said("New: {}.", port_line(p)));
    for (const auto& p : removed)
        out.push_back(said("Gone: {}; its pegs and lines stay until you remove them.", port_line(p)));
    for (const auto& r : renamed)
        out.push_back(said("Renamed, it seems: {} is now {} ({}).", r.before.name, r.after.name, r.why));
    for (const auto& r : resized)
        out.push_back(said("{}{} is now {}.",
                           (r.wider()                            ? "Wider: "
                            : r.after.width() < r.before.width() ? "Narrower: "
                                                                 : "Other range: "),
                           port_line(r.before), port_line(r.after)));
    for (const auto& r : turned)
        out.push_back(said("Turned: {} was {} and is now {}.", r.before.name, name_of(r.before.direction),
                           name_of(r.after.direction)));
    return out;
}

std::vector<BitRename> renamed_bits(const PortMerge& merge, const std::vector<PortRename>& accepted) {
    std::vector<BitRename> out;
    const auto add = [&](const PortGroup& before, const PortGroup& after) {
        const auto b = before.bits(), a = after.bits();
        for (size_t i = 0; i < std::min(b.size(), a.size()); ++i)
            if (b[i] != a[i]) out.push_back({b[i], a[i]});
    };
    for (const auto& r : accepted) add(r.before, r.after);
    // Bits of a bus keep their index. Only when bus and scalar change places the bit has another name.
    for (const auto& r : merge.resized)
        if (r.before.left.has_value() != r.after.left.has_value()) {
            const auto lowest = [](const PortGroup& g) {
                return g.left ? g.name + "[" + std::to_string(std::min(*g.left, *g.right)) + "]" : g.name;
            };
            out.push_back({lowest(r.before), lowest(r.after)});
        }
    return out;
}

std::vector<Change> carry_over(const Project& project, const std::vector<BitRename>& bits) {
    std::vector<Change> out;
    std::map<std::string, std::string> name;
    for (const auto& b : bits) name[b.before] = b.after;
    // First all leave their old names, then all take the new ones: names may change places.
    std::vector<Change> arrive;
    for (const auto& [before, after] : name) {
        if (const auto peg = project.pegs.find(before); peg != project.pegs.end()) {
            out.push_back(PegChange{before, peg->second, std::nullopt});
            const auto there = project.pegs.find(after);
            const bool leaves = there == project.pegs.end() || name.contains(after);
            if (leaves) arrive.push_back(PegChange{after, std::nullopt, peg->second});
        }
        if (const auto choice = project.attributes.find(before); choice != project.attributes.end()) {
            out.push_back(AttributeChange{before, choice->second, {}});
            const auto there = project.attributes.find(after);
            if (there == project.attributes.end() || name.contains(after))
                arrive.push_back(AttributeChange{after, {}, choice->second});
        }
    }
    out.insert(out.end(), arrive.begin(), arrive.end());
    for (const auto& waiver : project.waivers) {
        auto next = waiver;
        for (auto& object : next.objects)
            if (const auto at = name.find(object); at != name.end()) object = at->second;
        if (next == waiver) continue;
        out.push_back(WaiverChange{waiver, false});
        out.push_back(WaiverChange{next, true});
    }
    return out;
}

}  // namespace kp
