// SPDX-License-Identifier: GPL-3.0-or-later
// Every cell first lies in the middle of its neighbours (Gauss-Seidel on the star model), is spread over the sites in
// that order, and then annealed with a shrinking window (V. Betz and J. Rose, FPL 1997;
// wires that matter weigh more: A. Marquardt, V. Betz and J. Rose,
// "Timing-driven placement for FPGAs", FPGA 2000). Moves: proportional to cells^(4/3).
#include "core/fabric/placement.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cmath>
#include <random>

namespace kp::fabric {

CellKind kind_of(const LibraryCell& c) {
    if (c.resource == "pad") return CellKind::pad;
    if (c.resource == "memory") return CellKind::memory;
    if (c.resource == "multiply") return CellKind::multiply;
    if (c.resource == "clock_network") return CellKind::root;
    if (c.resource == "pll") return CellKind::pll;
    if (!c.resource.empty()) return CellKind::other;
    return c.flip_flop ? CellKind::registers : CellKind::look_up;
}

namespace {

constexpr size_t largest_net = 100;  ///< nets with more cells are wirelength, but no reason to move
constexpr int kinds = 8;

struct NetBox {
    std::vector<std::uint32_t> cells;  ///< driver first, each once
    bool counts = true;                ///< in the wirelength: no clock
};

/// Nets with the cells on them; clock nets do not count.
std::vector<NetBox> boxes_of(const Netlist& n, const Library& library) {
    std::vector<NetBox> out(n.net_names.size());
    for (std::uint32_t c = 0; c < n.cells.size(); ++c) {
        const auto* lib = library.cell(n.type_of(c));
        const auto& cell = n.cells[c];
        for (auto p = cell.first_pin; p < cell.first_pin + cell.pin_count; ++p) {
            const auto net = n.pins[p].net;
            if (net == no_id || net == n.constant_net[0] || net == n.constant_net[1]) continue;
            const int pin = lib->pin(n.pin_names[n.pins[p].name]);
            const bool drives = pin >= 0 && lib->pins[static_cast<size_t>(pin)].direction == Direction::out;
            auto& box = out[net];
            if (drives && kind_of(*lib) == CellKind::root) box.counts = false;
            if (std::find(box.cells.begin(), box.cells.end(), c) != box.cells.end() && box.cells.size() < 64) continue;
            box.cells.push_back(c);
            if (drives) std::swap(box.cells.front(), box.cells.back());
        }
    }
    return out;
}

long long half_box(const NetBox& box, const std::vector<Spot>& spots) {
    if (box.cells.size() < 2) return 0;
    const auto& first = spots[box.cells[0]];
    int left = first.column, right = left, low = first.row, high = low;
    for (const auto c : box.cells) {
        left = std::min(left, spots[c].column);
        right = std::max(right, spots[c].column);
        low = std::min(low, spots[c].row);
        high = std::max(high, spots[c].row);
    }
    return right - left + high - low;
}

class Placer {
public:
    Placer(const Netlist& n, const Library& library, const Part& part, const PlaceSettings& settings)
        : n_(n),
          library_(library),
          part_(part),
          settings_(settings),
          random_(settings.seed),
          boxes_(boxes_of(n, library)) {
        kind_.reserve(n.cells.size());
        for (std::uint32_t c = 0; c < n.cells.size(); ++c) kind_.push_back(kind_of(*library.cell(n.type_of(c))));
        spots_.resize(n.cells.size());
        nets_of_.resize(n.cells.size());
        for (std::uint32_t net = 0; net < boxes_.size(); ++net)
            if (boxes_[net].counts && boxes_[net].cells.size() > 1 && boxes_[net].cells.size() <= largest_net)
                for (const auto c : boxes_[net].cells) nets_of_[c].push_back(net);
        weight_.resize(boxes_.size());
        stamp_.assign(boxes_.size(), 0);
    }

    Result<Placement> run(const std::map<std::string, std::string>& pin_of) {
        sites();
        if (auto stop = capacity()) return *stop;
        if (auto stop = fixed(pin_of)) return *stop;
        middle();
        spread();
        anneal();
        Placement out;
        out.spots = spots_;
        out.wirelength = total();
        return out;
    }

private:
    struct Site {
        int column, row;
    };

