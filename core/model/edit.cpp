// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/model/edit.hpp"

#include <algorithm>

namespace kp {

namespace {

Message stale(const std::string& what) { return {Severity::stop, "stale-edit", what + " is no longer as this edit found it; nothing was changed.", "", 0, 0}; }

struct Applier {
    Project& p;

    Status operator()(const PegChange& c) const {
        const auto at = p.pegs.find(c.port);
        const std::optional<Peg> now = at == p.pegs.end() ? std::nullopt : std::optional<Peg>(at->second);
        if (now != c.before) return stale("The peg of " + c.port);
        if (c.after) p.pegs[c.port] = *c.after;
        else p.pegs.erase(c.port);
        return Done{};
    }
    Status operator()(const AttributeChange& c) const {
        const auto at = p.attributes.find(c.port);
        if ((at == p.attributes.end() ? PortAttributes{} : at->second) != c.before) return stale("The choice for " + c.port);
        if (c.after.empty()) p.attributes.erase(c.port);
        else p.attributes[c.port] = c.after;
        return Done{};
    }
    Status operator()(const TextChange& c) const {
        for (auto& file : p.constraints) {
            if (file.path != c.file) continue;
            if (c.offset > file.text.size() || file.text.compare(c.offset, c.before.size(), c.before) != 0) return stale(c.file);
            file.text.replace(c.offset, c.before.size(), c.after);
            return Done{};
        }
        return stale(c.file);
    }
    Status operator()(const WaiverChange& c) const {
        const auto at = std::find(p.waivers.begin(), p.waivers.end(), c.waiver);
        if (c.add) p.waivers.push_back(c.waiver);
        else if (at == p.waivers.end()) return stale("The waiver of " + c.waiver.rule);
        else p.waivers.erase(at);
        return Done{};
    }
    Status operator()(const FieldChange& c) const {
        std::string* field = c.field == "part" ? &p.part : c.field == "board" ? &p.board : c.field == "top" ? &p.top : c.field == "delays" ? &p.delays : nullptr;
        if (!field || *field != c.before) return stale("The field '" + c.field + "'");
        *field = c.after;
        return Done{};
    }
};

}  // namespace

Edit Edit::inverse() const {
    Edit back{title, {}};
    for (auto at = changes.rbegin(); at != changes.rend(); ++at) {
        Change change = *at;
        std::visit(
            [](auto& c) {
                if constexpr (requires { c.add; }) c.add = !c.add;
                else std::swap(c.before, c.after);
            },
            change);
        back.changes.push_back(std::move(change));
    }
    return back;
}

Status apply(Project& project, const Edit& edit) {
    for (size_t done = 0; done < edit.changes.size(); ++done) {
        auto status = std::visit(Applier{project}, edit.changes[done]);
        if (status) continue;
        const Edit back = Edit{edit.title, {edit.changes.begin(), edit.changes.begin() + static_cast<long>(done)}}.inverse();
        for (const auto& change : back.changes) (void)std::visit(Applier{project}, change);
        return status;
    }
    return Done{};
}

Touched touched(const Edit& edit) {
    Touched t;
    for (const auto& change : edit.changes) {
        t.pegs |= std::holds_alternative<PegChange>(change) || std::holds_alternative<AttributeChange>(change);
        t.text |= std::holds_alternative<TextChange>(change);
        t.waivers |= std::holds_alternative<WaiverChange>(change);
        t.inputs |= std::holds_alternative<FieldChange>(change);
    }
    return t;
}

}  // namespace kp
