// SPDX-License-Identifier: GPL-3.0-or-later
// One entry a wire, one block a cell, in the order of the netlist. Linear in pins and arcs.
#include "core/fabric/delays_out.hpp"
#include "core/format/sdf/write.hpp"

#include <charconv>
#include <cmath>
#include <cstdio>
#include <cstdlib>

namespace kp::fabric {

namespace {

constexpr double transition_ns = 0.1;

/// min, typ and max of a delay, to 0.1 ps, which is what a file of them has: an engine that is asked with these says
/// what it says of the file.
Triple triple(double slow, const WireModel& m) {
    const auto rounded = [](double ns) {
        char text[40];
        const int size = std::snprintf(text, sizeof text, "%.4f", ns);
        double out = ns;
        std::from_chars(text, text + size, out);
        return out;
    };
    return {rounded(slow * m.fast), rounded(slow * m.typical), rounded(slow)};
}

/// A share between 0 and 1 that only depends on the name: where in its spread a clock wire lies.
double share_of(const std::string& name) {
    std::uint64_t h = 1469598103934665603ULL;
    for (const char c : name) h = (h ^ static_cast<unsigned char>(c)) * 1099511628211ULL;
    return static_cast<double>((h >> 20) % 1001) / 1000.0;
}

class DelayMaker {
public:
    DelayMaker(const Netlist& n, const Library& library, const std::vector<Spot>& spots, const WireModel& m,
               DelaySink& out)
        : n_(n),
          library_(library),
          spots_(spots),
          m_(m),
          driver_(n.net_names.size(), no_id),
          load_(n.net_names.size(), 0),
          out_(out) {
        for (std::uint32_t p = 0; p < n.pins.size(); ++p) {
            const auto net = n.pins[p].net;
            const auto* pin = library_pin(p);
            if (net == no_id || !pin) continue;
            if (pin->direction == Direction::out)
                driver_[net] = p;
            else
                load_[net] += pin->capacitance;
        }
    }

    void run() {
        for (std::uint32_t p = 0; p < n_.pins.size(); ++p) wire(p);
        for (std::uint32_t c = 0; c < n_.cells.size(); ++c) cell(c);
    }

private:
    const LibraryPin* library_pin(std::uint32_t p) const {
        const auto* lib = library_.cell(n_.type_of(n_.pins[p].cell));
        const int k = lib->pin(n_.pin_names[n_.pins[p].name]);
        return k < 0 ? nullptr : &lib->pins[static_cast<size_t>(k)];
    }

    void wire(std::uint32_t p) {
        const auto net = n_.pins[p].net;
        const auto* pin = library_pin(p);
        if (net == no_id || !pin || pin->direction == Direction::out || driver_[net] == no_id) return;
        const auto from = driver_[net];
        const auto* root = library_.cell(n_.type_of(n_.pins[from].cell));
        const double slow = kind_of(*root) == CellKind::root
                                ? (m_.clock + m_.clock_skew * share_of(n_.cell_names[n_.pins[p].cell])) * m_.factor
                                : wire_ns(m_, spots_[n_.pins[from].cell], spots_[n_.pins[p].cell]);
        const auto source = n_.pin_name(from), sink = n_.pin_name(p);
        DelayEntry e;
        e.kind = DelayEntry::interconnect;
        e.cell_type = n_.top;
        e.from = source;
        e.to = sink;
        e.rise = e.fall = triple(slow, m_);
        out_.take(e);
    }

    void cell(std::uint32_t c) {
        const auto& type = n_.type_of(c);
        const auto* lib = library_.cell(type);
        const auto& instance = n_.cells[c];
        for (const auto& arc : lib->arcs) {
            const bool path = arc.is_delay() || arc.kind == ArcKind::clear || arc.kind == ArcKind::preset;
            if (!path || (arc.delay[0].empty() && arc.delay[1].empty())) continue;
            double load = 0;
            bool there = false, from_there = false;
            for (auto p = instance.first_pin; p < instance.first_pin + instance.pin_count; ++p) {
                const auto& pin = n_.pin_names[n_.pins[p].name];
                from_there |= pin == lib->pins[arc.from].name;
                if (pin != lib->pins[arc.to].name) continue;
                there = true;
                if (n_.pins[p].net != no_id) load = load_[n_.pins[p].net];
            }
            if (!there || !from_there) continue;
            const auto slow = [&](int edge) {
                return std::max(0.0, arc.delay[edge].empty() ? 0.0 : arc.delay[edge].at(transition_ns, load)) *
                       m_.factor;
            };
            DelayEntry e;
            e.cell_type = type;
            e.instance = n_.cell_names[c];
            e.from = lib->pins[arc.from].name;
            e.to = lib->pins[arc.to].name;
            if (arc.kind == ArcKind::rising_edge) e.from_edge = 'p';
            if (arc.kind == ArcKind::falling_edge) e.from_edge = 'n';
            e.rise = triple(slow(0), m_);
            e.fall = triple(slow(1), m_);
            out_.take(e);
        }
    }

    const Netlist& n_;
    const Library& library_;
    const std::vector<Spot>& spots_;
    const WireModel& m_;
    std::vector<std::uint32_t> driver_;
    std::vector<double> load_;
    DelaySink& out_;
};

}  // namespace

WireModel wire_model(const Part& part, const std::string& speed) {
    const auto& f = part.fabric;
    WireModel m{f.base_ns, f.per_column_ns, f.per_row_ns,    f.clock_ns, f.clock_skew_ns,
                1,         f.fast_factor,   f.typical_factor};
    for (const auto& [code, factor] : f.speeds)
        if (code == speed) m.factor = factor;
    return m;
}

double wire_ns(const WireModel& m, const Spot& from, const Spot& to) {
    return (m.base + m.per_column * std::abs(to.column - from.column) + m.per_row * std::abs(to.row - from.row)) *
           m.factor;
}

void delays_of(const Netlist& netlist, const Library& library, const std::vector<Spot>& spots, const WireModel& model,
               DelaySink& out) {
    DelayMaker(netlist, library, spots, model, out).run();
}

std::string write_delays(const Netlist& netlist, const Library& library, const std::vector<Spot>& spots,
                         const WireModel& model) {
    SdfWriter out(netlist.top, "Kite Peg, stand-in builder for made-up parts");
    delays_of(netlist, library, spots, model, out);
    return out.finish();
}

}  // namespace kp::fabric