    void sites() {
        const auto& f = part_.fabric;
        for (int x = 0; x < f.columns; ++x) {
            auto kind = CellKind::look_up;
            for (const auto& s : f.special)
                if (std::find(s.columns.begin(), s.columns.end(), x) != s.columns.end())
                    kind = s.kind == "memory" ? CellKind::memory : CellKind::multiply;
            column_kind_.push_back(kind);
        }
        for (const auto kind : {CellKind::look_up, CellKind::memory, CellKind::multiply}) {
            auto& list = sites_[static_cast<int>(kind)];
            for (int x = 0; x < f.columns; ++x)
                if (column_kind_[static_cast<size_t>(x)] == kind)
                    for (int y = 0; y < f.rows; ++y)
                        if (!left_out(x, y)) list.push_back({x, y});
        }
        for (const auto kind : {CellKind::registers, CellKind::root, CellKind::pll, CellKind::other})
            sites_[static_cast<int>(kind)] = sites_[static_cast<int>(CellKind::look_up)];
        for (int k = 0; k < kinds; ++k) {
            taken_[k].assign(static_cast<size_t>(f.columns) * static_cast<size_t>(f.rows) *
                                 static_cast<size_t>(slots(static_cast<CellKind>(k))),
                             no_id);
        }
    }

    /// A site of a special column that holds none of its blocks.
    bool left_out(int x, int y) const {
        return std::any_of(part_.fabric.special.begin(), part_.fabric.special.end(), [&](const Fabric::Special& s) {
            return std::find(s.without.begin(), s.without.end(), std::pair(x, y)) != s.without.end();
        });
    }

    /// A memory or multiply site has one cell, a logic site as many as the part says.
    int slots(CellKind kind) const {
        return kind == CellKind::memory || kind == CellKind::multiply ? 1 : std::max(1, part_.fabric.cells_per_site);
    }
    std::uint32_t& at(CellKind kind, int x, int y, int slot) {
        return taken_[static_cast<int>(kind)]
                     [(static_cast<size_t>(x) * static_cast<size_t>(part_.fabric.rows) + static_cast<size_t>(y)) *
                          static_cast<size_t>(slots(kind)) +
                      static_cast<size_t>(slot)];
    }

    std::optional<Message> capacity() {
        if (part_.fabric.columns == 0)
            return Message{Severity::stop, Code::capacity,
                           said("The part file of {} does not say what is inside (\"fabric\"), so nothing can be "
                                "placed there. The stand-in builder builds for the parts that ship with it.",
                                part_.name)};
        std::vector<long long> need(kinds, 0);
        for (const auto k : kind_) ++need[static_cast<size_t>(k)];
        static const char* names[] = {"look-up and carry cells", "registers", "memories",   "multipliers", "pads",
                                      "clock networks",          "PLLs",      "other cells"};
        const auto has = [&](CellKind k) -> long long {
            const auto sites = static_cast<long long>(sites_[static_cast<int>(k)].size()) * slots(k);
            const auto& r = part_.resources;
            if (k == CellKind::look_up) return std::min(sites, r.logic_cells);
            if (k == CellKind::registers) return std::min(sites, r.registers);
            if (k == CellKind::root) return r.clock_networks;
            if (k == CellKind::pll) return r.plls;
            return sites;
        };
        for (int k = 0; k < kinds; ++k) {
            const auto kind = static_cast<CellKind>(k);
            if (kind == CellKind::pad || need[static_cast<size_t>(k)] <= has(kind)) continue;
            return Message{
                Severity::stop, Code::capacity,
                said("The design needs {} {}, the part {} has {}. Take a larger part, or make the design smaller.",
                     need[static_cast<size_t>(k)], names[k], part_.name, has(kind))};
        }
        return std::nullopt;
    }

    /// Pads at their pins; clock roots and PLLs near the middle of what feeds them.
    std::optional<Message> fixed(const std::map<std::string, std::string>& pin_of) {
        const auto sites = pad_sites(part_);
        std::map<std::uint32_t, std::string> port_of;
        for (const auto& port : n_.ports) port_of.emplace(port.net, port.name);
        std::map<std::pair<int, int>, int> used;
        for (std::uint32_t c = 0; c < n_.cells.size(); ++c) {
            if (kind_[c] != CellKind::pad) continue;
            const auto port = port_at(c, port_of);
            const auto pin = pin_of.find(port);
            if (pin == pin_of.end())
                return Message{Severity::stop, Code::no_pin,
                               said("The port {} has no pin, so its pad {} has no place.", port, n_.cell_names[c])};
            const auto site = sites.find(pin->second);
            if (site == sites.end())
                return Message{
                    Severity::stop, Code::no_pin,
                    said("The part {} has no user pin {}, which {} is pegged to.", part_.name, pin->second, port)};
            spots_[c] = {site->second.first, site->second.second, used[site->second]++, pin->second};
        }
        for (const auto kind : {CellKind::pll, CellKind::root})
            for (std::uint32_t c = 0; c < n_.cells.size(); ++c)
                if (kind_[c] == kind) near_source(c);
        return std::nullopt;
    }

