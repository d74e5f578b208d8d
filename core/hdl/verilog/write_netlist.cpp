// SPDX-License-Identifier: GPL-3.0-or-later
// Nets get one name each, that of a port first, so that a text needs no wire beside a port; other ports of a net follow
// by `assign`. Pins of a bus are written together. Two passes over the pins; nothing can fail.
#include "core/hdl/verilog/write_netlist.hpp"

#include "core/base/reserved_words.hpp"
#include "core/hdl/verilog/scan.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <unordered_map>
#include <unordered_set>

namespace kp::verilog {

namespace {

bool plain(const std::string& name) {
    if (name.empty() || !verilog::Scanner::begins_name(name[0])) return false;
    return std::all_of(name.begin(), name.end(), [](char c) { return verilog::Scanner::is_in_name(c); }) &&
           !is_verilog_word(name);
}

class Writer {
public:
    Writer(const Netlist& n, const Library& library) : n_(n), library_(library), net_(n.net_names.size()) {}

    std::string run() {
        name_nets();
        ports();
        for (const auto& wire : wires_) head_ += said("  wire {};\n", wire);
        std::string cells;
        for (std::uint32_t c = 0; c < n_.cells.size(); ++c) cell(c, cells);
        return head_ + "\n" + joined_ + cells + "endmodule\n";
    }

private:
    static std::string bit_text(const Port& p) {
        return written_name(p.bus) + (p.index < 0 ? "" : "[" + std::to_string(p.index) + "]");
    }

    /// A net is called as the port that drives it, else as a port that shows it, else as it was, unless a port has that
    /// name.
    void name_nets() {
        for (int v = 0; v < 2; ++v)
            if (n_.constant_net[v] != no_id) net_[n_.constant_net[v]] = v ? "1'b1" : "1'b0";
        std::unordered_set<std::string> taken;
        for (const auto& p : n_.ports) taken.insert(p.bus);
        for (const bool drives : {true, false})
            for (const auto& p : n_.ports)
                if (p.net != no_id && (p.direction != Direction::out) == drives && net_[p.net].empty())
                    net_[p.net] = bit_text(p);
        for (size_t k = 0; k < net_.size(); ++k) {
            if (!net_[k].empty()) continue;
            auto name = n_.net_names[k];
            while (!taken.insert(name).second) name += "_";
            net_[k] = written_name(name);
            wires_.push_back(net_[k]);
        }
    }

    void ports() {
        std::string names, lines;
        for (size_t i = 0; i < n_.ports.size();) {
            const auto& first = n_.ports[i];
            size_t k = i;
            for (; k < n_.ports.size() && n_.ports[k].bus == first.bus; ++k)
                if (const auto& p = n_.ports[k]; p.net != no_id && net_[p.net] != bit_text(p))
                    joined_ += said("  assign {} = {};\n", bit_text(p), net_[p.net]);
            names += (names.empty() ? "" : ", ") + written_name(first.bus);
            lines += std::string("  ") + (first.direction == Direction::in    ? "input"
                                          : first.direction == Direction::out ? "output"
                                                                              : "inout");
            if (first.index >= 0) lines += said(" [{}:{}]", first.index, n_.ports[k - 1].index);
            lines += said(" {};\n", written_name(first.bus));
            i = k;
        }
        head_ = said("// Made by the stand-in builder of Kite Peg, for made-up parts.\nmodule {} ({});\n{}\n",
                     written_name(n_.top), names, lines);
    }

    void cell(std::uint32_t c, std::string& out) const {
        const auto& instance = n_.cells[c];
        const auto& type = *library_.cell(n_.type_of(c));
        std::unordered_map<std::string_view, std::string_view> nets;
        for (auto p = instance.first_pin; p < instance.first_pin + instance.pin_count; ++p)
            if (n_.pins[p].net != no_id) nets[n_.pin_names[n_.pins[p].name]] = net_[n_.pins[p].net];
        out += said("  {}{} {} (", type.name, parameters(c), written_name(n_.cell_names[c]));
        std::unordered_set<const LibraryCell::Bus*> buses;
        bool any = false;
        for (auto p = instance.first_pin; p < instance.first_pin + instance.pin_count; ++p) {
            const auto& name = n_.pin_names[n_.pins[p].name];
            const auto* bus = bus_of(type, name);
            if (bus && !buses.insert(bus).second) continue;
            const auto at = nets.find(name);
            const auto text = bus ? together(*bus, nets) : at == nets.end() ? std::string() : std::string(at->second);
            out += (any ? ", ." : ".") + (bus ? bus->name : name) + "(" + text + ")";
            any = true;
        }
        out += ");\n";
    }

    static const LibraryCell::Bus* bus_of(const LibraryCell& cell, const std::string& pin) {
        for (const auto& bus : cell.buses)
            if (std::find(bus.bits.begin(), bus.bits.end(), pin) != bus.bits.end()) return &bus;
        return nullptr;
    }

    static std::string together(const LibraryCell::Bus& bus,
                                const std::unordered_map<std::string_view, std::string_view>& nets) {
        std::string out = "{";
        for (size_t k = 0; k < bus.bits.size(); ++k) {
            const auto at = nets.find(bus.bits[k]);
            out += (k ? ", " : "") + std::string(at == nets.end() ? "1'bz" : at->second);
        }
        return out + "}";
    }

    std::string parameters(std::uint32_t c) const {
        std::string out;
        for (auto k = n_.cells[c].parameter; k < n_.parameters.size() && n_.parameters[k].cell == c; ++k)
            out += (out.empty() ? " #(." : ", .") + n_.parameters[k].name + "(" + n_.parameters[k].value + ")";
        return out.empty() ? out : out + ")";
    }

    const Netlist& n_;
    const Library& library_;
    std::vector<std::string> net_, wires_;  ///< as they are written
    std::string head_, joined_;
};

}  // namespace

std::string written_name(const std::string& name) {
    return plain(name) ? name : said("\\{} ", name);
}

std::string write_netlist(const Netlist& netlist, const Library& library) {
    return Writer(netlist, library).run();
}

}  // namespace kp::verilog
