// SPDX-License-Identifier: GPL-3.0-or-later
// Findings as SARIF 2.1.0 (OASIS) and JUnit XML, so that a build server shows them; both are open formats of many
// programs.
#include "core/handoff/findings_out.hpp"

#include "core/format/json/json_text.hpp"
#include "core/base/text.hpp"
#include "core/base/version.hpp"
#include "core/base/bytes.hpp"
#include "core/rules/rules.hpp"
#include "core/base/said.hpp"

#include <cctype>
#include <cstdio>
#include <map>

namespace kp {

namespace {

const char* level_of(Severity severity) {
    return severity == Severity::stop ? "error" : severity == Severity::caution ? "warning" : "note";
}

/// A file name as a relative URI reference (RFC 3986): everything but the unreserved characters and '/' as %XX.
std::string uri(const std::string& path) {
    std::string out;
    for (const char c : path) {
        const auto byte = static_cast<unsigned char>(c);
        if (std::isalnum(byte) || std::string_view("-._~/").find(c) != std::string_view::npos) {
            out += c;
        } else {
            char text[4];
            std::snprintf(text, sizeof text, "%%%02X", byte);
            out += text;
        }
    }
    return out;
}

Json result_of(const Finding& f, const std::map<std::string, int>& index, const std::string& project) {
    Json r{{"ruleId", f.rule}, {"level", level_of(f.severity)}, {"message", {{"text", f.text}}}};
    if (const auto at = index.find(f.rule); at != index.end()) r["ruleIndex"] = at->second;
    Json place{{"physicalLocation", {{"artifactLocation", {{"uri", uri(f.file.empty() ? project : f.file)}}}}}};
    if (f.line > 0) place["physicalLocation"]["region"] = {{"startLine", f.line}};
    place["logicalLocations"] = Json::array();
    for (const auto& o : f.objects) place["logicalLocations"].push_back({{"name", o.name}, {"kind", word_of(o.kind)}});
    r["locations"] = Json::array({place});
    Json numbers = Json::object();
    for (const auto& n : f.numbers) numbers[n.unit.empty() ? n.name : n.name + ", " + n.unit] = n.value;
    r["properties"] = {{"remedy", f.remedy}, {"source", f.source}, {"numbers", numbers}};
    if (f.waived)
        r["suppressions"] =
            Json::array({{{"kind", "external"},
                          {"justification", said("{} ({}, {})", f.waived->reason, f.waived->who, f.waived->date)}}});
    return r;
}

std::string xml(const std::string& given) {
    std::string out;
    for (const char c : valid_text(given)) {
        if (c == '&')
            out += "&amp;";
        else if (c == '<')
            out += "&lt;";
        else if (c == '>')
            out += "&gt;";
        else if (c == '"')
            out += "&quot;";
        else if (static_cast<unsigned char>(c) >= 0x20 || c == '\n' || c == '\t')
            out += c;  // XML 1.0, 2.2: no other control characters
    }
    // Nor the two noncharacters U+FFFE and U+FFFF.
    for (const char* none : {"\xEF\xBF\xBE", "\xEF\xBF\xBF"})
        for (auto at = out.find(none); at != std::string::npos; at = out.find(none)) out.replace(at, 3, "?");
    return out;
}

}  // namespace

Json findings_sarif(const std::vector<Finding>& findings, const std::string& project) {
    Json rules = Json::array();
    std::map<std::string, int> index;
    for (const auto& row : rule_table()) {
        index.emplace(row.code, static_cast<int>(rules.size()));
        rules.push_back({{"id", row.code},
                         {"shortDescription", {{"text", row.statement}}},
                         {"help", {{"text", std::string("Source: ") + row.source}}},
                         {"defaultConfiguration", {{"level", level_of(row.severity)}}}});
    }
    index.emplace("W01", static_cast<int>(rules.size()));
    rules.push_back({{"id", "W01"},
                     {"shortDescription", {{"text", "A waiver matches a finding."}}},
                     {"defaultConfiguration", {{"level", "note"}}}});
    Json results = Json::array();
    for (const auto& f : findings) results.push_back(result_of(f, index, project));
    return {
        {"version", "2.1.0"},
        {"runs",
         Json::array(
             {{{"tool", {{"driver", {{"name", "Kite Peg"}, {"semanticVersion", program_version}, {"rules", rules}}}}},
               {"columnKind", "utf16CodeUnits"},
               {"results", results}}})}};
}

std::string findings_junit(const std::vector<Finding>& findings, const std::string& project) {
    std::map<std::string, std::vector<const Finding*>> by_rule;
    for (const auto& row : rule_table()) by_rule[row.code];
    for (const auto& f : findings) by_rule[f.rule].push_back(&f);
    int failures = 0, skipped = 0;
    std::string cases;
    for (const auto& [rule, list] : by_rule) {
        std::string body;
        int open = 0, waived = 0;
        for (const auto* f : list) {
            if (f->waived)
                ++waived;
            else if (f->severity != Severity::note)
                body += std::string(open++ ? "\n" : "") + name_of(f->severity) + ": " + f->text;
        }
        cases += said("    <testcase classname=\"rules\" name=\"{}\"", xml(rule));
        if (open > 0) {
            ++failures;
            cases += said(">\n      <failure message=\"{}\">{}</failure>\n    </testcase>\n", counted(open, "finding"),
                          xml(body));
        } else if (waived > 0) {
            ++skipped;
            cases += said(">\n      <skipped message=\"{} waived\"/>\n    </testcase>\n", waived);
        } else {
            cases += "/>\n";
        }
    }
    const auto sums = said(" tests=\"{}\" failures=\"{}\" skipped=\"{}\"", by_rule.size(), failures, skipped);
    return said(
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<testsuites{}>\n  <testsuite name=\"{}\"{}>\n{}  "
        "</testsuite>\n</testsuites>\n",
        sums, xml(project), sums, cases);
}

}  // namespace kp
