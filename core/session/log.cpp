// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/session/log.hpp"

#include "core/base/text.hpp"
#include "core/format/json/json_text.hpp"

#include <algorithm>
#include <set>

namespace kp {

namespace {

Json optional_number(const std::optional<double>& v) { return v ? Json(*v) : Json(nullptr); }
std::optional<double> number_or_none(const Json& j) { return j.is_number() ? std::optional<double>(j.get<double>()) : std::nullopt; }

Json to_json(const LogEntry& e) {
    Json j{{"number", e.number}, {"time", e.time}, {"title", e.title}, {"setup_wns", optional_number(e.setup_wns)}, {"hold_wns", optional_number(e.hold_wns)}, {"setup_tns", e.setup_tns}, {"setup_failing", e.setup_failing}, {"endpoints", e.endpoints}, {"constrained", e.constrained},
           {"stops", e.findings.stops}, {"cautions", e.findings.cautions}, {"notes", e.findings.notes}, {"waived", e.findings.waived}, {"part", e.part}};
    j["pegs"] = Json::object();
    for (const auto& [port, peg] : e.pegs) j["pegs"][port] = Json::array({peg.pin, peg.state == PegState::loose, peg.origin});
    j["attributes"] = Json::object();
    for (const auto& [port, a] : e.attributes) j["attributes"][port] = Json::array({a.standard, a.drive, a.slew, a.pull, a.note, a.standard_origin});
    j["texts"] = e.texts;
    return j;
}

std::optional<LogEntry> from_json(const Json& j) {
    try {
        LogEntry e;
        e.number = j.at("number").get<int>();
        e.time = j.at("time").get<std::string>();
        e.title = j.at("title").get<std::string>();
        e.setup_wns = number_or_none(j.at("setup_wns"));
        e.hold_wns = number_or_none(j.at("hold_wns"));
        e.setup_tns = j.at("setup_tns").get<double>();
        e.setup_failing = j.at("setup_failing").get<int>();
        e.endpoints = j.at("endpoints").get<int>();
        e.constrained = j.at("constrained").get<int>();
        e.findings = {j.at("stops").get<int>(), j.at("cautions").get<int>(), j.at("notes").get<int>(), j.at("waived").get<int>()};
        e.part = j.at("part").get<std::string>();
        for (const auto& item : j.at("pegs").items()) e.pegs[item.key()] = {item.value().at(0).get<std::string>(), item.value().at(1).get<bool>() ? PegState::loose : PegState::pegged, item.value().at(2).get<std::string>()};
        for (const auto& item : j.at("attributes").items()) {
            const auto& a = item.value();
            e.attributes[item.key()] = {a.at(0).get<std::string>(), a.at(1).get<std::string>(), a.at(2).get<std::string>(), a.at(3).get<std::string>(), a.at(4).get<std::string>(), a.at(5).get<std::string>()};
        }
        e.texts = j.at("texts").get<std::map<std::string, std::string>>();
        return e;
    } catch (const Json::exception&) {
        return std::nullopt;
    }
}

}  // namespace

void Log::read() {
    entries_.clear();
    if (!disk_.exists(path_)) return;
    auto text = disk_.read(path_, size_t{1} << 30);
    if (!text) return;
    for (const auto line : split(text.value(), '\n')) {
        if (line.empty()) continue;
        const auto value = Json::parse(line, nullptr, false);
        if (value.is_discarded()) continue;
        if (auto entry = from_json(value)) entries_.push_back(std::move(*entry));
    }
}

Status Log::add(LogEntry entry) {
    entry.number = entries_.empty() ? 1 : entries_.back().number + 1;
    const std::string line = to_json(entry).dump(-1, ' ', false, Json::error_handler_t::replace) + "\n";
    entries_.push_back(std::move(entry));
    return disk_.append(path_, line);
}

namespace {

void compare_text(const std::string& file, const std::string& a, const std::string& b, std::vector<Difference>& out) {
    const auto x = split(a, '\n'), y = split(b, '\n');
    constexpr size_t most = 4000;  // lines; the table below is quadratic
    if (x.size() > most || y.size() > most) {
        if (a != b) out.push_back({file, std::to_string(x.size()) + " lines", std::to_string(y.size()) + " lines"});
        return;
    }
    // Longest common subsequence by dynamic programming (Wagner and Fischer 1974).
    std::vector<std::vector<int>> length(x.size() + 1, std::vector<int>(y.size() + 1, 0));
    for (size_t i = x.size(); i-- > 0;)
        for (size_t j = y.size(); j-- > 0;) length[i][j] = x[i] == y[j] ? length[i + 1][j + 1] + 1 : std::max(length[i + 1][j], length[i][j + 1]);
    size_t i = 0, j = 0;
    while (i < x.size() || j < y.size()) {
        if (i < x.size() && j < y.size() && x[i] == y[j]) {
            ++i, ++j;
            continue;
        }
        Difference d{file + ":" + std::to_string(std::max<size_t>(1, j + 1)), "", ""};
        // A changed line shows both sides together.
        const bool takes_left = i < x.size() && (j == y.size() || length[i + 1][j] >= length[i][j + 1]);
        if (takes_left) d.before = std::string(x[i++]);
        if (j < y.size() && (i == x.size() || y[j] != x[i]) && (!takes_left || i >= x.size() || length[i][j + 1] >= length[i][j])) d.after = std::string(y[j++]);
        if (!d.before.empty() || !d.after.empty()) out.push_back(std::move(d));
    }
}

std::string slack_text(const std::optional<double>& v) { return v ? fixed(*v, 3) + " ns" : "none"; }

}  // namespace

std::vector<Difference> compare(const LogEntry& a, const LogEntry& b) {
    std::vector<Difference> out;
    const auto add = [&](const std::string& what, const std::string& x, const std::string& y) {
        if (x != y) out.push_back({what, x, y});
    };
    add("worst setup slack", slack_text(a.setup_wns), slack_text(b.setup_wns));
    add("worst hold slack", slack_text(a.hold_wns), slack_text(b.hold_wns));
    add("failing endpoints", std::to_string(a.setup_failing), std::to_string(b.setup_failing));
    add("endpoints constrained", std::to_string(a.constrained) + " of " + std::to_string(a.endpoints), std::to_string(b.constrained) + " of " + std::to_string(b.endpoints));
    add("stops", std::to_string(a.findings.stops), std::to_string(b.findings.stops));
    add("cautions", std::to_string(a.findings.cautions), std::to_string(b.findings.cautions));
    add("waived", std::to_string(a.findings.waived), std::to_string(b.findings.waived));
    add("part", a.part, b.part);
    std::set<std::string> ports;
    for (const auto* e : {&a, &b}) {
        for (const auto& [port, peg] : e->pegs) ports.insert(port);
        for (const auto& [port, attributes] : e->attributes) ports.insert(port);
    }
    for (const auto& port : ports) {
        const auto pin = [&](const LogEntry& e) { return e.pegs.contains(port) ? "pin " + e.pegs.at(port).pin : std::string("adrift"); };
        const auto standard = [&](const LogEntry& e) { return e.attributes.contains(port) ? e.attributes.at(port).standard : std::string(); };
        add(port, pin(a), pin(b));
        add(port + ", standard", standard(a), standard(b));
    }
    std::set<std::string> files;
    for (const auto* e : {&a, &b})
        for (const auto& [file, text] : e->texts) files.insert(file);
    for (const auto& file : files) compare_text(file, a.texts.contains(file) ? a.texts.at(file) : "", b.texts.contains(file) ? b.texts.at(file) : "", out);
    return out;
}

Edit restore_edit(const Project& project, const LogEntry& entry) {
    Edit edit{"restore run " + std::to_string(entry.number), {}};
    std::set<std::string> ports;
    for (const auto& [port, peg] : project.pegs) ports.insert(port);
    for (const auto& [port, peg] : entry.pegs) ports.insert(port);
    const auto peg_in = [](const PegMap& pegs, const std::string& port) { return pegs.contains(port) ? std::optional<Peg>(pegs.at(port)) : std::nullopt; };
    for (const auto& port : ports)
        if (peg_in(project.pegs, port) != peg_in(entry.pegs, port)) edit.changes.emplace_back(PegChange{port, peg_in(project.pegs, port), peg_in(entry.pegs, port)});
    ports.clear();
    for (const auto& [port, a] : project.attributes) ports.insert(port);
    for (const auto& [port, a] : entry.attributes) ports.insert(port);
    const auto attributes_in = [](const auto& map, const std::string& port) { return map.contains(port) ? map.at(port) : PortAttributes{}; };
    for (const auto& port : ports)
        if (attributes_in(project.attributes, port) != attributes_in(entry.attributes, port)) edit.changes.emplace_back(AttributeChange{port, attributes_in(project.attributes, port), attributes_in(entry.attributes, port)});
    for (const auto& file : project.constraints)
        if (const auto at = entry.texts.find(file.path); at != entry.texts.end() && at->second != file.text) edit.changes.emplace_back(TextChange{file.path, 0, file.text, at->second});
    if (!entry.part.empty() && entry.part != project.part) edit.changes.emplace_back(FieldChange{"part", project.part, entry.part});
    return edit;
}

}  // namespace kp
