// SPDX-License-Identifier: GPL-3.0-or-later
// Only what leaves no choice is proposed: as many ports as terminals, else nothing.
#include "core/planning/by_role.hpp"

#include "core/base/said.hpp"
#include "core/base/text.hpp"
#include "core/planning/roles.hpp"

#include <algorithm>
#include <map>
#include <set>

namespace kp {

namespace {

constexpr double fairly_sure = 0.7;

struct Free {
    Board::Found at;
    std::string name;  ///< for the order
};

class ByRole {
public:
    ByRole(const std::vector<Port>& ports, const Board& board, const Project& project, const PegMap& used)
        : ports_(ports), board_(board), project_(project), used_(used) {
        for (const auto& [port, peg] : used) taken_.insert(peg.pin);
    }

    std::vector<NameMatch> run() {
        // By role, direction and bus, so that a bus is asked for as a whole.
        std::map<std::tuple<std::string, Direction, std::string>, std::vector<const Port*>> groups;
        for (const auto& port : ports_) {
            if (used_.contains(port.name)) continue;
            const auto role = role_told(port);
            if (!role.empty()) groups[{role, port.direction, port.index < 0 ? "" : port.bus}].push_back(&port);
        }
        for (auto& [key, group] : groups) {
            const auto& [role, direction, bus] = key;
            // Two buses of one role are a choice again.
            const auto alike = std::count_if(groups.begin(), groups.end(), [&](const auto& other) {
                return std::get<0>(other.first) == role && std::get<1>(other.first) == direction;
            });
            if (alike == 1) give(role, direction, group);
        }
        return std::move(out_);
    }

private:
    [[nodiscard]] std::string role_told(const Port& port) const {
        PlannedPort seat;
        const auto chosen = project_.attributes.find(port.name);
        const PortAttributes none;
        seat.chosen = chosen == project_.attributes.end() ? &none : &chosen->second;
        seat.port = &port;
        return role_of(seat).role;
    }

    [[nodiscard]] static bool serves(const std::string& role, const Board::Found& at) {
        if (role != "reset") return at.part->kind == role;
        return at.part->kind != "header" && (speaks_of_reset(at.part->label) || speaks_of_reset(at.part->name) ||
                                             speaks_of_reset(at.terminal->name));
    }

    void give(const std::string& role, Direction direction, std::vector<const Port*>& group) {
        // What has many terminals of different meaning, a memory or a serial part, is not told by its kind.
        static const std::set<std::string> told{"reset", "key", "rocker", "lamp", "display", "sounder"};
        if (!told.contains(role)) return;
        std::vector<Free> free;
        std::set<const BoardPart*> parts;
        for (const auto& net : board_.nets) {
            const auto at = board_.at_terminal(net.terminal);
            if (!at || !serves(role, at) || contradicts(direction, at.terminal->direction)) continue;
            if (taken_.contains(net.pin)) continue;
            free.push_back({at, net.terminal});
            parts.insert(at.part);
        }
        const bool one_kind = parts.size() == 1 || parts.size() == free.size();
        if (free.size() != group.size() || free.empty() || !one_kind) return;
        std::sort(free.begin(), free.end(), [](const Free& a, const Free& b) { return natural_less(a.name, b.name); });
        std::sort(group.begin(), group.end(),
                  [](const Port* a, const Port* b) { return natural_less(a->name, b->name); });
        for (size_t i = 0; i < group.size(); ++i)
            out_.push_back({group[i]->name, free[i].at.net->pin, free[i].at.net->terminal,
                            free.size() == 1 ? said("its role, and the board's only {} left", role)
                                             : said("its role, and the board's only {} left, in order",
                                                    counted(static_cast<long long>(free.size()), role)),
                            fairly_sure});
    }

    const std::vector<Port>& ports_;
    const Board& board_;
    const Project& project_;
    const PegMap& used_;
    std::set<std::string> taken_;
    std::vector<NameMatch> out_;
};

}  // namespace

std::vector<NameMatch> by_role(const std::vector<Port>& ports, const Board& board, const Project& project,
                               const PegMap& used) {
    return ByRole(ports, board, project, used).run();
}

}  // namespace kp
