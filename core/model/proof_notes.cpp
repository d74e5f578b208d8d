// SPDX-License-Identifier: GPL-3.0-or-later
// Records are lines with separators; digests go over what a netlist computes and where ports are pegged, linear in
// both.
#include "core/model/proof_notes.hpp"

#include "core/base/checksum.hpp"
#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <charconv>

namespace kp {

namespace {

std::string one_line(std::string text) {
    for (char& c : text)
        if (c == '\n' || c == '\r' || c == '|') c = ' ';
    return text;
}

bool number(std::string_view text, size_t& out) {
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), out);
    return error == std::errc() && end == text.data() + text.size();
}

}  // namespace

std::string to_line(const ProofNote& n) {
    std::string out;
    for (const auto& text :
         {n.date, n.who, n.what, n.against, std::to_string(n.rows), std::to_string(n.differ), n.of_pegs, n.of_design})
        out += (out.empty() ? "" : " | ") + one_line(text);
    if (n.open) out += " | " + std::to_string(*n.open);
    return out;
}

std::optional<ProofNote> proof_note(std::string_view line) {
    std::vector<std::string> parts;
    for (size_t from = 0; from <= line.size();) {
        const auto end = std::min(line.find(" | ", from), line.size());
        parts.emplace_back(line.substr(from, end - from));
        from = end + 3;
    }
    ProofNote n;
    if (parts.size() < 8 || parts.size() > 9 || !number(parts[4], n.rows) || !number(parts[5], n.differ)) return {};
    n.date = parts[0];
    n.who = parts[1];
    n.what = parts[2];
    n.against = parts[3];
    n.of_pegs = parts[6];
    n.of_design = parts[7];
    if (size_t open = 0; parts.size() == 9) {
        if (!number(parts[8], open)) return {};
        n.open = open;
    }
    return n;
}

std::string digest_of_netlist(const Netlist& n) {
    std::string text = n.top;
    const auto put = [&text](std::uint32_t v) { text.append(reinterpret_cast<const char*>(&v), sizeof v); };
    for (const auto& type : n.types) text += type + "\n";
    for (const auto& name : n.pin_names) text += name + "\n";
    for (const auto& c : n.cells) {
        put(c.type);
        put(c.pin_count);
    }
    for (const auto& p : n.pins) {
        put(p.name);
        put(p.net);
    }
    for (const auto& p : n.parameters) {
        put(p.cell);
        text += p.name + "=" + p.value + "\n";
    }
    for (const auto& p : n.ports) {
        text += p.name + "\n";
        put(static_cast<std::uint32_t>(p.direction));
        put(p.net);
    }
    return sha256(text).substr(0, 16);
}

std::string digest_of_pegs(const PegMap& pegs) {
    std::string text;
    for (const auto& [port, peg] : pegs) text += port + "=" + peg.pin + "\n";
    return sha256(text).substr(0, 16);
}

ProofState proof_state(const Netlist& netlist, const PegMap& pegs) {
    return {digest_of_pegs(pegs), digest_of_netlist(netlist)};
}

std::string why_stale(const ProofNote& note, const ProofState& now) {
    const bool pegs = note.of_pegs != now.of_pegs, design = note.of_design != now.of_design;
    if (pegs && design) return "pegs and netlist changed since";
    if (pegs) return "the pegs changed since";
    return design ? "the netlist changed since" : "";
}

std::string sentence_of(const ProofNote& n, const ProofState& now) {
    const auto stale = why_stale(n, now);
    auto what = n.what;
    if (!what.empty() && what[0] >= 'a' && what[0] <= 'z') what[0] = static_cast<char>(what[0] - 'a' + 'A');
    const auto open = !n.open       ? std::string(", outputs were not counted")
                      : *n.open > 0 ? said(", {} not proven", counted(static_cast<long long>(*n.open), "output"))
                                    : std::string();
    return said("{} against {}: {}{} ({}, {}){}", what, n.against,
                (n.differ ? std::to_string(n.differ) + " of " + std::to_string(n.rows) + " differ"
                          : "all " + std::to_string(n.rows) + " agree"),
                open, n.date, n.who, (stale.empty() ? "" : "; no longer holds: " + stale));
}

}  // namespace kp
