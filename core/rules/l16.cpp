// SPDX-License-Identifier: GPL-3.0-or-later
// Links on lanes: one link a lane, rates and reference clocks that lanes and board have, and the lanes that the board
// wires to what the link is named after. A link that is adrift has no lane to speak of. Costs links times lanes.
#include "core/model/lane_link.hpp"
#include "core/model/lane_pins.hpp"
#include "core/rules/say.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <map>
#include <set>

namespace kp::rules {

namespace {

constexpr double slack = 1e-9;

/// A link that lies somewhere.
struct Lying {
    LaneLink link;
    std::vector<LaneOfPart> lanes;
};

/// The board part that a link is named after: by its name, ref, or the beginning of its terminals' names.
const BoardPart* named_after(const Board& board, const std::string& link) {
    const auto name = lower(link);
    for (const auto& part : board.parts) {
        if (lower(part.name) == name || lower(part.ref) == name) return &part;
        const bool begins = std::any_of(part.terminals.begin(), part.terminals.end(), [&](const Terminal& t) {
            const auto own = lower(t.name);
            return own.size() > name.size() && own.starts_with(name) &&
                   (own[name.size()] == '_' || (own[name.size()] >= '0' && own[name.size()] <= '9'));
        });
        if (begins) return &part;
    }
    return nullptr;
}

std::string called(const BoardPart& part) {
    return part.label.empty() ? part.ref : said("{} ({})", part.ref, part.label);
}

class Lanes {
public:
    Lanes(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) : in_(in), row_(row), out_(out) {}

    void run() {
        for (const auto& line : in_.project.links) {
            Lying l{link_of(line), {}};
            const bool lies = l.link.state == LaneLink::State::pegged || l.link.state == LaneLink::State::loose;
            if (!lies || l.link.at.empty()) continue;
            bool known = true;
            for (const auto& name : l.link.at) {
                l.lanes.push_back(lane_of_part(in_.part, name));
                if (l.lanes.back()) continue;
                known = false;
                say(l.link, said("{} lies on {}, and the part {} has no such lane.", l.link.name, name, in_.part.name),
                    {name});
            }
            if (known) links_.push_back(std::move(l));
        }
        shared();
        for (const auto& l : links_) {
            rates(l);
            reference(l);
            wires(l);
        }
    }

private:
    Finding& say(const LaneLink& link, std::string text, const std::vector<std::string>& lanes) {
        auto f = finding(row_, std::move(text), {{Subject::link, link.name}});
        for (const auto& lane : lanes) f.objects.push_back({Subject::lane, lane});
        out_.push_back(std::move(f));
        return out_.back();
    }

    void shared() {
        std::map<std::string, std::vector<const LaneLink*>> on;
        for (const auto& l : links_)
            for (const auto& lane : std::set<std::string>(l.link.at.begin(), l.link.at.end()))
                on[lane].push_back(&l.link);
        for (const auto& [lane, links] : on) {
            if (links.size() < 2) continue;
            std::vector<std::string> names;
            for (const auto* link : links) names.push_back(link->name);
            auto& f = say(*links[0],
                          said("{} holds {}: {}.", lane, counted(static_cast<long long>(links.size()), "link"),
                               list_names(names, 5)),
                          {lane});
            for (size_t i = 1; i < links.size(); ++i) f.objects.push_back({Subject::link, links[i]->name});
        }
    }

    void rates(const Lying& l) {
        for (size_t i = 0; i < l.lanes.size(); ++i) {
            const auto& range = l.lanes[i].lane->gbps;
            if (range[1] <= 0 || (l.link.gbps >= range[0] - slack && l.link.gbps <= range[1] + slack)) continue;
            say(l.link,
                said("{} runs at {} Gbit/s, and {} takes {} to {}.", l.link.name, shortest(l.link.gbps), l.link.at[i],
                     shortest(range[0]), shortest(range[1])),
                {l.link.at[i]})
                .numbers = {
                {"rate", "Gbit/s", l.link.gbps}, {"least", "Gbit/s", range[0]}, {"most", "Gbit/s", range[1]}};
        }
    }