    std::string port_at(std::uint32_t c, const std::map<std::uint32_t, std::string>& port_of) const {
        const auto* lib = library_.cell(n_.type_of(c));
        const auto& cell = n_.cells[c];
        for (const auto& pin : lib->pins) {
            if (!pin.is_pad) continue;
            for (auto p = cell.first_pin; p < cell.first_pin + cell.pin_count; ++p)
                if (n_.pin_names[n_.pins[p].name] == pin.name)
                    if (const auto at = port_of.find(n_.pins[p].net); at != port_of.end()) return at->second;
        }
        return n_.cell_names[c];
    }

    void near_source(std::uint32_t c) {
        int x = part_.fabric.columns / 2, y = part_.fabric.rows / 2;
        for (const auto& box : boxes_)
            if (!box.cells.empty() && box.cells[0] != c &&
                std::find(box.cells.begin(), box.cells.end(), c) != box.cells.end()) {
                x = std::clamp(spots_[box.cells[0]].column, 0, part_.fabric.columns - 1);
                y = std::clamp(spots_[box.cells[0]].row, 0, part_.fabric.rows - 1);
            }
        const auto kind = kind_[c];
        const auto& sites = sites_[static_cast<int>(kind)];
        auto order = sites;
        std::stable_sort(order.begin(), order.end(), [&](const Site& a, const Site& b) {
            return std::abs(a.column - x) + std::abs(a.row - y) < std::abs(b.column - x) + std::abs(b.row - y);
        });
        for (const auto& s : order)
            for (int slot = 0; slot < slots(kind); ++slot)
                if (at(kind, s.column, s.row, slot) == no_id) {
                    at(kind, s.column, s.row, slot) = c;
                    spots_[c] = {s.column, s.row, slot, ""};
                    return;
                }
    }

    bool moves(std::uint32_t c) const {
        return kind_[c] == CellKind::look_up || kind_[c] == CellKind::registers || kind_[c] == CellKind::memory ||
               kind_[c] == CellKind::multiply || kind_[c] == CellKind::other;
    }

    /// Each cell into the middle of its nets, again and again.
    void middle() {
        const auto count = n_.cells.size();
        x_.assign(count, part_.fabric.columns / 2.0);
        y_.assign(count, part_.fabric.rows / 2.0);
        for (std::uint32_t c = 0; c < count; ++c)
            if (!moves(c)) {
                x_[c] = spots_[c].column;
                y_[c] = spots_[c].row;
            } else {  // a little apart, so that order means something
                x_[c] += static_cast<double>(random_() % 1000) / 1000;
                y_[c] += static_cast<double>(random_() % 1000) / 1000;
            }
        std::vector<double> sx(boxes_.size(), 0), sy(boxes_.size(), 0);
        for (int round = 0; round < 80; ++round) {
            for (size_t k = 0; k < boxes_.size(); ++k) {
                sx[k] = sy[k] = 0;
                for (const auto c : boxes_[k].cells) {
                    sx[k] += x_[c];
                    sy[k] += y_[c];
                }
            }
            for (std::uint32_t c = 0; c < count; ++c) {
                if (!moves(c)) continue;
                double wx = 0, wy = 0, w = 0;
                for (const auto net : nets_of_[c]) {
                    const auto n = static_cast<double>(boxes_[net].cells.size());
                    wx += (sx[net] - x_[c]) / (n - 1) / (n - 1);
                    wy += (sy[net] - y_[c]) / (n - 1) / (n - 1);
                    w += 1 / (n - 1);
                }
                if (w == 0) continue;
                x_[c] = wx / w;
                y_[c] = wy / w;
            }
        }
    }

