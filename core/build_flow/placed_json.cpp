// SPDX-License-Identifier: GPL-3.0-or-later
// One object a cell, one line each. Linear in cells.
#include "core/build_flow/placed_json.hpp"

#include "core/format/json/json_text.hpp"

#include <set>

namespace kp::build_flow {

std::string write_placed(const Netlist& n, const std::vector<fabric::Spot>& spots) {
    std::string out =
        "{\n \"schema\": \"kitepeg.placed/1\",\n \"stand_in\": \"Placed by the stand-in builder of Kite Peg, for "
        "made-up parts.\",\n \"cells\": [\n";
    for (std::uint32_t c = 0; c < n.cells.size(); ++c) {
        Json cell{{"name", json_safe(n.cell_names[c])},
                  {"type", json_safe(n.type_of(c))},
                  {"column", spots[c].column},
                  {"row", spots[c].row},
                  {"slot", spots[c].slot}};
        if (!spots[c].pin.empty()) cell["pin"] = json_safe(spots[c].pin);
        out += "  " + cell.dump() + (c + 1 < n.cells.size() ? ",\n" : "\n");
    }
    return out + " ]\n}\n";
}

Result<std::vector<fabric::Spot>> read_placed(std::string_view text, const std::string& file, const Netlist& n) {
    const auto wrong = [&](const std::string& why) { return Message{Severity::stop, Code::placed, why, file}; };
    const auto json = parse_json(text);
    if (!json || !json->is_object() || !json->contains("cells") || !(*json)["cells"].is_array())
        return wrong("This is not a file of places; build from 'place'.");
    const NetlistIndex index(n);
    std::vector<fabric::Spot> out(n.cells.size());
    std::set<std::uint32_t> seen;
    for (const auto& cell : (*json)["cells"]) {
        if (!cell.is_object() || !cell.contains("name") || !cell["name"].is_string()) continue;
        const auto id = index.cell(from_json_safe(cell["name"].get<std::string>()));
        const auto whole = [&](const char* key) {
            return cell.contains(key) && cell[key].is_number_integer() ? cell[key].get<int>() : 0;
        };
        if (id == no_id) continue;
        seen.insert(id);
        out[id] = {
            whole("column"), whole("row"), whole("slot"),
            cell.contains("pin") && cell["pin"].is_string() ? from_json_safe(cell["pin"].get<std::string>()) : ""};
    }
    if (seen.size() != n.cells.size())
        return wrong("The places are not those of the netlist beside them; build from 'place'.");
    return out;
}

}  // namespace kp::build_flow
