// SPDX-License-Identifier: GPL-3.0-or-later
// All instances of a type are seen as one: what any of them has, the type has. Entries of one instance follow each
// other, so the last type is asked first. A path from a clock that no entry gives an edge launches at the edge its
// checks use, or at both, so that no check is missed.
#include "core/format/sdf/cells.hpp"

#include <algorithm>

namespace kp {

namespace {

unsigned char edges_of(char edge) {
    return edge == 'p' ? 1 : edge == 'n' ? 2 : 4;
}

ArcKind check_kind(int kind, bool rising) {
    switch (kind) {
        case DelayEntry::setup: return rising ? ArcKind::setup_rising : ArcKind::setup_falling;
        case DelayEntry::hold: return rising ? ArcKind::hold_rising : ArcKind::hold_falling;
        case DelayEntry::recovery: return rising ? ArcKind::recovery_rising : ArcKind::recovery_falling;
        default: return rising ? ArcKind::removal_rising : ArcKind::removal_falling;
    }
}

}  // namespace

void CellsFromDelays::take(const DelayEntry& e) {
    if (e.kind == DelayEntry::interconnect || e.kind == DelayEntry::port || e.cell_type.empty()) return;
    if (!last_type_ || last_ != e.cell_type) {
        last_ = e.cell_type;
        if (known_.cell(last_)) {
            last_type_ = nullptr;
            return;
        }
        last_type_ = &types_[last_];
    }
    auto& type = *last_type_;
    const std::string from(e.from), to(e.to);
    switch (e.kind) {
        case DelayEntry::iopath: type.paths[{from, to}][std::string(e.condition)] |= edges_of(e.from_edge); break;
        case DelayEntry::device: type.device = true; break;
        case DelayEntry::width:
        case DelayEntry::period: type.clocks[from] |= 0; break;
        case DelayEntry::recovery:
        case DelayEntry::removal:
            type.asynchronous.insert(from);
            type.checks[{from, to, e.kind, std::string(e.condition)}] |= edges_of(e.to_edge);
            type.clocks[to] |= edges_of(e.to_edge);
            break;
        default:
            type.data.insert(from);
            type.checks[{from, to, e.kind, std::string(e.condition)}] |= edges_of(e.to_edge);
            type.clocks[to] |= edges_of(e.to_edge);
            break;
    }
}

/// Makes one cell; positions of pins by name.
class CellsFromDelays::Maker {
public:
    Maker(const std::string& name, const Type& type) : type_(type) { out_.name = name; }

    LibraryCell run(const std::set<std::string>& pins) {
        for (const auto& [pair, conditions] : type_.paths) {
            pin(pair.first);
            auto& to = out_.pins[pin(pair.second)];
            to.direction = Direction::out;
        }
        for (const auto& [pair, conditions] : type_.paths)  // both ends of paths: what comes back in
            if (auto& p = out_.pins[pin(pair.first)]; p.direction == Direction::out) p.direction = Direction::inout;
        for (const auto& [key, edges] : type_.checks) {
            pin(std::get<0>(key));
            pin(std::get<1>(key));
        }
        for (const auto& [name, edges] : type_.clocks) pin(name);
        for (const auto& name : pins) pin(name);
        for (const auto& [pair, conditions] : type_.paths)
            for (const auto& [condition, edges] : conditions) path(pair, condition, edges);
        for (const auto& [key, edges] : type_.checks) check(key, edges);
        out_.flip_flop =
            !type_.checks.empty() || std::any_of(out_.arcs.begin(), out_.arcs.end(), [](const LibraryArc& a) {
                return a.kind == ArcKind::rising_edge || a.kind == ArcKind::falling_edge;
            });
        buses();
        return std::move(out_);
    }

private:
    size_t pin(const std::string& name) {
        const auto [at, fresh] = at_.try_emplace(name, out_.pins.size());
        if (fresh) {
            LibraryPin p;
            p.name = name;
            out_.pins.push_back(std::move(p));
        }
        return at->second;
    }

