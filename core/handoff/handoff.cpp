// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/handoff/handoff.hpp"

#include "core/base/checksum.hpp"
#include "core/base/text.hpp"
#include "core/format/json/json_text.hpp"
#include "core/session/data_folder.hpp"

#include <cmath>
#include <ctime>
#include <kainjow/mustache.hpp>

namespace kp {

namespace {

namespace m = kainjow::mustache;

std::string utc_now() {
    const std::time_t t = std::time(nullptr);
    std::tm utc{};
    gmtime_r(&t, &utc);
    char text[40];
    std::strftime(text, sizeof text, "%Y-%m-%dT%H:%M:%SZ", &utc);
    return text;
}

m::data check_row(const char* name, const CheckSummary& s) {
    m::data row;
    row.set("check", name);
    row.set("wns", s.wns ? fixed(*s.wns, 3) : "none");
    row.set("tns", fixed(s.tns, 3));
    row.set("failing", std::to_string(s.failing));
    row.set("endpoints", std::to_string(s.endpoints));
    return row;
}

}  // namespace

std::string pin_sheet_csv(const World& world, const Project& project) { return write_sheet(sheet_rows(world.netlist.ports, world.part, world.board, project)); }

TemplateInput template_input(const Session& session, int stops) {
    const auto& w = session.world();
    const auto& p = session.project();
    return {p.name, p.part, w.board.name, w.board.revision, w.netlist.top, utc_now(), stops, sheet_rows(w.netlist.ports, w.part, w.board, p)};
}

std::string report_html(const Session& session) {
    const auto& p = session.project();
    const auto& t = session.analysis().timing;
    auto text = real_disk().read(data_folder() + "/templates/report.html.mustache");
    if (!text) return "<!-- " + text.first().sentence() + " -->\n";
    m::data d;
    d.set("name", p.name);
    d.set("part", p.part);
    d.set("board", session.world().board.name);
    d.set("revision", session.world().board.revision);
    d.set("top", session.world().netlist.top);
    d.set("time", utc_now());
    if (const auto c = count(session.findings()); c.stops > 0) {
        m::data stops;
        stops.set("count", std::to_string(c.stops));
        d.set("stops", stops);
    }
    m::data checks = m::data::type::list, clocks = m::data::type::list, findings = m::data::type::list, pins = m::data::type::list;
    checks << check_row("setup", t.setup) << check_row("hold", t.hold);
    for (const auto& c : t.clocks) {
        m::data row;
        row.set("clock", c.name);
        row.set("period", fixed(c.period, 3));
        row.set("fmax", c.fmax_mhz ? fixed(*c.fmax_mhz, 1) : "no path");
        row.set("registers", std::to_string(c.registers));
        clocks << row;
    }
    for (const auto& f : session.findings()) {
        m::data row;
        row.set("rule", f.rule);
        row.set("severity", name_of(f.severity));
        row.set("text", f.text);
        row.set("waived", f.waived ? f.waived->reason + " (" + f.waived->who + ", " + f.waived->date + ")" : "");
        findings << row;
    }
    for (const auto& r : sheet_rows(session.world().netlist.ports, session.world().part, session.world().board, p)) {
        m::data row;
        for (const auto& [key, value] : {std::pair{"port", &r.port}, std::pair{"direction", &r.direction}, std::pair{"pin", &r.pin}, std::pair{"bank", &r.bank}, std::pair{"standard", &r.standard}, std::pair{"terminal", &r.terminal}, std::pair{"state", &r.state}}) row.set(key, *value);
        pins << row;
    }
    d.set("checks", checks);
    d.set("clocks", clocks);
    d.set("findings", findings);
    d.set("pins", pins);
    d.set("constrained", std::to_string(t.coverage.constrained));
    d.set("all", std::to_string(t.coverage.endpoints));
    m::mustache page(text.value());
    return page.render(d);
}

std::map<std::string, std::string> make_handoff(const Session& session) {
    const auto& p = session.project();
    std::map<std::string, std::string> files;
    files["pins.csv"] = pin_sheet_csv(session.world(), p);
    const auto sheet = template_input(session, count(session.findings()).stops);
    files["pins.md"] = markdown_sheet(sheet);
    files["pins.html"] = html_sheet(sheet);
    files["report.html"] = report_html(session);
    Json order = Json::array();
    for (const auto& file : p.constraints)
        if (file.handoff) {
            files[file_name_of(file.path)] = file.text;
            order.push_back(file_name_of(file.path));
        }
    Json manifest{{"schema", "kitepeg.manifest/1"}, {"project", p.name}, {"part", p.part}, {"board", session.world().board.name}, {"top", session.world().netlist.top}, {"written", utc_now()}, {"constraints_in_order", order}};
    const auto counts = count(session.findings());
    manifest["findings"] = {{"stops", counts.stops}, {"cautions", counts.cautions}, {"waived", counts.waived}};
    manifest["waivers"] = Json::array();
    for (const auto& f : session.findings())
        if (f.waived) manifest["waivers"].push_back({{"rule", f.rule}, {"objects", f.object_names()}, {"text", f.text}, {"reason", f.waived->reason}, {"who", f.waived->who}, {"date", f.waived->date}});
    manifest["files"] = Json::array();
    for (const auto& [name, text] : files) manifest["files"].push_back({{"name", name}, {"bytes", text.size()}, {"sha256", sha256(text)}});
    files["manifest.json"] = write_json(manifest);
    return files;
}

Status write_handoff(Disk& disk, const Session& session, const std::string& folder, bool despite_stops) {
    const auto counts = count(session.findings());
    if (session.stale()) return Message{Severity::stop, "handoff", "The last edit has not been analysed yet; try again in a moment.", "", 0, 0};
    if (counts.stops > 0 && !despite_stops) return Message{Severity::stop, "handoff", "Nothing was written: " + std::to_string(counts.stops) + (counts.stops == 1 ? " stop is" : " stops are") + " open. Mend or waive them in Findings.", "", 0, 0};
    if (auto status = disk.make_folder(folder); !status) return status;
    const auto files = make_handoff(session);
    for (const auto& [name, text] : files)
        if (name != "manifest.json")
            if (auto status = save_whole(disk, join_path(folder, name), text); !status) return status;
    // The manifest comes last: a folder that has one is whole.
    return save_whole(disk, join_path(folder, "manifest.json"), files.at("manifest.json"));
}

}  // namespace kp
