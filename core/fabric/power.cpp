// SPDX-License-Identifier: GPL-3.0-or-later
// P = a C V^2 f per net, a the share of clock cycles in which it changes, halved since only a rise takes charge from
// the supply (N. Weste and D. Harris, "CMOS VLSI Design", 4th edition, 5.2.2). A net follows the clock of the registers
// that feed it; through logic the fastest one counts. Linear in pins.
#include "core/fabric/power.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cmath>
#include <cstdio>

namespace kp::fabric {

namespace {

constexpr double activity = 0.125, wire_pf_per_site = 0.012, inner_pf = 0.010, memory_pf = 6.0,
                 static_uw_per_cell = 1.6, outside_pf = 10.0, usual_pad_volts = 3.3;

std::string text_of(double v) {
    char text[32];
    std::snprintf(text, sizeof text, "%g", v);
    return text;
}

/// Changes of a net per microsecond: as simulated, else so many of each clock cycle.
double changes_at(const PowerInput& in, std::uint32_t net, double mhz) {
    return net < in.changes.size() && in.changes[net] >= 0 ? in.changes[net] : activity * mhz;
}

/// MHz of a net's own clock; `fastest` where that is not known.
double mhz_of(const PowerInput& in, std::uint32_t net, double fastest) {
    return net < in.net_mhz.size() && in.net_mhz[net] > 0 ? in.net_mhz[net] : fastest;
}

/// MHz of the fastest clock that a cell's pins know of.
double fastest_of_cell(const Netlist& n, std::uint32_t c, const PowerInput& in, double fastest) {
    double out = 0;
    for (auto p = n.cells[c].first_pin; p < n.cells[c].first_pin + n.cells[c].pin_count; ++p)
        if (n.pins[p].net < in.net_mhz.size()) out = std::max(out, in.net_mhz[n.pins[p].net]);
    return out > 0 ? out : fastest;
}

/// Load and box of each net, and what drives it.
struct NetLoads {
    std::vector<double> load;
    std::vector<int> left, right, low, high;
    std::vector<CellKind> driven_by;
    std::vector<std::uint32_t> driver;