    /// The cells of each kind onto sites in the order of their places: columns by x, within a column by y. Cells stay
    /// together: as many columns are used as they need with some room.
    void spread() {
        for (const auto kind :
             {CellKind::look_up, CellKind::registers, CellKind::memory, CellKind::multiply, CellKind::other}) {
            std::vector<std::uint32_t> cells;
            for (std::uint32_t c = 0; c < kind_.size(); ++c)
                if (kind_[c] == kind) cells.push_back(c);
            if (cells.empty()) continue;
            std::stable_sort(cells.begin(), cells.end(), [&](auto a, auto b) { return x_[a] < x_[b]; });
            std::vector<int> columns;
            for (int x = 0; x < part_.fabric.columns; ++x)
                if (std::any_of(sites_[static_cast<int>(kind)].begin(), sites_[static_cast<int>(kind)].end(),
                                [&](const Site& s) { return s.column == x; }))
                    columns.push_back(x);
            const auto rows = static_cast<size_t>(part_.fabric.rows), each = rows * static_cast<size_t>(slots(kind));
            size_t from = 0;
            for (size_t k = 0; k < columns.size(); ++k) {
                // Those that want to lie here, within what the columns to the right can still take.
                const auto left = columns.size() - k - 1;
                const auto must = cells.size() - from > left * each ? cells.size() - from - left * each : 0;
                size_t take = 0;
                while (from + take < cells.size() && take < each &&
                       (take < must || x_[cells[from + take]] < columns[k] + 0.5))
                    ++take;
                column(kind, columns[k], std::span(cells).subspan(from, take));
                from += take;
            }
        }
    }

    void column(CellKind kind, int x, std::span<std::uint32_t> cells) {
        std::stable_sort(cells.begin(), cells.end(), [&](auto a, auto b) { return y_[a] < y_[b]; });
        const auto rows = part_.fabric.rows;
        const auto each = static_cast<size_t>(slots(kind));
        size_t from = 0;
        for (int y = 0; y < rows; ++y) {
            const auto left = static_cast<size_t>(rows - y - 1);
            const auto must = cells.size() - from > left * each ? cells.size() - from - left * each : 0;
            for (size_t slot = 0; slot < each && from < cells.size() && (slot < must || y_[cells[from]] < y + 0.5);
                 ++slot, ++from) {
                at(kind, x, y, static_cast<int>(slot)) = cells[from];
                spots_[cells[from]] = {x, y, static_cast<int>(slot), ""};
            }
        }
    }

    long long total() const {
        long long out = 0;
        for (const auto& box : boxes_)
            if (box.counts) out += half_box(box, spots_);
        return out;
    }

    /// What the moves read, laid out one after the other.
    void sync_points() {
        net_start_.assign(1, 0);
        for (const auto& box : boxes_) {
            cells_of_.insert(cells_of_.end(), box.cells.begin(), box.cells.end());
            net_start_.push_back(static_cast<std::uint32_t>(cells_of_.size()));
        }
        points_.resize(spots_.size());
        for (size_t c = 0; c < spots_.size(); ++c)
            points_[c] = {static_cast<std::int16_t>(spots_[c].column), static_cast<std::int16_t>(spots_[c].row)};
    }

    /// What a net costs: its box, and the wires in it that matter.
    double cost(std::uint32_t net) const {
        const std::span cells(cells_of_.data() + net_start_[net], cells_of_.data() + net_start_[net + 1]);
        const auto from = points_[cells[0]];
        int left = from.x, right = from.x, low = from.y, high = from.y;
        for (const auto c : cells) {
            const auto at = points_[c];
            left = std::min<int>(left, at.x);
            right = std::max<int>(right, at.x);
            low = std::min<int>(low, at.y);
            high = std::max<int>(high, at.y);
        }
        double out = right - left + high - low;
        const auto& weights = weight_[net];
        for (size_t k = 1; k < weights.size(); ++k) {
            if (weights[k] == 0) continue;
            const auto to = points_[cells[k]];
            out += static_cast<double>(weights[k]) * (std::abs(to.x - from.x) + std::abs(to.y - from.y));
        }
        return out;
    }

    /// The nets of two cells, each once.
    void touch(std::uint32_t a, std::uint32_t b) {
        ++stamp_now_;
        touched_.clear();
        for (const auto c : {a, b}) {
            if (c == no_id) continue;
            for (const auto net : nets_of_[c])
                if (stamp_[net] != stamp_now_) {
                    stamp_[net] = stamp_now_;
                    touched_.push_back(net);
                }
        }
    }

    /// What the touched nets cost more than before.
    double change() {
        double out = 0;
        fresh_.clear();
        for (const auto net : touched_) {
            fresh_.push_back(cost(net));
            out += fresh_.back() - cost_[net];
        }
        return out;
    }
    void keep() {
        for (size_t k = 0; k < touched_.size(); ++k) cost_[touched_[k]] = fresh_[k];
    }

