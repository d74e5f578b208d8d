// SPDX-License-Identifier: GPL-3.0-or-later
// Each file is made from the session alone, without time or place, so that the same project gives the same bytes.
#include "core/handoff/bundle.hpp"

#include "core/format/json/json_text.hpp"
#include "core/format/csv/csv.hpp"
#include "core/handoff/adapter.hpp"
#include "core/handoff/findings_out.hpp"
#include "core/handoff/handoff.hpp"
#include "core/model/by_hand.hpp"
#include "core/model/proof_notes.hpp"
#include "core/base/said.hpp"

#include <algorithm>

namespace kp {

namespace {

/// The adapter with its constraints and pins under its names; none where there is nothing to adapt.
void add_adapter(const Session& s, const std::function<std::string(const std::string&)>& free,
                 std::vector<BundleFile>& out) {
    const auto& w = s.world();
    if (w.netlist.ports.empty() || w.board.nets.empty()) return;
    const auto adapter = plan_adapter(w.netlist.ports, w.netlist.top, w.board, s.project(), w.standards, true);
    const bool vhdl = w.language == "vhdl";
    const auto text = adapter_text(adapter, vhdl ? AdapterLanguage::vhdl : AdapterLanguage::verilog);
    if (!text) return;  // a design whose names no adapter can hold goes without one
    out.push_back({free(vhdl ? "adapter.vhd" : "adapter.v"), text.value(), "", "adapter"});
    out.push_back({free("adapter.sdc"), adapter_constraints(adapter, s.project()), "", "adapter"});
    std::string pins = csv_row({"port", "pin"});
    for (const auto& p : adapter.pins) pins += csv_row({p.outside, p.pin});
    out.push_back({free("adapter-pins.csv"), pins, "", "adapter"});
}

Json waivers_json(const Session& s) {
    Json out{{"schema", "kitepeg.waivers/1"}, {"waivers", Json::array()}};
    for (const auto& w : s.project().waivers) {
        Json objects = Json::array();
        for (const auto& o : w.objects) objects.push_back(json_safe(o));
        out["waivers"].push_back({{"rule", w.rule},
                                  {"objects", std::move(objects)},
                                  {"reason", json_safe(w.reason)},
                                  {"who", json_safe(w.who)},
                                  {"date", json_safe(w.date)}});
    }
    return out;
}

std::string or_open(const std::string& value, const std::string& otherwise) {
    return value.empty() ? otherwise : value;
}

}  // namespace

std::string checklist(const Session& s) {
    const auto& p = s.project();
    const auto& w = s.world();
    std::string out = said("# To check: {}\n\n## Before power is switched on\n", p.name);
    const auto notes = power_notes(w.board, p);
    for (const auto& n : notes) out += std::string(n.done ? "- [x] " : "- [ ] ") + n.text + "\n";
    if (notes.empty()) out += "Nothing was noted.\n";
    out += "\n## Proved at the simulated bench\n";
    const auto state = p.proofs.empty() ? ProofState{} : proof_state(w.netlist, p.pegs);
    for (const auto& line : p.proofs) {
        const auto n = proof_note(line);
        if (n)
            out += std::string(n->proven() && why_stale(*n, state).empty() ? "- [x] " : "- [ ] ") +
                   sentence_of(*n, state) + "\n";
    }
    if (p.proofs.empty()) out += "Nothing was proved.\n";
    out += said("\n## Choices\n- configuration mode: {}\n- start-up clock: {}\n- loading: {}\n- unused pins: {}\n",
                or_open(p.mode, or_open(w.board.mode, "not said")), or_open(p.start_clock, "that of the mode"),
                or_open(p.load, "not decided"), or_open(p.unused_pins, "float"));
    out +=
        "\n## Constants of the build\nAny of them may have been shortened for simulation; the build wants the real "
        "one.\n";
    for (const auto& [name, value] : p.parameters) out += said("- parameter {} = {}\n", name, value);
    for (const auto& [name, value] : p.defines)
        out += said("- define {}{}\n", name, (value.empty() ? "" : " = " + value));
    if (p.parameters.empty() && p.defines.empty()) out += "None are set by the project.\n";
    out += "\n## Polarity that the adapter turns\n";
    bool any = false;
    if (!w.netlist.ports.empty())
        for (const auto& bit : plan_adapter(w.netlist.ports, w.netlist.top, w.board, p, w.standards, true).bits)
            if (bit.inverted) {
                out += said("- {}: {}\n", bit.port.name, bit.why);
                any = true;
            }
    if (!any) out += "None.\n";
    out += "\n## Open on purpose\n";
    any = false;
    for (const auto& port : w.netlist.ports)
        if (const auto at = p.attributes.find(port.name); at != p.attributes.end() && !at->second.open.empty()) {
            out += said("- port {}: {}\n", port.name, at->second.open);
            any = true;
        }
    for (const auto& [terminal, reason] : p.open_terminals) {
        out += said("- terminal {}: {}\n", terminal, reason);
        any = true;
    }
    return any ? out : out + "Nothing.\n";
}

Result<std::vector<BundleFile>> bundle_files(Disk& disk, const Session& s,
                                             const std::function<std::string(const std::string&)>& free) {
    std::vector<BundleFile> out;
    for (const auto& f : s.world().files) {
        if (f.role != "netlist" && f.role != "source") continue;
        if (auto why = f.with_program ? std::nullopt : s.document().reach().refuse(f.full)) return std::move(*why);
        auto text = disk.read(f.full);
        if (!text) return text.messages();
        out.push_back({free(f.path), text.take(), f.path, f.role});
    }
    add_adapter(s, free, out);
    auto input = template_input(s, count(s.findings()).stops);
    input.time.clear();
    auto templates = disk.list(s.document().folder(), ".mustache");
    std::sort(templates.begin(), templates.end());
    for (const auto& path : templates) {
        if (auto why = s.document().reach().refuse(path)) return std::move(*why);
        auto text = disk.read(path);
        if (!text) return text.messages();
        auto made = render_template(text.value(), path, input);
        if (!made) return made.messages();
        auto name = file_name_of(path);
        name.resize(name.size() - std::string_view(".mustache").size());
        out.push_back({free(name), made.take(), file_name_of(path), "template"});
    }
    out.push_back({free("findings.sarif"), write_json(findings_sarif(s.findings(), file_name_of(s.document().path()))),
                   "", "findings"});
    out.push_back({free("waivers.json"), write_json(waivers_json(s)), "", "waivers"});
    out.push_back({free("checklist.md"), checklist(s), "", "checklist"});
    return out;
}

}  // namespace kp
