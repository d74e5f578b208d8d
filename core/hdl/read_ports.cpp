// SPDX-License-Identifier: GPL-3.0-or-later
// Sorts sources by language, lets the two readers find their headers, and chooses the top: named, or the only one
// that nobody uses. Linear in the text.
#include "core/hdl/read_ports.hpp"

#include "core/base/bytes.hpp"
#include "core/base/text.hpp"
#include "core/hdl/verilog/headers.hpp"
#include "core/hdl/vhdl/headers.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cmath>

namespace kp {

using hdl::Header;
using hdl::Headers;

bool is_vhdl(const SourceText& source) {
    const auto name = lower(source.file);
    if (name.ends_with(".vhd") || name.ends_with(".vhdl")) return true;
    if (name.ends_with(".v") || name.ends_with(".sv") || name.ends_with(".vh") || name.ends_with(".svh")) return false;
    const auto text = lower(source.text.substr(0, 1 << 20));
    const auto entity = text.find("entity ");
    return entity != std::string::npos && text.find(" is", entity) != std::string::npos &&
           text.find("endmodule") == std::string::npos;
}

namespace {

bool same_name(const Header& h, const std::string& name) {
    return h.language == "vhdl" ? lower(h.name) == lower(name) : h.name == name;
}

/// Headers nobody else uses; those with ports apart from those without.
struct Candidates {
    std::vector<const Header*> tops, bare;
};
Candidates candidates(const std::vector<Header>& all) {
    std::set<std::string> used;
    for (const auto& h : all)
        for (const auto& name : h.uses)
            if (!same_name(h, name)) used.insert(h.language == "vhdl" ? lower(name) : name);
    Candidates out;
    for (const auto& h : all) {
        if (!h.has_ports)
            out.bare.push_back(&h);
        else if (!used.contains(h.language == "vhdl" ? lower(h.name) : h.name) && !used.contains(lower(h.name)))
            out.tops.push_back(&h);
    }
    return out;
}

/// A test bench (no ports) that uses a module must not hide it from being the top.
std::vector<Header> without_bare_users(std::vector<Header> all) {
    for (auto& h : all)
        if (!h.has_ports) h.uses.clear();
    return all;
}

Message no_top(const std::string& text, const std::string& file) {
    return {Severity::stop, Code::top, text, file};
}

Result<Header> choose(const Headers& read, const std::string& wanted, const std::string& file,
                      std::vector<Message>& notes) {
    std::vector<std::string> names;
    for (const auto& h : read.all) names.push_back(h.name);
    if (names.empty()) return no_top("There is no module and no entity in the given text.", file);
    if (!wanted.empty()) {
        for (const auto& h : read.all)
            if (h.name == wanted) return h;
        for (const auto& h : read.all)
            if (same_name(h, wanted)) return h;
        return no_top(
            said("There is no module '{}'; the text has {}.{}", wanted, list_names(names), did_you_mean(wanted, names)),
            file);
    }
    const auto all = without_bare_users(read.all);
    const auto found = candidates(all);
    if (found.tops.size() != 1) {
        std::vector<std::string> listed;
        for (const auto* h : found.tops) listed.push_back(h->name);
        if (listed.empty() && found.bare.size() == names.size())
            return no_top(
                said("No module of the text has ports: {}. They are for simulation only; give the file of the design.",
                     list_names(names, 6)),
                file);
        return no_top(said("Several modules could be the top: {}. Name one of them.",
                           list_names(listed.empty() ? names : listed, 6)),
                      file);
    }
    for (const auto* h : found.bare)
        notes.push_back(h->at(Severity::note, Code::simulation_only,
                              said("Module {} has no ports; it is taken as simulation only and set aside.", h->name)));
    return *found.tops.front();
}

}  // namespace

Result<PortList> read_ports(std::span<const SourceText> sources, const PortRequest& request) {
    std::vector<SourceText> verilog, vhdl;
    for (auto source : sources) {
        source.text = without_mark(source.text);
        (is_vhdl(source) ? vhdl : verilog).push_back(source);
    }
    Headers read;
    hdl::read_verilog_headers(verilog, request, read);
    hdl::read_vhdl_headers(vhdl, request, read);
    if (!read.errors.empty()) return read.errors;
    auto notes = read.notes;
    const std::string file = sources.empty() ? "" : sources[0].file;
    auto chosen = choose(read, request.top, file, notes);
    if (!chosen) return chosen.messages();
    auto& top = chosen.value();
    std::vector<Message> stops;
    if (top.untold > 0)
        notes.push_back(top.at(Severity::caution, Code::not_plannable,
                               said("{} of {} cannot be planned.", counted(top.untold, "more port"), top.name)));
    for (const auto& m : top.messages) (m.severity == Severity::stop ? stops : notes).push_back(m);
    for (const auto& [name, value] : request.parameters)
        if (!top.parameters.contains(name) && !(top.language == "vhdl" && top.parameters.contains(lower(name)))) {
            const std::vector<std::string> known(top.parameters.begin(), top.parameters.end());
            stops.push_back(top.at(Severity::stop, Code::parameter,
                                   said("{} has no parameter '{}'{}", top.name, name,
                                        (known.empty() ? "." : "; it has " + list_names(known, 8) + "."))));
        }
    double bits = 0;
    for (const auto& p : top.ports) bits += p.left ? std::abs(static_cast<double>(*p.left) - *p.right) + 1 : 1;
    // The largest package has some 2,000 user pins.
    if (bits > hdl::most_bits_of_all)
        stops.push_back(top.at(
            Severity::stop, Code::limit,
            said("{} has more than {} port bits; such a design is not planned.", top.name, hdl::most_bits_of_all)));
    if (!stops.empty()) return stops;
    return Result<PortList>(PortList{top.name, top.language, std::move(top.ports)}, std::move(notes));
}

std::vector<Port> port_bits(const PortList& list) {
    std::vector<Port> out;
    for (const auto& p : list.ports) {
        const auto direction = p.direction == "in"    ? Direction::in
                               : p.direction == "out" ? Direction::out
                                                      : Direction::inout;
        if (!p.left) {
            out.push_back({p.name, p.name, -1, direction, no_id});
            continue;
        }
        const int step = *p.left <= *p.right ? 1 : -1;
        for (int i = *p.left;; i += step) {
            out.push_back({p.name + "[" + std::to_string(i) + "]", p.name, i, direction, no_id});
            if (i == *p.right) break;
        }
    }
    return out;
}

}  // namespace kp
