// SPDX-License-Identifier: GPL-3.0-or-later
// The report as the contract of kpeg has it; nothing is computed here.
#include "core/handoff/report_json.hpp"

#include "core/format/json/json_text.hpp"
#include <cmath>
#include <sys/resource.h>

namespace kp {

namespace {

Json name_or_null(const std::string& text) {
    return text.empty() ? Json(nullptr) : Json(text);
}

/// No infinite or NaN value ever appears in the output.
Json number(double v) {
    return std::isfinite(v) ? Json(v) : Json(nullptr);
}

Json summary(const CheckSummary& s) {
    return {{"wns", s.wns ? number(*s.wns) : Json(nullptr)},
            {"tns", number(s.tns)},
            {"failing", s.failing},
            {"endpoints", s.endpoints}};
}

/// Only reports of several corners name them.
Json with_corner(Json row, const std::string& corner) {
    if (!corner.empty()) row["corner"] = corner;
    return row;
}

Json path_json(const TimingPath& p) {
    Json points = Json::array();
    for (const auto& q : p.points)
        points.push_back({{"pin", q.pin},
                          {"edge", q.rise ? "rise" : "fall"},
                          {"kind", word_of(q.kind)},
                          {"delay", number(q.delay)},
                          {"arrival", number(q.arrival)}});
    return with_corner({{"check", p.check},
                        {"startpoint", p.startpoint},
                        {"endpoint", p.endpoint},
                        {"slack", number(p.slack)},
                        {"launch_clock", name_or_null(p.launch_clock)},
                        {"launch_edge", number(p.launch_edge)},
                        {"capture_clock", name_or_null(p.capture_clock)},
                        {"capture_edge", number(p.capture_edge)},
                        {"arrival", number(p.arrival)},
                        {"required", number(p.required)},
                        {"credit", number(p.credit)},
                        {"uncertainty", number(p.uncertainty)},
                        {"exception", name_or_null(p.exception)},
                        {"points", points}},
                       p.corner);
}

double peak_megabytes() {
    rusage use{};
    getrusage(RUSAGE_SELF, &use);
    return std::round(static_cast<double>(use.ru_maxrss) / 1024.0 * 10) / 10;
}

}  // namespace

Json message_json(const Message& m) {
    return {{"severity", name_of(m.severity)},
            {"code", word_of(m.code)},
            {"text", m.text},
            {"file", name_or_null(m.file)},
            {"line", m.line > 0 ? Json(m.line) : Json(nullptr)}};
}

Json messages_json(const std::vector<Message>& messages) {
    Json out = Json::array();
    for (const auto& m : messages) out.push_back(message_json(m));
    return out;
}

Json summary_json(const TimingReport& r) {
    return {{"setup", summary(r.setup)},
            {"hold", summary(r.hold)},
            {"recovery", summary(r.recovery)},
            {"removal", summary(r.removal)},
            {"pulse_width", summary(r.pulse_width)},
            {"period", summary(r.period)}};
}

Json timing_json(const TimingReport& r, const std::vector<Message>& messages, double seconds_read, bool all_endpoints) {
    Json j{{"schema", "kitepeg.timing/1"}, {"time_unit", "ns"}};
    j["summary"] = summary_json(r);
    for (const auto& c : r.corners)
        j["corners"].push_back({{"name", c.name},
                                {"setup", summary(c.setup)},
                                {"hold", summary(c.hold)},
                                {"recovery", summary(c.recovery)},
                                {"removal", summary(c.removal)}});
    j["clocks"] = Json::array();
    for (const auto& c : r.clocks)
        j["clocks"].push_back({{"name", c.name},
                               {"period", c.period},
                               {"waveform", c.waveform},
                               {"generated", c.generated},
                               {"sources", c.sources},
                               {"fmax_mhz", c.fmax_mhz ? number(*c.fmax_mhz) : Json(nullptr)}});
    j["endpoints"] = Json::array();
    if (all_endpoints)
        for (const auto& e : r.endpoints)
            j["endpoints"].push_back(with_corner({{"check", e.check},
                                                  {"endpoint", e.endpoint},
                                                  {"edge", e.rise ? "rise" : "fall"},
                                                  {"slack", number(e.slack)},
                                                  {"launch_clock", name_or_null(e.launch_clock)},
                                                  {"capture_clock", name_or_null(e.capture_clock)}},
                                                 e.corner));
    j["paths"] = Json::array();
    for (const auto& p : r.paths) j["paths"].push_back(path_json(p));
    j["unconstrained"] = Json::array();
    for (const auto& u : r.unconstrained)
        j["unconstrained"].push_back({{"startpoint", u.startpoint},
                                      {"endpoint", u.endpoint},
                                      {"max_delay", number(u.max_delay)},
                                      {"min_delay", number(u.min_delay)}});
    Json untimed = Json::array();
    for (const auto& u : r.coverage.untimed)
        untimed.push_back({{"object", u.object}, {"why", u.why}, {"suggest", u.suggest}});
    Json left_out = Json::array();
    for (const auto& e : r.coverage.left_out) left_out.push_back({{"object", e.object}, {"why", e.why}});
    j["coverage"] = {{"endpoints", r.coverage.endpoints},
                     {"constrained", r.coverage.constrained},
                     {"untimed", untimed},
                     {"left_out", left_out}};
    j["messages"] = Json::array();
    for (const auto& m : messages) j["messages"].push_back(message_json(m));
    for (const auto& m : r.messages) j["messages"].push_back(message_json(m));
    j["seconds"] = {
        {"read", seconds_read}, {"build", r.seconds_build}, {"update", r.seconds_update}, {"report", r.seconds_report}};
    j["peak_rss_mb"] = peak_megabytes();
    return j;
}

Json what_if_json(const std::string& line, const WhatIf& then) {
    Json j{{"line", line}, {"setup", summary(then.setup)}, {"hold", summary(then.hold)}, {"messages", Json::array()}};
    for (const auto& m : then.messages) j["messages"].push_back(message_json(m));
    return j;
}

Json findings_json(const std::vector<Finding>& findings, const std::vector<Message>& messages) {
    Json j{{"schema", "kitepeg.findings/1"}, {"findings", Json::array()}, {"messages", Json::array()}};
    for (const auto& m : messages) j["messages"].push_back(message_json(m));
    for (const auto& f : findings) {
        Json row{{"rule", f.rule},
                 {"severity", name_of(f.severity)},
                 {"text", f.text},
                 {"objects", Json::array()},
                 {"numbers", Json::object()},
                 {"source", f.source},
                 {"fixes", Json::array()},
                 {"waived", nullptr}};
        for (const auto& o : f.objects) row["objects"].push_back({{"kind", word_of(o.kind)}, {"name", o.name}});
        for (const auto& n : f.numbers) row["numbers"][n.unit.empty() ? n.name : n.name + ", " + n.unit] = n.value;
        for (const auto& fix : f.fixes) row["fixes"].push_back(fix.text);
        if (f.waived) row["waived"] = {{"reason", f.waived->reason}, {"who", f.waived->who}, {"date", f.waived->date}};
        if (!f.file.empty()) {
            row["file"] = f.file;
            row["line"] = f.line;
        }
        j["findings"].push_back(std::move(row));
    }
    return j;
}

Json ports_json(const PortList& list, const std::vector<Message>& messages) {
    Json j{{"schema", "kitepeg.ports/1"},
           {"top", list.top},
           {"language", list.language},
           {"ports", Json::array()},
           {"messages", Json::array()}};
    for (const auto& p : list.ports) {
        Json row{{"name", p.name},
                 {"direction", p.direction},
                 {"left", p.left ? Json(*p.left) : Json(nullptr)},
                 {"right", p.right ? Json(*p.right) : Json(nullptr)},
                 {"width", p.width()},
                 {"type", p.type}};
        if (!p.dimensions.empty()) row["dimensions"] = p.dimensions;
        j["ports"].push_back(std::move(row));
    }
    for (const auto& m : messages) j["messages"].push_back(message_json(m));
    return j;
}

Json sdc_json(const std::vector<Message>& messages, size_t commands, size_t clocks) {
    Json j{{"schema", "kitepeg.sdc/1"}, {"commands", commands}, {"clocks", clocks}, {"messages", Json::array()}};
    for (const auto& m : messages) j["messages"].push_back(message_json(m));
    return j;
}

}  // namespace kp
