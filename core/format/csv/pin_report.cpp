// SPDX-License-Identifier: GPL-3.0-or-later
// Headings are found by their words, since no two builds name them alike; the first row that has a port and a pin is
// the heading.
#include "core/format/csv/pin_report.hpp"

#include "core/base/bytes.hpp"
#include "core/base/text.hpp"
#include "core/format/csv/csv.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <initializer_list>
#include <set>

namespace kp {

namespace {

constexpr size_t most_rows = 100000;

/// Position of the first heading that is one of `names`, -1 when there is none.
int column_of(const std::vector<std::string>& headings, std::initializer_list<std::string_view> names) {
    for (const auto name : names)
        for (size_t i = 0; i < headings.size(); ++i)
            if (lower(trim(headings[i])) == name) return static_cast<int>(i);
    return -1;
}

}  // namespace

char delimiter_of(std::string_view text) {
    const auto line = text.substr(0, text.find('\n'));
    const auto count = [&](char c) { return std::count(line.begin(), line.end(), c); };
    return std::max({',', ';', '\t'}, [&](char a, char b) { return count(a) < count(b); });
}

Result<std::vector<PinReportRow>> read_pin_report(std::string_view text, const std::string& file) {
    const auto stop = [&](const std::string& what, int line) {
        return Message{Severity::stop, Code::pin_report, what, file, line};
    };
    int skipped = 0;
    text = without_mark(text);
    while (text.starts_with('#') || text.starts_with('\n') || text.starts_with("\r\n")) {
        const auto end = text.find('\n');
        if (end == std::string_view::npos) break;
        text.remove_prefix(end + 1);
        ++skipped;
    }
    std::vector<int> lines;
    int left_open = 0;
    const auto rows = read_csv(text, delimiter_of(text), &lines, &left_open);
    if (left_open > 0) return stop("A quote begins here that nothing ends.", left_open + skipped);
    if (rows.empty())
        return stop("The pin report is empty; it needs a line of headings with 'port' and 'pin'.", skipped + 1);
    if (rows.size() > most_rows) return stop("The pin report has more than 100,000 rows.", 1);
    const int port = column_of(rows[0], {"port", "signal", "name"}),
              pin = column_of(rows[0], {"pin", "ball", "location"}),
              standard = column_of(rows[0], {"standard", "i/o standard"});
    if (port < 0 || pin < 0)
        return stop(
            "The headings of a pin report name the port ('port', 'signal' or 'name') and the pin ('pin', 'ball' or "
            "'location').",
            lines[0] + skipped);
    std::vector<PinReportRow> out;
    std::set<std::string> seen;
    for (size_t i = 1; i < rows.size(); ++i) {
        const auto field = [&](int at) {
            return at >= 0 && static_cast<size_t>(at) < rows[i].size()
                       ? std::string(trim(rows[i][static_cast<size_t>(at)]))
                       : std::string();
        };
        PinReportRow row{field(port), field(pin), field(standard), lines[i] + skipped};
        if (row.port.empty()) continue;
        if (!seen.insert(row.port).second) return stop(said("The port '{}' is there twice.", row.port), row.line);
        out.push_back(std::move(row));
    }
    return out;
}

}  // namespace kp
