// SPDX-License-Identifier: GPL-3.0-or-later
// SDF values onto arcs and checks (IEEE 1497). Early takes one member of each triple, late another; a member that is
// absent leaves the earlier value.
#include "core/base/text.hpp"
#include "core/timing/graph.hpp"

#include <algorithm>
#include <cmath>
#include <unordered_map>

namespace kp::timing {

namespace {

class Annotator {
public:
    Annotator(Graph& g, const DelayFile& file, const TimingOptions& options) : g_(g), file_(file), member_{options.early_member, options.late_member} {
        const auto& n = *g.netlist;
        for (std::uint32_t i = 0; i < n.cell_names.size(); ++i) cells_.emplace(n.cell_names[i], i);
        for (NodeId i = 0; i < g.nodes; ++i) nodes_.emplace(g.name(i), i);
        for (std::uint32_t i = 0; i < g.checks.size(); ++i) checks_of_.emplace(n.pins[g.checks[i].data].cell, i);
    }

    void run() {
        for (const auto& e : file_.entries) {
            if (e.kind == DelayEntry::interconnect || e.kind == DelayEntry::port) wire(e);
            else if (e.instance == "*") wildcard(e);
            else if (const auto at = cells_.find(e.instance); at != cells_.end()) cell(e, at->second);
            else miss(e, "There is no instance '" + e.instance + "' in the netlist.");
        }
    }

private:
    void miss(const DelayEntry& e, std::string text) {
        if (misses_++ < 20) g_.messages.push_back({Severity::caution, "sdf", std::move(text), file_.file, e.line, 0});
    }

    void put(Arc& a, int in, int out, const Triple& t, bool increment) {
        for (const int side : {early, late}) {
            const double v = t[static_cast<size_t>(member_[side])];
            double& d = a.delay[side][in][out];
            if (std::isnan(v) || std::isnan(d)) continue;
            d = increment ? d + v : v;
            a.annotated[side][in][out] = true;
        }
    }

    void wildcard(const DelayEntry& e) {
        const auto& n = *g_.netlist;
        for (std::uint32_t c = 0; c < n.cells.size(); ++c)
            if (n.type_of(c) == e.cell_type) cell(e, c);
    }

    void wire(const DelayEntry& e) {
        const std::string prefix = e.instance.empty() ? "" : e.instance + "/";
        const auto to = nodes_.find(prefix + e.to);
        const auto from = e.kind == DelayEntry::port ? to : nodes_.find(prefix + e.from);
        if (to == nodes_.end() || from == nodes_.end()) return miss(e, "There is no pin '" + prefix + (to == nodes_.end() ? e.to : e.from) + "' in the netlist.");
        bool found = false;
        for (auto i = g_.fanin_start[to->second]; i < g_.fanin_start[to->second + 1]; ++i) {
            auto& a = g_.arcs[g_.fanin[i]];
            if (a.kind != Arc::net || (e.kind == DelayEntry::interconnect && a.from != from->second)) continue;
            put(a, rise, rise, e.rise, e.increment);
            put(a, fall, fall, e.fall, e.increment);
            found = true;
        }
        if (!found) miss(e, "No wire leads from '" + e.from + "' to '" + e.to + "'.");
    }

    void cell(const DelayEntry& e, std::uint32_t id) {
        if (e.kind == DelayEntry::iopath || e.kind == DelayEntry::device) return path(e, id);
        if (e.kind == DelayEntry::width || e.kind == DelayEntry::period) return pulse(e, id);
        const bool setup_like = e.kind == DelayEntry::setup || e.kind == DelayEntry::recovery;
        const bool asynchronous = e.kind == DelayEntry::recovery || e.kind == DelayEntry::removal;
        const double v = e.rise[static_cast<size_t>(member_[setup_like ? late : early])];
        const auto [first, last] = checks_of_.equal_range(id);
        for (auto at = first; at != last; ++at) {
            auto& c = g_.checks[at->second];
            const auto& n = *g_.netlist;
            const bool same = c.setup_like == setup_like && c.asynchronous == asynchronous && n.pin_names[n.pins[c.data].name] == e.from && n.pin_names[n.pins[c.clock].name] == e.to;
            const bool edge = e.to_edge == 0 || (e.to_edge == 'p') == (c.clock_edge == rise);
            if (!same || !edge || std::isnan(v)) continue;
            if (!e.condition.empty() && e.condition != stripped(c.library->sdf_cond)) continue;
            if (e.from_edge != 'n') c.annotated[rise] = v;
            if (e.from_edge != 'p') c.annotated[fall] = v;
        }
    }

    void pulse(const DelayEntry& e, std::uint32_t id) {
        const double v = e.rise[static_cast<size_t>(member_[late])];
        const auto& n = *g_.netlist;
        const auto& cell = n.cells[id];
        for (auto p = cell.first_pin; p < cell.first_pin + cell.pin_count && !std::isnan(v); ++p) {
            if (n.pin_names[n.pins[p].name] != e.from) continue;
            auto at = std::find_if(g_.pulse_limits.begin(), g_.pulse_limits.end(), [&](const PulseLimit& l) { return l.pin == p; });
            if (at == g_.pulse_limits.end()) at = g_.pulse_limits.insert(at, PulseLimit{p, {0, 0}, 0});
            if (e.kind == DelayEntry::period) at->period = v;
            else if (e.from_edge != 'n') at->width[0] = v;
            if (e.kind == DelayEntry::width && e.from_edge != 'p') at->width[1] = v;
        }
    }

    static std::string stripped(const std::string& text) {
        std::string out;
        for (const char c : text)
            if (c != ' ' && c != '\t') out += c;
        return out;
    }

    void path(const DelayEntry& e, std::uint32_t id) {
        const auto& n = *g_.netlist;
        const auto& cell = n.cells[id];
        bool found = false;
        for (auto p = cell.first_pin; p < cell.first_pin + cell.pin_count; ++p) {
            const bool wanted = n.pin_names[n.pins[p].name] == e.to || (e.kind == DelayEntry::device && e.to.empty());
            if (!wanted) continue;
            for (auto i = g_.fanin_start[p]; i < g_.fanin_start[p + 1]; ++i) {
                auto& a = g_.arcs[g_.fanin[i]];
                if (a.kind == Arc::net || (e.kind == DelayEntry::iopath && n.pin_names[n.pins[a.from].name] != e.from)) continue;
                if (!e.condition.empty() && e.condition != stripped(a.library->sdf_cond)) continue;
                found = true;
                for (const int in : {rise, fall}) {
                    if ((e.from_edge == 'p' && in == fall) || (e.from_edge == 'n' && in == rise)) continue;
                    put(a, in, rise, e.rise, e.increment);
                    put(a, in, fall, e.fall, e.increment);
                }
            }
        }
        if (!found && e.condition.empty()) miss(e, "Cell " + n.cell_names[id] + " has no path from '" + e.from + "' to '" + e.to + "'.");
    }

    Graph& g_;
    const DelayFile& file_;
    int member_[2];
    int misses_ = 0;
    std::unordered_map<std::string, std::uint32_t> cells_;
    std::unordered_map<std::string, NodeId> nodes_;
    std::unordered_multimap<std::uint32_t, std::uint32_t> checks_of_;
};

}  // namespace

void annotate(Graph& graph, const DelayFile& delays, const TimingOptions& options) { Annotator(graph, delays, options).run(); }

}  // namespace kp::timing
