// SPDX-License-Identifier: GPL-3.0-or-later
// Source, logic, memories, enables, look-ups, text: one after the other.
#include "core/synthesis/map.hpp"

#include "core/synthesis/emit.hpp"
#include "core/synthesis/tidy.hpp"
#include "core/hdl/source/parser.hpp"

#include <algorithm>

namespace kp::synthesis {

namespace {

constexpr int most_sweeps = 4;

void count_cells(MapAnswer& out) {
    // Cells stand one to a line, indented by two, type first.
    std::string_view rest = out.netlist;
    while (!rest.empty()) {
        const auto end = rest.find('\n');
        const auto line = rest.substr(0, end);
        rest = end == std::string_view::npos ? std::string_view() : rest.substr(end + 1);
        if (!line.starts_with("  ") || line.find('(') == std::string_view::npos) continue;
        const auto word = line.substr(2, line.find(' ', 2) - 2);
        ++out.cells[std::string(word)];
    }
}

}  // namespace

Result<MapAnswer> map_design(std::span<const SourceText> sources, const Library& library, const MapRequest& request) {
    const auto cells = CellSet::of(library);
    if (!cells) return cells.messages();
    auto reading = request.reading;
    reading.top = request.top;
    const auto code = source::read_code(sources, reading);
    if (!code) return code.messages();
    auto mapping =
        elaborate(code.value(), library, {request.top, request.parameters, request.most_work, request.most_gates});
    if (!mapping) return mapping.messages();
    auto& m = mapping.value();
    if (auto status = place_memories(m, cells.value()); !status) return status.messages();
    tidy(m);
    MapAnswer out;
    out.top = m.top;
    const auto stopped = [&] {
        return std::any_of(m.messages.begin(), m.messages.end(),
                           [](const Message& x) { return x.severity == Severity::stop; });
    };
    if (!stopped()) {
        for (int round = 0; round < most_sweeps; ++round) {
            auto same = cover(m.gates, wanted_of(m)).same;
            if (same.empty()) break;
            tidy(m, std::move(same));
        }
        find_enables(m, cells.value());
        const auto covered = cover(m.gates, wanted_of(m));
        auto text = emit(m, covered, cells.value());
        if (!text) return text.messages();
        out.netlist = text.take();
        out.depth = covered.depth;
        count_cells(out);
    }
    out.messages = std::move(m.messages);
    return out;
}

}  // namespace kp::synthesis
