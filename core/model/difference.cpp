// SPDX-License-Identifier: GPL-3.0-or-later
// Field by field and port by port: n log n in the ports. Texts are compared by their common beginning and end, not line
// by line.
#include "core/model/edit.hpp"

#include <algorithm>
#include <set>

namespace kp {

namespace {

template <class Map>
std::set<std::string> keys_of(const Map& a, const Map& b) {
    std::set<std::string> out;
    for (const auto* map : {&a, &b})
        for (const auto& [key, value] : *map) out.insert(key);
    return out;
}

template <class Map>
std::optional<typename Map::mapped_type> at(const Map& map, const std::string& key) {
    const auto found = map.find(key);
    return found == map.end() ? std::nullopt : std::optional(found->second);
}

/// What is alike at both ends stays out of it: journal and log keep such changes.
TextChange text_change(const std::string& file, const std::string& a, const std::string& b) {
    const size_t most = std::min(a.size(), b.size());
    size_t head = 0, tail = 0;
    while (head < most && a[head] == b[head]) ++head;
    while (tail < most - head && a[a.size() - 1 - tail] == b[b.size() - 1 - tail]) ++tail;
    return {file, head, a.substr(head, a.size() - head - tail), b.substr(head, b.size() - head - tail)};
}

void constraint_changes(const Project& from, const Project& to, std::vector<Change>& out) {
    const auto& a = from.constraints;
    const auto& b = to.constraints;
    const bool same_files = std::equal(a.begin(), a.end(), b.begin(), b.end(),
                                       [](const SdcFile& x, const SdcFile& y) { return x.path == y.path; });
    if (!same_files) {
        // Their order is the order in which they are run, so all go and come anew.
        // From the last to the first, so that undo puts them back in their order.
        for (auto f = a.rbegin(); f != a.rend(); ++f) out.emplace_back(SdcFileChange{*f, std::nullopt});
        for (const auto& f : b) out.emplace_back(SdcFileChange{std::nullopt, f});
        return;
    }
    for (size_t i = 0; i < a.size(); ++i) {
        SdcFile only_text = a[i];
        only_text.text = b[i].text;
        if (a[i] == b[i]) continue;
        if (only_text == b[i])
            out.emplace_back(text_change(a[i].path, a[i].text, b[i].text));
        else
            out.emplace_back(SdcFileChange{a[i], b[i]});
    }
}

}  // namespace

Edit difference_edit(const Project& from, const Project& to, const std::string& title) {
    Edit edit{title, {}};
    for (const auto& field : project_fields())
        if (auto a = field_text(from, field.key), b = field_text(to, field.key); a != b)
            edit.changes.emplace_back(FieldChange{field.key, std::move(a), std::move(b)});
    constraint_changes(from, to, edit.changes);
    for (const auto& port : keys_of(from.pegs, to.pegs))
        if (at(from.pegs, port) != at(to.pegs, port))
            edit.changes.emplace_back(PegChange{port, at(from.pegs, port), at(to.pegs, port)});
    for (const auto& port : keys_of(from.attributes, to.attributes)) {
        const auto a = at(from.attributes, port).value_or(PortAttributes{}),
                   b = at(to.attributes, port).value_or(PortAttributes{});
        if (a != b) edit.changes.emplace_back(AttributeChange{port, a, b});
    }
    auto gone = from.waivers;
    for (const auto& w : to.waivers) {
        const auto same = std::find(gone.begin(), gone.end(), w);
        if (same != gone.end())
            gone.erase(same);
        else
            edit.changes.emplace_back(WaiverChange{w, true});
    }
    for (const auto& w : gone) edit.changes.emplace_back(WaiverChange{w, false});
    return edit;
}

}  // namespace kp