    /// The middle of the boxes of a cell's nets, without the cell itself.
    std::pair<int, int> pulled(std::uint32_t a) const {
        long x = 0, y = 0, count = 0;
        for (const auto net : nets_of_[a]) {
            int left = 1 << 20, right = -left, low = left, high = right;
            for (auto k = net_start_[net]; k < net_start_[net + 1]; ++k) {
                const auto c = cells_of_[k];
                if (c == a) continue;
                left = std::min<int>(left, points_[c].x);
                right = std::max<int>(right, points_[c].x);
                low = std::min<int>(low, points_[c].y);
                high = std::max<int>(high, points_[c].y);
            }
            if (left > right) continue;
            x += left + right;
            y += low + high;
            count += 2;
        }
        if (count == 0) return {spots_[a].column, spots_[a].row};
        return {static_cast<int>((x + count / 2) / count), static_cast<int>((y + count / 2) / count)};
    }

    void put(std::uint32_t c, CellKind kind, int x, int y, int slot) {
        at(kind, x, y, slot) = c;
        if (c == no_id) return;
        spots_[c].column = x;
        spots_[c].row = y;
        spots_[c].slot = slot;
        points_[c] = {static_cast<std::int16_t>(x), static_cast<std::int16_t>(y)};
    }

    /// One move; true when it was kept.
    bool move(std::uint32_t a, double window, double heat) {
        const auto kind = kind_[a];
        const auto& spot = spots_[a];
        const struct { int column, row, slot; } from{spot.column, spot.row, spot.slot};
        const int reach = std::max(1, static_cast<int>(window));
        const auto any = [&](int middle, int limit, int wide) {
            const int low = std::max(0, middle - wide), high = std::min(limit - 1, middle + wide);
            return low + static_cast<int>(random_() % static_cast<unsigned>(high - low + 1));
        };
        const bool special = kind == CellKind::memory || kind == CellKind::multiply;
        // Half of the moves go near where the nets pull the cell, the others anywhere in the window.
        const bool directed = !special && (random_() & 1U) != 0;
        const auto to = directed ? pulled(a) : std::pair(from.column, from.row);
        const int wide = directed ? std::max(1, reach / 4) : reach;
        const int x = any(std::clamp(to.first, 0, part_.fabric.columns - 1), part_.fabric.columns,
                          special ? part_.fabric.columns : wide);
        const auto want = special ? kind : CellKind::look_up;
        if (column_kind_[static_cast<size_t>(x)] != want) return false;
        const int y = any(std::clamp(to.second, 0, part_.fabric.rows - 1), part_.fabric.rows, wide);
        if (special && left_out(x, y)) return false;
        const int slot = static_cast<int>(random_() % static_cast<unsigned>(slots(kind)));
        const auto b = at(kind, x, y, slot);
        if (b == a || (b != no_id && !moves(b))) return false;
        touch(a, b);
        put(a, kind, x, y, slot);
        put(b, kind, from.column, from.row, from.slot);
        const auto more = change();
        if (more <= 0 || (heat > 0 && static_cast<double>(random_()) / 4294967296.0 < std::exp(-more / heat))) {
            keep();
            return true;
        }
        put(a, kind, from.column, from.row, from.slot);
        put(b, kind, x, y, slot);
        return false;
    }

    void cost_all() {
        cost_.assign(boxes_.size(), 0);
        for (std::uint32_t net = 0; net < boxes_.size(); ++net)
            if (boxes_[net].counts && boxes_[net].cells.size() > 1 && boxes_[net].cells.size() <= largest_net)
                cost_[net] = cost(net);
    }

    void weigh() {
        if (!settings_.weigh) return;
        Placement now;
        now.spots = spots_;
        const auto w = settings_.weigh(now);
        if (w.of_pin.empty()) return;
        for (std::uint32_t net = 0; net < boxes_.size(); ++net) weight_[net].assign(boxes_[net].cells.size(), 0);
        for (std::uint32_t p = 0; p < n_.pins.size(); ++p) {
            const auto net = n_.pins[p].net;
            if (net == no_id || w.of_pin[p] <= 0) continue;
            auto& box = boxes_[net];
            for (size_t k = 1; k < box.cells.size(); ++k)
                if (box.cells[k] == n_.pins[p].cell) weight_[net][k] = std::max(weight_[net][k], w.of_pin[p] * 4);
        }
    }

