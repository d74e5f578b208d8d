// SPDX-License-Identifier: GPL-3.0-or-later
// Rows are applied at their times and looked at just before the next one. Linear in rows times ports.
#include "core/simulation/vectors.hpp"

#include "core/base/text.hpp"
#include "core/format/csv/csv.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cctype>
#include <set>

namespace kp::simulation {

namespace {

constexpr size_t most_bits = 20;
constexpr std::uint64_t most_events_a_row = 3'000'000;

std::string hexadecimal(std::string_view digits) {
    std::string out;
    for (const char raw : digits) {
        const char c = static_cast<char>(std::tolower(static_cast<unsigned char>(raw)));
        if (c == '_') continue;
        const int v = c >= '0' && c <= '9' ? c - '0' : c >= 'a' && c <= 'f' ? c - 'a' + 10 : -1;
        if (v < 0) return {};
        for (int k = 4; k-- > 0;) out += (v >> k) & 1 ? '1' : '0';
    }
    return out;
}

Bit bit_from(char c) {
    return c == '0' ? Bit::zero : c == '1' ? Bit::one : c == 'z' ? Bit::z : Bit::x;
}

std::string observe(const EventSimulator& s, const PortGroup& g) {
    std::string out;
    for (const auto p : g.ports) out += letter(s.port(p));
    return out;
}

bool matches(const std::string& seen, const std::string& want) {
    for (size_t i = 0; i < want.size() && i < seen.size(); ++i)
        if (want[i] != '-' && want[i] != seen[i]) return false;
    return true;
}

void look(const EventSimulator& s, const std::vector<PortGroup>& groups, ObservedRow& row) {
    for (const auto& g : groups)
        if (g.direction != Direction::in) row.observed.emplace_back(g.name, observe(s, g));
}

class VectorReader {
public:
    VectorReader(const std::string& file, const std::vector<PortGroup>& groups) : file_(file), groups_(groups) {}

    Result<Vectors> run(std::string_view text) {
        std::vector<int> lines;
        auto table = read_csv(text, ',', &lines);
        bool first = true;
        for (size_t k = 0; k < table.size(); ++k) {
            const Row row{std::move(table[k]), lines[k]};
            if (row.cells.empty() || (row.cells.size() == 1 && trim(row.cells[0]).empty())) continue;
            if (first)
                header(row);
            else
                add(row);
            first = false;
            if (error_) return *error_;
        }
        if (first || out_.rows.empty())
            return fail(1, "There are no vectors; the first line names time and ports, the others give values.");
        return std::move(out_);
    }

private:
    struct Row {
        std::vector<std::string> cells;
        int line;
    };
    Message fail(int line, const std::string& why) {
        error_ = Message{Severity::stop, Code::vectors, why, file_, line};
        return *error_;
    }

    void header(const Row& row) {
        if (trim(row.cells[0]) != "time") {
            fail(row.line, said("The first column is 'time', in ns; this one is '{}'.", row.cells[0]));
            return;
        }
        std::set<std::string> seen;
        for (size_t k = 1; k < row.cells.size(); ++k) {
            std::string name(trim(row.cells[k]));
            const bool want = name.starts_with('=');
            if (!seen.insert(name).second) {
                fail(row.line, said("The column '{}' is there twice.", name));
                return;
            }
            if (want) name.erase(0, 1);
            const auto at =
                std::find_if(groups_.begin(), groups_.end(), [&](const PortGroup& g) { return g.name == name; });
            const bool fits =
                at != groups_.end() && (want ? at->direction != Direction::in : at->direction != Direction::out);
            if (!fits) {
                fail(row.line,
                     at == groups_.end()
                         ? said("There is no port '{}'.", name)
                         : said("The port '{}' is not an {}; expected values have a column '={}', given ones '{}'.",
                                name, (want ? "output" : "input"), name, name));
                return;
            }
            (want ? out_.want : out_.in).push_back(static_cast<size_t>(at - groups_.begin()));
            expected_.push_back(want);
        }
    }