    NetLoads(const Netlist& n, const Library& library, const std::vector<Spot>& spots)
        : load(n.net_names.size(), 0),
          left(n.net_names.size(), 1 << 20),
          right(n.net_names.size(), -(1 << 20)),
          low(left),
          high(right),
          driven_by(n.net_names.size(), CellKind::look_up),
          driver(n.net_names.size(), no_id) {
        for (const auto& p : n.pins) {
            const auto* lib = library.cell(n.type_of(p.cell));
            const int k = lib->pin(n.pin_names[p.name]);
            if (p.net == no_id || k < 0) continue;
            const auto& pin = lib->pins[static_cast<size_t>(k)];
            if (pin.direction == Direction::out) {
                driven_by[p.net] = kind_of(*lib);
                driver[p.net] = p.cell;
            } else if (!pin.is_pad)
                load[p.net] += pin.capacitance;
            const auto& s = spots[p.cell];
            left[p.net] = std::min(left[p.net], s.column);
            right[p.net] = std::max(right[p.net], s.column);
            low[p.net] = std::min(low[p.net], s.row);
            high[p.net] = std::max(high[p.net], s.row);
        }
    }
    [[nodiscard]] bool there(std::uint32_t net) const { return right[net] >= left[net]; }
    [[nodiscard]] double sites(std::uint32_t net) const { return right[net] - left[net] + high[net] - low[net]; }
};

/// The instance that a cell lies in, by its name as the mapper joins them.
std::string module_of(const std::string& cell) {
    const auto cut = cell.rfind("__");
    return cut == std::string::npos ? std::string() : cell.substr(0, cut);
}

/// Of all pads that drive: the capacitance outside and their own, at the supply of their port.
double pads_w(const Netlist& n, const Library& library, const PowerInput& in, double fastest,
              std::map<std::string, double>& banks) {
    std::unordered_map<std::uint32_t, double> volts;
    std::unordered_map<std::uint32_t, std::string> bank;
    for (const auto& port : n.ports) {
        if (const auto at = in.pad_volts.find(port.name); at != in.pad_volts.end()) volts[port.net] = at->second;
        if (const auto at = in.banks.find(port.name); at != in.banks.end()) bank[port.net] = at->second;
    }
    double out = 0;
    for (const auto& p : n.pins) {
        const auto* lib = library.cell(n.type_of(p.cell));
        const int k = lib->pin(n.pin_names[p.name]);
        if (k < 0 || kind_of(*lib) != CellKind::pad) continue;
        const auto& pin = lib->pins[static_cast<size_t>(k)];
        if (!pin.is_pad || pin.direction == Direction::in) continue;
        const auto at = volts.find(p.net);
        const double v = at == volts.end() ? usual_pad_volts : at->second;
        const double w =
            0.5 * changes_at(in, p.net, mhz_of(in, p.net, fastest)) * (outside_pf + pin.capacitance) * v * v * 1e-6;
        const auto where = bank.find(p.net);
        banks[where == bank.end() ? "no bank" : where->second] += w;
        out += w;
    }
    return out;
}

std::string advice(const PowerReport& r) {
    const auto most = std::max_element(r.groups.begin(), r.groups.end(),
                                       [](const auto& a, const auto& b) { return a.second < b.second; });
    if (r.static_w >= most->second) return "static power dominates; a smaller part lowers it";
    if (most->first == "pad") return "pads dominate; fewer or slower outputs, or a lower supply, lower it";
    return most->first + " power dominates; a slower clock or less activity lowers it";
}

}  // namespace

std::vector<double> changes_of(const Netlist& netlist, const vcd::Dump& dump) {
    std::vector<double> out(netlist.net_names.size(), -1);
    std::unordered_map<std::string, std::uint32_t> nets;
    for (std::uint32_t n = 0; n < netlist.net_names.size(); ++n) {
        auto name = netlist.net_names[n];
        std::replace(name.begin(), name.end(), ' ', '_');
        nets.emplace(std::move(name), n);
    }
    // Bits of a bus are nets of their own in a netlist.
    std::vector<std::vector<std::uint32_t>> of(dump.variables.size());
    for (size_t s = 0; s < dump.variables.size(); ++s) {
        const auto& signal = dump.variables[s];
        for (int k = 0; k < signal.width; ++k) {
            const int index = signal.left >= signal.right ? signal.left - k : signal.left + k;
            const auto at = nets.find(signal.has_range ? signal.name + "[" + std::to_string(index) + "]" : signal.name);
            of[s].push_back(at == nets.end() ? no_id : at->second);
            if (at != nets.end()) out[at->second] = 0;
        }
    }
    std::vector<std::string> last(dump.variables.size());
    for (const auto& c : dump.changes) {
        auto& before = last[c.signal];
        for (size_t k = 0; k < c.value.size(); ++k)
            if (of[c.signal][k] != no_id && before.size() == c.value.size() && before[k] != c.value[k])
                out[of[c.signal][k]] += 1;
        before = c.value;
    }
    const double us = static_cast<double>(dump.end) / 1e9;
    for (auto& n : out)
        if (n > 0 && us > 0) n /= us;
    return out;
}

PowerReport power_of(const Netlist& n, const Library& library, const Part& part, const std::vector<Spot>& spots,
                     const PowerInput& in) {
    PowerReport out;
    double fastest = 0;
    for (const double mhz : in.net_mhz) fastest = std::max(fastest, mhz);
    const bool no_clock = fastest == 0;
    if (no_clock) fastest = 50;
    const NetLoads nets(n, library, spots);
    double clock = 0, logic = 0, wire = 0, memory = 0;
    // 1 pF * 1 V^2 * 1 MHz is 1 uW.
    const double uw = in.core_volts * in.core_volts * 1e-6;
    for (std::uint32_t net = 0; net < n.net_names.size(); ++net) {
        if (!nets.there(net) || net == n.constant_net[0] || net == n.constant_net[1]) continue;
        const double own_wire = wire_pf_per_site * nets.sites(net);
        if (nets.driven_by[net] == CellKind::root) {
            clock += (nets.load[net] + own_wire) * mhz_of(in, net, fastest) * uw;
            continue;
        }
        const double changes = changes_at(in, net, mhz_of(in, net, fastest));
        const double of_wire = 0.5 * changes * own_wire * uw,
                     of_logic = 0.5 * changes * (nets.load[net] + inner_pf) * uw;
        wire += of_wire;
        logic += of_logic;
        out.modules[nets.driver[net] == no_id ? "" : module_of(n.cell_names[nets.driver[net]])] += of_wire + of_logic;
    }
    for (std::uint32_t c = 0; c < n.cells.size(); ++c)
        if (kind_of(*library.cell(n.type_of(c))) == CellKind::memory) {
            const double w = 0.5 * memory_pf * fastest_of_cell(n, c, in, fastest) * uw;
            memory += w;
            out.modules[module_of(n.cell_names[c])] += w;
        }
    out.static_w = static_uw_per_cell * 1e-6 * static_cast<double>(part.resources.logic_cells);
    out.groups = {{"clock", clock},
                  {"logic", logic},
                  {"wire", wire},
                  {"pad", pads_w(n, library, in, fastest, out.banks)},
                  {"memory", memory}};
    out.total_w = out.static_w;
    for (const auto& [name, w] : out.groups) out.total_w += w;
    const char* clock_from = no_clock ? "assumed: no constraint gives a clock"
                                      : "the fastest; each net counts at the rate of the clock that launches it";
    const auto known = std::count_if(in.changes.begin(), in.changes.end(), [](double c) { return c >= 0; });
    if (known > 0)
        out.assumed.push_back({said("activity of {} of {}", known, counted(in.changes.size(), "net")), "as simulated",
                               "from " + in.changes_from});
    const std::vector<PowerReport::Assumed> rest{
        {known > 0 ? "activity of the others" : "activity", text_of(activity),
         "assumed: a net changes in one of eight clock cycles"},
        {"core voltage (V)", text_of(in.core_volts), "assumed, as the library is made for"},
        {"clock (MHz)", text_of(fastest), clock_from},
        {"wire (pF per slot group)", text_of(wire_pf_per_site), "assumed, made-up part"},
        {"inside a cell (pF)", text_of(inner_pf), "assumed, made-up part"},
        {"memory, each access (pF)", text_of(memory_pf), "assumed, made-up part"},
        {"load outside of an output (pF)", text_of(outside_pf), "assumed"},
        {"supply of a pad without a standard (V)", text_of(usual_pad_volts), "assumed"},
        {"static power per logic cell (uW)", text_of(static_uw_per_cell), "assumed, made-up part"}};
    out.assumed.insert(out.assumed.end(), rest.begin(), rest.end());
    out.dominates = advice(out);
    return out;
}

}  // namespace kp::fabric
