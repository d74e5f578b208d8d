// SPDX-License-Identifier: GPL-3.0-or-later
// Mustache by kainjow; nothing is escaped, since pin files are not HTML. Sizes are bounded.
#include "core/handoff/template.hpp"

#include "core/base/bytes.hpp"
#include "core/base/text.hpp"
#include "core/model/netlist.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cctype>
#include <kainjow/mustache.hpp>
#include <map>

namespace kp {

namespace {

namespace m = kainjow::mustache;
constexpr size_t largest = size_t{64} << 20;

m::data row_data(const SheetRow& r, size_t at, size_t of) {
    m::data d;
    for (const auto& c : sheet_columns()) {
        const auto& value = r.*c.field;
        d.set(c.name, value);
        // has_pin, has_slew …: sections for what may be missing.
        d.set(std::string("has_") + c.name,
              m::data(value.empty() ? m::data::type::bool_false : m::data::type::bool_true));
    }
    const auto flag = [&](const char* name, bool on) {
        d.set(name, m::data(on ? m::data::type::bool_true : m::data::type::bool_false));
    };
    flag("pegged", r.state == "pegged");
    flag("loose", r.state == "loose");
    flag("adrift", r.state == "adrift");
    flag("first", at == 0);
    flag("last", at + 1 == of);
    const auto open = r.port.rfind('[');
    d.set("bus", r.port.substr(0, open));
    d.set("index", open == std::string::npos ? "" : r.port.substr(open + 1, r.port.size() - open - 2));
    flag("is_bit", open != std::string::npos);
    d.set("number", std::to_string(at + 1));
    return d;
}

/// Text for one cell of a Markdown table, such that it is read as the text it is (CommonMark 0.30, sections 2.4 and 6):
/// no markup, no HTML, no link. An underscore inside a word and the brackets of an index need no backslash.
std::string cell(const std::string& given) {
    const auto text = one_line(given);
    std::string out;
    for (size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        const bool word_before = i > 0 && (std::isalnum(static_cast<unsigned char>(text[i - 1])) || text[i - 1] == '_'),
                   word_behind = i + 1 < text.size() &&
                                 (std::isalnum(static_cast<unsigned char>(text[i + 1])) || text[i + 1] == '_');
        const bool link = (c == '(' || c == '[' || c == ':') && i > 0 && text[i - 1] == ']';
        if (c == '&')
            out += "&amp;";
        else if (c == '<')
            out += "&lt;";
        else if (std::string_view("\\|`*~").find(c) != std::string_view::npos ||
                 (c == '_' && !(word_before && word_behind)) || link || (c == '[' && i > 0 && text[i - 1] == '!'))
            out += std::string("\\") + c;
        else
            out += c;
    }
    return out;
}

std::string html(const std::string& text) {
    std::string out;
    for (const char c : valid_text(text))
        out += c == '&' ? "&amp;" : c == '<' ? "&lt;" : c == '>' ? "&gt;" : c == '"' ? "&quot;" : std::string(1, c);
    return out;
}

/// How much a template can make at most, in bytes; also what makes nothing counts, for the time it takes. Sections in
/// sections multiply, and the renderer gathers a line before it gives it away, so this is told before. Sections are all
/// that repeats; a delimiter can be changed by {{=<% %>=}} (mustache(5)).
double expansion(std::string_view text, const std::vector<SheetRow>& rows, size_t banks) {
    size_t longest = 8;
    for (const auto& r : rows)
        for (const auto& c : sheet_columns()) longest = std::max(longest, (r.*c.field).size());
    std::string open = "{{", close = "}}";
    std::vector<double> times{1};
    double sum = 0;
    for (size_t at = 0; at < text.size();) {
        const auto tag = text.find(open, at);
        sum += times.back() * static_cast<double>((tag == std::string_view::npos ? text.size() : tag) - at);
        if (tag == std::string_view::npos) break;
        const auto end = text.find(close, tag + open.size());
        if (end == std::string_view::npos) break;
        const auto inside = trim(text.substr(tag + open.size(), end - tag - open.size()));
        at = end + close.size();
        const char kind = inside.empty() ? ' ' : inside.front();
        const auto name = inside.empty() ? inside : trim(inside.substr(1));
        if (kind == '#' || kind == '^') {
            const double more = kind == '^'       ? 1
                                : name == "ports" ? static_cast<double>(rows.size())
                                : name == "banks" ? static_cast<double>(banks)
                                                  : 1;
            times.push_back(times.back() * std::max(1.0, more));
            sum += times.back() * 8;  // the work of going in
        } else if (kind == '/') {
            if (times.size() > 1) times.pop_back();
        } else if (kind == '=' && name.ends_with('=')) {
            const auto words = split(trim(name.substr(0, name.size() - 1)), ' ');
            if (words.size() >= 2 && !words.front().empty() && !words.back().empty()) {
                open = words.front();
                close = words.back();
            }
        } else if (kind != '!') {
            sum += times.back() * static_cast<double>(longest);
        }
    }
    return sum;
}

std::string held(const TemplateInput& input) {
    return counted(input.stops, "stop is", "stops are") + " open: this was written all the same.";
}

}  // namespace

Result<std::string> render_template(const std::string& text, const std::string& file, const TemplateInput& input) {
    const auto refuse = [&](const std::string& why) { return Message{Severity::stop, Code::template_file, why, file}; };
    if (text.size() > largest) return refuse("A template of more than 64 MB is not read.");
    m::mustache page(text);
    if (!page.is_valid()) return refuse(said("The template cannot be used: {}.", page.error_message()));
    page.set_custom_escape([](const std::string& s) { return s; });
    m::data d;
    for (const auto& [key, value] :
         {std::pair{"project", &input.project}, std::pair{"part", &input.part}, std::pair{"board", &input.board},
          std::pair{"revision", &input.revision}, std::pair{"top", &input.top}, std::pair{"time", &input.time}})
        d.set(key, *value);
    d.set("has_stops", m::data(input.stops > 0 ? m::data::type::bool_true : m::data::type::bool_false));
    d.set("stops", std::to_string(input.stops));
    d.set("stops_are", counted(input.stops, "stop is", "stops are"));
    m::data ports = m::data::type::list;
    for (size_t i = 0; i < input.rows.size(); ++i) ports << row_data(input.rows[i], i, input.rows.size());
    d.set("ports", ports);
    std::map<std::string, std::vector<const SheetRow*>> banks;
    for (const auto& r : input.rows)
        if (!r.bank.empty()) banks[r.bank].push_back(&r);
    m::data bank_list = m::data::type::list;
    for (const auto& [name, rows] : banks) {
        m::data bank, inside = m::data::type::list;
        bank.set("bank", name);
        for (size_t i = 0; i < rows.size(); ++i) inside << row_data(*rows[i], i, rows.size());
        bank.set("ports", inside);
        bank_list << bank;
    }
    d.set("banks", bank_list);
    if (expansion(text, input.rows, banks.size()) > static_cast<double>(largest))
        return refuse("The template would make more than 64 MB; are there sections of {{#ports}} inside each other?");
    auto out = page.render(d);
    if (!page.error_message().empty()) return refuse(said("The template cannot be used: {}.", page.error_message()));
    if (input.stops > 0 && text.find("stops") == std::string::npos) out.insert(0, stops_remark(input.stops, out));
    return out;
}

std::string stops_remark(int stops, const std::string& like) {
    if (stops == 0) return {};
    std::string mark = "#";
    for (const char* m : {"//", "--", ";", "%"})
        if (trim(like).starts_with(m)) mark = m;
    return said("{} {} open: this was written all the same.\n", mark, counted(stops, "stop is", "stops are"));
}

std::vector<TemplateField> template_fields() {
    std::vector<TemplateField> out{{"project", "name of the project"},
                                   {"part", "ordering code"},
                                   {"board", "name of the board"},
                                   {"revision", "of the board"},
                                   {"top", "top module"},
                                   {"time", "when it was written, UTC"},
                                   {"stops", "how many stops are open"},
                                   {"stops_are", "the same in words, such as \"1 stop is\""},
                                   {"has_stops", "section: some are"},
                                   {"ports", "section: each port"},
                                   {"banks", "section: each bank, with its ports inside"}};
    for (const auto& c : sheet_columns())
        out.push_back({std::string("ports / ") + c.name, std::string("also as section has_") + c.name});
    for (const auto& [name, meaning] : {std::pair{"bus", "port without its index"},
                                        {"index", "index in the bus"},
                                        {"is_bit", "section: it is a bit of a bus"},
                                        {"number", "from 1"},
                                        {"first", "section: the first"},
                                        {"last", "section: the last"},
                                        {"pegged", "section, also loose and adrift"}})
        out.push_back({std::string("ports / ") + name, meaning});
    return out;
}

std::string markdown_sheet(const TemplateInput& input) {
    std::string out = said("# Pins of {}\n\n{} on {}, top {}.\n\n", cell(input.project), cell(input.part),
                           cell(input.board), cell(input.top));
    if (input.stops > 0) out += "**" + held(input) + "**\n\n";
    out +=
        "| port | direction | pin | bank | standard | drive | slew | pull | terminal | state "
        "|\n|---|---|---|---|---|---|---|---|---|---|\n";
    for (const auto& r : input.rows) {
        for (const auto* field :
             {&r.port, &r.direction, &r.pin, &r.bank, &r.standard, &r.drive, &r.slew, &r.pull, &r.terminal, &r.state})
            out += said("| {} ", cell(*field));
        out += "|\n";
    }
    return out;
}

std::string html_sheet(const TemplateInput& input) {
    std::string out = said(
        "<!DOCTYPE html>\n<html lang=\"en\"><head><meta charset=\"utf-8\"><title>Pins of "
        "{}</title></head><body>\n<h1>Pins of {}</h1>\n<p>{} on {}, top {}.</p>\n",
        html(input.project), html(input.project), html(input.part), html(input.board), html(input.top));
    if (input.stops > 0) out += "<p><strong>" + held(input) + "</strong></p>\n";
    out += "<table>\n<tr>";
    for (const auto& c : sheet_columns()) out += "<th>" + std::string(c.name) + "</th>";
    out += "</tr>\n";
    for (const auto& r : input.rows) {
        out += "<tr>";
        for (const auto& c : sheet_columns()) out += "<td>" + html(r.*c.field) + "</td>";
        out += "</tr>\n";
    }
    return out + "</table>\n</body></html>\n";
}

}  // namespace kp
