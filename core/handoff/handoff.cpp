// SPDX-License-Identifier: GPL-3.0-or-later
// The bundle is made whole in memory and checked before a byte is written; a file that somebody else put there is
// never written over.
#include "core/handoff/handoff.hpp"

#include "core/handoff/bundle.hpp"
#include "core/handoff/lanes_csv.hpp"
#include "core/handoff/report_pdf.hpp"

#include "core/base/checksum.hpp"
#include "core/base/text.hpp"
#include "core/base/version.hpp"
#include "core/format/json/json_text.hpp"
#include "core/model/by_hand.hpp"
#include "core/model/proof_notes.hpp"
#include "core/model/timing_words.hpp"
#include "core/inputs/data_folder.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <ctime>
#include <set>
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

std::string pin_sheet_csv(const World& world, const Project& project) {
    return write_sheet(sheet_rows(world.netlist.ports, world.part, world.board, project));
}

TemplateInput template_input(const Session& session, int stops) {
    const auto& w = session.world();
    const auto& p = session.project();
    return {p.name,        p.part,    w.board.name, w.board.revision,
            w.netlist.top, utc_now(), stops,        sheet_rows(w.netlist.ports, w.part, w.board, p)};
}

namespace {
m::data drawings_of(const Session& session) {
    m::data out = m::data::type::list;
    for (const auto& drawing : report_drawings(session)) {
        m::data row;
        row.set("title", drawing.title);
        row.set("svg", svg_of(drawing));
        out << row;
    }
    return out;
}
}  // namespace

std::string report_html(const Session& session) {
    const auto& p = session.project();
    const auto& t = session.analysis().timing();
    auto text = real_disk().read(data_folder() + "/templates/report.html.mustache");
    if (!text) return said("<!-- {} -->\n", text.first().sentence());
    m::data d;
    d.set("name", p.name);
    d.set("part", p.part);
    d.set("board", session.world().board.name);
    d.set("revision", session.world().board.revision);
    d.set("top", session.world().netlist.top);
    if (const auto c = count(session.findings()); c.stops > 0) {
        m::data stops;
        stops.set("count", counted(c.stops, "stop is", "stops are"));
        d.set("stops", stops);
    }
    m::data checks = m::data::type::list, clocks = m::data::type::list, findings = m::data::type::list,
            pins = m::data::type::list;
    for (const auto& word : check_words())
        if (const auto& s = t.*word.summary; s.endpoints > 0) checks << check_row(word.words, s);
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
        row.set("waived", f.waived ? said("{} ({}, {})", f.waived->reason, f.waived->who, f.waived->date) : "");
        findings << row;
    }
    for (const auto& r : sheet_rows(session.world().netlist.ports, session.world().part, session.world().board, p)) {
        m::data row;
        for (const auto& [key, value] :
             {std::pair{"port", &r.port}, std::pair{"direction", &r.direction}, std::pair{"pin", &r.pin},
              std::pair{"bank", &r.bank}, std::pair{"standard", &r.standard}, std::pair{"terminal", &r.terminal},
              std::pair{"state", &r.state}})
            row.set(key, *value);
        pins << row;
    }
    d.set("drawings", drawings_of(session));
    d.set("verdict", timing_sentence(t));
    d.set("checks", checks);
    d.set("clocks", clocks);
    d.set("findings", findings);
    d.set("pins", pins);
    d.set("constrained", std::to_string(t.coverage.constrained));
    d.set("all", std::to_string(t.coverage.endpoints));
    m::mustache page(text.value());
    return page.render(d);
}

