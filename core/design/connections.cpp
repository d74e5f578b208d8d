// SPDX-License-Identifier: GPL-3.0-or-later
// Drivers and loads of every net in three flat arrays (a counting sort by net), made once; no look-up by name
// afterwards.
#include "core/design/connections.hpp"

#include "core/model/parameter.hpp"

#include <algorithm>

namespace kp::design {

namespace {
bool contains(const std::vector<std::string>& list, const std::string& name) {
    return std::find(list.begin(), list.end(), name) != list.end();
}
}  // namespace

Connections::Connections(const Netlist& n, const Library& l) : netlist(n), library(l) {
    for (const auto& name : n.types) types_.push_back(l.cell(name));
    // Position by type and name, looked up once for each pair.
    std::vector<std::vector<std::int16_t>> known(n.types.size());
    position_.resize(n.pins.size(), -1);
    driver_.assign(n.net_names.size(), no_id);
    start_.assign(n.net_names.size() + 1, 0);
    for (std::uint32_t p = 0; p < n.pins.size(); ++p) {
        const auto type = n.cells[n.pins[p].cell].type;
        if (!types_[type]) continue;
        auto& row = known[type];
        if (row.empty()) row.assign(n.pin_names.size(), -2);
        auto& at = row[n.pins[p].name];
        if (at == -2) at = static_cast<std::int16_t>(types_[type]->pin(n.pin_names[n.pins[p].name]));
        position_[p] = at;
        const auto net = n.pins[p].net;
        if (at < 0 || net == no_id) continue;
        const auto direction = types_[type]->pins[static_cast<size_t>(at)].direction;
        if (direction != Direction::in && (direction == Direction::out || driver_[net] == no_id)) driver_[net] = p;
        if (direction != Direction::out) ++start_[net + 1];
    }
    for (size_t i = 1; i < start_.size(); ++i) start_[i] += start_[i - 1];
    loads_.resize(start_.back());
    auto next = start_;
    for (std::uint32_t p = 0; p < n.pins.size(); ++p)
        if (const auto* lib = pin(p); lib && n.pins[p].net != no_id && lib->direction != Direction::out)
            loads_[next[n.pins[p].net]++] = p;
}

const LibraryPin* Connections::pin(std::uint32_t p) const {
    return position_[p] < 0 ? nullptr : &cell_of(p)->pins[static_cast<size_t>(position_[p])];
}

std::uint32_t Connections::pin_of(std::uint32_t cell, std::string_view name) const {
    const auto& c = netlist.cells[cell];
    for (auto p = c.first_pin; p < c.first_pin + c.pin_count; ++p)
        if (netlist.pin_names[netlist.pins[p].name] == name) return p;
    return no_id;
}

std::uint32_t Connections::net_of(std::uint32_t cell, std::string_view name) const {
    const auto p = pin_of(cell, name);
    return p == no_id ? no_id : netlist.pins[p].net;
}

bool Connections::is_clock_pin(std::uint32_t p) const {
    const auto* lib = pin(p);
    return lib && cell_of(p)->flip_flop && contains(cell_of(p)->clocked_on.inputs, lib->name);
}

bool Connections::is_async_pin(std::uint32_t p) const {
    const auto* lib = pin(p);
    return lib && cell_of(p)->flip_flop &&
           (contains(cell_of(p)->clear.inputs, lib->name) || contains(cell_of(p)->preset.inputs, lib->name));
}

bool Connections::is_data_pin(std::uint32_t p) const {
    const auto* lib = pin(p);
    return lib && cell_of(p)->flip_flop && contains(cell_of(p)->next_state.inputs, lib->name);
}

std::vector<std::uint32_t> Connections::outputs_after(std::uint32_t input) const {
    std::vector<std::uint32_t> out;
    const auto* in = pin(input);
    if (!in || cell_of(input)->flip_flop) return out;
    const auto& c = netlist.cells[netlist.pins[input].cell];
    for (auto p = c.first_pin; p < c.first_pin + c.pin_count; ++p) {
        const auto* lib = pin(p);
        if (!lib || p == input || lib->direction == Direction::in || netlist.pins[p].net == no_id) continue;
        if (lib->function.empty() ? !cell_of(p)->truth_table_parameter.empty()
                                  : contains(lib->function.inputs, in->name))
            out.push_back(p);
    }
    return out;
}

std::vector<std::uint32_t> Connections::inputs_before(std::uint32_t output) const {
    std::vector<std::uint32_t> out;
    const auto* lib = pin(output);
    if (!lib || cell_of(output)->flip_flop) return out;
    const auto& c = netlist.cells[netlist.pins[output].cell];
    for (auto p = c.first_pin; p < c.first_pin + c.pin_count; ++p) {
        const auto* in = pin(p);
        if (!in || p == output || in->direction == Direction::out || netlist.pins[p].net == no_id) continue;
        if (lib->function.empty() ? !cell_of(p)->truth_table_parameter.empty()
                                  : contains(lib->function.inputs, in->name))
            out.push_back(p);
    }
    return out;
}

std::vector<std::uint32_t> Connections::register_outputs(std::uint32_t cell) const {
    std::vector<std::uint32_t> out;
    const auto& c = netlist.cells[cell];
    for (auto p = c.first_pin; p < c.first_pin + c.pin_count; ++p)
        if (const auto* lib = pin(p); lib && lib->direction != Direction::in && netlist.pins[p].net != no_id)
            out.push_back(netlist.pins[p].net);
    return out;
}

int Connections::passes(std::uint32_t input) const {
    const auto after = outputs_after(input);
    if (after.size() != 1 || inputs_before(after[0]).size() != 1) return 0;
    const auto* lib = pin(after[0]);
    if (!lib->function.empty()) {
        const int sense = lib->function.inputs.size() == 1 ? lib->function.sense(0) : 0;
        return sense == 2 ? 0 : sense;
    }
    unsigned n = 0;
    const auto t = table(netlist.pins[input].cell, n);
    return !t || n != 1 ? 0 : (*t & 3) == 2 ? 1 : (*t & 3) == 1 ? -1 : 0;
}

std::optional<std::uint64_t> Connections::table(std::uint32_t cell, unsigned& inputs) const {
    const auto* lib = type(cell);
    if (!lib || lib->truth_table_parameter.empty()) return std::nullopt;
    inputs = 0;
    for (const auto& p : lib->pins) inputs += p.direction == Direction::in;
    const auto* text = parameter_of(netlist, cell, lib->truth_table_parameter);
    return text ? number_of(*text) : std::nullopt;
}

std::optional<bool> Connections::constant(std::uint32_t net) const {
    if (net == no_id) return std::nullopt;
    for (const int v : {0, 1})
        if (net == netlist.constant_net[v]) return v == 1;
    if (driver_[net] == no_id) return std::nullopt;
    const auto* lib = pin(driver_[net]);
    if (!lib->function.empty() && lib->function.inputs.empty()) return lib->function.eval(0);
    unsigned n = 0;
    const auto t = table(netlist.pins[driver_[net]].cell, n);
    if (!t || n > 6) return std::nullopt;
    const std::uint64_t all = n == 6 ? ~std::uint64_t{0} : (std::uint64_t{1} << (1u << n)) - 1;
    return (*t & all) == 0 ? std::optional<bool>(false) : (*t & all) == all ? std::optional<bool>(true) : std::nullopt;
}

}  // namespace kp::design
