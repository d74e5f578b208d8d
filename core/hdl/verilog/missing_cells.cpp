// SPDX-License-Identifier: GPL-3.0-or-later
// One pass over the instances; those of one type mostly follow each other, so the last one is asked first. Pins that
// are connected by order have no name and are left to who knows the order.
#include "core/hdl/verilog/missing_cells.hpp"

#include <algorithm>
#include <set>

namespace kp::verilog {

namespace {

int width_of(const Module& m, const Expression& e) {
    int width = 0;
    for (auto i = e.first; i < e.first + e.count; ++i) {
        const auto& s = m.slices[i];
        if (s.kind == Slice::whole)
            width += m.nets[s.item].width();
        else if (s.kind == Slice::part)
            width += std::abs(s.left - s.right) + 1;
        else
            width += static_cast<int>(m.constants[s.item].size());
    }
    return width;
}

}  // namespace

CellPins missing_cells(const std::vector<Module>& modules, const Library& library) {
    constexpr int widest = 4096;
    std::set<std::string_view> known;
    for (const auto& m : modules) known.insert(m.name);
    CellPins out;
    std::string_view last;
    std::set<std::string>* pins = nullptr;
    for (const auto& m : modules) {
        if (m.set_aside) continue;
        for (const auto& instance : m.instances) {
            if (instance.type != last) {
                last = instance.type;
                const std::string type(last);
                pins = known.contains(last) || library.cell(type) ? nullptr : &out[type];
            }
            for (std::uint32_t i = 0; pins && i < instance.connections; ++i) {
                const auto& c = m.connections[instance.first_connection + i];
                if (c.pin == no_id) continue;
                const auto name = std::string(m.pin_names[c.pin]);
                const int width = std::min(widest, c.open ? 1 : width_of(m, c.value));
                if (width == 1) pins->insert(name);
                for (int bit = 0; bit < width && width > 1; ++bit) pins->insert(name + "[" + std::to_string(bit) + "]");
            }
        }
    }
    return out;
}

}  // namespace kp::verilog