    void add(const Row& row) {
        if (row.cells.size() != expected_.size() + 1) {
            fail(row.line, said("This row has {}, the first line has {}.", counted(row.cells.size(), "column"),
                                expected_.size() + 1));
            return;
        }
        VectorRow r;
        r.line = row.line;
        const auto time = to_number(trim(row.cells[0]));
        if (!time || *time < 0 || *time > 1e9 || (!out_.rows.empty() && *time <= out_.rows.back().time)) {
            fail(row.line,
                 said("The time '{}' should be a number of ns above the one before, at most a second.", row.cells[0]));
            return;
        }
        r.time = *time;
        for (size_t k = 0; k < expected_.size(); ++k) {
            const bool want = expected_[k];
            auto& to = want ? r.want : r.in;
            const auto& group = groups_[(want ? out_.want : out_.in)[to.size()]];
            const auto text = trim(row.cells[k + 1]);
            const auto* before = out_.rows.empty() ? nullptr
                                 : want            ? &out_.rows.back().want[to.size()]
                                                   : &out_.rows.back().in[to.size()];
            if (text.empty()) {
                to.push_back(before ? *before : std::string(group.ports.size(), want ? '-' : 'x'));
                continue;
            }
            const auto value = value_of(text, group.ports.size(), want);
            if (!value) {
                fail(row.line, said("'{}' is not a value of the port '{}'; it has {}, written with 0, 1, x and z, or "
                                    "0x and hexadecimal digits.",
                                    text, group.name, counted(group.ports.size(), "bit")));
                return;
            }
            to.push_back(*value);
        }
        out_.rows.push_back(std::move(r));
    }