    void add(const Pair& pair, const std::string& condition, ArcKind kind) {
        LibraryArc arc;
        arc.from = static_cast<std::uint32_t>(pin(pair.first));
        arc.to = static_cast<std::uint32_t>(pin(pair.second));
        arc.kind = kind;
        arc.sense = Sense::non_unate;
        arc.sdf_cond = condition;
        out_.arcs.push_back(std::move(arc));
    }

    void path(const Pair& pair, const std::string& condition, unsigned char edges) {
        const auto& from = pair.first;
        if (type_.asynchronous.contains(from)) {
            add(pair, condition, ArcKind::clear);
            add(pair, condition, ArcKind::preset);
            return;
        }
        const auto clock = type_.clocks.find(from);
        const bool is_clock = clock != type_.clocks.end() && clock->second != 0 && !type_.data.contains(from);
        const bool one_edge = edges == rise || edges == fall;
        if (!is_clock && !one_edge) {
            // What is checked against a clock and yet passes through is the data of a latch.
            out_.latch |= type_.data.contains(from);
            return add(pair, condition, ArcKind::combinational);
        }
        if (edges & either) edges = is_clock && !(clock->second & either) ? clock->second : rise | fall;
        out_.pins[pin(from)].clock = true;
        if (edges & rise) add(pair, condition, ArcKind::rising_edge);
        if (edges & fall) add(pair, condition, ArcKind::falling_edge);
    }

    void check(const std::tuple<std::string, std::string, int, std::string>& key, unsigned char edges) {
        const auto& [data, clock, kind, condition] = key;
        if (edges & either) edges = rise | fall;
        out_.pins[pin(clock)].clock = true;
        for (const bool rising : {true, false}) {
            if (!(edges & (rising ? rise : fall))) continue;
            LibraryArc arc;
            arc.from = static_cast<std::uint32_t>(pin(clock));
            arc.to = static_cast<std::uint32_t>(pin(data));
            arc.kind = check_kind(kind, rising);
            arc.sdf_cond = condition;
            out_.arcs.push_back(std::move(arc));
        }
    }

    /// "A[0]", "A[1]" ... are the bits of A, the highest first, as a netlist connects them.
    void buses() {
        std::map<std::string, std::map<int, std::string, std::greater<>>> bits;
        for (const auto& p : out_.pins) {
            const auto open = p.name.rfind('[');
            if (open == std::string::npos || !p.name.ends_with(']')) continue;
            bits[p.name.substr(0, open)][std::atoi(p.name.c_str() + open + 1)] = p.name;
        }
        for (const auto& [name, members] : bits) {
            out_.buses.push_back({name, {}});
            for (const auto& [index, bit] : members) out_.buses.back().bits.push_back(bit);
        }
    }

    const Type& type_;
    LibraryCell out_;
    std::map<std::string, size_t> at_;
};

LibraryCell CellsFromDelays::cell(const std::string& type, const std::set<std::string>& pins) const {
    static const Type nothing;
    const auto at = types_.find(type);
    return Maker(type, at == types_.end() ? nothing : at->second).run(pins);
}

DirectionsFromWires::DirectionsFromWires(const Netlist& netlist, const std::set<std::string>& unsure, Library& library)
    : netlist_(netlist), library_(library) {
    for (std::uint32_t c = 0; c < netlist.cells.size(); ++c)
        if (unsure.contains(netlist.type_of(c)) && cells_.add(netlist.cell_names[c]) == number_.size())
            number_.push_back(c);
}

void DirectionsFromWires::take(const DelayEntry& e) {
    if (e.kind != DelayEntry::interconnect) return;
    text_.assign(e.instance);
    if (!text_.empty()) text_ += '/';
    text_ += e.from;
    const auto slash = text_.rfind('/');
    if (slash == std::string::npos) return;
    const auto name = cells_.find(std::string_view(text_).substr(0, slash));
    if (name == NameTable::none) return;
    const auto at = library_.by_name.find(netlist_.type_of(number_[name]));
    if (at == library_.by_name.end()) return;
    auto& cell = library_.cells[at->second];
    if (const int pin = cell.pin(text_.substr(slash + 1)); pin >= 0)
        if (auto& p = cell.pins[static_cast<size_t>(pin)]; p.direction == Direction::in && !p.clock)
            p.direction = Direction::out;
}

}  // namespace kp
