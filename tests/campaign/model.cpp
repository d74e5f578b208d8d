// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/campaign/model.hpp"

#include <algorithm>

namespace kp::campaign {

std::string state_of(const Project& p) {
    std::string out = p.mode + "|" + p.load + "|";
    for (const auto& [port, peg] : p.pegs)
        out += port + "=" + peg.pin + peg.origin + (peg.state == PegState::loose ? "~" : "") + ";";
    for (const auto& [port, a] : p.attributes) {
        out += port + ":";
        for (const auto& f : attribute_fields()) out += f.of(a) + ",";
    }
    for (const auto& w : p.waivers) out += w.rule + w.reason + ";";
    for (const auto& f : p.constraints) out += "\n<" + f.path + ">" + f.text;
    return out;
}

Edit random_edit(const Project& p, Random& random) {
    const auto number = [&](size_t below) { return static_cast<size_t>(random() % below); };
    const std::string port = "port[" + std::to_string(number(12)) + "]";
    switch (number(6)) {
        case 0: {
            const auto at = p.pegs.find(port);
            const auto before = at == p.pegs.end() ? std::nullopt : std::optional<Peg>(at->second);
            if (before && number(3) == 0) return {"unpeg " + port, {PegChange{port, before, std::nullopt}}};
            return {"peg " + port,
                    {PegChange{port, before,
                               Peg{std::to_string(random() % 1'000'000), number(2) ? PegState::pegged : PegState::loose,
                                   "by hand"}}}};
        }
        case 1: {
            const auto at = p.attributes.find(port);
            PortAttributes before = at == p.attributes.end() ? PortAttributes{} : at->second;
            auto after = before;
            attribute_fields()[number(attribute_fields().size())].set(after,
                                                                      "v" + std::to_string(random() % 1'000'000));
            return {"choose for " + port, {AttributeChange{port, before, after}}};
        }
        case 2: return {"waive", {WaiverChange{{"L11", {port}, "r" + std::to_string(random()), "me", ""}, true}}};
        case 3:
            return {"mode",
                    {number(3) ? set_field(p, "mode", "m" + std::to_string(random() % 1'000'000))
                               : set_field(p, "load", p.load == "stored" ? "volatile" : "stored")}};
        default: {
            const auto& f = p.constraints[number(p.constraints.size())];
            const size_t at = number(f.text.size() + 1), n = std::min(number(6), f.text.size() - at);
            std::string fresh = "#" + std::to_string(random() % 1'000'000) + "\n";
            if (number(5) == 0) fresh += static_cast<char>(0x80 + number(0x80));
            return {"type in " + f.path, {TextChange{f.path, at, f.text.substr(at, n), fresh}}};
        }
    }
}

void Promises::done(bool kept) {
    states_.push_back(coming_);
    coming_.clear();
    if (kept) kept_ = states_.size() - 1;
}

bool Promises::allows(const std::string& state) const {
    if (!coming_.empty() && state == coming_) return true;
    return std::find(states_.begin() + static_cast<long>(kept_), states_.end(), state) != states_.end();
}

std::map<std::string, std::string> small_project() {
    Project p;
    p.name = "small";
    p.constraints = {{"a.sdc", ""}, {"b.sdc", ""}};
    return {{"p.kpeg", write_project({p, {}})},
            {"a.sdc", "# caf\xE9, in Latin-1\r\ncreate_clock -period 10 [get_ports c]\r\n"},
            {"b.sdc", "set_false_path -from a\n"}};
}

}  // namespace kp::campaign