namespace {

constexpr const char* manifest_name = "manifest.json";
/// While a handoff is being written: what was there and what is coming, so that one that was interrupted is known as
/// ours.
constexpr const char* unfinished = "unfinished.json";

/// Of a file of the bundle, whatever the case of its letters.
bool is_taken(const std::string& name, const std::map<std::string, std::string>& files) {
    const auto same = [small = lower(name)](const std::string& other) { return lower(other) == small; };
    return same(manifest_name) || same(unfinished) ||
           std::any_of(files.begin(), files.end(), [&](const auto& f) { return same(f.first); });
}

/// A name that no file of the bundle has yet.
std::string free_name(const std::string& path, const std::map<std::string, std::string>& files) {
    const auto name = file_name_of(path);
    if (!is_taken(name, files)) return name;
    const auto folder = file_name_of(folder_of(path));
    const std::string start =
        folder.empty() || folder == "." || folder == ".." || folder == "/" ? "constraints" : folder;
    for (int i = 1;; ++i) {
        const auto other = start + (i == 1 ? "" : "-" + std::to_string(i)) + "-" + name;
        if (!is_taken(other, files)) return other;
    }
}

/// By name, the checksums that a file of an earlier handoff may have.
using Checksums = std::map<std::string, std::set<std::string>>;

/// Adds what the list of files in `name` says, if it is there and one of ours.
void add_listed(Disk& disk, const std::string& folder, const std::string& name, Checksums& out) {
    const auto text = disk.read_own(join_path(folder, name), size_t{64} << 20);
    const auto j = text ? parse_json(text.value()) : std::nullopt;
    if (!j || !j->is_object() || !j->contains("files") || !j->at("files").is_array()) return;
    if (name == unfinished && !j->contains("unfinished")) return;
    for (const auto& f : j->at("files")) {
        if (!f.is_object() || !f.contains("name") || !f.contains("sha256") || !f["name"].is_string() ||
            !f["sha256"].is_string())
            continue;
        const auto file = from_json_safe(f["name"].get<std::string>());
        if (!file.empty() && file.find('/') == std::string::npos) out[file].insert(f["sha256"].get<std::string>());
    }
    out[name].insert(sha256(text.value()));
}

/// The files of an earlier handoff by the checksums they may have: by its manifest, or, when it was interrupted, as
/// they were before it or as it would have left them.
Checksums earlier_files(Disk& disk, const std::string& folder) {
    Checksums out;
    for (const auto* name : {manifest_name, unfinished}) add_listed(disk, folder, name, out);
    return out;
}

std::string list_of(const Checksums& earlier, const std::map<std::string, std::string>& files) {
    Json j{{"schema", "kitepeg.manifest/1"}, {"unfinished", true}, {"files", Json::array()}};
    const auto add = [&](const std::string& name, const std::string& sum) {
        if (name != unfinished) j["files"].push_back({{"name", json_safe(name)}, {"sha256", sum}});
    };
    for (const auto& [name, sums] : earlier)
        for (const auto& sum : sums) add(name, sum);
    for (const auto& [name, text] : files) add(name, sha256(text));
    return write_json(j);
}

/// Every kind of check that has endpoints, and how many are missed in all.
Json timing_summary(const TimingReport& t) {
    Json j{{"failing", verdict_of(t).failing}, {"checks", Json::object()}};
    for (const auto& word : check_words()) {
        const auto& s = t.*word.summary;
        if (s.endpoints > 0)
            j["checks"][word.key] = {{"wns", s.wns ? Json(*s.wns) : Json(nullptr)},
                                     {"tns", s.tns},
                                     {"failing", s.failing},
                                     {"endpoints", s.endpoints}};
    }
    j["constrained"] = t.coverage.constrained;
    j["endpoints"] = t.coverage.endpoints;
    return j;
}

Json own_file(const std::string& name, const std::string& text, const std::string& from) {
    Json j{{"name", json_safe(name)}, {"bytes", text.size()}, {"sha256", sha256(text)}};
    if (!from.empty()) j["from"] = json_safe(from);
    return j;
}

/// What somebody decided: waivers, what stays open, what was seen to.
void add_decisions(const Session& session, Json& manifest) {
    const auto& p = session.project();
    manifest["waivers"] = Json::array();
    for (const auto& f : session.findings())
        if (f.waived)
            manifest["waivers"].push_back({{"rule", f.rule},
                                           {"objects", f.object_names()},
                                           {"text", f.text},
                                           {"reason", f.waived->reason},
                                           {"who", f.waived->who},
                                           {"date", f.waived->date}});
    manifest["open"] = Json::array();
    for (const auto& port : session.world().netlist.ports)
        if (const auto at = p.attributes.find(port.name); at != p.attributes.end() && !at->second.open.empty())
            manifest["open"].push_back({{"port", json_safe(port.name)}, {"reason", json_safe(at->second.open)}});
    for (const auto& [terminal, reason] : p.open_terminals)
        manifest["open"].push_back({{"terminal", json_safe(terminal)}, {"reason", json_safe(reason)}});
    manifest["before_power_on"] = Json::array();
    for (const auto& note : power_notes(session.world().board, p))
        manifest["before_power_on"].push_back({{"text", json_safe(note.text)}, {"done", note.done}});
    manifest["proofs"] = Json::array();
    const auto state = p.proofs.empty() ? ProofState{} : proof_state(session.world().netlist, p.pegs);
    for (const auto& line : p.proofs)
        if (const auto n = proof_note(line))
            manifest["proofs"].push_back({{"what", json_safe(n->what)},
                                          {"against", json_safe(n->against)},
                                          {"rows", n->rows},
                                          {"differ", n->differ},
                                          {"who", json_safe(n->who)},
                                          {"date", json_safe(n->date)},
                                          {"not_proven", n->open ? Json(*n->open) : Json(nullptr)},
                                          {"holds", why_stale(*n, state).empty()}});
}

}  // namespace