    /// Some reference clock reaches all its lanes, takes the frequency, and has it from the board.
    void reference(const Lying& l) {
        if (l.link.clock_mhz <= 0) return;
        std::string why;
        for (const auto& clock : l.lanes[0].block->clocks) {
            const bool reaches = std::all_of(l.lanes.begin(), l.lanes.end(), [&](const LaneOfPart& lane) {
                const auto& list = lane.lane->clocks;
                return lane.block == l.lanes[0].block && std::find(list.begin(), list.end(), clock.name) != list.end();
            });
            if (!reaches) continue;
            const double board = oscillator_mhz(in_.board, clock);
            const bool takes = l.link.clock_mhz >= clock.mhz[0] - slack && l.link.clock_mhz <= clock.mhz[1] + slack;
            if (takes && (board <= 0 || is_same_rate(board, l.link.clock_mhz))) return;
            why += said("{}{} {}", why.empty() ? "" : ", ", clock.name,
                        !takes ? said("takes {} to {} MHz", shortest(clock.mhz[0]), shortest(clock.mhz[1]))
                               : said("has {} MHz from the board", shortest(board)));
        }
        say(l.link,
            said("{} wants a reference clock of {} MHz on {}, and {}.", l.link.name, shortest(l.link.clock_mhz),
                 list_names(l.link.at, 8), why.empty() ? std::string("none reaches all of them") : why),
            l.link.at);
    }

    void wires(const Lying& l) {
        const auto any = std::any_of(in_.part.lane_blocks.begin(), in_.part.lane_blocks.end(), [&](const LaneBlock& b) {
            return std::any_of(b.lanes.begin(), b.lanes.end(),
                               [&](const LaneBlock::Lane& lane) { return wired_to(in_.board, lane) != nullptr; });
        });
        if (!any) return;  // a board that says nothing of lanes
        const auto* own = named_after(in_.board, l.link.name);
        const auto meant = own ? lanes_of(*own) : std::vector<std::string>();
        std::set<const BoardPart*> parts;
        for (size_t i = 0; i < l.lanes.size(); ++i) {
            const auto* at = wired_to(in_.board, *l.lanes[i].lane);
            parts.insert(at);
            if (!at)
                say(l.link,
                    said("{} lies on {}, whose pins the board leaves open{}.", l.link.name, l.link.at[i],
                         meant.empty() ? std::string()
                                       : said("; {} is wired to {}", called(*own), list_names(meant, 8))),
                    {l.link.at[i]});
            else if (!meant.empty() && at != own)
                say(l.link,
                    said("{} lies on {}, which the board wires to {}; {} is wired to {}.", l.link.name, l.link.at[i],
                         called(*at), called(*own), list_names(meant, 8)),
                    {l.link.at[i]});
            else if (meant.empty() && taken_by_name(*at, l.link.name))
                say(l.link,
                    said("{} lies on {}, which the board wires to {}, and that is another link's.", l.link.name,
                         l.link.at[i], called(*at)),
                    {l.link.at[i]});
        }
        if (parts.size() > 1 && !parts.contains(nullptr) && meant.empty())
            say(l.link,
                said("The lanes of {} ({}) are wired to different parts of the board.", l.link.name,
                     list_names(l.link.at, 8)),
                l.link.at);
    }

    [[nodiscard]] std::vector<std::string> lanes_of(const BoardPart& part) const {
        std::vector<std::string> out;
        for (const auto& block : in_.part.lane_blocks)
            for (const auto& lane : block.lanes)
                if (wired_to(in_.board, lane) == &part) out.push_back(lane.name);
        return out;
    }
    /// Another link of the project is named after this part.
    [[nodiscard]] bool taken_by_name(const BoardPart& part, const std::string& but) const {
        return std::any_of(in_.project.links.begin(), in_.project.links.end(), [&](const std::string& line) {
            const auto link = link_of(line);
            return link.name != but && named_after(in_.board, link.name) == &part;
        });
    }

    const RuleInput& in_;
    const RuleRow& row_;
    std::vector<Finding>& out_;
    std::vector<Lying> links_;
};

}  // namespace

void l16(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    if (!in.project.links.empty()) Lanes(in, row, out).run();
}

}  // namespace kp::rules