    void anneal() {
        std::vector<std::uint32_t> cells;
        for (std::uint32_t c = 0; c < kind_.size(); ++c)
            if (moves(c) && !nets_of_[c].empty()) cells.push_back(c);
        if (cells.empty()) return;
        const auto count = static_cast<double>(cells.size());
        const auto inner = std::max(200.0, settings_.effort * 12 * std::pow(count, 4.0 / 3.0) / 10);
        double window = std::max(part_.fabric.columns, part_.fabric.rows) / 4.0;
        sync_points();
        weigh();
        cost_all();
        double heat = first_heat(cells, window);
        const double coldest =
            0.005 * static_cast<double>(total()) / std::max<double>(1, static_cast<double>(boxes_.size()));
        for (int round = 0; round < 300; ++round) {
            if (settings_.stop.stop_requested()) return;
            size_t kept = 0, tried = 0;
            for (; tried < static_cast<size_t>(inner); ++tried)
                kept += move(cells[random_() % cells.size()], window, heat);
            const auto share = static_cast<double>(kept) / static_cast<double>(tried);
            const bool last = heat < coldest || heat < 1e-6;
            if (settings_.progress) settings_.progress(last ? 1 : std::min(0.99, round / 60.0), total());
            if (last) break;
            heat *= share > 0.96 ? 0.5 : share > 0.8 ? 0.9 : share > 0.15 ? 0.95 : 0.8;
            window = std::clamp(window * (1 - 0.44 + share), 1.0,
                                static_cast<double>(std::max(part_.fabric.columns, part_.fabric.rows)));
            if (round % 12 == 11) {
                weigh();
                cost_all();
            }
        }
        for (size_t k = 0; k < static_cast<size_t>(inner * 2); ++k) move(cells[random_() % cells.size()], 2, 0);
        if (settings_.progress) settings_.progress(1, total());
    }

    /// As hot as changes are wide where the cells lie now: the start is good already, so it is not melted down.
    double first_heat(const std::vector<std::uint32_t>& cells, double window) {
        double sum = 0;
        int count = 0;
        for (int k = 0; k < 500; ++k) {
            const auto a = cells[random_() % cells.size()];
            touch(a, no_id);
            const auto from = points_[a];
            const auto moved = [&](int middle, int limit) {
                const int by =
                    static_cast<int>(random_() % static_cast<unsigned>(2 * window + 1)) - static_cast<int>(window);
                return static_cast<std::int16_t>(std::clamp(middle + by, 0, limit - 1));
            };
            points_[a].x = moved(from.x, part_.fabric.columns);
            points_[a].y = moved(from.y, part_.fabric.rows);
            sum += std::abs(change());
            ++count;
            points_[a] = from;
        }
        return 0.5 * sum / count;
    }

    const Netlist& n_;
    const Library& library_;
    const Part& part_;
    const PlaceSettings& settings_;
    std::mt19937 random_;
    std::vector<NetBox> boxes_;
    std::vector<CellKind> kind_, column_kind_;
    std::vector<Spot> spots_;
    struct Point {
        std::int16_t x = 0, y = 0;
    };
    std::vector<std::uint32_t> net_start_, cells_of_;  ///< cells by net
    std::vector<Point> points_;  ///< column and row of spots_, close together: costs read little else
    std::vector<std::vector<std::uint32_t>> nets_of_;
    std::vector<std::vector<float>> weight_;
    std::vector<std::uint32_t> stamp_;
    std::uint32_t stamp_now_ = 0;
    std::vector<double> cost_, fresh_;  ///< of nets as they lie; of the touched ones as they would
    std::vector<std::uint32_t> touched_;
    std::vector<Site> sites_[kinds];
    std::vector<std::uint32_t> taken_[kinds];
    std::vector<double> x_, y_;
};

}  // namespace

Result<Placement> place_cells(const Netlist& netlist, const Library& library, const Part& part,
                              const std::map<std::string, std::string>& pin_of, const PlaceSettings& settings) {
    return Placer(netlist, library, part, settings).run(pin_of);
}

long long wirelength_of(const Netlist& netlist, const Library& library, const std::vector<Spot>& spots) {
    long long out = 0;
    for (const auto& box : boxes_of(netlist, library))
        if (box.counts) out += half_box(box, spots);
    return out;
}

}  // namespace kp::fabric
