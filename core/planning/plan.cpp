// SPDX-License-Identifier: GPL-3.0-or-later
// One seat a port in a hash table, kept up by refresh(): an edit costs its own ports. Lanes and held terminals are
// found once.
#include "core/planning/plan.hpp"

#include "core/model/ports.hpp"

#include <algorithm>
#include <map>

namespace kp {

namespace {

const PortAttributes nothing_chosen;

}  // namespace

char half_of(const std::string& bus) {
    if (bus.ends_with("_p") || bus.ends_with("_P")) return 'p';
    if (bus.ends_with("_n") || bus.ends_with("_N")) return 'n';
    return 0;
}

Plan::Plan(const Part& p, const Board& b, const StandardTable& s, const std::vector<Port>& o, const Project& j,
           const std::vector<PortFacts>& f)
    : part(p), board(b), standards(s), ports(o), project(j), facts_(f) {
    for (const auto& row : standards.rows) standard_.emplace(row.name, &row);
    seat_of_.reserve(ports.size());
    for (std::uint32_t i = 0; i < ports.size(); ++i) {
        auto seat = std::make_unique<PlannedPort>();
        seat->name = ports[i].name;
        seat->order = i;
        seat->port = &ports[i];
        if (i < facts_.size()) seat->facts = &facts_[i];
        fill(*seat);
        enter(*seat);
        if (ports[i].index >= 0) buses_[ports[i].bus].push_back(seat.get());
        seat_of_.emplace(ports[i].name, std::move(seat));
    }
    for (const auto& [name, peg] : project.pegs)
        if (!seat_of_.contains(name)) refresh(name);
    find_lanes();
    read_board();
}

void Plan::read_board() {
    for (const auto& net : board.nets)
        if (const auto at = board.at_pin(net.pin); at && !at.terminal->must.empty()) held_.push_back({&net, at});
    for (const auto& p : board.parts) {
        std::map<std::string, ForwardedClock> clocks;
        for (const auto& t : p.terminals) {
            if (t.clock.empty()) continue;
            const auto at = board.at_terminal(p.ref + "." + t.name);
            if (const auto* pin = at && at.net ? part.pin(at.net->pin) : nullptr) clocks[t.clock].data.push_back(pin);
        }
        for (auto& [name, clock] : clocks) {
            clock.terminal = p.ref + "." + name;
            const auto at = board.at_terminal(clock.terminal);
            clock.clock = at && at.net ? part.pin(at.net->pin) : nullptr;
            if (clock.clock) forwarded_.push_back(std::move(clock));
        }
    }
}

const std::vector<const PlannedPort*>& Plan::bus_of(const PlannedPort& seat) const {
    static const std::vector<const PlannedPort*> none;
    const auto at = seat.port && seat.port->index >= 0 ? buses_.find(seat.port->bus) : buses_.end();
    return at == buses_.end() ? none : at->second;
}

void Plan::fill(PlannedPort& seat) {
    const auto peg = project.pegs.find(seat.name);
    seat.peg = peg == project.pegs.end() ? nullptr : &peg->second;
    const auto chosen = project.attributes.find(seat.name);
    seat.chosen = chosen == project.attributes.end() ? &nothing_chosen : &chosen->second;
    seat.on = seat.peg ? seat.peg->pin : "";
    seat.partner = seat.chosen->partner;
    const auto standard = standard_.find(seat.chosen->standard);
    seat.standard = standard == standard_.end() ? nullptr : standard->second;
    seat.pin = seat.peg ? part.pin(seat.peg->pin) : nullptr;
    seat.bank = seat.pin && !seat.pin->bank.empty() ? part.bank(seat.pin->bank) : nullptr;
    seat.at = seat.peg ? board.at_pin(seat.peg->pin) : Board::Found{};
    seat.rail = seat.bank ? board.rail(seat.bank->name) : std::nullopt;
}

void Plan::enter(const PlannedPort& seat) {
    if (seat.on.empty()) return;
    auto& list = on_pin_[seat.on];
    list.insert(std::lower_bound(list.begin(), list.end(), seat.name), seat.name);
    if (seat.bank) in_bank_[seat.bank->name].push_back(&seat);
}

void Plan::leave(const PlannedPort& seat) {
    std::erase(on_pin_[seat.on], seat.name);
    if (seat.bank) std::erase(in_bank_[seat.bank->name], &seat);
}

void Plan::refresh(const std::string& name) {
    auto& seat = seat_of_[name];
    if (!seat) {
        seat = std::make_unique<PlannedPort>();
        seat->name = name;
        ordered_ = false;
    } else if (!seat->on.empty()) {
        leave(*seat);
    }
    fill(*seat);
    enter(*seat);
    if (seat->port || seat->peg) return;
    seat_of_.erase(name);
    ordered_ = false;
}

const std::vector<const PlannedPort*>& Plan::seats() const {
    if (ordered_) return seats_;
    seats_.clear();
    for (const auto& [name, seat] : seat_of_) seats_.push_back(seat.get());
    std::sort(seats_.begin(), seats_.end(), [](const PlannedPort* a, const PlannedPort* b) {
        return a->order != b->order ? a->order < b->order : a->name < b->name;
    });
    ordered_ = true;
    return seats_;
}

const PlannedPort* Plan::seat(const std::string& name) const {
    const auto at = seat_of_.find(name);
    return at == seat_of_.end() ? nullptr : at->second.get();
}

const Port* Plan::port(const std::string& name) const {
    const auto* s = seat(name);
    return s ? s->port : nullptr;
}

const std::vector<std::string>& Plan::at_pin(const std::string& pin) const {
    static const std::vector<std::string> none;
    const auto at = on_pin_.find(pin);
    return at == on_pin_.end() ? none : at->second;
}

const std::vector<const PlannedPort*>& Plan::in_bank(const std::string& bank) const {
    static const std::vector<const PlannedPort*> none;
    const auto at = in_bank_.find(bank);
    return at == in_bank_.end() ? none : at->second;
}

const PlannedPort* Plan::partner(const PlannedPort& s) const {
    if (!s.partner.empty()) return seat(s.partner);
    const char half = s.port ? half_of(s.port->bus) : 0;
    if (!half) return nullptr;
    std::string name = s.name;
    auto& letter = name[s.port->bus.size() - 1];
    letter = half == 'p' ? (letter == 'p' ? 'n' : 'N') : (letter == 'n' ? 'p' : 'P');
    return seat(name);
}

void Plan::find_lanes() {
    // JEDEC JESD79 names them DQ, DM and DQS, one mask and one strobe to eight data bits.
    std::map<std::string, std::vector<const Port*>> by_bus;
    for (const auto& p : ports) by_bus[p.bus].push_back(&p);
    for (auto& [bus, data] : by_bus) {
        if (!(bus.ends_with("dq") || bus.ends_with("DQ")) || data.size() < 8 || data.size() % 8 != 0) continue;
        const auto stem = bus.substr(0, bus.size() - 1);
        const bool upper = bus.back() == 'Q';
        std::sort(data.begin(), data.end(), [](const Port* a, const Port* b) { return a->index < b->index; });
        for (size_t k = 0; k < data.size() / 8; ++k) {
            ByteLane lane;
            lane.name =
                bus + "[" + std::to_string(data[8 * k + 7]->index) + ":" + std::to_string(data[8 * k]->index) + "]";
            for (size_t i = 0; i < 8; ++i) lane.bits.push_back(data[8 * k + i]->name);
            const auto add = [&](const std::string& other, std::vector<std::string>& to) {
                const auto at = by_bus.find(other);
                if (at == by_bus.end()) return;
                for (const auto* p : at->second)
                    if (p->index == static_cast<int>(k) || (p->index < 0 && data.size() == 8)) to.push_back(p->name);
            };
            for (const char* end : {"m", "M"}) add(stem + end, lane.bits);
            const std::string strobe = bus + (upper ? "S" : "s");
            for (const char* end : {"_p", "_P", "", "_n", "_N"}) add(strobe + end, lane.strobes);
            for (const auto* list : {&lane.bits, &lane.strobes})
                for (const auto& name : *list) lane_of_[name] = lanes_.size();
            lanes_.push_back(std::move(lane));
        }
    }
}

const ByteLane* Plan::lane_of(const std::string& name) const {
    const auto at = lane_of_.find(name);
    return at == lane_of_.end() ? nullptr : &lanes_[at->second];
}

const AttributeInput& Plan::attributes() const {
    if (!attributes_) attributes_ = std::make_unique<AttributeInput>(part, board, standards, ports, project);
    return *attributes_;
}

const NameMatcher& Plan::matcher() const {
    if (!matcher_) matcher_ = std::make_unique<NameMatcher>(board, ports);
    return *matcher_;
}

}  // namespace kp