Result<std::map<std::string, std::string>> make_handoff(Disk& disk, const Session& session,
                                                        const std::string& despite) {
    const auto& p = session.project();
    std::map<std::string, std::string> files, from;
    files["pins.csv"] = pin_sheet_csv(session.world(), p);
    if (auto lanes = lanes_csv(session.world(), p); !lanes.empty()) files["lanes.csv"] = std::move(lanes);
    auto sheet = template_input(session, count(session.findings()).stops);
    sheet.time.clear();  // the same project gives the same bytes, whenever
    files["pins.md"] = markdown_sheet(sheet);
    files["pins.html"] = html_sheet(sheet);
    files["report.html"] = report_html(session);
    auto pdf = report_pdf(session);
    if (!pdf) return pdf.messages();
    files["report.pdf"] = pdf.take();
    Json order = Json::array();
    for (const auto& file : p.constraints) {
        if (!file.handoff) continue;
        const auto name = free_name(file.path, files);
        files[name] = file.text;
        from[name] = file.path;
        order.push_back(json_safe(name));
    }
    auto more = bundle_files(disk, session, [&](const std::string& path) { return free_name(path, files); });
    if (!more) return more.messages();
    Json design = Json::array();
    for (auto& file : more.value()) {
        // Two of one name: the second is named after its folder.
        const auto name =
            is_taken(file.name, files) ? free_name(file.from.empty() ? file.name : file.from, files) : file.name;
        if (!file.from.empty()) from[name] = file.from;
        if (file.role == "netlist" || file.role == "source") design.push_back(json_safe(name));
        files[name] = std::move(file.text);
    }
    Json manifest{{"schema", "kitepeg.manifest/1"},      {"version", program_version},
                  {"project", json_safe(p.name)},        {"part", p.part},
                  {"board", session.world().board.name}, {"top", json_safe(session.world().netlist.top)},
                  {"design_in_order", design},           {"constraints_in_order", order}};
    const auto counts = count(session.findings());
    manifest["findings"] = {{"stops", counts.stops}, {"cautions", counts.cautions}, {"waived", counts.waived}};
    if (!despite.empty()) manifest["despite_open_stops"] = json_safe(despite);
    manifest["timing"] = timing_summary(session.analysis().timing());
    add_decisions(session, manifest);
    manifest["inputs"] = Json::array();
    for (const auto& f : session.world().files) {
        auto text = disk.read(f.full);
        if (!text) return text.messages();
        Json input = own_file(f.path, text.value(), "");
        input["role"] = f.role;
        manifest["inputs"].push_back(input);
    }
    manifest["files"] = Json::array();
    for (const auto& [name, text] : files)
        manifest["files"].push_back(own_file(name, text, from.contains(name) ? from.at(name) : ""));
    files[manifest_name] = write_json(manifest);
    return files;
}

Status write_handoff(Disk& disk, const Session& session, const std::string& given, bool despite_stops,
                     const std::string& reason, std::vector<std::string>* written) {
    // Behind a link that leads to nothing yet, the folder is made where it leads.
    const auto folder = disk.kind(given) == FileKind::link ? disk.real_path(given) : given;
    const auto counts = count(session.findings());
    if (session.stale())
        return Message{Severity::stop, Code::handoff,
                       "The last edit has not been analysed yet; try again in a moment."};
    if (counts.stops > 0 && !despite_stops)
        return Message{Severity::stop, Code::handoff,
                       said("Nothing was written: {} open. Fix or waive them in Findings.",
                            counted(counts.stops, "stop is", "stops are"))};
    if (auto why = session.document().reach().refuse(folder)) return std::move(*why);
    auto made = make_handoff(disk, session, counts.stops > 0 ? reason : std::string());
    if (!made) return made.messages();
    const auto& files = made.value();
    const auto earlier = earlier_files(disk, folder);
    const auto unchanged = [&](const std::string& name) {
        const auto text = disk.read_own(join_path(folder, name), largest_input);
        return text && earlier.contains(name) && earlier.at(name).contains(sha256(text.value()));
    };
    std::set<std::string> written_to{unfinished};
    for (const auto& [name, text] : files) written_to.insert(name);
    for (const auto& name : written_to)
        if (disk.kind(join_path(folder, name)) != FileKind::none && !unchanged(name))
            return Message{Severity::stop, Code::handoff,
                           "is there already and is not as a handoff left it; nothing was written. Choose another "
                           "folder, or move it away.",
                           join_path(folder, name)};
    if (auto status = disk.make_folder(folder); !status) return status;
    if (auto status = replace_file(disk, join_path(folder, unfinished), list_of(earlier, files)); !status)
        return status;
    // The manifest goes first and comes last: a folder that has one is whole.
    if (auto status = disk.remove(join_path(folder, manifest_name)); !status) return status;
    for (const auto& [name, sums] : earlier)
        if (name != unfinished && !files.contains(name) && unchanged(name))
            if (auto status = disk.remove(join_path(folder, name)); !status) return status;
    for (const auto& [name, text] : files)
        if (name != manifest_name)
            if (auto status = replace_file(disk, join_path(folder, name), text); !status) return status;
    if (written)
        for (const auto& [name, text] : files) written->push_back(name);
    if (auto status = replace_file(disk, join_path(folder, manifest_name), files.at(manifest_name)); !status)
        return status;
    return disk.remove(join_path(folder, unfinished));
}

}  // namespace kp