    const std::string& file_;
    const std::vector<PortGroup>& groups_;
    Vectors out_;
    std::vector<bool> expected_;
    std::optional<Message> error_;
};

}  // namespace

std::vector<PortGroup> groups_of(const Netlist& n) {
    std::vector<PortGroup> out;
    std::map<std::string, size_t> at;
    for (std::uint32_t p = 0; p < n.ports.size(); ++p) {
        const auto [known, fresh] = at.try_emplace(n.ports[p].bus, out.size());
        if (fresh) out.push_back({n.ports[p].bus, n.ports[p].direction, {}});
        out[known->second].ports.push_back(p);
    }
    return out;
}

std::optional<std::string> value_of(std::string_view text, size_t width, bool expected) {
    if (expected && text == "-") return std::string(width, '-');
    if (text.size() > 2 && (text.starts_with("0x") || text.starts_with("0X"))) {
        auto bits = hexadecimal(text.substr(2));
        if (bits.empty()) return std::nullopt;
        while (bits.size() > width && bits[0] == '0') bits.erase(0, 1);
        if (bits.size() > width) return std::nullopt;
        return std::string(width - bits.size(), '0') + bits;
    }
    std::string plain;
    for (const char c : text) {
        const char l = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
        if (l != '0' && l != '1' && l != 'x' && l != 'z' && !(expected && l == '-')) return std::nullopt;
        plain += l;
    }
    return plain.size() == width ? std::optional(plain) : std::nullopt;
}

Result<Vectors> read_vectors(std::string_view text, const std::string& file, const std::vector<PortGroup>& groups) {
    return VectorReader(file, groups).run(text);
}

Result<Observed> run_vectors(EventSimulator& s, const std::vector<PortGroup>& groups, const Vectors& v,
                             const std::vector<ClockAsk>& clocks) {
    const auto wrong = [](const std::string& text) { return Message{Severity::stop, Code::vectors, text}; };
    double longest = 0;
    for (const auto& c : clocks) {
        const auto at =
            std::find_if(groups.begin(), groups.end(), [&](const PortGroup& g) { return g.name == c.port; });
        if (at == groups.end() || at->direction == Direction::out || at->ports.size() != 1)
            return wrong(said("The clock '{}' is not an input of one bit.", c.port));
        const auto place = static_cast<size_t>(at - groups.begin());
        if (std::find(v.in.begin(), v.in.end(), place) != v.in.end())
            return wrong(said("The clock '{}' has a column in the vectors too; leave one out.", c.port));
        if (time_of(c.period) < 2) return wrong(said("The period of the clock '{}' should be above 0.", c.port));
        longest = std::max(longest, c.period);
        s.clock(at->ports[0], time_of(c.period));
    }
    s.limit(most_events_a_row);
    Observed out;
    for (size_t r = 0; r < v.rows.size(); ++r) {
        const auto& row = v.rows[r];
        if (auto stop = s.run_until(time_of(row.time))) return *stop;
        for (size_t k = 0; k < v.in.size(); ++k)
            for (size_t i = 0; i < groups[v.in[k]].ports.size(); ++i)
                if (r == 0 || row.in[k][i] != v.rows[r - 1].in[k][i])
                    s.set(groups[v.in[k]].ports[i], bit_from(row.in[k][i]));
        const bool last = r + 1 == v.rows.size();
        const double end = !last   ? v.rows[r + 1].time
                           : r > 0 ? row.time + (row.time - v.rows[r - 1].time)
                                   : row.time + longest;
        const bool still = last && r == 0 && clocks.empty();
        if (auto stop = still ? s.run_out() : s.run_until(time_of(end))) return *stop;
        ObservedRow seen;
        seen.time = row.time;
        look(s, groups, seen);
        for (size_t k = 0; k < v.want.size(); ++k) {
            const auto& group = groups[v.want[k]];
            seen.expected.emplace_back(group.name, row.want[k]);
            seen.ok &= matches(observe(s, group), row.want[k]);
        }
        out.failed += !seen.ok;
        out.rows.push_back(std::move(seen));
    }
    return out;
}

Result<Observed> run_combinations(EventSimulator& s, const Circuit& circuit, const std::vector<PortGroup>& groups) {
    const auto wrong = [](const std::string& text) { return Message{Severity::stop, Code::vectors, text}; };
    if (circuit.has_registers)
        return wrong(
            "The netlist has registers or memories: what it gives depends on what came before. Use --vectors.");
    std::vector<std::uint32_t> bits;
    for (const auto& g : groups)
        if (g.direction == Direction::in) bits.insert(bits.end(), g.ports.begin(), g.ports.end());
    if (bits.size() > most_bits)
        return wrong(said("The netlist has {}; all combinations are tried up to {}.", counted(bits.size(), "input bit"),
                          most_bits));
    s.limit(most_events_a_row);
    Observed out;
    for (std::uint64_t n = 0; n < (std::uint64_t{1} << bits.size()); ++n) {
        ObservedRow row;
        for (size_t i = 0; i < bits.size(); ++i) s.set(bits[i], bit_of((n >> (bits.size() - 1 - i)) & 1));
        if (auto stop = s.run_out()) return *stop;
        row.time = ns_of(s.now());
        for (const auto& g : groups)
            if (g.direction == Direction::in) row.inputs.emplace_back(g.name, observe(s, g));
        look(s, groups, row);
        out.rows.push_back(std::move(row));
    }
    return out;
}

namespace {

/// Short names of printable characters, as the standard asks.
std::string short_name(size_t n) {
    std::string out;
    do {
        out += static_cast<char>('!' + n % 94);
        n /= 94;
    } while (n > 0);
    return out;
}

}  // namespace

std::string Dump::text(const std::vector<Bit>& start, Time end) const {
    std::string out = said("$version Kite Peg $end\n$timescale 1ps $end\n$scope module {} $end\n", netlist_.top);
    for (size_t n = 0; n < netlist_.net_names.size(); ++n) {
        auto name = netlist_.net_names[n];
        std::replace(name.begin(), name.end(), ' ', '_');
        out += said("$var wire 1 {} {} $end\n", short_name(n), name);
    }
    // A port that is another net, a constant or nothing has a name of its own all the same.
    const auto open = netlist_.net_names.size();
    bool any_open = false;
    for (const auto& port : netlist_.ports) {
        const bool own = port.net != no_id && netlist_.net_names[port.net] == port.name;
        any_open |= port.net == no_id;
        if (!own) out += said("$var wire 1 {} {} $end\n", short_name(port.net == no_id ? open : port.net), port.name);
    }
    out += "$upscope $end\n$enddefinitions $end\n#0\n$dumpvars\n";
    for (size_t n = 0; n < start.size(); ++n) out += std::string(1, letter(start[n])) + short_name(n) + "\n";
    if (any_open) out += "z" + short_name(open) + "\n";
    out += "$end\n";
    Time last = 0;
    for (const auto& c : changes_) {
        if (c.when / 1000 != last / 1000) out += "#" + std::to_string(c.when / 1000) + "\n";
        last = c.when;
        out += std::string(1, letter(c.value)) + short_name(c.net) + "\n";
    }
    if (end / 1000 > last / 1000) out += "#" + std::to_string(end / 1000) + "\n";
    return out;
}

}  // namespace kp::simulation
